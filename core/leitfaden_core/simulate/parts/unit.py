"""The control unit: modes, air estimate by either school. It acts on pins and on what it believes."""

import math
from typing import Any

from leitfaden_core.compiled import inlined
from leitfaden_core.constants import R_AIR, STANDARD_PRESSURE
from leitfaden_core.control.boost import control_boost, wanted_boost
from leitfaden_core.control.diesel import control_egr, diesel_fuel
from leitfaden_core.control.fuelling import (
    AWAKE_BELOW,
    CELL_TOP,
    CLEARING_RICHER,
    WOT_PEDAL,
    clear_catalyst,
    lambda_command,
    start_enrichment,
    trims,
)
from leitfaden_core.control.governor import govern
from leitfaden_core.control.idle import idle_air, idle_target, spark_advance
from leitfaden_core.engine.air_path import (
    breathing,
    charge_temperature,
    cylinder_flow,
    orifice,
    throttle_area,
    throttle_plate,
    volumetric_efficiency,
)
from leitfaden_core.engine.battery import dead_time
from leitfaden_core.engine.exhaust import gas_temperature
from leitfaden_core.engine.torque import best_spark
from leitfaden_core.engine.turbo import turbine, wastegate_opening
from leitfaden_core.sensors.oxygen import element_temperature
from leitfaden_core.sensors.pressure import EGR_GAS
from leitfaden_core.simulate.lag import covered
from leitfaden_core.simulate.layout import FRAME, STEP
from leitfaden_core.simulate.limits import (
    HOT_RESTART,
    LIMP_PLATE,
    MAF_LOST_AFTER,
    MAP_HIGH,
    MAP_LOW,
    OVERBOOST_CUT,
    OVERBOOST_RESUME,
    PURGE_ABOVE,
    PURGE_DROPS_OUT,
    RPM,
    RUN_SPEED,
    STALL_SPEED,
    STANDSTILL,
    SYNC_AFTER,
    TP2_HIGH,
    TP2_LOW,
    TP_HIGH,
    TP_LOST_AFTER,
    TP_LOW,
    TRACKS_AGREE,
)
from leitfaden_core.simulate.parts.fuel import film_known, rail_pressure
from leitfaden_core.simulate.parts.mixture import second_trims
from leitfaden_core.simulate.parts.sensing import WIDEBAND_AWAKE
from leitfaden_core.wiring.node import CIRCUIT_GROUNDED, CIRCUIT_OPEN, CIRCUIT_SHORT_BATTERY

#: Time in which a manifold fills, with which the pressure that stands in for a lost sensor follows. [s]
SUBSTITUTE_LAG = 0.05
#: Numbers of what the control unit remembers and commands.
UNIT = (
    "running",
    "run_time",
    "warm_time",
    "off_time",
    "burning_off",
    "sync_turns",
    "soak_time",
    "hot_restart",
    "since_hot_restart",
    "cut",
    "since_cut",
    "cut_time",
    "oxygen_debt",
    "wot",
    "overboost",
    "load",
    "pedal_seen",
    "tp_rest",
    "tp_bad_time",
    "plate_command",
    "idle_demand",
    "idle_integral",
    "idle_base",
    "idle_error",
    "spark",
    "governor_integral",
    "air_estimate",
    "maf_smooth",
    "maf_substituted",
    "observer",
    "breath_known",
    "charge_known",
    "exhaust_model",
    "pulse",
    "dead_time",
    "film_believed",
    "film_share_known",
    "film_gain_known",
    "film_rate_known",
    "lost_known",
    "purge_duty",
    "purge_known",
    "lambda_command",
    "speed_before",
    "gain",
    "free_time",
    "boost_wanted",
    "boost_integral",
    "boost_duty",
    "charge_bad_time",
    "air_stroke",
    "fuel_wanted",
    "fuel_stroke",
    "rail_wanted",
    "egr_command",
    "egr_integral",
    "egr_air_wanted",
    "egr_shut_by_load",
    "egr_expected",
    "egr_dp_wanted",
    "egr_lost_time",
)


