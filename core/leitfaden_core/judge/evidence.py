"""Weight of evidence for a reading by itself: how much worse a healthy engine explains it than a fault of any size
would.

A healthy engine's readings spread normally, with the band's own width on either side; of a fault nothing is known but
that it may move the reading by anything up to ``REACH`` standard deviations, either way. Their likelihoods decide
(Good, Probability and the Weighing of Evidence, 1950); where a table of faults is at hand, :mod:`weighing` puts it in
the place of the second.
"""

import math
from statistics import NormalDist

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.expect import Band

#: Likelihood ratios of sound over faulty: above the first good, below the second faulty, between suspect. [-]
GOOD_ABOVE, FAULTY_BELOW = 1.0, 0.02
#: How far a fault of unknown kind and size may move a reading. [standard deviations]
REACH = 20.0
#: Chance that a list of readings of a sound engine holds any alarm, by design. [-]
LIST_ALARMS = 0.05
_NORMAL = NormalDist()


def ratio_alone(away: float) -> float:
    """Likelihood of a reading so many standard deviations from the middle under a healthy engine, over that under a
    fault of any size. [-]

    >>> ratio_alone(0.0) > 1.0 > ratio_alone(3.0) > FAULTY_BELOW > ratio_alone(4.0)
    True
    """
    return _NORMAL.pdf(away) * 2.0 * REACH


def chance_of(away: float) -> float:
    """Chance that a healthy engine lies at least as far out, on either side. [-]"""
    return 2.0 * _NORMAL.cdf(-abs(away))


def alarms(chances: list[float], share: float = LIST_ALARMS) -> list[bool]:
    """Which of some readings stand out of their list: by Holm's procedure the chance that a sound engine shows any such
    is at most ``share``, however the readings hang together (Holm, Scandinavian Journal of Statistics 6, 1979).

    >>> alarms([0.5, 0.001, 0.02], share=0.05)
    [False, True, True]
    """
    order = sorted(range(len(chances)), key=lambda k: chances[k])
    found = [False] * len(chances)
    for rank, k in enumerate(order):
        if chances[k] > share / (len(chances) - rank):
            break
        found[k] = True
    return found


def seen_rate(band: Band, engines: NDArray[np.float64], step: float, error: float = 0.0) -> float:
    """Chance that a reading lies outside its band on engines such as these, on a display of this step (0: none). [-]

    Parameters
    ----------
    engines : array
        What some engines show, such as the sound individuals with what a fault moves. Between them lies what others
        would show: a normal density around each, as wide as Silverman says (Density Estimation for Statistics and Data
        Analysis, 1986, sec. 3.4.2), all of them drawn together so that they spread as the engines do (sec. 6.4.1).
    error : float
        What an instrument adds, as a standard deviation in the channel's unit.
    """
    low, high = _shown_inside(band, step)
    lower, upper = np.quantile(engines, [0.25, 0.75])
    spread, middle = max(float(np.std(engines)), 1e-9), float(np.mean(engines))
    share = 0.9 * min(1.0, float(upper - lower) / 1.34 / spread) * len(engines) ** -0.2
    together = 1.0 / math.hypot(1.0, share)
    width = max(math.hypot(together * share * spread, error), 1e-9)
    centres = middle + together * (engines - middle)
    return float(np.mean([_NORMAL.cdf((low - at) / width) + _NORMAL.cdf((at - high) / width) for at in centres]))


def _shown_inside(band: Band, step: float) -> tuple[float, float]:
    """Values between which a display of this step shows something inside the band."""
    if step <= 0.0:
        return band.low, band.high
    first, last = math.floor(band.low / step) - 1, math.ceil(band.high / step) + 1
    inside = [k for k in range(first, last + 1) if band.holds(k * step, step)]
    return (min(inside) - 0.5) * step, (max(inside) + 0.5) * step
