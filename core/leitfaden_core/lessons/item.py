"""A station for one learner: the car in front of them, and what it reads."""

from dataclasses import dataclass
from functools import cached_property
from typing import Generic, TypeVar

import numpy as np

from leitfaden_core.chance import chance
from leitfaden_core.channels import channel, rounded
from leitfaden_core.expect import individual_engine
from leitfaden_core.faults import FaultSpec
from leitfaden_core.judge import reading_scale
from leitfaden_core.lessons.shapes import (
    STAT_WORDS,
    ReadingPlace,
    StationDocument,
    StationReading,
    Trace,
    reading_label,
)
from leitfaden_core.quantities import QUANTITIES
from leitfaden_core.rigs import Rig, shown_quantity
from leitfaden_core.scripts import Script, condition
from leitfaden_core.simulate import FRAME, Run, cached_run

#: A learner's car differs from the rig by this share of the healthy spread, its fault size by up to this share of the
#: chosen size.
CAR_SHARE = 0.5
SIZE_SHARE = 0.15
#: Seeds of strangers lie beyond those of learners. [-]
STRANGERS_FROM = 2**30
#: Points of a trace that is looked at.
POINTS = 300

D = TypeVar("D", bound=StationDocument)


@dataclass(frozen=True)
class Setting:
    """What runs at a station: engine, drive, faults; ``individual`` when all learners get the same engine."""

    rig: Rig
    script: Script
    faults: tuple[FaultSpec, ...]
    individual: int | None = None


@dataclass(frozen=True)
class Car:
    """The car in front of one learner: an individual of the rig, faults in this learner's size, and a sound sister of
    the same type.
    """

    faults: tuple[FaultSpec, ...]
    run: Run
    good: Run


@dataclass(frozen=True)
class Item(Generic[D]):
    """A station for one learner. Seed 0 is the trainer's: exactly the rig and the chosen sizes."""

    index: int
    station: D
    setting: Setting
    seed: int
    #: With a closed book: channels that stations before have shown of a sound engine.
    closed: frozenset[str] = frozenset()

    @property
    def rig(self) -> Rig:
        """The engine's type."""
        return self.setting.rig

    @cached_property
    def car(self) -> Car:
        """The car that the seed gives, or the one that the station names for all."""
        rig, script, seed = self.setting.rig, self.setting.script, self.car_seed
        individual, faults = self.individual or None, self.faults
        return Car(
            faults,
            cached_run(rig, script, list(faults), seed, individual),
            cached_run(rig, script, [], seed, individual),
        )

    @property
    def individual(self) -> dict[str, float]:
        """The numbers in which the car differs from its rig; none for the trainer's."""
        return individual_engine(self.rig, self.car_seed, CAR_SHARE) if self.car_seed else {}

    @property
    def faults(self) -> tuple[FaultSpec, ...]:
        """What is wrong with the car, in its size."""
        return tuple(sized(fault, self.car_seed) for fault in self.setting.faults)

    @property
    def car_seed(self) -> int:
        """The seed of the car; the draw of questions always hangs on the learner's own."""
        return self.seed if self.setting.individual is None else self.setting.individual

    def run(self, faulty: bool) -> Run:
        """The run of the car, or of its sound sister."""
        return self.car.run if faulty else self.car.good

    @cached_property
    def stranger(self) -> Run:
        """Another sound engine of the type: not the twin whose lanes other stations show, so that its readings cannot
        be looked up there. The trainer's (seed 0) is the rig itself.
        """
        rig, script = self.setting.rig, self.setting.script
        if not self.car_seed:
            return self.car.good
        seed = int(chance(self.car_seed, "stranger").integers(STRANGERS_FROM, 2 * STRANGERS_FROM))
        return cached_run(rig, script, [], seed, individual_engine(rig, seed, CAR_SHARE))


def sized(fault: FaultSpec, seed: int) -> FaultSpec:
    """The fault in this learner's size: up to 15 % smaller or larger, within the kind's range."""
    if not seed:
        return fault
    kind, values = fault.checked()
    share = float(chance(seed, "size", fault.kind).uniform(-SIZE_SHARE, SIZE_SHARE))
    sizes = {name: _rounded(value) for name, value in kind.sized(values, 1.0 + share).items()}
    return fault.model_copy(update={"params": kind.sized(sizes, 1.0)})


def _rounded(value: float | str) -> float | str:
    """Three digits are enough of a size that people read."""
    return value if isinstance(value, str) else float(f"{value:.3g}")


def read_value(run: Run, place: ReadingPlace) -> float:
    """A reading from a run, with the resolution of its display. In the unit in which the channel is kept."""
    value = run.statistic(place.condition, place.channel, place.stat)
    if np.isnan(value):
        return value
    return rounded(value, reading_scale(run.rig, place.channel, place.stat)[1])


def reading_of(rig: Rig, place: ReadingPlace, value: float | None, substitute: bool = False) -> StationReading:
    """A reading place with its words and, where it may be seen, its value; whether the tool marks it as a
    substitute.
    """
    entry = channel(place.channel)
    quantity, step = reading_scale(rig, place.channel, place.stat)
    return StationReading(
        condition=place.condition,
        condition_label=condition(place.condition).label,
        channel=place.channel,
        label=reading_label(place),
        stat=place.stat,
        stat_label=STAT_WORDS[place.stat],
        quantity=quantity,
        layer=str(entry.layer),
        family=entry.family,
        step=step,
        value=None if value is None or np.isnan(value) else value,
        unit=QUANTITIES[quantity].kept,
        substitute=substitute,
    )


def trace_along(rig: Rig, run: Run, place: ReadingPlace, answers: float = 0.0) -> Trace:
    """What a display shows along the condition of a place, thinned to some hundred points, or to so many ``answers`` a
    second.
    """
    rows = run.rows(run.script.span(place.condition))
    step = max(len(rows) // POINTS, round(1.0 / (FRAME * answers)) if answers else 1, 1)
    values = rows[place.channel][::step]
    quantity = shown_quantity(rig, place.channel)
    return Trace(
        label=channel(place.channel).label,
        quantity=quantity,
        unit=QUANTITIES[quantity].kept,
        condition=condition(place.condition).label,
        seconds=[round(float(k) * step * FRAME, 3) for k in range(len(values))],
        values=[None if np.isnan(value) else float(value) for value in values],
    )
