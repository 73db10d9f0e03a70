"""A whole lesson out of an aim: every station of it can be given, marked and defended."""

from functools import cache

import pytest

from leitfaden_core.errors import LeitfadenError
from leitfaden_core.faults import fault_kinds
from leitfaden_core.lessons import (
    Proposal,
    Wish,
    mark_answer,
    propose,
    publishing_problems,
    right_answer,
    station_key,
    station_view,
)
from leitfaden_core.lessons.proposal import LONGEST, SHORTEST
from proposals import assert_whole

#: From four families, over four rigs; every page on every rig is tried in tests/long.
SOME = [("narrowband", "R2"), ("hot_film_meter", "R1"), ("egr_valves", "R4")]


@cache
def proposed(page: str, rig: str) -> Proposal:
    return propose(Wish(page, rig))


@pytest.mark.parametrize(("page", "rig"), SOME)
def test_a_proposal_is_whole_and_nothing_in_it_warns(page: str, rig: str) -> None:
    assert_whole(proposed(page, rig), rig)


@pytest.mark.parametrize(("page", "rig"), SOME[:2])
def test_learners_can_be_given_it_and_get_all_points_for_right_answers(page: str, rig: str) -> None:
    lesson = proposed(page, rig).lesson
    assert publishing_problems(lesson) == []
    for k in range(len(lesson.stations)):
        station_view(lesson, k, 23)
        key = station_key(lesson, k, 23)
        mark = mark_answer(lesson, k, 23, right_answer(key.kind, key.model_dump()["parts"]))
        assert mark.points is None or mark.points == pytest.approx(1.0), key.kind


def test_what_gives_the_fault_away_is_not_among_the_lanes() -> None:
    made = propose(Wish("false_air", "R1"))
    told = made.reasons[0]
    for station in made.lesson.stations:
        if station.kind == "show":
            assert "Total trim" in told and "total_trim" not in station.channels


@pytest.mark.parametrize(("page", "rig"), SOME[:2])
def test_no_station_names_the_fault_before_it_is_to_be_concluded(page: str, rig: str) -> None:
    lesson = proposed(page, rig).lesson
    kind = fault_kinds.get(lesson.faults[0].kind)
    shown = lesson.title + lesson.goal
    for k, station in enumerate(lesson.stations):
        if station.kind == "conclude":
            break
        shown += station.title + station_view(lesson, k, 23).model_dump_json(exclude={"text"})
    else:
        pytest.fail("nothing is concluded")
    assert kind.label not in shown


def test_the_level_decides_the_size_and_the_minutes_are_met() -> None:
    sizes = []
    for level in ("start", "journeyman", "expert"):
        made = propose(Wish("false_air", "R1", "manifold_vacuum_leak", level, 90))
        sizes.append(float(made.lesson.faults[0].params["area_mm2"]))
        assert abs(sum(made.minutes.values()) - 90) <= 9
    assert sizes[0] > sizes[1] > sizes[2]


@pytest.mark.parametrize("minutes", [SHORTEST, LONGEST])
def test_minutes_are_met_at_both_ends(minutes: int) -> None:
    made = propose(Wish("false_air", "R1", minutes=minutes))
    assert sum(made.minutes.values()) == pytest.approx(minutes, rel=0.1) and min(made.minutes.values()) >= 2


def test_the_same_wish_gives_the_same_lesson() -> None:
    assert propose(Wish("ect", "R1")).lesson == propose(Wish("ect", "R1")).lesson


@pytest.mark.parametrize(
    ("wish", "words"),
    [
        (Wish("flux", "R1"), "atlas page"),
        (Wish("wideband", "R1"), "engine with this device"),
        (Wish("narrowband", "R1", "boost_leak"), "fault of this device"),
        (Wish("narrowband", "R1", "", "master"), "level"),  # type: ignore[arg-type]
        (Wish("narrowband", "R1", minutes=SHORTEST - 1), "minutes"),
        (Wish("narrowband", "R1", minutes=LONGEST + 1), "minutes"),
        (Wish("baro_sensor", "R1"), "no fault of this device"),
    ],
)
def test_a_wish_that_cannot_be_met_gets_a_sentence(wish: Wish, words: str) -> None:
    with pytest.raises(LeitfadenError, match=words):
        propose(wish)
