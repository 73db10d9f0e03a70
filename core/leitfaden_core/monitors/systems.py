"""Monitors of systems: mixture, sensors' behaviour, catalyst, misfire, idle, warm-up, boost, recirculation, rail, particle filter."""

from collections.abc import Callable

import numpy as np

from leitfaden_core.constants import R_AIR, ZERO_CELSIUS
from leitfaden_core.engine.air_path import breathing, volumetric_efficiency
from leitfaden_core.monitors.logic import Flags, Outcome, Values, held_at, monitor, running, smooth, steady, watch
from leitfaden_core.simulate import FRAME, Run
from leitfaden_core.simulate.limits import RPM
from leitfaden_core.simulate.run import rising_crossings

#: A sound front sensor passes the middle at 3 V/s or more. [V/s]
SLOW_EDGE = 1.4
#: Total trim that the fuel system monitor takes for too much, and how long it must last. [%], [s]
TRIM_LIMIT, TRIM_LASTS = 22.0, 20.0
#: Charge below or above what is wanted. [kPa], [s]
UNDERBOOST, UNDERBOOST_LASTS, OVERBOOST, OVERBOOST_LASTS = 18.0, 3.5, 25.0, 1.0


@monitor("P0128", "components", "ect")
def _thermostat(run: Run) -> Outcome:
    """After eight minutes' worth of running, and on the road, the coolant is still well below its regulated temperature."""
    regulated = run.rig.thermal.thermostat_opens - ZERO_CELSIUS
    late = (run.lanes["run_seconds"] > 480.0) & (run.lanes["kmh"] > 40.0)
    return watch(run.lanes["ect"] < regulated - 8.0, 15.0, late)


@monitor("P0131", "oxygen sensor", "ho2s_b1s1")
def _front_low(run: Run) -> Outcome:
    """Lean for long while the correction is at its limit: no mixture explains that."""
    rows = run.lanes
    return watch((rows["ho2s_b1s1_pin_v"] < 0.2) & (rows["total_trim"] > 30.0), 10.0, rows["closed_loop"] > 0.5)


@monitor("P0133", "oxygen sensor", "switching_front")
def _front_slow(run: Run) -> Outcome:
    """Edges too slow at raised idle, once per trip: the mean slope of the signal on its way through the middle."""
    found = steady(run, "no_load_2500")
    if found is None or run.rig.mixture is None:
        return Outcome(False)
    volts = found[0]["ho2s_b1s1_v"].astype(float)
    on_its_way = np.abs(volts[:-1] - run.rig.mixture.switch_voltage) < 0.1
    slow = bool(on_its_way.any()) and float(np.abs(np.diff(volts))[on_its_way].mean() / FRAME) < SLOW_EDGE
    return Outcome(True, found[1] + 20.0 if slow else None)


@monitor("P0133", "oxygen sensor", "wideband")
def _wideband_slow(run: Run) -> Outcome:
    """From the cut of fuel on overrun to lambda 1.5 it takes longer than transport and a sound sensor explain."""
    cut = (run.lanes["fuel_cut"] > 0.5) & (run.lanes["kmh"] > 30.0) & running(run)
    starts = np.flatnonzero(np.diff(cut.astype(np.int8)) == 1)
    if not starts.size or run.lanes["wideband_lost"].max() > 0.0:
        return Outcome(False)
    start = int(starts[0])
    lean = np.flatnonzero(run.lanes["lambda_wideband"][start:] > 1.5)
    if not np.any(run.lanes["pump_current"][max(start - 100, 0) : start]):
        return Outcome(False)  # still cold
    late = not lean.size or lean[0] * FRAME > 1.0
    return Outcome(True, start * FRAME + 2.0 if late else None)


@monitor("P0154", "oxygen sensor", "ho2s_b2s1")
def _second_silent(run: Run) -> Outcome:
    return _silent(run, "ho2s_b2s1_pin_v", "total_trim_2")


@monitor("P0134", "oxygen sensor", "ho2s_b1s1")
def _front_silent(run: Run) -> Outcome:
    return _silent(run, "ho2s_b1s1_pin_v", "total_trim")


def _silent(run: Run, volts: str, trim: str) -> Outcome:
    """Near the bias for long, once the sensor has had a minute of its own time to wake: time lapse does not warm it faster."""
    assert run.rig.oxygen_sensors is not None
    near = np.abs(run.lanes[volts] - run.rig.oxygen_sensors.bias_voltage) < 0.06
    asked = running(run) & (np.cumsum(running(run)) * FRAME > 60.0)
    if run.rig.oxygen_sensors.heater_rise == 0.0:
        # An unheated sensor may fall asleep in a long idle.
        asked &= run.lanes["rpm"] > 1.5 * run.rig.control.idle_target
    # A correction at its limit may hold the mixture on the steep part.
    return watch(near & (np.abs(run.lanes[trim]) < 35.0), 20.0, asked)


