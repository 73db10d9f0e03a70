"""What holds for readings of any kind of station: they mean something where they are taken, and an instrument resolves
them.
"""

from collections.abc import Iterator
from typing import Any

from leitfaden_core.channels import Layer, channel
from leitfaden_core.expect import band_of
from leitfaden_core.instruments.kinds.scan import answer_rate
from leitfaden_core.judge import no_meaning
from leitfaden_core.lessons.item import Item
from leitfaden_core.lessons.kind import FairnessWarning, Remedy
from leitfaden_core.lessons.kinds import kind_called
from leitfaden_core.lessons.shapes import ReadingPlace, reading_label
from leitfaden_core.rigs import rig_channels
from leitfaden_core.scripts import condition
from leitfaden_core.words import inside, say

#: A swing needs so many answers of a scan tool to be counted, an edge so many to be timed.
ANSWERS_A_SWING, ANSWERS_AN_EDGE = 4.0, 2.0


def reading_warnings(item: Item[Any]) -> Iterator[FairnessWarning]:
    """Readings without a meaning in their condition, unless that is what is asked, and those that go by too fast."""
    kind = kind_called(item.station.kind)
    for place in kind.places(item.station):
        why = None if kind.asks_meaning else no_meaning(item.rig, place.condition, place.channel)
        if why is not None:
            text = say(
                "{title}: {reading} at {where} decides nothing: {why}.",
                title=item.station.title,
                reading=reading_label(place),
                where=inside(condition(place.condition).label),
                why=why,
            )
            yield FairnessWarning(item.station.id, "no_meaning", text, _where_it_means(item, place))
        elif (rate := _too_fast(item, place)) is not None:
            text = say(
                (
                    "{title}: {reading} goes by faster than a scan tool on this engine can follow, which gets "
                    "{rate:.0f} answers a second."
                ),
                title=item.station.title,
                reading=reading_label(place),
                rate=rate,
            )
            quicker = Remedy(say("Let the tool answer as often as it can"), {"answers": 0.0})
            remedies = (quicker,) if kind.answers(item.station) else _at_the_pin(item, place)
            yield FairnessWarning(item.station.id, "instrument_too_slow", text, remedies)


def _where_it_means(item: Item[Any], place: ReadingPlace) -> tuple[Remedy, ...]:
    """The same reading in the first condition of the drive in which it decides something."""
    for where in item.setting.script.conditions():
        known = band_of(item.rig, where, place.channel, place.stat) is not None
        if known and no_meaning(item.rig, where, place.channel) is None:
            other = place.model_copy(update={"condition": where})
            return _exchanged(item, place, other, say("Take it at: {condition}", condition=condition(where).label))
    return ()


def _too_fast(item: Item[Any], place: ReadingPlace) -> float | None:
    """Answers a second that a full scan tool gets, when swings or edges of healthy engines are too quick for them."""
    if place.stat not in ("freq", "edge") or channel(place.channel).layer != Layer.SCAN:
        return None
    band, rate = band_of(item.rig, place.condition, place.channel, place.stat), answer_rate(item.rig, "full")
    slower = kind_called(item.station.kind).answers(item.station)
    rate = min(rate, slower) if slower else rate
    if band is None:
        return None
    quick = band.mean * ANSWERS_A_SWING if place.stat == "freq" else ANSWERS_AN_EDGE / max(band.mean, 1e-6)
    return rate if quick > rate else None


def _at_the_pin(item: Item[Any], place: ReadingPlace) -> tuple[Remedy, ...]:
    """The same at the pin, where an oscilloscope reads it."""
    pin = place.channel.replace("_v", "_pin_v")
    if pin == place.channel or pin not in rig_channels(item.rig):
        return ()
    return _exchanged(item, place, place.model_copy(update={"channel": pin}), say("Take it at the pin"))


def _exchanged(item: Item[Any], old: ReadingPlace, new: ReadingPlace, says: str) -> tuple[Remedy, ...]:
    """The station with one reading place in the place of another, wherever it names it; none when it has that
    already.
    """
    was, becomes = old.model_dump(mode="json"), new.model_dump(mode="json")
    changed: dict[str, Any] = {}
    for name, value in item.station.model_dump(mode="json").items():
        if value == was:
            changed[name] = becomes
        elif isinstance(value, list) and was in value:
            if becomes in value:
                return ()
            changed[name] = [becomes if entry == was else entry for entry in value]
    return (Remedy(says, changed),)
