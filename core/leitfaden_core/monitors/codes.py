"""Trouble codes by their generic meaning (SAE J2012 / ISO 15031-6)."""

from dataclasses import dataclass

from leitfaden_core.errors import UnknownName
from leitfaden_core.rigs import Rig


@dataclass(frozen=True)
class Code:
    """A code and what it says: a relationship or a circuit, never a part."""

    id: str
    meaning: str


CODES: dict[str, Code] = {
    entry.id: entry
    for entry in (
        Code("P0031", "HO2S heater control circuit low, bank 1 sensor 1"),
        Code("P0032", "HO2S heater control circuit high, bank 1 sensor 1"),
        Code("P0037", "HO2S heater control circuit low, bank 1 sensor 2"),
        Code("P0038", "HO2S heater control circuit high, bank 1 sensor 2"),
        Code("P0087", "fuel rail pressure too low"),
        Code("P0088", "fuel rail pressure too high"),
        Code("P0068", "manifold pressure and airflow do not fit throttle and speed"),
        Code("P0101", "mass airflow circuit range/performance"),
        Code("P0102", "mass airflow circuit low"),
        Code("P0103", "mass airflow circuit high"),
        Code("P0106", "manifold absolute pressure circuit range/performance"),
        Code("P0107", "manifold absolute pressure circuit low"),
        Code("P0108", "manifold absolute pressure circuit high"),
        Code("P0112", "intake air temperature circuit low"),
        Code("P0113", "intake air temperature circuit high"),
        Code("P0116", "engine coolant temperature circuit range/performance"),
        Code("P0117", "engine coolant temperature circuit low"),
        Code("P0118", "engine coolant temperature circuit high"),
        Code("P0122", "throttle position sensor circuit low"),
        Code("P0123", "throttle position sensor circuit high"),
        Code("P0128", "coolant temperature below thermostat regulating temperature"),
        Code("P0131", "O2 sensor circuit low voltage, bank 1 sensor 1"),
        Code("P0132", "O2 sensor circuit high voltage, bank 1 sensor 1"),
        Code("P0133", "O2 sensor circuit slow response, bank 1 sensor 1"),
        Code("P0134", "O2 sensor circuit no activity detected, bank 1 sensor 1"),
        Code("P0135", "O2 sensor heater circuit, bank 1 sensor 1"),
        Code("P0137", "O2 sensor circuit low voltage, bank 1 sensor 2"),
        Code("P0138", "O2 sensor circuit high voltage, bank 1 sensor 2"),
        Code("P0140", "O2 sensor circuit no activity detected, bank 1 sensor 2"),
        Code("P0141", "O2 sensor heater circuit, bank 1 sensor 2"),
        Code("P0151", "O2 sensor circuit low voltage, bank 2 sensor 1"),
        Code("P0152", "O2 sensor circuit high voltage, bank 2 sensor 1"),
        Code("P0154", "O2 sensor circuit no activity detected, bank 2 sensor 1"),
        Code("P0171", "system too lean, bank 1"),
        Code("P0172", "system too rich, bank 1"),
        Code("P0174", "system too lean, bank 2"),
        Code("P0175", "system too rich, bank 2"),
        Code("P0192", "fuel rail pressure sensor circuit low"),
        Code("P0193", "fuel rail pressure sensor circuit high"),
        Code("P0234", "turbocharger overboost condition"),
        Code("P0236", "turbocharger boost sensor circuit range/performance"),
        Code("P0237", "turbocharger boost sensor circuit low"),
        Code("P0238", "turbocharger boost sensor circuit high"),
        Code("P0217", "engine coolant over temperature condition"),
        Code("P0222", "throttle position sensor B circuit low"),
        Code("P0223", "throttle position sensor B circuit high"),
        Code("P0299", "turbocharger underboost condition"),
        Code("P0300", "random or multiple cylinder misfire detected"),
        *(Code(f"P030{number}", f"cylinder {number} misfire detected") for number in range(1, 9)),
        Code("P0401", "exhaust gas recirculation flow insufficient"),
        Code("P0402", "exhaust gas recirculation flow excessive"),
        Code("P0404", "exhaust gas recirculation control circuit range/performance"),
        Code("P0405", "exhaust gas recirculation position sensor circuit low"),
        Code("P0406", "exhaust gas recirculation position sensor circuit high"),
        Code("P0420", "catalyst system efficiency below threshold, bank 1"),
        Code("P0443", "evaporative emission system purge control valve circuit"),
        Code("P0506", "idle control system speed lower than expected"),
        Code("P0507", "idle control system speed higher than expected"),
        Code("P0545", "exhaust gas temperature sensor circuit low, sensor 1"),
        Code("P0546", "exhaust gas temperature sensor circuit high, sensor 1"),
        Code("P0562", "system voltage low"),
        Code("P0642", "sensor reference voltage low"),
        Code("P0643", "sensor reference voltage high"),
        Code("P2032", "exhaust gas temperature sensor circuit low, sensor 2"),
        Code("P2033", "exhaust gas temperature sensor circuit high, sensor 2"),
        Code("P2080", "exhaust gas temperature sensor circuit range/performance, sensor 1"),
        Code("P2084", "exhaust gas temperature sensor circuit range/performance, sensor 2"),
        Code("P2122", "accelerator pedal position sensor D circuit low"),
        Code("P2123", "accelerator pedal position sensor D circuit high"),
        Code("P2127", "accelerator pedal position sensor E circuit low"),
        Code("P2128", "accelerator pedal position sensor E circuit high"),
        Code("P2138", "accelerator pedal position sensors D/E voltage correlation"),
        Code("P2135", "throttle position sensors A/B voltage correlation"),
        Code("P2227", "barometric pressure circuit range/performance"),
        Code("P2228", "barometric pressure circuit low"),
        Code("P2229", "barometric pressure circuit high"),
        Code("P2237", "O2 sensor positive current control circuit open, bank 1 sensor 1"),
        Code("P2238", "O2 sensor positive current control circuit low, bank 1 sensor 1"),
        Code("P2239", "O2 sensor positive current control circuit high, bank 1 sensor 1"),
        Code("P2453", "particulate filter differential pressure sensor range/performance"),
        Code("P2454", "particulate filter differential pressure sensor circuit low"),
        Code("P2455", "particulate filter differential pressure sensor circuit high"),
        Code("P2463", "particulate filter restriction"),
    )
}


def code(name: str, rig: Rig | None = None) -> Code:
    """A code by its number, or UnknownName with the known ones. A rig's control unit may mean its own by a number."""
    if name not in CODES:
        raise UnknownName("trouble code", name, CODES)
    own = rig.code_meanings.get(name) if rig is not None else None
    return CODES[name] if own is None else Code(name, own)


def flash_number(code_id: str) -> int:
    """The two digits with which a control unit from before the standard gives a code, from 11: its maker's own."""
    return 11 + list(CODES).index(code_id)
