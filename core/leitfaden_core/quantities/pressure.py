"""Absolute, gauge and vacuum pressure: three rulers for one state, tied together only by the barometer.

They are separate quantities and never convert silently; each function here asks for the barometric pressure.
"""


def gauge_from_absolute(pressure_abs: float, baro: float) -> float:
    """Gauge pressure, positive above the surrounding air. All in one unit.

    >>> round(gauge_from_absolute(150.0, 100.0), 1)
    50.0
    """
    return pressure_abs - baro


def absolute_from_gauge(pressure_gauge: float, baro: float) -> float:
    """Absolute pressure from gauge pressure and barometer. All in one unit.

    >>> round(absolute_from_gauge(50.0, 100.0), 1)
    150.0
    """
    return pressure_gauge + baro


def vacuum_from_absolute(pressure_abs: float, baro: float) -> float:
    """Vacuum, positive below the surrounding air: what a vacuum gauge shows. All in one unit.

    >>> round(vacuum_from_absolute(32.0, 100.0), 1)
    68.0
    """
    return baro - pressure_abs


def absolute_from_vacuum(vacuum: float, baro: float) -> float:
    """Absolute pressure from a vacuum gauge's reading and the barometer. All in one unit.

    >>> round(absolute_from_vacuum(68.0, 100.0), 1)
    32.0
    """
    return baro - vacuum
