"""Diesel control: fuel by torque demand within the smoke limit, fresh air by the EGR valve, rail pressure by its set
value.

There are no fuel trims: what an airflow meter tells decides how far the EGR valve opens and how much fuel full load may
get (Guzzella and Onder 2010, ch. 4.4).
"""

from typing import Any

from leitfaden_core.compiled import inlined
from leitfaden_core.constants import R_AIR, STANDARD_PRESSURE

#: Coolant below which recirculation stays shut. [K]
EGR_ABOVE = 313.0
RAIL_LAG = 0.08  # s
#: Share of full fuel that is left to an engine that does not know its rail pressure. [-]
LIMP_FUEL = 0.6
#: Valve travel at once per share of full charge that is too much.
EGR_AT_ONCE = 1.2


@inlined
def diesel_fuel(p: Any, crank: Any, known: Any, unit: Any, rpm: float, dt: float) -> None:
    """One step of the wanted fuel per stroke: idle governor or pedal, whichever asks for more, within smoke limit and
    speed limit.

    References: Guzzella and Onder 2010, sec. 2.5; smoke limit as the trade knows it.
    """
    target = p.idle_target + p.idle_cold_raise * max(353.15 - known.ect_believed, 0.0)
    unit.idle_error = target - rpm
    strokes = max(crank.speed * p.cylinders / 12.566, 1.0)
    unit.air_stroke = unit.air_estimate / strokes
    if unit.running < 0.5:
        unit.fuel_wanted = 0.55 * p.fuel_full
        unit.fuel_stroke = unit.fuel_wanted
        unit.idle_integral = 0.12
        return
    unit.idle_integral = min(
        max(unit.idle_integral + p.governor_ki * min(max(unit.idle_error, -150.0), 150.0) * dt, 0.0), 0.35
    )
    hold = min(max(unit.idle_integral + p.governor_kp * unit.idle_error, 0.0), 0.4)
    # Driving away empties the idle governor's memory only as far as the engine needs it to idle.
    fade = min(max((p.speed_limit - rpm) / 250.0, 0.0), 1.0)
    most = LIMP_FUEL if known.rail_lost > 0.5 else 1.0
    unit.fuel_wanted = min(max(hold, unit.pedal_seen) * fade, most) * p.fuel_full
    limit = unit.air_stroke / (p.smoke_lambda * p.afr_stoich)
    unit.fuel_stroke = 0.0 if unit.cut > 0.5 else min(unit.fuel_wanted, max(limit, 0.05 * p.fuel_full))
    # The rail is set for the fuel that the smoke limit leaves.
    share = unit.fuel_stroke / p.fuel_full
    wanted_rail = p.rail_low + (p.rail_high - p.rail_low) * min(0.55 * share + 0.45 * rpm / p.rated_speed, 1.0)
    unit.rail_wanted += dt / RAIL_LAG * (wanted_rail - unit.rail_wanted)


@inlined
def control_egr(p: Any, known: Any, unit: Any, rpm: float, dt: float) -> None:
    """One step of the EGR valve's command: PI on believed fresh air per stroke above its set value.

    References: PI; Wahlström and Eriksson 2011.
    """
    share = unit.fuel_wanted / p.fuel_full
    # Once shut by load it stays so until the load has clearly fallen, or valve and load would chase each other.
    unit.egr_shut_by_load = 1.0 if share > p.egr_load_limit - (0.10 if unit.egr_shut_by_load > 0.5 else 0.0) else 0.0
    # The start and the minute of cold idle after it are run without recirculation.
    allowed = (
        unit.running > 0.5
        and unit.warm_time > 45.0
        and known.ect_believed > EGR_ABOVE
        and unit.egr_shut_by_load < 0.5
        and unit.cut < 0.5
        and unit.maf_substituted < 0.5
    )
    full = STANDARD_PRESSURE * p.displacement / (p.cylinders * R_AIR * 293.15)
    wanted = p.egr_air_base + p.egr_air_rise * share + 0.06 * (rpm / 1000.0 - 0.8)
    unit.egr_air_wanted = wanted * full if allowed else 0.0
    if allowed:
        excess = min(max(unit.air_stroke / full - wanted, -0.3), 0.3)
        unit.egr_integral = min(max(unit.egr_integral + p.egr_gain * min(max(excess, -0.1), 0.1) * dt, 0.0), 1.0)
        unit.egr_command = min(max(unit.egr_integral + EGR_AT_ONCE * excess, 0.0), 1.0)
    else:
        # The next opening starts from a little, not from what was right before the pull.
        unit.egr_integral = min(unit.egr_integral, 0.2)
        unit.egr_command = max(unit.egr_command - dt / 0.2, 0.0)
