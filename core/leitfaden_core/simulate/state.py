"""The state of a vehicle: one record for each part, as its file declares it."""

import numpy as np

from leitfaden_core.simulate.layout import LTFT_CELLS, TRANSPORT_SLOTS
from leitfaden_core.simulate.parts.air import AIR
from leitfaden_core.simulate.parts.crank import CRANK
from leitfaden_core.simulate.parts.driver import HAND
from leitfaden_core.simulate.parts.exhaust import GAS
from leitfaden_core.simulate.parts.fuel import FUEL
from leitfaden_core.simulate.parts.heat import WARM
from leitfaden_core.simulate.parts.mixture import MIX
from leitfaden_core.simulate.parts.sensing import CELLS, KNOWN, RAW
from leitfaden_core.simulate.parts.turbo import TURBO
from leitfaden_core.simulate.parts.unit import UNIT
from leitfaden_core.simulate.parts.wiring import PINS, WIRES

_PARTS = {
    "crank": CRANK,
    "air": AIR,
    "fuel": FUEL,
    "gas": GAS,
    "turbo": TURBO,
    "warm": WARM,
    "cells": CELLS,
    "raw": RAW,
    "wires": WIRES,
    "pins": PINS,
    "known": KNOWN,
    "unit": UNIT,
    "mix": MIX,
    "hand": HAND,
}
#: Besides the numbers: the long-term trims per cell, and the mixture that is on its way to the sensor, both for two
#: banks; the work that the shaft gains over each cylinder's segment.
_ARRAYS = {
    "mix": [("ltft", "f8", (2 * LTFT_CELLS,))],
    "gas": [("phis", "f8", (2 * TRANSPORT_SLOTS,))],
    "crank": [("gains", "f8", (12,))],
}
STATE = np.dtype(
    [(part, [*((name, "f8") for name in names), *_ARRAYS.get(part, [])]) for part, names in _PARTS.items()]
)
#: Which part has a number.
PART_OF = {name: part for part, names in _PARTS.items() for name in names}
