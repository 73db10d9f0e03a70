"""A fault as a user asks for it: kind, parameters, onset; from a document or from one line of text."""

from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, model_validator

from leitfaden_core.errors import LeitfadenError, MissingPart, OutOfRange, UnknownName
from leitfaden_core.faults.catalogue import FEATURES, Effect, FaultKind, Values, fault_kinds
from leitfaden_core.rigs import Rig
from leitfaden_core.words import say


@dataclass(frozen=True)
class OnsetNumber:
    """A number that an onset needs: field of :class:`Onset`, words, unit, range and where an editor starts."""

    id: str
    label: str
    unit: str
    low: float
    high: float
    start: float


@dataclass(frozen=True)
class OnsetMode:
    """When a fault is there, in words, with the numbers that it needs."""

    id: str
    label: str
    numbers: tuple[OnsetNumber, ...] = ()


ONSETS = {
    mode.id: mode
    for mode in (
        OnsetMode("permanent", "always"),
        OnsetMode(
            "random",
            "comes and goes",
            (
                OnsetNumber("on_s", "there for about", "s", 0.02, 3600, 2.0),
                OnsetNumber("off_s", "away for about", "s", 0.02, 3600, 10.0),
            ),
        ),
        OnsetMode("hot", "only when hot", (OnsetNumber("above_C", "coolant above", "°C", -40, 140, 75.0),)),
        OnsetMode("cold", "only when cold", (OnsetNumber("below_C", "coolant below", "°C", -40, 140, 45.0),)),
        OnsetMode("load", "only under load", (OnsetNumber("above_percent", "torque above", "%", 0, 100, 50.0),)),
        OnsetMode("after_hot_soak", "after a hot restart", (OnsetNumber("for_s", "for", "s", 1, 3600, 60.0),)),
        OnsetMode("wiggle", "only while the part is moved"),
    )
}


#: A number of a document: finite, and neither a truth value nor text that looks like a number.
Number = Annotated[float, Field(strict=True, allow_inf_nan=False)]


class Onset(BaseModel):
    """When a fault is there. The range of each number stands in :data:`ONSETS`."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    mode: Literal["permanent", "random", "hot", "cold", "load", "after_hot_soak", "wiggle"] = "permanent"
    on_s: Number | None = None
    off_s: Number | None = None
    above_C: Number | None = None  # noqa: N815  the vocabulary of cases names it so
    below_C: Number | None = None  # noqa: N815
    above_percent: Number | None = None
    for_s: Number | None = None

    @model_validator(mode="after")
    def _in_range(self) -> "Onset":
        """A stretch of a billionth of a second would never end: every number keeps to its range, also one that its mode
        does not use.
        """
        for number in (number for mode in ONSETS.values() for number in mode.numbers):
            value = getattr(self, number.id)
            if value is not None and not number.low <= value <= number.high:
                raise OutOfRange(say("onset: {label}", label=number.label), value, number.low, number.high, number.unit)
        return self

    def checked(self) -> "Onset":
        """Self, when the mode has what it needs; MissingPart otherwise."""
        for number in ONSETS[self.mode].numbers:
            if getattr(self, number.id) is None:
                raise MissingPart(
                    say("onset '{mode}' needs {id}", mode=self.mode, id=number.id), mode=self.mode, part=number.id
                )
        return self


class FaultSpec(BaseModel):
    """A fault to be put into a rig."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    kind: Annotated[str, Field(max_length=60)]
    params: Annotated[
        dict[Annotated[str, Field(max_length=40)], Number | Annotated[str, Field(max_length=60)]], Field(max_length=12)
    ] = {}
    onset: Onset = Onset()

    def checked(self) -> tuple[FaultKind, Values]:
        """The kind and all its parameters, defaults filled in.

        Raises
        ------
        UnknownName
            For a kind, parameter or choice that is not in the catalogue.
        OutOfRange
            For a severity outside its range.
        """
        kind = fault_kinds.get(self.kind)
        known = {parameter.id: parameter for parameter in kind.parameters}
        for name in self.params:
            if name not in known:
                raise UnknownName("parameter", name, known, where=say("of fault kind {id}", id=kind.id))
        self.onset.checked()
        values: Values = {}
        for parameter in kind.parameters:
            if parameter.id not in self.params:
                if not parameter.optional:
                    values[parameter.id] = parameter.default_for(values)
                elif parameter.id in kind.suggested and not set(self.params) & _optional(kind):
                    values[parameter.id] = kind.suggested[parameter.id]
                continue
            value = self.params[parameter.id]
            if parameter.choices:
                if value not in parameter.choices:
                    raise UnknownName(
                        parameter.label, str(value), parameter.choices, where=say("in fault kind {id}", id=kind.id)
                    )
            elif not isinstance(value, (int, float)):
                raise LeitfadenError(
                    say(
                        "fault {id}: {label} must be a number in {unit}, not '{value}'",
                        id=kind.id,
                        label=parameter.label,
                        unit=parameter.unit,
                        value=value,
                    )
                )
            else:
                allowed = parameter.range_for(self.params)
                if not allowed.low <= value <= allowed.high:
                    raise OutOfRange(
                        say("fault {id}: {label}", id=kind.id, label=parameter.label),
                        float(value),
                        allowed.low,
                        allowed.high,
                        parameter.unit,
                    )
            values[parameter.id] = value
        return kind, values


