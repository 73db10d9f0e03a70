"""Circuit monitors, which are always watching: a pin outside its limits, a heater without current, values that must
agree at key on.

One drive is enough to confirm most of them.
"""

from collections.abc import Callable

import numpy as np

from leitfaden_core.control.fuelling import CELL_TOP
from leitfaden_core.monitors.logic import MONITORS, Flags, Held, Monitor, Once, Stretch, System, Test, Values, monitor
from leitfaden_core.rigs import Rig
from leitfaden_core.sensors.pins import PIN_LIMITS
from leitfaden_core.simulate import FRAME
from leitfaden_core.simulate.limits import APP_TRACKS_AGREE, TRACKS_AGREE
from leitfaden_core.wiring import CIRCUIT_GROUNDED, CIRCUIT_OPEN, CIRCUIT_SHORT_5V, CIRCUIT_SHORT_BATTERY

#: What the reference may fall to at the control unit's own pin, and rise to. [V]
REFERENCE_LOW, REFERENCE_HIGH = 4.65, 5.4


def _powered(drive: Stretch) -> Flags:
    return drive.powered


def _circuit(
    code: str,
    channel: str,
    outside: Callable[[Values], Flags],
    needs: str = "",
    seconds: float = 0.5,
    when: Callable[[Stretch], Flags] = _powered,
    system: System = "components",
) -> None:
    def test(rig: Rig) -> Test:
        return Held(lambda drive: outside(drive[channel]), seconds, when)

    MONITORS.append(Monitor(code, system, test, needs, trips=1))


def _low(limit: float) -> Callable[[Values], Flags]:
    return lambda volts: np.asarray(volts < limit)


def _high(limit: float) -> Callable[[Values], Flags]:
    return lambda volts: np.asarray(volts > limit)


#: low code, high code, channel, feature
_PINS: tuple[tuple[str, str, str, str], ...] = (
    ("P0102", "P0103", "maf_volts", "maf"),
    ("P0107", "P0108", "map_volts", "map"),
    ("P0112", "P0113", "iat_volts", "iat"),
    ("P0117", "P0118", "ect_volts", "ect"),
    ("P0122", "P0123", "tp_volts", "tp"),
    ("P0192", "P0193", "rail_volts", "rail"),
    ("P0237", "P0238", "charge_volts", "charge"),
    ("P0405", "P0406", "egr_volts", "egr_sensor"),
    ("P0405", "P0406", "egr_dp_volts", "egr_dp"),
    ("P0222", "P0223", "tp2_volts", "two_tracks"),
    ("P2122", "P2123", "app_volts", "app"),
    ("P2127", "P2128", "app2_volts", "app"),
    ("P2228", "P2229", "baro_volts", "ambient_wire"),
    ("P2454", "P2455", "dpf_dp_volts", "dpf_dp"),
)
for _low_code, _high_code, _channel, _needs in _PINS:
    _circuit(_low_code, _channel, _low(PIN_LIMITS[_channel][0]), _needs)
    _circuit(_high_code, _channel, _high(PIN_LIMITS[_channel][1]), _needs)
# An exhaust thermometer is read as its end stop when its wire is shorted or broken.
_circuit("P0545", "egt_1", _low(-35.0), "egt_1")
_circuit("P0546", "egt_1", _high(990.0), "egt_1")
_circuit("P2032", "egt_2", _low(-35.0), "egt_2")
_circuit("P2033", "egt_2", _high(990.0), "egt_2")
_circuit("P0132", "ho2s_b1s1_pin_v", _high(CELL_TOP), "ho2s_b1s1", 2.0)
_circuit("P0138", "ho2s_b1s2_pin_v", _high(CELL_TOP), "ho2s_b1s2", 2.0)
_circuit("P0152", "ho2s_b2s1_pin_v", _high(CELL_TOP), "ho2s_b2s1", 2.0)
_circuit("P0642", "reference_seen", _low(REFERENCE_LOW), seconds=1.0)
_circuit("P0643", "reference_seen", _high(REFERENCE_HIGH), seconds=1.0)
_circuit(
    "P0562", "battery_true", _low(12.8), seconds=20.0, when=lambda drive: drive.running & (drive["run_seconds"] > 10.0)
)


def _heater(side: str, needs: str, low: str, high: str, weak: str) -> None:
    """What the driver of a heater sees: its line low while it is off, high while it is on, or too little power for too
    long.
    """

    def on(drive: Stretch) -> Flags:
        sensors = drive.rig.oxygen_sensors
        assert sensors is not None
        return np.asarray(drive.running & (drive["run_seconds"] > 5.0) & (drive.ran > sensors.heater_delay))

    def dead(drive: Stretch) -> Flags:
        return np.asarray((drive[f"heater_{side}"] < 0.02) & (drive[f"heater_{side}_state"] != CIRCUIT_SHORT_BATTERY))

    def shorted(drive: Stretch) -> Flags:
        return np.asarray(drive[f"heater_{side}_state"] == CIRCUIT_SHORT_BATTERY)

    def tired(drive: Stretch) -> Flags:
        return np.asarray((drive[f"heater_{side}"] >= 0.02) & (drive[f"heater_{side}"] < 0.5))

    tests: tuple[tuple[str, int, Callable[[Rig], Test]], ...] = (
        (high, 1, lambda rig: Held(shorted, 2.0, lambda drive: drive.running)),
        (low, 1, lambda rig: Held(dead, 4.0, on)),
        (weak, 2, lambda rig: Held(tired, 20.0, on)),
    )
    MONITORS.extend(Monitor(code, "oxygen sensor heater", test, needs, trips) for code, trips, test in tests)


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
    "P2239",
    "wideband_lost",
    lambda state: np.asarray((state == CIRCUIT_SHORT_5V) | (state == CIRCUIT_SHORT_BATTERY)),
    "wideband",
    1.0,
)


