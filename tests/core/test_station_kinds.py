"""Calculate, myth, predict, separate, order, verify, match, own bench,
reflect: what each asks, how it marks, what it refuses, and that it tells no key."""

import json
from typing import Any

import pytest

from leitfaden_core.atlas import myths
from leitfaden_core.errors import BadDocument, LeitfadenError
from leitfaden_core.lessons import (
    check_lesson,
    mark_answer,
    parse_answer,
    parse_lesson,
    require_answer,
    right_answer,
    station_key,
    station_view,
)
from leitfaden_core.lessons.kinds.procedure.pieces import pieces
from station_lessons import SEEDS, STATIONS, lesson

pytestmark = pytest.mark.lessons


@pytest.mark.parametrize("kind", STATIONS)
class TestEveryKind:
    @pytest.mark.parametrize("seed", SEEDS)
    def test_its_own_right_answer_gets_all_points(self, kind: str, seed: int) -> None:
        made = lesson(kind)
        view, key = station_view(made, 0, seed), station_key(made, 0, seed)
        answer = right_answer(key.kind, key.model_dump()["parts"])
        require_answer(view, parse_answer(kind, answer))
        assert mark_answer(made, 0, seed, answer).points == (None if kind == "reflect" else pytest.approx(1.0))

    def test_an_empty_answer_is_refused_with_a_sentence(self, kind: str) -> None:
        made = lesson(kind)
        with pytest.raises(LeitfadenError) as refused:
            require_answer(station_view(made, 0, 7), parse_answer(kind, {}))
        assert len(str(refused.value)) > 15

    def test_what_a_learner_gets_holds_nothing_of_the_key(self, kind: str) -> None:
        made = lesson(kind)
        view, key = station_view(made, 0, 7).model_dump(), station_key(made, 0, 7).model_dump()
        shown = json.dumps(view)
        for part in key["parts"]:
            assert not {
                "right",
                "way",
                "separates",
                "worth",
                "separation",
                "reason",
                "faulty_value",
                "meaning",
                "best",
                "costs",
            } & set(view)
            for line in part.get("lines", []):
                assert line["shown"] not in shown and line["numbers"] not in shown
            if part.get("reason") and kind != "myth":
                assert part["reason"] not in shown
        if kind == "myth":
            assert not any(part["reason"] in shown for part in key["parts"] if part["right"] == "false")

    def test_the_same_seed_gives_the_same_station(self, kind: str) -> None:
        made = lesson(kind)
        assert station_view(made, 0, 4711) == station_view(made, 0, 4711)


class TestCalculate:
    def test_each_learner_gets_numbers_of_an_own_engine(self) -> None:
        made = lesson("calculate")
        numbers = [[entry["value"] for entry in station_view(made, 0, seed).model_dump()["given"]] for seed in SEEDS]
        assert numbers[1] != numbers[2]

    def test_a_slip_is_named_once_and_carried_forward(self) -> None:
        made = lesson("calculate")
        steps = dict(right_answer("calculate", station_key(made, 0, 7).model_dump()["parts"])["steps"])
        given = {entry["symbol"]: entry["value"] for entry in station_view(made, 0, 7).model_dump()["given"]}
        celsius = float(given["t"].split()[0])
        pressure = float(steps["p_Pa"].split()[0])
        wrong = {"p_Pa": steps["p_Pa"], "T": f"{celsius} K", "rho": f"{pressure / (287.05 * celsius):.4g} kg/m³"}
        mark = mark_answer(made, 0, 7, {"kind": "calculate", "steps": wrong | {"VE": steps["VE"]}})
        verdicts = {line["symbol"]: line["verdict"] for line in mark.parts[0]["marked"]}
        assert verdicts["T"] in {"slip", "wrong"} and verdicts["rho"] == "carried" and verdicts["p_Pa"] == "right"
        assert mark.points is not None and 0.3 < mark.points < 1.0

    def test_a_number_without_its_unit_is_told(self) -> None:
        mark = mark_answer(lesson("calculate"), 0, 7, {"kind": "calculate", "steps": {"rho": "1.19"}})
        line = next(line for line in mark.parts[0]["marked"] if line["symbol"] == "rho")
        assert line["verdict"] == "unreadable" and "unit" in line["reason"]

    def test_formulas_are_shown_only_where_the_trainer_wants(self) -> None:
        hidden, shown = (
            station_view(lesson("calculate", show_formulas=flag), 0, 7).model_dump() for flag in (False, True)
        )
        assert not any(step["formula"] for step in hidden["steps"]) and all(step["formula"] for step in shown["steps"])

    def test_what_an_engine_does_not_show_is_asked_of_the_trainer(self) -> None:
        made = lesson("calculate", working="leak_from_hole", condition="hot_idle")
        assert any(w.code == "cannot_be_worked" for w in check_lesson(made)) or station_view(made, 0, 0)

    @pytest.mark.parametrize(
        "changed", [{"working": "alchemy"}, {"condition": "asleep"}, {"given": {"no_such": "1 m"}}]
    )
    def test_a_document_that_cannot_be_gets_a_sentence(self, changed: dict[str, Any]) -> None:
        with pytest.raises(BadDocument):
            lesson("calculate", **changed)


