"""Running the monitors over a drive.

Each monitor is a question to what the control unit believed and saw at its pins during one drive; it answers only where its enable
conditions hold. A code counts as pending or confirmed when it was set in the drive: after two like drives, two-trip codes are confirmed.
Limits are engineering choices in the size that the trade knows; J2012 defines meanings, not limits.
"""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.monitors.codes import CODES
from leitfaden_core.simulate import FRAME, Run
from leitfaden_core.simulate.run import rising_crossings

Flags = NDArray[np.bool_]
#: A sound front sensor passes the middle at 3 V/s or more. [V/s]
SLOW_EDGE = 1.4


@dataclass(frozen=True)
class Monitor:
    """A code and the test that sets it."""

    code: str
    test: Callable[[Run], bool]
    needs: str = ""  # sensor that a rig must have for the monitor to exist


MONITORS: list[Monitor] = []


def monitor(code_id: str, needs: str = "") -> Callable[[Callable[[Run], bool]], Callable[[Run], bool]]:
    """Register a test for a code; ``needs`` is a sensor without which it does not exist."""
    assert code_id in CODES

    def register(test: Callable[[Run], bool]) -> Callable[[Run], bool]:
        MONITORS.append(Monitor(code_id, test, needs))
        return test

    return register


def trouble_codes(run: Run) -> list[str]:
    """Codes that are pending or confirmed after two drives like this one, sorted."""
    there = {sensor.id for sensor in run.rig.sensors} | {""}
    return sorted({entry.code for entry in MONITORS if entry.needs in there and entry.test(run)})


def lasts(flags: Flags, seconds: float) -> bool:
    """Whether a condition holds without a break for some seconds."""
    needed = max(round(seconds / FRAME), 1)
    edges = np.flatnonzero(np.diff(np.concatenate([[0], flags.astype(np.int8), [0]])))
    return bool(edges.size and (edges[1::2] - edges[::2]).max() >= needed)


def _circuit(code_id: str, channel: str, outside: Callable[[NDArray[np.floating[Any]]], Flags], seconds: float, needs: str = "") -> None:
    """A continuous circuit monitor: the pin outside its limits for some seconds."""

    def test(run: Run) -> bool:
        return lasts(outside(run.lanes[channel]), seconds)

    MONITORS.append(Monitor(code_id, test, needs))


_circuit("P0102", "maf_volts", lambda volts: volts < 0.2, 0.5, needs="maf")
_circuit("P0103", "maf_volts", lambda volts: volts > 4.95, 0.5, needs="maf")
_circuit("P0107", "map_volts", lambda volts: volts < 0.1, 0.5, needs="map")
_circuit("P0108", "map_volts", lambda volts: volts > 4.9, 0.5, needs="map")
_circuit("P0112", "iat_volts", lambda volts: volts < 0.05, 0.5)
_circuit("P0113", "iat_volts", lambda volts: volts > 4.9, 0.5)
_circuit("P0117", "ect_volts", lambda volts: volts < 0.05, 0.5)
_circuit("P0118", "ect_volts", lambda volts: volts > 4.9, 0.5)
_circuit("P0132", "ho2s_b1s1_pin_v", lambda volts: volts > 1.1, 2.0)


@monitor("P0030")
def _front_heater(run: Run) -> bool:
    return lasts((run.lanes["running"] > 0.5) & (run.lanes["heater_front"] < 0.5), 10.0)


@monitor("P0036", needs="ho2s_b1s2")
def _rear_heater(run: Run) -> bool:
    return lasts((run.lanes["running"] > 0.5) & (run.lanes["heater_rear"] < 0.5), 10.0)


@monitor("P0128")
def _thermostat(run: Run) -> bool:
    """After eight minutes' worth of running, and on the road, the coolant is still well below its regulated temperature."""
    regulated = run.rig.thermal.thermostat_opens - 273.15
    late = (run.lanes["run_seconds"] > 480.0) & (run.lanes["kmh"] > 40.0)
    return lasts(late & (run.lanes["ect"] < regulated - 8.0), 15.0)


