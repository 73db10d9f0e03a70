"""Charge pressure control: a wanted pressure, and a duty (or vane position) that follows the error."""

from typing import Any

from leitfaden_core.compiled import inlined

#: Error beyond which the pressure is not controlled but pursued [bar], and the controller's proportional part [1/bar].
SPOOLING, PROPORTIONAL = 0.3, 0.5
#: How fast vanes close on while the charge is far below what is wanted. [1/s]
CLOSING_ON = 0.05
#: Gain of speed that no gear allows [rev/min per s], and for how long it is remembered [s].
FREE_GAIN, FREE_FOR = 2500.0, 0.6
#: Charge sensor pins outside these are taken as lost. [V]
CHARGE_LOW, CHARGE_HIGH = 0.2, 4.9


@inlined
def wanted_boost(p: Any, demand: float, rpm: float, baro: float) -> float:
    """Wanted absolute charge pressure for a demand of 0 (none) to 1 (full), less below the speed at which the turbine
    can deliver. [Pa]

    References: Guzzella and Onder 2010, sec. 4.3 (charge pressure control); the map is this model's.
    """
    reach = min(max((rpm - 1000.0) / 1500.0, 0.0), 1.0)
    share = min(max((demand - 0.25) / 0.5, 0.0), 1.0) if p.diesel < 0.5 else min(max((demand - 0.2) / 0.55, 0.0), 1.0)
    # At height the same pressure ratio is asked, not the same pressure: the shaft must not overspeed.
    return baro + (p.boost_target * min(baro / 101300.0, 1.0) - baro) * share * reach


@inlined
def control_boost(p: Any, pins: Any, known: Any, unit: Any, demand: float, rpm: float, dt: float) -> None:
    """One step of duty or vane position (0 least, 1 most boost).

    A lost charge sensor leaves the mechanical base boost.

    References: PI with feed-forward; Guzzella and Onder 2010, sec. 4.3.
    """
    lost = pins.charge_pin < CHARGE_LOW or pins.charge_pin > CHARGE_HIGH
    # Nor is charge of use at the end of the speed range, where fuel is cut.
    demand = 0.0 if spins_freely(unit, rpm, dt) or rpm > 0.97 * p.speed_limit else demand
    unit.charge_bad_time = min(unit.charge_bad_time + dt, 1.0) if lost else 0.0
    unit.boost_wanted = wanted_boost(p, demand, rpm, known.baro_key_on)
    if unit.charge_bad_time > 0.4 or unit.running < 0.5:
        unit.boost_integral = 0.0
        unit.boost_duty = 0.0 if p.wastegate_area > 0.0 else 0.3
        return
    error = (unit.boost_wanted - known.charge_believed) / 1e5
    base = feed_forward(p, unit, demand)
    if error > SPOOLING:
        # Far below: everything for the shaft's speed, and nothing learned from that; vanes close on while it does not
        # come.
        if p.wastegate_area > 0.0:
            unit.boost_duty = 1.0
        else:
            unit.boost_integral = min(max(unit.boost_integral, 0.12) + CLOSING_ON * dt, 0.5)
            unit.boost_duty = min(base + 0.23 + unit.boost_integral, 1.0)
        return
    error = max(error, -SPOOLING)
    unit.boost_integral = min(max(unit.boost_integral + p.boost_gain * error * dt, -base), 1.0 - base)
    unit.boost_duty = min(max(base + unit.boost_integral + PROPORTIONAL * error, 0.0), 1.0)


@inlined
def spins_freely(unit: Any, rpm: float, dt: float) -> bool:
    """Whether the engine gains speed faster than any gear lets it, now or a moment ago: then nobody needs charge.

    References: this model's.
    """
    gaining = (rpm - unit.speed_before) / dt
    unit.speed_before = rpm
    unit.gain += dt / 0.08 * (gaining - unit.gain)
    unit.free_time = FREE_FOR if unit.gain > FREE_GAIN else max(unit.free_time - dt, 0.0)
    return unit.free_time > 0.0


@inlined
def feed_forward(p: Any, unit: Any, demand: float) -> float:
    """Duty or vane position that about gives the wanted pressure: vanes well closed at low flow, half open at full.

    [-]

    References: this model's.
    """
    if p.wastegate_area > 0.0:
        return 0.6 * min(max((demand - 0.25) / 0.25, 0.0), 1.0)
    flow = min(unit.air_estimate / p.full_flow, 1.0)
    return min(max(0.75 - 0.65 * flow, 0.0), 1.0)
