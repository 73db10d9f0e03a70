"""Wiring: hand-solved circuits, the closed forms of the simulator against nodal analysis, and what a meter shows on
it.
"""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from leitfaden_core.errors import UnknownName
from leitfaden_core.faults import parse_fault
from leitfaden_core.rigs import load_rig, rig_ids
from leitfaden_core.scripts import load_script
from leitfaden_core.simulate import Run, cached_run
from leitfaden_core.simulate.pins import network_at
from leitfaden_core.wiring import CIRCUIT_OPEN, CIRCUIT_SOUND, rails
from leitfaden_core.wiring.network import GROUND, Network

pytestmark = pytest.mark.model

DAY = load_script("workshop_day")
#: Wire at the control unit -> channel of its pin.
PINS = {
    "map": "map_volts",
    "charge": "charge_volts",
    "egr": "egr_volts",
    "ambient": "baro_volts",
    "tp": "tp_volts",
    "iat": "iat_volts",
    "ect": "ect_volts",
    "maf": "maf_volts",
    "front": "ho2s_b1s1_pin_v",
    "rear": "ho2s_b1s2_pin_v",
    "rail": "rail_volts",
    "dpf_dp": "dpf_dp_volts",
}


def drive(rig: str, *faults: str) -> Run:
    return cached_run(load_rig(rig), DAY, [parse_fault(text) for text in faults])


def middle(run: Run, condition: str) -> float:
    return sum(run.script.span(condition)) / 2.0


class TestNetwork:
    def test_a_divider(self) -> None:
        net = Network()
        net.source("plus", GROUND, 5.0)
        net.resistor("plus", "pin", 2200.0)
        net.resistor("pin", GROUND, 306.0)
        assert net.solve()["pin"] == pytest.approx(5.0 * 306.0 / 2506.0, abs=1e-6)

    def test_a_loaded_bridge_by_hand(self) -> None:
        # Two dividers 1k/1k and 2k/1k off 12 V with 3k between their middles: mesh equations give 5.5385 V and 4.6154
        # V.
        net = Network()
        net.source("plus", GROUND, 12.0)
        for a, b, ohms in (
            ("plus", "a", 1e3),
            ("a", GROUND, 1e3),
            ("plus", "b", 2e3),
            ("b", GROUND, 1e3),
            ("a", "b", 3e3),
        ):
            net.resistor(a, b, ohms)
        # Kirchhoff: a: (12−a)/1 = a/1 + (a−b)/3, b: (12−b)/2 + (a−b)/3 = b/1, so 7a − b = 36 and 2a − 11b = −36.
        found = net.solve()
        assert found["a"] == pytest.approx(432.0 / 75.0, abs=1e-6) and found["b"] == pytest.approx(
            324.0 / 75.0, abs=1e-6
        )

    def test_a_voltmeter_loads_what_it_measures(self) -> None:
        net = Network()
        net.source("plus", GROUND, 5.0)
        net.resistor("plus", "open wire", 220e3)
        assert net.volts("open wire", GROUND) == pytest.approx(5.0 * 10e6 / 10.22e6, abs=1e-3)  # 4.89 V

    def test_an_amplifier_follows_its_supply_and_its_ground(self) -> None:
        net = Network()
        net.source("plus", GROUND, 5.0)
        net.resistor("minus", GROUND, 100.0)
        net.resistor("plus", "minus", 1000.0)
        net.amplifier("out", "minus", "plus", 0.4)
        found = net.solve()
        lifted = 5.0 * 100.0 / 1100.0
        assert found["out"] == pytest.approx(lifted + 0.4 * (5.0 - lifted), abs=1e-4)

    def test_ohms_between_any_two_pins_with_the_power_off(self) -> None:
        net = Network()
        net.resistor("a", "b", 1000.0)
        net.resistor("b", "c", 500.0)
        net.resistor("x", "y", 10.0)
        assert net.ohms("a", "c") == pytest.approx(1500.0, rel=1e-4)
        assert net.ohms("a", "a") == 0.0
        assert net.ohms("a", "x") is None
        with pytest.raises(UnknownName, match="unknown pin 'z'"):
            net.ohms("a", "z")

    @given(st.floats(10.0, 1e5), st.floats(10.0, 1e5), st.floats(10.0, 1e5))
    def test_currents_into_a_node_sum_to_nothing(self, one: float, two: float, three: float) -> None:
        net = Network()
        net.source("plus", GROUND, 12.0)
        net.resistor("plus", "node", one)
        net.resistor("node", GROUND, two)
        net.resistor("node", GROUND, three)
        v = net.solve()["node"]
        assert (12.0 - v) / one == pytest.approx(v / two + v / three, rel=1e-6)


