"""Idle speed: slow air, quick spark, a learned base, and a floor of air on overrun.

Both paths are needed: the air alone oscillates, since the manifold takes longer to fill than the engine to slow down
(Guzzella and Onder 2010, ch. 5).
"""

from typing import Any

from leitfaden_core.compiled import inlined

#: Above target by this much the integrator only coasts down, so that a flare cannot empty it. [rev/min]
FLARE = 120.0
#: Up to this much further above it the learned base gives way [rev/min], at this rate [1/s].
UNLEARN_WITHIN, UNLEARN = 300.0, 0.01
#: Coolant above which the base is learned: a cold engine needs more, for a while. [K]
LEARNS_ABOVE = 333.0
#: Air on overrun, share of the idle valve per 1000 rev/min.
OVERRUN_AIR = 0.105
#: Distance kept from best torque, against knock. [°]
SHORT_OF_BEST = 3.5
IDLE_SPARK, SPARK_PER_RPM, SPARK_DOWN, SPARK_UP = 12.0, 0.07, 12.0, 14.0


@inlined
def idle_target(p: Any, ect: float) -> float:
    """Wanted idle speed, raised while the coolant is below 80 °C. [rev/min]

    References: this model's table.
    """
    return p.idle_target + p.idle_cold_raise * max(353.15 - ect, 0.0)


@inlined
def idle_air(p: Any, known: Any, unit: Any, rpm: float, dt: float) -> None:
    """One step of the idle air demand (0..1).

    References: PI with feed-forward; Hendricks and Sorenson 1990 for the plant.
    """
    target = idle_target(p, known.ect_believed)
    unit.idle_error = target - rpm
    warm_up = 0.0016 * max(353.15 - known.ect_believed, 0.0)
    start = 0.10 * max(1.0 - unit.run_time / 4.0, 0.0)
    if unit.running < 0.5:
        unit.idle_integral = unit.idle_base
        unit.idle_demand = unit.idle_base + warm_up + 0.30
        return
    if unit.pedal_seen < 0.01:
        if unit.idle_error < -FLARE:
            unit.idle_integral = max(unit.idle_integral - 0.01 * dt, unit.idle_base)
            if unit.idle_error > -FLARE - UNLEARN_WITHIN:
                # What was learned with cold oil is too much for a warm engine: without this the idle would stay high
                # for ever.
                unit.idle_base = max(unit.idle_base - UNLEARN * dt, 0.0)
        else:
            unit.idle_integral = min(max(unit.idle_integral + p.idle_ki * unit.idle_error * dt, 0.0), 0.9)
            if abs(unit.idle_error) < 60.0 and known.ect_believed > LEARNS_ABOVE:
                unit.idle_base += (unit.idle_integral - unit.idle_base) * dt / 8.0
    else:
        # What a cold engine needed is forgotten on the road.
        unit.idle_integral += (unit.idle_base - unit.idle_integral) * dt / 10.0
    proportional = p.idle_kp * min(max(unit.idle_error, -FLARE), FLARE) if unit.pedal_seen < 0.01 else 0.0
    # On overrun a floor of air keeps the manifold from emptying; faded in so that a leak's higher speed does not wake
    # it.
    share = min(max((-unit.idle_error - 300.0) / 500.0, 0.0), 1.0)
    overrun = share * OVERRUN_AIR * rpm / 1000.0 if unit.pedal_seen < 0.01 else 0.0
    unit.idle_demand = min(max(unit.idle_integral + proportional + warm_up + start + overrun, 0.0), 1.0)


@inlined
def spark_advance(unit: Any, best: float) -> float:
    """Ignition advance: the quick half of the idle control, a few degrees short of the ``best`` one elsewhere. [°]

    References: Hendricks and Sorenson 1990.
    """
    if unit.running < 0.5:
        return 8.0
    load_part = best - SHORT_OF_BEST
    if unit.pedal_seen >= 0.01:
        return load_part
    idle = IDLE_SPARK + min(max(SPARK_PER_RPM * unit.idle_error, -SPARK_DOWN), SPARK_UP)
    share = min(max((-unit.idle_error - 300.0) / 500.0, 0.0), 1.0)
    return idle + share * (12.0 - idle)
