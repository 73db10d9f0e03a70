"""Monitors of systems: mixture, sensors' behaviour, catalyst, misfire, idle, warm-up, boost, recirculation, rail,
particle filter.
"""

from collections.abc import Callable

import numpy as np

from leitfaden_core.constants import ZERO_CELSIUS
from leitfaden_core.engine.air_path import breathing, cylinder_flow, volumetric_efficiency
from leitfaden_core.monitors.logic import MONITORS, After, Flags, Held, Monitor, Once, Stretch, Test, Values, monitor
from leitfaden_core.rigs import Rig
from leitfaden_core.simulate import FRAME
from leitfaden_core.simulate.limits import RPM
from leitfaden_core.simulate.run import rising_crossings

#: A sound front sensor passes the middle at 3 V/s or more. [V/s]
SLOW_EDGE = 1.4
#: Total trim that the fuel system monitor takes for too much, and how long it must last. [%], [s]
TRIM_LIMIT, TRIM_LASTS = 22.0, 20.0
#: Mean of a front sensor's pin below which it can only lie at ground: the leanest gas that burns gives more. [V]
AT_GROUND = 0.02
#: Charge below or above what is wanted. [kPa], [s]
UNDERBOOST, UNDERBOOST_LASTS, OVERBOOST, OVERBOOST_LASTS = 18.0, 3.5, 25.0, 0.5
#: Time over which overboost is counted [s], and the share of it that is too much [-].
OVERBOOST_OVER, OVERBOOST_SHARE = 3.0, 0.33


#: Coolant above the thermostat's opening temperature that no sound engine reaches. [K]
TOO_HOT = 27.0
#: Intake air below which the coolant is not judged. [°C]
FROST = -5.0
#: How long a steady monitor reads. [s]
STEADY = 20.0
#: A sensor has had time to wake after this much running. [s]
AWAKE_AFTER = 60.0


@monitor("P0128", "components", "ect")
def _thermostat(rig: Rig) -> Test:
    """After eight minutes' worth of running, and on the road, the coolant is still well below its regulated
    temperature; in frost that proves nothing.
    """
    regulated = rig.thermal.thermostat_opens - ZERO_CELSIUS
    return Held(
        lambda drive: np.asarray(drive["ect"] < regulated - 8.0),
        15.0,
        lambda drive: np.asarray((drive["run_seconds"] > 480.0) & (drive["kmh"] > 40.0) & (drive["iat"] > FROST)),
    )


@monitor("P0217", "components", "ect", trips=1)
def _overheated(rig: Rig) -> Test:
    """The coolant stays well above what thermostat, fan and radiator hold."""
    hottest = rig.thermal.thermostat_opens - ZERO_CELSIUS + TOO_HOT
    return Held(lambda drive: np.asarray(drive["ect"] > hottest), 5.0, lambda drive: drive.running)


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


@monitor("P0171", "fuel system", "trims")
def _lean(rig: Rig) -> Test:
    return _trim(rig, lambda total: np.asarray(total > TRIM_LIMIT))


@monitor("P0172", "fuel system", "trims")
def _rich(rig: Rig) -> Test:
    return _trim(rig, lambda total: np.asarray(total < -TRIM_LIMIT))


@monitor("P0174", "fuel system", "two_banks")
def _lean_second(rig: Rig) -> Test:
    return _trim(rig, lambda total: np.asarray(total > TRIM_LIMIT), "total_trim_2")


@monitor("P0174", "fuel system", "governor")
def _power_lean(rig: Rig) -> Test:
    """A governed engine under load: the sensor, which was rich a moment before, goes lean and the enrichment does not
    bring it back. A sensor that was never rich says nothing about power.
    """

    def asked(drive: Stretch) -> Flags:
        loaded = drive.running & (drive["throttle"] > 80.0) & (drive["load"] > 80.0) & (drive["injector_ms"] > 0.0)
        rich = (drive["ho2s_b1s1_pin_v"] > ALIVE).astype(float)
        return np.asarray(loaded & (drive.smooth("rich of late", rich, 10.0) > 0.05))

    return Held(lambda drive: np.asarray(drive["ho2s_b1s1_pin_v"] < ALIVE), 2.5, asked)


