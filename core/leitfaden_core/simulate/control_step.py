"""One step of the control unit: modes, air estimate by either school, injection. Up to the injector
it acts on pins and on what it believes; what then reaches the cylinders is true again.
"""

import math
from typing import Any

from leitfaden_core.compiled import compiled
from leitfaden_core.constants import R_AIR, STANDARD_PRESSURE
from leitfaden_core.control.boost import control_boost, wanted_boost
from leitfaden_core.control.diesel import control_egr, diesel_fuel
from leitfaden_core.control.fuelling import AWAKE_BELOW, WOT_PEDAL, fuel_factor, lambda_command, start_enrichment, trims
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
from leitfaden_core.engine.exhaust import gas_temperature
from leitfaden_core.engine.fuel import film_share, film_time, injected_flow
from leitfaden_core.engine.torque import best_spark
from leitfaden_core.engine.turbo import turbine, wastegate_opening
from leitfaden_core.sensors.pressure import EGR_GAS
from leitfaden_core.simulate.layout import FRAME, STEP
from leitfaden_core.simulate.limits import (
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
    SYNC_AFTER,
    TP_HIGH,
    TP_LOST_AFTER,
    TP_LOW,
    TRACKS_AGREE,
)
from leitfaden_core.simulate.second_bank import both_corrections, second_trims
from leitfaden_core.simulate.sensing_step import WIDEBAND_AWAKE
from leitfaden_core.wiring.node import CIRCUIT_GROUNDED, CIRCUIT_OPEN, CIRCUIT_SHORT_BATTERY


@compiled
def control_unit(
    p: Any, s: Any, h: Any, key: float, lever: float, time_lapse: float, front_ohms: float, dt: float
) -> None:
    """Slow task of the control unit, one frame: state of the engine, mixture mode, trims, idle, spark, boost,
    recirculation.
    """
    rpm = s.speed * RPM
    position_seen(p, s, dt)
    s.breath_known = breathing(rpm / 1000.0, p.ve_const, p.ve_lin, p.ve_quad, p.ve_cub)
    s.charge_known = believed_charge(p, s)
    film_known(p, s)
    engine_state(p, s, key, rpm, time_lapse, dt)
    if p.diesel > 0.5:
        s.plate_command = 1.0
        diesel_fuel(p, s, rpm, dt)
        control_egr(p, s, rpm, dt)
        s.load = min(s.fuel_stroke / p.fuel_full, 1.5) if s.speed > STALL_SPEED else 0.0
        control_boost(p, s, s.fuel_wanted / p.fuel_full, rpm, dt)
        move_egr(p, s, h, dt)
        s.rail_true = rail_pressure(p, s, h) if s.speed > STALL_SPEED else max(s.rail_true - 4e6 * dt, 0.0)
        return
    s.load = calculated_load(p, s, rpm)
    if p.charged > 0.5:
        control_boost(p, s, s.pedal_seen, rpm, dt)
    s.sensor_awake = 1.0 if front_ohms < AWAKE_BELOW else 0.0
    if p.wideband > 0.5:
        s.sensor_awake = 1.0 if s.temp_front > WIDEBAND_AWAKE and s.wideband_lost < 0.5 else 0.0
    trims(p, s, dt, time_lapse)
    if p.two_banks > 0.5:
        second_trims(p, s, h, dt, time_lapse)
    purge_valve(p, s, h, dt)
    s.lambda_command = (
        p.base_lambda if s.closed_loop > 0.5 else lambda_command(s.run_time, s.ect_believed, s.wot > 0.5, p)
    )
    if s.running < 0.5:
        s.lambda_command = 1.0 / start_enrichment(s.ect_believed)
    if p.governed > 0.5:
        cold = idle_target(p, s.ect_believed)
        govern(p, s, max(lever, cold), rpm, dt)
        s.idle_error = 0.0
        best = best_spark(rpm / 1000.0, min(s.load, 1.0))
        s.spark = best - 3.5 if s.running > 0.5 else 8.0
        return
    idle_air(p, s, rpm, dt)
    give_idle_air(p, s)
    best = best_spark(rpm / 1000.0, min(s.load, 1.0))
    if p.charged > 0.5:
        # Against knock under boost.
        best -= 6.0 * max(s.map_believed / s.baro_key_on - 1.0, 0.0)
    s.spark = spark_advance(s, best)


