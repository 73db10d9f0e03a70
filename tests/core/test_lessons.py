"""Lessons: the document, views without keys, keys from the model, fairness, marking."""

import copy
import json
from pathlib import Path
from typing import Any, ClassVar

import numpy as np
import pytest
import yaml

from leitfaden_core.errors import BadDocument, MissingPart, UnknownName
from leitfaden_core.faults import ONSETS, fault_kinds
from leitfaden_core.faults.spec import Onset
from leitfaden_core.judge import SchoolRules
from leitfaden_core.lessons import (
    Lesson,
    check_lesson,
    mark_answer,
    mark_by_key,
    parse_answer,
    parse_lesson,
    publishing_problems,
    require_answer,
    right_answer,
    station_key,
    station_lanes,
    station_view,
)
from leitfaden_core.quantities import UnitSystem

pytestmark = pytest.mark.lessons

VERDICTS = ("good", "suspect", "faulty", "not_decidable")
SHOW, MEASURE, JUDGE, CONCLUDE = 1, 2, 3, 4


@pytest.fixture(scope="module")
def document() -> dict[str, Any]:
    return yaml.load(
        (Path(__file__).parents[2] / "server" / "demo" / "lesson.yaml").read_text(encoding="utf-8"), yaml.CSafeLoader
    )


@pytest.fixture(scope="module")
def lesson(document: dict[str, Any]) -> Lesson:
    return parse_lesson(document)


def changed(document: dict[str, Any], **parts: Any) -> dict[str, Any]:
    return copy.deepcopy(document) | parts


def key_parts(lesson: Lesson, index: int, seed: int, *how: Any, **more: Any) -> list[dict[str, Any]]:
    """Parts of a station's key as plain data."""
    return station_key(lesson, index, seed, *how, **more).model_dump()["parts"]


def given(lesson: Lesson, index: int, answer: dict[str, Any]) -> None:
    """A learner gives an answer at a station."""
    view = station_view(lesson, index, 5)
    require_answer(view, parse_answer(view.kind, answer))


class TestDocument:
    @pytest.mark.parametrize(
        ("parts", "sentence"),
        [
            ({"rig": "R9"}, "unknown rig 'R9'; known: R1"),
            ({"script": "sunday"}, "unknown script 'sunday'"),
            ({"faults": [{"kind": "gremlin"}]}, "unknown fault kind 'gremlin'"),
            (
                {"faults": [{"kind": "manifold_vacuum_leak", "params": {"area_mm2": 900}}]},
                "opening is 900 mm²; allowed is 0.1 to 200 mm²",
            ),
            ({"stations": []}, "lesson, stations: must not be empty"),
            ({"colour": "red"}, "lesson, colour: is not known here"),
            ({"schema_version": 2}, "lesson, schema_version"),
        ],
    )
    def test_a_wrong_part_is_named_with_what_would_be_right(
        self, document: dict[str, Any], parts: dict[str, Any], sentence: str
    ) -> None:
        with pytest.raises(BadDocument) as error:
            parse_lesson(changed(document, **parts))
        assert sentence in error.value.message
        assert "\n" not in error.value.message

    def test_places_inside_a_station_are_named(self, document: dict[str, Any]) -> None:
        bad = copy.deepcopy(document)
        bad["stations"][JUDGE]["pool"][0]["channel"] = "boost"
        with pytest.raises(BadDocument, match=r"lesson, stations\.3\.pool\.0: unknown channel 'boost'"):
            parse_lesson(bad)

    def test_two_stations_with_one_id_are_refused(self, document: dict[str, Any]) -> None:
        bad = copy.deepcopy(document)
        bad["stations"][1]["id"] = bad["stations"][0]["id"]
        with pytest.raises(BadDocument, match="two stations have the same id"):
            parse_lesson(bad)

    def test_swings_are_counted_of_oxygen_sensors_only(self, document: dict[str, Any]) -> None:
        bad = copy.deepcopy(document)
        bad["stations"][JUDGE]["pool"][0]["stat"] = "freq"
        with pytest.raises(BadDocument, match="does not switch"):
            parse_lesson(bad)

    def test_a_lesson_survives_storing(self, lesson: Lesson) -> None:
        assert parse_lesson(lesson.model_dump(mode="json")) == lesson


