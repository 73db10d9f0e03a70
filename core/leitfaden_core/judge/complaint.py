"""What the driver tells, as evidence before the first test: causes that bring it about become likelier, each as far as
the model shows it.
"""

from dataclasses import replace

from leitfaden_core.diagnose import Table
from leitfaden_core.judge.symptoms import causes_of

#: How much less likely a cause becomes that does not bring about what is told, at any of its sizes: drivers mistake
#: what they feel, and symptoms have more than one cause. A rule of thumb. [-]
UNTOLD = 0.1


def after_complaint(causes: Table, told: list[str]) -> Table:
    """The table with priors after what the driver tells, each thing a symptom or ``symptom:state``.

    Raises MissingPart when nothing is told, UnknownName for an unknown symptom or state.
    """
    bring = {cause.candidate for cause in causes_of(causes.rig, told)}
    weighed = [
        replace(c, prior=c.prior * (1.0 if bring & {c.id, *(part.id for part in c.parts)} else UNTOLD))
        for c in causes.candidates
    ]
    total = sum(c.prior for c in weighed)
    return replace(causes, candidates=tuple(replace(c, prior=c.prior / total) for c in weighed))