#: Voltage to which a governed engine's front sensor, which stands rich, returns after a load step. [V]
ALIVE = 0.6


@monitor("P0175", "fuel system", "two_banks")
def _rich_second(rig: Rig) -> Test:
    return _trim(rig, lambda total: np.asarray(total < -TRIM_LIMIT), "total_trim_2")


def _trim(rig: Rig, beyond: Callable[[Values], Flags], which: str = "total_trim") -> Test:
    """Total trim, smoothed over the swing of the controller, beyond a limit in warm closed loop; a switching sensor that
    lies at ground tells nothing about the mixture.
    """
    volts = "ho2s_b2s1_pin_v" if which == "total_trim_2" else "ho2s_b1s1_pin_v"

    def judged(drive: Stretch) -> Flags:
        told = np.asarray((drive["closed_loop"] > 0.5) & (drive["ect"] > 70.0))
        if volts.removesuffix("_pin_v") in rig.features:
            told &= drive.smooth(volts, drive[volts], 3.0) > AT_GROUND
        return told

    return Held(lambda drive: beyond(drive.smooth(which, drive[which], 3.0)), TRIM_LASTS, judged)


@monitor("P0300", "misfire", "petrol")
def _misfire(rig: Rig) -> Test:
    """The crankshaft tells only while the engine gives torque; of one cylinder its own code tells."""
    return _misfires(lambda drive: np.asarray(drive["weak_cylinder"] < 0.5))


def _misfires(where: Callable[[Stretch], Flags]) -> Test:
    return Held(
        lambda drive: np.asarray((drive["misfire"] > 0.05) & where(drive)),
        8.0,
        lambda drive: np.asarray(drive.running & (drive["load"] > 10.0)),
    )


def _cylinder_misfire(number: int) -> Callable[[Rig], Test]:
    return lambda rig: _misfires(lambda drive: np.asarray(drive["weak_cylinder"] == number))


for _number in range(1, 9):
    MONITORS.append(
        Monitor(f"P030{_number}", "misfire", _cylinder_misfire(_number), f"petrol_cylinder_{_number}", trips=2)
    )


@monitor("P0420", "catalyst", "ho2s_b1s2")
def _catalyst(rig: Rig) -> Test:
    """The rear sensor swings nearly as often and wide as the front one, or as what the loop forces, at steady cruise,
    once per trip.
    """
    wide = "wideband" in rig.features
    column = "lambda_wideband" if wide else "ho2s_b1s1_v"

    def follows(values: dict[str, Values]) -> bool:
        front, rear = values[column], values["ho2s_b1s2_v"]
        swings = rising_crossings(front, 1.0, 0.003) if wide else rising_crossings(front, 0.45)
        wanted = FOLLOWING_SWING if wide else 0.5 * float(np.std(front))
        return (
            swings > 5 and rising_crossings(rear, float(np.median(rear))) > 0.7 * swings and bool(np.std(rear) > wanted)
        )

    return Once(lambda drive: drive.is_in("cruise_80"), STEADY, (column, "ho2s_b1s2_v"), follows)


#: Standard deviation of a rear sensor behind a catalyst that stores nothing, with the forced swing of a wideband loop.
#: [V]
FOLLOWING_SWING = 0.125


@monitor("P0506", "components")
def _idle_low(rig: Rig) -> Test:
    return _idle(rig, lambda error: np.asarray(error < -100.0))


@monitor("P0507", "components")
def _idle_high(rig: Rig) -> Test:
    return _idle(rig, lambda error: np.asarray(error > 200.0))


