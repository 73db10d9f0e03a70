"""Instruments: what they show follows from physics, their own error, and how they are used; each has something that it
cannot find.
"""

import numpy as np
import pytest

from leitfaden_core.errors import LeitfadenError, UnknownName
from leitfaden_core.instruments import Observation, Vehicle, instruments, measure
from leitfaden_core.instruments.gas import brettschneider, dry_gas
from leitfaden_core.instruments.kinds.parts import parts_of
from leitfaden_core.instruments.kinds.scan import menu_of
from leitfaden_core.rigs import load_rig, rig_ids, variant_ids
from leitfaden_core.wiring.network import GROUND
from vehicles import car

pytestmark = pytest.mark.model


def use(which: str, vehicle: Vehicle, place: str, condition: str, **options: object) -> Observation:
    return measure(
        instruments.get(which), vehicle, place, condition, {name: str(value) for name, value in options.items()}
    )


def value(seen: Observation, label: str = "") -> float:
    found = next(entry.value for entry in seen.shown if label in entry.label)
    assert found is not None
    return found


def words(seen: Observation) -> str:
    return " | ".join(f"{entry.label} {entry.text}" for entry in seen.shown)


class TestEveryInstrument:
    @pytest.mark.parametrize("tool", list(instruments), ids=lambda tool: tool.id)
    def test_says_what_it_costs_and_where_it_goes(self, tool) -> None:
        assert tool.free_places or any(tool.places(load_rig(rig_id)) for rig_id in rig_ids())
        assert tool.minutes > 0 and tool.purpose

    def test_an_unknown_place_setting_or_condition_is_one_sentence(self) -> None:
        vehicle = car("R1")
        for tool, place, condition, options in (
            ("hose_clamp", "radiator hose", "hot_idle", {}),
            ("smoke_generator", "behind the throttle", "hot_idle", {}),
            ("multimeter", "map.signal", "koeo", {}),
            ("multimeter", "maf.signal", "koeo", {"dial": "AC"}),
            ("oscilloscope", "a,b,c,d,e", "koeo", {}),
            ("hand_pump", "MAP sensor", "koeo", {}),
            ("heat_source", "ECT sensor", "koeo", {"C": 400}),
            ("heat_source", "ECT sensor", "koeo", {"C": "warm"}),
        ):
            with pytest.raises(LeitfadenError) as error:
                use(tool, vehicle, place, condition, **options)
            assert "\n" not in str(error.value)

    def test_the_same_seed_shows_the_same_and_another_one_differs_within_the_error(self) -> None:
        vehicle = car("R1")
        first, again, other = (
            measure(instruments.get("multimeter"), vehicle, "maf.signal", "hot_idle", seed=seed) for seed in (1, 1, 2)
        )
        assert first == again and abs(value(first) - value(other)) < 0.05


