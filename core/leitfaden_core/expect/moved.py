"""A value sheet in other air and with other petrol, before its own population has been computed: an estimate.

Two runs of the rig itself, one at the school and one there, tell by how much each value moves; the band moves with it
and keeps its width. What the movement does to the width is left out, so the estimate holds where engines move alike:
from -20 to 45 °C, up to 3,000 m, up to 85 % ethanol (test_moved compares with populations there).
"""

from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import lru_cache, partial

from leitfaden_core.constants import ZERO_CELSIUS
from leitfaden_core.engine.fuel import blended
from leitfaden_core.expect.sheet import MEMBERS, SCHOOL_CELSIUS, SCHOOL_KPA, Band, Member, ValueSheet, compute_sheet
from leitfaden_core.rigs import Rig
from leitfaden_core.scripts import reading_scripts
from leitfaden_core.simulate import measured


@dataclass(frozen=True)
class Air:
    """Where an engine stands, and what petrol is in its tank: temperature [°C], pressure [kPa absolute], share of
    ethanol by volume [-].
    """

    celsius: float = SCHOOL_CELSIUS
    kpa: float = SCHOOL_KPA
    ethanol: float = 0.0

    def individual(self, rig: Rig) -> dict[str, float]:
        """As numbers of one engine."""
        ratio, energy, density = blended(self.ethanol) if "petrol" in rig.features else (1.0, 1.0, 1.0)
        return {
            "ambient_temp": self.celsius + ZERO_CELSIUS,
            "ambient_pressure": self.kpa * 1000.0,
            "fuel_blend": ratio,
            "tank_energy": energy,
            "tank_density": density,
        }


SCHOOL = Air()


def moved_bands(sheet: ValueSheet, rig: Rig, air: Air) -> dict[tuple[str, str, str], Band]:
    """The bands of a sheet in other air. A condition whose drive has an air of its own stays as it is."""
    if air == SCHOOL:
        return sheet.bands
    here, there = _statistics(rig, SCHOOL), _statistics(rig, air)
    found = {}
    for key, band in sheet.bands.items():
        condition, name, stat = key
        move = there.get(condition, {}).get(name, {}).get(stat, 0.0) - here.get(condition, {}).get(name, {}).get(
            stat, 0.0
        )
        found[key] = band if move != move else _by(band, move)
    return found


def _by(band: Band, move: float) -> Band:
    numbers = {name: getattr(band, name) + move for name in ("low", "high", "median", "mean", "least", "most")}
    return replace(band, **numbers)


@lru_cache(maxsize=16)
def _statistics(rig: Rig, air: Air) -> dict[str, dict[str, dict[str, float]]]:
    """What the rig itself shows in that air, in every condition of the drives that have no air of their own."""
    found: dict[str, dict[str, dict[str, float]]] = {}
    for script in reading_scripts():
        if script.ambient is None:
            found |= measured(rig, script, [], 0, air.individual(rig))
    return found


def air_sheet(
    rig: Rig,
    air: Air,
    members: int = MEMBERS,
    workers: int = 2,
    progress: Callable[[int, int], None] | None = None,
) -> ValueSheet:
    """The sheet of a population that stands in some air with some petrol: what the estimate of :func:`moved_bands`
    stands in for. Conditions whose drive has an air of its own are not in it.
    """
    return compute_sheet(rig, members, workers=workers, progress=progress, member=partial(_member_in, air))


def _member_in(air: Air, member: Member) -> dict[str, dict[str, dict[str, float]]]:
    rig, seed, own = member[0], member[1], dict(member[2])
    school, there = SCHOOL.individual(rig), air.individual(rig)
    for name in ("ambient_temp", "ambient_pressure"):
        own[name] += there[name] - school[name]
    for name in ("fuel_blend", "tank_energy", "tank_density"):
        own[name] = own.get(name, 1.0) * there[name]
    found: dict[str, dict[str, dict[str, float]]] = {}
    for script in reading_scripts():
        if script.ambient is None:
            found |= measured(rig, script, [], seed, own)
    return found
