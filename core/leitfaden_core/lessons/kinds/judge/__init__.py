"""Judge: readings of a learner's car and of a sound one; is each good, suspect, faulty, or not decidable here?"""

from collections.abc import Iterator, Sequence
from typing import Any

from leitfaden_core.errors import MissingPart
from leitfaden_core.expect import band_of
from leitfaden_core.judge import ANSWERS, SchoolRules, VerdictKind, judge_reading
from leitfaden_core.lessons.item import Item, read_value, reading_of
from leitfaden_core.lessons.kind import (
    BLANK,
    Draw,
    FairnessWarning,
    Mark,
    Question,
    Remedy,
    Ruling,
    StationKind,
    at_its_place,
    taking_out,
    value_in_words,
)
from leitfaden_core.lessons.kind import (
    VERDICTS as VERDICT_WORDS,
)
from leitfaden_core.lessons.kinds.judge.document import (
    MOST_POOL,
    Judge,
    JudgeAnswer,
    JudgeKey,
    JudgePart,
    JudgeView,
    MarkedJudge,
)
from leitfaden_core.lessons.kinds.judge.draw import drawn_readings, run_of
from leitfaden_core.lessons.shapes import Override, ReadingPlace
from leitfaden_core.lessons.showing import dial, in_that_size, showing_places, smallest_told
from leitfaden_core.quantities import UnitSystem
from leitfaden_core.simulate import Run
from leitfaden_core.words import say

VERDICTS = tuple(str(kind) for kind in ANSWERS)
#: Suspect and faulty differ in size, not in side: half the points.
NEIGHBOURS = ({"suspect", "faulty"}, {"good", "suspect"})


