"""Training variants of the rigs: other meters, recirculation by five drives, two banks; and what each can have
wrong.
"""

import math

import numpy as np
import pytest

from leitfaden_core.errors import BadDocument, LeitfadenError
from leitfaden_core.faults import effects_on, parse_fault
from leitfaden_core.monitors import trouble_codes
from leitfaden_core.rigs import load_rig, parse_rig, rig_channels, variant_ids
from leitfaden_core.scripts import load_script
from leitfaden_core.sensors.airflow import meter_frequency, vane_flow, vane_voltage
from leitfaden_core.sensors.pressure import orifice_drop, orifice_mass_flow
from leitfaden_core.sensors.wideband import lambda_volts_falling, lambda_volts_rising
from leitfaden_core.simulate import Run, cached_run
from leitfaden_core.simulate.parts.recirculation import NEGATIVE, POSITIVE, bleed_share

pytestmark = pytest.mark.model

DAY = load_script("workshop_day")
STEADY = ("hot_idle", "no_load_2500", "cruise_80")


def drive(rig: str, *faults: str, individual: dict[str, float] | None = None) -> Run:
    return cached_run(load_rig(rig), DAY, [parse_fault(text) for text in faults], 0, individual)


def mean(run: Run, condition: str, channel: str) -> float:
    return run.statistic(condition, channel, "mean")


@pytest.mark.parametrize("rig_id", variant_ids())
class TestEveryVariant:
    def test_a_sound_one_needs_no_correction_and_sets_no_code(self, rig_id: str) -> None:
        run = drive(rig_id)
        assert all(abs(mean(run, condition, "total_trim")) < 4 for condition in STEADY)
        assert trouble_codes(run) == []

    def test_every_channel_of_its_sensors_is_recorded(self, rig_id: str) -> None:
        rig = load_rig(rig_id)
        shown = {name for sensor in rig.sensors for name in sensor.channels}
        assert shown <= set(rig_channels(rig))


class TestOtherMeters:
    def test_a_flap_answers_to_mass_over_the_root_of_density(self) -> None:
        cold, warm = (vane_voltage.py_func(0.02, 101.3e3, kelvin, 0.25, 0.13) for kelvin in (273.15, 313.15))
        assert warm > cold
        # A control unit that believes 20 °C makes the root of the density ratio too much of it.
        read = vane_flow.py_func(warm, 101.3e3, 293.15, 0.25, 0.13)
        assert read / 0.02 == pytest.approx(math.sqrt(313.15 / 293.15), rel=1e-6)

    @pytest.mark.parametrize("flow", [0.001, 0.01, 0.06, 0.12])
    def test_a_flap_is_read_back(self, flow: float) -> None:
        volts = vane_voltage.py_func(flow, 90e3, 300.0, 0.25, 0.13)
        assert vane_flow.py_func(volts, 90e3, 300.0, 0.25, 0.13) == pytest.approx(flow, rel=1e-9)

    def test_a_flap_meter_needs_the_intake_air_temperature_which_a_hot_film_does_not(self) -> None:
        fault = "iat_offset:K=40"
        flap, film = drive("R1-VANE", fault), drive("R1", fault)
        # Read 40 K too warm: the air is thought thinner by sqrt(293/333), so too little fuel is given and the trims add
        # it.
        wanted = 100.0 * (math.sqrt(333.0 / 293.0) - 1.0)
        change = mean(flap, "cruise_80", "total_trim") - mean(drive("R1-VANE"), "cruise_80", "total_trim")
        assert change == pytest.approx(wanted, abs=1.2)
        assert abs(mean(film, "cruise_80", "total_trim") - mean(drive("R1"), "cruise_80", "total_trim")) < 1.0

    def test_a_digital_meter_shows_its_flow_as_frequency_and_half_the_supply_to_a_voltmeter(self) -> None:
        assert meter_frequency.py_func(1.0) == 1500.0 and meter_frequency.py_func(4.7) == pytest.approx(11_860.0)
        run = drive("R1-HZ")
        assert mean(run, "hot_idle", "maf_volts") == mean(run, "wot_pull", "maf_volts") == pytest.approx(2.5)
        assert mean(run, "wot_pull", "maf_hz") > 2.0 * mean(run, "hot_idle", "maf_hz")
        broken = drive("R1-HZ", "signal_open:circuit=maf_signal")
        assert mean(broken, "hot_idle", "maf_hz") == 0.0 and "P0102" in trouble_codes(broken)

    def test_a_two_range_input_jumps_in_volts_and_not_in_degrees(self) -> None:
        rows = drive("R2-SWITCH").rows((0.0, 10_000.0))
        volts, kelvin = rows["ect_volts"].astype(float), rows["ect"].astype(float)
        jump = int(np.argmax(np.diff(volts)))
        assert volts[jump + 1] - volts[jump] > 0.8
        assert abs(kelvin[jump + 1] - kelvin[jump]) < 1.5 and 45 < kelvin[jump] < 60

    def test_a_changeover_valve_that_stays_on_the_barometer_looks_like_a_dead_sensor(self) -> None:
        sound = drive("R2-SWITCH")
        idling = sound.rows(sound.script.span("hot_idle"))
        sampled = idling[idling["map_volts"] > 4.3]
        # The pin shows the samples, what is believed leaves them out.
        assert len(sampled) > 10 and sampled["map"].max() < 42
        stuck = drive("R2-SWITCH", "changeover_stuck")
        assert stuck.statistic("crank", "map", "min") > 98
        with pytest.raises(LeitfadenError, match="changeover valve"):
            effects_on(parse_fault("changeover_stuck"), load_rig("R2"))