def _optional(kind: FaultKind) -> set[str]:
    return {parameter.id for parameter in kind.parameters if parameter.optional}


def effects_on(spec: FaultSpec, rig: Rig) -> tuple[FaultKind, Values, list[Effect]]:
    """What a fault does to a rig: kind, all parameters, effects.

    Raises
    ------
    UnknownName, OutOfRange
        As :meth:`FaultSpec.checked`.
    LeitfadenError
        When the rig has no such sensor or circuit.
    """
    kind, values = spec.checked()
    if kind.needs and kind.needs not in rig.features:
        raise LeitfadenError(
            say(
                "fault {id} does not exist on rig {id_2} ({name}): it has no {get}",
                id=kind.id,
                id_2=rig.id,
                name=rig.name,
                get=FEATURES.get(kind.needs, kind.needs),
            )
        )
    part = kind.part_of(values)
    return kind, values, [replace(e, part=part, hose=kind.hose) for e in kind.effects(values, rig)]


def left_with_plugs_off(faults: list[FaultSpec], unplugged: frozenset[str], rig: Rig) -> list[FaultSpec]:
    """Faults that still act when plugs are off at their sensors, by the names of circuits: a damaged sensor's load
    leaves with its plug.
    """

    def stays(fault: FaultSpec) -> bool:
        kind, values = fault.checked()
        return kind.at_plug is None or kind.at_plug(values, rig) not in unplugged

    return [fault for fault in faults if stays(fault)]


@lru_cache(maxsize=32)
def offered_on(rig: Rig) -> dict[str, dict[str, list[str]]]:
    """Fault kinds that a rig can have, each with the choices of its parameters that exist there."""
    offered: dict[str, dict[str, list[str]]] = {}
    for kind in fault_kinds:
        choices = {
            p.id: [c for c in p.choices if _exists(FaultSpec(kind=kind.id, params={p.id: c}), rig)]
            for p in kind.parameters
            if p.choices
        }
        if all(choices.values()) and _exists(
            FaultSpec(kind=kind.id, params={name: found[0] for name, found in choices.items()}), rig
        ):
            offered[kind.id] = choices
    return offered


def _exists(spec: FaultSpec, rig: Rig) -> bool:
    try:
        effects_on(spec, rig)
    except LeitfadenError:
        return False
    return True


def parse_fault(text: str) -> FaultSpec:
    """A fault from ``kind:param=value,param=value``; parameters left out take their middle severity.

    >>> parse_fault("manifold_vacuum_leak:area_mm2=2").params
    {'area_mm2': 2.0}
    """
    name, _, rest = text.partition(":")
    params: dict[str, float | str] = {}
    for part in filter(None, rest.split(",")):
        key, equals, value = part.partition("=")
        if not equals:
            raise LeitfadenError(
                say("fault '{what}': write parameters as name=value, not '{part}'", what=text, part=part)
            )
        try:
            params[key.strip()] = float(value)
        except ValueError:
            params[key.strip()] = value.strip()
    spec = FaultSpec(kind=name.strip(), params=params)
    spec.checked()
    return spec


def describe_fault(spec: FaultSpec) -> str:
    """A fault in one line for a trainer: label, choices and sizes with units."""
    kind, values = spec.checked()
    told = _told(spec, values)
    return say("{label} ({sizes})", label=kind.label, sizes=told) if told else kind.label


def describe_size(spec: FaultSpec) -> str:
    """Its sizes alone, with units; empty where it has none."""
    _kind, values = spec.checked()
    return _told(spec, {name: value for name, value in values.items() if not isinstance(value, str)})


def _told(spec: FaultSpec, values: Values) -> str:
    parameters = fault_kinds.get(spec.kind).parameters
    sizes = [parameter.said(value) for parameter in parameters if (value := values.get(parameter.id)) is not None]
    if spec.onset.mode != "permanent":
        mode = ONSETS[spec.onset.mode]
        sizes.append(
            " ".join([mode.label, *(f"{n.label} {getattr(spec.onset, n.id):g} {n.unit}" for n in mode.numbers)])
        )
    return ", ".join(sizes)