@inlined
def control_unit(
    p: Any,
    crank: Any,
    air: Any,
    fuel: Any,
    warm: Any,
    wires: Any,
    pins: Any,
    known: Any,
    unit: Any,
    mix: Any,
    hand: Any,
    h: Any,
    key: float,
    lever: float,
    time_lapse: float,
    front_ohms: float,
    dt: float,
) -> None:
    """Slow task of the control unit, one frame: state of the engine, mixture mode, trims, idle, spark, boost,
    recirculation.
    """
    rpm = crank.speed * RPM
    position_seen(p, crank, wires, pins, known, unit, hand, dt)
    unit.breath_known = breathing(rpm / 1000.0, p.ve_const, p.ve_lin, p.ve_quad, p.ve_cub)
    unit.charge_known = believed_charge(p, known, unit, h)
    film_known(p, fuel, warm, known, unit)
    known.element_believed = element_temperature(front_ohms)
    # The coil opens later at a low battery; the control unit measures that voltage and allows for it.
    unit.dead_time = p.injector_dead_time * dead_time(wires.battery)
    engine_state(p, crank, air, warm, known, unit, key, rpm, time_lapse, dt)
    if p.diesel > 0.5:
        unit.plate_command = 1.0
        diesel_fuel(p, crank, known, unit, rpm, dt)
        control_egr(p, known, unit, rpm, dt)
        unit.load = min(unit.fuel_stroke / p.fuel_full, 1.5) if crank.speed > STALL_SPEED else 0.0
        control_boost(p, pins, known, unit, unit.fuel_wanted / p.fuel_full, rpm, dt)
        move_egr(p, air, unit, h, dt)
        fuel.rail_true = (
            rail_pressure(p, fuel, known, unit, h) if crank.speed > STALL_SPEED else max(fuel.rail_true - 4e6 * dt, 0.0)
        )
        return
    unit.load = calculated_load(p, crank, known, unit, rpm)
    if p.charged > 0.5:
        control_boost(p, pins, known, unit, unit.pedal_seen, rpm, dt)
    mix.sensor_awake = 1.0 if front_ohms < AWAKE_BELOW and pins.front_pin < CELL_TOP else 0.0
    if p.wideband > 0.5:
        mix.sensor_awake = 1.0 if warm.temp_front > WIDEBAND_AWAKE and known.wideband_lost < 0.5 else 0.0
    clear_catalyst(p, pins, known, unit, dt)
    trims(p, pins, known, unit, mix, dt, time_lapse)
    if p.two_banks > 0.5:
        second_trims(p, pins, known, unit, mix, h, dt, time_lapse)
    purge_valve(p, air, known, unit, mix, h, dt)
    unit.lambda_command = (
        p.base_lambda if mix.closed_loop > 0.5 else lambda_command(unit.run_time, known.ect_believed, unit.wot > 0.5, p)
    )
    if unit.oxygen_debt > 0.0 and unit.cut < 0.5:
        unit.lambda_command /= 1.0 + CLEARING_RICHER
    if unit.running < 0.5:
        unit.lambda_command = 1.0 / start_enrichment(known.ect_believed)
    if p.governed > 0.5:
        cold = idle_target(p, known.ect_believed)
        govern(p, unit, max(lever, cold), rpm, dt)
        unit.idle_error = 0.0
        best = best_spark(rpm / 1000.0, min(unit.load, 1.0))
        unit.spark = best - 3.5 if unit.running > 0.5 else 8.0
        return
    idle_air(p, known, unit, rpm, dt)
    give_idle_air(p, air, unit, hand)
    best = best_spark(rpm / 1000.0, min(unit.load, 1.0))
    if p.charged > 0.5:
        # Against knock under boost.
        best -= 6.0 * max(known.map_believed / known.baro_key_on - 1.0, 0.0)
    unit.spark = spark_advance(unit, best)


@inlined
def purge_valve(p: Any, air: Any, known: Any, unit: Any, mix: Any, h: Any, dt: float) -> None:
    """Canister purge, one frame: wanted warm, in closed loop and off idle; then the valve's true opening, and the
    vapour that is reckoned with.
    """
    wanted = (
        min(0.1 + 1.2 * max(unit.load - 0.15, 0.0), 0.6)
        if p.purge_area > 0.0 and known.ect_believed > PURGE_ABOVE
        else 0.0
    )
    if mix.closed_loop < 0.5 or mix.cell < 0.5:
        # At idle and out of closed loop it shuts at once.
        unit.purge_duty = 0.0
    else:
        unit.purge_duty += dt / 2.0 * (wanted - unit.purge_duty)
    driven = unit.purge_duty if h.purge_held < 0.0 else h.purge_held
    if h.circuit_purge == CIRCUIT_OPEN or h.circuit_purge == CIRCUIT_SHORT_BATTERY or h.ohms_purge > PURGE_DROPS_OUT:
        driven = 0.0
    elif h.circuit_purge == CIRCUIT_GROUNDED:
        driven = 1.0
    air.purge_opening = max(h.purge_least, p.purge_area * driven if h.purge_shut < 0.5 else 0.0)
    unit.purge_known = 0.0
    if p.speed_density > 0.5 and unit.purge_duty > 0.0:
        # With a meter the vapour comes with air that nobody counts, and both cancel; pressure counts the air, so here
        # the fuel must be left out.
        flow, _up, _down = orifice(p.purge_area * unit.purge_duty, known.baro_believed, 293.15, known.map_believed)
        unit.purge_known = flow * p.purge_vapour


