"""What an instrument is: applied at a place, in a state of the engine, it gives what it would show there, what that
costs, and what it changes.
"""

from collections.abc import Callable
from dataclasses import KW_ONLY, dataclass

import numpy as np

from leitfaden_core.chance import chance
from leitfaden_core.errors import LeitfadenError, UnknownName
from leitfaden_core.instruments.vehicle import Vehicle
from leitfaden_core.registry import Registry
from leitfaden_core.rigs import Rig
from leitfaden_core.words import say


@dataclass(frozen=True)
class Shown:
    """One thing that the instrument shows: a number with quantity and the instrument's own error, or words.

    ``id`` says what it is, alike on every vehicle; a channel's value has the channel's.
    """

    id: str
    label: str
    value: float | None
    _: KW_ONLY
    quantity: str = ""
    text: str = ""
    step: float = 0.0  # resolution, in the kept unit of the quantity
    error: float = 0.0  # standard deviation of the instrument, in the same unit


@dataclass(frozen=True)
class Trace:
    """A recorded or drawn signal, with the id of its channel. ``seconds`` and ``values`` have the same length."""

    id: str
    label: str
    quantity: str
    seconds: tuple[float, ...]
    values: tuple[float, ...]


@dataclass(frozen=True)
class Observation:
    """What came of using an instrument."""

    instrument: str
    place: str
    condition: str
    _: KW_ONLY
    shown: tuple[Shown, ...]
    traces: tuple[Trace, ...] = ()
    minutes: float = 0.0
    cautions: tuple[str, ...] = ()
    notes: tuple[str, ...] = ()  # what a careful user should know about this reading
    changes: tuple[str, ...] = ()  # what its use has changed on the vehicle
    refused: str = ""  # why it was not done, when it would have been dangerous


@dataclass(frozen=True)
class Option:
    """A setting of the instrument: its choices, or a range of numbers in a unit."""

    id: str
    label: str
    _: KW_ONLY
    choices: tuple[str, ...] = ()
    low: float = 0.0
    high: float = 0.0
    unit: str = ""
    default: str = ""


@dataclass(frozen=True)
class Use:
    """One use of an instrument."""

    vehicle: Vehicle
    place: str
    condition: str
    options: dict[str, str]
    chance: np.random.Generator

    def number(self, name: str) -> float:
        """An option as a number, checked when the use was made."""
        return float(self.options[name])


@dataclass(frozen=True)
class Instrument:
    """A kind of instrument.

    ``places`` tells where a rig lets it be applied; any place when that list is empty and ``free_places`` says how.
    """

    id: str
    label: str
    _: KW_ONLY
    purpose: str
    minutes: float
    places: Callable[[Rig], list[str]]
    use: Callable[[Use], Observation]
    options: tuple[Option, ...] = ()
    cautions: tuple[str, ...] = ()
    conditions: tuple[str, ...] = ()  # where it can be used; empty: in every condition
    free_places: str = ""  # how places are written, when they cannot be listed


instruments: Registry[Instrument] = Registry("instrument")


def measure(
    instrument: Instrument,
    vehicle: Vehicle,
    place: str,
    condition: str,
    options: dict[str, str] | None = None,
    seed: int = 0,
) -> Observation:
    """Use an instrument.

    Raises
    ------
    UnknownName
        For a place, condition or option that does not exist.
    LeitfadenError
        For an option outside its range.
    """
    known = instrument.places(vehicle.rig)
    if not known and not instrument.free_places:
        raise LeitfadenError(
            say(
                "the {label} finds no place on rig {id} ({name})",
                label=instrument.label,
                id=vehicle.rig.id,
                name=vehicle.rig.name,
            )
        )
    if known and place not in known:
        raise UnknownName(
            "place", place, known, where=say("for the {label} on rig {id}", label=instrument.label, id=vehicle.rig.id)
        )
    if instrument.conditions and condition not in instrument.conditions:
        raise UnknownName(
            "condition", condition, instrument.conditions, where=say("for the {label}", label=instrument.label)
        )
    chosen = _checked(instrument, options or {})
    return instrument.use(Use(vehicle, place, condition, chosen, chance(seed, vehicle.seed, instrument.id, place)))


def _checked(instrument: Instrument, given: dict[str, str]) -> dict[str, str]:
    known = {option.id: option for option in instrument.options}
    for name in given:
        if name not in known:
            raise UnknownName("option", name, known, where=say("of the {label}", label=instrument.label))
    chosen = {}
    for option in instrument.options:
        text = str(given.get(option.id, option.default))
        if option.choices and text not in option.choices:
            raise UnknownName(option.label, text, option.choices, where=say("of the {label}", label=instrument.label))
        if option.high > option.low:
            try:
                value = float(text)
            except ValueError:
                raise LeitfadenError(
                    say(
                        "{label}: {label_2} must be a number in {unit}, not '{what}'",
                        label=instrument.label,
                        label_2=option.label,
                        unit=option.unit,
                        what=text,
                    )
                ) from None
            if not option.low <= value <= option.high:
                raise LeitfadenError(
                    say(
                        "{label}: {label_2} is {value:g} {unit}; allowed is {low:g} to {high:g}",
                        label=instrument.label,
                        label_2=option.label,
                        value=value,
                        unit=option.unit,
                        low=option.low,
                        high=option.high,
                    )
                )
        chosen[option.id] = text
    return chosen