class TestScanTool:
    def test_more_channels_make_it_slower(self) -> None:
        vehicle = car("R1")
        few, many = (
            use("scan_tool", vehicle, "rpm,maf", "hot_idle"),
            use("scan_tool", vehicle, "rpm,maf,ect,iat,ltft,load,spark,throttle,idle_air,injector_ms", "hot_idle"),
        )
        assert len(few.traces[0].values) == pytest.approx(5 * len(many.traces[0].values), rel=0.1)

    def test_a_slow_list_hides_the_swing(self) -> None:
        alone = use("scan_tool", car("R1"), "ho2s_b1s1_v", "hot_idle")
        crowd = use("scan_tool", car("R1"), "ho2s_b1s1_v,rpm,maf,ect,iat,ltft", "hot_idle", tool="basic")
        assert len(alone.traces[0].values) > 500 and len(crowd.traces[0].values) < 70
        assert any("switching" in note for note in crowd.notes)

    def test_a_recorder_keeps_what_surrounds_an_event(self) -> None:
        vehicle = car("R1", "connector_intermittent:circuit=maf_signal,gap_ms=400,rate_per_min=20")
        seen = use("scan_tool", vehicle, "maf,rpm", "hot_idle", trigger="maf<0.5")
        assert min(seen.traces[0].values) < 0.5 and seen.traces[0].seconds[-1] - seen.traces[0].seconds[0] < 5.1
        assert any(
            "not seen" in note for note in use("scan_tool", car("R1"), "maf,rpm", "hot_idle", trigger="maf<0.5").notes
        )
        with pytest.raises(LeitfadenError, match="trigger"):
            use("scan_tool", car("R1"), "maf,rpm", "hot_idle", trigger="when it stalls")

    def test_after_a_reset_the_short_trim_has_all_to_do(self) -> None:
        seen = use("actuator_test", car("R1", "maf_under_read:gain=0.85"), "reset learned trims", "hot_idle")
        before = float(seen.shown[0].text.split()[0])
        assert before > 15 and value(seen, "LTFT") < before - 6 and value(seen, "STFT") > 6

    def test_menus_have_gaps(self) -> None:
        rig = load_rig("R1")
        assert "stft" in menu_of(rig, "generic") and "stft" not in menu_of(rig, "enhanced")
        assert "maf_volts" in menu_of(rig, "enhanced") and "maf_volts" not in menu_of(rig, "generic")
        with pytest.raises(LeitfadenError, match="older than the standard"):
            use("scan_tool", car("R5"), "rpm", "hot_idle", menu="generic")

    def test_values_stand_on_their_display_steps(self) -> None:
        seen = use("scan_tool", car("R1"), "rpm", "hot_idle")
        assert all((4.0 * reading).is_integer() for reading in seen.traces[0].values)

    def test_a_basic_tool_shows_few_at_once(self) -> None:
        with pytest.raises(LeitfadenError, match="6 channels"):
            use("scan_tool", car("R1"), "rpm,maf,ect,iat,ltft,load,spark", "hot_idle", tool="basic")

    def test_codes_by_unplugging_are_marked(self) -> None:
        seen = use("codes", car("R1").with_plug_off("iat"), "control unit", "hot_idle")
        assert "P0113" in words(seen) and "unplugging" in words(seen)

    def test_clearing_without_a_baseline_warns(self) -> None:
        assert use("codes", car("R1"), "control unit", "hot_idle", action="clear").notes
        assert not use("codes", car("R1"), "control unit", "hot_idle", action="clear", baseline="saved").notes

    def test_a_cylinder_that_does_not_work_is_not_missed(self) -> None:
        vehicle = car("R1", "dead_cylinder:cylinder=2,cause=spark")
        assert value(use("actuator_test", vehicle, "injector of cylinder 2 off", "hot_idle"), "load") < 1.0
        assert value(use("actuator_test", vehicle, "injector of cylinder 3 off", "hot_idle"), "load") > 5.0

    def test_a_blocked_passage_moves_the_valve_and_nothing_else(self) -> None:
        blocked = use("actuator_test", car("R4", "egr_passage_blocked:share=1"), "EGR valve half open", "hot_idle")
        sound = use("actuator_test", car("R4"), "EGR valve half open", "hot_idle")
        assert value(blocked, "MAF") > 1.2 * value(sound, "MAF")

    @pytest.mark.parametrize(
        ("fault", "passes"),
        [
            ("wideband_shifted", True),
            ("wideband_slow", False),
            ("signal_open:circuit=wideband", False),
            ("ho2s_heater_open:sensor=wideband", False),
        ],
    )
    def test_the_self_check_fails_only_on_its_path(self, fault: str, passes: bool) -> None:
        assert ("passed" in words(use("actuator_test", car("R3", fault), "wideband self-check", "hot_idle"))) is passes


