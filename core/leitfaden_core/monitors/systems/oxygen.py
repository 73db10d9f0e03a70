"""Monitors of the oxygen sensors, before and behind the catalyst."""

from collections.abc import Callable

import numpy as np

from leitfaden_core.monitors.logic import After, Held, Once, Stretch, Test, Values, monitor
from leitfaden_core.rigs import Rig
from leitfaden_core.simulate import FRAME

#: A sound front sensor passes the middle at 3 V/s or more. [V/s]
SLOW_EDGE = 1.4
#: How long a steady monitor reads. [s]
STEADY = 20.0
#: A sensor has had time to wake after this much running. [s]
AWAKE_AFTER = 60.0


@monitor("P0131", "oxygen sensor", "ho2s_b1s1")
def _front_low(rig: Rig) -> Test:
    return _low("ho2s_b1s1_pin_v", "total_trim")


@monitor("P0151", "oxygen sensor", "ho2s_b2s1")
def _second_low(rig: Rig) -> Test:
    return _low("ho2s_b2s1_pin_v", "total_trim_2")


def _low(volts: str, trim: str) -> Test:
    """Lean for long while the correction is at its limit: no mixture explains that."""
    return Held(
        lambda drive: np.asarray((drive[volts] < 0.2) & (drive[trim] > 30.0)),
        10.0,
        lambda drive: np.asarray(drive["closed_loop"] > 0.5),
    )


@monitor("P0133", "oxygen sensor", "switching_front")
def _front_slow(rig: Rig) -> Test:
    """Edges too slow at raised idle, once per trip: the mean slope of the signal on its way through the middle."""
    assert rig.mixture is not None
    middle = rig.mixture.switch_voltage

    def slow(values: dict[str, Values]) -> bool:
        volts = values["ho2s_b1s1_v"]
        on_its_way = np.abs(volts[:-1] - middle) < 0.1
        return bool(on_its_way.any()) and float(np.abs(np.diff(volts))[on_its_way].mean() / FRAME) < SLOW_EDGE

    return Once(lambda drive: drive.is_in("no_load_2500"), STEADY, ("ho2s_b1s1_v",), slow)


@monitor("P0133", "oxygen sensor", "wideband")
def _wideband_slow(rig: Rig) -> Test:
    """From the cut of fuel on overrun to lambda 1.5 it takes longer than transport and a sound sensor explain."""

    def late(before: dict[str, Values], after: dict[str, Values]) -> bool | None:
        lost = max(before["wideband_lost"].max(initial=0.0), after["wideband_lost"].max()) > 0.0
        # Still cold, or fuel came back before it could tell.
        if lost or not np.any(before["pump_current"]) or after["fuel_cut"].min() < 0.5:
            return None
        lean = np.flatnonzero(after["lambda_wideband"] > 1.5)
        return not lean.size or bool(lean[0] * FRAME > 1.0)

    return After(
        lambda drive: np.asarray((drive["fuel_cut"] > 0.5) & (drive["kmh"] > 30.0) & drive.running),
        1.0,
        2.0,
        ("wideband_lost", "pump_current", "lambda_wideband", "fuel_cut"),
        late,
    )


@monitor("P0154", "oxygen sensor", "ho2s_b2s1")
def _second_silent(rig: Rig) -> Test:
    return _silent(rig, "ho2s_b2s1_pin_v", "total_trim_2")


@monitor("P0134", "oxygen sensor", "ho2s_b1s1")
def _front_silent(rig: Rig) -> Test:
    return _silent(rig, "ho2s_b1s1_pin_v", "total_trim")


def _silent(rig: Rig, volts: str, trim: str) -> Test:
    """Near the bias for long, once the sensor has had a minute of its own time to wake: time lapse does not warm it
    faster.
    """
    assert rig.oxygen_sensors is not None
    bias, unheated = rig.oxygen_sensors.bias_voltage, rig.oxygen_sensors.heater_rise == 0.0
    # An unheated sensor may fall asleep in a long idle.
    least = 1.5 * rig.control.idle_target if unheated else 0.0
    # A correction at its limit may hold the mixture on the steep part.
    return Held(
        lambda drive: np.asarray((np.abs(drive[volts] - bias) < 0.06) & (np.abs(drive[trim]) < 35.0)),
        20.0,
        lambda drive: np.asarray(drive.running & (drive.ran > AWAKE_AFTER) & (drive["rpm"] > least)),
    )


class OverTheDrive(Test):
    """The rear sensor over a warm drive that had overrun in it, said at the end: lowest and highest voltage decide."""

    def __init__(self, failed: Callable[[float, float], bool]) -> None:
        super().__init__()
        self.failed, self.low, self.high, self.last_warm = failed, np.inf, -np.inf, 0
        self.overrun = Held(
            lambda drive: np.asarray(drive["fuel_cut"] > 0.5), 2.0, lambda drive: np.asarray(drive.ran > AWAKE_AFTER)
        )

    def feed(self, stretch: Stretch) -> None:
        warm = np.flatnonzero(stretch.running & (stretch.ran > AWAKE_AFTER))
        if warm.size:
            volts = stretch["ho2s_b1s2_v"][warm]
            self.low, self.high = min(self.low, float(volts.min())), max(self.high, float(volts.max()))
            self.last_warm = stretch.first + int(warm[-1])
        self.overrun.feed(stretch)

    def close(self, frames: int) -> None:
        self.completed = self.overrun.failed_at is not None
        if self.completed and self.failed(self.low, self.high):
            self._fail(self.last_warm)


@monitor("P0137", "oxygen sensor", "ho2s_b1s2")
def _rear_low(rig: Rig) -> Test:
    """Never anything, not even at full load."""
    return OverTheDrive(lambda low, high: high < 0.06)


@monitor("P0140", "oxygen sensor", "ho2s_b1s2")
def _rear_silent(rig: Rig) -> Test:
    """Near the bias through overrun and full load alike."""
    assert rig.oxygen_sensors is not None
    bias = rig.oxygen_sensors.bias_voltage
    return OverTheDrive(lambda low, high: max(abs(low - bias), abs(high - bias)) < 0.06)
