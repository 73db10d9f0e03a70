"""Explain: text with formulas, and a drawing that can be explored."""

from typing import Annotated, Literal

from pydantic import AfterValidator, Field

from leitfaden_core.explore import drawings
from leitfaden_core.lessons.item import Item
from leitfaden_core.lessons.kind import StationKind
from leitfaden_core.lessons.shapes import MarkedStation, Seen, StationDocument, StationKey, StationView

NO_DRAWING = "none"


def _known(name: str) -> str:
    """A drawing of the catalogue, or none."""
    return name if name == NO_DRAWING else drawings.get(name).id


Drawing = Annotated[str, Field(max_length=40), AfterValidator(_known)]


class Explain(StationDocument):
    """Text with formulas, and a drawing that can be explored."""

    kind: Literal["explain"] = "explain"
    drawing: Drawing = NO_DRAWING


class ExplainView(StationView):
    """Text and drawing."""

    kind: Literal["explain"] = "explain"
    drawing: Drawing = NO_DRAWING


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
    document = Explain
    view_shape = ExplainView
    answer_shape = ExplainSeen
    key_shape = ExplainKey
    marked_shape = MarkedExplain

    def work(self, station: Explain) -> float:
        return 1.0 if station.drawing == NO_DRAWING else 3.0

    def view(self, item: Item[Explain]) -> ExplainView:
        return ExplainView(**self.heading(item), drawing=item.station.drawing)
