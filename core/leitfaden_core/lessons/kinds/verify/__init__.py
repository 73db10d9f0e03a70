"""Verify: is it mended? Readings before and after a repair, in the complaint's own condition or not."""

from collections.abc import Iterator, Sequence
from functools import cached_property, lru_cache
from typing import Any

from leitfaden_core.chance import chance
from leitfaden_core.errors import MissingPart
from leitfaden_core.expect import individual_engine
from leitfaden_core.faults import FaultSpec
from leitfaden_core.judge import SchoolRules, VerdictKind, judge_reading
from leitfaden_core.lessons.item import CAR_SHARE, Item, read_value, reading_of
from leitfaden_core.lessons.kind import (
    FairnessWarning,
    Mark,
    Remedy,
    Ruling,
    StationKind,
    taking_out,
    value_in_words,
)
from leitfaden_core.lessons.kinds.verify.document import (
    MOST_READINGS,
    BeforeAndAfter,
    JudgedAfter,
    MarkedVerify,
    Said,
    Verify,
    VerifyAnswer,
    VerifyKey,
    VerifyPart,
    VerifyView,
    decides,
)
from leitfaden_core.lessons.shapes import ReadingPlace
from leitfaden_core.lessons.showing import in_that_size, showing, smallest_told
from leitfaden_core.quantities import UnitSystem
from leitfaden_core.rigs import Rig
from leitfaden_core.scripts import Script, condition
from leitfaden_core.simulate import Run, simulate
from leitfaden_core.words import inside, say

#: Chance that the repair helped, and that the drive after it met the complaint's condition.
HELPED, SHOWN = 0.5, 0.75
#: The drive after the repair has noise of its own: this is added to the car's seed.
ANOTHER_DAY = 2**28


class VerifyKind(StationKind[Verify]):
    """Is it mended?"""

    id = "verify"
    document = Verify
    view_shape = VerifyView
    answer_shape = VerifyAnswer
    key_shape = VerifyKey
    marked_shape = MarkedVerify

    def places(self, station: Verify) -> list[ReadingPlace]:
        return station.readings

    def work(self, station: Verify) -> float:
        return 0.4 * len(station.readings)

    def view(self, item: Item[Verify]) -> VerifyView:
        station = item.station
        return VerifyView(
            **self.heading(item),
            complaint=station.complaint,
            complaint_label=condition(station.complaint).label,
            readings=_rows(item),
        )

    def key(self, item: Item[Verify], rules: SchoolRules | None, units: UnitSystem) -> Sequence[VerifyPart]:
        """What the readings say, not what was done: they are judged like any others."""
        rows = [
            _judged(item, place, row, rules, units)
            for place, row in zip(item.station.readings, _rows(item), strict=True)
        ]
        here = [row for row in rows if row.counts and row.condition == item.station.complaint]
        return [_conclusion(here, rows)]

    def warnings(self, item: Item[Verify]) -> Iterator[FairnessWarning]:
        station = item.station
        if not item.setting.faults:
            text = say(
                "{title}: the engine of this station has no fault, so nothing can be mended.", title=station.title
            )
            yield FairnessWarning(station.id, "nothing_to_mend", text, (taking_out(),))
            return
        here = [place for place in station.readings if place.condition == station.complaint and decides(place)]
        kinds = {
            judge_reading(item.rig, p.condition, p.channel, read_value(item.car.run, p), p.stat).kind for p in here
        }
        if VerdictKind.FAULTY not in kinds:
            text = say(
                "{title}: at {where} no reading shows the fault plainly, so nobody can see there whether it is mended.",
                title=station.title,
                where=inside(condition(station.complaint).label),
            )
            yield FairnessWarning(station.id, "complaint_not_visible", text, (*_shown_better(item, here), taking_out()))

    def rulings(self, part: VerifyPart, parts: Sequence[VerifyPart]) -> list[Ruling]:
        changes: dict[str, dict[str, Any]] = {said: {"right": said, "half": []} for said in _said()}
        return [Ruling("verify", say("Whether it is mended"), _said(), part.right, changes)]

    def require(self, view: VerifyView, answer: VerifyAnswer) -> None:
        if answer.state is None:
            raise MissingPart("nothing was chosen; say whether it is mended")

    def mark(self, parts: list[dict[str, Any]], answer: VerifyAnswer, units: UnitSystem) -> Mark:
        part = parts[0]
        points = 1.0 if answer.state == part["right"] else 0.5 if answer.state in part["half"] else 0.0
        return Mark(points, [part | {"given": answer.state, "points": points}])

    def right_answer(self, parts: list[dict[str, Any]]) -> VerifyAnswer:
        return VerifyAnswer(state=parts[0]["right"])

    def printed(self, view: Any, parts: Any, units: UnitSystem) -> list[list[str]]:
        rows = [[say("Condition"), say("Reading"), say("Before"), say("After")]]
        for reading in view["readings"]:
            after = (
                value_in_words(reading | {"value": reading["after"]}, units) if reading["driven"] else say("not driven")
            )
            rows.append([reading["condition_label"], reading["label"], value_in_words(reading, units), after])
        told = _said()[parts[0]["right"]] if parts else " / ".join(_said().values())
        return [*rows, [say("The complaint was at: {where}", where=inside(view["complaint_label"])), "", "", told]]


