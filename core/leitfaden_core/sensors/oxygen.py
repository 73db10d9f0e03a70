"""Zirconia narrowband sensors: equilibrium oxygen, Nernst voltage, cell resistance.

The platinum electrode brings the exhaust to chemical equilibrium, and the cell gives E = R·T/(4·F)·ln(p_ref/p_O2)
(Nernst). Equilibrium of CO2, CO, H2O, H2, O2 and N2 for a fuel CH1.87: Heywood 1988, ch. 4. A real sensor sees
cylinders and cycles that differ, so its curve is the mean over a spread of mixtures.
"""

import math

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.compiled import compiled, stored_table
from leitfaden_core.constants import FARADAY, R_GAS

#: Hydrogen atoms per carbon atom of the fuel.
HYDROGEN_PER_CARBON = 1.87
#: Oxygen in dry air by volume; its partial pressure on the reference side at 1 atm.
OXYGEN_IN_AIR = 0.2095
#: What the catalyst, which mixes the cylinders' gas and evens out its cycles, leaves of their spread in mixture: this
#: model's estimate. [-]
SPREAD_BEHIND = 0.33
#: Grid of the tabulated voltage: phi from 0 to 2, element temperature in K.
PHI_MAX, PHI_STEPS = 2.0, 2000
TEMP_MIN, TEMP_MAX, TEMP_STEPS = 500.0, 1250.0, 30


def equilibrium_constants(temp: float) -> tuple[float, float]:
    """K of CO + ½ O2 = CO2 and of H2 + ½ O2 = H2O against 1 atm. [atm^-½]

    Linear fits of ΔG/T from the JANAF tables (Chase 1998), good to 0.05 decades between 600 and 1400 K.
    """
    return math.exp(33976.0 / temp - 10.445), math.exp(29836.0 / temp - 6.679)


def equilibrium_oxygen(phi: float, temp: float) -> float:
    """Oxygen partial pressure over the electrode in equilibrium.

    Parameters
    ----------
    phi : float
        Fuel-air equivalence ratio, 1/lambda. 0 is air. [-]
    temp : float
        Electrode temperature, 600 to 1400 K. [K]

    Returns
    -------
    p_o2 : float
        At a total pressure of 1 atm. [atm]

    References
    ----------
    Heywood 1988, ch. 4. Checked in the tests against values from an independent equilibrium solver.
    """
    if phi <= 1e-9:
        return OXYGEN_IN_AIR
    k_co, k_h = equilibrium_constants(temp)
    carbon, hydrogen = phi, HYDROGEN_PER_CARBON * phi
    oxygen = 2.0 * (1.0 + HYDROGEN_PER_CARBON / 4.0)  # atoms per carbon burnt at phi = 1
    nitrogen = oxygen / 2.0 * (1.0 - OXYGEN_IN_AIR) / OXYGEN_IN_AIR
    low, high = -32.0, 0.0
    for _ in range(60):
        middle = 0.5 * (low + high)
        p_o2 = 10.0**middle
        root = math.sqrt(p_o2)
        co2 = carbon * k_co * root / (1.0 + k_co * root)
        h2o = hydrogen / 2.0 * k_h * root / (1.0 + k_h * root)
        # Moles other than oxygen do not depend on p_o2, so the oxygen that a partial pressure stands for follows from
        # the rest.
        other = carbon + hydrogen / 2.0 + nitrogen
        o2 = p_o2 / (1.0 - p_o2) * other
        bound = carbon + co2 + h2o + 2.0 * o2
        low, high = (middle, high) if bound < oxygen else (low, middle)
    return float(10.0 ** (0.5 * (low + high)))


def nernst_voltage(p_o2: float, temp: float, p_ref: float = OXYGEN_IN_AIR) -> float:
    """Voltage of a zirconia cell between reference air and exhaust. Partial pressures in the same unit, temperature in
    K. [V]

    >>> round(nernst_voltage(0.01, 1000.0), 4)
    0.0655

    References: Nernst 1889.
    """
    return R_GAS * temp / (4.0 * FARADAY) * math.log(p_ref / p_o2)


