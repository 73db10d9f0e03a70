"""What a lesson says as a whole: time enough, cautions where hands are at work, no station that answers another."""

from collections.abc import Iterator
from math import ceil

from leitfaden_core.cautions import CAUTIONS
from leitfaden_core.faults import FaultSpec, fault_kinds
from leitfaden_core.lessons.document import Lesson
from leitfaden_core.lessons.kind import FairnessWarning, Remedy
from leitfaden_core.lessons.kinds import Station, kind_called
from leitfaden_core.words import say

#: Words of technical text that a learner reads in a minute; Brysbaert (2019) has 238 for plain prose, technical text
#: that is to be kept goes at about half of that.
WORDS_A_MINUTE = 120.0
#: A station is too long when it needs so many times its minutes.
TOO_LONG = 1.3


def thread_warnings(lesson: Lesson) -> Iterator[FairnessWarning]:
    """Warnings that need no model."""
    for index, station in enumerate(lesson.stations):
        yield from _too_long(station)
        yield from _no_caution(lesson, station)
        yield from _answered_before(lesson, index)
        yield from _hangs_on_nothing(lesson, index)


def minutes_needed(station: Station) -> float:
    """What a station takes: its text at a reader's pace, and what it asks. A trainer's estimate of the latter. [min]"""
    return len(station.text.split()) / WORDS_A_MINUTE + kind_called(station.kind).work(station)


def _too_long(station: Station) -> Iterator[FairnessWarning]:
    needed = minutes_needed(station)
    if station.minutes and needed > TOO_LONG * station.minutes:
        enough = ceil(needed)
        text = say(
            "{title}: {minutes} min are planned; reading and answering take about {needed}.",
            title=station.title,
            minutes=station.minutes,
            needed=enough,
        )
        remedy = Remedy(say("Plan {count} min", count=enough), {"minutes": enough})
        yield FairnessWarning(station.id, "too_long", text, (remedy,))


def _no_caution(lesson: Lesson, station: Station) -> Iterator[FairnessWarning]:
    """Cautions of what is done by hand there, as far as they are neither at the station nor in the lesson's list."""
    wanted = [CAUTIONS[name] for name in kind_called(station.kind).cautions(station)]
    missing = [caution for caution in wanted if caution.words not in lesson.cautions]
    if missing:
        text = say(
            "{title}: there is work by hand, and the lesson does not say: {caution}",
            title=station.title,
            caution=" ".join(caution.words for caution in missing),
        )
        listed = [*lesson.cautions, *(caution.words for caution in missing)]
        remedy = Remedy(say("Put it among the cautions"), lesson={"cautions": listed})
        yield FairnessWarning(station.id, "caution_missing", text, (remedy,))


def _hangs_on_nothing(lesson: Lesson, index: int) -> Iterator[FairnessWarning]:
    """A branch on a station that is not before this one, or that nobody marks: everybody gets it then."""
    station, branch = lesson.stations[index], lesson.stations[index].given_if
    if branch is None:
        return
    for_all = Remedy(say("Give it to everybody"), {"given_if": None})
    before = next((other for other in lesson.stations[:index] if other.id == branch.station), None)
    if before is None:
        after = any(other.id == branch.station for other in lesson.stations)
        moved = (Remedy(say("Move it behind"), behind=branch.station),) if after else ()
        text = say("{title}: it hangs on a station that does not come before it.", title=station.title)
        yield FairnessWarning(station.id, "branch_on_nothing", text, (*moved, for_all))
    elif not kind_called(before.kind).marks:
        text = say("{title}: it hangs on '{before}', which has no points.", title=station.title, before=before.title)
        yield FairnessWarning(station.id, "branch_on_nothing", text, (for_all,))


def _answered_before(lesson: Lesson, index: int) -> Iterator[FairnessWarning]:
    """A cause that a station asks for, told by a title, a text or a station before it."""
    station = lesson.stations[index]
    if not kind_called(station.kind).asks_cause:
        return
    asked = _may_be_asked(lesson, station)
    for before in lesson.stations[:index]:
        kind, faults = kind_called(before.kind), _may_be_asked(lesson, before)
        if _same(kind.names(before, faults), asked):
            text = say(
                "{title}: '{before}' names the cause before it is asked for here.",
                title=station.title,
                before=before.title,
            )
            remedies = (*kind.silenced(before), Remedy(say("Move it behind"), behind=station.id))
            yield FairnessWarning(before.id, "cause_named", text, remedies)
    for fault in asked:
        told = fault_kinds.get(fault.kind).label.lower()
        places = [
            lesson.title,
            lesson.goal,
            *(text for s in lesson.stations[: index + 1] for text in (s.title, s.text)),
        ]
        if any(told in place.lower() for place in places):
            text = say("{title}: the words of the lesson name the cause: '{cause}'.", title=station.title, cause=told)
            yield FairnessWarning(station.id, "cause_in_words", text)


def _may_be_asked(lesson: Lesson, station: Station) -> tuple[FaultSpec, ...]:
    """What may be wrong at a station, for whatever learner."""
    if station.vehicle.faults is not None:
        return tuple(station.vehicle.faults)
    return tuple(fault for way in lesson.causes() for fault in way)


def _same(named: list[FaultSpec], asked: tuple[FaultSpec, ...]) -> bool:
    return bool({fault.kind for fault in named} & {fault.kind for fault in asked})