@monitor("P0137", "oxygen sensor", "ho2s_b1s2")
def _rear_low(run: Run) -> Outcome:
    """Never anything, not even at full load."""
    return _over_the_drive(run, lambda volts: bool(volts.max() < 0.06))


@monitor("P0140", "oxygen sensor", "ho2s_b1s2")
def _rear_silent(run: Run) -> Outcome:
    """Near the bias through overrun and full load alike."""
    assert run.rig.oxygen_sensors is not None
    bias = run.rig.oxygen_sensors.bias_voltage
    return _over_the_drive(run, lambda volts: bool(np.abs(volts - bias).max() < 0.06))


def _over_the_drive(run: Run, failed: Callable[[Values], bool]) -> Outcome:
    """The rear sensor over a warm drive that had overrun in it."""
    warm = running(run) & (np.cumsum(running(run)) * FRAME > 60.0)
    cut = (run.lanes["fuel_cut"] > 0.5) & warm
    if held_at(cut, 2.0) is None:
        return Outcome(False)
    return Outcome(True, float(np.flatnonzero(warm)[-1] * FRAME) if failed(run.lanes["ho2s_b1s2_v"][warm]) else None)


@monitor("P0171", "fuel system", "trims")
def _lean(run: Run) -> Outcome:
    return _trim(run, lambda total: np.asarray(total > TRIM_LIMIT))


@monitor("P0172", "fuel system", "trims")
def _rich(run: Run) -> Outcome:
    return _trim(run, lambda total: np.asarray(total < -TRIM_LIMIT))


@monitor("P0174", "fuel system", "two_banks")
def _lean_second(run: Run) -> Outcome:
    return _trim(run, lambda total: np.asarray(total > TRIM_LIMIT), "total_trim_2")


@monitor("P0174", "fuel system", "governor")
def _power_lean(run: Run) -> Outcome:
    """A governed engine under full load: enrichment is commanded and the sensor goes on showing lean."""
    rows = run.lanes
    asked = running(run) & (rows["throttle"] > 80.0) & (rows["load"] > 80.0) & (rows["injector_ms"] > 0.0)
    return watch(rows["ho2s_b1s1_pin_v"] < 0.6, 2.5, asked)


@monitor("P0175", "fuel system", "two_banks")
def _rich_second(run: Run) -> Outcome:
    return _trim(run, lambda total: np.asarray(total < -TRIM_LIMIT), "total_trim_2")


def _trim(run: Run, beyond: Callable[[Values], Flags], which: str = "total_trim") -> Outcome:
    """Total trim, smoothed over the swing of the controller, beyond a limit in warm closed loop."""
    rows = run.lanes
    return watch(beyond(smooth(rows[which], 3.0)), TRIM_LASTS, (rows["closed_loop"] > 0.5) & (rows["ect"] > 70.0))


@monitor("P0300", "misfire", "petrol")
def _misfire(run: Run) -> Outcome:
    """The crankshaft tells only while the engine gives torque."""
    return watch(run.lanes["misfire"] > 0.05, 8.0, running(run) & (run.lanes["load"] > 10.0))


@monitor("P0420", "catalyst", "ho2s_b1s2")
def _catalyst(run: Run) -> Outcome:
    """The rear sensor swings nearly as often and wide as the front one, or as what the loop forces, at steady cruise, once per trip."""
    found = steady(run, "cruise_80")
    if found is None:
        return Outcome(False)
    wide = "wideband" in run.rig.features
    front = found[0]["lambda_wideband" if wide else "ho2s_b1s1_v"].astype(float)
    rear = found[0]["ho2s_b1s2_v"].astype(float)
    swings = rising_crossings(front, 1.0, 0.003) if wide else rising_crossings(front, 0.45)
    wanted = FOLLOWING_SWING if wide else 0.5 * float(np.std(front))
    follows = swings > 5 and rising_crossings(rear, float(np.median(rear))) > 0.7 * swings and bool(np.std(rear) > wanted)
    return Outcome(True, found[1] + 20.0 if follows else None)


#: Standard deviation of a rear sensor behind a catalyst that stores nothing, with the forced swing of a wideband loop. [V]
FOLLOWING_SWING = 0.125


@monitor("P0506", "components")
def _idle_low(run: Run) -> Outcome:
    return _idle(run, lambda error: np.asarray(error < -100.0))


