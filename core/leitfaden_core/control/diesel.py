"""Diesel control: fuel by torque demand within the smoke limit, fresh air by the EGR valve, rail pressure by its set
value.

There are no fuel trims: what an airflow meter tells decides how far the EGR valve opens and how much fuel full load may
get (Guzzella and Onder 2010, ch. 4.4).
"""

from typing import Any

from leitfaden_core.compiled import compiled
from leitfaden_core.constants import R_AIR, STANDARD_PRESSURE

#: Coolant below which recirculation stays shut. [K]
EGR_ABOVE = 313.0
RAIL_LAG = 0.08  # s
#: Valve travel at once per share of full charge that is too much.
EGR_AT_ONCE = 1.2


@compiled
def diesel_fuel(p: Any, s: Any, rpm: float, dt: float) -> None:
    """One step of the wanted fuel per stroke: idle governor or pedal, whichever asks for more, within smoke limit and
    speed limit.
    """
    target = p.idle_target + p.idle_cold_raise * max(353.15 - s.ect_believed, 0.0)
    s.idle_error = target - rpm
    strokes = max(s.speed * p.cylinders / 12.566, 1.0)
    s.air_stroke = s.air_estimate / strokes
    if s.running < 0.5:
        s.fuel_wanted = 0.55 * p.fuel_full
        s.fuel_stroke = s.fuel_wanted
        s.idle_integral = 0.12
        return
    s.idle_integral = min(max(s.idle_integral + p.governor_ki * min(max(s.idle_error, -150.0), 150.0) * dt, 0.0), 0.35)
    hold = min(max(s.idle_integral + p.governor_kp * s.idle_error, 0.0), 0.4)
    # Driving away empties the idle governor's memory only as far as the engine needs it to idle.
    fade = min(max((p.speed_limit - rpm) / 250.0, 0.0), 1.0)
    s.fuel_wanted = max(hold, s.pedal_seen) * fade * p.fuel_full
    limit = s.air_stroke / (p.smoke_lambda * p.afr_stoich)
    s.fuel_stroke = 0.0 if s.cut > 0.5 else min(s.fuel_wanted, max(limit, 0.05 * p.fuel_full))
    share = s.fuel_wanted / p.fuel_full
    wanted_rail = p.rail_low + (p.rail_high - p.rail_low) * min(0.55 * share + 0.45 * rpm / p.rated_speed, 1.0)
    s.rail_wanted += dt / RAIL_LAG * (wanted_rail - s.rail_wanted)


@compiled
def control_egr(p: Any, s: Any, rpm: float, dt: float) -> None:
    """One step of the EGR valve's command: PI on believed fresh air per stroke above its set value."""
    share = s.fuel_wanted / p.fuel_full
    # Once shut by load it stays so until the load has clearly fallen, or valve and load would chase each other.
    s.egr_shut_by_load = 1.0 if share > p.egr_load_limit - (0.10 if s.egr_shut_by_load > 0.5 else 0.0) else 0.0
    # The start and the minute of cold idle after it are run without recirculation.
    allowed = (
        s.running > 0.5
        and s.warm_time > 45.0
        and s.ect_believed > EGR_ABOVE
        and s.egr_shut_by_load < 0.5
        and s.cut < 0.5
        and s.maf_substituted < 0.5
    )
    full = STANDARD_PRESSURE * p.displacement / (p.cylinders * R_AIR * 293.15)
    wanted = p.egr_air_base + p.egr_air_rise * share + 0.06 * (rpm / 1000.0 - 0.8)
    s.egr_air_wanted = wanted * full if allowed else 0.0
    if allowed:
        excess = min(max(s.air_stroke / full - wanted, -0.3), 0.3)
        s.egr_integral = min(max(s.egr_integral + p.egr_gain * min(max(excess, -0.1), 0.1) * dt, 0.0), 1.0)
        s.egr_command = min(max(s.egr_integral + EGR_AT_ONCE * excess, 0.0), 1.0)
    else:
        # The next opening starts from a little, not from what was right before the pull.
        s.egr_integral = min(s.egr_integral, 0.2)
        s.egr_command = max(s.egr_command - dt / 0.2, 0.0)
