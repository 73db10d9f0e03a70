"""One step of the control unit: modes, air estimate by either school, injection. Up to the injector
it acts on pins and on what it believes; what then reaches the cylinders is true again.
"""

import math
from typing import Any

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.compiled import compiled
from leitfaden_core.constants import R_AIR, STANDARD_PRESSURE
from leitfaden_core.control.fuelling import AWAKE_BELOW, WOT_PEDAL, fuel_factor, lambda_command, start_enrichment, trims
from leitfaden_core.control.idle import idle_air, spark_advance
from leitfaden_core.engine.air_path import breathing, charge_temperature, cylinder_flow, orifice, throttle_area, volumetric_efficiency
from leitfaden_core.engine.fuel import film_share, film_time, injected_flow
from leitfaden_core.engine.torque import best_spark
from leitfaden_core.simulate.layout import STEP
from leitfaden_core.simulate.limits import MAF_LOST_AFTER, MAP_HIGH, MAP_LOW, RPM, RUN_SPEED, STALL_SPEED, SYNC_AFTER


@compiled
def control_unit(p: Any, s: Any, ltft: NDArray[np.float64], key: float, time_lapse: float, front_ohms: float, dt: float) -> None:
    """Slow task of the control unit, one frame: state of the engine, mixture mode, trims, idle, spark."""
    rpm = s.speed * RPM
    if s.running > 0.5:
        s.run_time += dt
        s.warm_time += dt * time_lapse
        if s.speed < STALL_SPEED:
            s.running = 0.0
            s.run_time = 0.0
            s.sync_time = 0.0
    elif s.speed > RUN_SPEED and s.sync_time > SYNC_AFTER:
        s.running = 1.0
    s.sync_time = s.sync_time + dt if s.speed > 10.0 and key > 0.5 else 0.0
    s.off_time = s.off_time + dt if key < 0.5 else 0.0
    s.burning_off = 1.0 if p.burn_off > 0.5 and s.warm_time > 20.0 and 4.0 < s.off_time < 5.0 else 0.0
    s.wot = 1.0 if s.pedal > WOT_PEDAL else 0.0
    foot_off = s.pedal < 0.01
    if s.cut < 0.5:
        s.since_cut += dt
        if (p.fuel_cut > 0.5 and foot_off and rpm > p.cut_above and s.ect_believed > 330.0) or rpm > p.speed_limit:
            s.cut = 1.0
    elif (not foot_off and rpm < p.speed_limit) or rpm < p.cut_resume:
        s.cut = 0.0
        s.since_cut = 0.0
    full = breathing(rpm / 1000.0, p.ve_const, p.ve_lin, p.ve_quad, p.ve_cub) * s.baro_believed
    mass_full = cylinder_flow(1.0, full, max(s.iat_believed, 250.0), p.displacement, max(s.speed, 1.0))
    s.load = min(max(s.air_estimate / mass_full, 0.0), 1.5) if s.speed > STALL_SPEED else 0.0
    s.sensor_awake = 1.0 if front_ohms < AWAKE_BELOW else 0.0
    trims(p, s, ltft, dt, time_lapse)
    s.lambda_command = 1.0 if s.closed_loop > 0.5 else lambda_command(s.run_time, s.ect_believed, s.wot > 0.5, p)
    if s.running < 0.5:
        s.lambda_command = 1.0 / start_enrichment(s.ect_believed)
    idle_air(p, s, rpm, dt)
    s.spark = spark_advance(s, best_spark(rpm / 1000.0, min(s.load, 1.0)))


@compiled
def substitute_air(p: Any, s: Any, psi: NDArray[np.float64], residual: NDArray[np.float64]) -> float:
    """Air mass flow from throttle and idle valve alone, for when the meter is lost: opening and filling solved for one pressure. [kg/s]"""
    area = throttle_area(s.plate, p.throttle_area, p.throttle_leak) + s.idle_demand * p.idle_air_area
    pressure = s.observer
    flow = 0.0
    for _ in range(4):
        ve = believed_filling(p, s, pressure, residual)
        pumped = cylinder_flow(ve, 1.0, believed_charge(p, s), p.displacement, max(s.speed, 1.0))
        flow, _up, slope = orifice(area, s.baro_believed, s.iat_believed, min(pressure, 0.995 * s.baro_believed), psi)
        pressure = min(max((flow - slope * pressure) / (pumped - slope), 8e3), 0.999 * s.baro_believed)
    return flow


@compiled
def believed_charge(p: Any, s: Any) -> float:
    """Charge temperature that the control unit assumes. [K]"""
    return charge_temperature(s.iat_believed, s.ect_believed, s.air_estimate, p.full_flow, p.charge_heating)


