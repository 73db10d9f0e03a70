"""Drills: the size follows the learner, figures of detection, items that do not betray themselves."""

import json
from statistics import NormalDist

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from demo import course
from leitfaden_core.drills import (
    FORMS,
    Ask,
    Entry,
    Staircase,
    Trial,
    cost_in_words,
    detection,
    from_kinds,
    from_lesson,
    make_item,
    price_of,
)
from leitfaden_core.errors import LeitfadenError
from leitfaden_core.faults import FaultSpec
from leitfaden_core.lessons import parse_lesson

pytestmark = pytest.mark.lessons

METER = FaultSpec(kind="maf_under_read", params={"gain": 0.8})


class TestStaircase:
    def test_three_found_in_a_row_make_it_smaller_and_one_missed_larger(self) -> None:
        stairs = Staircase()
        for found in (True, True):
            stairs = stairs.after(found)
        assert stairs.share == 1.0
        smaller = stairs.after(True)
        assert smaller.share < 1.0 and smaller.row == 0
        assert smaller.after(False).share > smaller.share

    @pytest.mark.parametrize("true", [0.15, 0.3, 0.6])
    def test_it_settles_where_four_of_five_are_found(self, true: float) -> None:
        """An observer whose chance to find a size is known: Weibull with slope 3; it is 0.794 at ``true``."""
        draw, thresholds = np.random.default_rng(5), []
        for _ in range(60):
            stairs = Staircase()
            for _trial in range(160):
                chance = 1.0 - np.exp(np.log(1.0 - 0.5 ** (1 / 3)) * (stairs.share / true) ** 3)
                stairs = stairs.after(bool(draw.random() < chance))
            assert stairs.threshold is not None
            thresholds.append(stairs.threshold)
        assert float(np.exp(np.mean(np.log(thresholds)))) == pytest.approx(true, rel=0.08)

    @given(st.lists(st.booleans(), max_size=200))
    def test_sizes_stay_within_their_bounds_whatever_is_answered(self, answers: list[bool]) -> None:
        stairs = Staircase()
        for found in answers:
            stairs = stairs.after(found)
            assert 0.05 <= stairs.share <= 1.5
        assert Staircase.model_validate(stairs.model_dump(mode="json")) == stairs

    def test_no_threshold_is_told_from_a_few_turns(self) -> None:
        assert Staircase().after(False).after(False).threshold is None


class TestDetection:
    def test_d_prime_and_bias_are_those_of_the_closed_form(self) -> None:
        z = NormalDist().inv_cdf
        trials = [Trial(True, k < 40, 75) for k in range(50)] + [Trial(False, k < 45, 75) for k in range(50)]
        told = detection(trials)
        hit, alarm = z(40.5 / 51), z(5.5 / 51)
        assert told.d_prime == pytest.approx(hit - alarm) and told.bias == pytest.approx(-(hit + alarm) / 2)

    def test_an_observer_of_known_d_prime_is_measured_so(self) -> None:
        draw = np.random.default_rng(8)
        trials = []
        for faulty in [True, False] * 2000:
            says_faulty = draw.normal(1.5 if faulty else 0.0) > 1.0
            trials.append(Trial(faulty, bool(says_faulty == faulty), 75))
        told = detection(trials)
        assert told.d_prime == pytest.approx(1.5, abs=0.1)
        assert told.bias == pytest.approx(0.25, abs=0.06)  # the criterion lies a quarter above the middle

    def test_pairs_measure_the_same_distance_without_bias(self) -> None:
        draw = np.random.default_rng(9)
        right = draw.normal(1.5, size=4000) > draw.normal(0.0, size=4000)
        assert detection([Trial(None, bool(r), 75) for r in right]).d_prime_pairs == pytest.approx(1.5, abs=0.1)

    def test_who_says_faulty_to_everything_finds_all_and_tells_nothing(self) -> None:
        told = detection([Trial(True, True, 95)] * 20 + [Trial(False, False, 95)] * 20)
        assert told.hits == 20 and told.false_alarms == 20
        assert told.d_prime == pytest.approx(0.0) and told.bias is not None and told.bias < -1.5

    def test_confidence_is_held_against_what_was_right(self) -> None:
        told = detection([Trial(True, k < 6, 95) for k in range(10)] + [Trial(True, True, 50)])
        assert [(s.confidence, s.right, s.trials) for s in told.sureness] == [(50, 1, 1), (75, 0, 0), (95, 6, 10)]


