"""Runs as answers: lanes thinned for the screen, windows, readings with band and verdict.

No physics here, only shape.
"""

from typing import Any

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.channels import CHANNELS, channel, rounded
from leitfaden_core.expect import load_sheet
from leitfaden_core.judge import SchoolRules, judge_reading
from leitfaden_core.lessons import LaneWish
from leitfaden_core.quantities import QUANTITIES, UnitSystem
from leitfaden_core.rigs import Rig, shown_quantity
from leitfaden_core.scripts import CONDITIONS, Script
from leitfaden_core.simulate import Run

#: Rows of 10 ms that become two points on the screen: the extremes survive, so that a short gap stays visible.
BUCKET = 10


def thinned(values: NDArray[np.float32], step: float) -> NDArray[np.float32]:
    """Lowest and highest value of each bucket, in the order in which they came, shape (2 · buckets,)."""
    buckets = values[: len(values) // BUCKET * BUCKET].reshape(-1, BUCKET)
    with np.errstate(invalid="ignore"):
        low, high = buckets.argmin(axis=1), buckets.argmax(axis=1)
    order = np.sort(np.stack([low, high], axis=1), axis=1)
    digits = max(0, int(np.ceil(-np.log10(step)))) + 1
    return np.round(np.take_along_axis(buckets, order, axis=1).reshape(-1), digits)


def time_axis(run: Run) -> NDArray[np.float64]:
    """Script time of the thinned points. [s]"""
    return np.round(np.arange(len(run.lanes) // BUCKET * 2) * BUCKET * 0.005, 3)


def windows(script: Script) -> list[dict[str, Any]]:
    """Named stretches of the script in which values are read."""
    return [
        {
            "condition": name,
            "label": CONDITIONS[name].label,
            "start": script.span(name)[0],
            "end": script.span(name)[1],
            "closed_loop": CONDITIONS[name].closed_loop,
        }
        for name in script.conditions()
    ]


def segments(script: Script) -> list[dict[str, Any]]:
    """Stretches of the script with what happens in them."""
    return [
        {
            "label": segment.label,
            "start": round(start, 3),
            "end": round(start + segment.seconds, 3),
            "time_lapse": segment.time_lapse,
        }
        for start, segment in zip(script.starts(), script.segments, strict=True)
    ]


def readings(
    run: Run, good: Run | None, channels: list[str], rules: SchoolRules, units: UnitSystem
) -> list[dict[str, Any]]:
    """A reading per condition and channel, with the band and the verdict on it."""
    return [
        _reading(run, good, condition, name, rules, units) for condition in run.script.conditions() for name in channels
    ]


def _reading(
    run: Run, good: Run | None, condition: str, name: str, rules: SchoolRules, units: UnitSystem
) -> dict[str, Any]:
    step = channel(name).step
    value = _read(run, condition, name, step)
    verdict = judge_reading(
        run.rig, condition, name, float("nan") if value is None else value, rules=rules, units=units
    )
    return {
        "condition": condition,
        "channel": name,
        "value": value,
        "good": None if good is None else _read(good, condition, name, step),
        "low": verdict.band.low if verdict.band else None,
        "high": verdict.band.high if verdict.band else None,
        "verdict": str(verdict.kind),
        "reason": verdict.reason,
    }


def _read(run: Run, condition: str, name: str, step: float) -> float | None:
    """Mean over a condition with the resolution of its display; None where the channel is not defined."""
    value = run.statistic(condition, name, "mean")
    return None if value != value else rounded(value, step)


def bands(rig: Rig, channels: list[str]) -> list[dict[str, Any]]:
    """What healthy engines show of each channel in each condition: the band of the mean; for signals that swing by
    nature, from the lowest low to the highest high, since a single moment of them is never at the mean.
    """
    found = load_sheet(rig).bands
    drawn = []
    for condition, name, stat in found:
        if stat != "mean" or name not in channels:
            continue
        swings = channel(name).swings != ""
        lowest, highest = ("min", "max") if swings else ("mean", "mean")
        drawn.append(
            {
                "condition": condition,
                "channel": name,
                "low": found[condition, name, lowest].low,
                "high": found[condition, name, highest].high,
                "swing": swings,
            }
        )
    return drawn


def lanes(run: Run, channels: list[str], good: Run | None) -> dict[str, Any]:
    """All that a lane view needs to draw: time, values per channel, script."""
    found: dict[str, Any] = {}
    for name in channels:
        step = channel(name).step
        found[name] = {
            "run": thinned(run.lanes[name], step),
            "good": thinned(good.lanes[name], step) if good is not None else None,
        }
    return {
        "time": time_axis(run),
        "lanes": found,
        "quantities": {name: shown_quantity(run.rig, name) for name in channels},
        "windows": windows(run.script),
        "segments": segments(run.script),
        "seconds": run.script.seconds,
    }


def drawn(wish: LaneWish | None) -> dict[str, Any] | None:
    """The lanes that a station shows: no readings, and the bands only where it wants them."""
    if wish is None:
        return None
    shown = bands(wish.run.rig, wish.channels) if wish.bands else []
    return lanes(wish.run, wish.channels, wish.good) | {"readings": [], "bands": shown}


def channel_rows() -> list[dict[str, Any]]:
    """The channel catalogue for the screen."""
    return [
        {
            "id": c.id,
            "label": c.label,
            "quantity": c.quantity,
            "unit": QUANTITIES[c.quantity].kept,
            "layer": str(c.layer),
            "family": c.family,
            "measurand": c.measurand,
            "step": c.step,
            "meaning": c.meaning,
        }
        for c in CHANNELS.values()
    ]