class TestMultimeter:
    def test_a_ground_that_beeps_and_shows_battery_voltage_drops_under_load(self) -> None:
        vehicle = car("R2", "ground_resistance:circuit=sensor_ground,ohms=20")
        assert "beeps" in words(use("multimeter", vehicle, "map.ground", "koeo", dial="continuity", key="off"))
        assert value(use("multimeter", vehicle, "battery plus/map.ground", "koeo")) > 12.0
        # Five volt sensors and thermistors return some 11 mA through 20 ohm.
        assert value(use("multimeter", vehicle, "map.ground", "koeo")) > 0.15

    def test_plugged_and_unplugged_differ(self) -> None:
        vehicle = car("R2")
        assert value(use("multimeter", vehicle, "ect.signal", "hot_idle")) < 0.7
        assert value(use("multimeter", vehicle.with_plug_off("ect"), "ect.signal", "hot_idle")) == pytest.approx(
            5.0, abs=0.03
        )

    def test_ohms_on_a_live_circuit_are_none(self) -> None:
        seen = use("multimeter", car("R2"), "map.supply/map.ground", "koeo", dial="ohm")
        assert "not a resistance" in words(seen) and "damaged" in seen.notes[0]
        dead = use("multimeter", car("R2"), "map.supply/map.ground", "koeo", dial="ohm", key="off")
        # Two sensors of 1 kilohm, the dead 5 V supply of 4.7 kilohm, two thermistors with their pull-ups of 2.2 + 3.05
        # kilohm, side by side.
        assert value(dead) == pytest.approx(1.0 / (2 / 1000 + 1 / 4700 + 2 / 5253), rel=0.02)

    def test_a_lead_in_the_ampere_jack_is_a_short(self) -> None:
        seen = use("multimeter", car("R2"), "battery plus/battery minus", "koeo", jack="A")
        assert "fuse" in seen.changes[0] and value(seen) == 0.0
        assert any(
            "reference" in note
            for note in use("multimeter", car("R2"), "map.supply/map.ground", "koeo", jack="A").notes
        )

    def test_a_divider_by_hand(self) -> None:
        # The thermistor at 20 °C has 3053 ohm: 5 V · 3053/(3053 + 2200).
        assert value(use("multimeter", car("R1"), "ect.signal", "koeo")) == pytest.approx(5.0 * 3053 / 5253, abs=0.06)

    def test_a_reading_is_within_the_meters_error_of_the_network(self) -> None:
        vehicle = car("R1")
        true = vehicle.network("hot_idle").volts("maf.supply", GROUND)
        assert value(use("multimeter", vehicle, "maf.supply", "hot_idle")) == pytest.approx(true, rel=0.01)

    def test_a_range_can_be_too_small(self) -> None:
        assert "OL" in words(use("multimeter", car("R1"), "battery plus", "hot_idle", range="4 V"))

    def test_minimum_and_maximum_catch_long_gaps_and_shrink_short_ones(self) -> None:
        long, short = (
            use(
                "multimeter",
                car("R1", f"connector_intermittent:circuit=ect,gap_ms={gap},rate_per_min=40"),
                "unit.ect",
                "hot_idle",
                hold="min/max",
            )
            for gap in (400, 20)
        )
        assert value(long, "highest") > 4.5 and 1.0 < value(short, "highest") < 3.0

    def test_frequency_and_duty(self) -> None:
        assert value(use("multimeter", car("R1-HZ"), "maf.signal", "hot_idle", dial="Hz")) == pytest.approx(
            3900, rel=0.1
        )
        assert value(use("multimeter", car("R3"), "wideband.heater minus", "hot_idle", dial="duty")) > 50

    def test_currents_add(self) -> None:
        # Four coils of 14 ohm at 14.1 V.
        assert value(use("current_clamp", car("R5"), "common supply of the injectors", "hot_idle")) == pytest.approx(
            4 * 14.1 / 14, abs=0.1
        )
        assert (
            value(
                use(
                    "current_clamp",
                    car("R1", "ho2s_heater_open:sensor=b1s1"),
                    "heater of the front oxygen sensor",
                    "hot_idle",
                )
            )
            < 0.05
        )


