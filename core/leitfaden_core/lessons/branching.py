"""Branches: a station that only those get whose result at an earlier one was low, or good enough."""

from collections.abc import Mapping

from leitfaden_core.lessons.document import Lesson


def decides(lesson: Lesson, index: int) -> bool:
    """Whether later stations hang on the result of this one: then an answer to it is final."""
    name = lesson.stations[index].id
    return any(after.given_if and after.given_if.station == name for after in lesson.stations[index + 1 :])


def left_out(lesson: Lesson, points: Mapping[int, float | None]) -> list[int]:
    """Stations that a learner does not get, by the points (0..1) of what they have answered. One that hangs on a
    station that they did not get is left out too; one whose result is not there yet, or has no points, is given.
    """
    places = {station.id: k for k, station in enumerate(lesson.stations)}
    out: list[int] = []
    for index, station in enumerate(lesson.stations):
        branch = station.given_if
        before = places.get(branch.station, index) if branch else index
        if branch is None or before >= index:
            continue
        got = points.get(before)
        if before in out or (got is not None and not branch.holds(got)):
            out.append(index)
    return out