class TestMyth:
    def test_statements_are_drawn_by_chance_and_say_true_and_false_alike(self) -> None:
        made = lesson("myth", myths=sorted(myths())[:20], count=10)
        rights = [part["right"] for seed in range(1, 60) for part in station_key(made, 0, seed).model_dump()["parts"]]
        assert 0.42 < rights.count("true") / len(rights) < 0.58
        counts = {
            sum(p["right"] == "true" for p in station_key(made, 0, seed).model_dump()["parts"]) for seed in range(1, 40)
        }
        assert len(counts) > 4, "the number of true ones must not be the same for everybody"

    def test_every_misconception_has_a_true_sentence_that_stands_alone(self) -> None:
        for myth in myths().values():
            assert myth.truth != myth.claim and len(myth.truth.split()) >= 6
            assert not myth.truth.startswith(("It ", "That ", "They ", "This ", "See "))

    def test_an_unknown_one_is_refused(self) -> None:
        with pytest.raises(BadDocument, match="misconception"):
            lesson("myth", myths=["m99"])


class TestPredict:
    def test_directions_are_those_of_the_physics(self) -> None:
        parts = station_key(lesson("predict"), 0, 7).model_dump()["parts"]
        assert [part["way"] for part in parts] == ["higher", "lower", "same"]

    def test_a_trainer_is_told_what_is_neither_moved_nor_the_same(self) -> None:
        small = {"kind": "manifold_vacuum_leak", "params": {"area_mm2": 0.15}}
        readings = [{"condition": "hot_idle", "channel": "total_trim"}]
        station = {"kind": "predict", "id": "s", "title": "t", "readings": readings}
        made = parse_lesson({"title": "t", "rig": "R1", "faults": [small], "stations": [station]})
        assert "in_between" in {warning.code for warning in check_lesson(made)}

    def test_a_sound_engine_moves_nothing_and_that_is_said(self) -> None:
        made = parse_lesson(
            {
                "title": "t",
                "rig": "R1",
                "stations": [{"kind": "predict", "id": "s", "title": "t"} | STATIONS["predict"]],
            }
        )
        assert "nothing_moves" in {warning.code for warning in check_lesson(made)}

    def test_the_fault_is_named_only_where_the_trainer_wants(self) -> None:
        assert station_view(lesson("predict", tell_fault=False), 0, 7).model_dump()["what_if"] == ""
        assert "leak" in station_view(lesson("predict"), 0, 7).model_dump()["what_if"]


class TestSeparate:
    def test_the_quick_test_that_separates_is_worth_more_than_the_dear_one(self) -> None:
        parts = {part["label"]: part for part in station_key(lesson("separate"), 0, 7).model_dump()["parts"]}
        quick, dear = parts["Scan tool: trims at 2500 1/min"], parts["Scan tool: trims at cruise"]
        assert quick["separates"] and dear["separates"] and quick["worth"] == 1.0 and dear["worth"] == 0.5
        assert not parts["Look: fuel"]["separates"]

    def test_options_stand_in_another_order_for_another_learner(self) -> None:
        orders = {
            tuple(t["label"] for t in station_view(lesson("separate"), 0, seed).model_dump()["tests"])
            for seed in range(12)
        }
        assert len(orders) > 4

    @pytest.mark.parametrize(
        ("tests", "code"),
        [
            (["look.fuel", "meter.grounds"], "none_separates"),
            (["scan.no_load_2500.trims", "scan.cruise_80.trims"], "all_separate"),
        ],
    )
    def test_a_question_without_a_choice_is_told(self, tests: list[str], code: str) -> None:
        assert code in {warning.code for warning in check_lesson(lesson("separate", tests=tests))}

    def test_a_test_that_the_engine_has_not_is_refused(self) -> None:
        with pytest.raises(LeitfadenError, match="test"):
            station_view(lesson("separate", tests=["look.fuel", "look.moon"]), 0, 0)