@compiled
def film_known(p: Any, s: Any) -> None:
    """Film of fuel on the port walls: what the control unit reckons with for the coolant that it believes, and what is
    true, one frame.
    """
    s.film_share_known = film_share(p.film_share, s.ect_believed)
    s.film_gain_known = 1.0 / (1.0 - s.film_share_known)
    s.film_rate_known = 1.0 / film_time(p.film_time, s.ect_believed)
    s.film_share = film_share(p.film_share, s.temp_coolant)
    s.film_rate = 1.0 / film_time(p.film_time, s.temp_coolant)


@compiled
def purge_valve(p: Any, s: Any, h: Any, dt: float) -> None:
    """Canister purge, one frame: wanted warm, in closed loop and off idle; then the valve's true opening, and the
    vapour that is reckoned with.
    """
    wanted = (
        min(0.1 + 1.2 * max(s.load - 0.15, 0.0), 0.6) if p.purge_area > 0.0 and s.ect_believed > PURGE_ABOVE else 0.0
    )
    if s.closed_loop < 0.5 or s.cell < 0.5:
        # At idle and out of closed loop it shuts at once.
        s.purge_duty = 0.0
    else:
        s.purge_duty += dt / 2.0 * (wanted - s.purge_duty)
    driven = s.purge_duty
    if h.circuit_purge == CIRCUIT_OPEN or h.circuit_purge == CIRCUIT_SHORT_BATTERY or h.ohms_purge > PURGE_DROPS_OUT:
        driven = 0.0
    elif h.circuit_purge == CIRCUIT_GROUNDED:
        driven = 1.0
    s.purge_opening = max(h.purge_least, p.purge_area * driven if h.purge_shut < 0.5 else 0.0)
    s.purge_known = 0.0
    if p.speed_density > 0.5 and s.purge_duty > 0.0:
        # With a meter the vapour comes with air that nobody counts, and both cancel; pressure counts the air, so here
        # the fuel must be left out.
        flow, _up, _down = orifice(p.purge_area * s.purge_duty, s.baro_believed, 293.15, s.map_believed)
        s.purge_known = flow * p.purge_vapour


@compiled
def give_idle_air(p: Any, s: Any) -> None:
    """Idle air by a valve beside the plate, or by the plate itself; a lost position sensor leaves an electronic
    throttle at its limp stop.
    """
    if p.electronic_throttle < 0.5:
        s.idle_area = s.idle_demand * p.idle_air_area
        s.plate_command = s.pedal
        return
    s.idle_area = 0.0
    wanted = throttle_area(s.pedal_seen, p.throttle_area, 0.0) + s.idle_demand * p.idle_air_area
    s.plate_command = LIMP_PLATE if s.tp_bad_time > TP_LOST_AFTER else throttle_plate(wanted, p.throttle_area)


@compiled
def position_seen(p: Any, s: Any, dt: float) -> None:
    """The driver's wish as the control unit sees it: the pedal where there is a sensor for it, else the plate above its
    learned stop.
    """
    lost = s.tp_volts < TP_LOW or s.tp_volts > TP_HIGH
    if p.electronic_throttle > 0.5 and abs(s.tp_volts + s.tp2_volts - s.rail_5v - s.rail_ground) > TRACKS_AGREE:
        lost = True
    s.tp_bad_time = min(s.tp_bad_time + dt, 1.0) if lost else max(s.tp_bad_time - dt, 0.0)
    if p.electronic_throttle > 0.5 or p.governed > 0.5 or p.diesel > 0.5:
        s.pedal_seen = s.app_believed if p.pedal_sensor > 0.5 else s.pedal
        return
    if s.tp_rest < 0.0 or (s.speed < 1.0 and s.tp_believed < 0.15):
        s.tp_rest = min(s.tp_believed, 0.15)
    above = max(s.tp_believed - s.tp_rest, 0.0) / (1.0 - s.tp_rest)
    # Without its signal the control unit goes by air alone: idle when little flows.
    s.pedal_seen = (0.0 if s.load < 0.25 else 0.3) if s.tp_bad_time > TP_LOST_AFTER else above


