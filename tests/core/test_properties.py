"""Whatever is broken, in whatever size and company: nature's bounds hold and every number stays a number."""

import os

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from leitfaden_core.channels import channel
from leitfaden_core.faults import parse_fault
from leitfaden_core.judge import judge_reading
from leitfaden_core.rigs import load_rig, rig_channels, rig_ids
from leitfaden_core.scripts import load_script
from leitfaden_core.simulate import simulate
from strategies import fault_sets

pytestmark = pytest.mark.model

DAY = load_script("workshop_day")
#: More with ./leitfaden test --long, where the slow ones run too.
EXAMPLES = 30 if os.environ.get("LEITFADEN_LONG") else 4
QUIET = settings(max_examples=EXAMPLES, suppress_health_check=[HealthCheck.too_slow, HealthCheck.data_too_large])


#: Volts that a display makes of lambda: no value where there is none of lambda.
VOLTS_OF_LAMBDA = {"lambda_volts_a", "lambda_volts_b", "equivalence"}


@pytest.mark.parametrize("rig_id", rig_ids())
@QUIET
@given(data=st.data())
def test_any_faults_at_once_keep_natures_bounds(rig_id: str, data: st.DataObject) -> None:
    rig = load_rig(rig_id)
    run = simulate(rig, DAY, data.draw(fault_sets(rig)), data.draw(st.integers(0, 50)))
    rows = run.lanes[run.lanes["powered"] > 0.5]
    for name in rig_channels(rig):
        if channel(name).quantity != "lambda" and name not in VOLTS_OF_LAMBDA:
            assert np.isfinite(rows[name]).all(), name
    # Naturally aspirated: never far above the surroundings; charged: not beyond what the compressor's tip speed can
    # give.
    assert rows["map_true"].min() > 2.0 and rows["map_true"].max() < (420.0 if "turbo" in rig.features else 108.0)
    assert rows["rpm_true"].min() >= 0.0 and rows["rpm_true"].max() < 9000.0
    assert rows["ect_true"].min() > 15.0 and rows["ect_true"].max() < (
        140.0 if "water_cooled" in rig.features else 260.0
    )
    assert rows["maf_true"].min() >= 0.0
    # Not defined where no fuel burns; an engine that never starts has no lambda at all.
    burning = rows["lambda_true"][np.isfinite(rows["lambda_true"])]
    assert (burning > 0.1).all()
    for pin in ("iat_volts", "ect_volts", "tp_volts"):
        assert rows[pin].min() > -0.05 and rows[pin].max() < 14.5
    # A zirconia cell gives at most about 1.1 V; beyond that only wires and a lifted ground can bring the pin, and never
    # above the battery.
    assert rows["ho2s_b1s1_pin_v"].max() < 15.6 and rows["ho2s_b1s1_pin_v"].min() > -1.2
    assert rows["ho2s_b1s1_v"].max() <= 1.275 and rows["ho2s_b1s1_v"].min() >= 0.0
    assert rows["vref_v"].max() < 5.01 and rows["vref_v"].min() >= 0.0
    assert rows["egr_true"].min() >= 0.0 and rows["egr_true"].max() <= 100.0
    assert abs(rows["stft"]).max() <= 25.01 and abs(rows["ltft"]).max() <= 30.01


@pytest.mark.parametrize("rig_id", rig_ids())
@QUIET
@given(data=st.data())
def test_any_reading_gets_a_verdict_with_a_reason(rig_id: str, data: st.DataObject) -> None:
    name = data.draw(st.sampled_from(rig_channels(load_rig(rig_id))))
    condition = data.draw(st.sampled_from(DAY.conditions()))
    verdict = judge_reading(load_rig(rig_id), condition, name, data.draw(st.floats(-1e4, 1e4)))
    assert verdict.reason and verdict.reason[-1] == "."


@QUIET
@given(gain=st.floats(0.76, 0.98), factor=st.floats(0.97, 0.995))
def test_a_lower_meter_never_lowers_the_trim_while_the_loop_can_follow(gain: float, factor: float) -> None:
    low, lower = (
        simulate(load_rig("R1"), DAY, [parse_fault(f"maf_under_read:gain={g}")], 0).statistic(
            "cruise_80", "total_trim", "mean"
        )
        for g in (gain, max(gain * factor, 0.5))
    )
    assert lower >= low - 0.8


@QUIET
@given(area=st.floats(0.2, 6.0))
def test_the_same_leak_trims_the_metered_engine_and_hardly_the_other(area: float) -> None:
    leak = [parse_fault(f"manifold_vacuum_leak:area_mm2={area}")]
    metered, counted = (
        simulate(load_rig(rig), DAY, leak, 0).statistic("no_load_2500", "total_trim", "mean") for rig in ("R1", "R2")
    )
    assert abs(counted) < 5
    assert metered >= counted - 1.5
