"""Recordings as answers: lanes thinned for the screen, windows, readings with band and verdict.

No physics here, only shape.
"""

from typing import Any

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.channels import CHANNELS, channel, rounded
from leitfaden_core.expect import ValueSheet, load_sheet
from leitfaden_core.judge import LaneVerdict, OxygenLimits, SchoolRules, judge_lanes
from leitfaden_core.lessons import LaneWish
from leitfaden_core.quantities import QUANTITIES, UnitSystem, digits_of
from leitfaden_core.recordings import Recording, RunRecording, conditions_of
from leitfaden_core.rigs import Rig, shown_quantity
from leitfaden_core.scripts import CONDITIONS
from leitfaden_core.simulate import FRAME
from leitfaden_core.simulate.moments import extremes
from leitfaden_core.simulate.shape import statistics_of

#: Rows of 10 ms that become two points on the screen: the extremes survive, so that a short gap stays visible.
BUCKET = 10
#: Rows of a lane's picture, drawn over one condition, that an eye tells apart.
PICTURE_ROWS = 50


def thinned(values: NDArray[np.floating[Any]], step: float) -> NDArray[np.floating[Any]]:
    """Lowest and highest value of each bucket, in the order in which they came, shape (2 · buckets,)."""
    return np.round(extremes(values, BUCKET), digits_of(step) + 1)


def time_axis(rows: int) -> NDArray[np.float64]:
    """Times of the thinned points of so many rows. [s]"""
    return np.round(np.arange(rows // BUCKET * 2) * BUCKET * FRAME / 2.0, 3)


def windows(recording: Recording) -> list[dict[str, Any]]:
    """The stretches in which values are read, by their conditions."""
    return [
        {
            "condition": stretch.condition,
            "label": CONDITIONS[stretch.condition].label,
            "start": stretch.start,
            "end": stretch.end,
            "closed_loop": CONDITIONS[stretch.condition].closed_loop,
        }
        for stretch in recording.stretches
    ]


def segments(recording: Recording) -> list[dict[str, Any]]:
    """What happens along the way, each part with its beginning and end."""
    parts = [event for event in recording.events if event.kind == "segment"]
    ends = [*(event.seconds for event in parts[1:]), recording.time[-1] if len(recording.time) else 0.0]
    return [
        {
            "label": event.words,
            "start": event.seconds,
            "end": round(float(end), 3),
            "time_lapse": dict(event.details).get("time_lapse", 1.0),
        }
        for event, end in zip(parts, ends, strict=True)
    ]


def readings(
    recording: Recording,
    good: Recording | None,
    channels: list[str],
    rules: SchoolRules,
    units: UnitSystem,
    limits: OxygenLimits | None = None,
) -> list[dict[str, Any]]:
    """A reading per condition and channel, with the band of its mean and the verdict on the whole stretch: its shape
    counts too, and all are judged together.
    """
    places = [(condition, name) for condition in conditions_of(recording) for name in channels]
    return [_reading(recording, good, lane) for lane in judge_lanes(recording, places, rules, limits, units)]


def _reading(recording: Recording, good: Recording | None, lane: LaneVerdict) -> dict[str, Any]:
    condition, name = lane.condition, lane.channel
    return {
        "condition": condition,
        "channel": name,
        "value": _read(recording, condition, name),
        "good": None if good is None else _read(good, condition, name),
        "low": lane.band.low if lane.band else None,
        "high": lane.band.high if lane.band else None,
        "substitute": recording.substituted(condition, name),
        "verdict": str(lane.verdict.kind),
        "measure": lane.measure,
        "reason": lane.verdict.reason,
    }


def _read(recording: Recording, condition: str, name: str) -> float | None:
    """Mean over a condition with the resolution of its display; None where the channel is not defined."""
    value = recording.statistic(condition, name, "mean")
    return None if value != value else rounded(value, channel(name).step)


def bands(rig: Rig, channels: list[str]) -> list[dict[str, Any]]:
    """What healthy engines show of each channel in each condition: the band of the mean; for signals that swing by
    nature, from the lowest low to the highest high, since a single moment of them is never at the mean.
    """
    sheet = load_sheet(rig)
    return [
        _drawn_band(sheet, condition, name)
        for condition in sorted(sheet.conditions)
        for name in channels
        if (condition, name, "mean") in sheet.bands
    ]


def _drawn_band(sheet: ValueSheet, condition: str, name: str) -> dict[str, Any]:
    swings = channel(name).swings != ""
    lowest, highest = ("min", "max") if swings else ("mean", "mean")
    return {
        "condition": condition,
        "channel": name,
        "low": sheet.bands[condition, name, lowest].low,
        "high": sheet.bands[condition, name, highest].high,
        "swing": swings,
    }


def lanes(recording: Recording, channels: list[str], good: Recording | None) -> dict[str, Any]:
    """All that a lane view needs to draw: time, values per channel, what happened when."""
    found: dict[str, Any] = {}
    for name in channels:
        step = channel(name).step
        found[name] = {
            "run": thinned(recording.column(name), step),
            "good": thinned(good.column(name), step) if good is not None else None,
        }
    return {
        "time": time_axis(len(recording.time)),
        "lanes": found,
        "quantities": {name: shown_quantity(recording.rig, name) for name in channels},
        "windows": windows(recording),
        "segments": segments(recording),
        "seconds": round(float(recording.time[-1]), 3) if len(recording.time) else 0.0,
    }


def drawn(wish: LaneWish | None) -> dict[str, Any] | None:
    """The lanes that a station shows: no readings, and the bands only where it wants them."""
    if wish is None:
        return None
    good = None if wish.good is None else RunRecording(wish.good)
    found = lanes(RunRecording(wish.run), wish.channels, good)
    there = bands(wish.run.rig, wish.channels) if wish.bands else []
    return found | {"readings": [], "bands": [_pictured(band, found) for band in there]}


def _pictured(band: dict[str, Any], sent: dict[str, Any]) -> dict[str, Any]:
    """A band as finely as a picture of its condition shows it: what an eye cannot read there, no program shall read."""
    window = next((w for w in sent["windows"] if w["condition"] == band["condition"]), None)
    there = slice(None) if window is None else (sent["time"] >= window["start"]) & (sent["time"] <= window["end"])
    lines = [line[there] for line in sent["lanes"][band["channel"]].values() if line is not None]
    values = np.concatenate([*lines, [band["low"], band["high"]]])
    row = (np.nanmax(values) - np.nanmin(values)) / PICTURE_ROWS
    if not row > 0.0:
        return band
    return band | {"low": float(np.floor(band["low"] / row) * row), "high": float(np.ceil(band["high"] / row) * row)}


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
            "digits": digits_of(c.step),
            "meaning": c.meaning,
            "swings": c.swings != "",
            "statistics": list(statistics_of(c.id)),
        }
        for c in CHANNELS.values()
    ]