class TestOwnStatements:
    OWN = [
        {"text": "Own and wrong.", "right": "false", "reason": "Because."},
        {"text": "Own and right.", "right": "true", "reason": "Therefore."},
    ]

    def test_they_are_asked_as_they_are_written(self) -> None:
        made = lesson("myth", own=self.OWN, myths=[], count=5)
        parts = {part["text"]: part for part in station_key(made, 0, 7).model_dump()["parts"]}
        assert {text: part["right"] for text, part in parts.items()} == {
            "Own and wrong.": "false",
            "Own and right.": "true",
        }

    def test_what_is_said_of_the_trade_makes_up_for_them(self) -> None:
        """Three own statements that are wrong among six: otherwise "never true" would win."""
        wrong = [{"text": f"Wrong {k}.", "right": "false", "reason": "Because."} for k in range(3)]
        made = lesson("myth", own=wrong, myths=["m04", "m06", "m07"], count=6)
        rights = [part["right"] for seed in range(1, 15) for part in station_key(made, 0, seed).model_dump()["parts"]]
        assert 0.4 <= rights.count("true") / len(rights) <= 0.6

    def test_a_station_without_any_statement_is_refused(self) -> None:
        with pytest.raises(BadDocument, match="no statement"):
            lesson("myth", own=[], myths=[])


class TestOrder:
    def key(self, seed: int = 7, **changed: Any) -> dict[str, Any]:
        found: dict[str, Any] = station_key(lesson("order", **changed), 0, seed).model_dump()["parts"][0]
        return found

    def test_every_order_has_its_cost_and_the_best_the_least(self) -> None:
        part = self.key()
        assert len(part["costs"]) == 24 and part["least"] == min(part["costs"].values())
        assert part["costs"][" ".join(part["best"])] == part["least"]

    def test_buying_a_part_first_costs_more_than_looking_first(self) -> None:
        part = self.key()
        bought = next(test["id"] for test in part["tests"] if test["exchange"])
        assert part["best"][0] != bought
        first = min(cost for order, cost in part["costs"].items() if order.split()[0] == bought)
        assert first > 1.6 * part["least"]

    def test_a_second_order_that_costs_as_little_is_right_too(self) -> None:
        made, part = lesson("order"), self.key()
        for order, cost in part["costs"].items():
            points = mark_answer(made, 0, 7, {"kind": "order", "order": order.split()}).points
            times = cost / part["least"]
            assert points == (1.0 if times <= 1.15 else 0.5 if times <= 1.6 else 0.0)

    def test_learners_get_another_order_and_the_same_costs(self) -> None:
        one, other = self.key(7), self.key(4711)
        assert sorted(one["costs"].values()) == sorted(other["costs"].values())

    def test_tests_that_cannot_tell_the_causes_are_warned_of(self) -> None:
        made = lesson("order", tests=["meter.grounds", "look.coolant and thermostat", "look.fuel"])
        assert {warning.code for warning in check_lesson(made)} >= {"never_told"}

    def test_a_test_that_the_engine_does_not_have_gets_a_sentence(self) -> None:
        with pytest.raises(LeitfadenError, match="test"):
            station_view(lesson("order", tests=["meter.grounds", "look.fuel", "no.such"]), 0, 0)


