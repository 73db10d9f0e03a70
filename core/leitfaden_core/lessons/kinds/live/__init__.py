"""Live: the engine runs under the learner's hands; they do what they may, and bring back values and what they
noticed.
"""

from collections.abc import Iterator, Sequence
from functools import partial
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, Field

from leitfaden_core.cautions import cautions_for
from leitfaden_core.channels import Layer, channel
from leitfaden_core.errors import MissingPart
from leitfaden_core.expect import band_of
from leitfaden_core.instruments import instruments
from leitfaden_core.judge import SchoolRules, judge_reading
from leitfaden_core.lessons.item import Item, read_value, reading_of
from leitfaden_core.lessons.kind import (
    BLANK,
    FairnessWarning,
    Mark,
    Ruling,
    StationKind,
    at_its_place,
    tolerance_ruling,
    typed_marked,
    value_in_words,
    without,
)
from leitfaden_core.lessons.shapes import (
    Answer,
    KeyPart,
    MarkedStation,
    Name,
    ReadingPlace,
    StationDocument,
    StationKey,
    StationReading,
    StationView,
    reading_label,
)
from leitfaden_core.live import HANDS, Beginning, Cover, Hand
from leitfaden_core.quantities import UnitSystem, parse_reading
from leitfaden_core.words import inside, say

#: A value read off a running engine is accepted within so many steps of its display, whatever the tolerance is.
STEPS = 3.0
#: And within so many standard deviations of sound engines: under hands it is as warm and as loaded as they made it. [-]
DEVIATIONS = 2.0


def _displayed(name: str) -> str:
    if channel(name).layer is not Layer.SCAN:
        raise ValueError(say("'{label}' is shown by no scan tool", label=channel(name).label))
    return name


Instrument = Annotated[Name, AfterValidator(lambda name: instruments.get(name).id)]


class Live(StationDocument):
    """An engine that keeps its secret; what may be touched on it, and readings to bring back."""

    kind: Literal["live"] = "live"
    channels: Annotated[
        list[Annotated[Name, AfterValidator(_displayed)]], Field(min_length=1, max_length=7, title="lanes")
    ]
    start: Annotated[Literal["hot", "cold"], Field(title="how the engine stands at first")] = "hot"
    hands: Annotated[list[Hand], Field(max_length=5, title="what learners may do")] = []
    instruments: Annotated[list[Instrument], Field(max_length=30, title="instruments")] = []
    readings: Annotated[list[ReadingPlace], Field(max_length=6, title="readings")] = []
    tolerance_percent: Annotated[float, Field(ge=1, le=50, title="tolerance, %")] = 8.0
    words: Annotated[int, Field(ge=0, le=100, title="words asked for")] = 5


class LiveView(StationView):
    """Lanes that stand there at first, what may be touched, and what to bring back."""

    kind: Literal["live"] = "live"
    channels: list[str]
    hands: list[str]
    instruments: list[str]
    readings: list[StationReading]
    words: int


class LiveAnswer(Answer):
    """Readings as they were typed, with their units, and what was noticed."""

    kind: Literal["live"] = "live"
    typed: Annotated[list[Annotated[str, Field(max_length=60)]], Field(max_length=6)] = []
    noticed: Annotated[str, Field(max_length=4000)] = ""


class LiveReading(StationReading):
    """A value that the engine shows in a condition, and what is accepted around it."""

    tolerance: float
    reason: str


class LivePart(KeyPart):
    """What the engine shows."""

    readings: list[LiveReading]


class LiveKey(StationKey):
    """The readings."""

    kind: Literal["live"] = "live"
    parts: list[LivePart] = []


class MarkedLiveReading(LiveReading):
    """A value beside what was brought back."""

    given: str | None = None
    points: float | None = None


class MarkedLivePart(KeyPart):
    """What was brought back."""

    readings: list[MarkedLiveReading]
    noticed: str = ""


class MarkedLive(MarkedStation):
    """Readings marked; words for the trainer."""

    kind: Literal["live"] = "live"
    parts: list[MarkedLivePart] = []


