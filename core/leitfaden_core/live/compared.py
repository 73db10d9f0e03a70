"""A kept reading beside those of sound engines: the same instrument at the same place, in the same state and air, on
engines of the population.

Both hold after a drive of a known course. What was read on an engine as it ran has a course of its own, and comes with
what its undisturbed twin showed there: where that would raise the same alarm, nothing is decided.

What a value sheet knows (a channel on the scan tool) is judged by the sheet. Of everything else no sheet exists: the
instrument is put to sound engines here and now, with its own errors. Nothing of the vehicle on the bench is asked.
"""

import math
from functools import lru_cache
from statistics import NormalDist
from typing import Annotated

import numpy as np
from pydantic import BaseModel, ConfigDict, Field

from leitfaden_core.channels import CHANNELS
from leitfaden_core.constants import ZERO_CELSIUS
from leitfaden_core.expect import MissingSheet, Weather, individual_engine
from leitfaden_core.expect.sheet import SCHOOL_CELSIUS, SCHOOL_KPA
from leitfaden_core.instruments import Vehicle, instruments, measure
from leitfaden_core.instruments.instrument import Shown
from leitfaden_core.judge import SchoolRules, Verdict, VerdictKind, judge_reading
from leitfaden_core.judge.evidence import FAULTY_BELOW, ratio_alone
from leitfaden_core.judge.verdict import ALARMS
from leitfaden_core.live.judging import beside_twin
from leitfaden_core.quantities import UnitSystem, shown, shown_apart, shown_number
from leitfaden_core.rigs import Rig
from leitfaden_core.words import say

#: Sound engines to which the instrument is put, and the first of their seeds: none that a table or a lesson uses.
SOUND, FIRST_SEED = 16, 41_000
#: Share of sound engines' readings between the limits. [-]
HELD = 0.95
_EDGE = NormalDist().inv_cdf((1.0 + HELD) / 2.0)


class KeptReading(BaseModel):
    """One thing that an instrument showed, by its id there, and how it was read: in air of ``celsius`` and ``kpa``."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    instrument: Annotated[str, Field(max_length=60)]
    place: Annotated[str, Field(max_length=400)]
    condition: Annotated[str, Field(max_length=60)]
    options: dict[str, Annotated[str, Field(max_length=60)]] = {}
    what: Annotated[str, Field(max_length=60)]
    label: Annotated[str, Field(max_length=200)]
    value: Annotated[float, Field(allow_inf_nan=False)] | None = None
    text: Annotated[str, Field(max_length=300)] = ""
    substitute: bool = False  # the control unit makes the value up, as the thread marks it
    celsius: Annotated[float, Field(ge=-40, le=60)] = SCHOOL_CELSIUS
    kpa: Annotated[float, Field(ge=50, le=115)] = SCHOOL_KPA
    stood_h: Annotated[float, Field(ge=0, le=1000)] | None = None  # hours since the engine last ran

    @property
    def channel(self) -> str:
        """The channel of a reading on the scan tool's data list; empty for any other."""
        return self.what if self.instrument == "scan_tool" and self.what in CHANNELS else ""


