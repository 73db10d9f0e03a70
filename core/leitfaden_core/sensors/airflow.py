"""Hot-element airflow meters.

The bridge keeps the element a fixed step above the air; the heat that this takes grows with the root of the mass flow
(King, On the convection of heat from small cylinders, Phil. Trans. Royal Society A 214, 1914): V² = a + b·sqrt(flow).
"""

import math

from leitfaden_core.compiled import compiled

#: Signal at full scale.
FULL_SCALE_VOLTS = 4.7


@compiled
def meter_voltage(flow: float, zero: float, full_scale: float) -> float:
    """Signal voltage of a hot-element meter. Flow and full scale in kg/s, zero in V. [V]

    A plain element cannot tell the direction of the flow: the amount counts.
    """
    slope = (FULL_SCALE_VOLTS * FULL_SCALE_VOLTS - zero * zero) / math.sqrt(full_scale)
    return math.sqrt(zero * zero + slope * math.sqrt(abs(flow)))


@compiled
def meter_flow(volts: float, zero: float, full_scale: float) -> float:
    """Flow that the control unit reads from a signal voltage: :func:`meter_voltage` backwards, 0 below the zero voltage. [kg/s]"""
    slope = (FULL_SCALE_VOLTS * FULL_SCALE_VOLTS - zero * zero) / math.sqrt(full_scale)
    root = max(volts * volts - zero * zero, 0.0) / slope
    return root * root


@compiled
def heater_current(flow: float, full_scale: float) -> float:
    """Current that the meter draws from its supply: 0.1 A without flow, 0.5 A at full scale. [A]"""
    return 0.1 + 0.4 * math.sqrt(min(abs(flow) / full_scale, 1.5))
