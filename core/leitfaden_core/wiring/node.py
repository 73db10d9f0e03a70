"""The node at the control unit's signal pin, solved by Kirchhoff's current law.

One unknown voltage: the sensor feeds it through its output resistance and the wire, the control unit pulls it to a potential through a
resistor, a short ties it to ground or to the reference. ``v = Σ G·V / Σ G``.
"""

from leitfaden_core.compiled import compiled

CIRCUIT_SOUND = 0
CIRCUIT_OPEN = 1
CIRCUIT_GROUNDED = 2
CIRCUIT_SHORT_5V = 3

#: Resistance of a solid short.
SHORT_OHMS = 0.05
#: Conductance that remains across an open wire: damp plug, insulation.
OPEN_SIEMENS = 1e-9


@compiled
def pin_voltage(source: float, source_ohms: float, pull_to: float, pull_ohms: float, state: float, series_ohms: float) -> float:
    """Voltage at the control unit's pin.

    Parameters
    ----------
    source, source_ohms : float
        Sensor as a voltage [V] behind its output resistance [ohm].
    pull_to, pull_ohms : float
        What the control unit's resistor pulls to [V], and that resistor [ohm].
    state : float
        CIRCUIT_SOUND, _OPEN, _GROUNDED or _SHORT_5V.
    series_ohms : float
        Additional resistance in the signal wire. [ohm]

    Returns
    -------
    volts : float
        [V]
    """
    sensor = OPEN_SIEMENS if state == CIRCUIT_OPEN else 1.0 / (source_ohms + series_ohms + 1e-3)
    pull = 1.0 / pull_ohms
    amps, siemens = source * sensor + pull_to * pull, sensor + pull
    if state == CIRCUIT_GROUNDED:
        siemens += 1.0 / SHORT_OHMS
    elif state == CIRCUIT_SHORT_5V:
        siemens += 1.0 / SHORT_OHMS
        amps += 5.0 / SHORT_OHMS
    return amps / siemens
