"""The way of the air: filter, duct, throttle, manifold, and what else enters there."""

import math
from typing import Any

from leitfaden_core.compiled import compiled, inlined
from leitfaden_core.constants import R_AIR
from leitfaden_core.engine.air_path import (
    cylinder_flow,
    filter_flow,
    hole_resistance,
    orifice,
    throttle_area,
    volumetric_efficiency,
)
from leitfaden_core.engine.turbo import CP_AIR, SURGES_ABOVE, compressor, surge
from leitfaden_core.simulate.lag import covered
from leitfaden_core.simulate.layout import FRAME, STEP
from leitfaden_core.simulate.limits import BOOST_LEAK_LIP, CLEAN_AIR_LAG

#: Numbers of the way of the air.
AIR = (
    "p_duct",
    "p_inlet",
    "p_manifold",
    "air_flow",
    "charge_flow",
    "egr_flow",
    "egr_slope",
    "egr_share",
    "egr_position",
    "meter_flow",
    "purge_opening",
    "purge_flow",
    "purge_vapour",
    "idle_area",
    "plate",
    "temp_charge",
    "temp_fresh",
    "temp_duct",
    "breath",
    "filter_resistance",
)


@inlined
def supply(p: Any, air: Any, turbo: Any, h: Any) -> tuple[float, float, float]:
    """Flow into the duct before the throttle, its slope by the duct's pressure, and that of the flow through the meter.

    Sets the flow through the meter. [kg/s], [kg/(s Pa)], [kg/(s Pa)]
    """
    ambient, temp = p.ambient_pressure, p.ambient_temp
    resistance = air.filter_resistance
    if p.charged < 0.5:
        flow, slope = filter_flow(ambient - air.p_duct, resistance)
        air.meter_flow, d_meter = flow, -slope
        if h.leak_duct_area > 0.0:
            leak, d_leak = filter_flow(ambient - air.p_duct, hole_resistance(h.leak_duct_area, ambient, temp))
            flow += leak
            slope += d_leak
        air.p_inlet = air.p_duct
        return flow, -slope, d_meter

    # What the compressor draws comes through the filter and, beside it, through a leak of the clean-air pipe.
    drawn, slope, heating, share_of_head = compressor(
        air.p_inlet,
        temp,
        air.p_duct,
        turbo.turbo_speed,
        p.wheel_radius,
        p.head_max,
        p.flow_max,
        p.passage_area,
        turbo.surging,
    )
    turbo.surging = surge(turbo.surging, share_of_head) if turbo.turbo_speed > SURGES_ABOVE else 0.0
    turbo.temp_compressed = temp * (1.0 + (heating - 1.0) / p.compressor_efficiency)
    turbo.compressor_power = max(drawn, 0.0) * CP_AIR * (turbo.temp_compressed - temp)
    # The recirculation valve hangs on the manifold: the vacuum behind a shut throttle opens it.
    over = air.p_duct - air.p_manifold
    wish = (
        1.0 if over > p.recirculation_opens and air.p_manifold < 0.8 * ambient and h.recirculation_shut < 0.5 else 0.0
    )
    turbo.recirculation += covered(0.03) * (max(wish, h.recirculation_torn) - turbo.recirculation)
    if turbo.recirculation > 1e-3:
        dumped, up, _down = orifice(p.recirculation_area * turbo.recirculation, air.p_duct, air.temp_duct, air.p_inlet)
    else:
        dumped, up = 0.0, 0.0
    through_filter = drawn - dumped
    share = 1.0
    if h.leak_duct_area > 0.0:
        hole = hole_resistance(h.leak_duct_area, ambient, temp)
        share = math.sqrt(hole) / (math.sqrt(hole) + math.sqrt(resistance))
    air.meter_flow = through_filter * share
    drop = resistance * (share * through_filter) * abs(share * through_filter)
    air.p_inlet += covered(CLEAN_AIR_LAG) * (ambient - drop - air.p_inlet)
    flow, slope = drawn - dumped, slope - up
    d_meter = share * slope
    opened = air.p_duct - ambient - h.boost_leak_opens
    if h.boost_leak_area > 0.0 and opened > 0.0:
        area = h.boost_leak_area * min(opened / BOOST_LEAK_LIP, 1.0)
        lost, up, _down = orifice(area, air.p_duct, air.temp_duct, ambient)
        flow -= lost
        slope -= up + lost / max(opened, BOOST_LEAK_LIP)
    return flow, slope, d_meter


