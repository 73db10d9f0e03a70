"""Plates: what the eye sees, and what follows from it; tips, terminals, hoses, and which sensor of which bank is
meant.
"""

from collections.abc import Iterator, Sequence
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, Field, model_validator

from leitfaden_core.atlas import Plate, plate_called, plate_groups
from leitfaden_core.chance import chance
from leitfaden_core.errors import MissingPart
from leitfaden_core.judge import SchoolRules
from leitfaden_core.lessons.item import Item
from leitfaden_core.lessons.kind import BLANK, FairnessWarning, Mark, Question, Remedy, Ruling, StationKind, taking_out
from leitfaden_core.lessons.shapes import (
    Answer,
    KeyPart,
    MarkedStation,
    Name,
    Shape,
    StationDocument,
    StationKey,
    StationView,
)
from leitfaden_core.quantities import UnitSystem
from leitfaden_core.words import say

#: Plates of one station.
FEWEST, MOST = 3, 8


class Plates(StationDocument):
    """Plates by their ids."""

    kind: Literal["plates"] = "plates"
    plates: Annotated[
        list[Annotated[Name, AfterValidator(lambda name: plate_called(name).id)]],
        Field(min_length=FEWEST, max_length=MOST, title="traces"),
    ]

    @model_validator(mode="after")
    def _differ(self) -> "Plates":
        if len(set(self.plates)) < len(self.plates):
            raise ValueError("a plate is shown twice")
        return self


class ShownPlate(Shape):
    """A plate: the name of its drawing, which tells nothing, and the drawing in words."""

    look: str
    sight: str


class Meaning(Shape):
    """What a plate may mean; its id is its place in the learner's order."""

    id: str
    label: str


class PlatesView(StationView):
    """Plates in the learner's order, and the meanings in another."""

    kind: Literal["plates"] = "plates"
    plates: list[ShownPlate]
    meanings: list[Meaning]


class PlatesAnswer(Answer):
    """For each plate the id of its meaning; None where there is none yet."""

    kind: Literal["plates"] = "plates"
    meanings: Annotated[list[Annotated[str, Field(max_length=4)] | None], Field(max_length=MOST)] = []


class PlatesPart(KeyPart, ShownPlate):
    """A plate with what it means; ``ids`` are right."""

    plate: str
    right: str
    ids: list[str]
    reason: str


class PlatesKey(StationKey):
    """Plate by plate."""

    kind: Literal["plates"] = "plates"
    parts: list[PlatesPart] = []


class MarkedPlatesPart(PlatesPart):
    """A plate with the meaning that was given."""

    given: str | None = None
    points: float | None = None


class MarkedPlates(MarkedStation):
    """Plate by plate, with what was said."""

    kind: Literal["plates"] = "plates"
    parts: list[MarkedPlatesPart] = []


class PlatesKind(StationKind[Plates]):
    """What does the eye see?"""

    id = "plates"
    document = Plates
    view_shape = PlatesView
    answer_shape = PlatesAnswer
    key_shape = PlatesKey
    marked_shape = MarkedPlates

    def work(self, station: Plates) -> float:
        return 0.4 * len(station.plates)

    def view(self, item: Item[Plates]) -> PlatesView:
        drawn = _drawn(item)
        return PlatesView(
            **self.heading(item),
            plates=[ShownPlate(look=look, sight=plate.sight) for plate, look in drawn],
            meanings=[Meaning(id=str(k), label=drawn[place][0].means) for k, place in enumerate(_order(item))],
        )

    def key(self, item: Item[Plates], rules: SchoolRules | None, units: UnitSystem) -> Sequence[PlatesPart]:
        order = _order(item)
        return [
            PlatesPart(
                look=look,
                sight=plate.sight,
                plate=plate.id,
                right=plate.means,
                ids=[str(order.index(k))],
                reason=plate.why,
            )
            for k, (plate, look) in enumerate(_drawn(item))
        ]

    def warnings(self, item: Item[Plates]) -> Iterator[FairnessWarning]:
        names, group_of = item.station.plates, {p.id: group.group for group in plate_groups() for p in group.plates}
        groups = [group_of[name] for name in names]
        lonely = [name for name in names if groups.count(group_of[name]) == 1]
        if lonely:
            text = say(
                "{title}: «{sight}» lies beside nothing of its kind, so that its meaning is the only one that fits.",
                title=item.station.title,
                sight=plate_called(lonely[0]).sight,
            )
            kept = [name for name in names if name not in lonely]
            fewer = Remedy(say("Take out: {count}", count=len(lonely)), {"plates": kept})
            yield FairnessWarning(
                item.station.id, "only_one_fits", text, (fewer if len(kept) >= FEWEST else taking_out(),)
            )

    def rulings(self, part: PlatesPart, parts: Sequence[PlatesPart]) -> list[Ruling]:
        others = {other.plate: other for other in parts if other.plate != part.plate}
        words = {name: say("also right: {meaning}", meaning=other.right) for name, other in others.items()}
        changes = {name: {"ids": [*part.ids, *other.ids]} for name, other in others.items()}
        return [Ruling(part.plate, part.sight, words, changes=changes)]

    def require(self, view: PlatesView, answer: PlatesAnswer) -> None:
        if len(answer.meanings) != len(view.plates) or any(meaning is None for meaning in answer.meanings):
            raise MissingPart(say("a plate has no meaning yet; give each plate one"))

    def mark(self, parts: list[dict[str, Any]], answer: PlatesAnswer, units: UnitSystem) -> Mark:
        given = [*answer.meanings, *[None] * (len(parts) - len(answer.meanings))]
        words = {part["ids"][0]: part["right"] for part in parts}
        marked = [
            part | {"given": words.get(name or ""), "points": float(name in part["ids"])}
            for part, name in zip(parts, given, strict=False)
        ]
        return Mark(sum(part["points"] for part in marked) / len(marked), marked)

    def right_answer(self, parts: list[dict[str, Any]]) -> PlatesAnswer:
        return PlatesAnswer(meanings=[part["ids"][0] for part in parts])

    def printed(self, view: Any, parts: Any, units: UnitSystem) -> list[list[str]]:
        rows = [[say("What is seen"), say("What it means"), *([say("Why")] if parts else [])]]
        for k, plate in enumerate(view["plates"]):
            rows.append([plate["sight"], *([parts[k]["right"], parts[k]["reason"]] if parts else [BLANK])])
        return [*rows, [say("Meanings"), " · ".join(entry["label"] for entry in view["meanings"])]]

    def questions(self, view: Any, parts: Any, units: UnitSystem) -> list[Question]:
        options = [entry["label"] for entry in view["meanings"]]
        return [
            Question(part["sight"], [(option, option == part["right"]) for option in options], part["reason"])
            for part in parts
        ]


def _drawn(item: Item[Plates]) -> list[tuple[Plate, str]]:
    """The plates in the learner's order, each with one of its drawings."""
    draw = chance(item.seed, "plates", item.station.id)
    plates = [plate_called(item.station.plates[int(k)]) for k in draw.permutation(len(item.station.plates))]
    return [(plate, plate.looks[int(draw.integers(len(plate.looks)))]) for plate in plates]


def _order(item: Item[Plates]) -> list[int]:
    """Places of the plates, in the order of their meanings."""
    count = len(item.station.plates)
    return [int(k) for k in chance(item.seed, "meanings", item.station.id).permutation(count)]