@compiled
def engine_state(p: Any, s: Any, key: float, rpm: float, time_lapse: float, dt: float) -> None:
    """Running or not, timers, full load, fuel cut, one frame."""
    if s.running > 0.5:
        s.run_time += dt
        s.warm_time += dt * time_lapse
        s.soak_time = 0.0
        if s.speed < STALL_SPEED:
            s.running = 0.0
            s.run_time = 0.0
            s.sync_time = 0.0
    elif s.speed > RUN_SPEED and s.sync_time > SYNC_AFTER:
        s.running = 1.0
        s.hot_restart = 1.0 if s.soak_time > 300.0 and s.temp_coolant > p.ambient_temp + 30.0 else 0.0
    else:
        s.soak_time += dt * time_lapse
    s.sync_time = s.sync_time + dt if s.speed > 10.0 and key > 0.5 else 0.0
    s.off_time = s.off_time + dt if key < 0.5 else 0.0
    s.burning_off = 1.0 if p.burn_off > 0.5 and s.warm_time > 20.0 and 4.0 < s.off_time < 5.0 else 0.0
    s.wot = 1.0 if (s.plate if p.governed > 0.5 else s.pedal_seen) > WOT_PEDAL else 0.0
    foot_off = s.pedal_seen < 0.01
    protect_from_overboost(p, s)
    if s.cut < 0.5:
        s.since_cut += dt
        if (
            (p.fuel_cut > 0.5 and foot_off and rpm > p.cut_above and s.ect_believed > 330.0)
            or rpm > p.speed_limit
            or s.overboost > 0.5
        ):
            s.cut = 1.0
    elif ((not foot_off and rpm < p.speed_limit) or rpm < p.cut_resume) and s.overboost < 0.5:
        s.cut = 0.0
        s.since_cut = 0.0


@compiled
def protect_from_overboost(p: Any, s: Any) -> None:
    """Fuel is cut while the charge that the control unit sees is far above what the engine bears, until it has come
    down again.
    """
    if p.charged < 0.5 or s.charge_bad_time > 0.0:
        s.overboost = 0.0
    elif s.charge_believed > OVERBOOST_CUT * p.boost_target:
        s.overboost = 1.0
    elif s.charge_believed < OVERBOOST_RESUME * p.boost_target:
        s.overboost = 0.0


@compiled
def calculated_load(p: Any, s: Any, rpm: float) -> float:
    """Air per stroke over what full load takes at this speed, as SAE J1979's PID 04; with a turbocharger full load is
    full boost. [-]
    """
    if s.speed < STALL_SPEED:
        return 0.0
    full = s.breath_known
    full *= wanted_boost(p, 1.0, rpm, s.baro_key_on) if p.charged > 0.5 else s.baro_believed
    mass_full = cylinder_flow(1.0, full, max(s.iat_believed, 250.0), p.displacement, max(s.speed, 1.0))
    return min(max(s.air_estimate / mass_full, 0.0), 1.5)


@compiled
def rail_pressure(p: Any, s: Any, h: Any) -> float:
    """True rail pressure: the pump follows until the sensor shows the wanted value, as far as supply and regulator let
    it. [Pa gauge]
    """
    used = min(s.fuel_stroke / p.fuel_full, 1.0)
    factor = h.rail_factor_idle + (h.rail_factor_full - h.rail_factor_idle) * used
    # Without its sensor the pump is driven by a table.
    lost = s.rail_pin < MAP_LOW or s.rail_pin > MAP_HIGH
    followed = s.rail_wanted if lost else s.rail_true + 0.2 * (s.rail_wanted - s.rail_believed)
    followed = min(max(followed, 0.0), 1.1 * p.rail_high)
    return (
        min(followed, factor * s.rail_wanted)
        if factor < 1.0
        else followed
        if factor == 1.0
        else max(followed, factor * s.rail_wanted)
    )


@compiled
def move_egr(p: Any, s: Any, h: Any, dt: float) -> None:
    """The EGR valve's position, one frame: follows the command between the stops that a fault leaves it."""
    wish = min(max(s.egr_command, h.egr_least), h.egr_most)
    s.egr_position += dt / p.egr_lag * (wish - s.egr_position)


