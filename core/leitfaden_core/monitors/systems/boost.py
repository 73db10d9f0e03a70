"""Monitors of the charge pressure."""

import numpy as np

from leitfaden_core.monitors.logic import Flags, Held, Stretch, Test, monitor
from leitfaden_core.rigs import Rig

#: Charge below or above what is wanted. [kPa], [s]
UNDERBOOST, UNDERBOOST_LASTS, OVERBOOST, OVERBOOST_LASTS = 18.0, 3.5, 25.0, 0.5
#: Time over which overboost is counted [s], and the share of it that is too much [-].
OVERBOOST_OVER, OVERBOOST_SHARE = 3.0, 0.33


def _demanded(drive: Stretch) -> Flags:
    # At low speed the shaft may still be gathering speed, and at part demand it does so more slowly than at full
    # demand.
    fast = drive["rpm"] > 0.55 * drive.rig.engine.rated_speed
    return np.asarray((drive["boost_wanted"] > drive["baro"] + 25.0) & (drive["demand"] > 0.7) & fast)


def _underboosted(drive: Stretch) -> Flags:
    return np.asarray(drive["charge_pressure"] < drive["boost_wanted"] - UNDERBOOST)


@monitor("P0299", "boost", "turbo")
def _underboost_at_full_demand(rig: Rig) -> Test:
    return Held(_underboosted, UNDERBOOST_LASTS, lambda drive: np.asarray(_demanded(drive) & (drive["demand"] > 0.95)))


@monitor("P0299", "boost", "turbo")
def _underboost(rig: Rig) -> Test:
    return Held(_underboosted, 2.0 * UNDERBOOST_LASTS, _demanded)


@monitor("P0234", "boost", "turbo")
def _overboost(rig: Rig) -> Test:
    """Far above what is wanted for a third of the time: the fuel cut that protects the engine lets it fall and come
    again.
    """

    def over(drive: Stretch) -> Flags:
        there = (drive["charge_pressure"] > drive["boost_wanted"] + OVERBOOST).astype(float)
        return np.asarray(drive.smooth("overboost", there, OVERBOOST_OVER) > OVERBOOST_SHARE)

    return Held(
        over,
        OVERBOOST_LASTS,
        lambda drive: np.asarray((drive["demand"] > 0.7) & drive.running),
    )
