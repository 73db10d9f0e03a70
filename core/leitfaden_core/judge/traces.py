"""Verdicts on signals over time: reach, speed and count of a switching sensor, flat lines, drop-outs, and whether two
signals move together.

The limits are workshop conventions and can be set; the reasons name the one that was used.
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.judge.verdict import VerdictKind
from leitfaden_core.quantities import UnitSystem, shown, shown_apart
from leitfaden_core.simulate.shape import edge_time, rising_crossings
from leitfaden_core.words import say

Signal = NDArray[np.float64]


@dataclass(frozen=True)
class OxygenLimits:
    """What a sound narrowband reaches and how fast, at 2000 to 2500 1/min in closed loop, and when an oxygen sensor is
    judged at all.
    """

    low: float = 0.2  # V that it must go below
    high: float = 0.8  # V that it must go above at enrichment; in closed loop 0.1 V less will do
    swing_allowance: float = 0.1  # V less than ``high`` in closed loop
    edge_ms: float = 100.0  # between 300 and 600 mV
    swings_per_second: float = 1.0
    centre: float = 0.45  # V across which a swing is counted
    works_c: float = 350.0  # displayed temperature of its element from which it is judged; where none is displayed:
    warm_c: float = 60.0  # displayed coolant
    delay_s: float = 30.0  # after the engine's start
    wideband_works_c: float = 600.0  # displayed temperature of a wideband's element from which it is judged


@dataclass(frozen=True)
class Finding:
    """One measure of a signal with its verdict."""

    measure: str
    value: float
    unit: str
    kind: VerdictKind
    reason: str


def narrowband_findings(
    volts: Signal, step: float, limits: OxygenLimits | None = None, forced: bool = False
) -> list[Finding]:
    """Reach, speed and count of a switching oxygen sensor.

    Parameters
    ----------
    volts : array
        Signal at a constant step. [V]
    step : float
        [s]
    forced : bool
        True: the mixture was forced rich, so the full reach counts.
    """
    limits = limits or OxygenLimits()
    low, high = float(np.percentile(volts, 1)), float(np.percentile(volts, 99))
    if high - low < 0.08:
        return [flat_line(float(np.median(volts)))]
    wanted = limits.high if forced else limits.high - limits.swing_allowance
    swings = rising_crossings(volts, limits.centre) / (len(volts) * step)
    edge = edge_time(volts, step)
    return [
        Finding(
            "lowest",
            low,
            "V",
            _side(low <= limits.low),
            say("{lowest}; a sound sensor goes below {limit}.", **_volts("lowest", low, limits.low)),
        ),
        Finding(
            "highest",
            high,
            "V",
            _side(high >= wanted),
            say("{highest}; a sound sensor goes above {limit} here.", **_volts("highest", high, wanted)),
        ),
        Finding(
            "edge",
            edge * 1000.0,
            "ms",
            _side(edge * 1000.0 <= limits.edge_ms),
            say(
                "{edge:.0f} ms between 300 and 600 mV; limit {edge_ms:g} ms.",
                edge=edge * 1000.0,
                edge_ms=limits.edge_ms,
            ),
        ),
        Finding(
            "count",
            swings,
            "1/s",
            _side(swings >= limits.swings_per_second),
            say(
                "{swings:.1f} swings a second across {centre:g} V; at least {swings_per_second:g}.",
                swings=swings,
                centre=limits.centre,
                swings_per_second=limits.swings_per_second,
            ),
        ),
    ]


def element_cold(element: float, works: float, units: UnitSystem = UnitSystem.METRIC) -> str | None:
    """Why an oxygen sensor is not judged whose element is displayed, or None. Both in °C."""
    if element >= works:
        return None
    return say(
        "The sensor's element shows {element}; the school judges this type from {limit} on.",
        element=shown(element, "temperature", 1.0, units),
        limit=shown(works, "temperature", 1.0, units),
    )


def not_awake(
    coolant: float | None, since_start: float | None, limits: OxygenLimits, units: UnitSystem = UnitSystem.METRIC
) -> str | None:
    """Why an oxygen sensor whose element nothing displays is not judged yet by the school's limits, or None.

    ``coolant``: as displayed [°C]; ``since_start``: of the engine [s]; None where nobody knows.
    """
    if coolant is not None and coolant < limits.warm_c:
        return say(
            "The coolant shows {coolant}; the school judges an oxygen sensor from {limit} on.",
            coolant=shown(coolant, "temperature", 1.0, units),
            limit=shown(limits.warm_c, "temperature", 1.0, units),
        )
    if since_start is not None and since_start < limits.delay_s:
        return say(
            (
                "The engine has run for {since_start:.0f} s; the school judges an oxygen sensor {limit:g} s "
                "after the start, since its heater may wait."
            ),
            since_start=since_start,
            limit=limits.delay_s,
        )
    return None


def _volts(name: str, value: float, limit: float) -> dict[str, str]:
    """A voltage and its limit, with as many digits as tell them apart."""
    return dict(zip((name, "limit"), shown_apart(value, limit, "voltage", 0.01), strict=True))


def _side(passed: bool) -> VerdictKind:
    return VerdictKind.GOOD if passed else VerdictKind.FAULTY


#: Flat line of a narrowband: from, to [V], what it may mean. Several causes each: forcing the mixture both ways
#: separates them.
_FLAT = (
    (-9.0, -0.02, "below zero: the reference air is fouled, or the sensor's ground lies below the control unit's"),
    (
        -0.02,
        0.15,
        (
            "near zero: signal shorted to ground, sensor dead, or the gas truly lean (force the mixture rich to "
            "tell them apart)"
        ),
    ),
    (0.15, 0.35, "stuck low: ageing or a bad contact"),
    (0.35, 0.55, "near the control unit's bias: wire open, or the sensor still cold"),
    (
        0.55,
        0.98,
        "high: the gas truly rich, or the element soaked with fuel (force the mixture lean to tell them apart)",
    ),
    (0.98, 99.0, "above what the cell can make: a short to the heater or the 5 V supply"),
)


def flat_line(volts: float) -> Finding:
    """What a flat narrowband may mean; flat is never the verdict on the sensor by itself."""
    words = next(words for low, high, words in _FLAT if low <= volts < high)
    kind = VerdictKind.FAULTY if volts >= 0.98 or volts < -0.02 else VerdictKind.SUSPECT
    return Finding("flat line", volts, "V", kind, say("Flat at {volts:.2f} V, {words}.", volts=volts, words=words))


def drop_outs(values: Signal, step: float, height: float, longest: float = 1.0) -> Finding:
    """Gaps in which a signal leaves its neighbourhood by more than ``height`` and comes back within ``longest``
    seconds.
    """
    calm = np.array([np.median(values[max(k - 50, 0) : k + 51]) for k in range(0, len(values), 25)])
    base = np.interp(np.arange(len(values)), np.arange(0, len(values), 25), calm)
    away = np.abs(values - base) > height
    edges = np.flatnonzero(np.diff(np.concatenate([[0], away.astype(np.int8), [0]])))
    gaps = [
        (end - start) * step
        for start, end in zip(edges[::2], edges[1::2], strict=True)
        if (end - start) * step <= longest
    ]
    if not gaps:
        return Finding(
            "drop-outs",
            0.0,
            "",
            VerdictKind.GOOD,
            say("No drop-out longer than {step:.0f} ms in {count:.0f} s.", step=step * 1000, count=len(values) * step),
        )
    words = say(
        "{count} drop-outs in {count_2:.0f} s, the longest {max:.0f} ms: a contact that opens.",
        count=len(gaps),
        count_2=len(values) * step,
        max=max(gaps) * 1000,
    )
    return Finding("drop-outs", float(len(gaps)), "", VerdictKind.FAULTY, words)


def catches(gap: float, rate: float) -> float:
    """Chance that an instrument with so many values a second sees one gap of this length. Seconds, 1/s. [-]

    >>> catches(0.020, 1.0), catches(0.020, 1000.0)
    (0.02, 1.0)
    """
    return min(gap * rate, 1.0)


def moves_with(one: Signal, other: Signal, label: str = "the other signal") -> Finding:
    """Whether a signal moves when another does: rank correlation; a channel that stands still among moving ones is the
    one to look at.
    """
    if float(np.std(one)) < 1e-9:
        return Finding(
            "moves", 0.0, "-", VerdictKind.FAULTY, say("It does not move at all while {label} does.", label=label)
        )
    ranks = [np.argsort(np.argsort(values)).astype(float) for values in (one, other)]
    found = float(np.corrcoef(ranks[0], ranks[1])[0, 1])
    kind = VerdictKind.GOOD if abs(found) > 0.7 else VerdictKind.SUSPECT
    return Finding(
        "moves", found, "-", kind, say("Rank correlation with {label} {found:.2f}.", label=label, found=found)
    )
