"""The narrowband sensor over mixture and temperature: gas, cell and pin."""

from dataclasses import dataclass

import numpy as np

from leitfaden_core.constants import ZERO_CELSIUS
from leitfaden_core.errors import MissingPart
from leitfaden_core.rigs import Rig
from leitfaden_core.sensors.oxygen import cell_resistance, cell_voltage, cell_voltage_table, equilibrium_oxygen
from leitfaden_core.wiring import CIRCUIT_SOUND, pin_voltage
from leitfaden_core.words import say


@dataclass(frozen=True)
class NarrowbandGrid:
    """A narrowband over mixture and temperature. Lists over temperature hold lists over lambda."""

    lambdas: list[float]  # [-]
    temperatures: list[float]  # °C
    oxygen_percent: list[list[float]]  # by volume at the hot electrode, in equilibrium
    cell_volts: list[list[float]]  # V
    pin_volts: list[list[float]]  # V, with the control unit's bias
    resistance: list[float]  # ohm, one per temperature
    bias: float  # V


def narrowband_grid(rig: Rig) -> NarrowbandGrid:
    """The rig's front sensor from 250 to 900 °C and from lambda 0.80 to 1.20.

    Below 330 °C the equilibrium is extrapolated; what counts there is the cell's resistance, which leaves the control
    unit's bias at the pin.
    """
    lambdas = np.round(np.arange(0.80, 1.2001, 0.004), 3)
    celsius = np.arange(250.0, 901.0, 50.0)
    table = cell_voltage_table(rig.exhaust.mixture_spread)
    if rig.oxygen_sensors is None:
        raise MissingPart(say("rig {id} ({name}) has no oxygen sensor", id=rig.id, name=rig.name), rig=rig.id)
    bias, pull = rig.oxygen_sensors.bias_voltage, rig.oxygen_sensors.bias_resistance
    oxygen, cells, pins, resistances = [], [], [], []
    for temp in celsius + ZERO_CELSIUS:
        resistance = cell_resistance(float(temp))
        volts = [cell_voltage(1.0 / lam, float(temp), table) for lam in lambdas]
        oxygen.append([float(f"{100.0 * equilibrium_oxygen(1.0 / lam, float(temp)):.3g}") for lam in lambdas])
        cells.append([round(v, 4) for v in volts])
        pins.append([round(pin_voltage(v, resistance, bias, pull, CIRCUIT_SOUND, 0.0, 12.4), 4) for v in volts])
        resistances.append(float(f"{resistance:.3g}"))
    return NarrowbandGrid(lambdas.tolist(), celsius.tolist(), oxygen, cells, pins, resistances, bias)