@monitor("P0507", "components")
def _idle_high(run: Run) -> Outcome:
    return _idle(run, lambda error: np.asarray(error > 200.0))


def _idle(run: Run, beyond: Callable[[Values], Flags]) -> Outcome:
    """Warm idle off its target, as far as the control unit believes to be warm."""
    if "hot_idle" not in run.script.conditions():
        return Outcome(False)
    span, control = run.script.span("hot_idle"), run.rig.control
    rows = run.rows(span)
    if not np.all(rows["running"] > 0.5) or ("trims" in run.rig.features and not np.all(rows["closed_loop"] > 0.5)):
        return Outcome(False)
    target = control.idle_target + control.idle_cold_raise * np.maximum(80.0 - rows["ect"], 0.0)
    held = held_at((rows["ect"] > 70.0) & beyond(rows["rpm"] - target), 10.0)
    return Outcome(True, None if held is None else span[0] + held)


@monitor("P0299", "boost", "turbo")
def _underboost(run: Run) -> Outcome:
    rows = run.lanes
    # At low speed the shaft may still be gathering speed, and at part demand it does so more slowly than at full demand.
    asked = (rows["boost_wanted"] > rows["baro"] + 25.0) & (rows["demand"] > 0.7) & (rows["rpm"] > 0.55 * run.rig.engine.rated_speed)
    short = np.asarray(rows["charge_pressure"] < rows["boost_wanted"] - UNDERBOOST)
    at_full_demand = watch(short, UNDERBOOST_LASTS, asked & (rows["demand"] > 0.95))
    return at_full_demand if at_full_demand.failed_at is not None else watch(short, 2.0 * UNDERBOOST_LASTS, asked)


@monitor("P0234", "boost", "turbo")
def _overboost(run: Run) -> Outcome:
    rows = run.lanes
    asked = (rows["demand"] > 0.7) & running(run)
    return watch(rows["charge_pressure"] > rows["boost_wanted"] + OVERBOOST, OVERBOOST_LASTS, asked)


@monitor("P0101", "components", "diesel")
def _meter_implausible(run: Run) -> Outcome:
    """With the recirculation valve shut, airflow must fit charge pressure, temperature and speed within 30 %."""
    rows = run.lanes
    shut = running(run) & (rows["egr_command"] < 1.0) & (rows["egr_position"] < 5.0) & (rows["kmh"] > 20.0)
    mass = _mass_by_density(run, _breathing(run), rows["charge_pressure"])
    return watch(np.abs(rows["maf"] / np.maximum(mass, 1.0) - 1.0) > 0.30, 3.0, shut)


@monitor("P0068", "components", "meter_and_map")
def _air_and_pressure(run: Run) -> Outcome:
    """Warm and in closed loop, airflow must fit manifold pressure, temperature and speed within 30 %: false air splits them as a bad sensor does."""
    rows = run.lanes
    inside, outside = np.maximum(rows["map"], 5.0) * 1e3, rows["baro_true"] * 1e3
    rig = run.rig
    # As in the engine's own filling: residual gas and valve overlap count at low pressure.
    filling = np.vectorize(volumetric_efficiency, otypes=[float])(
        inside, outside, rows["rpm"] / RPM, _breathing(run), rig.engine.compression_ratio, rig.air_path.overlap_residual
    )
    mass = _mass_by_density(run, filling, rows["map"])
    asked = running(run) & (rows["closed_loop"] > 0.5) & (rows["ect"] > 70.0)
    return watch(np.abs(smooth(rows["maf"] / np.maximum(mass, 0.5), 1.0) - 1.0) > 0.30, 8.0, asked)


def _breathing(run: Run) -> Values:
    """Volumetric efficiency without residual gas at each row's engine speed. [-]"""
    path, krpm = run.rig.air_path, run.lanes["rpm"] / 1000.0
    return np.asarray(
        breathing.py_func(  # type: ignore[attr-defined]
            krpm, path.ve_const, path.ve_lin, path.ve_quad, path.ve_cub
        )
    )


def _mass_by_density(run: Run, filling: Values, pressure: Values) -> Values:
    """Airflow that volumetric efficiency [-], pressure [kPa], temperature and speed ask for; the charge is 12 K warmer than IAT. [g/s]"""
    density = pressure * 1e3 / (R_AIR * (run.lanes["iat"] + 285.0))
    return np.asarray(filling * density * run.rig.engine.displacement * run.lanes["rpm"] / 120.0 * 1e3)


