"""How well somebody tells faulty from sound: hits, false alarms, d' and bias, and whether their confidence is worth
something.

Signal detection: d' = z(hits) - z(false alarms), bias c = -(z(hits) + z(false alarms)) / 2; for pairs d' = sqrt(2)
z(right) (Macmillan and Creelman 2005). Half a case is added to each count and one to each number of cases, so that
perfect scores stay finite (Hautus 1995).
"""

from collections.abc import Sequence
from dataclasses import dataclass
from statistics import NormalDist

_z = NormalDist().inv_cdf
#: What a learner may say of how sure they are. [%]
CONFIDENCES = (50, 75, 95)


@dataclass(frozen=True)
class Trial:
    """A trial that was answered: whether the engine was faulty (None: a pair), whether the answer was right, and how
    sure the learner was. [%]
    """

    faulty: bool | None
    right: bool
    confidence: int


@dataclass(frozen=True)
class Sureness:
    """Trials in which somebody was so sure, and how many of them were right."""

    confidence: int
    trials: int
    right: int


@dataclass(frozen=True)
class Detection:
    """What trials say of a learner. ``d_prime`` and ``bias`` are None before there are faulty and sound ones; bias
    above zero: rather lets pass, below zero: rather condemns.
    """

    faulty: int
    hits: int
    sound: int
    false_alarms: int
    d_prime: float | None
    bias: float | None
    pairs: int
    pairs_right: int
    d_prime_pairs: float | None
    sureness: tuple[Sureness, ...]


def detection(trials: Sequence[Trial]) -> Detection:
    """What trials say of a learner.

    >>> told = detection([Trial(True, True, 75)] * 8 + [Trial(True, False, 50)] * 2 + [Trial(False, True, 75)] * 10)
    >>> told.hits, told.false_alarms, round(told.d_prime, 2), round(told.bias, 2)
    (8, 0, 2.44, 0.47)
    """
    faulty = [trial.right for trial in trials if trial.faulty is True]
    sound = [trial.right for trial in trials if trial.faulty is False]
    pairs = [trial.right for trial in trials if trial.faulty is None]
    hits, alarms = sum(faulty), len(sound) - sum(sound)
    d_prime = bias = None
    if faulty and sound:
        hit, alarm = _z(_share(hits, len(faulty))), _z(_share(alarms, len(sound)))
        d_prime, bias = hit - alarm, -0.5 * (hit + alarm)
    return Detection(
        faulty=len(faulty),
        hits=hits,
        sound=len(sound),
        false_alarms=alarms,
        d_prime=d_prime,
        bias=bias,
        pairs=len(pairs),
        pairs_right=sum(pairs),
        d_prime_pairs=2.0**0.5 * _z(_share(sum(pairs), len(pairs))) if pairs else None,
        sureness=tuple(_sureness(trials, level) for level in CONFIDENCES),
    )


def _share(count: int, of: int) -> float:
    return (count + 0.5) / (of + 1.0)


def _sureness(trials: Sequence[Trial], level: int) -> Sureness:
    here = [trial.right for trial in trials if trial.confidence == level]
    return Sureness(level, len(here), sum(here))