class TestRails:
    def test_a_sound_reference_and_ground(self) -> None:
        reference, ground = rails.py_func(4.0, 1000.0, 0.001, 0.3, CIRCUIT_SOUND, -1.0, 0.0, CIRCUIT_SOUND)
        # 20 mA through 0.3 ohm; 20 mA and 5 mA through 20 milliohm.
        assert reference == pytest.approx(5.0 - 0.020 * 0.3, abs=2e-4) and ground == pytest.approx(
            0.025 * 0.02, abs=1e-4
        )

    def test_an_open_ground_lets_everything_float_up(self) -> None:
        reference, ground = rails.py_func(2.0, 1000.0, 0.001, 0.3, CIRCUIT_SOUND, -1.0, 0.0, CIRCUIT_OPEN)
        assert reference == pytest.approx(5.0, abs=0.01) and ground == pytest.approx(5.0, abs=0.05)

    def test_a_shorted_reference_is_held_by_its_regulator(self) -> None:
        from leitfaden_core.wiring import CIRCUIT_GROUNDED

        reference, _ground = rails.py_func(4.0, 1000.0, 0.001, 0.3, CIRCUIT_GROUNDED, -1.0, 0.0, CIRCUIT_SOUND)
        assert reference == pytest.approx(0.1 * 0.05, abs=1e-3)


@pytest.mark.parametrize(
    "fault",
    [
        None,
        "ground_resistance:circuit=sensor_ground,ohms=30",
        "ground_resistance:circuit=engine_ground,ohms=0.3",
        "signal_open:circuit=sensor_ground",
        "signal_open:circuit=ref_5v",
        "signal_short_to_ground:circuit=ref_5v",
        "series_resistance:circuit=ref_5v,ohms=100",
        "reference_pulled_down:volts=4",
        "signal_open:circuit=ect",
        "signal_short_to_battery:circuit=iat",
        "series_resistance:circuit=ect,ohms=800",
    ],
)
@pytest.mark.parametrize("rig_id", rig_ids())
def test_every_pin_of_the_running_model_is_that_of_nodal_analysis(rig_id: str, fault: str | None) -> None:
    run = drive(rig_id, *([fault] if fault else []))
    for condition in ("koeo", "hot_idle", "wot_pull"):
        seconds = middle(run, condition)
        row, found = run.lanes[int(seconds * 100)], network_at(run, seconds).solve()
        for wire, channel in PINS.items():
            if f"unit.{wire}" in found:
                assert found[f"unit.{wire}"] == pytest.approx(float(row[channel]), abs=0.02), (condition, wire)
        assert found["reference"] == pytest.approx(float(row["vref_v"]), abs=0.01)
        assert found["sensor ground"] == pytest.approx(float(row["sensor_ground_v"]), abs=0.01)
        if "maf.supply" in found:
            supplied = found["maf.supply"] - found["maf.power ground"]
            assert supplied == pytest.approx(float(row["maf_supply_v"]), abs=0.05)


