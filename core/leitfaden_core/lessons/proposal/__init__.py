"""A whole lesson: for an aim of the list, or for a device of the atlas; an engine, a fault, a level, minutes.

The order is that of the work: understand, know good, predict, watch, judge, look, prove the circuit, run the engine,
calculate, conclude, separate, order, verify, look back. Everything in it follows from the model: which readings tell
the fault, which of them would give it away too early, which causes look alike and which test parts them. What the
checks of fairness complain about is taken out or exchanged until they are content.
"""

from dataclasses import dataclass

from leitfaden_core.atlas import has_device, page_rigs
from leitfaden_core.atlas.documents import page_called
from leitfaden_core.errors import OutOfRange, UnknownName
from leitfaden_core.lessons.aims import aim_called
from leitfaden_core.lessons.checks import minutes_needed
from leitfaden_core.lessons.document import LEVELS, Lesson, Level
from leitfaden_core.lessons.proposal.heeding import heeded
from leitfaden_core.lessons.proposal.plan import Plan, for_aim, for_device
from leitfaden_core.lessons.proposal.stations import Making
from leitfaden_core.rigs import load_rig
from leitfaden_core.words import say

SHORTEST, LONGEST = 25, 180
#: Stations that a lesson keeps, and what goes first when there is no time for all.
FEWEST = 8
SPARED_FIRST = (
    *("in-which-order", "what-the-eye-sees", "which-pin-is-which", "read-it", "sound-or-not"),
    *("which-test", "what-will-it-do", "run-it-yourself", "work-it-out"),
)


@dataclass(frozen=True)
class Wish:
    """What a trainer wants: an aim, or else a device of the atlas; an engine that it is meant for, a fault (empty: the
    one that shows best), for whom, and how long. [min]
    """

    page: str
    rig: str
    fault: str = ""
    level: Level = "journeyman"
    minutes: int = 60
    aim: str = ""


@dataclass(frozen=True)
class Proposal:
    """A lesson with the minutes of its stations, and why it is as it is."""

    lesson: Lesson
    minutes: dict[str, int]
    reasons: tuple[str, ...]


def propose(wish: Wish) -> Proposal:
    """A lesson for a wish.

    Raises
    ------
    UnknownName, OutOfRange
        For an aim, page, engine, fault or level that there is not, and for minutes outside ``SHORTEST`` to ``LONGEST``.
    MissingPart
        Where no fault of the device or the aim can be seen on that engine.
    """
    if wish.level not in LEVELS:
        raise UnknownName("level", wish.level, LEVELS)
    if not SHORTEST <= wish.minutes <= LONGEST:
        raise OutOfRange(say("minutes of a lesson"), wish.minutes, SHORTEST, LONGEST, "min")
    made = Making(_plan(wish))
    lesson = heeded(made.lesson(made.stations()).model_copy(update={"level": wish.level}))
    about_wires = bool(wish.aim) and aim_called(wish.aim).family == "circuits"
    lesson = _fitting(lesson, wish.minutes, "which-pin-is-which" if about_wires else "")
    minutes = _minutes(lesson, wish.minutes)
    return Proposal(_told(lesson, minutes), minutes, made.reasons())


def _plan(wish: Wish) -> Plan:
    rig = load_rig(wish.rig)
    if wish.aim:
        return for_aim(aim_called(wish.aim), rig, wish.fault, wish.level)
    page = page_called(wish.page)
    if not has_device(page, rig):
        raise UnknownName("engine with this device", rig.id, page_rigs(page))
    return for_device(page, rig, wish.fault, wish.level)


def _fitting(lesson: Lesson, wish: int, kept: str) -> Lesson:
    """Without what can best be spared, as long as it takes more than the wish; what is ``kept`` never goes."""
    stations = list(lesson.stations)
    for name in SPARED_FIRST:
        if name == kept:
            continue
        if len(stations) <= FEWEST or sum(map(minutes_needed, stations)) <= wish:
            break
        stations = [station for station in stations if station.id != name]
    return lesson.model_copy(update={"stations": stations})


def _minutes(lesson: Lesson, wish: int) -> dict[str, int]:
    """Minutes of each station: what each takes, stretched to the wish, at least two."""
    needed = {station.id: minutes_needed(station) for station in lesson.stations}
    stretch = wish / sum(needed.values())
    return {name: max(2, round(stretch * minutes)) for name, minutes in needed.items()}


def _told(lesson: Lesson, minutes: dict[str, int]) -> Lesson:
    """The lesson with the minutes at its stations."""
    stations = [station.model_copy(update={"minutes": minutes[station.id]}) for station in lesson.stations]
    return lesson.model_copy(update={"stations": stations})
