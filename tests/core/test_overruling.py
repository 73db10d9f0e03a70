"""A trainer's word over the model's: what it changes, where it shows, what it may not be."""

from typing import Any

import pytest

from leitfaden_core.errors import BadDocument, UnknownName
from leitfaden_core.lessons import Lesson, mark_answer, parse_lesson, right_answer, station_key, station_rulings
from leitfaden_core.lessons.exchange import key_sheet
from leitfaden_core.lessons.kinds import KINDS
from leitfaden_core.quantities import UnitSystem
from station_lessons import STATIONS as ALL_STATIONS

pytestmark = pytest.mark.lessons

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
    "measure": {"reading": {"condition": "hot_idle", "channel": "maf"}, "faulty": True},
}
ALL = ALL_STATIONS | STATIONS
#: Kinds in which an override names another answer, a band apart.
ANOTHER_ANSWER = ("judge", "predict", "conclude", "separate", "own", "verify", "myth")


def lesson(kind: str, *overrides: dict[str, Any]) -> Lesson:
    station = {"kind": kind, "id": "one", "title": "One", **ALL[kind], "overrides": [o | WORDS for o in overrides]}
    return parse_lesson({"title": "A lesson", "faults": [LEAK], "stations": [station]})


def key(of: Lesson, seed: int = 5) -> list[dict[str, Any]]:
    parts: list[dict[str, Any]] = station_key(of, 0, seed).model_dump()["parts"]
    return parts


def opposite(ruling: Any) -> dict[str, Any]:
    """An override that says another than the model."""
    other = next((option for option in ruling.options if option != ruling.now), None)
    return {"part": ruling.part, "right": other} if other else {"part": ruling.part, "low": 90.0, "high": 99.0}


def told(part: dict[str, Any]) -> str:
    return part.get("reason", "") + part["overruled"]


@pytest.mark.parametrize("kind", [kind.id for kind in KINDS.values() if kind.marks])
def test_every_key_can_be_overruled_and_says_so_to_every_learner(kind: str) -> None:
    plain = lesson(kind)
    for seed in (5, 77):
        ruling = station_rulings(plain, 0, seed)[0]
        changed = [part for part in key(lesson(kind, opposite(ruling)), seed) if part["overruled"]]
        assert changed, "some part says it"
        for part in changed:
            assert "Our engines of that year idle so. Overruled by the trainer" in told(part)
            assert "own measurement, three vehicles" in told(part)


@pytest.mark.parametrize("kind", [kind.id for kind in KINDS.values() if kind.marks])
def test_a_reason_alone_can_be_another_and_changes_no_mark(kind: str) -> None:
    plain = lesson(kind)
    made = lesson(kind, {"part": station_rulings(plain, 0, 5)[0].part})
    before, after = key(plain), key(made)
    reasoned = [part for part in after if part["overruled"]]
    assert reasoned and "Our engines of that year idle so. Reason by the trainer" in told(reasoned[0])
    bare = [{n: v for n, v in part.items() if n not in ("reason", "overruled")} for part in before]
    assert bare == [{n: v for n, v in part.items() if n not in ("reason", "overruled")} for part in after]


@pytest.mark.parametrize("kind", [kind for kind in ANOTHER_ANSWER if kind != "myth"])
def test_it_changes_its_part_only(kind: str) -> None:
    plain = lesson(kind)
    ruling = station_rulings(plain, 0, 5)[0]
    made = lesson(kind, opposite(ruling))
    for seed in (5, 77):
        before, after = key(plain, seed), key(made, seed)
        changed = [k for k, (old, new) in enumerate(zip(before, after, strict=True)) if old != new]
        assert len(changed) == 1
        assert after[changed[0]]["overruled"] in after[changed[0]]["reason"]


@pytest.mark.parametrize("kind", ANOTHER_ANSWER)
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


def points(of: Lesson, answer: dict[str, Any]) -> float:
    return mark_answer(of, 0, 5, answer).points or 0.0


