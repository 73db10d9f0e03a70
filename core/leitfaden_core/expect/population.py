"""Healthy engines differ: production spread, ageing within service life, weather of an ordinary workshop day.

The spreads are engineering choices in the size that makers' test limits leave; they are written here so that a trainer
can question them.
"""

from dataclasses import dataclass
from statistics import NormalDist
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.chance import chance
from leitfaden_core.rigs import Rig

Origin = Literal["production", "ageing", "fuel", "weather"]


@dataclass(frozen=True)
class Spread:
    """Normal spread of one property of the individual engine around its rig, cut at 2.5 standard deviations."""

    centre: float
    deviation: float
    unit: str
    why: str
    one_sided: bool = False
    around_rig: bool = False  # centre is the rig's own number plus ``centre``
    origin: Origin = "production"


SPREAD: dict[str, Spread] = {
    "meter_gain": Spread(1.0, 0.015, "-", "airflow meters of one type differ by about ±3 %"),
    "injector_gain": Spread(1.0, 0.015, "-", "injectors and fuel pressure together differ by about ±3 %"),
    "breath_gain": Spread(1.0, 0.012, "-", "valve timing, deposits and compression"),
    "friction_gain": Spread(1.0, 0.06, "-", "running-in, oil, belt drives", origin="ageing"),
    "fuel_blend": Spread(
        1.0, 0.006, "-", "petrol grades with 0 to 10 % ethanol need up to 3 % less air", origin="fuel"
    ),
    "ect_trim_k": Spread(0.0, 0.8, "K", "tolerance of the thermistor"),
    "iat_trim_k": Spread(0.0, 0.8, "K", "tolerance of the thermistor"),
    "map_trim_pa": Spread(0.0, 300.0, "Pa", "zero point of a pressure sensor"),
    "charge_trim_pa": Spread(0.0, 500.0, "Pa", "zero point of a 3-bar pressure sensor"),
    "ambient_trim_pa": Spread(0.0, 300.0, "Pa", "zero point of a pressure sensor"),
    "wideband_gain": Spread(1.0, 0.004, "-", "a wideband sensor's own trim resistor leaves about 1 %"),
    "cell_gain": Spread(1.0, 0.012, "-", "ageing lowers the voltage of an oxygen sensor", origin="ageing"),
    "sensor_age_s": Spread(0.0, 0.02, "s", "ageing slows an oxygen sensor", one_sided=True, origin="ageing"),
    "charging_trim_v": Spread(0.0, 0.13, "V", "tolerance of the alternator's regulator"),
    "idle_target": Spread(0.0, 8.0, "1/min", "adaptation and loads of the individual engine", around_rig=True),
    "thermostat_opens": Spread(0.0, 1.0, "K", "tolerance of the thermostat's wax element", around_rig=True),
    "bias_voltage": Spread(0.0, 0.008, "V", "tolerance of the control unit's bias source", around_rig=True),
    "rear_target": Spread(0.0, 0.03, "V", "the rear sensor's own curve", around_rig=True),
    "exhaust_volume": Spread(0.0, 0.00006, "m³", "welds and replacement parts", around_rig=True),
    "ambient_temp": Spread(293.15, 2.0, "K", "workshop air between 15 and 25 °C", origin="weather"),
    "ambient_pressure": Spread(101300.0, 800.0, "Pa", "weather at the school's altitude", origin="weather"),
}


#: Where normal spreads are cut: nothing healthy lies farther out. [standard deviations]
CUT = 2.5


def individual_engine(rig: Rig, seed: int, share: float = 1.0) -> dict[str, float]:
    """One healthy engine of the population.

    Parameters
    ----------
    seed : int
        The same seed gives the same engine.
    share : float
        Share of the full spread, 0 to 1: lessons take half, so that a learner's car is nothing unusual. [-]
    """
    return _engine(rig, np.clip(chance(seed, 7919).standard_normal(len(SPREAD)), -CUT, CUT), share)


def even_population(rig: Rig, members: int, seed: int) -> list[dict[str, float]]:
    """Healthy engines that stand for all better than as many drawn by lot: of each property every share of the spread
    is there once, and no property goes with another.

    A Latin hypercube (McKay, Beckman and Conover, Technometrics 21, 1979), whose order follows columns made
    orthogonal, as in Iman and Conover (Communications in Statistics B11, 1982): with 200 engines no two properties are
    correlated by more than 0.05. Of fewer engines than properties only the first holds.
    """
    order = chance(seed, "even population").standard_normal((members, len(SPREAD)))
    if members > len(SPREAD):
        order = np.linalg.qr(order - order.mean(axis=0)).Q
    steps = np.array([NormalDist().inv_cdf((k + 0.5) / members) for k in range(members)])
    return [_engine(rig, row) for row in np.clip(steps, -CUT, CUT)[order.argsort(axis=0).argsort(axis=0)]]


def _engine(rig: Rig, draws: NDArray[np.float64], share: float = 1.0) -> dict[str, float]:
    """An engine so many standard deviations from its rig in each property, shape (properties,)."""
    numbers = rig.numbers()
    return {
        name: spread.centre
        + (numbers[name] if spread.around_rig else 0.0)
        + share * spread.deviation * float(abs(draw) if spread.one_sided else draw)
        for (name, spread), draw in zip(SPREAD.items(), draws, strict=True)
    }
