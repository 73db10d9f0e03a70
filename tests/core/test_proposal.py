"""A whole lesson out of an aim: every station of it can be given, marked and defended."""

from functools import cache

import pytest

from leitfaden_core.atlas import myths
from leitfaden_core.channels import channel
from leitfaden_core.errors import LeitfadenError
from leitfaden_core.faults import fault_kinds
from leitfaden_core.lessons import (
    Proposal,
    Wish,
    aims,
    mark_answer,
    page_for,
    propose,
    publishing_problems,
    right_answer,
    station_key,
    station_view,
)
from leitfaden_core.lessons.proposal import LONGEST, SHORTEST
from leitfaden_core.lessons.proposal.plan import possible
from leitfaden_core.rigs import load_rig
from leitfaden_core.workings import workings
from proposals import assert_whole

pytestmark = pytest.mark.lessons

#: From four families, over four rigs; every page on every rig is tried in tests/long.
SOME = [("hot_film_meter", "R1"), ("egr_valves", "R4")]


#: Aims of four families; every aim is tried in tests/long.
AIMS = [("map-hose-before-sensor", "R2"), ("trim-two-faults", "R1")]


@cache
def aimed(aim: str, rig: str) -> Proposal:
    known = aims()[aim]
    return propose(Wish("", rig, level=known.level, minutes=known.minutes, aim=aim))


class TestAims:
    def test_there_are_sixty_over_all_families_and_each_can_be_read(self) -> None:
        families = {aim.family for aim in aims().values()}
        assert len(aims()) >= 60 and len(families) == 9
        assert {name for aim in aims().values() for name in aim.after} <= set(aims())
        for aim in aims().values():
            assert any(page_for(aim, rig) for rig in aim.rigs), aim.id
            for name in (*aim.show, *aim.hide):
                channel(name)
            for name in aim.calculations:
                workings.get(name)
            for name in aim.known_errors:
                assert name in myths()

    def test_every_fault_of_an_aim_can_be_put_into_an_engine_that_it_names_at_all_sizes(self) -> None:
        for aim in aims().values():
            for fault in aim.faults:
                rigs = [load_rig(fault.rig)] if fault.rig else [load_rig(name) for name in aim.rigs]
                for size in ("easy", "medium", "hard"):
                    specs = fault.at(size)
                    assert any(all(possible(spec, rig) for spec in specs) for rig in rigs), (aim.id, fault.kind, size)

    @pytest.mark.parametrize(("aim", "rig"), AIMS)
    def test_a_lesson_for_an_aim_is_whole_and_shows_its_lanes_only(self, aim: str, rig: str) -> None:
        made, known = aimed(aim, rig), aims()[aim]
        assert_whole(made, rig, known.minutes)
        assert known.can in made.lesson.goal
        shown = {name for station in made.lesson.stations if station.kind == "show" for name in station.channels}
        assert shown and not shown & set(known.hide)
        assert set(shown) <= set(known.show)

    def test_its_own_misconceptions_are_asked_with_their_feedback(self) -> None:
        station = next(s for s in aimed("trim-two-faults", "R1").lesson.stations if s.kind == "myth")
        assert [entry.text for entry in station.own] == [m.says for m in aims()["trim-two-faults"].misconceptions]

    def test_two_faults_at_once_stay_two(self) -> None:
        assert len(aimed("trim-two-faults", "R1").lesson.faults) == 2


@cache
def proposed(page: str, rig: str) -> Proposal:
    return propose(Wish(page, rig))


@pytest.mark.parametrize(("page", "rig"), SOME)
def test_a_proposal_is_whole_and_nothing_in_it_warns(page: str, rig: str) -> None:
    assert_whole(proposed(page, rig), rig)


@pytest.mark.parametrize(("page", "rig"), SOME[:1])
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


@pytest.mark.parametrize(("page", "rig"), SOME[:1])
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


@pytest.mark.slow
def test_the_level_decides_the_size_and_the_minutes_are_met() -> None:
    sizes = []
    for level in ("start", "journeyman", "expert"):
        made = propose(Wish("false_air", "R1", "manifold_vacuum_leak", level, 90))
        sizes.append(float(made.lesson.faults[0].params["area_mm2"]))
        assert abs(sum(made.minutes.values()) - 90) <= 9
    assert sizes[0] > sizes[1] > sizes[2]


@pytest.mark.slow
@pytest.mark.parametrize("minutes", [SHORTEST, LONGEST])
def test_minutes_are_met_at_both_ends(minutes: int) -> None:
    made = propose(Wish("false_air", "R1", minutes=minutes))
    assert sum(made.minutes.values()) == pytest.approx(minutes, rel=0.1) and min(made.minutes.values()) >= 2


@pytest.mark.slow
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
        (Wish("", "R1", aim="fly"), "aim"),
        (Wish("", "R4", aim="maf-flat-error"), "engine for this aim|no fault of this aim"),
        (Wish("", "R1", "boost_leak", aim="maf-flat-error"), "fault of this aim"),
    ],
)
def test_a_wish_that_cannot_be_met_gets_a_sentence(wish: Wish, words: str) -> None:
    with pytest.raises(LeitfadenError, match=words):
        propose(wish)
