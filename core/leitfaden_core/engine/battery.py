"""Battery, starter and alternator: what they hold, draw and give.

A lead-acid battery's open voltage falls about in line with its charge (2.12 V a cell full, 1.95 V empty at this acid
density: Linden and Reddy, Handbook of Batteries, 2002, ch. 23); its inner resistance rises as it empties and in the
cold. Starter: a motor whose torque goes with its current, and whose current falls as it gains speed. Alternator: holds
a voltage that falls with its warmth, as far as its speed lets it give the current. Surface charge and age are left out:
it holds for the minutes of a lesson between -25 and 40 °C.
"""

import math

from leitfaden_core.compiled import compiled

#: What it holds. [Ah]
CAPACITY = 60.0
#: Charge of a battery that is in ordinary use, and the share of what flows in that it keeps. [-]
USUAL_CHARGE, CHARGE_KEPT = 0.8, 0.9
#: Current with the key on, and of a running engine and its driver's consumers; of the electric fan at full power; into
#: a battery that is nearly full. [A]
KEY_ON_AMPS, RUNNING_AMPS, FAN_AMPS, CHARGING_AMPS = 14.0, 30.0, 18.0, 6.0
#: Inner resistance of a full, warm battery that suits a starter of 75 Nm [ohm], its growth per kelvin of cold [1/K],
#: and the temperature below which it grows [K].
INNER_OHMS, COLD_GROWTH, WARM = 0.0104, 0.018, 298.0
#: Voltage at which a starter has the torque that its rig tells [V], and its current for each newton metre at the
#: crankshaft [A/Nm].
STARTER_VOLTS, AMPS_PER_NM = 10.2, 3.3
#: What the alternator holds at 25 °C [V], what it gives less per kelvin of the air about it [V/K], its inner resistance
#: [ohm], its largest current [A] and the engine speed at which it reaches 1 - 1/e of it [rev/min].
CHARGING_VOLTS, CHARGING_COOLS, ALTERNATOR_OHMS, ALTERNATOR_AMPS, ALTERNATOR_SPEED = 14.4, 0.008, 0.004, 110.0, 900.0
#: Electrical over mechanical power of an alternator. [-]
ALTERNATOR_EFFICIENCY = 0.55


@compiled
def open_voltage(charge: float) -> float:
    """Voltage of a battery from which nothing is drawn. ``charge`` 0 to 1. [V]

    References: Linden and Reddy 2002, ch. 23.
    """
    return 11.7 + 1.0 * charge


@compiled
def inner_ohms(charge: float, temp: float, starter_torque: float) -> float:
    """Inner resistance of a battery in K, chosen for a starter of this torque: a stronger one has a larger battery.
    [ohm]

    References: Linden and Reddy 2002, ch. 23 (about double at -18 °C).
    """
    return INNER_OHMS * (75.0 / starter_torque) * (1.5 - 0.5 * charge) * (1.0 + COLD_GROWTH * max(WARM - temp, 0.0))


@compiled
def terminal_voltage(charge: float, amps: float) -> float:
    """Voltage at the terminals of a warm battery of usual size. ``charge`` 0 to 1, current that is drawn in A. [V]

    >>> round(terminal_voltage(0.8, 14.0), 1), round(terminal_voltage(0.8, 200.0), 1)
    (12.3, 10.2)

    References: Linden and Reddy 2002, ch. 23.
    """
    return open_voltage(charge) - amps * inner_ohms(charge, WARM, 75.0)


@compiled
def alternator_torque(amps: float, volts: float, speed: float) -> float:
    """Torque at the crankshaft of an alternator that gives this current beyond its usual one, at a speed in rad/s. [Nm]

    >>> round(alternator_torque(20.0, 14.0, 78.5), 1)
    6.5

    References: power balance; efficiency of a claw-pole alternator (Ribbens 2017, ch. 6: 50 to 65 %).
    """
    return amps * volts / (ALTERNATOR_EFFICIENCY * max(speed, 50.0))


@compiled
def starter_amps(source: float, inner: float, ground: float, torque: float, speed_share: float) -> float:
    """Current of the starter, at standstill the inrush.

    ``source`` is what the battery holds without it [V], behind ``inner`` and the ground path [ohm]; ``torque`` at
    standstill and STARTER_VOLTS [Nm]; ``speed_share`` over the speed at which it gives none then. [A]

    References: Ohm's law in the loop of battery, motor with its counter voltage, and ground.
    """
    stall = AMPS_PER_NM * torque
    return max(stall * (source / STARTER_VOLTS - speed_share) / (1.0 + stall * (inner + ground) / STARTER_VOLTS), 0.0)


@compiled
def charging(
    source: float, inner: float, ground: float, held: float, house: float, block: float, rpm: float
) -> tuple[float, float]:
    """Battery voltage and the alternator's current while the engine runs.

    The alternator returns over the block, so that a ground path in the way takes from what reaches the battery.

    Parameters
    ----------
    source, inner : float
        Open voltage [V] and inner resistance [ohm] of the battery.
    ground : float
        Between block and battery minus. [ohm]
    held : float
        What the alternator holds at its own terminals; 0: it gives nothing. [V]
    house, block : float
        Current of consumers that return to the body, and over the block. [A]
    rpm : float
        Engine speed. [rev/min]

    Returns
    -------
    volts, amps : float
        [V], [A]

    References: Kirchhoff's laws for two sources on one load; the alternator's characteristic is this model's.
    """
    wanted = house + block + CHARGING_AMPS
    most = ALTERNATOR_AMPS * (1.0 - math.exp(-rpm / ALTERNATOR_SPEED)) if held > 0.0 else 0.0
    volts = held - wanted * (ALTERNATOR_OHMS + ground) + block * ground
    if wanted <= most and volts > source:
        return volts, wanted
    given = (held + block * ground - source + (house + block) * inner) / (ALTERNATOR_OHMS + ground + inner)
    given = min(max(given, 0.0), most)
    return source - (house + block - given) * inner, given


@compiled
def dead_time(volts: float) -> float:
    """Factor on an injector's dead time at this battery voltage: the coil's current rises more slowly. [-]

    >>> round(dead_time(14.0), 2), round(dead_time(10.0), 2)
    (1.0, 1.66)

    References: Heywood 1988, sec. 7.3 (current in a coil); the exponent fits makers' tables between 8 and 16 V.
    """
    return (14.0 / min(max(volts, 6.0), 16.0)) ** 1.5