class TestVerify:
    def found(self, seeds: range) -> list[tuple[dict[str, Any], dict[str, Any]]]:
        made = lesson("verify")
        return [
            (station_view(made, 0, seed).model_dump(), station_key(made, 0, seed).model_dump()["parts"][0])
            for seed in seeds
        ]

    def test_the_answer_follows_from_the_readings_in_the_complaints_condition(self) -> None:
        rights = set()
        for view, part in self.found(range(1, 13)):
            rights.add(part["right"])
            here = next(row for row in view["readings"] if row["condition"] == "hot_idle")
            if part["right"] == "not_shown" and not part["half"]:
                assert not here["driven"] and here["after"] is None
            if part["right"] == "not_mended":
                assert here["after"] > 8.0  # the leak still takes so much fuel at idle [%]
            if part["right"] == "mended":
                assert abs(here["after"]) < 6.5
        assert rights == {"mended", "not_mended", "not_shown"}

    def test_a_memory_that_still_unlearns_does_not_count_against_a_good_repair(self) -> None:
        places = [{"condition": "hot_idle", "channel": "total_trim"}, {"condition": "cold_idle", "channel": "ltft"}]
        made = lesson("verify", readings=places)
        parts = [station_key(made, 0, seed).model_dump()["parts"][0] for seed in range(1, 10)]
        mended = [part for part in parts if part["right"] == "mended"]
        memory = [row for part in mended for row in part["rows"] if row["channel"] == "ltft"]
        assert memory and all(not row["counts"] for row in memory)
        assert any(row["after"] > 5.0 for row in memory)  # still learned with the leak [%]

    def test_a_complaint_that_no_reading_shows_is_warned_of(self) -> None:
        places = [{"condition": "cruise_80", "channel": "ect"}]
        made = lesson("verify", complaint="cruise_80", readings=places)
        assert [warning.code for warning in check_lesson(made)] == ["complaint_not_visible"]

    def test_trims_that_unlearn_cannot_be_all_that_is_read(self) -> None:
        with pytest.raises(BadDocument, match="decides whether it is mended"):
            lesson("verify", readings=[{"condition": "hot_idle", "channel": "stft"}])


class TestMatch:
    def test_places_come_without_values_and_values_without_places(self) -> None:
        view = station_view(lesson("match"), 0, 7).model_dump()
        assert all(place["value"] is None for place in view["places"])
        assert all(set(value) == {"id", "quantity", "step", "value", "digits"} for value in view["values"])
        assert len({value["value"] for value in view["values"]}) == 4

    def test_the_order_of_values_differs_from_learner_to_learner(self) -> None:
        made = lesson("match")
        orders = {tuple(station_key(made, 0, seed).model_dump()["parts"][0]["ids"]) for seed in range(1, 12)}
        assert len(orders) > 2

    def test_each_place_counts_by_itself(self) -> None:
        made = lesson("match")
        right = right_answer("match", station_key(made, 0, 7).model_dump()["parts"])["values"]
        swapped = [right[1], right[0], *right[2:]]
        assert mark_answer(made, 0, 7, {"kind": "match", "values": swapped}).points == pytest.approx(0.5)

    def test_values_that_look_the_same_may_change_places(self) -> None:
        same = {
            "readings": [{"condition": "hot_idle", "channel": "rpm"}] * 2 + [{"condition": "crank", "channel": "rpm"}]
        }
        parts = station_key(lesson("match", **same), 0, 7).model_dump()["parts"]
        assert len(parts[0]["ids"]) == 2 and parts[0]["ids"] == parts[1]["ids"]

    def test_values_that_sound_engines_do_not_keep_apart_are_warned_of(self) -> None:
        places = [{"condition": where, "channel": "ect"} for where in ("hot_idle", "no_load_2500", "cruise_80")]
        assert {w.code for w in check_lesson(lesson("match", readings=places))} == {"too_alike"}