class TestFindingAir:
    LEAK = "manifold_vacuum_leak:area_mm2=2"

    def test_smoke_shows_what_is_open_and_misses_what_only_vacuum_opens(self) -> None:
        assert "small vacuum hoses" in words(
            use("smoke_generator", car("R1", self.LEAK), "behind the throttle", "koeo")
        )
        servo = use("smoke_generator", car("R1", "brake_servo_leak"), "behind the throttle", "koeo")
        assert "none" in words(servo) and any("no proof" in note for note in servo.notes)
        assert "air duct" in words(
            use("smoke_generator", car("R1", "air_leak_before_throttle"), "before the throttle", "koeo")
        )
        assert "none" in words(
            use("smoke_generator", car("R1", "air_leak_before_throttle"), "behind the throttle", "koeo")
        )

    def test_open_outlets_smoke_on_a_sound_engine_too(self) -> None:
        assert "breather" in words(use("smoke_generator", car("R1"), "behind the throttle", "koeo", outlets="open"))

    def test_only_the_guilty_hose_brings_the_trim_back(self) -> None:
        right, other = (
            use("hose_clamp", car("R1", self.LEAK), place, "hot_idle") for place in ("small vacuum hoses", "purge hose")
        )
        # The learned memory adds what the leak had taken: without it the mixture is that much too rich at once.
        assert value(right, "clamped") < -8 and abs(value(right, "released")) < 2
        assert abs(value(other, "clamped") - value(other, "before")) < 1

    def test_a_clamp_on_a_sound_hose_changes_nothing(self) -> None:
        seen = use("hose_clamp", car("R1"), "brake servo hose", "hot_idle")
        assert abs(value(seen, "clamped") - value(seen, "before")) < 1

    def test_tracer_gas_finds_what_smoke_missed(self) -> None:
        assert "reacts" in words(use("tracer_gas", car("R1", "brake_servo_leak"), "brake servo hose", "hot_idle"))
        assert "no reaction" in words(use("tracer_gas", car("R1", "brake_servo_leak"), "breather hose", "hot_idle"))

    @pytest.mark.parametrize(
        ("tool", "place", "condition", "option"),
        [
            ("spray", "purge hose", "hot_idle", {"agent": "flammable"}),
            ("fuel_enrichment", "air duct", "hot_idle", {"agent": "flammable spray"}),
            ("road_test", "roller bench", "wot_pull", {"helper": "no"}),
        ],
    )
    def test_what_can_hurt_is_refused_with_the_reason(
        self, tool: str, place: str, condition: str, option: dict[str, str]
    ) -> None:
        seen = use(tool, car("R1"), place, condition, **option)
        assert seen.refused and not seen.shown