@compiled
def believed_filling(p: Any, s: Any, pressure: float, residual: NDArray[np.float64]) -> float:
    """Volumetric efficiency from the control unit's calibration. [-]"""
    breath = breathing(s.speed * RPM / 1000.0, p.ve_const, p.ve_lin, p.ve_quad, p.ve_cub)
    return volumetric_efficiency(pressure, s.baro_believed, s.speed, breath, p.compression_ratio, p.overlap_residual, residual)


@compiled
def estimate_air_by_density(p: Any, s: Any, psi: NDArray[np.float64], residual: NDArray[np.float64]) -> None:
    """Air into the cylinders from manifold pressure, speed and charge temperature: the filling is known, the air is not measured."""
    lost = s.map_pin < MAP_LOW or s.map_pin > MAP_HIGH
    s.maf_bad_time = min(s.maf_bad_time + STEP, 1.0) if lost else max(s.maf_bad_time - 2.0 * STEP, 0.0)
    s.maf_substituted = 1.0 if s.maf_bad_time > MAF_LOST_AFTER else 0.0
    if s.maf_substituted > 0.5:
        s.air_estimate = substitute_air(p, s, psi, residual)
        return
    ve = believed_filling(p, s, s.map_believed, residual)
    s.air_estimate = cylinder_flow(ve, s.map_believed, believed_charge(p, s), p.displacement, s.speed)


@compiled
def estimate_air(p: Any, s: Any, psi: NDArray[np.float64], residual: NDArray[np.float64]) -> None:
    """Air into the cylinders as the control unit infers it: an observer whose state is manifold pressure.

    In steady state it equals the metered flow, whatever the calibration of the filling; in transients the filling decides.
    """
    s.maf_substituted = 1.0 if s.maf_bad_time > MAF_LOST_AFTER else 0.0
    if s.maf_substituted > 0.5:
        flow = substitute_air(p, s, psi, residual)
    else:
        # Part of the element's lag is undone.
        s.maf_smooth += STEP / 0.010 * (s.maf_believed - s.maf_smooth)
        flow = max(s.maf_believed + 0.9 * p.meter_lag / 0.010 * (s.maf_believed - s.maf_smooth), 0.0)
    temp = believed_charge(p, s)
    pumped = cylinder_flow(believed_filling(p, s, s.observer, residual), 1.0, temp, p.displacement, s.speed)
    rate = R_AIR * temp / p.manifold_volume
    s.observer = min(max((s.observer + STEP * rate * flow) / (1.0 + STEP * rate * pumped), 5e3), 1.3 * STANDARD_PRESSURE)
    s.air_estimate = pumped * s.observer


@compiled
def inject(p: Any, s: Any, h: Any, ltft: NDArray[np.float64]) -> None:
    """Injection time from the believed air, and the fuel that then really reaches the cylinders, one step."""
    events = s.speed * p.cylinders / (4.0 * math.pi) * p.injections_per_cycle
    known = p.rail_referenced > 0.5
    believed_drop = p.rail_drop if known else p.rail_drop + s.baro_believed - s.map_believed
    allowed = s.sync_time > SYNC_AFTER and s.cut < 0.5 and s.speed > 10.0
    share_b = film_share(p.film_share, s.ect_believed)
    time_b = film_time(p.film_time, s.ect_believed)
    if allowed and events > 0.1:
        # While the starter turns, fuel comes from its own table: what was learned on the road is not asked.
        correction = fuel_factor(s, ltft) if s.running > 0.5 else 1.0
        wanted = s.air_estimate / (p.afr_stoich * s.lambda_command) * correction
        command = max((wanted - s.film_believed / time_b) / (1.0 - share_b), 0.0)
        s.film_believed += STEP * (share_b * command - s.film_believed / time_b)
        s.pulse = command / (events * p.injector_flow * math.sqrt(max(believed_drop / p.rail_drop, 0.1))) + p.injector_dead_time
    else:
        s.film_believed -= STEP * s.film_believed / time_b
        s.pulse = 0.0
    flow_full = p.full_flow / p.afr_stoich
    used = min(s.fuel_flow / flow_full, 1.3)
    true_drop = 1.0 if known else (p.rail_drop + p.ambient_pressure - s.p_manifold) / p.rail_drop
    pressure_ratio = h.rail_factor_idle + (h.rail_factor_full - h.rail_factor_idle) * used
    pressure_ratio *= true_drop
    injected = injected_flow(s.pulse, p.injector_dead_time, p.injector_flow * p.injector_gain, pressure_ratio, events) if allowed else 0.0
    injected *= 1.0 - h.dead_fuel
    if s.speed > STALL_SPEED:
        injected += h.injector_leak
    share = film_share(p.film_share, s.temp_coolant)
    evaporated = s.film / film_time(p.film_time, s.temp_coolant)
    s.film += STEP * (share * injected - evaporated)
    s.fuel_flow = (1.0 - share) * injected + evaporated + s.purge_vapour
