"""Rigs, scripts, registries and the compiled modules: shipped documents are sound, contradictions are refused."""

import re
from pathlib import Path

import pytest

import leitfaden_core
from leitfaden_core import compiled
from leitfaden_core.channels import CHANNELS, rounded
from leitfaden_core.errors import BadDocument, UnknownName
from leitfaden_core.faults import fault_kinds
from leitfaden_core.quantities import QUANTITIES
from leitfaden_core.rigs import load_rig, parse_rig, rig_ids
from leitfaden_core.scripts import CONDITIONS, load_script, parse_script, script_ids

ROOT = Path(leitfaden_core.__file__).parent
R1 = (ROOT / "rigs" / "data" / "R1.yaml").read_text(encoding="utf-8")
DAY = (ROOT / "scripts" / "data" / "workshop_day.yaml").read_text(encoding="utf-8")


@pytest.mark.parametrize("rig_id", rig_ids())
def test_shipped_rigs_name_known_channels(rig_id: str) -> None:
    for sensor in load_rig(rig_id).sensors:
        assert sensor.channels and all(name in CHANNELS for name in sensor.channels)


@pytest.mark.parametrize("script_id", script_ids())
def test_shipped_scripts_read_known_conditions_within_their_length(script_id: str) -> None:
    script = load_script(script_id)
    for condition in script.conditions():
        assert condition in CONDITIONS
        start, end = script.span(condition)
        assert 0 <= start < end <= script.seconds


def test_every_channel_has_a_known_quantity() -> None:
    assert all(channel.quantity in QUANTITIES and channel.step > 0 for channel in CHANNELS.values())


@pytest.mark.parametrize(
    ("old", "new", "sentence"),
    [
        ("displacement: 0.0016", "displacement: -1", "engine.displacement: must be "),
        ("displacement: 0.0016", "displacement: much", "engine.displacement: must be a number"),
        ("  inertia: 0.16\n", "", "engine.inertia: is missing"),
        (
            "cut_resume: 1250",
            "cut_resume: 1800",
            "control.cut_resume (1800 1/min) must lie below control.cut_above (1700 1/min)",
        ),
        ("idle_target: 720", "idle_target: 1400", "must lie below control.cut_resume"),
        ("meter_full_scale: 0.13", "meter_full_scale: 0.05", "meter_full_scale must not lie below"),
        ("  cylinders: 4", "  cylinders: 4\n  turbo: yes", "engine.turbo: is not known here"),
        ("fuelling: airflow_metered", "fuelling: by_guess", "fuelling"),
    ],
)
def test_a_contradictory_rig_is_refused_at_its_place(old: str, new: str, sentence: str) -> None:
    assert old in R1
    with pytest.raises(BadDocument) as error:
        parse_rig(R1.replace(old, new, 1))
    assert sentence in error.value.message


@pytest.mark.parametrize(
    ("old", "new", "sentence"),
    [
        ("condition: koeo", "condition: sunrise", "unknown condition 'sunrise'"),
        ("snap: true", "snap: true, pedal: 1", "give one of pedal, hold_speed, hold_load and snap"),
        ("roller: [0.83 cruise, 0.83 cruise], gear: road, ", "", "hold_load needs the roller bench"),
        ("span: [1, 6]", "span: [1, 60]", "the window ends after the segment"),
        ("span: [1, 6]", "spam: [1, 6]", "window.span: is missing"),
    ],
)
def test_a_contradictory_script_is_refused(old: str, new: str, sentence: str) -> None:
    assert old in DAY
    with pytest.raises(BadDocument) as error:
        parse_script(DAY.replace(old, new, 1))
    assert sentence in error.value.message


def test_damaged_yaml_gets_a_sentence() -> None:
    with pytest.raises(BadDocument, match="is not readable as YAML"):
        parse_rig("id: [R1", source="my rig")


def test_unknown_names_list_the_known_ones() -> None:
    with pytest.raises(UnknownName, match="known: R1"):
        load_rig("R0")
    with pytest.raises(
        UnknownName,
        match="known: after_the_hill, over_the_pass, road_and_yard, settle_memory, winter_morning, workshop_day",
    ):
        load_script("holiday")
    with pytest.raises(UnknownName, match="air_filter_restricted"):
        fault_kinds.get("nothing")


def test_a_fault_kind_cannot_be_registered_twice() -> None:
    with pytest.raises(ValueError, match="is registered twice"):
        fault_kinds.register(next(iter(fault_kinds)))


def test_values_are_rounded_to_whole_display_steps() -> None:
    assert rounded(24.3, 0.78) == pytest.approx(24.18)
    assert rounded(0.4521, 0.005) == pytest.approx(0.45)


def test_compiled_functions_live_where_their_cache_looks_for_changes() -> None:
    holders = {
        path.relative_to(ROOT).parts[0]
        for path in ROOT.rglob("*.py")
        if re.search(r"^@(compiled|compiled_as\(.*\)|inlined)$", path.read_text(encoding="utf-8"), re.MULTILINE)
    }
    assert holders == set(compiled._COMPILED)
