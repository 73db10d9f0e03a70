"""Composition of dry exhaust gas from the mixture, as a five-gas analyser sees it.

Complete burning when lean; when rich, CO and H2 share the missing oxygen by the water-gas equilibrium with K = 3.5
(Spindt 1965, SAE 650507; Heywood 1988, ch. 4.9). Lambda is worked back by Brettschneider's formula (Brettschneider
1979).
"""

import math
from dataclasses import dataclass

#: Hydrogen to carbon of petrol, water-gas constant, nitrogen per oxygen in air.
HC_RATIO, WATER_GAS, NITROGEN = 1.85, 3.5, 3.773
#: Unburnt hydrocarbons of a sound engine, as a share of the fuel's carbon; CO that no mixture avoids, and how fast it
#: goes away from lambda 1.
SOUND_HC, UNAVOIDED_CO, FADES_OVER = 0.0047, 0.03, 0.06


@dataclass(frozen=True)
class DryGas:
    """Volume shares in percent, hydrocarbons in ppm hexane, and the lambda that an analyser works out."""

    co: float
    co2: float
    o2: float
    hc_ppm: float
    lam: float

    def diluted(self, air: float) -> "DryGas":
        """The same gas with this share of plain air in it. [-]"""
        share = min(max(air, 0.0), 0.99)
        co, co2, hc = (value * (1.0 - share) for value in (self.co, self.co2, self.hc_ppm))
        o2 = self.o2 * (1.0 - share) + 20.9 * share
        return DryGas(co, co2, o2, hc, brettschneider(co, co2, o2, hc))


def dry_gas(phi: float, misfire: float = 0.0, converted: float = 0.0) -> DryGas:
    """Dry exhaust of a mixture.

    Parameters
    ----------
    phi : float
        Fuel-air equivalence ratio, 0 to 1.6. [-]
    misfire : float
        Share of power strokes that leave fuel and air unburnt. [-]
    converted : float
        Share of what can still burn that a catalyst converts, with the oxygen that is there. [-]

    >>> lean = dry_gas(1.0 / 1.05)
    >>> round(lean.o2, 1), round(lean.co, 1)
    (1.3, 0.2)
    >>> rich = dry_gas(1.0 / 0.9)
    >>> round(rich.co, 1), round(rich.o2, 1)
    (3.8, 0.1)
    """
    if phi <= 0.01:
        return DryGas(0.0, 0.0, 20.9, 0.0, 99.0)
    need = 1.0 + HC_RATIO / 4.0  # mol O2 per C atom
    oxygen = need / phi
    burnt = max(1.0 - misfire, 0.0) * (1.0 - SOUND_HC)
    carbon, hydrogen = burnt, burnt * HC_RATIO / 2.0  # mol C and H2 that burn
    air_burnt = oxygen * burnt
    if phi <= 1.0:
        co, h2, spare = 0.0, 0.0, air_burnt - carbon * need
    else:
        co, h2 = _water_gas(carbon, hydrogen, air_burnt)
        spare = 0.0
    # Cylinders and cycles differ: near lambda 1 some CO and some oxygen leave side by side.
    more = UNAVOIDED_CO * carbon * math.exp(-abs(1.0 / phi - 1.0) / FADES_OVER)
    co += more
    spare += more / 2.0
    co2 = carbon - co
    spare += oxygen * (1.0 - burnt)
    unburnt = 1.0 - burnt  # mol C
    # A catalyst burns CO, H2 and hydrocarbons as far as there is oxygen.
    wanted = converted * (co / 2.0 + h2 / 2.0 + unburnt * need)
    share = converted * (min(spare / wanted, 1.0) if wanted > 0.0 else 0.0)
    spare -= wanted * (share / converted if converted > 0.0 else 0.0)
    co2 += share * (co + unburnt)
    co, h2, unburnt = co * (1.0 - share), h2 * (1.0 - share), unburnt * (1.0 - share)
    total = co + co2 + h2 + max(spare, 0.0) + unburnt / 6.0 + oxygen * NITROGEN
    percent = 100.0 / total
    gas = (co * percent, co2 * percent, max(spare, 0.0) * percent, unburnt / 6.0 * percent * 1e4)
    return DryGas(*gas, brettschneider(*gas))


def _water_gas(carbon: float, hydrogen: float, oxygen: float) -> tuple[float, float]:
    """CO and H2 of a rich mixture from its carbon, hydrogen (as H2) and oxygen (as O2). [mol]

    CO + CO2 = C, H2 + H2O = H, CO/2 + CO2 + H2O/2 = O2 and CO·H2O = K·CO2·H2 make one quadratic equation for CO.
    """
    # H2O = 2·(O2 − C) + CO; H2 = H − H2O
    spare = 2.0 * (oxygen - carbon)
    a = 1.0 - WATER_GAS
    b = spare + WATER_GAS * (carbon + hydrogen - spare)
    c = -WATER_GAS * carbon * (hydrogen - spare)
    co = (-b + math.sqrt(max(b * b - 4.0 * a * c, 0.0))) / (2.0 * a)
    co = min(max(co, 0.0), carbon)
    water = min(max(spare + co, 0.0), hydrogen)
    return co, hydrogen - water


def brettschneider(co: float, co2: float, o2: float, hc_ppm: float) -> float:
    """Lambda from dry volume shares [%] and hydrocarbons [ppm hexane]; oxygen content of the fuel 0.02 per carbon left
    out. [-]

    >>> round(brettschneider(0.5, 14.7, 0.5, 100.0), 3)
    1.004
    """
    hc = 6e-4 * hc_ppm
    water = HC_RATIO / 4.0 * WATER_GAS / (WATER_GAS + co / max(co2, 1e-6))
    return (co2 + co / 2.0 + o2 + water * (co2 + co)) / ((1.0 + HC_RATIO / 4.0) * (co2 + co + hc))