class TestOwnBench:
    """Marking knows nothing of the engine: only what was typed, the band, and the instrument's error."""

    def points(self, value: float, verdict: str, **changed: Any) -> float | None:
        made = lesson("own", readings=[{"condition": "hot_idle", "channel": "maf"}], **changed)
        entry = {"kind": "own", "value": f"{value:.4f} g/s", "verdict": verdict}
        return mark_answer(made, 0, 7, {"kind": "own", "readings": [entry]}).points

    def test_the_verdict_follows_from_the_value_and_the_instruments_error(self) -> None:
        part = station_key(lesson("own"), 0, 7).model_dump()["parts"][0]
        low, high = part["low"], part["high"]
        middle, edge, far = 0.5 * (low + high), high * 1.005, high * 1.1
        assert self.points(middle, "good") == 1.0 and self.points(middle, "faulty") == 0.0
        assert self.points(edge, "not_decidable") == 1.0 and self.points(edge, "good") == 0.0
        assert (
            self.points(far, "suspect") == 1.0 and self.points(far, "faulty") == 1.0 and self.points(far, "good") == 0.0
        )
        assert self.points(low * 0.9, "faulty") == 1.0

    def test_a_perfect_instrument_leaves_no_doubt_at_the_edge(self) -> None:
        high = station_key(lesson("own"), 0, 7).model_dump()["parts"][0]["high"]
        assert self.points(high * 1.005, "suspect", error_percent=0.0) == 1.0

    def test_units_are_the_learners_own(self) -> None:
        made = lesson("own", readings=[{"condition": "hot_idle", "channel": "ect"}])
        entry = {"kind": "own", "value": "200 °F", "verdict": "good"}
        assert mark_answer(made, 0, 7, {"kind": "own", "readings": [entry]}).points == 1.0

    def test_a_value_without_unit_is_refused_before_it_is_marked(self) -> None:
        made = lesson("own", readings=[{"condition": "hot_idle", "channel": "maf"}])
        answer = parse_answer("own", {"heeded": True, "readings": [{"kind": "own", "value": "2.1", "verdict": "good"}]})
        with pytest.raises(LeitfadenError, match="unit is missing"):
            require_answer(station_view(made, 0, 7), answer)

    def test_an_instrument_that_cannot_tell_is_warned_of(self) -> None:
        assert {w.code for w in check_lesson(lesson("own", error_percent=15.0))} == {"instrument_too_coarse"}


class TestProcedure:
    """A piece of handwork: stages, choices, stop points, consequences."""

    @pytest.mark.parametrize("piece", sorted(pieces()))
    def test_the_best_way_gets_all_and_every_choice_says_what_comes(self, piece: str) -> None:
        made = lesson("procedure", piece=piece)
        key = station_key(made, 0, 7).model_dump()
        assert all(choice["comes"] for part in key["parts"] for choice in part["choices"])
        assert mark_answer(made, 0, 7, right_answer("procedure", key["parts"])).points == 1.0

    @pytest.mark.parametrize("piece", sorted(pieces()))
    def test_a_choice_that_can_hurt_somebody_takes_all_points(self, piece: str) -> None:
        made = lesson("procedure", piece=piece)
        parts = station_key(made, 0, 7).model_dump()["parts"]
        best = right_answer("procedure", parts)
        for part in parts:
            for choice in part["choices"]:
                done = best | {"done": best["done"] | {part["id"]: choice["id"]}}
                points = mark_answer(made, 0, 7, done).points
                expected = 0.0 if choice["hurts"] else 1.0 - (1.0 - choice["worth"]) / len(parts)
                assert points == pytest.approx(expected)

    def test_nothing_of_what_comes_is_told_before(self) -> None:
        shown = json.dumps(station_view(lesson("procedure"), 0, 7).model_dump())
        for stage in pieces()["seized_sensor"].stages:
            assert stage.situation in shown
            assert all(choice.comes not in shown for choice in stage.choices)

    def test_the_place_of_the_best_choice_says_nothing(self) -> None:
        made = lesson("procedure")
        places = [
            right_answer("procedure", station_key(made, 0, s).model_dump()["parts"])["done"]["1"] for s in range(1, 60)
        ]
        assert set(places) == {"0", "1", "2"}

    def test_cautions_come_first_and_every_stage_is_asked_for(self) -> None:
        made = lesson("procedure")
        view, parts = station_view(made, 0, 7), station_key(made, 0, 7).model_dump()["parts"]
        assert view.cautions
        best = right_answer("procedure", parts)
        for answer, sentence in (
            (best | {"heeded": False}, "acknowledged"),
            (best | {"done": {"1": "0"}}, "no choice"),
        ):
            with pytest.raises(LeitfadenError, match=sentence):
                require_answer(view, parse_answer("procedure", answer))

    def test_an_unknown_piece_is_refused_with_those_that_there_are(self) -> None:
        with pytest.raises(BadDocument, match="seized_sensor"):
            lesson("procedure", piece="paint_job")
