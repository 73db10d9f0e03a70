"""Exhaust recirculation of petrol engines: when it is wanted, what moves the valve, and what the control unit reckons
with.

Five drives. An electric valve follows the command and tells its position. A vacuum valve lifts by the manifold's
vacuum, let through by a solenoid; those with a transducer bleed part of it away until exhaust pressure shuts the bleed,
so both open wider when back pressure rises; at rest the positive kind's bleed stands open and the negative kind's is
shut. With pressure feedback the solenoid is driven until the drop over a metering orifice is what it should be.
(Heywood 1988, ch. 11.2.3 for the why; the arrangement of the valves is generic.)
"""

from typing import Any

from leitfaden_core.compiled import compiled, inlined
from leitfaden_core.engine.air_path import orifice
from leitfaden_core.engine.exhaust import gas_temperature
from leitfaden_core.sensors.pressure import EGR_GAS, orifice_drop, orifice_mass_flow
from leitfaden_core.simulate.limits import FEEDBACK_HIGH, FEEDBACK_LOW

#: The drives by their number in rigs.document.EGR_DRIVES.
ELECTRIC, PORTED, POSITIVE, NEGATIVE, FEEDBACK = 0, 1, 2, 3, 4
#: Coolant above which petrol engines recirculate [K]; width of the load range's edges [-].
WARM, EDGE = 333.0, 0.05
#: An electric valve is opened for a moment in overrun, to see by the manifold pressure whether its passage is free.
#: [s], [s], [-]
CHECK_FROM, CHECK_UNTIL, CHECK_OPENING = 3.0, 4.5, 0.5


@compiled
def bleed_share(drive: float, gauge: float, bleed: float, running: bool) -> float:
    """Share of its vacuum that a transducer leaves to the diaphragm, with this exhaust gauge pressure [Pa]. [-]

    >>> bleed_share(POSITIVE, 0.0, 500.0, False), bleed_share(NEGATIVE, 0.0, 500.0, False)
    (0.0, 1.0)
    """
    if drive == POSITIVE:
        return 0.5 * min(max(gauge / bleed, 0.0), 2.0)
    if drive == NEGATIVE:
        # Its bleed is pulled open by the suction between exhaust pulses, which exists only while the engine runs.
        return 0.5 * min(max(0.4 + 0.6 * gauge / bleed, 0.0), 2.0) if running else 1.0
    return 1.0


@compiled
def valve_lift(vacuum: float, spring: float, span: float) -> float:
    """Opening of a vacuum valve. [-]"""
    return min(max((vacuum - spring) / span, 0.0), 1.0)


@inlined
def recirculate(
    p: Any, crank: Any, air: Any, gas: Any, pins: Any, known: Any, unit: Any, h: Any, idle_speed: float, dt: float
) -> None:
    """Petrol: wanted recirculation, the valve's wish, and the share that the control unit counts out of its air
    estimate, one frame.
    """
    allowed = (
        unit.running > 0.5
        and known.ect_believed > WARM
        and unit.cut < 0.5
        and unit.wot < 0.5
        and crank.speed > 1.3 * idle_speed
    )
    ramp = min(max((unit.load - p.egr_load_low) / EDGE, 0.0), 1.0) * min(
        max((p.egr_load_high - unit.load) / EDGE, 0.0), 1.0
    )
    if (
        p.egr_drive == FEEDBACK
        and (pins.egr_dp_pin < FEEDBACK_LOW or pins.egr_dp_pin > FEEDBACK_HIGH)
        and unit.running > 0.5
    ):
        # A lost feedback ends recirculation for this drive.
        unit.egr_lost_time = min(unit.egr_lost_time + dt, 1.0)
    wanted = p.egr_wanted * ramp if allowed and unit.egr_lost_time < 0.5 else 0.0
    pressure = min(max(unit.observer, 8e3), 0.98 * known.baro_believed)
    full, _up, _down = orifice(p.egr_area, known.baro_believed, EGR_GAS, pressure)
    total = max(unit.air_estimate, 1e-5) / max(1.0 - unit.egr_expected, 0.5)
    believed = 0.0
    wish = 0.0
    if p.egr_drive == ELECTRIC:
        unit.cut_time = unit.cut_time + dt if unit.cut > 0.5 and known.ect_believed > WARM else 0.0
        checking = CHECK_FROM < unit.cut_time < CHECK_UNTIL
        unit.egr_command += (
            dt / 0.2 * ((CHECK_OPENING if checking else min(wanted * total / max(full, 1e-7), 1.0)) - unit.egr_command)
        )
        # It reckons with what it has asked for; that the valve stands elsewhere is its monitor's business.
        wish, believed = unit.egr_command, full * (unit.egr_command if unit.egr_command > 0.02 else 0.0)
    elif p.egr_drive == FEEDBACK:
        unit.egr_dp_wanted = orifice_drop(wanted * total, p.egr_orifice, known.baro_believed, EGR_GAS)
        error = (unit.egr_dp_wanted - known.egr_dp_believed) / 3000.0
        unit.egr_integral = min(max(unit.egr_integral + 0.8 * error * dt, 0.0), 1.0) if wanted > 0.0 else 0.0
        unit.egr_command = unit.egr_integral
        wish = unit.egr_command * valve_lift(
            (p.ambient_pressure - air.p_manifold) * (1.0 - h.egr_vacuum_lost), p.egr_spring, p.egr_span
        )
        believed = orifice_mass_flow(known.egr_dp_believed - 150.0, p.egr_orifice, known.baro_believed, EGR_GAS)
    else:
        unit.egr_command = 1.0 if wanted > 0.2 * p.egr_wanted else 0.0
        vacuum = (p.ambient_pressure - air.p_manifold) * (1.0 - h.egr_vacuum_lost)
        lift = bleed_share(p.egr_drive, gas.p_pipe - p.ambient_pressure, p.egr_bleed, unit.running > 0.5)
        wish = unit.egr_command * valve_lift(vacuum * lift, p.egr_spring, p.egr_span)
        # The control unit sees nothing of the valve: it reckons with what a sound one would do.
        mixed = gas_temperature(total, p.exhaust_temp_base, p.exhaust_temp_rise, p.exhaust_flow_ref)
        expected = bleed_share(p.egr_drive, p.exhaust_resistance * mixed * total * total, p.egr_bleed, True)
        believed = (
            full * unit.egr_command * valve_lift((known.baro_believed - pressure) * expected, p.egr_spring, p.egr_span)
        )
    unit.egr_expected += dt / 0.3 * (min(believed / total, 0.4) - unit.egr_expected)
    wish = wish if h.egr_held < 0.0 else h.egr_held
    air.egr_position += dt / p.egr_lag * (min(max(wish, h.egr_least), h.egr_most) - air.egr_position)
    if air.egr_position < 1e-6:
        air.egr_position = 0.0