@monitor("P2135", "components", "two_tracks", trips=1)
def _two_tracks(rig: Rig) -> Test:
    """Both tracks of the throttle sensor add up to the reference that the control unit measures at its own pin."""

    def apart(drive: Stretch) -> Flags:
        return np.asarray(np.abs(drive["tp_volts"] + drive["tp2_volts"] - drive["reference_seen"]) > TRACKS_AGREE)

    return Held(apart, 0.5, _powered)


@monitor("P2138", "components", "app", trips=1)
def _two_pedal_tracks(rig: Rig) -> Test:
    """The first track of the pedal sensor is twice the second: a supply that falls moves both alike, a ground that
    rises does not.
    """

    def apart(drive: Stretch) -> Flags:
        return np.asarray(np.abs(drive["app_volts"] - 2.0 * drive["app2_volts"]) > APP_TRACKS_AGREE)

    return Held(apart, 0.5, _powered)


#: Pins of the values that correlation monitors compare, and where they must lie: what a circuit monitor has,
#: correlation does not ask.
_PIN_OF = {
    "map": "map_volts",
    "charge_pressure": "charge_volts",
    "baro": "baro_volts",
    "ect": "ect_volts",
    "iat": "iat_volts",
}


def _columns(name: str) -> tuple[str, ...]:
    return (name, _PIN_OF[name]) if name in _PIN_OF else (name,)


def _inside(values: dict[str, Values], name: str) -> bool:
    if name not in _PIN_OF:
        return bool(np.all((values[name] > -35.0) & (values[name] < 990.0)))
    low, high = PIN_LIMITS[_PIN_OF[name]]
    return bool(low < np.median(values[_PIN_OF[name]]) < high)


#: Pressures at key on may differ by this [kPa]; temperatures after a night by these [K].
PRESSURES_AGREE, TEMPERATURES_AGREE, EXHAUST_AGREES = 9.0, 35.0, 80.0


#: Standing switched off for so long makes all temperatures equal [s]; values settle within a second of key on, and are
#: then read for this [s].
SOAKED, READ_FOR = 6.0 * 3600.0, 3.0


class AtKeyOn(Once):
    """Reads its columns at key on after a night, before anything turns; what a circuit monitor has is not compared."""

    def __init__(self, names: tuple[str, ...], failed: Callable[[dict[str, float]], bool]) -> None:
        def settled(drive: Stretch) -> Flags:
            late = drive.first + np.arange(len(drive.rows)) > 1.0 / FRAME
            return np.asarray(drive.powered & late & (drive["rpm"] < 5.0) & (drive["soak_seconds"] > SOAKED))

        super().__init__(settled, READ_FOR, tuple(column for name in names for column in _columns(name)), self._apart)
        self.names, self.differ = names, failed

    def _apart(self, values: dict[str, Values]) -> bool:
        if not all(_inside(values, name) for name in self.names):
            self.completed = False
            return False
        return self.differ({name: float(np.median(values[name])) for name in self.names})


def _correlation(code: str, odd: str, others: tuple[str, ...], limit: float, needs: str) -> None:
    """At key on after a night, one value stands apart from all others, which agree with each other."""

    def apart(values: dict[str, float]) -> bool:
        rest = [values[name] for name in others]
        return all(abs(values[odd] - other) > limit for other in rest) and max(rest) - min(rest) <= limit

    MONITORS.append(Monitor(code, "components", lambda rig: AtKeyOn((odd, *others), apart), needs, trips=2))


_correlation("P0106", "map", ("charge_pressure", "baro"), PRESSURES_AGREE, "three_pressures")
_correlation("P0236", "charge_pressure", ("map", "baro"), PRESSURES_AGREE, "three_pressures")
_correlation("P2227", "baro", ("map", "charge_pressure"), PRESSURES_AGREE, "three_pressures")
_correlation("P0236", "charge_pressure", ("baro",), PRESSURES_AGREE, "two_pressures")
_correlation("P0116", "ect", ("iat",), TEMPERATURES_AGREE, "ect")
_correlation("P2080", "egt_1", ("egt_2", "ect"), EXHAUST_AGREES, "egt_1")
_correlation("P2084", "egt_2", ("egt_1", "ect"), EXHAUST_AGREES, "egt_2")
