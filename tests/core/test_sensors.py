"""Sensors from true quantity to pin, against published and hand-worked values."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from leitfaden_core.sensors.airflow import meter_flow, meter_slope, meter_voltage
from leitfaden_core.sensors.oxygen import (
    cell_resistance,
    cell_voltage,
    cell_voltage_table,
    element_temperature,
    equilibrium_oxygen,
    nernst_voltage,
)
from leitfaden_core.sensors.pressure import believed_pressure
from leitfaden_core.sensors.temperature import believed_resistance, ntc_resistance, ntc_temperature
from leitfaden_core.wiring import CIRCUIT_GROUNDED, CIRCUIT_OPEN, CIRCUIT_SHORT_5V, CIRCUIT_SOUND, pin_voltage

pytestmark = pytest.mark.model

SHARP = cell_voltage_table(0.001)
REAL = cell_voltage_table(0.006)


@pytest.mark.parametrize(("oxygen", "volts"), [(0.01, 0.065), (0.025, 0.046), (1e-19, 0.91)])
def test_nernst_voltage_at_1000_kelvin(oxygen: float, volts: float) -> None:
    # R·1000/(4·F)·ln(0.2095/p): 0.02154·ln(...)
    assert nernst_voltage(oxygen, 1000.0) == pytest.approx(volts, abs=0.003)


@pytest.mark.parametrize(
    ("lam", "log10_oxygen"),
    [(0.85, -22.26), (0.95, -21.13), (0.99, -19.67), (1.01, -2.71), (1.20, -1.48)],
)
def test_equilibrium_oxygen_at_900_kelvin(lam: float, log10_oxygen: float) -> None:
    # Values of an independent equilibrium solver with the same six species; tolerance 0.06 decades for the linear fit
    # of ΔG/T.
    assert math.log10(equilibrium_oxygen(1.0 / lam, 900.0)) == pytest.approx(log10_oxygen, abs=0.06)


@pytest.fixture(scope="module")
def six_species():  # type: ignore[no-untyped-def]
    """An independent chemical-equilibrium library on the same six species with NASA polynomials of its own."""
    import cantera

    wanted = {"CO2", "CO", "H2O", "H2", "O2", "N2"}
    species = [entry for entry in cantera.Species.list_from_file("gri30.yaml") if entry.name in wanted]
    return cantera.Solution(thermo="ideal-gas", species=species)


@pytest.mark.parametrize("temp", [750.0, 900.0, 1050.0, 1200.0])
@pytest.mark.parametrize("lam", [0.80, 0.90, 0.97, 0.995, 1.005, 1.03, 1.1, 1.5, 3.0])
def test_equilibrium_oxygen_and_voltage_against_an_independent_solver(six_species, lam: float, temp: float) -> None:
    hydrogen = 1.87
    oxygen = 2.0 * lam * (1.0 + hydrogen / 4.0) / 2.0  # O2 molecules per carbon
    # Any composition with these atoms will do: the solver finds the rest.
    start = {"CO": 1.0, "H2": hydrogen / 2.0, "O2": oxygen - 0.5, "N2": oxygen * (1.0 - 0.2095) / 0.2095}
    six_species.TPX = temp, 101325.0, start
    six_species.equilibrate("TP", solver="gibbs", rtol=1e-10, max_steps=20000)
    theirs = float(six_species["O2"].X[0])
    ours = equilibrium_oxygen(1.0 / lam, temp)
    assert math.log10(ours) == pytest.approx(math.log10(theirs), abs=0.08)
    assert nernst_voltage(ours, temp) == pytest.approx(nernst_voltage(theirs, temp), abs=0.006)


def test_oxygen_balance_of_the_equilibrium_gas() -> None:
    # Far lean, hardly anything is dissociated: excess air over products, by counting atoms for CH1.87.
    lam, burnt = 1.2, 1.0 + 1.87 / 4.0
    moles = 1.0 + 1.87 / 2.0 + lam * burnt * (1 - 0.2095) / 0.2095 + (lam - 1.0) * burnt
    assert equilibrium_oxygen(1.0 / lam, 900.0) == pytest.approx((lam - 1.0) * burnt / moles, rel=0.01)


@given(st.floats(0.6, 2.0), st.floats(650.0, 1250.0))
def test_more_fuel_never_leaves_more_oxygen(lam: float, temp: float) -> None:
    assert equilibrium_oxygen(1.0 / lam, temp) <= equilibrium_oxygen(1.0 / (lam * 1.01), temp) * (1 + 1e-9)


@pytest.mark.parametrize(
    ("lam", "temp", "volts"),
    [
        (0.95, 900, 0.913),
        (0.99, 900, 0.848),
        (1.01, 900, 0.091),
        (1.05, 900, 0.060),
        (0.95, 1200, 0.761),
        (1.01, 1200, 0.121),
    ],
)
def test_cell_voltage_over_mixture_and_temperature(lam: float, temp: float, volts: float) -> None:
    assert cell_voltage.py_func(1.0 / lam, temp, SHARP) == pytest.approx(volts, abs=0.012)


def test_the_curve_is_a_step_at_lambda_1_and_flat_beside_it() -> None:
    around = cell_voltage.py_func(1 / 0.99, 900.0, REAL) - cell_voltage.py_func(1 / 1.01, 900.0, REAL)
    beside = cell_voltage.py_func(1 / 1.02, 900.0, REAL) - cell_voltage.py_func(1 / 1.20, 900.0, REAL)
    assert around > 0.5
    assert beside < 0.06


def test_a_spread_of_mixtures_takes_the_edge_off_the_step() -> None:
    widths = [
        np.ptp([cell_voltage.py_func(1 / lam, 900.0, table) for lam in (0.998, 1.002)]) for table in (SHARP, REAL)
    ]
    assert widths[0] > widths[1]


def test_a_cold_cell_shows_the_control_units_bias() -> None:
    for gas in (0.05, 0.9):
        cold = pin_voltage.py_func(gas, cell_resistance.py_func(420.0), 0.45, 100e3, CIRCUIT_SOUND, 0.0, 12.4)
        hot = pin_voltage.py_func(gas, cell_resistance.py_func(950.0), 0.45, 100e3, CIRCUIT_SOUND, 0.0, 12.4)
        assert cold == pytest.approx(0.45, abs=0.01)
        assert hot == pytest.approx(gas, abs=0.01)


@given(st.floats(470.0, 1250.0), st.floats(1.0, 500.0))
def test_an_element_is_told_by_its_resistance_and_looks_colder_behind_a_bad_plug(temp: float, plug: float) -> None:
    inner = cell_resistance.py_func(temp)
    assert element_temperature.py_func(inner) == pytest.approx(temp, rel=1e-9)
    assert element_temperature.py_func(inner + plug) < temp


def test_an_open_wire_and_a_cold_element_look_alike() -> None:
    told = [element_temperature.py_func(ohms) - 273.15 for ohms in (1e9, cell_resistance.py_func(300.0))]
    assert told == [pytest.approx(194.0, abs=0.5)] * 2


#: A meter that shows 1 V without flow and reaches 130 g/s.
SLOPE = meter_slope.py_func(1.0, 0.13)


@given(st.floats(0.0, 0.13))
def test_the_meters_curve_and_its_reading_undo_each_other(flow: float) -> None:
    volts = meter_voltage.py_func(flow, 1.0, SLOPE)
    assert 1.0 <= volts <= 4.7 + 1e-9
    assert meter_flow.py_func(volts, 1.0, SLOPE) == pytest.approx(flow, rel=1e-6, abs=1e-9)


def test_half_a_volt_means_much_more_near_full_flow_than_near_idle() -> None:
    top = meter_flow.py_func(4.5, 1.0, SLOPE) - meter_flow.py_func(4.0, 1.0, SLOPE)
    idle = meter_flow.py_func(2.0, 1.0, SLOPE) - meter_flow.py_func(1.5, 1.0, SLOPE)
    assert top > 10 * idle


@pytest.mark.parametrize(("celsius", "ohms"), [(25, 2500.0), (90, 306.0), (20, 3054.0)])
def test_thermistor_table(celsius: float, ohms: float) -> None:
    # R = 2500·exp(3500·(1/T − 1/298.15)), worked by hand
    assert ntc_resistance.py_func(celsius + 273.15, 2500.0, 3500.0) == pytest.approx(ohms, rel=0.005)


@given(st.floats(235.0, 420.0))
def test_the_control_unit_reads_the_temperature_that_the_divider_tells(temp: float) -> None:
    ohms = ntc_resistance.py_func(temp, 2500.0, 3500.0)
    volts = 5.0 * ohms / (ohms + 2200.0)
    assert ntc_temperature.py_func(believed_resistance.py_func(volts, 2200.0, 5.0), 2500.0, 3500.0) == pytest.approx(
        temp, abs=0.01
    )


def test_100_ohm_in_a_hot_thermistors_ground_read_10_kelvin_cold() -> None:
    hot = ntc_resistance.py_func(363.15, 2500.0, 3500.0)
    volts = pin_voltage.py_func(0.0, hot, 5.0, 2200.0, CIRCUIT_SOUND, 100.0, 12.4)
    assert volts == pytest.approx(0.78, abs=0.01)
    read = ntc_temperature.py_func(believed_resistance.py_func(volts, 2200.0, 5.0), 2500.0, 3500.0)
    assert 363.15 - read == pytest.approx(10.0, abs=1.0)


def test_a_ratiometric_sensor_reads_low_with_a_low_reference() -> None:
    share = 0.04 + 0.0085 * 100.0
    assert believed_pressure.py_func(5.0 * share, 5.0, 0.04, 0.0085) == pytest.approx(100.0)
    assert believed_pressure.py_func(4.0 * share, 5.0, 0.04, 0.0085) == pytest.approx(
        (4.0 / 5.0 * 0.89 - 0.04) / 0.0085
    )


@pytest.mark.parametrize(
    ("state", "volts"),
    [(CIRCUIT_SOUND, 1.99), (CIRCUIT_OPEN, 0.0), (CIRCUIT_GROUNDED, 0.0), (CIRCUIT_SHORT_5V, 5.0)],
)
def test_what_a_pulled_down_signal_input_shows(state: int, volts: float) -> None:
    # 2 V behind 1 kΩ into 220 kΩ: 2·220/221 = 1.991 V
    assert pin_voltage.py_func(2.0, 1000.0, 0.0, 220e3, state, 0.0, 12.4) == pytest.approx(volts, abs=0.005)


def test_resistance_in_a_signal_wire_hardly_matters() -> None:
    assert pin_voltage.py_func(2.0, 100.0, 0.0, 220e3, CIRCUIT_SOUND, 5000.0, 12.4) == pytest.approx(1.95, abs=0.01)