@monitor("P0404", "EGR system", "egr_sensor")
def _egr_position(run: Run) -> Outcome:
    """The valve is not where it was sent."""
    rows = run.lanes
    return watch(np.abs(rows["egr_position"] - smooth(rows["egr_command"], 1.0)) > 15.0, 3.0, running(run))


@monitor("P0401", "EGR system", "egr_by_air")
def _egr_little(run: Run) -> Outcome:
    """The valve stands fully open and still there is clearly more fresh air than wanted."""
    rows = run.lanes
    asked = running(run) & (rows["egr_command"] > 98.0)
    return watch(rows["air_stroke"] > 1.2 * rows["egr_air_wanted"], 8.0, asked)


@monitor("P0402", "EGR system", "egr_by_air")
def _egr_much(run: Run) -> Outcome:
    """The valve is sent shut to save fresh air, and still there is clearly less than wanted."""
    rows = run.lanes
    asked = running(run) & (rows["egr_air_wanted"] > 0.0) & (rows["egr_command"] < 1.0)
    return watch(rows["air_stroke"] < 0.8 * rows["egr_air_wanted"], 8.0, asked)


@monitor("P0401", "EGR system", "egr_and_map")
def _egr_passage(run: Run) -> Outcome:
    """The valve is opened for a moment in overrun, and manifold pressure hardly rises."""
    rows = run.lanes
    opened = np.flatnonzero(np.diff(((rows["fuel_cut"] > 0.5) & (rows["egr_command"] > 30.0)).astype(np.int8)) == 1)
    before, during = round(0.5 / FRAME), round(1.0 / FRAME)
    if not opened.size or not np.all(rows["fuel_cut"][opened[0] - before : opened[0] + during] > 0.5):
        return Outcome(False)
    start = int(opened[0])
    rise = rows["map"][start + during // 2 : start + during].mean() - rows["map"][start - before : start - before // 2].mean()
    return Outcome(True, (start + during) * FRAME if rise < LEAST_RISE else None)


#: What an open recirculation passage adds to the manifold pressure of overrun at least. [kPa]
LEAST_RISE = 3.0


@monitor("P0401", "EGR system", "egr_dp")
def _egr_drop_small(run: Run) -> Outcome:
    """The drop over the metering orifice stays far below what was wanted, while there is vacuum enough to lift the valve."""
    rows = run.lanes
    asked = running(run) & (rows["egr_dp_wanted"] > 0.5) & (rows["map"] < 75.0)
    return watch(rows["egr_dp"] < 0.4 * rows["egr_dp_wanted"], 5.0, asked)


@monitor("P0402", "EGR system", "egr_dp")
def _egr_drop_unasked(run: Run) -> Outcome:
    """There is a drop although no recirculation is wanted."""
    rows = run.lanes
    return watch(rows["egr_dp"] > 0.4, 5.0, running(run) & (rows["egr_dp_wanted"] <= 0.0) & (rows["run_seconds"] > 10.0))


@monitor("P0087", "fuel system", "rail")
def _rail_low(run: Run) -> Outcome:
    return watch(run.lanes["rail_pressure"] < 0.85 * run.lanes["rail_wanted"], 3.0, running(run) & (run.lanes["run_seconds"] > 3.0))


@monitor("P0088", "fuel system", "rail")
def _rail_high(run: Run) -> Outcome:
    return watch(run.lanes["rail_pressure"] > 1.15 * run.lanes["rail_wanted"], 3.0, running(run) & (run.lanes["run_seconds"] > 3.0))


def _filter_expected(run: Run) -> Values:
    """Drop that a sound filter would show at this flow and temperature. [kPa]"""
    part = run.rig.particle_filter
    assert part is not None
    flow = run.lanes["maf"].astype(float) / 1000.0
    temp = run.lanes["egt_2"].astype(float) + ZERO_CELSIUS
    return (part.filter_linear + part.filter_quadratic * flow) * flow * temp / 1000.0


@monitor("P2463", "particle filter", "dpf")
def _filter_full(run: Run) -> Outcome:
    """Much more drop than a sound filter has, at real flow."""
    expected = _filter_expected(run)
    return watch(run.lanes["dpf_dp"] > 2.0 * expected + 3.0, 3.0, running(run) & (run.lanes["maf"] > 40.0))


@monitor("P2453", "particle filter", "dpf_dp")
def _filter_sensor(run: Run) -> Outcome:
    """Hardly any drop, or a negative one, where even an empty filter has some."""
    expected = _filter_expected(run)
    return watch(run.lanes["dpf_dp"] < 0.2 * expected, 3.0, running(run) & (expected > 2.5))
