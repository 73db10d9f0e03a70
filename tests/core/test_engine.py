"""Formulas of the engine against closed forms and published values."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from leitfaden_core.constants import GAMMA, R_AIR
from leitfaden_core.engine.air_path import (
    CRITICAL_RATIO,
    HOLE_COEFFICIENT,
    charge_temperature,
    cylinder_flow,
    filter_flow,
    flow_function,
    orifice,
    volumetric_efficiency,
)
from leitfaden_core.engine.exhaust import (
    STORE_BALANCE,
    balanced_fill,
    catalyst_step,
    exchanged_share,
    released,
    transport_delay,
)
from leitfaden_core.engine.fuel import injected_flow

pytestmark = pytest.mark.model


def flow_by_mach(ratio: float) -> float:
    """The same flow by another way: Mach number of the isentropic jet, then continuity (Heywood 1988, app. C)."""
    mach = math.sqrt(2.0 / (GAMMA - 1.0) * (ratio ** (-(GAMMA - 1.0) / GAMMA) - 1.0))
    return math.sqrt(GAMMA) * mach * (1.0 + (GAMMA - 1.0) / 2.0 * mach**2) ** (-(GAMMA + 1.0) / (2.0 * (GAMMA - 1.0)))


@pytest.mark.parametrize("ratio", [0.53, 0.6, 0.7, 0.8, 0.9, 0.95, 0.975])
def test_flow_function_agrees_with_the_isentropic_jet(ratio: float) -> None:
    assert flow_function(ratio) == pytest.approx(flow_by_mach(ratio), rel=1e-9)


def test_below_the_critical_ratio_the_opening_is_choked() -> None:
    assert pytest.approx(0.5283, abs=1e-4) == CRITICAL_RATIO
    assert flow_function(0.1) == flow_function(0.5) == pytest.approx(0.68473, abs=1e-5)


@given(st.floats(0.01, 0.99))
def test_the_table_interpolates_the_function(ratio: float) -> None:
    flow, _, _ = orifice.py_func(1e-5, 1e5, 293.15, ratio * 1e5)
    exact = 1e-5 * 1e5 / math.sqrt(R_AIR * 293.15) * flow_function(ratio)
    assert flow == pytest.approx(exact, rel=2e-3, abs=1e-9)


def test_a_sharp_hole_of_1_mm2_lets_about_017_grams_a_second_into_an_idling_manifold() -> None:
    # Choked flow m = 0.0404·Cd·A·p0/√T0 (SI), Heywood 1988, app. C: 0.0404·0.7·1e-6·101300/√293.15
    flow, _, _ = orifice.py_func(HOLE_COEFFICIENT * 1e-6, 101.3e3, 293.15, 30e3)
    assert flow * 1e3 == pytest.approx(0.0404 * 0.7e-6 * 101.3e3 / math.sqrt(293.15) * 1e3, rel=2e-3)
    assert flow * 1e3 == pytest.approx(0.167, abs=0.003)


@given(st.floats(2e4, 9.9e4), st.floats(1e-6, 1e-3))
def test_slopes_of_an_orifice_are_its_derivatives(p_down: float, area: float) -> None:
    step = 5.0
    _, by_up, by_down = orifice.py_func(area, 1e5, 293.15, p_down)
    numeric_up = (
        orifice.py_func(area, 1e5 + step, 293.15, p_down)[0] - orifice.py_func(area, 1e5 - step, 293.15, p_down)[0]
    ) / (2 * step)
    numeric_down = (
        orifice.py_func(area, 1e5, 293.15, p_down + step)[0] - orifice.py_func(area, 1e5, 293.15, p_down - step)[0]
    ) / (2 * step)
    scale = area / math.sqrt(R_AIR * 293.15)
    assert by_up == pytest.approx(numeric_up, abs=0.05 * scale)
    assert by_down == pytest.approx(numeric_down, abs=0.05 * scale)


@given(st.floats(-3e3, 3e3))
def test_a_filter_passes_both_ways_and_more_with_more_drop(dp: float) -> None:
    flow, slope = filter_flow.py_func(dp, 2e5)
    assert slope > 0
    assert filter_flow.py_func(-dp, 2e5)[0] == pytest.approx(-flow)
    if abs(dp) > 10:
        assert abs(dp) == pytest.approx(2e5 * flow * flow, rel=1e-9)


def test_airflow_by_speed_and_density() -> None:
    # Hand-worked for a 2.0 L four at idle: 0.5·30e3·0.002·750/(120·287.05·308) = 2.12 g/s
    flow = cylinder_flow.py_func(0.5, 30e3, 308.0, 0.002, 750 * 2 * math.pi / 60)
    assert flow * 1e3 == pytest.approx(2.12, abs=0.01)


def test_trapped_residual_lowers_the_filling_at_low_manifold_pressure() -> None:
    filling = [volumetric_efficiency.py_func(p, 101.3e3, 75.0, 0.74, 10.5, 0.0) for p in (30e3, 60e3, 101.3e3)]
    assert filling == sorted(filling)
    assert filling[-1] == pytest.approx(0.74, abs=0.001)
    # 1 + c − c·(p_ex/p_im)^(1/γ) with c = 1/9.5, by hand at 30 kPa: 1 + 0.1053·(1 − 2.384)
    assert filling[0] / 0.74 == pytest.approx(1.0 + (1.0 - (101.3 / 30.0) ** (1.0 / 1.4)) / 9.5, rel=1e-4)


def test_charge_is_heated_most_at_small_flow() -> None:
    warm, cool = (charge_temperature.py_func(293.15, 363.15, flow, 0.085, 0.55) for flow in (0.0018, 0.06))
    assert 293.15 < cool < warm < 363.15


def test_injector_flow_goes_with_the_root_of_the_pressure() -> None:
    full, low = (injected_flow.py_func(0.010, 0.00085, 0.0026, ratio, 24.0) for ratio in (1.0, 0.49))
    assert low / full == pytest.approx(0.7)


def test_the_exhaust_takes_half_a_second_at_idle_and_much_less_at_speed() -> None:
    idle = transport_delay.py_func(75.0, 0.0012, 101.3e3, 0.0019, 720.0)
    fast = transport_delay.py_func(262.0, 0.0012, 101.5e3, 0.0074, 790.0)
    assert 0.3 < idle < 0.6
    assert fast < 0.15


@given(st.floats(0.0, 1.0), st.floats(0.5, 1.8), st.floats(1e-4, 0.08))
def test_the_oxygen_store_never_holds_less_than_nothing_or_more_than_all(fill: float, phi: float, flow: float) -> None:
    after, _ = catalyst_step.py_func(fill, phi, flow, 9e-4, 1.0, exchanged_share.py_func(0.1, flow), 0.001)
    assert 0.0 <= after <= 1.0
    # Lean gas fills it and rich gas empties it, on the near side of the fill that is in balance with the gas.
    if phi < 0.99 and fill <= STORE_BALANCE:
        assert after >= fill
    if phi > 1.01 and fill >= STORE_BALANCE:
        assert after <= fill


def test_left_alone_with_stoichiometric_gas_the_store_comes_to_rest_in_balance_and_so_does_the_gas() -> None:
    fill = 0.2
    for _ in range(2_000_000):
        fill, behind = catalyst_step.py_func(fill, 1.0, 0.02, 9e-4, 1.0, 1.0, 0.001)
        if abs(behind - 1.0) < 1e-6:
            break
    assert fill == pytest.approx(STORE_BALANCE, abs=1e-3)
    assert balanced_fill.py_func(1.0 + released.py_func(0.3)) == pytest.approx(0.3)


@pytest.mark.parametrize("active", [1.0, 0.3])
@pytest.mark.parametrize("exchange", [0.1, 0.005])
def test_oxygen_that_the_store_takes_is_missing_behind_it(active: float, exchange: float) -> None:
    fill, phi, flow, store, dt = 0.3, 0.97, 0.01, 9e-4, 0.001
    after, behind = catalyst_step.py_func(fill, phi, flow, store, active, exchanged_share.py_func(exchange, flow), dt)
    taken = (after - fill) * store / dt
    assert taken == pytest.approx(0.232 * flow * (behind - phi), rel=1e-6)