def _idle(rig: Rig, beyond: Callable[[Values], Flags]) -> Test:
    """Warm idle off its target, the pedal released as far as the control unit sees."""
    control = rig.control

    def off_target(drive: Stretch) -> Flags:
        target = control.idle_target + control.idle_cold_raise * np.maximum(80.0 - drive["ect"], 0.0)
        # A large leak makes the fuel cut come and go: the mean counts.
        return beyond(drive.smooth("idle error", drive["rpm"] - target, 3.0))

    def warm_idle(drive: Stretch) -> Flags:
        released = drive.running & (drive["pedal_seen"] < 0.01) & (drive["in_gear"] < 0.5) & (drive["time_lapse"] < 1.5)
        return np.asarray(released & (drive["ect"] > 70.0) & (drive["run_seconds"] > 30.0))

    return Held(off_target, 10.0, warm_idle)


def _demanded(drive: Stretch) -> Flags:
    # At low speed the shaft may still be gathering speed, and at part demand it does so more slowly than at full
    # demand.
    fast = drive["rpm"] > 0.55 * drive.rig.engine.rated_speed
    return np.asarray((drive["boost_wanted"] > drive["baro"] + 25.0) & (drive["demand"] > 0.7) & fast)


def _underboosted(drive: Stretch) -> Flags:
    return np.asarray(drive["charge_pressure"] < drive["boost_wanted"] - UNDERBOOST)


@monitor("P0299", "boost", "turbo")
def _underboost_at_full_demand(rig: Rig) -> Test:
    return Held(_underboosted, UNDERBOOST_LASTS, lambda drive: np.asarray(_demanded(drive) & (drive["demand"] > 0.95)))


@monitor("P0299", "boost", "turbo")
def _underboost(rig: Rig) -> Test:
    return Held(_underboosted, 2.0 * UNDERBOOST_LASTS, _demanded)


@monitor("P0234", "boost", "turbo")
def _overboost(rig: Rig) -> Test:
    """Far above what is wanted for a third of the time: the fuel cut that protects the engine lets it fall and come
    again.
    """

    def over(drive: Stretch) -> Flags:
        there = (drive["charge_pressure"] > drive["boost_wanted"] + OVERBOOST).astype(float)
        return np.asarray(drive.smooth("overboost", there, OVERBOOST_OVER) > OVERBOOST_SHARE)

    return Held(
        over,
        OVERBOOST_LASTS,
        lambda drive: np.asarray((drive["demand"] > 0.7) & drive.running),
    )


@monitor("P0101", "components", "diesel")
def _meter_implausible(rig: Rig) -> Test:
    """With the recirculation valve shut, airflow must fit charge pressure, temperature and speed within 30 %."""

    def apart(drive: Stretch) -> Flags:
        mass = _mass_by_density(drive, _breathing(drive), drive["charge_pressure"])
        return np.asarray(np.abs(drive["maf"] / np.maximum(mass, 1.0) - 1.0) > 0.30)

    def shut(drive: Stretch) -> Flags:
        return np.asarray(
            drive.running & (drive["egr_command"] < 1.0) & (drive["egr_position"] < 5.0) & (drive["kmh"] > 20.0)
        )

    return Held(apart, 3.0, shut)


@monitor("P0068", "components", "meter_and_map")
def _air_and_pressure(rig: Rig) -> Test:
    """Warm and in closed loop, airflow must fit manifold pressure, temperature and speed within 30 %: false air splits
    them as a bad sensor does.
    """

    def apart(drive: Stretch) -> Flags:
        inside, outside = np.maximum(drive["map"], 5.0) * 1e3, drive["baro_true"] * 1e3
        # As in the engine's own filling: residual gas and valve overlap count at low pressure.
        filling = np.vectorize(volumetric_efficiency, otypes=[float])(
            inside,
            outside,
            drive["rpm"] / RPM,
            _breathing(drive),
            rig.engine.compression_ratio,
            rig.air_path.overlap_residual,
        )
        mass = _mass_by_density(drive, filling, drive["map"])
        return np.asarray(np.abs(drive.smooth("air ratio", drive["maf"] / np.maximum(mass, 0.5), 1.0) - 1.0) > 0.30)

    return Held(
        apart, 8.0, lambda drive: np.asarray(drive.running & (drive["closed_loop"] > 0.5) & (drive["ect"] > 70.0))
    )