class TestStimulus:
    def test_ten_inches_on_a_sound_sensor(self) -> None:
        seen = use("hand_pump", car("R2"), "MAP sensor", "koeo", kPa=33.86)
        # 101.3 − 33.9 kPa on the sensor's line 5·(0.04 + 0.0085·p).
        assert value(seen, "signal") == pytest.approx(5 * (0.04 + 0.0085 * 67.4), abs=0.03) and "holds yes" in words(
            seen
        )

    def test_a_gain_fault_moves_and_fails(self) -> None:
        seen = use("hand_pump", car("R2", "wrong_part:part=map_sensor,gain=0.85"), "MAP sensor", "koeo", kPa=33.86)
        assert value(seen, "believed") == pytest.approx(0.85 * 67.4, abs=1.5)

    def test_a_torn_hose_does_not_hold_while_the_sensor_itself_does(self) -> None:
        vehicle = car("R2", "map_hose_leak:fraction=0.2")
        assert "no" in words(use("hand_pump", vehicle, "MAP sensor hose", "koeo"))
        assert "holds yes" in words(use("hand_pump", vehicle, "MAP sensor", "koeo"))

    def test_the_range_is_guarded(self) -> None:
        assert "beyond" in use("hand_pump", car("R2"), "MAP sensor", "koeo", kPa=100, mode="pressure").refused
        assert not use("hand_pump", car("R3"), "charge pressure sensor", "koeo", kPa=100, mode="pressure").refused

    def test_back_pressure_valves_on_the_bench(self) -> None:
        assert "cannot be built up" in words(use("hand_pump", car("R5-EGRP"), "EGR valve", "koeo", kPa=50))
        assert "holds" in words(use("hand_pump", car("R5-EGRN"), "EGR valve", "koeo", kPa=50))

    def test_smooth_and_wrong_everywhere(self) -> None:
        for celsius in (20, 80):
            seen = use("heat_source", car("R1", "ect_offset:K=-25"), "ECT sensor", "koeo", C=celsius)
            assert value(seen, "unplugged") > 1.8 * value(seen, "table")

    def test_forcing_the_mixture_shows_an_honest_witness(self) -> None:
        rich, lean = (
            use("fuel_enrichment", car("R1"), "air duct", "hot_idle"),
            use("air_bleed", car("R1"), "manifold", "hot_idle"),
        )
        assert value(rich, "v highest") > 0.75 and value(lean, "v lowest") < 0.2 and value(lean, "stft highest") > 10
        dead = use("fuel_enrichment", car("R1", "ho2s_stuck:volts=0.3"), "air duct", "hot_idle")
        assert value(dead, "v highest") == pytest.approx(0.3, abs=0.01)

    def test_air_on_a_speed_density_engine_is_seen_as_pressure(self) -> None:
        seen = use("air_bleed", car("R2"), "manifold", "hot_idle")
        assert abs(value(seen, "stft highest")) < 7 and "speed-density" in seen.notes[0]


class TestGauges:
    def test_a_gauge_reads_what_is_true(self) -> None:
        vehicle = car("R1", "fuel_pressure_low:factor=0.7")
        true = vehicle.run("hot_idle").statistic("hot_idle", "fuel_pressure", "mean")
        assert value(use("fuel_gauge", vehicle, "fuel rail", "hot_idle")) == pytest.approx(true, abs=15)

    def test_the_timing_light_needs_the_set_timing_step(self) -> None:
        vehicle = car("R5", "base_timing_off:deg=-8")
        assert value(use("timing_light", vehicle, "crankshaft pulley", "hot_idle", set_timing="done")) == pytest.approx(
            2, abs=1.5
        )
        assert any(
            "says nothing" in note for note in use("timing_light", vehicle, "crankshaft pulley", "hot_idle").notes
        )

    @pytest.mark.parametrize(
        ("lam", "co", "o2", "co2"),
        [
            (0.90, (3.0, 4.5), (0.0, 0.3), (12.0, 13.2)),
            (1.0, (0.3, 0.8), (0.2, 0.5), (14.4, 15.3)),
            (1.05, (0.0, 0.3), (1.0, 1.5), (13.8, 14.8)),
            (1.20, (0.0, 0.1), (3.4, 4.1), (12.0, 13.0)),
        ],
    )
    def test_gases_over_lambda(
        self, lam: float, co: tuple[float, float], o2: tuple[float, float], co2: tuple[float, float]
    ) -> None:
        """Heywood 1988, fig. 4-20 and 11-2: CO some percent when rich, oxygen when lean, CO2 highest near lambda 1."""
        gas = dry_gas(1.0 / lam)
        assert co[0] <= gas.co <= co[1] and o2[0] <= gas.o2 <= o2[1] and co2[0] <= gas.co2 <= co2[1]

    @pytest.mark.parametrize("lam", np.linspace(0.8, 1.4, 13))
    def test_lambda_comes_back_out_of_the_gases(self, lam: float) -> None:
        gas = dry_gas(1.0 / lam)
        assert brettschneider(gas.co, gas.co2, gas.o2, gas.hc_ppm) == pytest.approx(lam, abs=0.006)

    def test_misfire_sends_fuel_and_air_and_a_dead_injector_only_air(self) -> None:
        spark, fuel = (
            use("gas_analyser", car("R1", f"dead_cylinder:cylinder=1,cause={cause}"), "before the catalyst", "hot_idle")
            for cause in ("spark", "fuel")
        )
        assert (
            value(spark, "HC") > 2000 and value(spark, "O2") > 3 and value(fuel, "HC") < 400 and value(fuel, "O2") > 3
        )