@inlined
def charge_cooler(p: Any, air: Any, turbo: Any) -> None:
    """Temperature in the charge pipe, one frame: heated by compression, cooled towards the outside air; the cooler's
    metal takes its time.
    """
    hot = turbo.temp_compressed
    cooled = hot - p.cooler_effectiveness * (hot - p.ambient_temp)
    air.temp_duct += FRAME / 1.5 * (cooled - air.temp_duct)


@compiled
def breathe(p: Any, crank: Any, air: Any, gas: Any, turbo: Any, warm: Any, h: Any) -> None:
    """Air path, one linearly implicit step of the duct's and the manifold's pressure.

    The flows that others see are those of the balance, at the pressures to which the step has led: at those before it
    they would come a step later than what a sensor shows of the pressures.
    """
    ambient = p.ambient_pressure
    into_duct, d_duct, d_meter = supply(p, air, turbo, h)
    area = throttle_area(air.plate, p.throttle_area, p.throttle_leak) + air.idle_area
    through_throttle, d_up, d_down = orifice(area, air.p_duct, air.temp_duct, air.p_manifold)
    leak, d_leak = 0.0, 0.0
    if h.leak_manifold_area > 0.0:
        leak, _u2, d_leak = orifice(h.leak_manifold_area, ambient, p.ambient_temp, air.p_manifold)
        if air.p_manifold > ambient:
            # Under boost the same hole blows out.
            leak, d_leak, _u2 = orifice(h.leak_manifold_area, air.p_manifold, air.temp_charge, ambient)
            leak, d_leak = -leak, -d_leak
    air.purge_flow = 0.0
    air.purge_vapour = 0.0
    if air.purge_opening > 0.0:
        air.purge_flow, _u3, d_purge = orifice(air.purge_opening, ambient, p.ambient_temp, air.p_manifold)
        # The vapour goes in as fuel, the rest as air.
        share = p.purge_vapour if h.purge_fuel < 0.0 else h.purge_fuel
        air.purge_vapour = air.purge_flow * share
        leak += air.purge_flow - air.purge_vapour
        d_leak += d_purge * (1.0 - share)
    temp_charge = air.temp_fresh
    recirculated, air.egr_slope, d_egr = 0.0, 0.0, 0.0
    if p.has_egr > 0.5:
        passage = p.egr_area * air.egr_position * (1.0 - h.egr_blocked)
        temp_egr = gas.temp_exhaust - p.egr_cooler * (gas.temp_exhaust - warm.temp_coolant)
        if passage > 1e-9:
            recirculated, air.egr_slope, d_egr = orifice(passage, gas.p_exhaust, temp_egr, air.p_manifold)
        temp_charge += air.egr_share * (temp_egr - temp_charge)
        mass = air.p_manifold * p.manifold_volume / (R_AIR * temp_charge)
        entering = through_throttle + leak + recirculated
        share = air.egr_share + STEP * (recirculated - air.egr_share * entering) / mass
        air.egr_share = min(share, 0.9) if share > 1e-9 else 0.0
    air.temp_charge = temp_charge
    ve = volumetric_efficiency(
        air.p_manifold, gas.p_exhaust, crank.speed, air.breath, p.compression_ratio, p.overlap_residual
    )
    # Per pascal: it is the flow's slope too.
    d_cylinder = cylinder_flow(ve, 1.0, temp_charge, p.displacement, crank.speed)

    k_duct = R_AIR * air.temp_duct / p.duct_volume
    k_manifold = R_AIR * temp_charge / p.manifold_volume
    f_duct = k_duct * (into_duct - through_throttle)
    f_manifold = k_manifold * (through_throttle + leak + recirculated - d_cylinder * air.p_manifold)
    j11 = k_duct * (d_duct - d_up)
    j12 = k_duct * (-d_down)
    j21 = k_manifold * d_up
    j22 = k_manifold * (d_down + d_leak + d_egr - d_cylinder)
    a11, a12, a21, a22 = 1.0 - STEP * j11, -STEP * j12, -STEP * j21, 1.0 - STEP * j22
    per_det = STEP / (a11 * a22 - a12 * a21)
    duct_moves = per_det * (a22 * f_duct - a12 * f_manifold)
    manifold_moves = per_det * (a11 * f_manifold - a21 * f_duct)
    air.p_duct += duct_moves
    air.p_manifold = max(air.p_manifold + manifold_moves, 3e3)
    air.meter_flow += d_meter * duct_moves
    air.egr_flow = recirculated + d_egr * manifold_moves
    air.charge_flow = d_cylinder * air.p_manifold
    air.air_flow = air.charge_flow * (1.0 - air.egr_share)