class TestMeter:
    """What a trainer shows with a multimeter, on the greenhouse van (R2)."""

    def test_a_bad_ground_is_found_by_its_voltage_drop(self) -> None:
        run = drive("R6", "ground_resistance:circuit=sensor_ground,ohms=30")
        net = network_at(run, middle(run, "koeo"))
        assert 0.2 < net.volts("map.ground", GROUND) < 0.6
        assert net.volts("map.supply", GROUND) == pytest.approx(5.0, abs=0.02)
        assert 4.4 < net.volts("map.supply", "map.ground") < 4.8
        sound = drive("R6")
        assert network_at(sound, middle(sound, "koeo")).volts("map.ground", GROUND) < 0.02

    def test_unplugging_a_thermistor_shows_the_pull_up(self) -> None:
        run = drive("R2")
        net = network_at(run, middle(run, "hot_idle"), unplugged=frozenset({"ect"}))
        assert net.volts("ect.signal", GROUND) == pytest.approx(5.0, abs=0.01)
        assert net.ohms("ect.sensor.signal", "ect.sensor.ground") == pytest.approx(300.0, rel=0.15)

    def test_a_heater_is_measured_with_the_plug_off_and_the_key_off(self) -> None:
        run = drive("R1")
        net = network_at(run, middle(run, "hot_idle"), unplugged=frozenset({"front"}), key_off=True)
        assert net.ohms("front.sensor.heater plus", "front.sensor.heater minus") == pytest.approx(9.0, abs=0.1)

    def test_a_broken_signal_wire_has_two_different_ends(self) -> None:
        run = drive("R2", "signal_open:circuit=map_signal")
        net = network_at(run, middle(run, "koeo"))
        assert net.volts("map.signal", GROUND) == pytest.approx(4.5, abs=0.1)
        assert net.volts("unit.map", GROUND) < 0.05
        assert network_at(run, middle(run, "koeo"), key_off=True).ohms("map.signal", "unit.map") is None

    @pytest.mark.parametrize("rig_id", ["R1", "R5"])
    def test_a_lifted_ground_of_the_front_sensor_adds_to_its_signal_and_is_found_at_the_ground(
        self, rig_id: str
    ) -> None:
        """While the engine runs; with the key on alone no current lifts it."""
        run, sound = drive(rig_id, "ho2s_ground_loose:volts=0.2"), drive(rig_id)
        rich = [r.statistic("wot_pull", "ho2s_b1s1_pin_v", "max") for r in (run, sound)]
        assert rich[0] - rich[1] == pytest.approx(0.2, abs=0.02)  # no loop leans it out there
        running, waiting = (network_at(run, middle(run, c)).solve() for c in ("hot_idle", "koeo"))
        assert running["front.ground"] == pytest.approx(0.2, abs=0.01)
        assert waiting.get("front.ground", 0.0) == pytest.approx(0.0, abs=0.02)

    def test_a_pulled_down_reference_returns_nowhere_by_itself(self) -> None:
        run = drive("R3", "reference_pulled_down:volts=3.5")
        net = network_at(run, middle(run, "koeo"))
        assert net.volts("map.supply", GROUND) == net.volts("charge.supply", GROUND) == pytest.approx(3.5)

    def test_a_supply_under_load_drops_more_with_more_flow(self) -> None:
        run = drive("R1", "supply_resistance:circuit=maf_supply,ohms=8")
        idle, full = (
            run.statistic(condition, "battery_v", "mean") - run.statistic(condition, "maf_supply_v", "mean")
            for condition in ("hot_idle", "wot_pull")
        )
        # 0.1 A without flow, 0.5 A at full scale, by the root of the flow: 8 ohm drop 1.2 V at idle and 3.1 V at full
        # load.
        assert idle == pytest.approx(8 * (0.1 + 0.4 * (1.8 / 130) ** 0.5), abs=0.1)
        assert full == pytest.approx(8 * (0.1 + 0.4 * (65 / 130) ** 0.5), abs=0.25)

    def test_a_block_apart_from_ground_adds_to_a_one_wire_sensor_and_leaves_a_four_wire_one_alone(self) -> None:
        for rig_id, share in (("R5", 1.0), ("R1", 0.0)):
            run = drive(rig_id, "ground_resistance:circuit=engine_ground,ohms=0.01")
            rows = run.rows(run.script.span("wot_pull"))
            # The alternator draws its 40 A out of the block: it lies below battery minus while the engine runs.
            assert -0.6 < rows["block_lift"].mean() < -0.2
            # The input's own 100 kilohm pull towards 0.45 V takes its part through the cell's resistance.
            kept = 1e5 / (1e5 + rows["front_ohms"].mean())
            expected = kept * (rows["front_source"].mean() + share * rows["block_lift"].mean()) + (1.0 - kept) * 0.45
            assert rows["ho2s_b1s1_pin_v"].mean() == pytest.approx(expected, abs=0.01)
