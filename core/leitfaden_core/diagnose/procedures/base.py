"""What a diagnostic test is, and the vehicle that it is put to.

What a test gives is worked out from one simulated drive of the vehicle, its wiring and what is written about its
faults; so all tests of a candidate cost one drive. ``spread`` is how far a sound engine's own value lies from its
rig's, ``error`` the instrument's.
"""

from collections.abc import Callable
from dataclasses import KW_ONLY, dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.chance import chance
from leitfaden_core.instruments.instrument import instruments
from leitfaden_core.instruments.vehicle import Vehicle
from leitfaden_core.monitors import trouble_codes
from leitfaden_core.quantities import shown
from leitfaden_core.scripts import condition
from leitfaden_core.simulate import Run
from leitfaden_core.simulate.pins import network_at
from leitfaden_core.wiring.circuits import CIRCUITS, circuits_of
from leitfaden_core.wiring.network import Network
from leitfaden_core.words import say

#: Spread of what is yes or no, how sure one can be of it: of what is seen or heard, or goes with an exchanged part, in
#: which a person errs once in a thousand; of a jump that comes whenever the hand moves that plug. And of codes.
YES_OR_NO, UNDER_THE_HAND, CODE_SPREAD = 0.12, 0.08, 0.3
#: What an open circuit is written as, for the logarithm of a resistance. [ohm]
OPEN_OHMS = 1e8


class Examined:
    """A vehicle with what all tests need of it, computed when first asked for."""

    def __init__(self, vehicle: Vehicle) -> None:
        self.vehicle = vehicle
        self._codes: frozenset[str] | None = None
        self._networks: dict[tuple[str, bool, bool], Network] = {}
        self._voltages: dict[tuple[str, bool], dict[str, float]] = {}

    @property
    def day(self) -> Run:
        """Its drive through the workshop day."""
        return self.vehicle.run("hot_idle")

    @property
    def codes(self) -> frozenset[str]:
        """Its trouble codes after two drives."""
        if self._codes is None:
            self._codes = frozenset(trouble_codes(self.day))
        return self._codes

    def network(self, condition: str, plugs_off: bool = False, key_off: bool = False) -> Network:
        """Its wiring; ``plugs_off``: all signal plugs off at their sensors."""
        key = (condition, plugs_off, key_off)
        if key not in self._networks:
            rig = self.vehicle.rig
            vehicle = self.vehicle
            if plugs_off:
                wires = frozenset(CIRCUITS[name].wire for name in circuits_of(rig, "signal"))
                self._networks[key] = network_at(self.day, vehicle.moment(condition), wires, key_off)
            else:
                self._networks[key] = vehicle.network(condition, key_off)
        return self._networks[key]

    def volts(self, condition: str, plugs_off: bool = False) -> dict[str, float]:
        """Voltage of every node against battery minus."""
        if (condition, plugs_off) not in self._voltages:
            self._voltages[condition, plugs_off] = self.network(condition, plugs_off).solve()
        return self._voltages[condition, plugs_off]


#: Step from which a share is told as yes or no. [-]
WHOLE = 0.9


@dataclass(frozen=True)
class Outcome:
    """One number of a test: what it is called, quantity, spread among sound engines, error of the instrument.

    ``channel`` and ``stat`` where it is a channel of a data list, with the statistic that is read. ``logarithm``: the
    number is the decadic logarithm of what is shown, since that scatters by shares.
    """

    label: str
    _: KW_ONLY
    quantity: str
    spread: float
    error: float
    step: float
    channel: str = ""
    stat: str = ""
    logarithm: bool = False

    @property
    def yes_or_no(self) -> bool:
        """Whether it is there or not there: a code, a beep, smoke. It has no spreads to count."""
        return self.quantity == "ratio" and self.step >= WHOLE

    def words(self, value: float) -> str:
        """What was seen, as a person writes it down.

        >>> wire = ohms("wire")
        >>> wire.words(log_ohms(26.04)), wire.words(log_ohms(204174.0)), wire.words(log_ohms(None))
        ('26 Ω', '200000 Ω', 'open')
        """
        if value != value:
            return say("not defined")
        if self.yes_or_no:
            return say("yes") if value > 0.5 else say("no")
        if not self.logarithm:
            return shown(value, self.quantity, self.step)
        if self.quantity == "resistance" and value >= np.log10(OPEN_OHMS / 2.0):
            return say("open")
        step = max(10.0 ** (np.floor(value) - 1.0), 0.1)
        return shown(round(10.0**value / step) * step, self.quantity, step)


