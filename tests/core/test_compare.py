"""What has changed between two versions of a lesson is told in words."""

from pathlib import Path
from typing import Any

import pytest
import yaml

from leitfaden_core.lessons import Lesson, compare, parse_lesson
from leitfaden_core.lessons.compare import field_name
from leitfaden_core.lessons.kinds import KINDS


@pytest.fixture
def document() -> dict[str, Any]:
    kept = Path(__file__).parents[2] / "server" / "demo" / "lesson.yaml"
    found: dict[str, Any] = yaml.load(kept.read_text(encoding="utf-8"), yaml.CSafeLoader)
    return found


def test_what_has_changed_tells_faults_and_readings_in_words(document: dict[str, Any]) -> None:
    leak = {"kind": "manifold_vacuum_leak", "params": {"area_mm2": 2.0}}
    wire = {"kind": "signal_open", "params": {"circuit": "ho2s_b1s1_heater"}}
    flow, coolant = (
        {"condition": "hot_idle", "channel": "maf"},
        {"condition": "cruise_80", "channel": "ect", "stat": "max"},
    )

    def version(faults: list[Any], or_else: list[Any], pool: list[Any]) -> Lesson:
        judge = {"kind": "judge", "id": "more", "title": "More", "count": 1, "pool": pool}
        return parse_lesson(document | {"faults": faults, "or_else": or_else, "stations": [judge]})

    found = compare(version([leak], [], [flow, coolant]), version([leak, wire], [[leak, wire]], [flow]))
    told = {entry.field: (entry.before, entry.after) for part in found for entry in part.fields}
    one, other = "Air leak behind the throttle (2 mm²)", "Wire interrupted (HO2S 1/1 heater)"
    first, last = "Hot idle: MAF, scan value, mean", "Cruise at 80 km/h: ECT, scan value, highest"
    assert told["faults"] == (one, f"{one}\n{other}")
    assert told["or_else"] == ("", f"{one} and {other}")
    assert told["pool"] == (f"{first}\n{last}", first)
    called = {entry.field: entry.called for part in found for entry in part.fields}
    assert called == {"faults": "what is wrong", "or_else": "or else wrong", "pool": "readings to draw from"}
    closed = compare(parse_lesson(document), parse_lesson(document | {"closed_book": True}))[0].fields
    assert [(entry.called, entry.before, entry.after) for entry in closed] == [("closed book", "no", "yes")]


def test_numbers_are_told_as_somebody_has_typed_them(document: dict[str, Any]) -> None:
    def version(tolerance: float) -> Lesson:
        measure = next(entry for entry in document["stations"] if entry["kind"] == "measure")
        return parse_lesson(document | {"stations": [measure | {"tolerance_percent": tolerance}]})

    (part,) = compare(version(12), version(7.5))
    assert [(entry.before, entry.after) for entry in part.fields] == [("12", "7.5")]


def test_every_field_of_lessons_and_stations_has_a_name() -> None:
    for document in (Lesson, *(kind.document for kind in KINDS.values())):
        for name in document.model_fields:
            told = field_name([document], name)
            assert told and "_" not in told, f"{document.__name__}.{name}"
