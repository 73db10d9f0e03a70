"""What every proposed lesson promises."""

from leitfaden_core.lessons import Proposal, check_lesson, check_words, station_key


def assert_whole(made: Proposal, rig: str, minutes: int = 60) -> None:
    """Eight stations of five kinds, minutes within a tenth, no warning, and exactly one cause that explains."""
    lesson = made.lesson
    assert len(lesson.stations) >= 8 and len({station.kind for station in lesson.stations}) >= 5
    assert check_lesson(lesson) == []
    assert check_words(lesson) == []
    assert abs(sum(made.minutes.values()) - minutes) <= minutes / 10
    assert [station.minutes for station in lesson.stations] == list(made.minutes.values())
    assert lesson.rig == rig and lesson.faults and lesson.cautions and made.reasons
    for k, station in enumerate(lesson.stations):
        if station.kind == "conclude":
            parts = station_key(lesson, k, 0).model_dump()["parts"]
            assert len(parts) >= 3 and [part["explains"] for part in parts].count(True) == 1
            assert all(part["distance"] > 3.0 for part in parts if not part["explains"])
