"""Freezing the items of an assignment: what the learner sees, the lanes, the key.

Only this module asks the model for practice.
"""

import gzip
from typing import Any

import orjson
from django.db import transaction

from leitfaden_core import __version__
from leitfaden_core.errors import LeitfadenError
from leitfaden_core.lessons import Lesson, parse_lesson, station_key, station_lanes, station_view
from leitfaden_core.quantities import UnitSystem
from leitfaden_core.words import in_language
from practice.models import Assignment, ItemKey, ItemLanes, ItemView
from simulations.lanes import drawn
from simulations.sheets import fetch_sheet

#: What a learner is told when the model fails at a station after all. The station is passed and not marked.
CANNOT = "This station cannot be computed for your car. Your trainer can see why; go on, it does not count."


def prepare_station(assignment_id: int, station: int) -> None:
    """Freeze one station of an assignment, unless that was done."""
    assignment = Assignment.objects.select_related("version__rules").filter(pk=assignment_id).first()
    if assignment is None or ItemView.objects.filter(assignment=assignment, station=station).exists():
        return
    lesson = parse_lesson(assignment.version.document)
    if assignment.closed_book:
        lesson = lesson.model_copy(update={"closed_book": True})
    try:
        for rig in lesson.engines():
            fetch_sheet(rig)
        view, lanes, key = _computed(lesson, station, assignment)
    except LeitfadenError as error:
        view, lanes, key = _failed(lesson, station, error)
    with transaction.atomic():
        _view, made = ItemView.objects.get_or_create(
            assignment=assignment, station=station, defaults={"view": view, "core_version": __version__}
        )
        if made:
            ItemKey.objects.create(
                assignment=assignment, station=station, kind=view["kind"], title=view["title"], parts=key
            )
            if lanes is not None:
                ItemLanes.objects.create(assignment=assignment, station=station, content=lanes)


def _computed(
    lesson: Lesson, station: int, assignment: Assignment
) -> tuple[dict[str, Any], bytes | None, dict[str, Any]]:
    rules, seed = assignment.version.rules.book.of_trims(), assignment.seed
    shown = drawn(station_lanes(lesson, station, seed))
    lanes = None if shown is None else gzip.compress(orjson.dumps(shown, option=orjson.OPT_SERIALIZE_NUMPY), 6, mtime=0)
    key = {
        str(units): _plain(station_key(lesson, station, seed, rules, units).model_dump()["parts"])
        for units in UnitSystem
    }
    return _plain(station_view(lesson, station, seed).model_dump()), lanes, key


def _failed(lesson: Lesson, station: int, error: LeitfadenError) -> tuple[dict[str, Any], None, dict[str, Any]]:
    asked = lesson.stations[station]
    view = {
        "index": station,
        "id": asked.id,
        "kind": "explain",
        "title": asked.title,
        "text": asked.text,
        "problem": in_language(CANNOT),
    }
    return view, None, {"problem": error.message}


def _plain(data: Any) -> Any:
    """As it will come back from the database: a value that is not a number is null."""
    return orjson.loads(orjson.dumps(data, option=orjson.OPT_SERIALIZE_NUMPY))
