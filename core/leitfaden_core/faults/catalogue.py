"""What a fault kind is, and the registry of all of them.

A kind is one record: parameters with unit, range and severity steps, and a function that turns chosen parameters into
effects on the simulator's hooks. Adding a kind touches one file in ``kinds/``.
"""

import re
from collections.abc import Callable, Mapping
from dataclasses import KW_ONLY, dataclass, field
from typing import Literal

from leitfaden_core.errors import UnknownName
from leitfaden_core.faults.parts import part_called
from leitfaden_core.registry import Registry
from leitfaden_core.rigs import Rig
from leitfaden_core.words import say

Values = dict[str, float | str]


@dataclass(frozen=True)
class Effect:
    """One change at one hook: ``set``, ``add``, ``multiply`` or ``max`` with a value.

    Where it sits: the part that carries the defect, the hose or pipe through which it acts, the cylinder (from 1).
    """

    hook: str
    op: Literal["set", "add", "multiply", "max"]
    value: float
    part: str = ""
    hose: str = ""
    cylinder: int = 0


@dataclass(frozen=True)
class Range:
    """What a number may be, and the sizes that are called small, medium and large."""

    low: float
    high: float
    steps: tuple[float, ...]


@dataclass(frozen=True)
class Parameter:
    """A parameter of a fault kind: a number with unit, range and severity steps (small, medium, large), or a choice.

    ``words`` say a number that has no unit, from its ``{value}`` or as a ``{percent}``; ``called`` what people call a
    choice, where that is not its name. ``neutral`` is the size at which nothing is wrong: None for what is no size,
    such as the number of a cylinder. A ``ratio`` grows by factors rather than by sums.
    """

    id: str
    label: str
    _: KW_ONLY
    unit: str = ""
    low: float = 0.0
    high: float = 0.0
    steps: tuple[float, ...] = ()
    choices: tuple[str, ...] = ()
    called: Mapping[str, str] = field(default_factory=dict)
    optional: bool = False
    words: str = ""
    neutral: float | None = 0.0
    ratio: bool = False
    depends_on: str = ""  # another parameter, whose choice decides the range
    ranges: dict[str, Range] = field(
        default_factory=dict
    )  # by that choice; where it is not named, the range above stands

    def range_for(self, values: Values) -> Range:
        """Range and severity steps with the other parameters chosen so."""
        return self.ranges.get(str(values.get(self.depends_on)), Range(self.low, self.high, self.steps))

    def said(self, value: float | str) -> str:
        """A value as people say it.

        >>> Parameter("gain", "reading / true flow", words="reads {percent:.3g} % of true flow").said(0.75)
        'reads 75 % of true flow'
        >>> Parameter("K", "added to the reading", unit="K").said(-10.0)
        '−10 K'
        """
        if isinstance(value, str):
            return say(self.called.get(value, value))
        told = say(self.words or f"{{value:g}} {self.unit}".strip(), value=value, percent=100.0 * value)
        return re.sub(r"(?<!\w)-(?=\d)", "−", told)

    def sized(self, value: float, share: float, values: Values) -> float:
        """The value whose distance from neutral is that share of this one's, within the range."""
        if self.neutral is None:
            return value
        allowed = self.range_for(values)
        wanted = (
            self.neutral * (value / self.neutral) ** share
            if self.ratio
            else self.neutral + (value - self.neutral) * share
        )
        return round(min(max(wanted, allowed.low), allowed.high), 4)

    def default_for(self, values: Values) -> float | str:
        """The first choice, or the middle severity with the other parameters chosen so."""
        if self.choices:
            return self.choices[0]
        steps = self.range_for(values).steps
        return steps[len(steps) // 2]


@dataclass(frozen=True)
class Leads:
    """What a fault does in the long run: the kind of another fault, and the way to it."""

    to: str
    how: str


@dataclass(frozen=True)
class FaultKind:
    """One way in which something can be wrong."""

    id: str
    label: str
    _: KW_ONLY
    group: str
    meaning: str
    place: str  # id of a sensor or station on the thread
    parameters: tuple[Parameter, ...]
    effects: Callable[[Values, Rig], list[Effect]]
    repair: str
    cautions: tuple[str, ...] = ()
    proof: str = ""
    sealed: bool = False  # its opening stays shut against the low pressure of a smoke generator
    part: str = ""  # part whose exchange ends it; a choice among its parameters stands in braces
    hose: str = ""  # hose or pipe through which it acts, and where it can be closed off
    look: str = ""  # what the eye sees of it, for whoever looks at the right place
    at_plug: Callable[[Values, Rig], str] | None = (
        None  # circuit with whose plug the defect leaves: that of a damaged sensor
    )
    construction: bool = False  # a change that somebody chose, which no diagnosis looks for
    usual_with: str = (
        ""  # feature without which nobody looks for it on a rig: there it disturbs nothing, or is not there
    )
    unusual_with: str = ""  # feature of rigs that have no such part
    prior: float = 1.0  # how common it is in a workshop, relative to others; a rule of thumb
    everyday: bool = False  # many cars have it, and it explains no complaint about how they run
    needs: str = ""  # sensor or feature that a rig must have for this fault to exist (see Rig.features)
    pulses: Callable[[Values], tuple[float, float]] | None = field(default=None)  # seconds open, events per minute
    suggested: Values = field(default_factory=dict)  # optional parameters without which the kind says nothing
    measured_by: tuple[str, ...] = ()  # diagnostic tests that measure the defect itself; choices stand in braces
    only_after: tuple[str, ...] = ()  # tests that must have been taken before it may be called proven
    leads_to: tuple[Leads, ...] = ()  # what it damages when it lasts for weeks: trade knowledge
    ways: Callable[[Values, Rig], list[list[Values]]] | None = None  # sizes worth simulating, when not its steps

    def part_of(self, values: Values) -> str:
        """The part whose exchange ends a fault of this kind with these parameters; empty when none does."""
        return part_called(self.part.format(**values))

    def named(self, values: Mapping[str, float | str]) -> str:
        """What it is called with these choices, whatever its sizes."""
        chosen = [p.said(choice) for p in self.parameters if isinstance(choice := values.get(p.id), str)]
        return say("{label} ({choices})", label=self.label, choices=", ".join(chosen)) if chosen else self.label

    def sized(self, values: Values, share: float) -> Values:
        """All parameters with each size at a share of its distance from neutral; choices as they are."""
        numbers = {parameter.id: parameter for parameter in self.parameters if not parameter.choices}
        return {
            name: numbers[name].sized(float(value), share, values) if name in numbers else value
            for name, value in values.items()
        }

    def __post_init__(self) -> None:
        for parameter in self.parameters:
            if not parameter.choices and (parameter.low >= parameter.high or not parameter.steps):
                raise ValueError(
                    say(
                        "fault kind '{id}', parameter '{id_2}': range and severity steps are needed",
                        id=self.id,
                        id_2=parameter.id,
                    )
                )


#: Features that faults need, in words for the message that says that a rig lacks one.
FEATURES = {
    "maf": "airflow meter",
    "tp": "throttle position sensor",
    "map": "manifold pressure sensor",
    "charge": "charge pressure sensor",
    "ho2s_b1s1": "narrowband oxygen sensor before the catalyst",
    "ho2s_b1s2": "oxygen sensor behind the catalyst",
    "wideband": "wideband sensor",
    "turbo": "turbocharger",
    "wastegate": "wastegate",
    "vanes": "variable turbine",
    "recirculation_valve": "compressor recirculation valve",
    "egr": "exhaust recirculation",
    "egr_vacuum": "EGR valve that is moved by vacuum",
    "egr_dp": "EGR pressure drop sensor",
    "app": "accelerator pedal sensor",
    "distributor": "distributor",
    "changeover": "changeover valve at the MAP sensor",
    "dpf_dp": "particle filter",
    "petrol": "petrol injection",
    "petrol_rail": "port injection",
    "purge": "canister purge under command",
    "trims": "closed-loop mixture control by an oxygen sensor",
    "burn_off": "airflow meter with burn-off",
    "egt_1": "exhaust temperature sensors",
}

fault_kinds: Registry[FaultKind] = Registry("fault kind")

#: Where a fault of one bank sits, on engines with an oxygen sensor in each.
BANK = Parameter(
    "bank", "bank", choices=("bank_1", "bank_2"), called={"bank_1": "bank 1", "bank_2": "bank 2"}, optional=True
)


def in_second_bank(kind: str, values: Values, rig: Rig) -> bool:
    """Whether a fault sits in the second bank; UnknownName when the rig has no sensor there."""
    bank = str(values.get("bank", "bank_1"))
    if bank == "bank_2" and "two_banks" not in rig.features:
        raise UnknownName("bank", bank, ["bank_1"], where=say("of fault {kind} on rig {id}", kind=kind, id=rig.id))
    return bank == "bank_2"