class TestCars:
    def test_every_learner_has_another_car_with_the_same_fault_in_a_near_size(self, lesson: Lesson) -> None:
        sizes = {seed: lesson.item(JUDGE, seed).car.faults[0].params["area_mm2"] for seed in (0, 3, 4, 5)}
        assert sizes[0] == 2.0
        assert len(set(sizes.values())) == 4
        assert all(1.7 <= float(size) <= 2.3 for size in sizes.values())

    def test_the_same_seed_gives_the_same_numbers(self, lesson: Lesson) -> None:
        assert station_view(lesson, JUDGE, 7) == station_view(lesson, JUDGE, 7)


class TestViews:
    @pytest.mark.parametrize("index", range(5))
    def test_hold_no_key(self, lesson: Lesson, index: int) -> None:
        seen = station_view(lesson, index, 3).model_dump_json(exclude={"text", "title", "drawing"})
        for secret in ("verdict", "explains", "true_cause", "from_faulty", "area_mm2", "reason", "band"):
            assert secret not in seen

    def test_of_a_measure_station_leave_the_value_out(self, lesson: Lesson) -> None:
        assert station_view(lesson, MEASURE, 3).readings[0].value is None

    def test_offer_causes_in_another_order_with_ids_that_tell_nothing(self, lesson: Lesson) -> None:
        orders = {tuple(cause.label for cause in station_view(lesson, CONCLUDE, seed).causes) for seed in range(1, 9)}
        assert len(orders) > 3
        assert [cause.id for cause in station_view(lesson, CONCLUDE, 5).causes] == ["0", "1", "2", "3", "4"]


class TestKeys:
    def test_of_the_measure_station_is_the_cars_own_value(self, lesson: Lesson) -> None:
        part = key_parts(lesson, MEASURE, 3)[0]
        assert part["value"] == pytest.approx(
            lesson.item(JUDGE, 3).car.run.statistic("hot_idle", "total_trim", "mean"), abs=0.4
        )
        assert part["verdict"] == "faulty"

    @pytest.mark.parametrize("seed", [0, 3, 12, 117, 204])
    def test_of_the_judge_station_are_one_verdict_for_each_reading(self, lesson: Lesson, seed: int) -> None:
        verdicts = [part["verdict"] for part in key_parts(lesson, JUDGE, seed)]
        assert len(verdicts) == 6
        assert "good" in verdicts and {"suspect", "faulty"} & set(verdicts)

    @pytest.mark.parametrize("seed", [0, 3, 117])
    def test_only_the_built_in_cause_explains_all_readings(self, lesson: Lesson, seed: int) -> None:
        parts = key_parts(lesson, CONCLUDE, seed)
        assert [part["label"] for part in parts if part["explains"]] == ["Air leak behind the throttle"]
        assert all(part["explains"] == part["true_cause"] for part in parts)
        ruled_out = next(part for part in parts if part["label"] == "Fuel pressure low")
        assert ruled_out["reason"].startswith("does not fit:")


LEARNERS = range(1, 41)


def drawn_for_all(document: dict[str, Any], count: int) -> list[list[dict[str, Any]]]:
    """The keys of the judge station with so many readings, for forty learners on one car."""
    stations = copy.deepcopy(document["stations"])
    stations[JUDGE] |= {"count": count, "vehicle": {"individual": 5}}
    lesson = parse_lesson(changed(document, stations=stations))
    return [key_parts(lesson, JUDGE, seed) for seed in LEARNERS]