class TestOscilloscope:
    def test_time_base_decides_what_is_seen(self) -> None:
        short, long = (
            use("oscilloscope", car("R1"), "ho2s_b1s1_pin_v", "hot_idle", ms_per_div=base).traces[0].values
            for base in (1, 500)
        )
        assert max(short) - min(short) < 0.1 < 0.6 < max(long) - min(long)

    def test_intake_pulses_come_at_firing_frequency(self) -> None:
        vehicle = car("R1")
        trace = use("oscilloscope", vehicle, "maf_volts", "wot_pull", ms_per_div=20, volts_per_div=1).traces[0]
        signal = np.array(trace.values) - np.mean(trace.values)
        spectrum = np.abs(np.fft.rfft(signal * np.hanning(len(signal))))
        hertz = np.fft.rfftfreq(len(signal), trace.seconds[1] - trace.seconds[0])
        run = vehicle.run("wot_pull")
        speed = float(run.lanes["rpm"][int((run.script.span("wot_pull")[0] + 0.1) * 100)])
        # Four cylinders, every second turn: two a turn.
        assert hertz[10:][np.argmax(spectrum[10:])] == pytest.approx(speed / 30.0, rel=0.1)

    def test_the_burn_off_pulse_is_there_or_not(self) -> None:
        sound, dead = (
            use(
                "oscilloscope",
                car("R5", *faults),
                "maf_volts",
                "wot_pull",
                after_key_off="yes",
                ms_per_div=800,
                volts_per_div=1,
            )
            for faults in ((), ("maf_burnoff_inoperative",))
        )
        assert max(sound.traces[0].values) > 4.4 > 3.0 > max(dead.traces[0].values[400:])

    def test_injector_current_is_that_of_a_coil(self) -> None:
        trace = use("oscilloscope", car("R1"), "injector current", "no_load_2500", ms_per_div=10).traces[0]
        assert max(trace.values) == pytest.approx(14.1 / 14.0, rel=0.1) and min(trace.values) == 0.0

    def test_a_trigger_that_never_comes_says_where_the_signal_lies(self) -> None:
        with pytest.raises(LeitfadenError, match="lies between"):
            use("oscilloscope", car("R1"), "ho2s_b1s1_pin_v", "hot_idle", trigger=2.0)

    def test_heater_drive_tells_open_from_short(self) -> None:
        open_, short, sound = (
            use("oscilloscope", car("R1", *faults), "heater control", "hot_idle", ms_per_div=50, volts_per_div=5)
            .traces[0]
            .values
            for faults in (("ho2s_heater_open:sensor=b1s1",), ("signal_short_to_battery:circuit=ho2s_b1s1_heater",), ())
        )
        assert max(open_) < 0.1 and min(short) > 13 and min(sound) < 1 and max(sound) > 13


