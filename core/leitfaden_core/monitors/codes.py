"""Trouble codes by their generic meaning (SAE J2012 / ISO 15031-6)."""

from dataclasses import dataclass

from leitfaden_core.errors import UnknownName


@dataclass(frozen=True)
class Code:
    """A code and what it says: a relationship or a circuit, never a part."""

    id: str
    meaning: str


CODES: dict[str, Code] = {
    entry.id: entry
    for entry in (
        Code("P0030", "HO2S heater control circuit, bank 1 sensor 1"),
        Code("P0036", "HO2S heater control circuit, bank 1 sensor 2"),
        Code("P0101", "mass airflow circuit range/performance"),
        Code("P0102", "mass airflow circuit low"),
        Code("P0103", "mass airflow circuit high"),
        Code("P0107", "manifold absolute pressure circuit low"),
        Code("P0108", "manifold absolute pressure circuit high"),
        Code("P0112", "intake air temperature circuit low"),
        Code("P0113", "intake air temperature circuit high"),
        Code("P0117", "engine coolant temperature circuit low"),
        Code("P0118", "engine coolant temperature circuit high"),
        Code("P0128", "coolant temperature below thermostat regulating temperature"),
        Code("P0131", "O2 sensor circuit low voltage, bank 1 sensor 1"),
        Code("P0132", "O2 sensor circuit high voltage, bank 1 sensor 1"),
        Code("P0133", "O2 sensor circuit slow response, bank 1 sensor 1"),
        Code("P0134", "O2 sensor circuit no activity detected, bank 1 sensor 1"),
        Code("P0171", "system too lean, bank 1"),
        Code("P0172", "system too rich, bank 1"),
        Code("P0300", "random or multiple cylinder misfire detected"),
        Code("P0420", "catalyst system efficiency below threshold, bank 1"),
        Code("P0506", "idle control system speed lower than expected"),
        Code("P0507", "idle control system speed higher than expected"),
    )
}


def code(name: str) -> Code:
    """A code by its number, or UnknownName with the known ones."""
    try:
        return CODES[name]
    except KeyError:
        raise UnknownName("trouble code", name, CODES) from None
