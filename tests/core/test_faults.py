"""The catalogue, and what each fault does: directions from the trade, sizes from closed forms."""

import contextlib

import numpy as np
import pytest

from leitfaden_core.channels import Layer, channel
from leitfaden_core.errors import LeitfadenError, MissingPart, OutOfRange, UnknownName
from leitfaden_core.faults import (
    FaultSpec,
    Onset,
    describe_fault,
    describe_size,
    effects_on,
    fault_kinds,
    offered_on,
    parse_fault,
)
from leitfaden_core.faults.catalogue import Effect
from leitfaden_core.monitors import trouble_codes
from leitfaden_core.rigs import Rig, load_rig, rig_channels, rig_ids, variant_ids
from leitfaden_core.scripts import load_script
from leitfaden_core.simulate import Run, cached_run, simulate
from leitfaden_core.simulate.layout import HOOKS

pytestmark = pytest.mark.model

RIG = load_rig("R1")
STEADY = ("hot_idle", "no_load_2500", "cruise_80")


def rigs_for(kind, params) -> list[Rig]:
    """The rigs on which a fault can exist."""
    found = []
    for rig in map(load_rig, [*rig_ids(), *variant_ids()]):
        with contextlib.suppress(LeitfadenError):
            effects_on(FaultSpec(kind=kind.id, params=params), rig)
            found.append(rig)
    return found


@pytest.mark.parametrize("kind", list(fault_kinds), ids=lambda kind: kind.id)
class TestEveryKind:
    def test_acts_on_known_places_at_every_severity(self, kind) -> None:
        for size in range(3):
            params = {
                p.id: p.choices[min(size, len(p.choices) - 1)] if p.choices else p.steps[size]
                for p in kind.parameters
                if not p.optional
            }
            acts = [effects_on(FaultSpec(kind=kind.id, params=params), rig)[2] for rig in rigs_for(kind, params)]
            assert acts and all(effects and all(effect.hook in HOOKS for effect in effects) for effects in acts)

    def test_has_severity_steps_within_its_range(self, kind) -> None:
        for p in kind.parameters:
            assert p.choices or ((p.unit or p.optional) and all(p.low <= step <= p.high for step in p.steps))

    def test_is_described_with_repair_and_proof(self, kind) -> None:
        assert kind.repair and kind.proof and kind.meaning
        assert kind.label in describe_fault(FaultSpec(kind=kind.id))

    def test_changes_something_that_can_be_seen(self, kind) -> None:
        large = {p.id: p.choices[0] if p.choices else p.steps[-1] for p in kind.parameters if not p.optional}
        rig = rigs_for(kind, large)[-1 if kind.id == "maf_burnoff_inoperative" else 0]
        # A fan shows where an engine stands and gets warm.
        script = load_script("road_and_yard" if kind.id == "fan_weak" else "workshop_day")
        spec = FaultSpec(kind=kind.id, params=large)
        faulty, sound = cached_run(rig, script, [spec]), cached_run(rig, script, [])
        assert (
            trouble_codes(faulty)
            or any(
                abs(faulty.statistic(condition, name, stat) - sound.statistic(condition, name, stat))
                >= 2.0 * channel(name).step
                for name in rig_channels(rig)
                if channel(name).layer is not Layer.TRUTH
                for condition in script.conditions()
                for stat in ("mean", "min", "max")
            )
            or shown_after_key_off(faulty) != shown_after_key_off(sound)
        )


def shown_after_key_off(run: Run) -> dict[str, float]:
    """Highest voltage of each pin once the key is off, as a recorder shows it. [V]"""
    rows = run.lanes[run.lanes["powered"] < 0.5]
    pins = [name for name in rig_channels(run.rig) if channel(name).layer is Layer.PIN]
    return {name: round(float(rows[name].max()), 1) for name in pins}


def total(run: Run, condition: str) -> float:
    return run.statistic(condition, "total_trim", "mean")