@compiled
def substitute_air(p: Any, s: Any) -> float:
    """Air mass flow from throttle and idle valve alone, for when the meter is lost: opening and filling solved for one
    pressure. [kg/s]
    """
    if p.diesel > 0.5:
        # Without a throttle the engine takes what charge pressure, speed and filling make of it.
        return cylinder_flow(s.breath_known, s.charge_believed, s.charge_known, p.displacement, s.speed)
    before = s.baro_believed
    if p.charged > 0.5:
        before = max(s.charge_believed, s.baro_key_on) if s.charge_bad_time < 0.2 else s.baro_key_on
    area = throttle_area(s.plate, p.throttle_area, p.throttle_leak) + s.idle_area
    pressure = s.observer
    flow = 0.0
    for _ in range(4):
        ve = believed_filling(p, s, pressure)
        pumped = cylinder_flow(ve, 1.0, s.charge_known, p.displacement, max(s.speed, 1.0))
        flow, _up, slope = orifice(area, before, s.iat_believed, min(pressure, 0.995 * before))
        pressure = min(max((flow - slope * pressure) / (pumped - slope), 8e3), 0.999 * before)
    return flow


@compiled
def believed_charge(p: Any, s: Any) -> float:
    """Charge temperature that the control unit assumes. [K]"""
    fresh = charge_temperature(s.iat_believed, s.ect_believed, s.air_estimate, p.full_flow, p.charge_heating)
    return fresh + s.egr_expected * (EGR_GAS - fresh)


@compiled
def believed_filling(p: Any, s: Any, pressure: float) -> float:
    """Volumetric efficiency from the control unit's calibration, which knows the sound exhaust's back pressure under
    boost. [-]
    """
    behind = s.exhaust_model if p.charged > 0.5 else s.baro_believed
    return volumetric_efficiency(pressure, behind, s.speed, s.breath_known, p.compression_ratio, p.overlap_residual)


@compiled
def model_exhaust(p: Any, s: Any) -> None:
    """The control unit's own picture of the pressure before the turbine, from its air estimate and the wastegate that
    it commands, one frame.
    """
    flow = s.air_estimate * (1.0 + 1.0 / p.afr_stoich)
    temp = gas_temperature(max(flow, 0.0), p.exhaust_temp_base, p.exhaust_temp_rise, p.exhaust_flow_ref)
    pipe = s.baro_key_on + p.exhaust_resistance * temp * flow * flow
    gate = wastegate_opening(
        max(s.charge_believed - s.baro_key_on, 0.0), s.boost_duty, p.wastegate_spring, p.wastegate_span
    )
    through, slope, _drop = turbine(s.exhaust_model, pipe, temp, p.turbine_area + gate * p.wastegate_area)
    rate = R_AIR * temp / p.turbine_volume
    s.exhaust_model += FRAME * rate * (flow - through) / (1.0 + FRAME * rate * slope)


@compiled
def estimate_air_by_density(p: Any, s: Any) -> None:
    """Air into the cylinders from manifold pressure, speed and charge temperature: the filling is known, the air is not
    measured.
    """
    lost = s.map_pin < MAP_LOW or s.map_pin > MAP_HIGH
    s.maf_bad_time = min(s.maf_bad_time + STEP, 1.0) if lost else max(s.maf_bad_time - 2.0 * STEP, 0.0)
    s.maf_substituted = 1.0 if s.maf_bad_time > MAF_LOST_AFTER else 0.0
    if s.maf_substituted > 0.5:
        s.air_estimate = substitute_air(p, s)
        return
    s.observer = s.map_believed
    ve = believed_filling(p, s, s.map_believed)
    charge = cylinder_flow(ve, s.map_believed, s.charge_known, p.displacement, s.speed)
    s.air_estimate = charge * (1.0 - s.egr_expected)


@compiled
def estimate_air(p: Any, s: Any) -> None:
    """Air into the cylinders as the control unit infers it: an observer whose state is manifold pressure.

    In steady state it equals the metered flow, whatever the calibration of the filling; in transients the filling
    decides.
    """
    s.maf_substituted = 1.0 if s.maf_bad_time > MAF_LOST_AFTER else 0.0
    # Part of the element's lag is undone.
    s.maf_smooth += STEP / 0.010 * (s.maf_believed - s.maf_smooth)
    flow = max(s.maf_believed + 0.9 * p.meter_lag / 0.010 * (s.maf_believed - s.maf_smooth), 0.0)
    if s.maf_substituted > 0.5:
        flow = substitute_air(p, s)
    if p.diesel > 0.5:
        # With recirculation pressure says nothing about fresh air: the meter is taken as it is, a little smoothed.
        s.air_estimate += STEP / 0.05 * (flow - s.air_estimate)
        return
    temp = s.charge_known
    pumped = cylinder_flow(believed_filling(p, s, s.observer), 1.0, temp, p.displacement, s.speed)
    rate = R_AIR * temp / p.manifold_volume
    s.observer = min(
        max((s.observer + STEP * rate * flow) / (1.0 + STEP * rate * pumped), 5e3), 1.3 * STANDARD_PRESSURE
    )
    s.air_estimate = pumped * s.observer