class TestPartsAndEyes:
    def test_a_good_part_cures_and_a_bad_new_one_does_not(self) -> None:
        vehicle = car("R1", "maf_under_read:gain=0.75")
        good, bad = (
            use("known_good_part", vehicle, "airflow meter", "cruise_80", quality=quality)
            for quality in ("known good", "new but bad")
        )
        assert "maf" in good.shown[0].text and "maf" not in good.shown[1].text.split(", ")
        assert "maf" in bad.shown[1].text.split(", ")

    def test_the_wrong_part_changes_nothing(self) -> None:
        seen = use("known_good_part", car("R1", "maf_under_read:gain=0.75"), "front oxygen sensor", "cruise_80")
        assert seen.shown[0].text == seen.shown[1].text

    def test_every_car_has_something_to_look_at_that_means_nothing(self) -> None:
        oddities = sum(
            len(use("inspection", Vehicle(load_rig("R1"), (), seed), place, "koeo").shown[0].text) > 20
            for seed in range(4)
            for place in ("plugs and cables", "fuel")
        )
        assert 2 <= oddities <= 8

    def test_a_trace_is_seen_only_at_its_place(self) -> None:
        vehicle = car("R1", "maf_dirty")
        assert "grey film" in words(use("inspection", vehicle, "air filter and duct", "koeo"))
        assert "grey film" not in words(use("inspection", vehicle, "fuel", "koeo"))

    def test_a_key_that_is_on_for_long_empties_the_battery(self) -> None:
        assert value(use("battery_charger", car("R1"), "battery", "koeo", charger="off", minutes=120)) < 12.0
        assert value(use("battery_charger", car("R1"), "battery", "koeo", charger="on", minutes=120)) > 12.4

    def test_every_part_is_named_whether_or_not_it_is_bad(self) -> None:
        for rig_id in (*rig_ids(), *variant_ids()):
            assert len(parts_of(load_rig(rig_id))) > 8
        with pytest.raises(UnknownName):
            use("known_good_part", car("R6"), "airflow meter", "hot_idle")

    def test_the_supply_sags_after_twenty_minutes_of_key_on_and_less_with_a_charger(self) -> None:
        off = use("battery_charger", car("R1"), "battery", "koeo", charger="off", minutes=40)
        # By hand: 14 A for 40 min are 9.3 of 60 Ah, so 0.64 left; 11.7 + 0.64 − 14·0.0104·(1.5 − 0.32) = 12.17 V.
        assert value(off) == pytest.approx(12.17, abs=0.03)
        assert use("battery_charger", car("R1"), "battery", "koeo", charger="off", minutes=120).notes

    def test_a_battery_that_was_driven_empty_cranks_slower(self) -> None:
        def cranking(*faults: str) -> float:
            return car("R1", *faults).run("crank").statistic("crank", "rpm", "mean")

        assert cranking("charging_lost:minutes=80") < cranking("charging_lost:minutes=20") < cranking()


class TestAtThePlug:
    def test_the_reference_returns_with_the_guilty_sensor_and_with_no_other(self) -> None:
        vehicle = car("R3", "reference_pulled_down:volts=2.5,sensor=charge_signal")

        def reference(*unplugged: str) -> float:
            return vehicle.with_plug_off(*unplugged).network("koeo").volts("reference", GROUND)

        assert reference() == pytest.approx(2.5, abs=0.1)
        assert reference("map_signal") == pytest.approx(2.5, abs=0.15)
        assert reference("charge_signal") == pytest.approx(5.0, abs=0.1)

    def test_a_weak_control_unit_stays_weak_with_all_plugs_off(self) -> None:
        vehicle = car("R3", "control_unit_reference_weak:volts=4")
        plugs = ("map_signal", "charge_signal", "ambient_signal", "tp_signal", "app_signal")
        assert vehicle.with_plug_off(*plugs).network("koeo").volts("reference", GROUND) < 4.5

    def test_one_coil_with_shorted_turns_stands_out_under_the_clamp(self) -> None:
        place = "common supply of the injectors"
        # Batch-fired bank of four at 14 ohm: 4 · 13.9/14 A; one at 4 ohm adds 13.9 · (1/4 − 1/14).
        sound, shorted = (
            use("current_clamp", car("R5", *fault), place, "hot_idle")
            for fault in ((), ("injector_coil_shorted:ohms=4",))
        )
        assert value(shorted) - value(sound) == pytest.approx(13.9 * (1 / 4 - 1 / 14), rel=0.08)

    def test_a_dead_spot_passes_two_points_and_shows_on_the_way(self) -> None:
        vehicle = car("R1", "ect_dead_spot:at_C=50,width_K=8")
        seen = {c: value(use("heat_source", vehicle, "ECT sensor", "koeo", C=c)) for c in (20, 50, 80)}
        sound = {c: value(use("heat_source", car("R1"), "ECT sensor", "koeo", C=c)) for c in (20, 50, 80)}
        assert seen[20] == pytest.approx(sound[20], rel=0.02) and seen[80] == pytest.approx(sound[80], rel=0.02)
        assert abs(seen[50] - sound[50]) > 0.5 * abs(sound[50])


