"""Checks beside the station: what is unfair is said before the lesson, and each remedy does what it promises."""

from typing import Any

import pytest

from leitfaden_core.lessons import (
    FairnessWarning,
    Lesson,
    check_lesson,
    check_words,
    difficulty,
    minutes_needed,
    parse_lesson,
    remedied,
)
from leitfaden_core.lessons.checks import reading_index
from leitfaden_core.lessons.showing import telling_places

pytestmark = pytest.mark.lessons

LEAK = {"kind": "manifold_vacuum_leak", "params": {"area_mm2": 4.0}}
SMALL = {"kind": "manifold_vacuum_leak", "params": {"area_mm2": 1.5}}
TINY = {"kind": "manifold_vacuum_leak", "params": {"area_mm2": 0.2}}
METER = {"kind": "maf_under_read", "params": {"gain": 0.8}}
PRESSURE = {"kind": "fuel_pressure_low", "params": {"factor": 0.7, "factor_full": 0.7}}


def at(condition: str, channel: str, **more: Any) -> dict[str, Any]:
    return {"condition": condition, "channel": channel, **more}


def lesson(*stations: dict[str, Any], **whole: Any) -> Lesson:
    """A lesson of these stations; what they leave out is filled in."""
    named = [{"id": f"s{k}", "title": f"Station {k}", **station} for k, station in enumerate(stations)]
    return parse_lesson({"title": "A lesson", "faults": [LEAK], **whole, "stations": named})


#: Lessons with one thing wrong each: the code of the warning, and the stations.
UNFAIR: dict[str, Any] = {
    "fault_not_visible": lambda: lesson(
        {"kind": "judge", "pool": [at("hot_idle", "ect"), at("hot_idle", "iat"), at("hot_idle", "battery_v")]},
    ),
    "small_pool": lambda: lesson(
        {"kind": "judge", "pool": [at("hot_idle", "total_trim"), at("hot_idle", "ect")], "count": 6},
    ),
    "in_between": lambda: lesson(
        {
            "kind": "predict",
            "readings": [at("hot_idle", "total_trim"), at("cruise_80", "total_trim"), at("hot_idle", "ect")],
        },
        faults=[{"kind": "manifold_vacuum_leak", "params": {"area_mm2": 2.0}}],
    ),
    "nothing_moves": lambda: lesson(
        {"kind": "reflect"}, {"kind": "predict", "readings": [at("hot_idle", "ect"), at("hot_idle", "maf")]}, faults=[]
    ),
    "all_separate": lambda: lesson(
        {
            "kind": "separate",
            "causes": [LEAK, METER],
            "tests": ["scan.wot_pull.air", "part.airflow meter"],
        }
    ),
    "none_separates": lambda: lesson(
        {"kind": "separate", "causes": [LEAK, METER], "tests": ["look.fuel", "meter.grounds"]}
    ),
    "two_right": lambda: lesson(
        {
            "kind": "conclude",
            "readings": [at("hot_idle", "ect"), at("cruise_80", "ect")],
            "causes": [LEAK, METER, PRESSURE, {"kind": "ect_offset", "params": {"K": -25.0}}],
        }
    ),
    "cause_not_offered": lambda: lesson(
        {"kind": "conclude", "readings": [at("hot_idle", "total_trim"), at("hot_idle", "maf")], "causes": [METER, None]}
    ),
    "no_meaning": lambda: lesson({"kind": "measure", "reading": at("wot_pull", "total_trim")}),
    "instrument_too_slow": lambda: lesson(
        {
            "kind": "match",
            "readings": [at("hot_idle", "rpm"), at("cruise_80", "rpm"), at("hot_idle", "ho2s_b1s1_v", stat="edge")],
        },
        rig="R2",
    ),
    "too_alike": lambda: lesson(
        {"kind": "match", "readings": [at(where, "ect") for where in ("hot_idle", "cruise_80", "koeo", "crank")]}
    ),
    "instrument_too_coarse": lambda: lesson(
        {"kind": "own", "readings": [at("hot_idle", "maf"), at("hot_idle", "ect")], "error_percent": 15.0}
    ),
    "complaint_not_visible": lambda: lesson(
        {"kind": "verify", "complaint": "cruise_80", "readings": [at("cruise_80", "ect"), at("cruise_80", "iat")]}
    ),
    "too_long": lambda: lesson({"kind": "judge", "pool": [at("hot_idle", "ect")], "count": 12, "minutes": 2}),
    "caution_missing": lambda: lesson({"kind": "own", "readings": [at("hot_idle", "maf")]}),
    "cause_named": lambda: lesson(
        {"kind": "predict", "readings": [at("hot_idle", "total_trim"), at("hot_idle", "ect")]},
        {"kind": "conclude", "readings": [at("hot_idle", "total_trim")], "causes": [LEAK, None]},
    ),
}


