"""The nodes that the simulator needs at every step, solved by Kirchhoff's current law in closed form.

``rails`` gives what all 5 V sensors share: the reference at their supply pins and the potential of their common ground.
``pin_voltage`` then gives one signal pin. Both are special cases of :mod:`leitfaden_core.wiring.network`, and the tests
hold them against it.
"""

from leitfaden_core.compiled import compiled

CIRCUIT_SOUND = 0
CIRCUIT_OPEN = 1
CIRCUIT_GROUNDED = 2
CIRCUIT_SHORT_5V = 3
CIRCUIT_SHORT_BATTERY = 4
#: Signal and ground of a 5 V sensor exchanged in its plug.
CIRCUIT_SWAPPED = 5
#: Supply and ground of a potentiometer exchanged in its plug: it runs backwards.
CIRCUIT_REVERSED = 6

#: Resistance of a solid short.
SHORT_OHMS = 0.05
#: Conductance that remains across an open wire: damp plug, insulation.
OPEN_SIEMENS = 1e-9
#: Output of an airflow meter and of a pressure sensor; heater of an oxygen sensor, warm. [ohm]
SENSOR_OUTPUT, PRESSURE_OUTPUT, HEATER_OHMS = 1000.0, 100.0, 9.0
#: Of the control unit's sensor ground to battery minus.
UNIT_GROUND_OHMS = 0.02
#: Between the block and battery minus beside the ground strap: control cables, hangers of the exhaust. [ohm]
STRAY_OHMS = 0.25
REFERENCE_VOLTS = 5.0
#: Current that the reference's regulator gives at most. [A]
REGULATOR_AMPS = 0.1


@compiled
def pin_voltage(
    source: float,
    source_ohms: float,
    pull_to: float,
    pull_ohms: float,
    state: float,
    series_ohms: float,
    battery: float,
) -> float:
    """Voltage at the control unit's pin: ``v = Σ G·V / Σ G`` over everything that is tied to it.

    Parameters
    ----------
    source, source_ohms : float
        Sensor as a voltage [V] behind its output resistance [ohm].
    pull_to, pull_ohms : float
        What the control unit's resistor pulls to [V], and that resistor [ohm].
    state : float
        CIRCUIT_SOUND, _OPEN, _GROUNDED, _SHORT_5V or _SHORT_BATTERY.  (_SWAPPED is the caller's: another source.)
    series_ohms : float
        Additional resistance in the signal wire. [ohm]
    battery : float
        [V], for a short to it.

    Returns
    -------
    volts : float
        [V]
    """
    slope, base = pin_line(source_ohms, pull_to, pull_ohms, state, series_ohms, battery)
    return slope * source + base


@compiled
def pin_line(
    source_ohms: float, pull_to: float, pull_ohms: float, state: float, series_ohms: float, battery: float
) -> tuple[float, float]:
    """The pin's voltage as a line in the sensor's, ``pin = slope·source + base``, for as long as the wiring stays as it
    is. [-], [V]

    Parameters as of :func:`pin_voltage`.

    >>> pin_line(0.0, 5.0, 1000.0, CIRCUIT_OPEN, 0.0, 12.4)[1] > 4.999
    True
    """
    sensor = OPEN_SIEMENS if state == CIRCUIT_OPEN else 1.0 / (source_ohms + series_ohms + 1e-3)
    pull = 1.0 / pull_ohms
    amps, siemens = pull_to * pull, sensor + pull
    if CIRCUIT_GROUNDED <= state <= CIRCUIT_SHORT_BATTERY:
        siemens += 1.0 / SHORT_OHMS
        amps += (
            0.0 if state == CIRCUIT_GROUNDED else REFERENCE_VOLTS if state == CIRCUIT_SHORT_5V else battery
        ) / SHORT_OHMS
    return sensor / siemens, amps / siemens


@compiled
def rails(
    sensors: float,
    sensor_ohms: float,
    thermistor_siemens: float,
    reference_ohms: float,
    reference_state: float,
    reference_held: float,
    ground_ohms: float,
    ground_state: float,
) -> tuple[float, float]:
    """Reference and ground at the sensors.

    Parameters
    ----------
    sensors, sensor_ohms : float
        Number of 5 V sensors between reference and sensor ground, and what the supply current of one amounts to. [ohm]
    thermistor_siemens : float
        Sum of 1/(pull-up + element) of all thermistors, which return through the same ground. [S]
    reference_ohms, reference_state : float
        Regulator and wire with whatever resistance a fault adds [ohm]; CIRCUIT_OPEN or _GROUNDED when the reference
        wire is.
    reference_held : float
        What a damaged sensor leaves of the reference [V]; 0 or less: nothing holds it.
    ground_ohms, ground_state : float
        Of the sensor ground wire to battery minus [ohm]; CIRCUIT_OPEN when it is interrupted.

    Returns
    -------
    reference, ground : float
        Against battery minus. [V]
    """
    load = sensors / sensor_ohms + 1e-9
    feed = OPEN_SIEMENS if reference_state == CIRCUIT_OPEN else 1.0 / reference_ohms
    shorted = 1.0 / SHORT_OHMS if reference_state == CIRCUIT_GROUNDED else 0.0
    drain = OPEN_SIEMENS if ground_state == CIRCUIT_OPEN else 1.0 / (UNIT_GROUND_OHMS + ground_ohms)
    if reference_held > 0.0:
        reference = reference_held
        return reference, (reference * load + REFERENCE_VOLTS * thermistor_siemens) / (
            load + thermistor_siemens + drain
        )
    # Two unknowns: (feed + shorted + load)·r − load·g = feed·5 and −load·r + (load + thermistors + drain)·g =
    # thermistors·5.
    a, b = feed + shorted + load, load + thermistor_siemens + drain
    det = a * b - load * load
    reference = (feed * REFERENCE_VOLTS * b + load * thermistor_siemens * REFERENCE_VOLTS) / det
    if feed * (REFERENCE_VOLTS - reference) > REGULATOR_AMPS:
        # The regulator protects itself: it gives its limit, and the voltage is what that makes of the load.
        reference = (REGULATOR_AMPS * b + load * thermistor_siemens * REFERENCE_VOLTS) / (
            (shorted + load) * b - load * load
        )
        return reference, (thermistor_siemens * REFERENCE_VOLTS + load * reference) / b
    ground = (a * thermistor_siemens * REFERENCE_VOLTS + load * feed * REFERENCE_VOLTS) / det
    return reference, ground


@compiled
def reference_at_unit(at_sensors: float, inner_ohms: float, wire_ohms: float, state: float, held: float) -> float:
    """The reference at the control unit's own pin, which is all of it that the control unit can measure. [V]

    ``at_sensors`` from :func:`rails` [V], the regulator's and the wire's resistance in ohm, state and ``held`` as
    there. A wire that is broken or corroded in the harness is not seen here.
    """
    if held > 0.0:
        return at_sensors
    if state == CIRCUIT_OPEN:
        return REFERENCE_VOLTS
    amps = min((REFERENCE_VOLTS - at_sensors) / (inner_ohms + wire_ohms), REGULATOR_AMPS)
    return at_sensors + amps * wire_ohms
