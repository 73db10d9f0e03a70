"""Units as data: per quantity the unit in which the model records, the units in which it may be shown, and the step
from one to the other.

A linear step ``shown = factor * kept + offset`` covers all of them. Factors: NIST SP 811 (2008), appendix B.
"""

import re
from dataclasses import dataclass
from enum import StrEnum
from functools import cache

from leitfaden_core.errors import LeitfadenError, MissingPart, UnknownName
from leitfaden_core.words import say


class UnitSystem(StrEnum):
    """The two sets of display units that a person can choose between."""

    METRIC = "metric"
    IMPERIAL = "imperial"


@dataclass(frozen=True)
class Unit:
    """A display unit of a quantity:

    ``shown = factor * kept + offset``, with so many digits after the point more than the kept unit has; a signed one
    says plus as well as minus.
    """

    symbol: str
    factor: float = 1.0
    offset: float = 0.0
    extra_digits: int = 0
    signed: bool = False
    also: tuple[str, ...] = ()


@dataclass(frozen=True)
class Quantity:
    """What a number means. The first unit is the one that the model records in; a difference drops the offset. Of a
    state ``means`` has what each number that a display shows stands for.
    """

    id: str
    label: str
    units: tuple[Unit, ...]
    metric: str
    imperial: str
    reference: str = ""
    means: tuple[tuple[str, str], ...] = ()

    def unit(self, symbol: str) -> Unit:
        """The unit with that symbol, or UnknownName with the known ones."""
        wanted = symbol.strip().lower()
        for unit in self.units:
            if wanted in {unit.symbol.lower(), *(name.lower() for name in unit.also)}:
                return unit
        raise UnknownName(
            "unit", symbol, (unit.symbol for unit in self.units), where=say("for {label}", label=self.label)
        )

    @property
    def kept(self) -> str:
        """Symbol of the unit in which the model records."""
        return self.units[0].symbol


#: Fuel system status as diagnostic tools show it (SAE J1979, parameter 03), in words.
_FUEL_SYSTEM = (
    ("1", "open loop, not ready"),
    ("2", "closed loop"),
    ("4", "open loop, driving"),
    ("8", "open loop, fault"),
)
_KPA = Unit("kPa")
_PRESSURE = (
    _KPA,
    Unit("inHg", 0.295300),
    Unit("psi", 0.1450377, extra_digits=1),
    Unit("mbar", 10.0, extra_digits=-1, also=("hPa",)),
    Unit("bar", 0.01, extra_digits=2),
)
_CELSIUS = Unit("°C", also=("degC", "C"))

QUANTITIES: dict[str, Quantity] = {
    quantity.id: quantity
    for quantity in (
        Quantity("pressure_abs", "absolute pressure", _PRESSURE, "kPa", "inHg", reference="absolute"),
        Quantity("pressure_gauge", "gauge pressure", _PRESSURE, "kPa", "psi", reference="gauge"),
        Quantity("vacuum", "vacuum", _PRESSURE, "kPa", "inHg", reference="vacuum"),
        Quantity("pressure_diff", "differential pressure", _PRESSURE, "kPa", "psi", reference="differential"),
        Quantity(
            "pressure_rail",
            "fuel rail pressure",
            (
                Unit("MPa"),
                Unit("bar", 10.0, extra_digits=-1),
                Unit("psi", 145.0377, extra_digits=-2),
                Unit("kPa", 1000.0, extra_digits=-2),
            ),
            "MPa",
            "psi",
            reference="gauge",
        ),
        Quantity(
            "temperature",
            "temperature",
            (_CELSIUS, Unit("°F", 1.8, 32.0, also=("degF", "F")), Unit("K", 1.0, 273.15)),
            "°C",
            "°F",
        ),
        Quantity("temperature_difference", "temperature difference", (Unit("K"), Unit("°F", 1.8)), "K", "°F"),
        Quantity(
            "mass_flow",
            "mass flow",
            (
                Unit("g/s"),
                Unit("kg/h", 3.6, extra_digits=-1),
                Unit("lb/min", 0.132277, extra_digits=1),
                Unit("mg/s", 1000.0, extra_digits=-3),
            ),
            "g/s",
            "lb/min",
        ),
        Quantity("trim", "fuel trim", (Unit("%", signed=True), Unit("count", 1.28, 128.0, extra_digits=-1)), "%", "%"),
        Quantity(
            "trim_count",
            "fuel trim",
            (Unit("%"), Unit("count", 1.28, 128.0, extra_digits=-1, also=("counts",))),
            "count",
            "count",
        ),
        Quantity("percent", "share", (Unit("%"),), "%", "%"),
        Quantity("speed", "engine speed", (Unit("1/min", also=("rpm",), extra_digits=-2),), "1/min", "1/min"),
        Quantity("vehicle_speed", "vehicle speed", (Unit("km/h"), Unit("mph", 0.621371)), "km/h", "mph"),
        Quantity("voltage", "voltage", (Unit("V"), Unit("mV", 1000.0, extra_digits=-3)), "V", "V"),
        Quantity("current_ma", "current", (Unit("mA"), Unit("A", 0.001, extra_digits=3)), "mA", "mA"),
        Quantity("fuel_mass", "fuel per stroke", (Unit("mg"),), "mg", "mg"),
        Quantity("lambda", "lambda", (Unit("-", also=("",)),), "-", "-"),
        Quantity("time_ms", "duration", (Unit("ms"),), "ms", "ms"),
        Quantity("angle", "crank angle", (Unit("°", also=("deg",)),), "°", "°"),
        Quantity("torque", "torque", (Unit("Nm"), Unit("lbf ft", 0.737562)), "Nm", "lbf ft"),
        Quantity(
            "resistance",
            "resistance",
            (Unit("Ω", also=("ohm", "ohms")), Unit("kΩ", 0.001, also=("kohm",), extra_digits=3)),
            "Ω",
            "Ω",
        ),
        Quantity("current", "current", (Unit("A"), Unit("mA", 1000.0, extra_digits=-3)), "A", "A"),
        Quantity(
            "displacement",
            "displacement",
            (Unit("L", also=("l",)), Unit("cm³", 1000.0, extra_digits=-3, also=("ccm", "cm3", "cm^3"))),
            "L",
            "L",
        ),
        Quantity("length", "length", (Unit("mm"), Unit("in", 1.0 / 25.4, extra_digits=2)), "mm", "in"),
        Quantity("area", "area", (Unit("mm²", also=("mm2", "mm^2")),), "mm²", "mm²"),
        Quantity("altitude", "altitude", (Unit("m"), Unit("ft", 1.0 / 0.3048)), "m", "ft"),
        Quantity("density", "density", (Unit("kg/m³", also=("kg/m3", "kg/m^3", "g/l", "g/L")),), "kg/m³", "kg/m³"),
        Quantity("time_s", "time", (Unit("s"), Unit("ms", 1000.0, extra_digits=-3)), "s", "s"),
        Quantity(
            "flow_per_litre",
            "airflow per litre",
            (Unit("g/s per L", also=("g/s/l", "g/(s L)")),),
            "g/s per L",
            "g/s per L",
        ),
        Quantity("injector_flow", "injector flow", (Unit("mg/ms", also=("g/s",)),), "mg/ms", "mg/ms"),
        Quantity("kelvin", "absolute temperature", (Unit("K"),), "K", "K"),
        Quantity(
            "pascal",
            "pressure in base units",
            (Unit("Pa"), Unit("kPa", 0.001, extra_digits=3), Unit("hPa", 0.01)),
            "Pa",
            "Pa",
        ),
        Quantity("slope", "rate of change", (Unit("V/s"), Unit("mV/ms")), "V/s", "V/s"),
        Quantity("status", "state", (Unit("-", also=("",)),), "-", "-", means=_FUEL_SYSTEM),
        Quantity("count", "count", (Unit("-", also=("", "count", "counts")),), "-", "-"),
        Quantity("ratio", "ratio", (Unit("-", also=("",)),), "-", "-"),
        Quantity("frequency", "frequency", (Unit("Hz"),), "Hz", "Hz"),
    )
}