@monitor("P0131")
def _front_low(run: Run) -> bool:
    """Lean for long while the correction is at its limit: no mixture explains that."""
    rows = run.lanes
    return lasts((rows["closed_loop"] > 0.5) & (rows["ho2s_b1s1_pin_v"] < 0.2) & (rows["total_trim"] > 30.0), 10.0)


@monitor("P0133")
def _front_slow(run: Run) -> bool:
    """Edges too slow at raised idle, once per trip: the mean slope of the signal on its way through the middle."""
    rows = _steady(run, "no_load_2500")
    if rows is None:
        return False
    volts = rows["ho2s_b1s1_v"].astype(float)
    on_its_way = np.abs(volts[:-1] - run.rig.control.switch_voltage) < 0.1
    return bool(on_its_way.any()) and float(np.abs(np.diff(volts))[on_its_way].mean() / FRAME) < SLOW_EDGE


@monitor("P0134")
def _front_silent(run: Run) -> bool:
    """Near the bias for long, once the sensor has had a minute of its own time to wake: time lapse does not warm it faster."""
    rows = run.lanes
    running = rows["running"] > 0.5
    near = np.abs(rows["ho2s_b1s1_pin_v"] - run.rig.oxygen_sensors.bias_voltage) < 0.06
    return lasts(running & (np.cumsum(running) * FRAME > 60.0) & near, 20.0)


@monitor("P0171")
def _lean(run: Run) -> bool:
    return _trim(run, lambda total: total > 22.0)


@monitor("P0172")
def _rich(run: Run) -> bool:
    return _trim(run, lambda total: total < -22.0)


def _trim(run: Run, beyond: Callable[[NDArray[np.floating[Any]]], Flags]) -> bool:
    """Total trim, smoothed over the swing of the controller, beyond a limit for 20 s of warm closed loop."""
    rows = run.lanes
    width = round(3.0 / FRAME)
    smooth = np.convolve(rows["total_trim"].astype(np.float64), np.ones(width) / width, mode="same")
    return lasts((rows["closed_loop"] > 0.5) & (rows["ect"] > 70.0) & beyond(smooth), 20.0)


@monitor("P0300")
def _misfire(run: Run) -> bool:
    return lasts((run.lanes["running"] > 0.5) & (run.lanes["misfire"] > 0.05), 8.0)


@monitor("P0420", needs="ho2s_b1s2")
def _catalyst(run: Run) -> bool:
    """The rear sensor swings nearly as often and as wide as the front one at steady cruise, once per trip."""
    rows = _steady(run, "cruise_80")
    if rows is None:
        return False
    front, rear = rows["ho2s_b1s1_v"].astype(float), rows["ho2s_b1s2_v"].astype(float)
    swings = rising_crossings(front, 0.45)
    return swings > 5 and rising_crossings(rear, float(np.median(rear))) > 0.7 * swings and bool(np.std(rear) > 0.5 * np.std(front))


@monitor("P0506")
def _idle_low(run: Run) -> bool:
    return _idle(run, lambda error: error < -100.0)


@monitor("P0507")
def _idle_high(run: Run) -> bool:
    return _idle(run, lambda error: error > 200.0)


def _idle(run: Run, beyond: Callable[[NDArray[np.floating[Any]]], Flags]) -> bool:
    """Warm idle off its target, as far as the control unit believes to be warm."""
    rows = _steady(run, "hot_idle")
    if rows is None or not np.all(rows["running"] > 0.5):
        return False
    return lasts((rows["ect"] > 70.0) & beyond(rows["rpm"] - run.rig.control.idle_target), 10.0)


def _steady(run: Run, condition: str) -> NDArray[np.void] | None:
    """Rows of a condition in which the loop was closed all the time; None where the drive has none."""
    if condition not in run.script.conditions():
        return None
    rows = run.rows(run.script.span(condition))
    return rows if np.all(rows["closed_loop"] > 0.5) else None
