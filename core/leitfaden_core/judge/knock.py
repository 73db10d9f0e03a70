"""How close the unburnt gas comes to igniting by itself.

The integral of 1/τ over the flame's travel, after J. C. Livengood and P. C. Wu (5th Symposium on Combustion, 1955),
with the ignition delay of A. M. Douaud and P. Eyzat (SAE 780080, 1978): τ = 17.68 ms · (ON/100)^3.402 · p^-1.7 ·
exp(3800/T), p in atm, T in K. The pressure comes from a single zone with a Wiebe burn (Heywood 1988, eq. 9.30), the
unburnt gas is compressed polytropically. Only ratios to the sound engine are used: fuel, chamber and squish of a real
engine would move both alike.
"""

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.constants import R_AIR, ZERO_CELSIUS
from leitfaden_core.simulate import Run

#: Research octane number of the fuel; polytropic exponent of the unburnt gas; ratio of specific heats while burning.
#: [-]
OCTANE, POLYTROPIC, GAMMA = 95.0, 1.32, 1.28
#: Burn duration in crank degrees at the reference speed, and how it grows with speed; share of the heat that stays in
#: the gas. [-]
BURN_DEGREES, BURN_SPEED, HEAT_KEPT = 50.0, 3000.0, 0.75
#: Warmth that walls and residual gas add before the inlet valve shuts. [K]
ADDED_WARMTH = 50.0
#: Rows that take part: one in this many.
EVERY = 20


def autoignition(run: Run, span: tuple[float, float]) -> NDArray[np.float64]:
    """Autoignition integral of the end gas at moments of a span; 1 or more would knock on this fuel in this simple
    chamber. Shape (n,). [-]
    """
    rows = run.rows(span)[::EVERY]
    rows = rows[(rows["rpm_true"] > 300.0) & ~np.isnan(rows["lambda_true"])]
    engine = run.rig.engine
    lam = np.maximum(rows["lambda_true"].astype(float), 0.5)
    recirculated = rows["egr_share_true"] / 100.0
    start = rows["map_true"].astype(float) * 1e3
    warm = rows["iat_true"] + ZERO_CELSIUS + ADDED_WARMTH
    angle = np.arange(-180.0, 90.0)[:, None]
    # Volume over its largest, with a connecting rod of 3.5 crank radii (Heywood 1988, eq. 2.6).
    crank = np.radians(angle)
    lift = 1.0 + 3.5 - np.cos(crank) - np.sqrt(3.5**2 - np.sin(crank) ** 2)
    volume = (1.0 + 0.5 * (engine.compression_ratio - 1.0) * lift) / engine.compression_ratio
    duration = BURN_DEGREES * (rows["rpm_true"] / BURN_SPEED) ** 0.3 * (1.0 + 2.0 * recirculated)
    burnt = 1.0 - np.exp(-5.0 * np.clip((angle + rows["spark_true"]) / duration, 0.0, None) ** 3)
    # Heat of the charge per largest volume [J/m³]: what is not air for this fuel burns nothing.
    fuel = start / (R_AIR * warm) * (1.0 - recirculated) / (1.0 + engine.afr_stoich * np.maximum(lam, 1.0))
    heat = HEAT_KEPT * engine.lower_heating_value * fuel
    pressure = np.empty_like(burnt)
    pressure[0] = start
    for k in range(1, len(angle)):
        released = heat * (burnt[k] - burnt[k - 1])
        pressure[k] = pressure[k - 1] * (volume[k - 1] / volume[k]) ** GAMMA + (GAMMA - 1.0) * released / volume[k]
    unburnt = warm * (pressure / start) ** ((POLYTROPIC - 1.0) / POLYTROPIC)
    delay = 17.68e-3 * (OCTANE / 100.0) ** 3.402 * (pressure / 101325.0) ** -1.7 * np.exp(3800.0 / unburnt)
    step = 1.0 / (6.0 * rows["rpm_true"].astype(float))  # s per degree
    return np.asarray((np.where(burnt < 0.9, 1.0 / delay, 0.0) * step).sum(axis=0))