def convert(value: float, quantity: str, unit_from: str, unit_to: str) -> float:
    """A value of a quantity in another unit of the same quantity.

    Absolute, gauge and vacuum are different quantities and cannot be reached from one another here: that step needs the
    barometer.

    >>> round(convert(100.0, "pressure_abs", "kPa", "inHg"), 2)
    29.53
    >>> round(convert(212.0, "temperature", "°F", "°C"), 1)
    100.0
    """
    source, target = QUANTITIES[quantity].unit(unit_from), QUANTITIES[quantity].unit(unit_to)
    return (value - source.offset) / source.factor * target.factor + target.offset


@cache
def display_unit(quantity: str, system: UnitSystem) -> Unit:
    """The unit of a quantity in the metric or the imperial workshop set."""
    kind = QUANTITIES[quantity]
    return kind.unit(kind.metric if system is UnitSystem.METRIC else kind.imperial)


#: A number as people write it: with a plus, a hyphen or a true minus, thousands parted by a space, a point or a comma.
_READING = re.compile(r"^\s*([+\-\u2212]?(?:\d{1,3}(?:[ \u00a0\u2009\u202f]\d{3})+(?!\d)|\d+)(?:[.,]\d+)?)\s*(.*?)\s*$")


def _number(written: str) -> float:
    return float(re.sub(r"[ \u00a0\u2009\u202f]", "", written).replace("\u2212", "-").replace(",", "."))


def half_of_last_digit(text: str, quantity: str) -> float:
    """Half of the last digit of a typed reading, in the unit that the model records: as exactly as it was told.

    >>> half_of_last_digit("1.24 kg/h", "mass_flow") == 0.005 / 3.6
    True
    >>> half_of_last_digit("12 hPa", "pressure_abs")
    0.05
    """
    kind, match = QUANTITIES[quantity], _READING.match(text)
    if match is None:
        return 0.0
    decimals = len(re.split(r"[.,]", match.group(1))[1]) if re.search(r"[.,]", match.group(1)) else 0
    return 0.5 * 10.0**-decimals / abs(kind.unit(match.group(2) or "-").factor)


def parse_reading(text: str, quantity: str) -> float:
    r"""A typed reading such as ``1,9 g/s`` in the unit that the model records.

    Raises
    ------
    MissingPart
        When the unit is missing: a number without its unit is no reading.
    UnknownName
        When the unit does not belong to the quantity.
    LeitfadenError
        When the text does not start with a number.

    >>> round(parse_reading("6.84 kg/h", "mass_flow"), 2), parse_reading("\u221212 345 Pa", "pascal")
    (1.9, -12345.0)
    """
    kind = QUANTITIES[quantity]
    match = _READING.match(text)
    if match is None:
        raise LeitfadenError(
            say(
                "'{what}' is not a reading; write a number and its unit, such as 1.9 {kept}",
                what=text.strip()[:40],
                kept=kind.kept,
            )
        )
    number, symbol = _number(match.group(1)), match.group(2)
    if not symbol and kind.kept != "-":
        known = ", ".join(unit.symbol for unit in kind.units)
        raise MissingPart(
            say(
                "the unit is missing: {number:g} of what? Possible for {label}: {known}",
                number=number,
                label=kind.label,
                known=known,
            ),
            number=number,
        )
    return convert(number, quantity, symbol or "-", kind.kept)
