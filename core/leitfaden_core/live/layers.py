"""Where what is displayed parts from what is true: on a sensor's knot, seen against the undisturbed twin.

A sound sensor too shows something else than the truth: an intake thermometer is warmed by the engine, every element
lags. The twin with the same hands shows how much; what an engine's display is off beyond that is marked.
"""

import math

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.channels import channel
from leitfaden_core.rigs import Rig
from leitfaden_core.rigs.sections import SensorPlace

#: Share of the truth, display steps, and temperature by which display and truth must part further than the twin's do.
SHARE, STEPS, KELVIN = 0.05, 3.0, 4.0
_TRUTH = 2


def parted(rig: Rig, rows: NDArray[np.void], twin: NDArray[np.void]) -> list[str]:
    """Sensors whose display parts from the truth, by their ids. Of rows of the last moments."""
    return [sensor.id for sensor in rig.sensors if _parts(sensor, rows, twin)]


def _parts(sensor: SensorPlace, rows: NDArray[np.void], twin: NDArray[np.void]) -> bool:
    if len(sensor.channels) <= _TRUTH:
        return False
    display, truth = sensor.channels[0], sensor.channels[_TRUTH]
    if channel(display).quantity != channel(truth).quantity:
        return False
    true = _mean(rows, truth)
    off = _mean(rows, display) - true
    usual = _mean(twin, display) - _mean(twin, truth)
    least = KELVIN if channel(display).quantity == "temperature" else SHARE * abs(true)
    # An undefined truth or display parts from nothing.
    return abs(off - usual) > max(least, STEPS * channel(display).step)


def _mean(rows: NDArray[np.void], name: str) -> float:
    values = rows[name]
    known = values[~np.isnan(values)]
    return float(known.mean()) if len(known) else math.nan