def _breathing(drive: Stretch) -> Values:
    """Volumetric efficiency without residual gas at each row's engine speed. [-]"""
    path, krpm = drive.rig.air_path, drive["rpm"] / 1000.0
    return np.asarray(
        breathing.py_func(  # type: ignore[attr-defined]
            krpm, path.ve_const, path.ve_lin, path.ve_quad, path.ve_cub
        )
    )


def _mass_by_density(drive: Stretch, filling: Values, pressure: Values) -> Values:
    """Airflow that volumetric efficiency [-], pressure [kPa], temperature and speed ask for; the charge is 12 K warmer
    than IAT. [g/s]
    """
    flow = cylinder_flow.py_func(  # type: ignore[attr-defined]
        filling, 1e3 * pressure, drive["iat"] + 285.0, drive.rig.engine.displacement, drive["rpm"] * np.pi / 30.0
    )
    return np.asarray(1e3 * flow)


def _runs(drive: Stretch) -> Flags:
    return drive.running


@monitor("P0106", "components", "map_alone")
def _no_air_pressure(rig: Rig) -> Test:
    """Where no other sensor tells a pressure: before anything turns it must be one that the air can have."""
    low, high = AIR_PRESSURES
    return Held(
        lambda drive: np.asarray((drive["map"] < low) | (drive["map"] > high)),
        1.0,
        lambda drive: np.asarray(drive.powered & (drive["rpm"] < 5.0)),
    )


@monitor("P0106", "components", "map_alone")
def _pressure_rests(rig: Rig) -> Test:
    """Where no other sensor tells a pressure: from key on to the first moments of idle it must fall."""

    def stands(before: dict[str, Values], after: dict[str, Values]) -> bool | None:
        still = before["map"][before["rpm"] < 5.0]
        if not still.size or after["pedal_seen"].max() > 0.01 or after["rpm"].min() < 300.0:
            return None
        return bool(np.median(still) - after["map"][-round(0.2 / FRAME) :].mean() < LEAST_FALL)

    # A governor opens its throttle for the start and shuts it when the speed is reached.
    seconds = 0.7 if rig.governor is None else 4.0
    return After(lambda drive: drive.running, 4.0, seconds, ("map", "rpm", "pedal_seen"), stands)


#: Pressures that the air can have on the roads of the world [kPa], and by how much manifold pressure falls at least from
#: standstill to idle [kPa].
AIR_PRESSURES, LEAST_FALL = (55.0, 108.0), 20.0


@monitor("P0404", "EGR system", "egr_sensor")
def _egr_position(rig: Rig) -> Test:
    """The valve is not where it was sent."""
    return Held(
        lambda drive: np.asarray(
            np.abs(drive["egr_position"] - drive.smooth("egr_command", drive["egr_command"], 1.0)) > 15.0
        ),
        3.0,
        _runs,
    )


@monitor("P0401", "EGR system", "egr_by_air")
def _egr_little(rig: Rig) -> Test:
    """The valve stands fully open and still there is clearly more fresh air than wanted."""
    return Held(
        lambda drive: np.asarray(drive["air_stroke"] > 1.2 * drive["egr_air_wanted"]),
        8.0,
        lambda drive: np.asarray(drive.running & (drive["egr_command"] > 98.0)),
    )


@monitor("P0402", "EGR system", "egr_by_air")
def _egr_much(rig: Rig) -> Test:
    """The valve is sent shut to save fresh air, and still there is clearly less than wanted."""
    return Held(
        lambda drive: np.asarray(drive["air_stroke"] < 0.8 * drive["egr_air_wanted"]),
        8.0,
        lambda drive: np.asarray(drive.running & (drive["egr_air_wanted"] > 0.0) & (drive["egr_command"] < 1.0)),
    )