def test_leak_behind_the_throttle_needs_leak_over_rest_and_fades_with_flow(run, healthy: Run) -> None:
    # Closed form: unmetered leak m_l of a total m needs m_l/(m − m_l) more fuel; choked, 2 mm² leak
    # 0.0404·0.7·2e-6·p/√T.
    leaky = run("manifold_vacuum_leak:area_mm2=2")
    leak = 0.0404 * 0.7 * 2e-6 * 101300 / np.sqrt(293.15) * 1000
    for condition in STEADY:
        air = leaky.statistic(condition, "maf_true", "mean")
        assert total(leaky, condition) - total(healthy, condition) == pytest.approx(100 * leak / (air - leak), abs=1.5)
    assert total(leaky, "hot_idle") > total(leaky, "no_load_2500") > total(leaky, "cruise_80")
    assert leaky.statistic("hot_idle", "idle_air", "mean") < healthy.statistic("hot_idle", "idle_air", "mean") - 3
    assert leaky.statistic("hot_idle", "lambda_true", "mean") == pytest.approx(1.0, abs=0.02)


@pytest.mark.parametrize("gain", [0.9, 0.8, 1.15])
def test_a_meter_wrong_by_one_factor_needs_its_inverse_at_every_flow(run, healthy: Run, gain: float) -> None:
    kind = "maf_under_read" if gain < 1 else "maf_over_read"
    faulty = run(f"{kind}:gain={gain}")
    for condition in STEADY:
        assert total(faulty, condition) - total(healthy, condition) == pytest.approx(100 * (1 / gain - 1), abs=2.0)


def test_a_dirty_element_errs_more_with_more_flow(run, healthy: Run) -> None:
    faulty = run("maf_dirty:gain_idle=0.98,gain_full=0.75")
    assert total(faulty, "hot_idle") < total(faulty, "cruise_80")
    assert faulty.statistic("wot_pull", "ve", "mean") < healthy.statistic("wot_pull", "ve", "mean") - 10


def test_low_fuel_pressure_follows_the_root(run, healthy: Run) -> None:
    faulty = run("fuel_pressure_low:factor=0.7")
    for condition in STEADY:
        assert total(faulty, condition) - total(healthy, condition) == pytest.approx(
            100 * (1 / np.sqrt(0.7) - 1), abs=2.0
        )
    assert faulty.statistic("hot_idle", "fuel_pressure", "mean") == pytest.approx(0.7 * 300 - (101.3 - 29.4), abs=3)


def test_weak_supply_is_hidden_at_idle_and_shows_under_load(run, healthy: Run) -> None:
    faulty = run("fuel_pressure_low:factor=1.0,factor_full=0.45")
    assert total(faulty, "hot_idle") == pytest.approx(total(healthy, "hot_idle"), abs=1.5)
    assert (
        faulty.statistic("wot_pull", "lambda_true", "mean") > healthy.statistic("wot_pull", "lambda_true", "mean") + 0.1
    )


def test_a_slow_sensor_swings_less_often_with_trims_unchanged(run, healthy: Run) -> None:
    slow = run("ho2s_slow:tau_s=0.6")
    for condition in ("hot_idle", "no_load_2500"):
        assert slow.statistic(condition, "ho2s_b1s1_v", "freq") < 0.75 * healthy.statistic(
            condition, "ho2s_b1s1_v", "freq"
        )
    assert total(slow, "hot_idle") == pytest.approx(total(healthy, "hot_idle"), abs=3)


def test_a_sensor_stuck_lean_drives_the_engine_truly_rich(run) -> None:
    stuck = run("ho2s_stuck:volts=0.1")
    assert total(stuck, "hot_idle") > 30
    assert stuck.statistic("hot_idle", "lambda_true", "mean") < 0.8
    assert stuck.statistic("hot_idle", "rpm", "mean") > 600


def test_a_sensor_stuck_rich_drives_it_lean(run) -> None:
    stuck = run("ho2s_stuck:volts=0.85")
    assert total(stuck, "cruise_80") < -20
    assert stuck.statistic("cruise_80", "lambda_true", "mean") > 1.2


