"""A trainer's word over the model's: laid over parts of a key, and marked wherever they show."""

from collections.abc import Sequence
from typing import Any

from leitfaden_core.errors import UnknownName
from leitfaden_core.lessons.kind import Ruling, StationKind
from leitfaden_core.lessons.shapes import KeyPart, Override, StationDocument
from leitfaden_core.words import say


def with_overrides(kind: StationKind[Any], station: StationDocument, parts: Sequence[KeyPart]) -> list[KeyPart]:
    """The parts of a computed key with the station's overrides laid over them.

    Raises
    ------
    UnknownName
        When an override says something that this part cannot be.
    """
    by_part = {override.part: override for override in station.overrides}
    return [_with_overrides(kind, part, parts, by_part) for part in parts] if by_part else list(parts)


def _with_overrides(
    kind: StationKind[Any], part: KeyPart, parts: Sequence[KeyPart], by_part: dict[str, Override]
) -> KeyPart:
    for name in [ruling.part for ruling in kind.rulings(part, parts) if ruling.part in by_part]:
        # Asked again, since one override may change what another one finds.
        ruling = next(ruling for ruling in kind.rulings(part, parts) if ruling.part == name)
        part = _laid_over(kind, part, ruling, by_part[name])
    return part


def _laid_over(kind: StationKind[Any], part: KeyPart, ruling: Ruling, override: Override) -> KeyPart:
    if override.right and override.right not in ruling.options:
        raise UnknownName("answer", override.right, ruling.options, where=say("for {part}", part=ruling.label))
    if override.right:
        changed = ruling.changes[override.right]
    else:
        changed = {} if override.low is None and override.high is None else kind.banded(part, override)
    told = _told(ruling, override, changed)
    why = override.why.rstrip(". ") + "."
    if "reason" in type(part).model_fields:
        return part.model_copy(update=changed | {"reason": f"{why} {told}", "overruled": told})
    return part.model_copy(update=changed | {"overruled": f"{part.overruled} {why} {told}".strip()})


def _told(ruling: Ruling, override: Override, changed: dict[str, Any]) -> str:
    if not changed:
        return say("Reason by the trainer, source: {source}.", source=override.source)
    told = say("Overruled by the trainer, source: {source}.", source=override.source)
    model = ruling.options.get(ruling.now, ruling.now)
    right = ruling.options.get(override.right or str(changed.get("verdict", "")))
    if model and model != right:
        told += " " + say("The model says: {model}.", model=model)
    return told


def rulings(kind: StationKind[Any], parts: Sequence[Any]) -> list[Ruling]:
    """Which parts of a key may be overruled, each once."""
    return list({ruling.part: ruling for part in parts for ruling in kind.rulings(part, parts)}.values())