class TwinShown(BaseModel):
    """What the same instrument showed on the undisturbed twin in the same moment."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    value: Annotated[float, Field(allow_inf_nan=False)] | None = None
    text: Annotated[str, Field(max_length=300)] = ""


class BenchReading(KeptReading):
    """A reading from a bench; ``twin`` is known where the running engine itself was read."""

    twin: TwinShown | None = None

    @property
    def of_twin(self) -> KeptReading | None:
        """The same of the twin, if it is known."""
        if self.twin is None:
            return None
        told = self.model_dump(exclude={"twin", "value", "text", "substitute"})
        return KeptReading(**told, value=self.twin.value, text=self.twin.text)


def judge_kept(
    rig: Rig, kept: KeptReading, rules: SchoolRules | None = None, units: UnitSystem = UnitSystem.METRIC
) -> Verdict:
    """Verdict on a kept reading.

    Raises
    ------
    UnknownName
        For an instrument, place, condition or option that does not exist.
    """
    verdict = _judged(rig, kept, rules, units)
    twin = kept.of_twin if isinstance(kept, BenchReading) else None
    if verdict.kind not in ALARMS or twin is None:
        return verdict
    return beside_twin(verdict, _judged(rig, twin, rules, units))


def course_explains(rig: Rig, kept: KeptReading, units: UnitSystem = UnitSystem.METRIC) -> bool:
    """Whether a reading is out of the usual for the engine's course alone, as its twin's is: causes are not told apart
    by it.
    """
    alone = _judged(rig, kept, None, units)
    return alone.kind in ALARMS and judge_kept(rig, kept, None, units).kind not in ALARMS


def _judged(rig: Rig, kept: KeptReading, rules: SchoolRules | None, units: UnitSystem) -> Verdict:
    channel_id = kept.channel
    if channel_id and kept.value is not None:
        weather = Weather(kept.celsius, kept.kpa, unsure_k=1.0)
        try:
            return judge_reading(
                rig,
                kept.condition,
                channel_id,
                kept.value,
                rules=rules,
                units=units,
                substitute=kept.substitute,
                weather=weather,
            )
        except MissingSheet:
            pass
    sound = [found for found in _sound(rig, _Way.of(kept)) if found is not None]
    if not sound:
        reason = say("None of {count} sound engines shows anything like “{label}” here.", count=SOUND, label=kept.label)
        return Verdict(VerdictKind.SUSPECT, reason)
    if kept.value is None:
        return _judge_words(kept.text, [found.text for found in sound])
    return _judge_number(kept.value, sound, units)


class _Way(BaseModel):
    """How something was read; hashable."""

    model_config = ConfigDict(frozen=True)

    instrument: str
    place: str
    condition: str
    options: tuple[tuple[str, str], ...]
    what: str
    celsius: float
    kpa: float

    @classmethod
    def of(cls, kept: KeptReading) -> "_Way":
        told = kept.model_dump(include={"instrument", "place", "condition", "what", "celsius", "kpa"})
        return cls(**told, options=tuple(sorted(kept.options.items())))


@lru_cache(maxsize=64)
def _sound(rig: Rig, way: _Way) -> tuple[Shown | None, ...]:
    """The same on sound engines that stand in the same air, in which no weather is left to differ."""
    found: list[Shown | None] = []
    for seed in range(FIRST_SEED, FIRST_SEED + SOUND):
        engine = individual_engine(rig, seed)
        engine |= {"ambient_temp": way.celsius + ZERO_CELSIUS, "ambient_pressure": way.kpa * 1e3}
        car = Vehicle(rig, (), seed, tuple(sorted(engine.items())))
        seen = measure(instruments.get(way.instrument), car, way.place, way.condition, dict(way.options), seed).shown
        found.append(next((entry for entry in seen if entry.id == way.what), None))
    return tuple(found)


def _judge_words(text: str, sound: list[str]) -> Verdict:
    alike = sum(text == other for other in sound)
    if alike > (1.0 - HELD) * len(sound):
        reason = say(
            "{alike} of {count} sound engines show the same: “{text}”.", alike=alike, count=len(sound), text=text
        )
        return Verdict(VerdictKind.GOOD, reason)
    usual = max(set(sound), key=sound.count)
    reason = say(
        "None of {count} sound engines shows “{text}”; most show “{usual}”. Read it a second time before deciding.",
        count=len(sound),
        text=text,
        usual=usual,
    )
    return Verdict(VerdictKind.SUSPECT, reason)


def student(freedom: int) -> float:
    """Student's t that holds ``HELD`` of the readings on both sides together, for five degrees of freedom or more
    (expansion of Fisher and Cornish, Technometrics 2, 1960; within 1 % there).

    >>> round(student(15), 2), round(student(7), 2)
    (2.13, 2.36)
    """
    z = _EDGE
    first = (z**3 + z) / (4.0 * freedom)
    second = (5.0 * z**5 + 16.0 * z**3 + 3.0 * z) / (96.0 * freedom**2)
    return z + first + second


def _judge_number(value: float, sound: list[Shown], units: UnitSystem) -> Verdict:
    """Limits of one further reading of a normal population of which so many are known (prediction interval; Hahn,
    Journal of Quality Technology 1, 1969). The display's step is part of what is seen.
    """
    known = np.array([entry.value for entry in sound if entry.value is not None and math.isfinite(entry.value)])
    if len(known) < SOUND / 2:
        return Verdict(VerdictKind.SUSPECT, "Sound engines show no number here, and this one does: read it again.")
    first = sound[0]
    middle, spread = float(known.mean()), float(known.std(ddof=1))
    spread = math.hypot(spread, first.step / math.sqrt(12.0)) or 1e-9
    factor = math.sqrt(1.0 + 1.0 / len(known))
    reach = student(len(known) - 1) * factor * spread
    low, high = middle - reach, middle + reach
    facts = {
        "low": shown_number(low, first.quantity, first.step, units),
        "high": shown(high, first.quantity, first.step, units),
        "count": len(known),
    }
    if low <= value <= high:
        reason = say(
            (
                "{here} lies within {low} to {high}, where 95 in 100 of sound engines are (from {count} of them, "
                "read alike)."
            ),
            here=shown(value, first.quantity, first.step, units),
            **facts,
        )
        return Verdict(VerdictKind.GOOD, reason)
    here, limit = shown_apart(value, low if value < low else high, first.quantity, first.step, units)
    away = (value - middle) / (reach / _EDGE)
    side = say("below {limit}", limit=limit) if value < low else say("above {limit}", limit=limit)
    if ratio_alone(away) > FAULTY_BELOW:
        reason = say(
            (
                "{here} lies {side}; sound engines are within {low} to {high} (from {count} of them, read "
                "alike), but a few lie outside: take a second reading before deciding."
            ),
            here=here,
            side=side,
            **facts,
        )
        return Verdict(VerdictKind.SUSPECT, reason, distance=away)
    reason = say(
        (
            "{here} lies {side}, and sound engines are within {low} to {high} (from {count} of them, read "
            "alike): a sound engine explains that far worse than a fault would."
        ),
        here=here,
        side=side,
        **facts,
    )
    return Verdict(VerdictKind.FAULTY, reason, distance=away)