class TestTolerances:
    """What is so far off that the model refuses it is right where the trainer says so."""

    def wider(self, kind: str, right: str) -> tuple[Lesson, Lesson]:
        plain = lesson(kind)
        rulings = station_rulings(plain, 0, 5)
        return plain, lesson(kind, *({"part": ruling.part, "right": right} for ruling in rulings))

    def test_of_a_reading(self) -> None:
        plain, made = self.wider("measure", "double")
        part = key(plain)[0]
        off = {"kind": "measure", "reading": f"{part['value'] + 1.5 * part['tolerance']} {part['unit']}"}
        assert (points(plain, off), points(made, off)) == (0.0, 1.0)

    def test_of_readings_brought_back_from_a_running_engine(self) -> None:
        plain, made = self.wider("live", "double")
        typed = [f"{r['value'] + 1.5 * r['tolerance']} {r['unit']}" for r in key(plain)[0]["readings"]]
        off = {"kind": "live", "typed": typed}
        assert (points(plain, off), points(made, off)) == (0.0, 1.0)
        first = lesson("live", {"part": station_rulings(plain, 0, 5)[0].part, "right": "double"})
        assert points(first, off) == 0.5

    def test_of_a_sketch(self) -> None:
        plain, made = self.wider("sketch", "double")
        part = key(plain)[0]
        off = {"kind": "sketch", "drawn": [value + 1.5 * part["tolerance"] for value in part["right"]]}
        assert (points(plain, off), points(made, off)) == (0.0, 1.0)

    def test_of_a_calculation(self) -> None:
        plain, made = self.wider("calculate", "5")
        steps = {}
        for line in key(plain)[0]["lines"]:
            number, _, unit = line["shown"].partition(" ")
            steps[line["symbol"]] = f"{float(number) * 1.04:.6g} {unit}"
        off = {"kind": "calculate", "steps": steps}
        assert points(plain, off) < 1.0
        assert points(made, off) == 1.0

    def test_of_an_order(self) -> None:
        plain, made = self.wider("order", "60")
        part = key(plain)[0]
        dearer = next(order for order, cost in part["costs"].items() if 1.2 < cost / part["least"] < 1.6)
        off = {"kind": "order", "order": dearer.split()}
        assert (points(plain, off), points(made, off)) == (0.5, 1.0)


def test_another_value_can_be_right_at_a_place_too() -> None:
    plain = lesson("match")
    ruling = station_rulings(plain, 0, 5)[0]
    made = lesson("match", {"part": ruling.part, "right": "1"})
    parts = key(plain)
    crossed = {"kind": "match", "values": [parts[k]["ids"][0] for k in (1, 0, 2, 3)]}
    assert (points(plain, crossed), points(made, crossed)) == (0.5, 0.75)


def test_another_role_can_be_right_at_a_pin_too() -> None:
    plain = lesson("pins")
    ruling = next(r for r in station_rulings(plain, 0, 5) if r.options)
    role = next(iter(ruling.options))
    made = lesson("pins", {"part": ruling.part, "right": role})
    roles = right_answer("pins", key(plain))["roles"]
    place = next(k for k, part in enumerate(key(plain)) if part["right"] == ruling.label)
    said = {"kind": "pins", "roles": [role if k == place else own for k, own in enumerate(roles)]}
    assert points(plain, said) < 1.0
    assert points(made, said) == 1.0


def test_a_reading_that_tells_nothing_condemns_no_engine() -> None:
    plain = lesson("sheet")
    telling = {ruling.part for ruling in station_rulings(plain, 0, 5)}
    made = lesson("sheet", *({"part": part, "right": "passes"} for part in telling))
    assert "faulty" in {part["right"] for seed in range(5, 9) for part in key(plain, seed)}
    assert {part["right"] for seed in range(5, 9) for part in key(made, seed)} == {"sound"}


def test_what_could_hurt_somebody_cannot_be_made_right() -> None:
    plain = lesson("procedure")
    offered = {words for ruling in station_rulings(plain, 0, 5) for words in ruling.options.values()}
    hurting = {choice["text"] for part in key(plain) for choice in part["choices"] if choice["hurts"]}
    assert hurting and not hurting & offered
    ruling = station_rulings(plain, 0, 5)[0]
    other = next(name for name in ruling.options if name != ruling.now)
    made = lesson("procedure", {"part": ruling.part, "right": other})
    best = max(key(made)[0]["choices"], key=lambda choice: choice["worth"])
    assert best["text"] == ruling.options[other]


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


@pytest.mark.parametrize("kind", [kind.id for kind in KINDS.values() if kind.marks])
def test_every_printed_key_says_it(kind: str) -> None:
    ruling = station_rulings(lesson(kind), 0, 5)[0]
    assert "Overruled by the trainer" in str(key_sheet(lesson(kind, opposite(ruling)), 5, UnitSystem.METRIC))


def test_its_verdict_stands_on_the_printed_key() -> None:
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
