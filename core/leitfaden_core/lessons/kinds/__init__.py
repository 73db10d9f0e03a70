"""All kinds of station, in the order in which an editor offers them. Adding one: its folder here, a line in KINDS."""

from collections.abc import Iterable
from typing import TYPE_CHECKING, Annotated, Any, Union

from pydantic import Field

from leitfaden_core.errors import UnknownName
from leitfaden_core.lessons import shapes
from leitfaden_core.lessons.kind import StationKind
from leitfaden_core.lessons.kinds.calculate import CalculateKind
from leitfaden_core.lessons.kinds.conclude import ConcludeKind
from leitfaden_core.lessons.kinds.explain import ExplainKind
from leitfaden_core.lessons.kinds.judge import JudgeKind
from leitfaden_core.lessons.kinds.live import LiveKind
from leitfaden_core.lessons.kinds.match import MatchKind
from leitfaden_core.lessons.kinds.measure import MeasureKind
from leitfaden_core.lessons.kinds.myth import MythKind
from leitfaden_core.lessons.kinds.order import OrderKind
from leitfaden_core.lessons.kinds.own import OwnKind
from leitfaden_core.lessons.kinds.pins import PinsKind
from leitfaden_core.lessons.kinds.plates import PlatesKind
from leitfaden_core.lessons.kinds.predict import PredictKind
from leitfaden_core.lessons.kinds.procedure import ProcedureKind
from leitfaden_core.lessons.kinds.reflect import ReflectKind
from leitfaden_core.lessons.kinds.separate import SeparateKind
from leitfaden_core.lessons.kinds.sheet import SheetKind
from leitfaden_core.lessons.kinds.show import ShowKind
from leitfaden_core.lessons.kinds.sketch import SketchKind
from leitfaden_core.lessons.kinds.verify import VerifyKind

KINDS: dict[str, StationKind[Any]] = {
    kind.id: kind
    for kind in (
        ExplainKind(),
        MythKind(),
        ShowKind(),
        LiveKind(),
        MatchKind(),
        PinsKind(),
        PlatesKind(),
        PredictKind(),
        SketchKind(),
        MeasureKind(),
        JudgeKind(),
        SheetKind(),
        CalculateKind(),
        SeparateKind(),
        OrderKind(),
        ConcludeKind(),
        VerifyKind(),
        ProcedureKind(),
        OwnKind(),
        ReflectKind(),
    )
}


def kind_called(name: str) -> StationKind[Any]:
    """The kind of that id, or UnknownName."""
    if name not in KINDS:
        raise UnknownName("kind of station", name, KINDS)
    return KINDS[name]


def _one_of(variants: Iterable[type]) -> Any:
    return Annotated[Union[tuple(variants)], Field(discriminator="kind")]  # noqa: UP007


if TYPE_CHECKING:
    Station = shapes.StationDocument
    View = shapes.StationView
    AnyAnswer = shapes.Answer
    Key = shapes.StationKey
    Marked = shapes.MarkedStation
else:
    #: What a trainer writes, what a learner sees, what they give, what is right, what the debrief tells: of any kind.
    Station = _one_of(kind.document for kind in KINDS.values())
    View = _one_of(kind.view_shape for kind in KINDS.values())
    AnyAnswer = _one_of(kind.answer_shape for kind in KINDS.values())
    Key = _one_of(kind.key_shape for kind in KINDS.values())
    Marked = _one_of(kind.marked_shape for kind in KINDS.values())
