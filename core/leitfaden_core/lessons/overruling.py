"""A trainer's word over the model's: laid over parts of a key, and marked wherever they show."""

from collections.abc import Sequence
from typing import Any

from leitfaden_core.errors import UnknownName
from leitfaden_core.lessons.kind import Ruling, StationKind
from leitfaden_core.lessons.shapes import Override, Shape, StationDocument
from leitfaden_core.words import say


def with_overrides(kind: StationKind[Any], station: StationDocument, parts: Sequence[Shape]) -> list[Shape]:
    """The parts of a computed key with the station's overrides laid over them.

    Raises
    ------
    UnknownName
        When an override says something that this part cannot be.
    """
    by_part = {override.part: override for override in station.overrides}
    return [_with_override(kind, part, by_part) for part in parts]


def _with_override(kind: StationKind[Any], part: Shape, by_part: dict[str, Override]) -> Shape:
    ruling = kind.ruling(part)
    override = by_part.get(ruling.part) if ruling else None
    if ruling is None or override is None:
        return part
    if override.right and override.right not in ruling.options:
        raise UnknownName("answer", override.right, ruling.options, where=say("for {part}", part=ruling.label))
    changed = kind.overruled(part, override)
    model = ruling.options.get(ruling.now, ruling.now)
    told = say("Overruled by the trainer, source: {source}.", source=override.source)
    if model and model != ruling.options.get(changed.get("right", override.right)):
        told += " " + say("The model says: {model}.", model=model)
    why = override.why.rstrip(". ") + "."
    return part.model_copy(update=changed | {"reason": f"{why} {told}", "overruled": told})


def rulings(kind: StationKind[Any], parts: Sequence[Any]) -> list[Ruling]:
    """Which parts of a key may be overruled."""
    return [ruling for part in parts if (ruling := kind.ruling(part)) is not None]