class JudgeKind(StationKind[Judge]):
    """A verdict for each reading."""

    id = "judge"
    asks_meaning = True
    document = Judge
    view_shape = JudgeView
    answer_shape = JudgeAnswer
    key_shape = JudgeKey
    marked_shape = MarkedJudge

    def places(self, station: Judge) -> list[ReadingPlace]:
        return station.pool

    def runs_read(self, item: Item[Judge], place: ReadingPlace) -> list[Run]:
        return [item.car.run, item.stranger]

    def work(self, station: Judge) -> float:
        return 0.7 * station.count

    def view(self, item: Item[Judge]) -> JudgeView:
        readings = [
            reading_of(
                item.rig,
                place,
                read_value(run_of(item, faulty), place),
                run_of(item, faulty).substituted(place.condition, place.channel),
            )
            for place, faulty in drawn_readings(item)
        ]
        return JudgeView(**self.heading(item), readings=readings)

    def key(self, item: Item[Judge], rules: SchoolRules | None, units: UnitSystem) -> Sequence[JudgePart]:
        return [self._part(item, place, faulty, rules, units) for place, faulty in drawn_readings(item)]

    def _part(
        self, item: Item[Judge], place: ReadingPlace, faulty: bool, rules: SchoolRules | None, units: UnitSystem
    ) -> JudgePart:
        run = run_of(item, faulty)
        value = read_value(run, place)
        made_up = run.substituted(place.condition, place.channel)
        verdict = judge_reading(item.rig, place.condition, place.channel, value, place.stat, rules, units, made_up)
        return JudgePart(
            **reading_of(item.rig, place, value, made_up).model_dump(),
            verdict=str(verdict.kind),
            reason=verdict.reason,
            band_low=verdict.band.low if verdict.band else None,
            band_high=verdict.band.high if verdict.band else None,
            from_faulty_car=faulty,
        )

    def draw(self, item: Item[Judge]) -> Draw:
        away = []
        for part in self.key(item, None, UnitSystem.METRIC):
            place = ReadingPlace(condition=part.condition, channel=part.channel, stat=part.stat)  # type: ignore[arg-type]
            band = band_of(item.rig, place.condition, place.channel, place.stat)
            if part.verdict in ("suspect", "faulty") and band is not None and part.value is not None:
                away.append(abs(band.away(part.value)))
        return Draw(min(away, default=None), len(away), item.station.count)

    def warnings(self, item: Item[Judge]) -> Iterator[FairnessWarning]:
        station, run = item.station, item.car.run
        kinds = {
            judge_reading(
                item.rig,
                p.condition,
                p.channel,
                read_value(run, p),
                p.stat,
                substitute=run.substituted(p.condition, p.channel),
            ).kind
            for p in station.pool
        }
        if item.setting.faults and not kinds & {VerdictKind.SUSPECT, VerdictKind.FAULTY}:
            yield FairnessWarning(
                station.id, "fault_not_visible", _not_visible(item), (*_made_visible(item), taking_out())
            )
        if len(kinds) == 1:
            word = say(VERDICT_WORDS[next(iter(kinds))])
            text = say(
                "{title}: all readings of the faulty car get the same verdict ({word}).", title=station.title, word=word
            )
            more = showing_places(item, "pool", station.pool, MOST_POOL) if kinds == {VerdictKind.GOOD} else ()
            yield FairnessWarning(station.id, "one_verdict", text, (*more, taking_out()))
        if station.count > len(station.pool):
            text = say(
                "{title}: {count} readings are asked, the pool has {count_2}; learners get {count_2}.",
                title=station.title,
                count=station.count,
                count_2=len(station.pool),
            )
            fits = Remedy(say("Ask {count}", count=len(station.pool)), {"count": len(station.pool)})
            yield FairnessWarning(station.id, "small_pool", text, (fits,))

    def rulings(self, part: JudgePart, parts: Sequence[JudgePart]) -> list[Ruling]:
        ruling = Ruling(
            part.place_name,
            at_its_place(part),
            VERDICT_WORDS,
            part.verdict,
            {verdict: {"verdict": verdict} for verdict in VERDICT_WORDS},
            part.quantity,
            part.band_low,
            part.band_high,
        )
        return [ruling]

    def banded(self, part: JudgePart, by: Override) -> dict[str, Any]:
        low, high = part.band_low if by.low is None else by.low, part.band_high if by.high is None else by.high
        within = part.value is not None and (low is None or part.value >= low) and (high is None or part.value <= high)
        verdict = "not_decidable" if part.value is None else "good" if within else "faulty"
        return {"verdict": verdict, "band_low": low, "band_high": high}

    def require(self, view: JudgeView, answer: JudgeAnswer) -> None:
        wanted = len(view.readings)
        if len(answer.verdicts) != wanted or any(verdict not in VERDICTS for verdict in answer.verdicts):
            raise MissingPart(
                say(
                    "a verdict is missing; judge all {wanted} readings: {list}",
                    wanted=wanted,
                    list=", ".join(map(say, VERDICT_WORDS.values())),
                )
            )

    def mark(self, parts: list[dict[str, Any]], answer: JudgeAnswer, units: UnitSystem) -> Mark:
        given = answer.verdicts + [None] * (len(parts) - len(answer.verdicts))
        marked = [
            part | {"given": verdict, "points": _points(verdict, part["verdict"])}
            for part, verdict in zip(parts, given, strict=False)
        ]
        return Mark(sum(part["points"] for part in marked) / len(marked), marked)

    def right_answer(self, parts: list[dict[str, Any]]) -> JudgeAnswer:
        return JudgeAnswer(verdicts=[part["verdict"] for part in parts])

    def weaknesses(self, parts: list[dict[str, Any]]) -> tuple[int, int]:
        pairs = [(part["verdict"], part["given"]) for part in parts]
        return pairs.count(("faulty", "good")), pairs.count(("good", "faulty"))

    def printed(self, view: Any, parts: Any, units: UnitSystem) -> list[list[str]]:
        rows = [[say("Condition"), say("Reading"), say("Value"), say("Verdict"), *([say("Why")] if parts else [])]]
        for k, reading in enumerate(view["readings"]):
            told = [VERDICT_WORDS[parts[k]["verdict"]], parts[k]["reason"]] if parts else [BLANK]
            rows.append([reading["condition_label"], reading["label"], value_in_words(reading, units), *told])
        return rows

    def questions(self, view: Any, parts: Any, units: UnitSystem) -> list[Question]:
        return [
            Question(
                f"{part['condition_label']}: {part['label']} {value_in_words(part, units)}",
                [(words, verdict == part["verdict"]) for verdict, words in VERDICT_WORDS.items()],
                part["reason"],
            )
            for part in parts
        ]


def _not_visible(item: Item[Judge]) -> str:
    """How far the fault moves the pool, and from which size on it could be told."""
    steps = dial(item, item.station.pool)
    here = next((step.separation for step in steps if step.share == 1.0), None)
    told = say(
        "{title}: the fault cannot be seen in any reading of this pool; every verdict would be good or not decidable.",
        title=item.station.title,
    )
    if here is not None:
        told += " " + say("The farthest reading lies {away:.1f} spreads of sound engines away.", away=here)
    could = smallest_told(item, item.station.pool)
    if could is not None:
        told += " " + say("It could be told from here on: {size}.", size=could.words)
    return told


def _made_visible(item: Item[Judge]) -> tuple[Remedy, ...]:
    """Readings that show the fault, or a size of it that these readings show."""
    could = smallest_told(item, item.station.pool)
    sized = (in_that_size(item, could),) if could is not None and could.share > 1.0 else ()
    return (*showing_places(item, "pool", item.station.pool, MOST_POOL), *sized)


def _points(given: str | None, right: str) -> float:
    return 1.0 if given == right else 0.5 if {given, right} in NEIGHBOURS else 0.0