class TestItems:
    def ask(self, **changed: object) -> Ask:
        return Ask.model_validate(
            {"fault": METER, "rig": "R1", "share": 1.0, "faulty": True, "form": "sheet", "seed": 7} | changed
        )

    @pytest.mark.parametrize("form", FORMS)
    def test_what_is_read_does_not_hang_on_whether_the_engine_is_faulty(self, form: str) -> None:
        views = [make_item(self.ask(form=form, faulty=faulty)).view for faulty in (True, False)]
        told = [
            [[(r.condition, r.channel, r.stat) for r in engine] for engine in view.engines]
            + [view.trace.label if view.trace else ""]
            for view in views
        ]
        assert told[0] == told[1] and views[0] != views[1]

    @pytest.mark.parametrize("form", FORMS)
    def test_a_learner_gets_nothing_of_the_key(self, form: str) -> None:
        made = make_item(self.ask(form=form))
        shown = made.view.model_dump_json()
        assert not {"right", "wrong", "verdict", "reason", "tells", "part", "in_vain"} & _names(json.loads(shown))
        assert made.key.wrong and made.key.wrong not in shown

    def test_one_of_a_pair_is_faulty_and_the_two_are_different_engines(self) -> None:
        for faulty, right in ((True, "first"), (False, "second")):
            made = make_item(self.ask(form="pair", faulty=faulty))
            assert made.key.right == right
            one, other = ([r.value for r in engine] for engine in made.view.engines)
            assert one != other

    def test_a_large_fault_shows_in_what_tells_and_a_sound_engine_rarely(self) -> None:
        def off(faulty: bool) -> int:
            items = [make_item(self.ask(faulty=faulty, seed=seed)).key.engines[0] for seed in range(1, 9)]
            return sum(r.verdict in {"faulty", "suspect"} for engine in items for r in engine if r.tells)

        assert off(True) > 18 and off(False) <= 4  # of 24 readings

    def test_readings_beside_those_that_tell_are_not_moved_by_the_fault(self) -> None:
        for seed in range(1, 6):
            with_fault, without = (
                make_item(self.ask(faulty=faulty, seed=seed)).key.engines[0] for faulty in (True, False)
            )
            for one, other in zip(with_fault, without, strict=True):
                if not one.tells and one.value is not None and other.value is not None:
                    assert one.verdict == other.verdict

    def test_condemning_a_good_part_has_its_price_and_missing_a_fault_none_of_that_kind(self) -> None:
        sound, faulty = (make_item(self.ask(faulty=flag)).key for flag in (False, True))
        assert price_of("faulty", sound) >= 40 and price_of("sound", sound) == 0
        assert price_of("faulty", faulty) == 0 and price_of("sound", faulty) == 0
        assert "airflow meter" in cost_in_words(sound)


class TestEntries:
    def test_a_lesson_gives_its_faults_on_every_engine_that_shows_them(self) -> None:
        lesson = next(parse_lesson(raw) for raw in course.kept() if "trim-step" in raw["title"])
        entries = from_lesson(lesson)
        assert entries[0].fault.kind == lesson.faults[0].kind and entries[0].rigs[0] == lesson.rig
        assert len({entry.fault.kind for entry in entries}) == len(entries) >= 2
        assert all(len(entry.rigs) >= 1 for entry in entries)

    def test_kinds_begin_at_a_size_that_shows(self) -> None:
        meter = from_kinds(["maf_under_read"])[0]
        assert float(meter.fault.params["gain"]) < 0.9 and "R2" not in meter.rigs and "R1" in meter.rigs
        assert "85.6 %" in Entry(fault=METER, rigs=("R1",)).size_in_words(0.72)

    def test_what_is_no_fault_or_shows_nowhere_gets_a_sentence(self) -> None:
        with pytest.raises(LeitfadenError, match="fault kind"):
            from_kinds(["gremlin"])


def _names(data: object) -> set[str]:
    if isinstance(data, dict):
        return set(data) | {name for value in data.values() for name in _names(value)}
    if isinstance(data, list):
        return {name for value in data for name in _names(value)}
    return set()
