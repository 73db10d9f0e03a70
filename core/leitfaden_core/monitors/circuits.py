"""Continuous circuit monitors: a pin outside its limits, a heater without current. One drive is enough to confirm them."""

from collections.abc import Callable

import numpy as np

from leitfaden_core.monitors.logic import MONITORS, Flags, Monitor, Outcome, System, Values, monitor, running, soaked, watch
from leitfaden_core.simulate import Run
from leitfaden_core.wiring import CIRCUIT_GROUNDED, CIRCUIT_OPEN, CIRCUIT_SHORT_5V, CIRCUIT_SHORT_BATTERY

#: What the reference may fall to at the sensors, and rise to. [V]
REFERENCE_LOW, REFERENCE_HIGH = 4.4, 5.4


def _circuit(
    code: str,
    channel: str,
    outside: Callable[[Values], Flags],
    needs: str = "",
    seconds: float = 0.5,
    when: Callable[[Run], Flags] | None = None,
    system: System = "components",
) -> None:
    def test(run: Run) -> Outcome:
        return watch(outside(run.lanes[channel]), seconds, _powered(run) if when is None else when(run))

    MONITORS.append(Monitor(code, system, test, needs, trips=1))


def _powered(run: Run) -> Flags:
    """While the control unit supplies its sensors."""
    return np.asarray(run.lanes["powered"] > 0.5)


def _low(limit: float) -> Callable[[Values], Flags]:
    return lambda volts: np.asarray(volts < limit)


def _high(limit: float) -> Callable[[Values], Flags]:
    return lambda volts: np.asarray(volts > limit)


#: low code, high code, channel, limits, feature
_PINS: tuple[tuple[str, str, str, float, float, str], ...] = (
    ("P0102", "P0103", "maf_volts", 0.2, 4.95, "maf"),
    ("P0107", "P0108", "map_volts", 0.1, 4.9, "map"),
    ("P0112", "P0113", "iat_volts", 0.05, 4.9, "iat"),
    ("P0117", "P0118", "ect_volts", 0.05, 4.9, "ect"),
    ("P0122", "P0123", "tp_volts", 0.15, 4.85, "tp"),
    ("P0192", "P0193", "rail_volts", 0.15, 4.9, "rail"),
    ("P0237", "P0238", "charge_volts", 0.2, 4.9, "charge"),
    ("P0405", "P0406", "egr_volts", 0.15, 4.85, "egr_sensor"),
    ("P0405", "P0406", "egr_dp_volts", 0.1, 4.9, "egr_dp"),
    ("P2122", "P2123", "app_volts", 0.3, 4.85, "app"),
    ("P2228", "P2229", "baro_volts", 0.2, 4.9, "ambient_wire"),
    ("P2454", "P2455", "dpf_dp_volts", 0.1, 4.9, "dpf_dp"),
)
for _low_code, _high_code, _channel, _least, _most, _needs in _PINS:
    _circuit(_low_code, _channel, _low(_least), _needs)
    _circuit(_high_code, _channel, _high(_most), _needs)
# An exhaust thermometer is read as its end stop when its wire is shorted or broken.
_circuit("P0545", "egt_1", _low(-35.0), "egt_1")
_circuit("P0546", "egt_1", _high(990.0), "egt_1")
_circuit("P2032", "egt_2", _low(-35.0), "egt_2")
_circuit("P2033", "egt_2", _high(990.0), "egt_2")
_circuit("P0132", "ho2s_b1s1_pin_v", _high(1.2), "ho2s_b1s1", 2.0)
_circuit("P0138", "ho2s_b1s2_pin_v", _high(1.2), "ho2s_b1s2", 2.0)
_circuit("P0642", "vref_v", _low(REFERENCE_LOW), seconds=1.0)
_circuit("P0643", "vref_v", _high(REFERENCE_HIGH), seconds=1.0)
_circuit("P0562", "battery_true", _low(12.8), seconds=20.0, when=lambda run: running(run) & (run.lanes["run_seconds"] > 10.0))


def _heater(side: str, needs: str, low: str, high: str, weak: str) -> None:
    """What the driver of a heater sees: its line low while it is off, high while it is on, or too little power for too long."""

    def line_high(run: Run) -> Outcome:
        return watch(run.lanes[f"heater_{side}_state"] == CIRCUIT_SHORT_BATTERY, 2.0, running(run))

    def line_low(run: Run) -> Outcome:
        dead = (run.lanes[f"heater_{side}"] < 0.02) & (run.lanes[f"heater_{side}_state"] != CIRCUIT_SHORT_BATTERY)
        return watch(dead, 4.0, running(run) & (run.lanes["run_seconds"] > 5.0))

    def performance(run: Run) -> Outcome:
        power = run.lanes[f"heater_{side}"]
        return watch((power >= 0.02) & (power < 0.5), 20.0, running(run) & (run.lanes["run_seconds"] > 5.0))

    MONITORS.append(Monitor(high, "oxygen sensor heater", line_high, needs, trips=1))
    MONITORS.append(Monitor(low, "oxygen sensor heater", line_low, needs, trips=1))
    MONITORS.append(Monitor(weak, "oxygen sensor heater", performance, needs, trips=2))