def warned(of: Lesson) -> list[FairnessWarning]:
    return [*check_lesson(of), *check_words(of)]


@pytest.mark.parametrize("code", UNFAIR)
def test_each_remedy_answers_its_warning(code: str) -> None:
    unfair = UNFAIR[code]()
    found = next(warning for warning in warned(unfair) if warning.code == code)
    assert found.remedies, f"{code} has no remedy"
    for remedy in found.remedies:
        assert remedy.says
        if remedy.takes_out and len(unfair.stations) == 1:
            continue  # a lesson has at least one station
        made = remedied(unfair, found.station, remedy)
        left = [w.text for w in warned(made) if (w.code, w.station) == (code, found.station)]
        assert found.text not in left, remedy.says


def test_what_cannot_be_told_says_how_far_it_lies_and_from_which_size_it_could() -> None:
    of = lesson({"kind": "judge", "pool": [at("hot_idle", "total_trim"), at("hot_idle", "ect")]}, faults=[TINY])
    found = next(warning for warning in check_lesson(of) if warning.code == "fault_not_visible")
    assert "spreads of sound engines" in found.text
    assert "mm²" in found.text
    sized = next(remedy for remedy in found.remedies if remedy.lesson)
    area = sized.lesson["faults"][0]["params"]["area_mm2"]
    assert area > 0.2


class TestDifficulty:
    def test_a_larger_fault_lies_farther_from_sound_engines(self) -> None:
        pool = [at("hot_idle", "total_trim"), at("cruise_80", "total_trim")]
        of = lesson({"kind": "judge", "pool": pool}, faults=[SMALL])
        sizes = difficulty(of, 0).dial
        assert len(sizes) >= 5
        # With a much larger leak the idle saws and the control unit corrects no more.
        away = [size.separation for size in sizes if size.share <= 2.0]
        assert away == sorted(away)
        assert away[0] < difficulty(of, 0).told_from < away[-1]

    def test_the_size_that_is_set_shows_what_the_verdicts_say(self) -> None:
        of = lesson({"kind": "judge", "pool": [at("hot_idle", "total_trim")], "count": 1}, faults=[SMALL])
        now = next(size for size in difficulty(of, 0).dial if size.share == 1.0)
        smaller = next(size for size in difficulty(of, 0).dial if size.separation < 1.8)
        assert now.telling == 1
        weak = remedied(of, "s0", smaller.remedy)
        assert [w.code for w in check_lesson(weak)][:1] == ["fault_not_visible"]

    def test_three_learners_draw_what_is_about_as_hard(self) -> None:
        of = lesson(
            {
                "kind": "predict",
                "readings": [at("hot_idle", "total_trim"), at("cruise_80", "ect"), at("hot_idle", "iat")],
            }
        )
        drawn = difficulty(of, 0).draws
        hardest = [draw.hardest for draw in drawn if draw.hardest is not None]
        assert [draw.of for draw in drawn] == [3, 3, 3]
        assert len(hardest) == 3
        assert max(hardest) < 1.6 * min(hardest)

    def test_without_its_plainest_reading_fewer_tell_it(self) -> None:
        pool = [at("hot_idle", "total_trim"), at("cruise_80", "total_trim"), at("hot_idle", "ect")]
        large = {"kind": "manifold_vacuum_leak", "params": {"area_mm2": 8.0}}
        of = lesson({"kind": "judge", "pool": pool}, faults=[large])
        [harder] = [turn for turn in difficulty(of, 0).turns if "tells most" in turn.remedy.says]
        left = remedied(of, "s0", harder.remedy).stations[0].pool
        assert len(telling_places(of.item(0, 0), left)) == len(telling_places(of.item(0, 0), of.stations[0].pool)) - 1

    def test_a_second_fault_shows_elsewhere_and_leaves_the_first_where_it_was(self) -> None:
        pool = [at("hot_idle", "total_trim"), at("cruise_80", "ect"), at("cruise_80", "iat"), at("hot_idle", "ect")]
        of = lesson({"kind": "judge", "pool": pool, "count": 4}, faults=[SMALL])
        beside = [turn for turn in difficulty(of, 0).turns if "second fault" in turn.remedy.says]
        made = remedied(of, "s0", beside[0].remedy)
        places = made.stations[0].pool
        before, after = (telling_places(lesson.item(0, 0), places) for lesson in (of, made))
        assert set(before) < set(after) and made.faults == of.faults

    def test_a_sound_engine_has_no_dial(self) -> None:
        sound = difficulty(lesson({"kind": "judge", "pool": [at("hot_idle", "ect")]}, faults=[]), 0)
        assert sound.dial == [] == sound.turns