class TestHeldActuators:
    """What a tool holds is the command; stops, deposits and seized parts stay what they are."""

    def test_seized_vanes_do_not_move(self) -> None:
        seized = car("R4", "vgt_stuck:position_percent=100")
        shut, opened = (use("actuator_test", seized, f"vanes {way}", "hot_idle") for way in ("shut", "open"))
        assert value(shut, "MAF") == pytest.approx(value(opened, "MAF"), rel=0.02)
        sound = [use("actuator_test", car("R4"), f"vanes {way}", "hot_idle") for way in ("shut", "open")]
        assert value(sound[0], "Charge") > value(sound[1], "Charge") + 0.5

    def test_a_valve_before_a_blocked_passage_stands_half_open_and_the_engine_runs_on(self) -> None:
        blocked = use("actuator_test", car("R4", "egr_passage_blocked:share=1"), "EGR valve half open", "hot_idle")
        assert value(blocked, "EGR") == pytest.approx(50.0, abs=3.0)
        rough = use("actuator_test", car("R2-EGR", "egr_passage_blocked:share=1"), "EGR valve half open", "hot_idle")
        assert value(rough, "Engine speed") == pytest.approx(700.0, abs=60.0)

    @pytest.mark.parametrize("condition", ["cold_idle", "hot_idle"])
    def test_a_sound_wideband_sensor_passes_its_self_check(self, condition: str) -> None:
        assert "passed" in str(use("actuator_test", car("R3"), "wideband self-check", condition).shown)


class TestGasBehindTheCatalyst:
    def test_a_worn_catalyst_leaves_more_of_what_can_burn(self) -> None:
        sound, worn = (
            use("gas_analyser", car("R1", *f), "tailpipe", "cruise_80")
            for f in ((), ("catalyst_worn:storage_ratio=0.03",))
        )
        assert value(worn, "HC") > value(sound, "HC") and value(worn, "CO") >= value(sound, "CO")

    def test_the_analyser_feels_the_oxygen_that_the_store_gives(self) -> None:
        run = car("R1").run("hot_idle")
        rows = run.rows(run.script.span("hot_idle"))
        shown = value(use("gas_analyser", car("R1"), "tailpipe", "hot_idle"), "lambda")
        assert shown == pytest.approx(
            float(rows["lambda_true"].mean() * rows["lambda_rear"].mean() / rows["lambda_sensed"].mean()), abs=0.012
        )


class TestRelativeCompression:
    def test_the_starters_current_swings_with_each_compression(self) -> None:
        seen = use("oscilloscope", car("R1"), "starter current", "crank", ms_per_div=30)
        amps = np.array(seen.traces[0].values)
        assert np.ptp(amps) > 20.0 and amps.max() > 60.0

    def test_two_cylinders_pull_the_manifold_down_in_turn(self) -> None:
        """2.4 kPa before. In the manifold two cylinders give 8 to 16; the sensor's own lag leaves the more the
        slower.
        """
        seen = use("oscilloscope", car("R6"), "map_volts", "wot_pull", ms_per_div=20)
        swing = np.ptp(np.array(seen.traces[0].values)) / 5.0 / 0.0085
        assert 8.0 < swing < 18.0
