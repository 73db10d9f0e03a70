"""A station as an answer: the document's words and the model's numbers, key left out."""

from dataclasses import asdict
from typing import Any

from leitfaden_core.lessons import Lesson, Measure, Show, car_for, station_view
from library.lanes import bands, lanes


def station_out(lesson: Lesson, index: int, seed: int) -> dict[str, Any]:
    """What a learner with this seed sees at a station."""
    station = lesson.stations[index]
    view = asdict(station_view(lesson, index, seed))
    return {
        "index": index,
        "id": station.id,
        "kind": station.kind,
        "title": station.title,
        "text": station.text,
        "drawing": getattr(station, "drawing", "none"),
        "channels": view["channels"],
        "show_good": view["show_good"],
        "focus": station.focus
        if isinstance(station, Show)
        else (station.reading.condition if isinstance(station, Measure) else None),
        "readings": view["readings"],
        "causes": view["causes"],
        "has_lanes": isinstance(station, (Show, Measure)),
    }


def station_lanes(lesson: Lesson, index: int, seed: int) -> dict[str, Any] | None:
    """Lanes of a station for this seed; the sound run and the band only where the station shows them."""
    station = lesson.stations[index]
    if isinstance(station, Show):
        car = car_for(lesson, seed)
        drawn = lanes(car.run, station.channels, car.good if station.show_good else None)
        return drawn | {"readings": [], "bands": bands(lesson.engine, station.channels) if station.show_good else []}
    if isinstance(station, Measure):
        car = car_for(lesson, seed)
        run = car.run if station.faulty else car.good
        return lanes(run, [station.reading.channel], None) | {"readings": [], "bands": []}
    return None
