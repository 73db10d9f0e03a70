"""A remedy, made."""

from leitfaden_core.lessons.document import Lesson, parse_lesson
from leitfaden_core.lessons.kind import Remedy


def remedied(lesson: Lesson, station: str, remedy: Remedy) -> Lesson:
    """The lesson with a remedy for that station. BadDocument when it does not fit any more."""
    document = lesson.model_dump(mode="json") | remedy.lesson
    stations = document["stations"]
    mine = next((entry for entry in stations if entry["id"] == station), None)
    if mine is None:
        return lesson
    mine |= remedy.station
    if remedy.takes_out or remedy.behind:
        stations.remove(mine)
    if remedy.behind:
        stations.insert([entry["id"] for entry in stations].index(remedy.behind) + 1, mine)
    return parse_lesson(document)