class TestWords:
    @pytest.mark.parametrize(
        ("text", "code"),
        [
            ("Two to three percent of oxygen in the exhaust is rich.", "contradicted"),
            ("Remember this: two to three per cent of oxygen in the exhaust is rich!", "contradicted"),
            ("Two to three percent of oxygen in the exhaust is clearly lean.", None),
            ("The manifold stands at 35 kPa. The gauge shows 20 inHg.", "mixed_units"),
            ("The manifold stands at 35 kPa, the coolant at 90 °C.", None),
            ("The engine runs. It burns petrol. Look at the trim.", None),
        ],
    )
    def test_a_text_is_read_like_an_editor_would(self, text: str, code: str | None) -> None:
        found = {warning.code for warning in check_words(lesson({"kind": "explain", "text": text}))}
        assert found == ({code} if code else set())

    def test_an_own_statement_that_is_called_true_may_not_be_a_misconception(self) -> None:
        said = {
            "text": "Two to three percent of oxygen in the exhaust is rich.",
            "right": "true",
            "reason": "So it is.",
        }
        of = lesson({"kind": "myth", "own": [said, said | {"text": "Air is mostly nitrogen."}], "count": 2})
        assert "contradicted" in {warning.code for warning in check_words(of)}
        false = lesson({"kind": "myth", "own": [said | {"right": "false"}], "count": 1})
        assert check_words(false) == []

    def test_a_text_above_the_level_is_told_with_its_index(self) -> None:
        heavy = (
            "Notwithstanding considerable manufacturing tolerances, experienced diagnosticians nevertheless "
            "distinguish "
            "characteristic deviations of contaminated heated-element airflow measurement installations by "
            "systematically "
            "comparing independently established volumetric efficiencies, calculated displacements and barometrically "
            "corrected manifold absolute pressures throughout representative operating conditions of the engine."
        )
        for level, told in (("start", True), ("expert", True), ("", False)):
            codes = {w.code for w in check_words(lesson({"kind": "explain", "text": heavy}, level=level))}
            assert ("above_level" in codes) == told
        plain = "The air is warm. The fan is on. Look at the list. " * 10
        assert check_words(lesson({"kind": "explain", "text": plain, "minutes": 3}, level="start")) == []

    @pytest.mark.parametrize(
        ("text", "index"),
        [
            ("", 0.0),
            ("The cat sat.", 3.0),  # three words, one sentence, none longer than six letters
            ("Measure pressure.", 102.0),  # two words, both longer
            ("Look here. Look there.", 2.0),
        ],
    )
    def test_the_reading_index_is_that_of_its_author(self, text: str, index: float) -> None:
        """LIX by hand (Björnsson 1968)."""
        assert reading_index(text) == pytest.approx(index)

    def test_a_title_that_names_the_cause_is_told(self) -> None:
        asks = {"kind": "conclude", "readings": [at("hot_idle", "total_trim")], "causes": [METER, LEAK]}
        of = lesson(asks, title="Airflow meter reads too low, found on the road", faults=[METER])
        assert "cause_in_words" in {warning.code for warning in check_words(of)}

    def test_a_cause_that_only_some_learners_have_is_not_named_before_either(self) -> None:
        asks = {"kind": "conclude", "readings": [at("hot_idle", "total_trim")], "causes": [METER, LEAK]}
        of = lesson(asks, title="Airflow meter reads too low, found on the road", or_else=[[METER]])
        assert "cause_in_words" in {warning.code for warning in check_words(of)}

    def test_statements_that_are_all_true_are_told(self) -> None:
        own = [{"text": text, "right": "true", "reason": "Yes."} for text in ("Air has mass.", "Fuel burns.")]
        codes = {warning.code for warning in check_lesson(lesson({"kind": "myth", "own": own, "count": 2}))}
        assert codes == {"one_answer"}


def test_more_to_read_and_more_to_answer_takes_longer() -> None:
    short, long = lesson({"kind": "explain", "text": "word " * 120}), lesson({"kind": "explain", "text": "word " * 600})
    assert minutes_needed(long.stations[0]) - minutes_needed(short.stations[0]) == pytest.approx(4.0)
    few, many = (lesson({"kind": "judge", "pool": [at("hot_idle", "ect")], "count": count}) for count in (2, 10))
    assert minutes_needed(many.stations[0]) > minutes_needed(few.stations[0])