@inlined
def give_idle_air(p: Any, air: Any, unit: Any, hand: Any) -> None:
    """Idle air by a valve beside the plate, or by the plate itself; a lost position sensor leaves an electronic
    throttle at its limp stop.
    """
    if p.electronic_throttle < 0.5:
        air.idle_area = unit.idle_demand * p.idle_air_area
        unit.plate_command = hand.pedal
        return
    air.idle_area = 0.0
    wanted = throttle_area(unit.pedal_seen, p.throttle_area, 0.0) + unit.idle_demand * p.idle_air_area
    unit.plate_command = LIMP_PLATE if unit.tp_bad_time > TP_LOST_AFTER else throttle_plate(wanted, p.throttle_area)


@inlined
def position_seen(p: Any, crank: Any, wires: Any, pins: Any, known: Any, unit: Any, hand: Any, dt: float) -> None:
    """The driver's wish as the control unit sees it: the pedal where there is a sensor for it, else the plate above its
    learned stop.
    """
    lost = pins.tp_volts < TP_LOW or pins.tp_volts > TP_HIGH
    if p.electronic_throttle > 0.5 and (
        pins.tp2_volts < TP2_LOW
        or pins.tp2_volts > TP2_HIGH
        or abs(pins.tp_volts + pins.tp2_volts - wires.rail_seen) > TRACKS_AGREE
    ):
        lost = True
    unit.tp_bad_time = min(unit.tp_bad_time + dt, 1.0) if lost else max(unit.tp_bad_time - dt, 0.0)
    if p.electronic_throttle > 0.5 or p.governed > 0.5 or p.diesel > 0.5:
        unit.pedal_seen = known.app_believed if p.pedal_sensor > 0.5 else hand.pedal
        return
    if unit.tp_rest < 0.0 or (crank.speed < 1.0 and known.tp_believed < 0.15):
        unit.tp_rest = min(known.tp_believed, 0.15)
    above = max(known.tp_believed - unit.tp_rest, 0.0) / (1.0 - unit.tp_rest)
    # Without its signal the control unit goes by air alone: idle when little flows.
    unit.pedal_seen = (0.0 if unit.load < 0.25 else 0.3) if unit.tp_bad_time > TP_LOST_AFTER else above


@inlined
def engine_state(
    p: Any, crank: Any, air: Any, warm: Any, known: Any, unit: Any, key: float, rpm: float, time_lapse: float, dt: float
) -> None:
    """Running or not, timers, full load, fuel cut, one frame."""
    if unit.running > 0.5:
        unit.run_time += dt
        unit.warm_time += dt * time_lapse
        unit.soak_time = 0.0
        if crank.speed < STALL_SPEED:
            unit.running = 0.0
            unit.run_time = 0.0
            unit.sync_turns = 0.0
    elif crank.speed > RUN_SPEED and unit.sync_turns > SYNC_AFTER:
        unit.running = 1.0
        unit.hot_restart = 1.0 if unit.soak_time > 300.0 and warm.temp_coolant > HOT_RESTART else 0.0
    else:
        unit.soak_time += dt * time_lapse
    turned = dt * crank.speed / (2.0 * math.pi)
    unit.sync_turns = min(unit.sync_turns + turned, 100.0) if crank.speed > STANDSTILL and key > 0.5 else 0.0
    unit.off_time = unit.off_time + dt if key < 0.5 else 0.0
    unit.burning_off = 1.0 if p.burn_off > 0.5 and unit.warm_time > 20.0 and 4.0 < unit.off_time < 5.0 else 0.0
    unit.wot = 1.0 if (air.plate if p.governed > 0.5 else unit.pedal_seen) > WOT_PEDAL else 0.0
    foot_off = unit.pedal_seen < 0.01
    protect_from_overboost(p, known, unit)
    if unit.cut < 0.5:
        unit.since_cut += dt
        if (
            (p.fuel_cut > 0.5 and foot_off and rpm > p.cut_above and known.ect_believed > 330.0)
            or rpm > p.speed_limit
            or unit.overboost > 0.5
        ):
            unit.cut = 1.0
    elif ((not foot_off and rpm < p.speed_limit) or rpm < p.cut_resume) and unit.overboost < 0.5:
        unit.cut = 0.0
        unit.since_cut = 0.0