@dataclass(frozen=True)
class Isolated:
    """A part that is exchanged, or a hose that is closed."""

    what: Literal["part", "hose"]
    name: str


@dataclass(frozen=True)
class DiagnosticTest:
    """An instrument at a place in a condition, with the numbers that come of it.

    ``uses`` says how many times the instrument's own minutes it takes; cautions are the instrument's. ``isolates`` is
    the part or the hose whose exchange or closing is the test: what it can prove, when something to be seen goes and
    comes back with it: a number that moves by more than it may by itself. ``of_shared`` says that it measures what
    several sensors share: that has no plug of its own. ``after_a_night`` asks for a vehicle that has stood so long.
    """

    id: str
    label: str
    _: KW_ONLY
    instrument: str
    place: str
    condition: str
    outcomes: tuple[Outcome, ...]
    read: Callable[[Examined], list[float]]
    uses: float = 1.0
    isolates: Isolated | None = None
    of_shared: bool = False
    after_a_night: bool = False

    @property
    def minutes(self) -> float:
        """What it costs: the instrument's own time, and the way into the condition."""
        return instruments.get(self.instrument).minutes * self.uses + condition(self.condition).way_minutes

    @property
    def cautions(self) -> tuple[str, ...]:
        """What the instrument asks to mind."""
        return instruments.get(self.instrument).cautions

    def shows(self, values: tuple[float, ...]) -> bool:
        """Whether something to be seen has gone and come back, for a test that isolates."""
        return any(
            abs(value) > max(3.0 * float(np.hypot(outcome.spread, outcome.error)), 0.5 * outcome.step)
            for value, outcome in zip(values, self.outcomes, strict=True)
        )


def means(*readings: tuple[str, str]) -> Callable[[Examined], list[float]]:
    """Means of channels, each in its condition."""
    return lambda car: [car.vehicle.run(condition).statistic(condition, name, "mean") for condition, name in readings]


def yes_or_no(holds: Callable[[Examined], bool]) -> Callable[[Examined], list[float]]:
    """1 when something is so, 0 when not."""
    return lambda car: [float(holds(car))]


def volt(label: str, spread: float = 0.02) -> Outcome:
    """A voltage that a workshop meter shows."""
    return Outcome(label, quantity="voltage", spread=spread, error=0.008, step=0.01)


def drop(label: str, spread: float) -> Outcome:
    """A voltage drop in the meter's smallest range, which shows millivolts."""
    return Outcome(label, quantity="voltage", spread=spread, error=0.002, step=0.001)


def ohms(label: str, spread: float = 0.1, error: float = 0.05) -> Outcome:
    """A resistance, as its logarithm."""
    return Outcome(label, quantity="resistance", spread=spread, error=error, step=0.01, logarithm=True)


def log_ohms(resistance: float | None) -> float:
    """A resistance as its logarithm, None an open circuit. [log10 ohm]"""
    return float(np.log10(OPEN_OHMS if resistance is None else max(resistance, 0.1)))


def flag(label: str, spread: float = YES_OR_NO) -> Outcome:
    """Something that is so or not; the smaller the spread, the surer one can be of it."""
    return Outcome(label, quantity="ratio", spread=spread, error=0.0, step=1.0)


def noisy(test: DiagnosticTest, values: list[float], seed: int) -> NDArray[np.float64]:
    """Outcomes as the instrument would show them: its own error, and its step."""
    errors = chance(seed, test.id)
    shown = []
    for value, outcome in zip(values, test.outcomes, strict=True):
        read = value + outcome.error * float(errors.standard_normal()) if outcome.error > 0.0 else value
        # What is not defined on this vehicle (an engine that does not run) stays so.
        defined = outcome.step > 0.0 and read == read
        shown.append(round(read / outcome.step) * outcome.step if defined else read)
    return np.array(shown)