def test_a_coolant_sensor_that_reads_cold_raises_the_idle(run, healthy: Run) -> None:
    cold = run("ect_offset:K=-30")
    assert cold.statistic("hot_idle", "ect", "mean") < healthy.statistic("hot_idle", "ect", "mean") - 20
    assert cold.statistic("hot_idle", "ect_true", "mean") == pytest.approx(
        healthy.statistic("hot_idle", "ect_true", "mean"), abs=3
    )
    assert cold.statistic("hot_idle", "rpm", "mean") > healthy.statistic("hot_idle", "rpm", "mean") + 60


def test_a_wrong_intake_temperature_hardly_touches_a_metered_engine(run, healthy: Run) -> None:
    warm = run("iat_offset:K=40")
    assert warm.statistic("koeo", "iat", "mean") == pytest.approx(60, abs=3)
    for condition in STEADY:
        assert total(warm, condition) == pytest.approx(total(healthy, condition), abs=1.5)


def test_an_open_meter_signal_is_replaced_by_a_model(run, healthy: Run) -> None:
    dead = run("signal_open:circuit=maf_signal")
    assert dead.statistic("hot_idle", "maf_volts", "max") < 0.05
    # The tool shows what the meter tells; the control unit goes on by throttle and speed.
    assert dead.statistic("hot_idle", "maf", "mean") == 0.0
    assert dead.statistic("hot_idle", "load", "mean") == pytest.approx(
        healthy.statistic("hot_idle", "load", "mean"), rel=0.25
    )
    assert dead.statistic("hot_idle", "rpm", "mean") == pytest.approx(720, abs=60)


def test_an_open_thermistor_reads_cold_volts_and_is_replaced(run) -> None:
    dead = run("signal_open:circuit=ect")
    assert dead.statistic("hot_idle", "ect_volts", "mean") > 4.9
    assert dead.statistic("hot_idle", "ect", "mean") > 60


def test_gaps_of_a_loose_contact_come_at_their_rate(run) -> None:
    loose = run("connector_intermittent:circuit=iat,gap_ms=150,rate_per_min=30")
    open_rows = loose.lanes["iat_volts"] > 4.8
    gaps = np.count_nonzero(np.diff(open_rows.astype(int)) == 1)
    minutes = loose.script.seconds / 60
    assert gaps == pytest.approx(30 * minutes, rel=0.35)
    assert np.count_nonzero(open_rows) * 0.01 == pytest.approx(gaps * 0.15, rel=0.25)


def test_a_worn_catalyst_lets_the_rear_sensor_follow(run, healthy: Run) -> None:
    worn = run("catalyst_worn:storage_ratio=0.03")
    front = worn.statistic("cruise_80", "ho2s_b1s1_v", "freq")
    assert worn.statistic("cruise_80", "ho2s_b1s2_v", "freq") == pytest.approx(front, rel=0.1)
    assert healthy.statistic("cruise_80", "ho2s_b1s2_v", "freq") < 0.1 * front
    assert worn.statistic("cruise_80", "ho2s_b1s2_v", "std") > 2 * healthy.statistic("cruise_80", "ho2s_b1s2_v", "std")


def test_a_restricted_exhaust_takes_flow_at_full_load_and_no_trim(run, healthy: Run) -> None:
    blocked = run("exhaust_restricted:dp_full_kPa=150")
    # Trapped residual by hand: filling goes with 1 + c − c·(p_ex/p_im)^(1/γ), with c = 1/9.5 and what the cylinder has
    # gained when the exhaust valve closes, at the back pressures that both runs show.
    pressures = [1.0 + r.statistic("wot_pull", "exhaust_backpressure", "mean") / 101.3 for r in (blocked, healthy)]
    filling = [1.0 + (1.0 - p ** (1 / 1.4)) * (1 / 9.5 + 0.04) for p in pressures]
    ratio = blocked.statistic("wot_pull", "maf", "mean") / healthy.statistic("wot_pull", "maf", "mean")
    assert ratio == pytest.approx(filling[0] / filling[1], abs=0.025)
    assert ratio < 0.95
    assert total(blocked, "cruise_80") == pytest.approx(total(healthy, "cruise_80"), abs=2)