@monitor("P0401", "EGR system", "egr_and_map")
def _egr_passage(rig: Rig) -> Test:
    """The valve is opened for a moment in overrun, and manifold pressure hardly rises."""
    quarter, half = round(0.25 / FRAME), round(0.5 / FRAME)

    def blocked(before: dict[str, Values], after: dict[str, Values]) -> bool | None:
        if len(before["map"]) < 2 * quarter or min(before["fuel_cut"].min(), after["fuel_cut"].min()) < 0.5:
            return None
        return bool(after["map"][half:].mean() - before["map"][:quarter].mean() < LEAST_RISE)

    return After(
        lambda drive: np.asarray((drive["fuel_cut"] > 0.5) & (drive["egr_command"] > 30.0)),
        0.5,
        1.0,
        ("map", "fuel_cut"),
        blocked,
    )


#: What an open recirculation passage adds to the manifold pressure of overrun at least. [kPa]
LEAST_RISE = 3.0


@monitor("P0401", "EGR system", "egr_dp")
def _egr_drop_small(rig: Rig) -> Test:
    """The drop over the metering orifice stays far below what was wanted, while there is vacuum enough to lift the
    valve.
    """
    return Held(
        lambda drive: np.asarray(drive["egr_dp"] < 0.4 * drive["egr_dp_wanted"]),
        5.0,
        lambda drive: np.asarray(drive.running & (drive["egr_dp_wanted"] > 0.5) & (drive["map"] < 75.0)),
    )


@monitor("P0402", "EGR system", "egr_dp")
def _egr_drop_unasked(rig: Rig) -> Test:
    """There is a drop although no recirculation is wanted."""
    return Held(
        lambda drive: np.asarray(drive["egr_dp"] > 0.4),
        5.0,
        lambda drive: np.asarray(drive.running & (drive["egr_dp_wanted"] <= 0.0) & (drive["run_seconds"] > 10.0)),
    )


def _injects(drive: Stretch) -> Flags:
    return np.asarray(drive.running & (drive["run_seconds"] > 3.0))


@monitor("P0087", "fuel system", "rail")
def _rail_low(rig: Rig) -> Test:
    return Held(lambda drive: np.asarray(drive["rail_pressure"] < 0.85 * drive["rail_wanted"]), 3.0, _injects)


@monitor("P0088", "fuel system", "rail")
def _rail_high(rig: Rig) -> Test:
    return Held(lambda drive: np.asarray(drive["rail_pressure"] > 1.15 * drive["rail_wanted"]), 3.0, _injects)


def _filter_expected(drive: Stretch) -> Values:
    """Drop that a sound filter would show at this flow and temperature. [kPa]"""
    part = drive.rig.particle_filter
    assert part is not None
    flow = drive["maf"].astype(float) / 1000.0
    temp = drive["egt_2"].astype(float) + ZERO_CELSIUS
    return np.asarray((part.filter_linear + part.filter_quadratic * flow) * flow * temp / 1000.0)


@monitor("P2463", "particle filter", "dpf")
def _filter_full(rig: Rig) -> Test:
    """Much more drop than a sound filter has, at real flow."""
    return Held(
        lambda drive: np.asarray(drive["dpf_dp"] > 2.0 * _filter_expected(drive) + 3.0),
        3.0,
        lambda drive: np.asarray(drive.running & (drive["maf"] > 40.0)),
    )


@monitor("P2453", "particle filter", "dpf_dp")
def _filter_sensor(rig: Rig) -> Test:
    """Hardly any drop, or a negative one, where even an empty filter has some."""
    return Held(
        lambda drive: np.asarray(drive["dpf_dp"] < 0.2 * _filter_expected(drive)),
        3.0,
        lambda drive: np.asarray(drive.running & (_filter_expected(drive) > 2.5)),
    )