@inlined
def protect_from_overboost(p: Any, known: Any, unit: Any) -> None:
    """Fuel is cut while the charge that the control unit sees is far above what the engine bears, until it has come
    down again.
    """
    if p.charged < 0.5 or unit.charge_bad_time > 0.0:
        unit.overboost = 0.0
    elif known.charge_believed > OVERBOOST_CUT * p.boost_target:
        unit.overboost = 1.0
    elif known.charge_believed < OVERBOOST_RESUME * p.boost_target:
        unit.overboost = 0.0


@inlined
def calculated_load(p: Any, crank: Any, known: Any, unit: Any, rpm: float) -> float:
    """Air per stroke over what full load takes at this speed, as SAE J1979's PID 04; with a turbocharger full load is
    full boost. [-]
    """
    if crank.speed < STALL_SPEED:
        return 0.0
    full = unit.breath_known
    full *= wanted_boost(p, 1.0, rpm, known.baro_key_on) if p.charged > 0.5 else known.baro_believed
    mass_full = cylinder_flow(1.0, full, max(known.iat_believed, 250.0), p.displacement, max(crank.speed, 1.0))
    return min(max(unit.air_estimate / mass_full, 0.0), 1.5)


@inlined
def move_egr(p: Any, air: Any, unit: Any, h: Any, dt: float) -> None:
    """The EGR valve's position, one frame: follows the command, or the tool that holds it, between the stops that a
    fault leaves it.
    """
    wish = min(max(unit.egr_command if h.egr_held < 0.0 else h.egr_held, h.egr_least), h.egr_most)
    air.egr_position += dt / p.egr_lag * (wish - air.egr_position)


@inlined
def substitute_pressure(p: Any, crank: Any, air: Any, known: Any, unit: Any) -> tuple[float, float]:
    """Manifold pressure to which the opening of throttle and idle valve leads, and what the cylinders draw of each unit
    of it, for when meter or pressure sensor is lost: opening and filling solved for one pressure. [Pa], [kg/(s Pa)]
    """
    before = known.baro_believed
    if p.charged > 0.5:
        before = max(known.charge_believed, known.baro_key_on) if unit.charge_bad_time < 0.2 else known.baro_key_on
    # The plate is where it was sent, or where its sensor sees it.
    plate = unit.plate_command if p.electronic_throttle > 0.5 or p.governed > 0.5 else unit.pedal_seen
    area = throttle_area(plate, p.throttle_area, p.throttle_leak) + air.idle_area
    pressure, pumped = unit.observer, 0.0
    for _ in range(4):
        ve = believed_filling(p, crank, known, unit, pressure)
        pumped = cylinder_flow(ve, 1.0, unit.charge_known, p.displacement, max(crank.speed, 1.0))
        flow, _up, slope = orifice(area, before, known.iat_believed, min(pressure, 0.995 * before))
        pressure = min(max((flow - slope * pressure) / (pumped - slope), 8e3), 0.999 * before)
    return pressure, pumped


@inlined
def substitute_flow(p: Any, crank: Any, air: Any, known: Any, unit: Any) -> float:
    """Air mass flow that stands in for a lost meter. [kg/s]"""
    if p.diesel > 0.5:
        # Without a throttle the engine takes what charge pressure, speed and filling make of it.
        return cylinder_flow(unit.breath_known, known.charge_believed, unit.charge_known, p.displacement, crank.speed)
    pressure, pumped = substitute_pressure(p, crank, air, known, unit)
    return pressure * pumped


@inlined
def believed_charge(p: Any, known: Any, unit: Any, h: Any) -> float:
    """Charge temperature that the control unit assumes. [K]"""
    # A flattened table takes the air for less far from 20 °C than its sensor tells.
    iat = known.iat_believed + h.iat_table_flat * (293.15 - known.iat_believed)
    fresh = charge_temperature(iat, known.ect_believed, unit.air_estimate, p.full_flow, p.charge_heating)
    return fresh + unit.egr_expected * (EGR_GAS - fresh)


