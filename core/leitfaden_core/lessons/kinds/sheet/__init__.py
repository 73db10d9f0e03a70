"""Sheet: several readings of one engine are looked at together, and so are the next engine's. Sound or not, and by
which?

Two readings make a pair that must agree, twelve a whole data list. What is right follows from the readings as a list,
by the same rule as everywhere (Holm 1979): single values outside their band may be chance, and are no alarm.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from statistics import fmean
from typing import Annotated, Any, Literal

from pydantic import Field, model_validator

from leitfaden_core.chance import chance
from leitfaden_core.errors import MissingPart
from leitfaden_core.expect import individual_engine
from leitfaden_core.judge import Reading, SchoolRules, Verdict, VerdictKind, judge_together
from leitfaden_core.lessons.item import CAR_SHARE, STRANGERS_FROM, Item, read_value, reading_of, sized, trace_along
from leitfaden_core.lessons.kind import (
    BLANK,
    Draw,
    FairnessWarning,
    Mark,
    Ruling,
    StationKind,
    at_its_place,
    taking_out,
    value_in_words,
)
from leitfaden_core.lessons.shapes import (
    Answer,
    KeyPart,
    MarkedStation,
    ReadingPlace,
    StationDocument,
    StationKey,
    StationReading,
    StationView,
    Trace,
)
from leitfaden_core.lessons.showing import showing_places
from leitfaden_core.quantities import UnitSystem, shown
from leitfaden_core.simulate import Run, cached_run
from leitfaden_core.words import say

#: Readings of one sheet, engines, and readings that can be looked at as traces beside each other.
MOST_READINGS, MOST_ENGINES, MOST_TRACES = 12, 4, 4
#: From so many engines on, one at least is sound and one is not. [-]
BOUND_FROM = 3
Said = Literal["sound", "faulty"]
OFF = (VerdictKind.SUSPECT, VerdictKind.FAULTY)


class Sheet(StationDocument):
    """The readings of a sheet, of how many engines, and how many words are asked for.

    ``faulty_percent``: the chance of each engine to have the fault. ``as_traces``: a learner sees each along its
    condition instead of its value. ``answers``: so often a second the tool answers then; 0 is as often as it can. [1/s]
    """

    kind: Literal["sheet"] = "sheet"
    readings: Annotated[list[ReadingPlace], Field(min_length=2, max_length=MOST_READINGS, title="readings")]
    engines: Annotated[int, Field(ge=1, le=MOST_ENGINES, title="engines")] = 2
    words: Annotated[int, Field(ge=0, le=100, title="words asked for")] = 0
    faulty_percent: Annotated[int, Field(ge=10, le=90, title="faulty engines, %")] = 50
    as_traces: Annotated[bool, Field(title="shown as traces")] = False
    answers: Annotated[float, Field(ge=0, le=50, title="answers of the tool a second")] = 0.0

    @model_validator(mode="after")
    def _fit_beside_each_other(self) -> "Sheet":
        if self.as_traces and len(self.readings) > MOST_TRACES:
            raise ValueError(say("at most {most} readings can be looked at as traces", most=MOST_TRACES))
        return self


class SheetView(StationView):
    """Readings, engine by engine; as traces, their values are left out."""

    kind: Literal["sheet"] = "sheet"
    sheets: list[list[StationReading]]
    traces: list[list[Trace]] = []
    words: int


class SheetVerdict(Answer):
    """What is said of one engine, and the place of the reading that tells it."""

    kind: Literal["sheet"] = "sheet"
    verdict: Said | None = None
    tells: Annotated[int, Field(ge=0, lt=MOST_READINGS)] | None = None


class SheetAnswer(Answer):
    """A verdict for each engine, and why."""

    kind: Literal["sheet"] = "sheet"
    engines: Annotated[list[SheetVerdict], Field(max_length=MOST_ENGINES)] = []
    why: Annotated[str, Field(max_length=2000)] = ""


class SheetReading(StationReading):
    """A reading with its verdict in the list."""

    verdict: str
    reason: str
    tells: bool


class SheetPart(KeyPart):
    """What is right of one engine."""

    right: Said
    readings: list[SheetReading]


class SheetKey(StationKey):
    """Engine by engine."""

    kind: Literal["sheet"] = "sheet"
    parts: list[SheetPart] = []


class MarkedSheetPart(SheetPart):
    """What was said of it."""

    given: Said | None = None
    given_tells: int | None = None
    why: str = ""
    points: float | None = None


class MarkedSheet(MarkedStation):
    """Engine by engine, with what was said."""

    kind: Literal["sheet"] = "sheet"
    parts: list[MarkedSheetPart] = []


@dataclass(frozen=True)
class _Engine:
    run: Run
    faulty: bool


class SheetKind(StationKind[Sheet]):
    """Sound or not, and by which reading?"""

    id = "sheet"
    document = Sheet
    view_shape = SheetView
    answer_shape = SheetAnswer
    key_shape = SheetKey
    marked_shape = MarkedSheet

    def places(self, station: Sheet) -> list[ReadingPlace]:
        return station.readings

    def runs_read(self, item: Item[Sheet], place: ReadingPlace) -> list[Run]:
        return [engine.run for engine in _engines(item)]

    def work(self, station: Sheet) -> float:
        return station.engines * (0.5 + 0.2 * len(station.readings))

    def view(self, item: Item[Sheet]) -> SheetView:
        station, engines = item.station, _engines(item)
        sheets = [[_seen(item, engine.run, place) for place in station.readings] for engine in engines]
        if not station.as_traces:
            return SheetView(**self.heading(item), sheets=sheets, words=station.words)
        blank = [[reading.model_copy(update={"value": None}) for reading in sheet] for sheet in sheets]
        traces = [
            [trace_along(item.rig, engine.run, place, station.answers) for place in station.readings]
            for engine in engines
        ]
        return SheetView(**self.heading(item), sheets=blank, traces=traces, words=station.words)

    def answers(self, station: Sheet) -> float:
        return station.answers if station.as_traces else 0.0

    def key(self, item: Item[Sheet], rules: SchoolRules | None, units: UnitSystem) -> Sequence[SheetPart]:
        return [_part(item, engine.run, rules, units) for engine in _engines(item)]

    def draw(self, item: Item[Sheet]) -> Draw:
        parts = self.key(item, None, UnitSystem.METRIC)
        return Draw(None, sum(part.right == "faulty" for part in parts), len(parts))

    def warnings(self, item: Item[Sheet]) -> Iterator[FairnessWarning]:
        station = item.station
        if not item.setting.faults:
            text = say("{title}: the engine of this station has no fault; all are sound.", title=station.title)
            yield FairnessWarning(station.id, "one_verdict", text, (taking_out(),))
        elif not any(verdict.kind in OFF for verdict in _verdicts(item, item.car.run, None, UnitSystem.METRIC)):
            text = say(
                "{title}: no reading of the faulty engine stands out of its list; every engine looks sound.",
                title=station.title,
            )
            more = showing_places(item, "readings", station.readings, MOST_READINGS)
            yield FairnessWarning(station.id, "fault_not_visible", text, (*more, taking_out()))

    def rulings(self, part: SheetPart, parts: Sequence[SheetPart]) -> list[Ruling]:
        """Which engines are off is drawn for each learner; that a reading counts is the same for all."""
        words = {"passes": say("tells nothing here, whatever it shows")}
        found = []
        for reading in part.readings:
            others = [r.model_copy(update={"tells": False}) if r is reading else r for r in part.readings]
            changes = {"passes": {"readings": others, "right": "faulty" if any(r.tells for r in others) else "sound"}}
            found.append(Ruling(reading.place_name, at_its_place(reading), words, changes=changes))
        return found

    def require(self, view: SheetView, answer: SheetAnswer) -> None:
        given = answer.engines
        if len(given) != len(view.sheets) or any(entry.verdict is None for entry in given):
            raise MissingPart(say("a verdict is missing; say of each engine whether it is sound"))
        for entry, sheet in zip(given, view.sheets, strict=True):
            if entry.verdict == "faulty" and (entry.tells is None or entry.tells >= len(sheet)):
                raise MissingPart(say("choose the reading that tells it, of each engine that you call faulty"))
        if len(answer.why.split()) < view.words:
            raise MissingPart(say("write at least {words} words", words=view.words))

    def mark(self, parts: list[dict[str, Any]], answer: SheetAnswer, units: UnitSystem) -> Mark:
        given = [*answer.engines, *[SheetVerdict()] * (len(parts) - len(answer.engines))]
        marked = [
            part
            | {"given": entry.verdict, "given_tells": entry.tells, "points": _points(part, entry)}
            | {"why": answer.why if k == 0 else ""}
            for k, (part, entry) in enumerate(zip(parts, given, strict=False))
        ]
        return Mark(sum(part["points"] for part in marked) / len(marked), marked)

    def right_answer(self, parts: list[dict[str, Any]]) -> SheetAnswer:
        engines = []
        for part in parts:
            telling = next((k for k, reading in enumerate(part["readings"]) if reading["tells"]), None)
            engines.append(SheetVerdict(verdict=part["right"], tells=telling))
        return SheetAnswer(engines=engines, why="one two three four five " * 20)

    def weaknesses(self, parts: list[dict[str, Any]]) -> tuple[int, int]:
        pairs = [(part["right"], part["given"]) for part in parts]
        return pairs.count(("faulty", "sound")), pairs.count(("sound", "faulty"))

    def printed(self, view: Any, parts: Any, units: UnitSystem) -> list[list[str]]:
        names = [say("Engine {n}", n=k + 1) for k in range(len(view["sheets"]))]
        rows = [[say("Condition"), say("Reading"), *names]]
        for k, place in enumerate(view["sheets"][0]):
            if view["traces"]:
                values = [_in_words(traces[k], place["step"], units) for traces in view["traces"]]
            else:
                values = [value_in_words(sheet[k], units) for sheet in view["sheets"]]
            rows.append([place["condition_label"], place["label"], *values])
        right = [part["right"] for part in parts] if parts else [BLANK] * len(names)
        return [*rows, [say("Sound or faulty"), "", *right]]


def _in_words(trace: dict[str, Any], step: float, units: UnitSystem) -> str:
    """What paper tells of a trace: how far it goes, and its mean."""
    values = [value for value in trace["values"] if value is not None]
    if not values:
        return "–"
    told = (shown(value, trace["quantity"], step, units) for value in (min(values), max(values), fmean(values)))
    return say("{low} to {high}, mean {mean}", **dict(zip(("low", "high", "mean"), told, strict=True)))


def _points(part: dict[str, Any], entry: SheetVerdict) -> float:
    """Half for the verdict on a faulty engine, half for a reading that tells it."""
    if entry.verdict != part["right"]:
        return 0.0
    if part["right"] == "sound":
        return 1.0
    tells = entry.tells is not None and entry.tells < len(part["readings"])
    return 0.5 + 0.5 * float(tells and part["readings"][entry.tells]["tells"])


def _engines(item: Item[Sheet]) -> list[_Engine]:
    """Each another individual of the type; which of them have the fault is chance, and for several, at least one
    has.
    """
    station = item.station
    drawing = chance(item.seed, "sheets", station.id)
    while True:
        faulty = [bool(side) for side in drawing.random(station.engines) < station.faulty_percent / 100.0]
        if station.engines < BOUND_FROM or (any(faulty) and not all(faulty)):
            break
    return [_Engine(_driven(item, k, side), side) for k, side in enumerate(faulty)]


def _driven(item: Item[Sheet], number: int, faulty: bool) -> Run:
    rig, script = item.setting.rig, item.setting.script
    seed = int(chance(item.seed, "engine", item.station.id, number).integers(STRANGERS_FROM, 2 * STRANGERS_FROM))
    faults = [sized(fault, seed) for fault in item.setting.faults] if faulty else []
    return cached_run(rig, script, faults, seed, individual_engine(rig, seed, CAR_SHARE))


def _seen(item: Item[Sheet], run: Run, place: ReadingPlace) -> StationReading:
    made_up = run.substituted(place.condition, place.channel)
    return reading_of(item.rig, place, read_value(run, place), made_up)


def _verdicts(item: Item[Sheet], run: Run, rules: SchoolRules | None, units: UnitSystem) -> list[Verdict]:
    readings = [
        Reading(p.condition, p.channel, read_value(run, p), p.stat, run.substituted(p.condition, p.channel))
        for p in item.station.readings
    ]
    return judge_together(item.rig, readings, rules, units)


def _part(item: Item[Sheet], run: Run, rules: SchoolRules | None, units: UnitSystem) -> SheetPart:
    verdicts = _verdicts(item, run, rules, units)
    readings = [
        SheetReading(
            **_seen(item, run, place).model_dump(exclude={"digits"}),
            verdict=str(verdict.kind),
            reason=verdict.reason,
            tells=verdict.kind in OFF,
        )
        for place, verdict in zip(item.station.readings, verdicts, strict=True)
    ]
    return SheetPart(right="faulty" if any(reading.tells for reading in readings) else "sound", readings=readings)