def cell_voltage_table(spread: float) -> NDArray[np.float64]:
    """Cell voltage over mixture and temperature, averaged over a normal spread of phi.

    Parameters
    ----------
    spread : float
        Standard deviation of phi among cylinders and cycles. [-]

    Returns
    -------
    table : array, shape (PHI_STEPS + 1, TEMP_STEPS + 1)
        Voltage at even steps of phi (0 to PHI_MAX) and of temperature (TEMP_MIN to TEMP_MAX). [V]

    References: Nernst 1889 over the equilibrium of six species (Heywood 1988, ch. 4; JANAF, Chase 1998).
    """
    phis = np.linspace(0.0, PHI_MAX, PHI_STEPS + 1)
    temps = np.linspace(TEMP_MIN, TEMP_MAX, TEMP_STEPS + 1)
    raw = stored_table("equilibrium_voltages", lambda: _equilibrium_voltages(phis, temps))
    step = PHI_MAX / PHI_STEPS
    reach = int(4 * spread / step) + 1
    offsets = np.arange(-reach, reach + 1)
    weights = np.exp(-0.5 * (offsets * step / spread) ** 2)
    weights /= weights.sum()
    padded = np.concatenate([np.repeat(raw[:1], reach, axis=0), raw, np.repeat(raw[-1:], reach, axis=0)])
    return np.ascontiguousarray(
        np.stack([np.convolve(padded[:, k], weights, mode="valid") for k in range(temps.size)], axis=1)
    )


def _equilibrium_voltages(phis: NDArray[np.float64], temps: NDArray[np.float64]) -> NDArray[np.float64]:
    """:func:`nernst_voltage` of :func:`equilibrium_oxygen` on a grid, bisected for all points at once. [V]"""
    carbon = phis[:, None]
    hydrogen = HYDROGEN_PER_CARBON * carbon
    oxygen = 2.0 * (1.0 + HYDROGEN_PER_CARBON / 4.0)
    other = carbon + hydrogen / 2.0 + oxygen / 2.0 * (1.0 - OXYGEN_IN_AIR) / OXYGEN_IN_AIR
    constants = np.array([equilibrium_constants(float(t)) for t in temps])
    k_co, k_h = constants[:, 0][None, :], constants[:, 1][None, :]
    low = np.full((phis.size, temps.size), -32.0)
    high = np.full_like(low, np.log10(OXYGEN_IN_AIR))
    for _ in range(50):
        middle = 0.5 * (low + high)
        p_o2 = 10.0**middle
        root = np.sqrt(p_o2)
        bound = (
            carbon
            + carbon * k_co * root / (1.0 + k_co * root)
            + hydrogen / 2.0 * k_h * root / (1.0 + k_h * root)
            + 2.0 * p_o2 / (1.0 - p_o2) * other
        )
        less = bound < oxygen
        low, high = np.where(less, middle, low), np.where(less, high, middle)
    return R_GAS * temps[None, :] / (4.0 * FARADAY) * np.log(OXYGEN_IN_AIR / 10.0 ** (0.5 * (low + high)))


@compiled
def cell_voltage(phi: float, temp: float, table: NDArray[np.float64]) -> float:
    """Open-circuit voltage from :func:`cell_voltage_table` by bilinear interpolation; outside the grid the edge stands.

    [V]

    References: as cell_voltage_table.
    """
    x = min(max(phi, 0.0), PHI_MAX - 1e-6) * (PHI_STEPS / PHI_MAX)
    y = (min(max(temp, TEMP_MIN), TEMP_MAX - 1e-3) - TEMP_MIN) * (TEMP_STEPS / (TEMP_MAX - TEMP_MIN))
    i, j = int(x), int(y)
    u, v = x - i, y - j
    return (1.0 - u) * ((1.0 - v) * table[i, j] + v * table[i, j + 1]) + u * (
        (1.0 - v) * table[i + 1, j] + v * table[i + 1, j + 1]
    )


#: Inner resistance of a cell of stabilised zirconia: [ohm] and activation energy over the gas constant [K].
CELL_OHMS, CELL_KELVIN = 0.015, 9500.0
#: Resistance up to which a control unit can tell one from another; an element below 194 °C looks like an open wire.
#: [ohm]
MEASURED_TO = 1e7


@compiled
def cell_resistance(temp: float) -> float:
    """Inner resistance of the cell, ``0.015·exp(9500/T)``: megohms when cold, below a kilohm when hot.

    Temperature in K. [ohm]

    References: Arrhenius 1889; conductivity of stabilised zirconia.
    """
    return CELL_OHMS * math.exp(CELL_KELVIN / max(temp, 300.0))


@compiled
def element_temperature(ohms: float) -> float:
    """What a control unit takes an element's temperature for by the resistance that it finds at the plug:
    :func:`cell_resistance` backwards, from 194 °C on. Resistance of the wire on top makes it look colder. [ohm] to [K]

    References: as cell_resistance.
    """
    return CELL_KELVIN / math.log(min(max(ohms, 1.0), MEASURED_TO) / CELL_OHMS)
