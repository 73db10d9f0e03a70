"""Pressure: altitude and weather, three rulers, the line of a sensor, the pump table."""

from dataclasses import dataclass

from leitfaden_core.quantities import convert
from leitfaden_core.words import say
from leitfaden_core.workings.working import Input, Step, Values, Working, work, workings

_ALTITUDE = Input("h", "altitude of this place", "altitude", -400.0, 5000.0)


def _weather_words(values: Values) -> str:
    return say(
        "With the weather service's figure taken as it is, volumetric efficiency would come out {value:.1f} % too low.",
        value=100 * (1 - values["p"] / values.get("p0", 101.325)),
    )


workings.register(
    Working(
        "pressure_from_altitude",
        "Barometric pressure from altitude",
        "The standard atmosphere: about 1.2 kPa less for each 100 m.",
        (_ALTITUDE,),
        (
            Step("base", "base", "1 - 0.0000225577 * h", "ratio", 6),
            Step(
                "p",
                "pressure",
                "101.325 * base ** 5.25588",
                "pressure_abs",
                4,
                (("101.325 * base", "The exponent is missing."),),
            ),
        ),
        reading=_weather_words,
        source="ISO 2533 standard atmosphere",
    )
)
workings.register(
    Working(
        "pressure_from_weather",
        "Barometric pressure from a weather report",
        "Weather services reduce their figure to sea level; a sensor feels what is here.",
        (Input("p0", "reported pressure, reduced to sea level", "pressure_abs", 90.0, 110.0), _ALTITUDE),
        (
            Step("base", "base", "1 - 0.0000225577 * h", "ratio", 6),
            Step(
                "p",
                "pressure of this place",
                "p0 * base ** 5.25588",
                "pressure_abs",
                4,
                (
                    ("p0", "The figure reduced to sea level was taken as it is."),
                    ("p0 * base", "The exponent is missing."),
                ),
            ),
        ),
        reading=_weather_words,
        source="ISO 2533 standard atmosphere",
    )
)
workings.register(
    Working(
        "three_rulers",
        "Absolute, vacuum and gauge pressure",
        "One state on three rulers, tied together by the barometer.",
        (
            Input("p_abs", "absolute pressure", "pressure_abs", 0.0, 400.0, "map"),
            Input("p", "barometric pressure", "pressure_abs", 50.0, 110.0, "baro"),
        ),
        (
            Step(
                "vacuum",
                "vacuum below the surroundings",
                "p - p_abs",
                "vacuum",
                4,
                (("p_abs - p", "That is gauge pressure: its sign is the other way round."),),
            ),
            Step(
                "gauge",
                "gauge pressure above the surroundings",
                "p_abs - p",
                "pressure_gauge",
                4,
                (("p - p_abs", "That is vacuum: its sign is the other way round."),),
            ),
            Step(
                "inHg",
                "vacuum in inches of mercury",
                "vacuum / 3.38639",
                "ratio",
                3,
                (("vacuum * 3.38639", "Multiplied instead of divided."),),
            ),
        ),
    )
)
workings.register(
    Working(
        "sensor_line",
        "Line of a pressure sensor from two points",
        "Two points of the table make the line: V = a + b·p.",
        (
            Input("p1", "pressure at the first point", "pressure_abs", 0.0, 400.0),
            Input("v1", "voltage there", "voltage", 0.0, 5.0),
            Input("p2", "pressure at the second point", "pressure_abs", 0.0, 400.0),
            Input("v2", "voltage there", "voltage", 0.0, 5.0),
            Input("p", "pressure asked for", "pressure_abs", 0.0, 400.0),
        ),
        (
            Step(
                "b",
                "volts per kilopascal",
                "(v2 - v1) / (p2 - p1)",
                "ratio",
                4,
                (("(p2 - p1) / (v2 - v1)", "Upside down."),),
            ),
            Step(
                "a",
                "volts at vacuum",
                "v1 - b * p1",
                "voltage",
                4,
                (("v1", "The line does not begin at the first point."),),
            ),
            Step(
                "v",
                "voltage at the pressure asked for",
                "a + b * p",
                "voltage",
                4,
                (("b * p", "The volts at vacuum are missing."),),
            ),
        ),
    )
)
workings.register(
    Working(
        "pump_point",
        "One point of the hand pump's table",
        "The pump's gauge shows vacuum, the sensor feels absolute pressure.",
        (
            Input("vac", "vacuum on the pump's gauge, in inHg", "ratio", 0.0, 30.0),
            Input("p", "barometric pressure", "pressure_abs", 50.0, 110.0, "baro"),
            Input("a", "volts at vacuum, from the sensor's line", "voltage", -1.0, 2.0, default=-0.13),
            Input("b", "volts per kilopascal", "ratio", 0.001, 0.1, default=0.046667),
        ),
        (
            Step(
                "vac_kPa",
                "vacuum in kilopascal",
                "3.38639 * vac",
                "vacuum",
                4,
                (("vac / 3.38639", "Divided instead of multiplied."),),
            ),
            Step(
                "p_abs",
                "absolute pressure at the sensor",
                "p - vac_kPa",
                "pressure_abs",
                4,
                (
                    ("vac_kPa", "Vacuum was taken for absolute pressure."),
                    ("p + vac_kPa", "A vacuum pump lowers the pressure."),
                ),
            ),
            Step("v", "voltage to expect", "a + b * p_abs", "voltage", 3),
        ),
    )
)


def station_pressure(altitude: float) -> float:
    """Barometric pressure of the standard atmosphere at an altitude in metres. [kPa]

    >>> round(station_pressure(300.0), 1)
    97.8
    """
    return work(workings.get("pressure_from_altitude"), {"h": altitude}).result.value


@dataclass(frozen=True)
class Resolution:
    """What a display step of a unit is worth in another: whole inches of mercury hide more than whole kilopascal."""

    unit: str
    decimals: int
    kilopascal: float


def resolution(unit: str, decimals: int) -> Resolution:
    """The step of a display in kilopascal.

    >>> round(resolution("inHg", 0).kilopascal, 2), round(resolution("inHg", 1).kilopascal, 2)
    (3.39, 0.34)
    """
    return Resolution(unit, decimals, convert(10.0**-decimals, "pressure_diff", unit, "kPa"))
