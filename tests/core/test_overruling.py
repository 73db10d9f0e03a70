"""A trainer's word over the model's: what it changes, where it shows, what it may not be."""

from typing import Any

import pytest

from leitfaden_core.errors import BadDocument, UnknownName
from leitfaden_core.lessons import Lesson, mark_answer, parse_lesson, right_answer, station_key, station_rulings
from leitfaden_core.lessons.exchange import key_sheet
from leitfaden_core.quantities import UnitSystem

LEAK = {"kind": "manifold_vacuum_leak", "params": {"area_mm2": 4.0}}
METER = {"kind": "maf_under_read", "params": {"gain": 0.8}}
WORDS = {"why": "Our engines of that year idle so", "source": "own measurement, three vehicles"}
STATIONS: dict[str, dict[str, Any]] = {
    "judge": {"pool": [{"condition": "hot_idle", "channel": "total_trim"}], "count": 1},
    "predict": {
        "readings": [{"condition": "hot_idle", "channel": name} for name in ("total_trim", "ect")],
    },
    "conclude": {
        "readings": [{"condition": where, "channel": "total_trim"} for where in ("hot_idle", "cruise_80")],
        "causes": [LEAK, METER, None],
    },
    "separate": {"causes": [LEAK, METER], "tests": ["scan.no_load_2500.trims", "look.fuel", "meter.grounds"]},
    "own": {"readings": [{"condition": "hot_idle", "channel": "maf"}], "error_percent": 1.0},
}


def lesson(kind: str, *overrides: dict[str, Any]) -> Lesson:
    station = {"kind": kind, "id": "one", "title": "One", **STATIONS[kind], "overrides": [o | WORDS for o in overrides]}
    return parse_lesson({"title": "A lesson", "faults": [LEAK], "stations": [station]})


def key(of: Lesson, seed: int = 5) -> list[dict[str, Any]]:
    parts: list[dict[str, Any]] = station_key(of, 0, seed).model_dump()["parts"]
    return parts


def opposite(ruling: Any) -> dict[str, Any]:
    """An override that says another than the model."""
    other = next((option for option in ruling.options if option != ruling.now), None)
    return {"part": ruling.part, "right": other} if other else {"part": ruling.part, "low": 90.0, "high": 99.0}


@pytest.mark.parametrize("kind", STATIONS)
def test_it_changes_its_part_only_for_every_learner_and_says_so(kind: str) -> None:
    plain = lesson(kind)
    ruling = station_rulings(plain, 0, 5)[0]
    made = lesson(kind, opposite(ruling))
    for seed in (5, 77):
        before, after = key(plain, seed), key(made, seed)
        changed = [k for k, (old, new) in enumerate(zip(before, after, strict=True)) if old != new]
        assert len(changed) == 1
        told = after[changed[0]]["reason"]
        assert "Our engines of that year idle so. Overruled by the trainer" in told
        assert "own measurement, three vehicles" in told
        assert after[changed[0]]["overruled"] in told


@pytest.mark.parametrize("kind", STATIONS)
def test_answers_are_marked_by_it(kind: str) -> None:
    plain = lesson(kind)
    by_the_model = right_answer(kind, key(plain))
    rulings = station_rulings(plain, 0, 5)
    assert mark_answer(plain, 0, 5, by_the_model).points == 1.0
    if kind == "conclude":
        built_in, other = (next(r for r in rulings if r.now == now) for now in ("explains", "ruled_out"))
        made = lesson(kind, opposite(built_in), opposite(other))
    else:
        made = lesson(kind, *(opposite(ruling) for ruling in rulings))
    assert (mark_answer(made, 0, 5, by_the_model).points or 0.0) < 1.0
    if kind != "own":  # what is right there depends on what was typed
        assert mark_answer(made, 0, 5, right_answer(kind, key(made))).points == 1.0


def test_a_band_of_ones_own_decides_by_the_learners_value() -> None:
    part = "hot_idle.total_trim.mean"
    wide, narrow = ({"part": part, "low": low, "high": high} for low, high in ((-90.0, 90.0), (-0.01, 0.0)))
    assert key(lesson("judge", wide))[0]["verdict"] == "good"
    judged = key(lesson("judge", narrow))[0]
    assert judged["verdict"] == "faulty"
    assert (judged["band_low"], judged["band_high"]) == (-0.01, 0.0)


def test_the_model_is_quoted_beside_it() -> None:
    of = lesson("judge", {"part": "hot_idle.total_trim.mean", "right": "not_decidable"})
    model = station_rulings(of, 0, 5)[0].now
    assert f"The model says: {model}" in key(of)[0]["reason"]


def test_it_stands_on_the_printed_key() -> None:
    of = lesson("judge", {"part": "hot_idle.total_trim.mean", "right": "not_decidable"})
    printed = str(key_sheet(of, 5, UnitSystem.METRIC))
    assert "Overruled by the trainer" in printed
    assert "not decidable here" in printed


def test_a_part_that_is_not_there_any_more_changes_nothing() -> None:
    assert key(lesson("judge", {"part": "cruise_80.maf.mean", "right": "good"})) == key(lesson("judge"))


@pytest.mark.parametrize(
    ("override", "sentence"),
    [
        ({"right": "good", "source": ""}, "source"),
        ({"right": "good", "why": ""}, "why"),
        ({}, "neither a verdict nor a band"),
        ({"low": 3.0, "high": 2.0}, "upper end lies below"),
    ],
)
def test_it_needs_a_reason_and_a_source(override: dict[str, Any], sentence: str) -> None:
    station = {"kind": "judge", "id": "one", "title": "One", **STATIONS["judge"]}
    laid = {"part": "hot_idle.total_trim.mean", **WORDS, **override}
    with pytest.raises(BadDocument, match=sentence):
        parse_lesson({"title": "A lesson", "stations": [station | {"overrides": [laid]}]})


def test_an_answer_that_the_part_cannot_be_is_refused_by_name() -> None:
    with pytest.raises(UnknownName, match="higher"):
        key(lesson("judge", {"part": "hot_idle.total_trim.mean", "right": "higher"}))
