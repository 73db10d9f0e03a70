"""Explain: text with formulas, a drawing that can be explored, own pictures."""

from typing import Annotated, Any, Literal

from pydantic import AfterValidator, Field

from leitfaden_core.explore import drawings
from leitfaden_core.lessons.item import Item
from leitfaden_core.lessons.kind import StationKind
from leitfaden_core.lessons.pictures import Picture
from leitfaden_core.lessons.shapes import MarkedStation, Seen, StationDocument, StationKey, StationView
from leitfaden_core.quantities import UnitSystem
from leitfaden_core.words import say

NO_DRAWING = "none"


def _known(name: str) -> str:
    """A drawing of the catalogue, or none."""
    return name if name == NO_DRAWING else drawings.get(name).id


Drawing = Annotated[str, Field(max_length=40), AfterValidator(_known)]


class Explain(StationDocument):
    """Text with formulas, a drawing that can be explored, and own pictures."""

    kind: Literal["explain"] = "explain"
    drawing: Annotated[Drawing, Field(title="drawing")] = NO_DRAWING
    pictures: Annotated[list[Picture], Field(max_length=6, title="pictures")] = []


class ExplainView(StationView):
    """Text, drawing and pictures."""

    kind: Literal["explain"] = "explain"
    drawing: Drawing = NO_DRAWING
    pictures: list[Picture] = []


class ExplainSeen(Seen):
    """It was read."""

    kind: Literal["explain"] = "explain"


class ExplainKey(StationKey):
    """Nothing to answer."""

    kind: Literal["explain"] = "explain"


class MarkedExplain(MarkedStation):
    """Nothing to mark."""

    kind: Literal["explain"] = "explain"


class ExplainKind(StationKind[Explain]):
    """Text with formulas, and a drawing."""

    id = "explain"
    marks = False
    document = Explain
    view_shape = ExplainView
    answer_shape = ExplainSeen
    key_shape = ExplainKey
    marked_shape = MarkedExplain

    def work(self, station: Explain) -> float:
        return (1.0 if station.drawing == NO_DRAWING else 3.0) + 0.5 * len(station.pictures)

    def pictures(self, station: Explain) -> list[Picture]:
        return station.pictures

    def texts(self, station: Explain) -> list[str]:
        return [picture.caption for picture in station.pictures]

    def view(self, item: Item[Explain]) -> ExplainView:
        return ExplainView(**self.heading(item), drawing=item.station.drawing, pictures=item.station.pictures)

    def printed(self, view: Any, parts: Any, units: UnitSystem) -> list[list[str]]:
        return [[say("Picture"), picture["alt"], picture["caption"]] for picture in view["pictures"]]