@compiled
def inject(p: Any, s: Any, h: Any) -> None:
    """Petrol: injection time from the believed air, and the fuel that then really reaches the cylinders, one step."""
    events = s.speed * p.cylinders / (4.0 * math.pi) * p.injections_per_cycle
    known = p.rail_referenced > 0.5
    believed_drop = p.rail_drop if known else p.rail_drop + s.baro_believed - s.map_believed
    allowed = s.sync_time > SYNC_AFTER and s.cut < 0.5 and s.speed > 10.0
    if allowed and events > 0.1:
        # While the starter turns, fuel comes from its own table: what was learned on the road is not asked.
        correction = 1.0
        if s.running > 0.5:
            correction = both_corrections(p, s, h) if p.two_banks > 0.5 else fuel_factor(s)
        wanted = max(s.air_estimate / (p.afr_stoich * s.lambda_command) * correction - s.purge_known, 0.0)
        command = max((wanted - s.film_believed * s.film_rate_known) * s.film_gain_known, 0.0)
        s.film_believed += STEP * (s.film_share_known * command - s.film_believed * s.film_rate_known)
        pulse = (
            command / (events * p.injector_flow * math.sqrt(max(believed_drop / p.rail_drop, 0.1)))
            + p.injector_dead_time
        )
        # An injection must end within its window; more than that is not delivered, whatever is commanded.
        s.pulse = min(pulse, p.injection_window / 360.0 * 2.0 * math.pi / s.speed)
    else:
        s.film_believed -= STEP * s.film_believed * s.film_rate_known
        s.pulse = 0.0
    true_drop = 1.0 if known else (p.rail_drop + p.ambient_pressure - s.p_manifold) / p.rail_drop
    used = min(s.fuel_flow * (p.afr_stoich / p.full_flow), 1.3)
    pressure_ratio = h.rail_factor_idle + (h.rail_factor_full - h.rail_factor_idle) * used
    pressure_ratio *= true_drop * h.fuel_density
    # The coil opens later at a low battery; the control unit knows that and allows for it.
    injectors = p.injector_flow * p.injector_gain * h.injector_part
    injected = injected_flow(s.pulse, p.injector_dead_time, injectors, pressure_ratio, events) if allowed else 0.0
    injected *= (1.0 - h.dead_fuel) * (1.0 - h.restricted_share * (1.0 - h.restricted_flow))
    if s.speed > STALL_SPEED:
        injected += h.injector_leak
    evaporated = s.film * s.film_rate
    s.film += STEP * (s.film_share * injected - evaporated)
    s.fuel_flow = (1.0 - s.film_share) * injected + evaporated + s.purge_vapour


@compiled
def inject_diesel(p: Any, s: Any, h: Any) -> None:
    """Diesel: fuel that reaches the cylinders for the wanted mass, one step.

    The control unit times it by the rail pressure that it believes.
    """
    strokes = s.speed * p.cylinders / (4.0 * math.pi)
    allowed = s.sync_time > SYNC_AFTER and s.cut < 0.5 and s.speed > 10.0
    mass = s.fuel_stroke if allowed else 0.0
    pressed = math.sqrt(max(s.rail_true, 0.0) / max(s.rail_believed, 1e6)) if s.running > 0.5 else 1.0
    mass *= min(pressed, 1.5) * p.injector_gain * h.injector_part
    mass *= (1.0 - h.dead_fuel) * (1.0 - h.restricted_share * (1.0 - h.restricted_flow))
    s.pulse = 0.0
    s.fuel_flow = strokes * mass + (h.injector_leak if s.speed > STALL_SPEED else 0.0)