class TestTheDraw:
    """Who counts verdicts instead of reading values gains little by it."""

    @pytest.mark.parametrize("count", [1, 2])
    def test_no_single_word_is_right_for_everybody(self, document: dict[str, Any], count: int) -> None:
        keys = drawn_for_all(document, count)
        for word in VERDICTS:
            right = [all(part["verdict"] == word for part in parts) for parts in keys]
            assert sum(right) <= 0.65 * len(keys), word
        off = [sum(part["verdict"] in {"suspect", "faulty"} for part in parts) for parts in keys]
        assert set(off) == set(range(count + 1))

    def test_the_number_of_readings_that_are_off_cannot_be_foretold(self, document: dict[str, Any]) -> None:
        keys = drawn_for_all(document, 6)
        off = [sum(part["verdict"] in {"suspect", "faulty"} for part in parts) for parts in keys]
        assert min(off) >= 1 and max(off) <= 5 and len(set(off)) >= 4
        assert all(any(part["verdict"] == "good" for part in parts) for parts in keys)

    def test_one_place_is_good_for_one_learner_and_off_for_another(self, document: dict[str, Any]) -> None:
        seen: dict[tuple[str, str], set[bool]] = {}
        for parts in drawn_for_all(document, 6):
            for part in parts:
                place = (part["condition"], part["channel"])
                seen.setdefault(place, set()).add(part["verdict"] == "good")
        assert sum(len(answers) == 2 for answers in seen.values()) >= 2

    @pytest.mark.parametrize("seed", [3, 12, 117])
    def test_sound_readings_are_not_those_of_the_twin_on_the_lanes(self, lesson: Lesson, seed: int) -> None:
        """To look a reading up in the lanes of the station before finds another engine."""
        shown, judged = lesson.item(SHOW, seed).car.good, lesson.item(JUDGE, seed).stranger
        pairs = [
            (shown.statistic(p.condition, p.channel, p.stat), judged.statistic(p.condition, p.channel, p.stat))
            for p in lesson.stations[JUDGE].pool
        ]
        same = [mine == twins for twins, mine in pairs if not np.isnan(twins)]
        assert same.count(True) <= 0.3 * len(same)


class TestFairness:
    def test_the_demo_lesson_is_fair(self, lesson: Lesson) -> None:
        assert check_lesson(lesson) == []

    def test_a_fault_that_cannot_be_seen_is_said(self, document: dict[str, Any]) -> None:
        hidden = changed(document, faults=[{"kind": "iat_offset", "params": {"K": 1.0}}])
        codes = {warning.code for warning in check_lesson(parse_lesson(hidden))}
        assert {"fault_not_visible", "cause_not_offered"} <= codes

    def test_two_causes_that_explain_the_same_readings_are_said(self, document: dict[str, Any]) -> None:
        alike = copy.deepcopy(document)
        alike["faults"] = [{"kind": "fuel_pressure_low", "params": {"factor": 0.75}}]
        alike["stations"][CONCLUDE]["readings"] = [
            {"condition": "hot_idle", "channel": "total_trim"},
            {"condition": "cruise_80", "channel": "total_trim"},
        ]
        warnings = check_lesson(parse_lesson(alike))
        assert "two_right" in {warning.code for warning in warnings}
        assert any(
            "Airflow meter reads too low" in warning.text and "Fuel pressure low" in warning.text
            for warning in warnings
        )


@pytest.fixture(scope="module")
def mixed(document: dict[str, Any]) -> Lesson:
    """The demo lesson with one station on another engine, and one on the same engine for all learners."""
    stations = copy.deepcopy(document["stations"])
    turbo = {"rig": "R3", "script": "over_the_pass", "faults": [], "individual": 9}
    stations[SHOW] |= {"channels": ["charge_pressure"], "focus": None, "vehicle": turbo}
    stations[MEASURE] |= {"vehicle": {"individual": 0}}
    return parse_lesson(changed(document, stations=stations))


class TestOwnVehicle:
    """A station may be about another engine than the lesson's."""

    def test_lanes_are_of_that_engine(self, mixed: Lesson) -> None:
        shown = station_lanes(mixed, SHOW, 3)
        assert shown is not None and (shown.run.rig.id, shown.run.script.id) == ("R3", "over_the_pass")
        assert station_view(mixed, SHOW, 3).rig == "R3" and station_view(mixed, JUDGE, 3).rig == "R1"
        assert [rig.id for rig in mixed.engines()] == ["R1", "R3"]

    def test_one_individual_is_the_same_for_all_learners(self, mixed: Lesson) -> None:
        assert mixed.item(SHOW, 3).car.run is mixed.item(SHOW, 4).car.run
        key = key_parts(mixed, MEASURE, 0)
        assert key_parts(mixed, MEASURE, 5) == key
        assert key_parts(mixed, JUDGE, 5) != key_parts(mixed, JUDGE, 6)

    def test_the_debrief_tells_what_was_wrong_with_it(self, mixed: Lesson) -> None:
        told = [mixed.own_vehicle(station) for station in mixed.stations]
        assert told[SHOW].endswith("Nothing was wrong") and told[SHOW].startswith("Ferry shuttle")
        assert "Air leak" in told[MEASURE]
        assert told[JUDGE] == ""

    def test_what_that_engine_has_not_is_refused(self, document: dict[str, Any]) -> None:
        bad = copy.deepcopy(document)
        bad["stations"][JUDGE]["vehicle"] = {"rig": "R6"}
        with pytest.raises(BadDocument, match="R6"):
            parse_lesson(bad)