class TestRecirculation:
    def test_the_share_is_what_was_asked_for_by_two_ways_of_feedback(self) -> None:
        for rig_id in ("R2-EGR", "R2-EGRDP"):
            assert mean(drive(rig_id), "cruise_80", "egr_share_true") == pytest.approx(8.0, abs=1.0)
            assert mean(drive(rig_id), "hot_idle", "egr_share_true") == 0.0

    def test_it_raises_manifold_pressure_at_equal_torque_and_leaves_the_mixture(self) -> None:
        without, with_it = drive("R2"), drive("R2-EGR")
        assert mean(with_it, "cruise_80", "map_true") > mean(without, "cruise_80", "map_true") + 4
        assert mean(with_it, "cruise_80", "maf_true") == pytest.approx(mean(without, "cruise_80", "maf_true"), rel=0.05)

    def test_stuck_open_on_a_metered_engine_shakes_the_idle_and_leaves_the_trims(self) -> None:
        sound, stuck = drive("R5-EGRP"), drive("R5-EGRP", "egr_stuck_open:opening_percent=25")
        assert mean(stuck, "hot_idle", "map_true") > mean(sound, "hot_idle", "map_true") + 4
        assert abs(mean(stuck, "hot_idle", "total_trim") - mean(sound, "hot_idle", "total_trim")) < 2.5

    def test_the_transducers_differ_at_rest_and_agree_in_direction(self) -> None:
        # A hand pump with the engine off: the positive kind's bleed is open, the negative kind holds.
        assert bleed_share.py_func(POSITIVE, 0.0, 300.0, False) == 0.0
        assert bleed_share.py_func(NEGATIVE, 0.0, 300.0, False) == 1.0
        for rig_id in ("R5-EGRP", "R5-EGRN"):
            blocked = drive(rig_id, "exhaust_restricted:dp_full_kPa=60,place=catalyst")
            assert mean(blocked, "cruise_80", "egr_true") > mean(drive(rig_id), "cruise_80", "egr_true") + 20

    def test_without_vacuum_the_valve_stays_shut(self) -> None:
        assert mean(drive("R5-EGRV", "egr_vacuum_lost:share=1"), "cruise_80", "egr_share_true") == 0.0

    def test_the_drop_over_an_orifice_goes_with_the_square_of_the_flow(self) -> None:
        one, two = (orifice_drop.py_func(flow, 3e-5, 101e3, 800.0) for flow in (0.0006, 0.0012))
        assert two == pytest.approx(4.0 * one)
        assert orifice_mass_flow.py_func(two, 3e-5, 101e3, 800.0) == pytest.approx(0.0012)

    def test_crossed_hoses_pull_the_signal_below_its_rest_voltage_and_end_recirculation(self) -> None:
        sound, crossed = drive("R2-EGRDP"), drive("R2-EGRDP", "egr_dp_hoses:mode=swapped")
        assert mean(sound, "koeo", "egr_dp_volts") == pytest.approx(0.5, abs=0.02)
        assert mean(sound, "cruise_80", "egr_dp_volts") > 1.2
        assert crossed.lanes["egr_dp_volts"].min() < 0.1
        assert mean(crossed, "cruise_80", "egr_share_true") == 0.0 and "P0405" in trouble_codes(crossed)

    def test_hoses_that_are_off_show_no_drop(self) -> None:
        assert "P0401" in trouble_codes(drive("R2-EGRDP", "egr_dp_hoses:mode=off"))

    def test_a_document_whose_parts_do_not_fit_is_refused(self) -> None:
        import yaml

        document = load_rig("R2-EGR").model_dump()
        document["sensors"] = [sensor for sensor in document["sensors"] if sensor["id"] != "egr"]
        with pytest.raises(BadDocument, match="electric EGR valve"):
            parse_rig(yaml.safe_dump(document))