def _said() -> dict[str, str]:
    """What can be said of a repair, in words."""
    return {"mended": say("mended"), "not_mended": say("not mended"), "not_shown": say("not shown yet")}


class _Afterwards:
    """The drive after the repair: did it help, and was the complaint's condition met? By chance for each learner."""

    def __init__(self, item: Item[Verify]) -> None:
        self.item = item
        draw = chance(item.seed, "repair", item.station.id)
        self.helped, self.shown = bool(draw.random() < HELPED), bool(draw.random() < SHOWN)

    @cached_property
    def run(self) -> Run:
        """Its memory was learned with the faults, as on the first drive after a repair."""
        item, setting = self.item, self.item.setting
        before = tuple(fault.model_dump_json() for fault in item.car.faults)
        script = setting.script.model_dump_json()
        return _drive(setting.rig, script, () if self.helped else before, before, item.car_seed)


@lru_cache(maxsize=32)
def _drive(rig: Rig, script: str, faults: tuple[str, ...], before: tuple[str, ...], car: int) -> Run:
    """The car's drive with these faults, its memory learned with those ``before``, all as JSON."""
    individual = individual_engine(rig, car, CAR_SHARE) if car else None
    now, then = ([FaultSpec.model_validate_json(fault) for fault in kept] for kept in (faults, before))
    return simulate(rig, Script.model_validate_json(script), now, car + ANOTHER_DAY, individual, learned_with=then)


def _shown_better(item: Item[Verify], here: list[ReadingPlace]) -> tuple[Remedy, ...]:
    """The condition in which the fault shows best made the complaint's, or a larger fault."""
    best = next((d for d in showing(item) if decides(ReadingPlace(condition=d.condition, channel=d.channel))), None)
    could, remedies = smallest_told(item, here), []
    if best is not None and len(item.station.readings) < MOST_READINGS:
        place = ReadingPlace(condition=best.condition, channel=best.channel)
        readings = [
            entry.model_dump(mode="json") for entry in (*(p for p in item.station.readings if p != place), place)
        ]
        says = say("Look at {condition} instead", condition=inside(condition(best.condition).label))
        remedies.append(Remedy(says, {"complaint": best.condition, "readings": readings}))
    if could is not None and could.share > 1.0:
        remedies.append(in_that_size(item, could))
    return tuple(remedies)


def _rows(item: Item[Verify]) -> list[BeforeAndAfter]:
    later, rows = _Afterwards(item), []
    for place in item.station.readings:
        driven = later.shown or place.condition != item.station.complaint
        value = read_value(later.run, place) if driven else float("nan")
        rows.append(
            BeforeAndAfter(
                **reading_of(item.rig, place, read_value(item.car.run, place)).model_dump(exclude={"digits"}),
                after=None if value != value else value,
                driven=driven,
            )
        )
    return rows


def _judged(
    item: Item[Verify], place: ReadingPlace, row: BeforeAndAfter, rules: SchoolRules | None, units: UnitSystem
) -> JudgedAfter:
    told = row.model_dump(exclude={"digits"})
    if row.after is None:
        return JudgedAfter(**told, verdict="", reason=say("Not driven, or without a value."), counts=False)
    verdict = judge_reading(item.rig, place.condition, place.channel, row.after, place.stat, rules, units)
    return JudgedAfter(**told, verdict=str(verdict.kind), reason=verdict.reason, counts=decides(place))


def _conclusion(here: list[JudgedAfter], rows: list[JudgedAfter]) -> VerifyPart:
    """From the readings in the complaint's condition that count."""
    kinds = {row.verdict for row in here}
    right: Said
    half: list[Said] = []
    if not here:
        right = "not_shown"
        reason = say("The condition of the complaint was not driven: good values elsewhere say nothing about it.")
    elif VerdictKind.FAULTY in kinds:
        right = "not_mended"
        reason = say("In the condition of the complaint a reading is still faulty.")
    elif VerdictKind.SUSPECT in kinds:
        right, half = "not_shown", ["not_mended", "mended"]
        reason = say(
            "In the condition of the complaint a reading is still suspect: it decides neither way, drive it again."
        )
    else:
        right = "mended"
        reason = say(
            "In the condition of the complaint every reading is what sound engines show. Short- and "
            "long-term trims may still be unlearning."
        )
    return VerifyPart(right=right, half=half, reason=reason, rows=rows)