class LiveKind(StationKind[Live]):
    """A running engine."""

    id = "live"
    document = Live
    view_shape = LiveView
    answer_shape = LiveAnswer
    key_shape = LiveKey
    marked_shape = MarkedLive

    def places(self, station: Live) -> list[ReadingPlace]:
        return station.readings

    def channels(self, station: Live) -> list[str]:
        return [*station.channels, *(place.channel for place in station.readings)]

    def work(self, station: Live) -> float:
        return 4.0 + 1.5 * len(station.readings)

    def cautions(self, station: Live) -> tuple[str, ...]:
        acts = [f"do:{doing}" for hand in station.hands for doing in sorted(HANDS[hand])]
        found = cautions_for([*acts, *(f"instrument:{name}" for name in station.instruments)])
        return tuple(caution.id for caution in found)

    def engine(self, item: Item[Live]) -> tuple[Beginning, Cover]:
        station, script = item.station, item.setting.script
        begins = Beginning(
            rig=item.rig.id,
            seed=item.car_seed,
            start=station.start,
            weather=script.ambient,
            faults=item.faults,
            individual=item.individual,
        )
        return begins, Cover(hands=tuple(station.hands), instruments=tuple(station.instruments))

    def view(self, item: Item[Live]) -> LiveView:
        station = item.station
        return LiveView(
            **self.heading(item),
            channels=station.channels,
            hands=list(station.hands),
            instruments=[instruments.get(name).label for name in station.instruments],
            readings=[reading_of(item.rig, place, None) for place in station.readings],
            words=station.words,
        )

    def key(self, item: Item[Live], rules: SchoolRules | None, units: UnitSystem) -> Sequence[LivePart]:
        return [LivePart(readings=[_reading(item, place, rules, units) for place in item.station.readings])]

    def warnings(self, item: Item[Live]) -> Iterator[FairnessWarning]:
        station = item.station
        loose = {k for k, place in enumerate(station.readings) if channel(place.channel).layer is not Layer.SCAN}
        for k in sorted(loose):
            text = say(
                "{title}: {reading} is shown by no scan tool; on the running engine nobody can read it.",
                title=station.title,
                reading=reading_label(station.readings[k]),
            )
            yield FairnessWarning(station.id, "not_shown", text, without("readings", station.readings, loose, 0))
        if not station.readings and not station.words:
            text = say("{title}: nothing is asked; a learner may go on without a look.", title=station.title)
            yield FairnessWarning(station.id, "nothing_asked", text)

    def rulings(self, part: LivePart, parts: Sequence[LivePart]) -> list[Ruling]:
        def wider(times: float, chosen: LiveReading) -> dict[str, Any]:
            widened = chosen.model_copy(update={"tolerance": times * chosen.tolerance})
            return {"readings": [widened if reading is chosen else reading for reading in part.readings]}

        return [
            tolerance_ruling(reading.place_name, at_its_place(reading), partial(wider, chosen=reading))
            for reading in part.readings
        ]

    def require(self, view: LiveView, answer: LiveAnswer) -> None:
        typed = [*answer.typed, *[""] * (len(view.readings) - len(answer.typed))]
        for reading, text in zip(view.readings, typed, strict=False):
            if not text.strip():
                raise MissingPart(
                    say(
                        "a reading is missing; bring back {reading} at {where}",
                        reading=reading.label,
                        where=inside(reading.condition_label),
                    )
                )
            parse_reading(text, reading.quantity)
        if len(answer.noticed.split()) < view.words:
            raise MissingPart(say("write at least {words} words", words=view.words))

    def mark(self, parts: list[dict[str, Any]], answer: LiveAnswer, units: UnitSystem) -> Mark:
        readings = parts[0]["readings"]
        typed = [*answer.typed, *[""] * (len(readings) - len(answer.typed))]
        marked = [typed_marked(reading, text, units) for reading, text in zip(readings, typed, strict=False)]
        points = sum(reading["points"] for reading in marked) / len(marked) if marked else None
        return Mark(points, [parts[0] | {"readings": marked, "noticed": answer.noticed}])

    def right_answer(self, parts: list[dict[str, Any]]) -> LiveAnswer:
        typed = [f"{reading['value']:.6g} {reading['unit']}" for reading in parts[0]["readings"]]
        return LiveAnswer(typed=typed, noticed="one two three four five " * 20)

    def printed(self, view: Any, parts: Any, units: UnitSystem) -> list[list[str]]:
        rows = [[say("Condition"), say("Reading"), say("Value with unit")]]
        for k, reading in enumerate(view["readings"]):
            told = value_in_words(parts[0]["readings"][k], units) if parts else BLANK
            rows.append([reading["condition_label"], reading["label"], told])
        return [*rows, [say("What did you notice?"), BLANK, ""]]


def _reading(item: Item[Live], place: ReadingPlace, rules: SchoolRules | None, units: UnitSystem) -> LiveReading:
    """What the same engine shows along the lesson's drive, and what is accepted around it."""
    run = item.car.run
    value, made_up = read_value(run, place), run.substituted(place.condition, place.channel)
    band = band_of(item.rig, place.condition, place.channel, place.stat)
    shown = reading_of(item.rig, place, value, made_up)
    asked = abs(value) * item.station.tolerance_percent / 100.0
    widest = max(asked, STEPS * shown.step, DEVIATIONS * band.deviation if band else 0.0)
    verdict = judge_reading(item.rig, place.condition, place.channel, value, place.stat, rules, units, made_up)
    return LiveReading(**shown.model_dump(exclude={"digits"}), tolerance=widest, reason=verdict.reason)
