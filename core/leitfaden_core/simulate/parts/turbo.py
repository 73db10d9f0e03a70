"""The turbocharger, with wastegate or movable vanes."""

from typing import Any

from leitfaden_core.compiled import inlined
from leitfaden_core.constants import R_AIR
from leitfaden_core.engine.turbo import CP_EXHAUST, shaft_rate, turbine, wastegate_opening
from leitfaden_core.simulate.lag import covered
from leitfaden_core.simulate.layout import STEP
from leitfaden_core.simulate.limits import BYPASS_COOLED

#: Numbers of the turbocharger.
TURBO = (
    "turbo_speed",
    "recirculation",
    "surging",
    "wastegate",
    "vanes",
    "temp_compressed",
    "compressor_power",
)


@inlined
def charge(p: Any, air: Any, fuel: Any, gas: Any, turbo: Any, unit: Any, h: Any) -> None:
    """Turbine, wastegate or vanes, and shaft, one step."""
    over = max(air.p_duct - p.ambient_pressure, 0.0) * (1.0 - h.wastegate_hose)
    gate = wastegate_opening(over, unit.boost_duty, p.wastegate_spring, p.wastegate_span)
    turbo.wastegate += covered(0.05) * (gate - turbo.wastegate)
    if h.wastegate_stuck >= 0.0:
        turbo.wastegate = h.wastegate_stuck
    driven = unit.boost_duty if h.vanes_held < 0.0 else h.vanes_held
    vanes = driven if h.vanes_stuck < 0.0 else h.vanes_stuck
    turbo.vanes += covered(0.1) * (vanes - turbo.vanes)
    area = p.turbine_area + turbo.vanes * (p.turbine_area_shut - p.turbine_area)
    bypass = p.wastegate_area * turbo.wastegate
    flow, slope, drop = turbine(gas.p_exhaust, gas.p_pipe, gas.temp_exhaust, area + bypass)
    rate = R_AIR * gas.temp_exhaust / p.turbine_volume
    arriving = air.charge_flow + fuel.fuel_flow - air.egr_flow
    # A wide open recirculation empties this small volume as fast as the turbine does.
    gas.p_exhaust += STEP * rate * (arriving - flow) / (1.0 + STEP * rate * (slope + air.egr_slope))
    turned = flow * area / (area + bypass)
    work = p.turbine_efficiency * CP_EXHAUST * gas.temp_exhaust * drop
    power = max(turned, 0.0) * work
    turbo.turbo_speed += STEP * shaft_rate(
        turbo.turbo_speed, power, turbo.compressor_power, p.shaft_friction, p.shaft_inertia
    )
    turbo.turbo_speed = max(turbo.turbo_speed, 10.0)
    # Behind turbine and wastegate the gas has given the turbine's work and some heat to the housing.
    worked = power / max(flow, 1e-4) / CP_EXHAUST if flow > 1e-4 else 0.0
    gas.temp_behind = gas.temp_exhaust - worked - BYPASS_COOLED * (gas.temp_exhaust - p.ambient_temp)
