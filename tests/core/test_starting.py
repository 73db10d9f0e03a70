"""Battery, starter, grounds and alternator: what a start looks like, and what a bad ground makes of it."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from numpy.typing import NDArray

from leitfaden_core.engine.battery import charging, dead_time, inner_ohms, open_voltage, starter_amps
from leitfaden_core.expect import individual_engine
from leitfaden_core.rigs import load_rig, rig_ids
from leitfaden_core.simulate import Machine
from leitfaden_core.simulate.actions import ConnectCharger, LapseTime, SwitchConsumers, TurnKey
from leitfaden_core.simulate.run import settle_memory
from rides import after, by_hand

pytestmark = pytest.mark.model


def start(rig: str, *faults: str, celsius: float = 20.0) -> tuple[Machine, NDArray[np.void]]:
    """Key on for two seconds, then three seconds of starter."""
    machine = by_hand(rig, *faults, start="cold", celsius=celsius)
    after(machine, 2)
    return machine, after(machine, 3, TurnKey(to="start"))


def cranking(rows: NDArray[np.void]) -> NDArray[np.void]:
    """The part of a start in which the starter turns at its speed and nothing burns yet."""
    first = int(np.argmax(rows["injector_ms"] > 0.0)) or len(rows)
    return rows[20:first]


class TestStart:
    @pytest.mark.parametrize("rig", rig_ids())
    def test_the_inrush_dips_the_battery_and_the_starters_speed_brings_it_back(self, rig: str) -> None:
        rows = start(rig)[1]
        assert 9.0 < rows["battery_v"][:3].min() < 10.2
        assert 9.6 < rows["battery_v"][20:40].mean() < 12.2

    @pytest.mark.parametrize("rig", ["R1", "R2", "R3", "R5", "R6"])
    def test_fuel_comes_within_two_turns_and_before_the_first_firing(self, rig: str) -> None:
        rows = start(rig)[1]
        turns = np.cumsum(rows["rpm_true"].astype(float)) / 60.0 * 0.01
        fuel = int(np.argmax(rows["injector_ms"] > 0.0))
        assert 0.5 < turns[fuel] < 2.2
        assert fuel < int(np.argmax(rows["running"] > 0.5))

    @pytest.mark.parametrize("rig", rig_ids())
    def test_it_starts_in_frost_and_the_starter_turns_slower_then(self, rig: str) -> None:
        warm, cold = start(rig)[1], start(rig, celsius=-18.0)[1]
        assert warm["running"][-1] > 0.5 and cold["running"][-1] > 0.5
        if "petrol" in load_rig(rig).features:
            assert cranking(cold)["rpm_true"].mean() < 0.75 * cranking(warm)["rpm_true"].mean()

    def test_each_compression_shows_in_the_starters_current(self) -> None:
        amps = cranking(start("R1", "fuel_pressure_low:factor=0.2")[1])["starter_amps"].astype(float)
        assert np.ptp(amps) > 0.2 * amps.mean()


class TestEngineGround:
    """10,000 ohms in it: nothing noticed before, 238 rev/min."""

    def test_without_it_the_starter_does_not_turn_the_engine(self) -> None:
        rows = start("R1", "ground_resistance:circuit=engine_ground,ohms=10000")[1]
        assert rows["rpm_true"].max() < 60.0 and rows["running"].max() < 0.5

    def test_hundredths_of_an_ohm_cost_speed_and_charge(self) -> None:
        sound, bad = (start("R1", *f) for f in ((), ("ground_resistance:circuit=engine_ground,ohms=0.03",)))
        assert cranking(bad[1])["rpm_true"].mean() < 0.85 * cranking(sound[1])["rpm_true"].mean()
        volts = [
            float(after(machine, 20, TurnKey(to="on"))["battery_v"][-100:].mean()) for machine, _rows in (sound, bad)
        ]
        assert volts[1] < volts[0] - 0.6

    def test_the_block_lies_above_ground_while_cranking_and_below_it_while_charging(self) -> None:
        machine, rows = start("R1", "ground_resistance:circuit=engine_ground,ohms=0.01")
        assert cranking(rows)["block_lift"].mean() > 0.3
        assert after(machine, 10, TurnKey(to="on"))["block_lift"][-1] < -0.2


class TestCharging:
    @pytest.mark.parametrize("rig", rig_ids())
    def test_sound_engines_charge_within_the_trades_limits_and_differ(self, rig: str) -> None:
        volts = []
        for seed in range(12):
            machine = Machine(load_rig(rig), seed, individual_engine(load_rig(rig), seed), "hot")
            volts.append(float(after(machine, 8, TurnKey(to="on"))["battery_v"][-100:].mean()))
        assert min(volts) > 13.5 and max(volts) < 14.7 and max(volts) - min(volts) > 0.2

    @given(st.floats(0.0, 1.0), st.floats(10.0, 90.0), st.floats(0.0, 10.0), st.floats(0.0, 0.2), st.floats(500, 4000))
    def test_what_flows_in_flows_out(
        self, charge: float, house: float, block: float, ground: float, rpm: float
    ) -> None:
        source, inner = open_voltage.py_func(charge), 0.0104
        volts, amps = charging.py_func(source, inner, ground, 14.3, house, block, rpm)
        assert 0.0 <= amps <= house + block + 6.0 + 1e-9
        if amps < house + block:
            # The battery gives the rest through its own resistance.
            assert volts == pytest.approx(source - (house + block - amps) * inner, abs=1e-9)

    def test_without_it_the_battery_gives_everything(self) -> None:
        assert charging.py_func(12.5, 0.01, 0.0, 0.0, 30.0, 1.0, 2000.0) == pytest.approx((12.5 - 0.31, 0.0))


@given(st.floats(11.7, 12.7), st.floats(0.004, 0.03), st.floats(0.0, 1.0), st.floats(30.0, 250.0), st.floats(0.0, 0.9))
def test_the_starters_loop_closes(source: float, inner: float, ground: float, torque: float, share: float) -> None:
    amps = starter_amps.py_func(source, inner, ground, torque, share)
    # Kirchhoff: what is left of the battery drives the motor against its counter voltage.
    motor = 10.2 * (amps / (3.3 * torque) + share)
    assert amps == 0.0 or source - amps * (inner + ground) == pytest.approx(motor, rel=1e-9)


def test_cold_doubles_the_batterys_resistance_and_low_voltage_the_injectors_dead_time() -> None:
    assert 1.6 < inner_ohms.py_func(1.0, 255.0, 75.0) / inner_ohms.py_func(1.0, 298.0, 75.0) < 2.2
    assert dead_time.py_func(8.8) == pytest.approx(2.0, rel=0.02)
    assert inner_ohms.py_func(1.0, 298.0, 150.0) == pytest.approx(0.5 * inner_ohms.py_func(1.0, 298.0, 75.0))


@pytest.mark.parametrize("celsius", [10.0, 25.0, 38.0])
def test_a_restart_after_a_hot_soak_is_one_in_hot_weather_too(celsius: float) -> None:
    """30 K above the air before: on the air-cooled engine gone from 25 °C upwards."""
    machine = by_hand("R6", celsius=celsius)
    after(machine, 20)
    after(machine, 24, TurnKey(to="off"), LapseTime(factor=20))
    rows = after(machine, 4, LapseTime(factor=1), TurnKey(to="start"))
    assert rows["running"][-1] > 0.5 and rows["since_hot_restart"][-1] < 10.0


@pytest.mark.parametrize("rig_id", [*rig_ids()])
def test_consumers_load_engine_and_alternator_and_the_idle_follows(rig_id: str) -> None:
    rig = load_rig(rig_id)
    machine = Machine(rig, 0, start="hot", learned=settle_memory(rig, [], 0, None))
    machine.advance(2000)
    before = machine.advance(300)
    machine.act(SwitchConsumers(lights=True, air_conditioning=True))
    taken_up = machine.advance(600)
    machine.advance(1500)
    after = machine.advance(300)
    assert taken_up["rpm"].min() > 0.75 * before["rpm"].mean()
    assert after["rpm"].mean() == pytest.approx(before["rpm"].mean(), rel=0.02)
    assert after["load"].mean() > 1.2 * before["load"].mean()
    assert after["battery_v"].mean() < before["battery_v"].mean() - 0.05
    machine.act(SwitchConsumers())
    machine.advance(3000)
    assert machine.advance(300)["load"].mean() == pytest.approx(before["load"].mean(), rel=0.1)


def test_a_charger_holds_the_battery_up_with_the_key_on() -> None:
    volts = {}
    for charger in (False, True):
        machine = Machine(load_rig("R1"), 0)
        machine.act(ConnectCharger(on=charger))
        volts[charger] = [machine.advance(100)["battery_v"][-1] for _ in range(120)]
    # Without it the voltage falls with what the key takes (14 A for two minutes of a battery of 60 Ah).
    assert volts[False][-1] < volts[False][5] - 0.003
    assert volts[True][-1] > volts[True][5] - 0.001 and volts[True][-1] > volts[False][-1] + 0.1
