"""The starter battery: what it holds and what it gives.

A lead-acid battery's open voltage falls about in line with its charge (2.12 V a cell full, 1.95 V empty at this acid
density: Linden and Reddy, Handbook of Batteries, 2002, ch. 23); its inner resistance rises as it empties. Slow effects
(surface charge, cold, age) are left out: it holds for the minutes of a lesson at workshop temperatures.
"""

from leitfaden_core.compiled import compiled

#: What it holds. [Ah]
CAPACITY = 60.0
#: Charge of a battery that is in ordinary use. [-]
USUAL_CHARGE = 0.8
#: Current with the key on, while the starter turns, and of a running engine that charges nothing. [A]
KEY_ON_AMPS, STARTER_AMPS, RUNNING_AMPS = 14.0, 200.0, 30.0


@compiled
def terminal_voltage(charge: float, amps: float) -> float:
    """Voltage at the terminals. ``charge`` 0 to 1, current that is drawn in A. [V]

    >>> round(terminal_voltage(0.8, 14.0), 1), round(terminal_voltage(0.8, 200.0), 1)
    (12.3, 10.2)

    References: Linden and Reddy 2002, ch. 23.
    """
    return 11.7 + 1.0 * charge - amps * 0.0104 * (1.5 - 0.5 * charge)