@pytest.mark.parametrize("index", range(5))
def test_there_is_a_right_answer_to_every_station(lesson: Lesson, index: int) -> None:
    key = station_key(lesson, index, 7)
    parts = key.model_dump()["parts"]
    answer = right_answer(key.kind, parts)
    view = station_view(lesson, index, 7)
    require_answer(view, parse_answer(view.kind, answer))
    assert mark_answer(lesson, index, 7, answer).points == (1.0 if parts else None)


class TestMarking:
    def test_right_answers_get_everything(self, lesson: Lesson) -> None:
        verdicts = [part["verdict"] for part in key_parts(lesson, JUDGE, 3)]
        assert mark_answer(lesson, JUDGE, 3, {"verdicts": verdicts}).points == 1.0
        value = key_parts(lesson, MEASURE, 3)[0]["value"]
        assert mark_answer(lesson, MEASURE, 3, {"reading": f"{value:.1f} %"}).points == 1.0
        cause = next(part["id"] for part in key_parts(lesson, CONCLUDE, 3) if part["true_cause"])
        assert mark_answer(lesson, CONCLUDE, 3, {"cause": cause}).points == 1.0

    def test_a_right_value_in_another_unit_counts(self, lesson: Lesson) -> None:
        value = key_parts(lesson, MEASURE, 3)[0]["value"]
        assert mark_answer(lesson, MEASURE, 3, {"reading": f"{128 + 1.28 * value:.0f} count"}).points == 1.0

    def test_a_wrong_value_gets_nothing_and_the_reason_tells_by_how_much(self, lesson: Lesson) -> None:
        mark = mark_answer(lesson, MEASURE, 3, {"reading": "3 %"})
        assert mark.points == 0.0
        assert "Off by" in mark.parts[0]["reason"] and "accepted is within" in mark.parts[0]["reason"]

    def test_neighbouring_verdicts_get_half(self, lesson: Lesson) -> None:
        parts = key_parts(lesson, JUDGE, 3)
        swap = {"suspect": "faulty", "faulty": "suspect"}
        mark = mark_answer(
            lesson, JUDGE, 3, {"verdicts": [swap.get(part["verdict"], part["verdict"]) for part in parts]}
        )
        assert mark.points == pytest.approx(
            (len(parts) - 1.0) / len(parts)
        )  # two of six are off: half a point lost each

    def test_calling_a_faulty_reading_good_gets_nothing_for_it(self, lesson: Lesson) -> None:
        parts = key_parts(lesson, JUDGE, 3)
        mark = mark_answer(lesson, JUDGE, 3, {"verdicts": ["good"] * len(parts)})
        for part in mark.parts:
            assert part["points"] == {"good": 1.0, "suspect": 0.5}.get(part["verdict"], 0.0)

    def test_another_cause_that_explains_everything_counts_too(self, document: dict[str, Any]) -> None:
        alike = copy.deepcopy(document)
        alike["faults"] = [{"kind": "fuel_pressure_low", "params": {"factor": 0.75}}]
        alike["stations"][CONCLUDE]["readings"] = [
            {"condition": "hot_idle", "channel": "total_trim"},
            {"condition": "cruise_80", "channel": "total_trim"},
        ]
        ambiguous = parse_lesson(alike)
        meter = next(
            part["id"] for part in key_parts(ambiguous, CONCLUDE, 3) if part["label"] == "Airflow meter reads too low"
        )
        assert mark_answer(ambiguous, CONCLUDE, 3, {"cause": meter}).points == 1.0

    def test_the_schools_limits_change_key_and_mark_together(self, lesson: Lesson) -> None:
        lax = SchoolRules(trim_good=30.0, trim_investigate=40.0)
        trims = [
            part
            for part in key_parts(lesson, JUDGE, 3, lax)
            if part["channel"] == "total_trim" and part["condition"] != "wot_pull"
        ]
        assert all(part["verdict"] == "good" for part in trims)

    def test_reasons_speak_the_learners_units(self, lesson: Lesson) -> None:
        parts = key_parts(lesson, CONCLUDE, 3, units=UnitSystem.IMPERIAL)
        metric = key_parts(lesson, CONCLUDE, 3)
        assert [part["explains"] for part in parts] == [part["explains"] for part in metric]

    @pytest.mark.parametrize(
        ("index", "answer", "sentence"),
        [
            (MEASURE, {"reading": "24"}, "the unit is missing: 24 of what?"),
            (MEASURE, {}, "no reading was given"),
            (JUDGE, {"verdicts": ["good", None]}, "judge all 6 readings"),
            (JUDGE, {"verdicts": ["good"] * 5 + ["fine"]}, "a verdict is missing"),
            (CONCLUDE, {"cause": "17"}, "no cause was chosen"),
        ],
    )
    def test_an_answer_that_cannot_be_marked_is_refused(
        self, lesson: Lesson, index: int, answer: dict[str, Any], sentence: str
    ) -> None:
        with pytest.raises(MissingPart) as error:
            given(lesson, index, answer)
        assert sentence in error.value.message

    def test_a_foreign_unit_and_unknown_fields_are_refused(self, lesson: Lesson) -> None:
        with pytest.raises(UnknownName, match="unknown unit 'kPa' for fuel trim"):
            given(lesson, MEASURE, {"reading": "24 kPa"})
        with pytest.raises(BadDocument, match="answer, points"):
            parse_answer("measure", {"points": 1})


