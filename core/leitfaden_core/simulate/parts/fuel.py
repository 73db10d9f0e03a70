"""From the wanted fuel to what reaches the cylinders: injection time, rail pressure, film on the port walls."""

import math
from typing import Any

from leitfaden_core.compiled import inlined
from leitfaden_core.control.fuelling import fuel_factor
from leitfaden_core.engine.fuel import film_share, film_time, injected_flow, never_evaporates
from leitfaden_core.simulate.layout import STEP
from leitfaden_core.simulate.limits import FIRES_ABOVE, STALL_SPEED, SYNC_AFTER
from leitfaden_core.simulate.parts.mixture import both_corrections

#: Numbers of fuel on its way.
FUEL = (
    "film",
    "fuel_flow",
    "film_share",
    "film_rate",
    "rail_true",
    "lost",
)


@inlined
def film_known(p: Any, fuel: Any, warm: Any, known: Any, unit: Any) -> None:
    """Film of fuel on the port walls: what the control unit reckons with for the coolant that it believes, and what is
    true, one frame.
    """
    unit.film_share_known = film_share(p.film_share, known.ect_believed)
    unit.film_gain_known = 1.0 / (1.0 - unit.film_share_known)
    unit.film_rate_known = 1.0 / film_time(p.film_time, known.ect_believed)
    fuel.film_share = film_share(p.film_share, warm.temp_coolant)
    fuel.film_rate = 1.0 / film_time(p.film_time, warm.temp_coolant)
    unit.lost_known = never_evaporates(p.film_share, known.ect_believed)
    fuel.lost = never_evaporates(p.film_share, warm.temp_coolant)


@inlined
def rail_pressure(p: Any, fuel: Any, known: Any, unit: Any, h: Any) -> float:
    """True rail pressure: the pump follows until the sensor shows the wanted value, as far as supply and regulator let
    it. [Pa gauge]
    """
    used = min(unit.fuel_stroke / p.fuel_full, 1.0)
    factor = h.rail_factor_idle + (h.rail_factor_full - h.rail_factor_idle) * used
    # Without its sensor the pump is driven by a table.
    followed = (
        unit.rail_wanted if known.rail_lost > 0.5 else fuel.rail_true + 0.2 * (unit.rail_wanted - known.rail_believed)
    )
    followed = min(max(followed, 0.0), 1.1 * p.rail_high)
    return (
        min(followed, factor * unit.rail_wanted)
        if factor < 1.0
        else followed
        if factor == 1.0
        else max(followed, factor * unit.rail_wanted)
    )


@inlined
def inject(p: Any, crank: Any, air: Any, fuel: Any, known: Any, unit: Any, mix: Any, h: Any) -> None:
    """Petrol: injection time from the believed air, and the fuel that then really reaches the cylinders, one step."""
    events = crank.speed * p.cylinders / (4.0 * math.pi) * p.injections_per_cycle
    referenced = p.rail_referenced > 0.5
    believed_drop = p.rail_drop if referenced else p.rail_drop + known.baro_believed - known.map_believed
    allowed = unit.sync_turns > SYNC_AFTER and unit.cut < 0.5 and crank.speed > FIRES_ABOVE
    if allowed and events > 0.1:
        # While the starter turns, fuel comes from its own table: what was learned on the road is not asked.
        correction = 1.0
        if unit.running > 0.5:
            correction = both_corrections(p, mix, h) if p.two_banks > 0.5 else fuel_factor(mix)
        wanted = max(unit.air_estimate * (correction / (p.afr_stoich * unit.lambda_command)) - unit.purge_known, 0.0)
        wanted *= 1.0 / (1.0 - unit.lost_known)
        command = max((wanted - unit.film_believed * unit.film_rate_known) * unit.film_gain_known, 0.0)
        unit.film_believed += STEP * (unit.film_share_known * command - unit.film_believed * unit.film_rate_known)
        per_fuel = 1.0 / (events * p.injector_flow * math.sqrt(max(believed_drop / p.rail_drop, 0.1)))
        pulse = command * per_fuel + unit.dead_time
        # An injection must end within its window; more than that is not delivered, whatever is commanded.
        unit.pulse = min(pulse, p.injection_window / 360.0 * 2.0 * math.pi / crank.speed)
    else:
        unit.film_believed -= STEP * unit.film_believed * unit.film_rate_known
        unit.pulse = 0.0
    true_drop = 1.0 if referenced else (p.rail_drop + p.ambient_pressure - air.p_manifold) / p.rail_drop
    used = min(fuel.fuel_flow * (p.afr_stoich / p.full_flow), 1.3)
    pressure_ratio = h.rail_factor_idle + (h.rail_factor_full - h.rail_factor_idle) * used
    pressure_ratio *= true_drop * p.tank_density * h.fuel_density
    injectors = p.injector_flow * p.injector_gain * h.injector_part
    injected = injected_flow(unit.pulse, unit.dead_time, injectors, pressure_ratio, events) if allowed else 0.0
    injected *= (1.0 - h.dead_fuel) * (1.0 - h.restricted_share * (1.0 - h.restricted_flow))
    if crank.speed > STALL_SPEED:
        injected += h.injector_leak
    injected *= 1.0 - fuel.lost
    evaporated = fuel.film * fuel.film_rate
    fuel.film += STEP * (fuel.film_share * injected - evaporated)
    fuel.fuel_flow = (1.0 - fuel.film_share) * injected + evaporated + air.purge_vapour


@inlined
def inject_diesel(p: Any, crank: Any, fuel: Any, known: Any, unit: Any, h: Any) -> None:
    """Diesel: fuel that reaches the cylinders for the wanted mass, one step.

    The control unit times it by the rail pressure that it believes.
    """
    strokes = crank.speed * p.cylinders / (4.0 * math.pi)
    allowed = unit.sync_turns > SYNC_AFTER and unit.cut < 0.5 and crank.speed > FIRES_ABOVE
    mass = unit.fuel_stroke if allowed else 0.0
    pressed = math.sqrt(max(fuel.rail_true, 0.0) / max(known.rail_believed, 1e6)) if unit.running > 0.5 else 1.0
    mass *= min(pressed, 1.5) * p.injector_gain * h.injector_part
    mass *= (1.0 - h.dead_fuel) * (1.0 - h.restricted_share * (1.0 - h.restricted_flow))
    unit.pulse = 0.0
    fuel.fuel_flow = strokes * mass + (h.injector_leak if crank.speed > STALL_SPEED else 0.0)