@inlined
def believed_filling(p: Any, crank: Any, known: Any, unit: Any, pressure: float) -> float:
    """Volumetric efficiency from the control unit's calibration, which knows the sound exhaust's back pressure under
    boost. [-]
    """
    behind = unit.exhaust_model if p.charged > 0.5 else known.baro_believed
    return volumetric_efficiency(
        pressure, behind, crank.speed, unit.breath_known, p.compression_ratio, p.overlap_residual
    )


@inlined
def model_exhaust(p: Any, known: Any, unit: Any) -> None:
    """The control unit's own picture of the pressure before the turbine, from its air estimate and the wastegate that
    it commands, one frame.
    """
    flow = unit.air_estimate * (1.0 + 1.0 / p.afr_stoich)
    temp = gas_temperature(max(flow, 0.0), p.exhaust_temp_base, p.exhaust_temp_rise, p.exhaust_flow_ref)
    pipe = known.baro_key_on + p.exhaust_resistance * temp * flow * flow
    gate = wastegate_opening(
        max(known.charge_believed - known.baro_key_on, 0.0), unit.boost_duty, p.wastegate_spring, p.wastegate_span
    )
    through, slope, _drop = turbine(unit.exhaust_model, pipe, temp, p.turbine_area + gate * p.wastegate_area)
    rate = R_AIR * temp / p.turbine_volume
    unit.exhaust_model += FRAME * rate * (flow - through) / (1.0 + FRAME * rate * slope)


@inlined
def estimate_air_by_density(p: Any, crank: Any, air: Any, pins: Any, known: Any, unit: Any) -> None:
    """Air into the cylinders from manifold pressure, speed and charge temperature: the filling is known, the air is not
    measured.
    """
    lost = pins.map_pin < MAP_LOW or pins.map_pin > MAP_HIGH
    known.maf_bad_time = min(known.maf_bad_time + STEP, 1.0) if lost else max(known.maf_bad_time - 2.0 * STEP, 0.0)
    unit.maf_substituted = 1.0 if known.maf_bad_time > MAF_LOST_AFTER else 0.0
    if unit.maf_substituted > 0.5:
        # Opening and speed stand in for the sensor: what pressure they lead to is shown and used in its place.
        pressure, pumped = substitute_pressure(p, crank, air, known, unit)
        unit.observer += covered(SUBSTITUTE_LAG) * (pressure - unit.observer)
        known.map_believed = unit.observer
        unit.air_estimate = pumped * unit.observer * (1.0 - unit.egr_expected)
        return
    unit.observer = known.map_believed
    ve = believed_filling(p, crank, known, unit, known.map_believed)
    charge = cylinder_flow(ve, known.map_believed, unit.charge_known, p.displacement, crank.speed)
    unit.air_estimate = charge * (1.0 - unit.egr_expected)


@inlined
def estimate_air(p: Any, crank: Any, air: Any, known: Any, unit: Any) -> None:
    """Air into the cylinders as the control unit infers it: an observer whose state is manifold pressure.

    In steady state it equals the metered flow, whatever the calibration of the filling; in transients the filling
    decides.
    """
    unit.maf_substituted = 1.0 if known.maf_bad_time > MAF_LOST_AFTER else 0.0
    # Part of the element's lag is undone.
    unit.maf_smooth += covered(0.010) * (known.maf_believed - unit.maf_smooth)
    flow = max(known.maf_believed + 0.9 * p.meter_lag / 0.010 * (known.maf_believed - unit.maf_smooth), 0.0)
    if unit.maf_substituted > 0.5:
        flow = substitute_flow(p, crank, air, known, unit)
    if p.diesel > 0.5:
        # With recirculation pressure says nothing about fresh air: the meter is taken as it is, a little smoothed.
        unit.air_estimate += covered(0.05) * (flow - unit.air_estimate)
        return
    temp = unit.charge_known
    pumped = cylinder_flow(
        believed_filling(p, crank, known, unit, unit.observer), 1.0, temp, p.displacement, crank.speed
    )
    rate = R_AIR * temp / p.manifold_volume
    unit.observer = min(
        max((unit.observer + STEP * rate * flow) * (1.0 / (1.0 + STEP * rate * pumped)), 5e3),
        (3.5 if p.charged > 0.5 else 1.3) * STANDARD_PRESSURE,
    )
    unit.air_estimate = pumped * unit.observer