class TestKept:
    def test_a_kept_key_marks_like_the_model(self, lesson: Lesson) -> None:
        """What comes back from a database as JSON marks exactly as the key that the model would compute now."""
        for index, answer in (
            (MEASURE, {"reading": "24 %"}),
            (JUDGE, {"verdicts": ["good"] * 6}),
            (CONCLUDE, {"cause": "1"}),
        ):
            key = station_key(lesson, index, 5)
            kept = json.loads(key.model_dump_json())["parts"]
            assert mark_by_key(key.kind, kept, answer) == mark_answer(lesson, index, 5, answer)


class TestPublishing:
    def test_the_demo_lesson_can_be_given_to_anybody(self, lesson: Lesson) -> None:
        shares: list[float] = []
        assert publishing_problems(lesson, tell=lambda share, says: shares.append(share)) == []
        assert shares == sorted(shares) and shares[0] == 0.0 and shares[-1] < 1.0

    def test_a_reading_without_a_value_is_named(self, document: dict[str, Any]) -> None:
        show = {
            "kind": "measure",
            "id": "m",
            "title": "Nothing there",
            "reading": {"condition": "koeo", "channel": "lambda_true"},
        }
        found = publishing_problems(parse_lesson(changed(document, stations=[show])))
        assert [(problem.station, problem.code) for problem in found] == [("m", "not_defined")]


@pytest.mark.parametrize("number", ["on_s", "off_s", "above_C", "below_C", "above_percent", "for_s"])
def test_no_onset_leaves_the_range_of_the_catalogue(number: str) -> None:
    """A stretch of 1e-300 s hung a thread for ever: each number is held to its range, whatever the mode."""
    known = next(n for mode in ONSETS.values() for n in mode.numbers if n.id == number)
    for mode in ONSETS:
        for value in (known.low - 1e-3, known.high * 1.001 + 1e-3, 1e-300 if known.low > 0 else -1e300):
            with pytest.raises(ValueError, match="allowed is"):
                Onset.model_validate({"mode": mode, number: value})
    assert Onset.model_validate({"mode": "permanent", number: known.start})


