"""Which stored code silences which monitors: a value that is known to be wrong proves nothing about anything else.

One table for all engines. A code silences the monitors of other codes from the moment at which it is stored until it is
cleared or healed; a silenced monitor neither fails nor counts as answered.
"""

from leitfaden_core.rigs import Rig

#: Monitors of the mixture, and of what is judged by it.
_MIXTURE = ("P0171", "P0172")
_SECOND_BANK = ("P0174", "P0175")
_IDLE = ("P0506", "P0507")
_BOOST = ("P0299", "P0234")
_EGR = ("P0401", "P0402", "P0404")
_FILTER = ("P2453", "P2463")
_PRESSURES = ("P0106", "P0236", "P2227")
#: All that is judged by the driver's wish, or not judged while the engine limps.
_WISH = (*_IDLE, *_BOOST, "P0068", "P0101", "P0128", "P0087", "P0088")

#: Codes, and the codes whose monitors they silence.
_TABLE: tuple[tuple[tuple[str, ...], tuple[str, ...]], ...] = (
    (("P0102", "P0103"), (*_MIXTURE, *_SECOND_BANK, *_FILTER, "P0068", "P0101", "P0401", "P0402")),
    (("P0107", "P0108"), (*_MIXTURE, *_SECOND_BANK, *_PRESSURES, "P0068", "P0401", "P0402")),
    (("P0112", "P0113"), ("P0068", "P0101", "P0116")),
    (("P0117", "P0118"), (*_IDLE, "P0116", "P0217", "P0128", "P2080", "P2084")),
    (("P0116",), ("P0128", "P0217")),
    (("P0122", "P0123", "P0222", "P0223", "P2135"), _WISH),
    (("P2122", "P2123", "P2127", "P2128", "P2138"), _WISH),
    (("P0192", "P0193"), ("P0087", "P0088")),
    (("P0237", "P0238"), (*_BOOST, *_PRESSURES, "P0101")),
    (("P0236",), (*_BOOST, "P0101")),
    (("P0405", "P0406"), (*_EGR, "P0101")),
    (("P2228", "P2229"), _PRESSURES),
    (("P2454", "P2455"), _FILTER),
    (("P0545", "P0546"), ("P2080", "P2084")),
    (("P2032", "P2033"), ("P2080", "P2084", *_FILTER)),
    (
        ("P0642", "P0643"),
        (*_MIXTURE, *_SECOND_BANK, *_PRESSURES, *_WISH, *_EGR, *_FILTER, "P2135", "P2138"),
    ),
    (("P0031", "P0032", "P0132", "P0134", "P0135"), (*_MIXTURE, "P0133", "P0420")),
    (("P2237", "P2238", "P2239"), (*_MIXTURE, "P0133", "P0420")),
    (("P0133", "P0300", *(f"P030{number}" for number in range(1, 9))), ("P0420",)),
    (("P0152", "P0154"), (*_SECOND_BANK, "P0420")),
    (("P0037", "P0038", "P0137", "P0138", "P0140", "P0141"), ("P0420",)),
    (("P0562",), ("P0135", "P0141")),
)

_SILENCES: dict[str, frozenset[str]] = {}
for _causes, _silent in _TABLE:
    for _code in _causes:
        _SILENCES[_code] = _SILENCES.get(_code, frozenset()) | frozenset(_silent)


def silenced_by(code: str, rig: Rig) -> frozenset[str]:
    """Codes whose monitors a stored code silences on a rig.

    With one bank only, what is said of a second one is a maker's use and hangs on the same front sensor.
    """
    silent = _SILENCES.get(code, frozenset())
    return silent | frozenset(_SECOND_BANK) if "P0171" in silent and "two_banks" not in rig.features else silent