def test_a_thermostat_that_stays_open_leaves_the_coolant_cold_and_its_sensor_honest(run, healthy: Run) -> None:
    cold = run("thermostat_stuck_open:opening_percent=100")
    assert cold.statistic("cruise_80", "ect_true", "mean") < healthy.statistic("cruise_80", "ect_true", "mean") - 8
    assert cold.statistic("cruise_80", "ect", "mean") == pytest.approx(
        cold.statistic("cruise_80", "ect_true", "mean"), abs=2.5
    )


def test_two_faults_act_together(run, healthy: Run) -> None:
    both = run("manifold_vacuum_leak:area_mm2=1", "maf_under_read:gain=0.95")
    leak, meter = run("manifold_vacuum_leak:area_mm2=1"), run("maf_under_read:gain=0.95")
    # Both lower the metered share: factors multiply, and the leak's share grows with what the meter misses.
    assert total(both, "cruise_80") > max(total(leak, "cruise_80"), total(meter, "cruise_80"))


def test_a_fault_that_is_there_only_when_hot_is_absent_when_cold() -> None:
    spec = FaultSpec(kind="iat_offset", params={"K": 40.0}, onset=Onset(mode="hot", above_C=70))
    run = simulate(RIG, load_script("workshop_day"), [spec], 0)
    assert run.statistic("koeo", "iat", "mean") == pytest.approx(20, abs=1)
    assert run.statistic("hot_idle", "iat", "mean") > 55


def test_bad_faults_are_refused_with_what_would_be_right() -> None:
    with pytest.raises(
        UnknownName, match=r"unknown fault kind 'maf_drift'; spelled alike: .*maf_dirty.* \(\d+ are known\)"
    ):
        parse_fault("maf_drift")
    with pytest.raises(
        UnknownName, match="unknown parameter 'size' of fault kind manifold_vacuum_leak; known: area_mm2"
    ):
        parse_fault("manifold_vacuum_leak:size=2")
    with pytest.raises(OutOfRange, match=r"opening is 400 mm²; allowed is 0.1 to 200 mm²"):
        parse_fault("manifold_vacuum_leak:area_mm2=400")
    with pytest.raises(LeitfadenError, match="must be a number in mm²"):
        parse_fault("manifold_vacuum_leak:area_mm2=big")
    with pytest.raises(LeitfadenError, match="write parameters as name=value"):
        parse_fault("manifold_vacuum_leak:2")
    with pytest.raises(MissingPart, match="onset 'hot' needs above_C"):
        FaultSpec(kind="iat_offset", onset=Onset(mode="hot")).checked()


class TestWords:
    @pytest.mark.parametrize("kind", list(fault_kinds), ids=lambda kind: kind.id)
    def test_every_choice_is_called_what_people_call_it(self, kind) -> None:
        for parameter in kind.parameters:
            for choice in parameter.choices:
                assert "_" not in parameter.said(choice) and "_" not in kind.named({parameter.id: choice})

    @pytest.mark.parametrize(
        ("text", "whole", "size"),
        [
            ("manifold_vacuum_leak:area_mm2=2", "Air leak behind the throttle (2 mm²)", "2 mm²"),
            ("ect_offset:K=-25", "Coolant temperature sensor reads wrong (−25 K)", "−25 K"),
            ("signal_open:circuit=ho2s_b1s1_heater", "Wire interrupted (HO2S 1/1 heater)", ""),
            (
                "pressure_offset:sensor=charge,kPa=-6",
                "Zero point of a pressure sensor shifted (charge pressure, −6 kPa)",
                "−6 kPa",
            ),
            ("purge_stuck_closed", "Purge valve does not open", ""),
            (
                "connector_intermittent:circuit=maf_signal,gap_ms=30,rate_per_min=6",
                "Connector with a loose contact (MAF signal, open for 30 ms, 6 times a minute)",
                "open for 30 ms, 6 times a minute",
            ),
            (
                "iat_dead_spot:at_C=-10,width_K=8",
                "Intake air temperature sensor with a dead spot (around −10 °C, over 8 K)",
                "around −10 °C, over 8 K",
            ),
        ],
    )
    def test_a_fault_is_told_by_name_choice_and_size_and_its_size_alone(self, text: str, whole: str, size: str) -> None:
        assert describe_fault(parse_fault(text)) == whole
        assert describe_size(parse_fault(text)) == size