_circuit(
    "P0443",
    "purge_state",
    lambda state: np.isin(state, (CIRCUIT_OPEN, CIRCUIT_GROUNDED, CIRCUIT_SHORT_BATTERY)),
    "purge",
    2.0,
)
_heater("front", "front_heater", "P0031", "P0032", "P0135")
_heater("rear", "ho2s_b1s2", "P0037", "P0038", "P0141")
_circuit("P2237", "wideband_lost", lambda state: np.asarray(state == CIRCUIT_OPEN), "wideband", 1.0)
_circuit("P2238", "wideband_lost", lambda state: np.asarray(state == CIRCUIT_GROUNDED), "wideband", 1.0)
_circuit(
    "P2239", "wideband_lost", lambda state: np.asarray((state == CIRCUIT_SHORT_5V) | (state == CIRCUIT_SHORT_BATTERY)), "wideband", 1.0
)


@monitor("P2135", "components", "two_tracks", trips=1)
def _two_tracks(run: Run) -> Outcome:
    """Both tracks of the throttle sensor add up to their supply; a shared supply that falls is not their fault."""
    rows = run.lanes
    apart = np.abs(rows["tp_volts"] + rows["tp2_volts"] - rows["vref_v"] - rows["sensor_ground_v"]) > 0.25
    return watch(apart, 0.5, _powered(run))


@monitor("P2138", "components", "app", trips=1)
def _two_pedal_tracks(run: Run) -> Outcome:
    """The first track of the pedal sensor is twice the second; a shared supply that falls moves both alike."""
    rows = run.lanes
    apart = np.abs(rows["app_volts"] - 2.0 * rows["app2_volts"] + rows["sensor_ground_v"]) > 0.25
    return watch(apart, 0.5, _powered(run))


def _between(run: Run, *names: str) -> dict[str, float]:
    """Medians at key on after a night, of the channels that the rig has; empty where the drive has no such stretch."""
    flags = soaked(run)
    return {name: float(np.median(run.lanes[name][flags])) for name in names} if flags.any() else {}


#: Pins of the values that correlation monitors compare, and where they must lie: what a circuit monitor has, correlation does not ask.
_PIN_OF = {"map": "map_volts", "charge_pressure": "charge_volts", "baro": "baro_volts", "ect": "ect_volts", "iat": "iat_volts"}


def _inside(run: Run, name: str) -> bool:
    if name.startswith("egt"):
        return bool(np.all((run.lanes[name][soaked(run)] > -35.0) & (run.lanes[name][soaked(run)] < 990.0)))
    low, high = next((least, most) for _l, _h, channel, least, most, _n in _PINS if channel == _PIN_OF[name])
    pin = float(np.median(run.lanes[_PIN_OF[name]][soaked(run)]))
    return low < pin < high


#: Pressures at key on may differ by this [kPa]; temperatures after a night by these [K].
PRESSURES_AGREE, TEMPERATURES_AGREE, EXHAUST_AGREES = 9.0, 35.0, 80.0


def _correlation(code: str, odd: str, others: tuple[str, ...], limit: float, needs: str) -> None:
    """At key on after a night, one value stands apart from all others, which agree with each other."""

    def test(run: Run) -> Outcome:
        values = _between(run, odd, *others)
        if not values or not all(_inside(run, name) for name in (odd, *others)):
            return Outcome(False)
        rest = [values[name] for name in others]
        apart = all(abs(values[odd] - other) > limit for other in rest) and max(rest) - min(rest) <= limit
        return Outcome(True, 2.0 if apart else None)

    MONITORS.append(Monitor(code, "components", test, needs, trips=2))


_correlation("P0106", "map", ("charge_pressure", "baro"), PRESSURES_AGREE, "three_pressures")
_correlation("P0236", "charge_pressure", ("map", "baro"), PRESSURES_AGREE, "three_pressures")
_correlation("P2227", "baro", ("map", "charge_pressure"), PRESSURES_AGREE, "three_pressures")
_correlation("P0236", "charge_pressure", ("baro",), PRESSURES_AGREE, "two_pressures")
_correlation("P0116", "ect", ("iat",), TEMPERATURES_AGREE, "ect")
_correlation("P2080", "egt_1", ("egt_2", "ect"), EXHAUST_AGREES, "egt_1")
_correlation("P2084", "egt_2", ("egt_1", "ect"), EXHAUST_AGREES, "egt_2")
