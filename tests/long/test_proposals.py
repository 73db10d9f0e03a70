"""A whole lesson for every page of the atlas and every aim of the list, on every engine that is meant for it."""

import math
import os
from functools import lru_cache

import pytest

from leitfaden_core.atlas import page_rigs, pages
from leitfaden_core.diagnose import table
from leitfaden_core.errors import MissingPart
from leitfaden_core.expect import compute_sheet, has_sheet, keep_sheet, sheet_text
from leitfaden_core.lessons import Wish, aims, page_for, propose
from leitfaden_core.lessons.kinds import kind_called
from leitfaden_core.lessons.kinds.conclude import explains
from leitfaden_core.quantities import UnitSystem
from leitfaden_core.rigs import load_rig
from proposals import assert_whole

pytestmark = pytest.mark.skipif(not os.environ.get("LEITFADEN_LONG"), reason="only with ./leitfaden test --long")

#: On variants too; what is not in the store yet is computed first.
PLACES = sorted(((page.id, rig) for page in pages().values() for rig in page_rigs(page)), key=lambda place: place[1])
#: Their faults show in nothing that a display of that engine holds.
UNSEEN = {(page, rig) for page, rig in PLACES if page == "baro_sensor" and rig[:2] in ("R1", "R5") and rig != "R1-MAP"}


@lru_cache
def with_store(rig: str) -> None:
    """A variant's sheet and table are not shipped: the server computes them when they are asked for."""
    if not has_sheet(load_rig(rig)):
        keep_sheet(load_rig(rig), sheet_text(compute_sheet(load_rig(rig))))
    table(load_rig(rig))


@pytest.mark.parametrize(("page", "rig"), PLACES)
def test_a_proposal_is_whole_and_nothing_in_it_warns(page: str, rig: str) -> None:
    with_store(rig)
    if (page, rig) in UNSEEN:
        with pytest.raises(MissingPart, match="can be seen"):
            propose(Wish(page, rig))
    else:
        assert_whole(propose(Wish(page, rig)), rig)


def test_every_page_has_an_engine_to_propose_for() -> None:
    assert {page for page, rig in PLACES if (page, rig) not in UNSEEN} == set(pages())


AIMS = [(aim.id, rig) for aim in aims().values() for rig in aim.rigs if page_for(aim, rig)]


@pytest.mark.parametrize(("name", "rig"), AIMS)
def test_a_lesson_for_an_aim_is_whole_and_nothing_in_it_warns(name: str, rig: str) -> None:
    with_store(rig)
    aim = aims()[name]
    assert_whole(propose(Wish("", rig, level=aim.level, minutes=aim.minutes, aim=name)), rig, aim.minutes)


@pytest.mark.parametrize(("name", "rig"), AIMS[::5])
def test_trying_every_size_of_every_cause_explains_no_other_causes(
    name: str, rig: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    with_store(rig)
    lesson = propose(Wish("", rig, level=aims()[name].level, minutes=aims()[name].minutes, aim=name)).lesson
    for k, station in enumerate(lesson.stations):
        if station.kind == "conclude":
            searched, whole = (
                [
                    (part.label, part.explains)
                    for part in kind_called("conclude").key(lesson.item(k, 0), None, UnitSystem.METRIC)
                ]
                for doubtful in (explains.DOUBTFUL, math.inf)
                if monkeypatch.setattr(explains, "DOUBTFUL", doubtful) is None
            )
            assert searched == whole