class TestSizes:
    """A size says how far from right: at none of it nothing is wrong, and a learner's own size is that share of it."""

    #: What has a place or a state instead of a size.
    STATES = frozenset(
        {
            "connector_intermittent",
            "charging_lost",
            "dead_cylinder",
            "ho2s_stuck",
            "map_stuck",
            "vgt_stuck",
            "wastegate_stuck",
        }
    )

    @pytest.mark.parametrize("rig_id", rig_ids())
    def test_at_the_neutral_size_the_engine_is_sound(self, rig_id: str) -> None:
        rig = load_rig(rig_id)
        for kind_id, choices in offered_on(rig).items():
            kind = fault_kinds.get(kind_id)
            if kind_id in self.STATES or not any(p.neutral is not None for p in kind.parameters if not p.choices):
                continue
            values = FaultSpec(kind=kind_id, params={name: found[0] for name, found in choices.items()}).checked()[1]
            nothing = {
                p.id: p.neutral for p in kind.parameters if p.id in values and not p.choices and p.neutral is not None
            }
            hooks = _applied(kind.effects(values | nothing, rig))
            # A part of the cylinders at full flow, gas without fuel and a reference at its own voltage are sound too.
            hooks |= {"restricted_share": 0.0} if hooks["restricted_flow"] == 1.0 else {}
            hooks |= {"purge_fuel": -1.0} if hooks["purge_least"] == 0.0 else {}
            hooks |= {"reference_held": -1.0} if hooks["reference_held"] == 5.0 else {}
            hooks |= {f"{wire}_dead_at": 0.0 for wire in ("ect", "iat") if hooks[f"{wire}_dead_width"] == 0.0}
            assert hooks == pytest.approx(dict(HOOKS), abs=1e-9), kind_id

    @pytest.mark.parametrize(
        ("kind_id", "params", "share", "wanted"),
        [
            ("wideband_shifted", {"delta_lambda": 0.06}, 1.15, {"delta_lambda": 0.069}),
            ("wideband_shifted", {"delta_lambda": -0.06}, 0.85, {"delta_lambda": -0.051}),
            ("maf_under_read", {"gain": 0.8}, 1.15, {"gain": 0.77}),
            ("maf_under_read", {"gain": 0.31}, 2.0, {"gain": 0.3}),
            ("dead_cylinder", {"cylinder": 3, "cause": "spark"}, 1.15, {"cylinder": 3, "cause": "spark"}),
            ("reference_pulled_down", {"volts": 4.0}, 1.5, {"volts": 3.5}),
            (
                "wrong_part",
                {"part": "ect_sensor", "resistance_ratio": 0.5},
                2.0,
                {"part": "ect_sensor", "resistance_ratio": 0.25},
            ),
            ("boost_leak", {"area_mm2": 100.0}, 0.5, {"area_mm2": 50.0}),
        ],
    )
    def test_a_share_of_a_size_is_counted_from_where_nothing_is_wrong(self, kind_id, params, share, wanted) -> None:
        assert fault_kinds.get(kind_id).sized(params, share) == pytest.approx(wanted)


def _applied(effects: list[Effect]) -> dict[str, float]:
    hooks = dict(HOOKS)
    for effect in effects:
        join = {"set": lambda _old, new: new, "add": float.__add__, "multiply": float.__mul__, "max": max}[effect.op]
        hooks[effect.hook] = join(hooks[effect.hook], float(effect.value))
    return hooks
