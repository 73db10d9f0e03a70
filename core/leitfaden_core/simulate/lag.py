"""First-order lags in the steps of the physics."""

from leitfaden_core.compiled import compiled
from leitfaden_core.simulate.layout import STEP


@compiled
def covered(lag: float) -> float:
    """Share of the way to its goal that a first-order lag [s] covers in one step, by the implicit Euler method. [-]

    What moves evenly is then followed with a delay of exactly the lag, whatever the step; by the explicit method, whose
    share is ``STEP / lag``, it would come a step too early, and no lag could be shorter than a step.

    References: Hairer, Nørsett and Wanner 1993, Solving Ordinary Differential Equations I, sec. II.7.
    """
    return STEP / (lag + STEP)