class TestTwoBanks:
    def test_a_dead_injector_is_felt_by_its_own_bank_alone(self) -> None:
        run = drive("R5-BANKS", "dead_cylinder:cause=fuel,cylinder=4")
        # Four cylinders breathe past this sensor and three burn: 4/3 of the fuel is asked for.
        assert mean(run, "hot_idle", "total_trim_2") == pytest.approx(100.0 / 3.0, abs=2.0)
        assert abs(mean(run, "hot_idle", "total_trim")) < 1.0
        codes = trouble_codes(run)
        assert "P0174" in codes and "P0171" not in codes

    def test_an_odd_cylinder_belongs_to_bank_1(self) -> None:
        run = drive("R5-BANKS", "dead_cylinder:cause=spark,cylinder=3")
        assert mean(run, "hot_idle", "total_trim") > 15 and abs(mean(run, "hot_idle", "total_trim_2")) < 1.0
        # Sensed lean, while what burns is rich.
        assert mean(run, "hot_idle", "lambda_bank_1") < 0.9 < mean(run, "hot_idle", "lambda_bank_2")

    def test_an_exhaust_leak_moves_one_bank_and_low_pressure_both(self) -> None:
        leak = drive("R5-BANKS", "exhaust_leak_before_sensor:area_mm2=5,bank=bank_2")
        assert mean(leak, "hot_idle", "total_trim_2") > 3 and abs(mean(leak, "hot_idle", "total_trim")) < 1
        pressure = drive("R5-BANKS", "fuel_pressure_low:factor=0.7")
        for trim in ("total_trim", "total_trim_2"):
            assert mean(pressure, "cruise_80", trim) == pytest.approx(19.5, abs=2.5)

    def test_a_broken_wire_leaves_its_bank_without_correction(self) -> None:
        run = drive("R5-BANKS", "signal_open:circuit=ho2s_b2s1_signal")
        assert mean(run, "cruise_80", "total_trim_2") == 0.0 and run.statistic("cruise_80", "ho2s_b1s1_v", "freq") > 1.0
        assert "P0154" in trouble_codes(run)

    def test_one_sensor_knows_no_second_bank(self) -> None:
        with pytest.raises(LeitfadenError, match="bank_1"):
            effects_on(parse_fault("injector_leaking:mg_s=10,bank=bank_2"), load_rig("R5"))


class TestPedalSparkAndHeater:
    def test_one_pedal_track_is_twice_the_other(self) -> None:
        rows = drive("R3").rows((0.0, 1e5))
        assert np.abs(rows["app_volts"] - 2.0 * rows["app2_volts"]).max() < 0.05

    def test_tracks_that_disagree_leave_the_engine_at_idle(self) -> None:
        run = drive("R3", "app_shifted:percent=8")
        assert "P2138" in trouble_codes(run)
        assert mean(run, "no_load_2500", "rpm") < 1300 and mean(run, "no_load_2500", "pedal_true") > 20

    def test_a_turned_distributor_is_seen_by_the_light_and_not_by_the_scan_tool(self) -> None:
        sound, late = drive("R5"), drive("R5", "base_timing_off:deg=-10")
        assert mean(late, "hot_idle", "spark") == pytest.approx(mean(sound, "hot_idle", "spark"), abs=0.5)
        assert mean(late, "hot_idle", "spark_true") == pytest.approx(mean(late, "hot_idle", "spark") - 10.0, abs=0.01)
        # More air for the same idle, less torque at full load, no trims.
        assert mean(late, "hot_idle", "maf") > 1.1 * mean(sound, "hot_idle", "maf")
        assert mean(late, "wot_pull", "torque_true") < 0.98 * mean(sound, "wot_pull", "torque_true")
        assert abs(mean(late, "hot_idle", "total_trim")) < 2

    def test_a_modulated_heater_rests_when_exhaust_heats(self) -> None:
        run = drive("R3")
        cold = run.rows(run.script.span("cold_idle"))["heater_duty"]
        assert cold.max() == 100.0
        assert mean(run, "wot_pull", "heater_duty") < mean(run, "hot_idle", "heater_duty") < 100.0

    @pytest.mark.parametrize(
        ("fault", "code"),
        [
            ("ho2s_heater_open:sensor=b1s1", "P0031"),
            ("signal_open:circuit=ho2s_b1s1_heater", "P0031"),
            ("signal_short_to_battery:circuit=ho2s_b1s1_heater", "P0032"),
            ("supply_resistance:circuit=ho2s_b1s1_heater,ohms=8", "P0135"),
            ("signal_short_to_battery:circuit=ho2s_b1s2_heater", "P0038"),
        ],
    )
    def test_a_heater_code_tells_what_its_driver_saw(self, fault: str, code: str) -> None:
        assert [
            found for found in trouble_codes(drive("R1", fault)) if found.startswith(("P003", "P0135", "P0141"))
        ] == [code]

    @pytest.mark.parametrize("lam", [0.8, 0.95, 1.05, 1.2])
    def test_two_displays_compute_other_volts_from_one_lambda(self, lam: float) -> None:
        rising, falling = lambda_volts_rising.py_func(lam), lambda_volts_falling.py_func(lam)
        assert (rising > 2.5) == (lam > 1.0) and (falling < 1.95) == (lam > 1.0)