class TestCausesThatDiffer:
    """The cause can vary from learner to learner."""

    METER: ClassVar[dict[str, Any]] = {"kind": "maf_under_read", "params": {"gain": 0.8}}
    LEAK: ClassVar[dict[str, Any]] = {"kind": "manifold_vacuum_leak", "params": {"area_mm2": 4.0}}

    def made(self, **station: Any) -> Lesson:
        asks = {
            "kind": "conclude",
            "id": "which",
            "title": "Which",
            "readings": [{"condition": where, "channel": "total_trim"} for where in ("hot_idle", "cruise_80")],
            "causes": [self.LEAK, self.METER, None],
        }
        lesson = {"title": "Which", "faults": [self.LEAK], "or_else": [[self.METER], []], "stations": [asks | station]}
        return parse_lesson(lesson)

    def test_every_cause_comes_up_about_as_often_and_the_trainer_has_the_first(self) -> None:
        lesson = self.made()
        kinds = [lesson.faults_of(seed)[0].kind if lesson.faults_of(seed) else "" for seed in range(1, 301)]
        assert set(kinds) == {"manifold_vacuum_leak", "maf_under_read", ""}
        assert all(70 <= kinds.count(kind) <= 130 for kind in set(kinds))
        assert lesson.faults_of(0) == lesson.faults

    def test_the_key_follows_the_learners_own_cause(self) -> None:
        lesson = self.made()
        for seed in (1, 2, 3, 4, 5):
            own = lesson.faults_of(seed)
            parts = station_key(lesson, 0, seed).model_dump()["parts"]
            built_in = next(part for part in parts if part["true_cause"])
            assert built_in["explains"]
            named = "Nothing is wrong" if not own else fault_kinds.get(own[0].kind).label
            assert built_in["label"] == named

    @pytest.mark.parametrize("seed", [0, 1, 2, 5])
    def test_no_size_of_a_cause_that_is_ruled_out_explains_the_readings(self, seed: int) -> None:
        """Though not all sizes are tried, what is called ruled out is: each size, offered alone, is ruled out too."""
        parts = station_key(self.made(), 0, seed).model_dump()["parts"]
        ruled_out = {part["label"] for part in parts if not part["explains"]}
        assert ruled_out
        for share in (0.4, 0.55, 0.7, 0.9, 1.2, 1.7):
            causes = [
                self.LEAK | {"params": {"area_mm2": 4.0 * share}},
                self.METER | {"params": {"gain": 1.0 - 0.2 * share}},
                None,
            ]
            again = station_key(self.made(causes=causes), 0, seed).model_dump()["parts"]
            assert not any(part["explains"] for part in again if part["label"] in ruled_out)

    def test_a_cause_that_is_not_offered_is_told_with_the_cause(self) -> None:
        found = check_lesson(self.made(causes=[self.LEAK, None]))
        texts = [warning.text for warning in found if warning.code == "cause_not_offered"]
        assert len(texts) == 1 and "Airflow meter" in texts[0]

    def test_a_cause_that_the_engine_cannot_have_is_refused(self) -> None:
        raw = self.made().model_dump(mode="json")
        raw["or_else"][0] = [{"kind": "wastegate_stuck", "params": {"opening_percent": 50.0}}]
        with pytest.raises(BadDocument, match="does not exist on rig R1"):
            parse_lesson(raw)


class TestTwoCausesTogether:
    """Two things are wrong at once: neither alone explains all readings."""

    METER: ClassVar[dict[str, Any]] = {"kind": "maf_under_read", "params": {"gain": 0.8}}
    COOLANT: ClassVar[dict[str, Any]] = {"kind": "ect_offset", "params": {"K": -25.0}}

    def made(self, *, offered: bool = True) -> Lesson:
        readings = [("hot_idle", "total_trim"), ("cruise_80", "total_trim"), ("hot_idle", "ect"), ("hot_idle", "maf")]
        asks = {
            "kind": "conclude",
            "id": "which",
            "title": "Which",
            "readings": [{"condition": where, "channel": name} for where, name in readings],
            "causes": [self.METER, self.COOLANT, None],
            "together": [[self.METER, self.COOLANT]] if offered else [],
        }
        return parse_lesson({"title": "Which", "faults": [self.METER, self.COOLANT], "stations": [asks]})

    @pytest.mark.parametrize("seed", [0, 3, 8])
    def test_only_both_explain_all(self, seed: int) -> None:
        parts = station_key(self.made(), 0, seed).model_dump()["parts"]
        assert [part["label"].count(" and ") for part in parts if part["explains"]] == [1]
        assert [part["explains"] for part in parts] == [part["true_cause"] for part in parts]
        alone = next(part for part in parts if part["label"] == "Airflow meter reads too low")
        assert mark_by_key("conclude", parts, {"cause": alone["id"]}).points == 0.0
        assert mark_by_key("conclude", parts, right_answer("conclude", parts)).points == 1.0

    def test_one_that_offers_neither_whole_is_warned_of_and_the_remedy_offers_it(self) -> None:
        found = {warning.code: warning for warning in check_lesson(self.made(offered=False))}
        assert "none_right" in found
        assert check_lesson(self.made()) == []