class TestSwappedPins:
    def test_signal_and_ground_exchanged_read_high_and_are_found_at_the_plug(self) -> None:
        run = drive("R2", "pins_swapped:circuit=map_signal,pins=signal_and_ground")
        assert mean(run, "koeo", "map_volts") > 4.9 and "P0108" in trouble_codes(run)

    def test_reversed_supply_takes_the_shared_reference_along(self) -> None:
        run = drive("R3", "pins_swapped:circuit=charge_signal,pins=supply_and_ground")
        assert mean(run, "koeo", "vref_v") == pytest.approx(0.8, abs=0.05)
        assert {"P0642", "P0237"} <= set(trouble_codes(run))

    def test_a_thermistor_does_not_mind(self) -> None:
        with pytest.raises(LeitfadenError, match="circuit"):
            parse_fault("pins_swapped:circuit=ect,pins=signal_and_ground")


def test_atmosphere_stands_at_another_voltage_on_each_range() -> None:
    # The trade's figures at 100 kPa: about 4.5 V on 1 bar, 2.4 V on 2 bar, 1.7 V on 3 bar; these rigs stand at 101.3
    # kPa.
    for rig, volts in (("R2", 4.5), ("R2-2BAR", 2.4), ("R3", 1.7)):
        assert mean(drive(rig), "koeo", "map_volts") == pytest.approx(volts, abs=0.1)
        assert mean(drive(rig), "koeo", "map") == pytest.approx(101.3, abs=0.5)


class TestMeterWithPressureBeside:
    """A metered engine whose manifold pressure only checks (R1-MAP)."""

    def test_false_air_splits_meter_and_pressure_while_all_three_sensors_are_sound(self) -> None:
        codes = trouble_codes(drive("R1-MAP", "pcv_torn:area_mm2=8"))
        assert {"P0068", "P0171"} <= set(codes)
        assert not {"P0102", "P0103", "P0107", "P0108", "P0122", "P0123"} & set(codes)

    @pytest.mark.parametrize("fault", ["maf_under_read:gain=0.65", "map_stuck:kPa=101", "map_hose_leak:fraction=0.4"])
    def test_either_sensor_alone_splits_them_too(self, fault: str) -> None:
        assert "P0068" in trouble_codes(drive("R1-MAP", fault))

    def test_the_same_pressure_error_moves_a_speed_density_engine_and_not_this_one(self) -> None:
        fault = "pressure_offset:sensor=map,kPa=8"
        assert mean(drive("R2", fault), "hot_idle", "total_trim") < -12
        assert (
            abs(
                mean(drive("R1-MAP", fault), "hot_idle", "total_trim") - mean(drive("R1-MAP"), "hot_idle", "total_trim")
            )
            < 1
        )


class TestAirPump:
    def test_it_blows_while_cold_and_is_diverted_when_warm(self) -> None:
        run = drive("R5-AIR")
        assert mean(run, "cold_idle", "lambda_sensed") > 1.05 > mean(run, "cold_idle", "lambda_true")
        assert mean(run, "hot_idle", "secondary_air_true") == 0.0

    def test_undiverted_it_is_sensed_lean_and_makes_rich(self) -> None:
        run = drive("R5-AIR", "secondary_air_stuck_on:share=1")
        # The sensor is brought back to lambda 1, so the cylinders run at exhaust over exhaust plus air.
        air, exhaust = (
            mean(run, "hot_idle", "secondary_air_true"),
            mean(run, "hot_idle", "maf_true") * (1.0 + 1.0 / 14.7 / 0.83),
        )
        assert mean(run, "hot_idle", "lambda_true") == pytest.approx(exhaust / (exhaust + air), abs=0.02)
        assert mean(run, "hot_idle", "total_trim") > 15 > mean(run, "wot_pull", "ltft")


class TestPassageCheck:
    """The electric valve is opened for a moment in overrun (R2-EGR)."""

    def test_a_blocked_passage_is_found_by_pressure_and_a_stuck_valve_by_position_too(self) -> None:
        assert "P0401" in trouble_codes(drive("R2-EGR", "egr_passage_blocked:share=1"))
        assert {"P0401", "P0404"} <= set(trouble_codes(drive("R2-EGR", "egr_stuck_closed")))

    def test_other_air_does_not_set_it(self) -> None:
        assert "P0401" not in trouble_codes(drive("R2-EGR", "manifold_vacuum_leak:area_mm2=6"))
