"""What a drill is made of: kinds of faults, each at the size at which it begins, on the engines that can have it."""

from functools import lru_cache
from math import log
from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

from leitfaden_core.channels import Layer, channel
from leitfaden_core.diagnose.candidates import candidates
from leitfaden_core.errors import LeitfadenError, MissingPart
from leitfaden_core.expect import has_sheet, load_sheet
from leitfaden_core.faults import FaultSpec, describe_fault, effects_on, fault_kinds
from leitfaden_core.judge.verdict import no_meaning
from leitfaden_core.lessons import Lesson
from leitfaden_core.lessons.kinds import kind_called
from leitfaden_core.lessons.shapes import ReadingPlace
from leitfaden_core.rigs import Rig, load_rig, rig_ids
from leitfaden_core.scripts import load_script
from leitfaden_core.simulate import stored_statistics
from leitfaden_core.words import say

SCRIPT = "workshop_day"
#: Standard deviations from which on a reading tells an entry's fault at its full size.
TELLS = 4.0


class Entry(BaseModel):
    """A fault at the size at which a learner begins, and the engines on which it is asked."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    fault: FaultSpec
    rigs: Annotated[tuple[str, ...], Field(min_length=1, max_length=20)]

    @property
    def label(self) -> str:
        """The kind of fault, in words."""
        return fault_kinds.get(self.fault.kind).label

    def at(self, share: float) -> FaultSpec:
        """The fault at a share of its size."""
        kind, values = self.fault.checked()
        return self.fault.model_copy(update={"params": kind.sized(values, share)})

    def size_in_words(self, share: float) -> str:
        """The fault at a share of its size, in words."""
        return describe_fault(self.at(share))


def from_lesson(lesson: Lesson) -> list[Entry]:
    """The lesson's own faults and the causes that it offers, each kind once, on all engines that show it.

    Raises
    ------
    MissingPart
        Where no displayed value shows any of them.
    """
    causes = [cause for station in lesson.stations for cause in kind_called(station.kind).causes(station)]
    vehicles = [fault for station in lesson.stations for fault in station.vehicle.faults or []]
    kinds: dict[str, FaultSpec] = {}
    for fault in (*(fault for way in lesson.causes() for fault in way), *vehicles, *causes):
        kinds.setdefault(fault.kind, fault)
    return _usable(list(kinds.values()), lesson.rig)


def from_kinds(names: list[str]) -> list[Entry]:
    """Kinds of faults at their large size, on all engines that show them."""
    faults = []
    for name in names:
        kind = fault_kinds.get(name).id
        causes = (c for rig in rig_ids() for c in candidates(load_rig(rig)) if c.kind == kind and c.sizes)
        cause = next(causes, None)
        faults.append(max(cause.sizes, key=_distance) if cause else FaultSpec(kind=kind))
    return _usable(faults, "")


def _distance(fault: FaultSpec) -> float:
    """How far a size lies from no fault, in shares of what is allowed. [-]"""
    kind, values = fault.checked()
    far = 0.0
    for parameter in kind.parameters:
        value = values[parameter.id]
        if parameter.neutral is None or isinstance(value, str):
            continue
        allowed = parameter.range_for(values)
        if parameter.ratio:
            far += abs(log(value / parameter.neutral)) / log(allowed.high / allowed.low)
        else:
            far += abs(value - parameter.neutral) / (allowed.high - allowed.low)
    return far


def _usable(faults: list[FaultSpec], first: str) -> list[Entry]:
    """Entries for those faults that some engine shows; the engine ``first`` stands first where it is one."""
    entries = []
    for fault in faults:
        rigs = [name for name in sorted(rig_ids(), key=lambda name: name != first) if shows(load_rig(name), fault)]
        if rigs:
            entries.append(Entry(fault=fault, rigs=tuple(rigs)))
    if not entries:
        raise MissingPart(say("no displayed value shows any of these faults, so there is nothing to drill"))
    return entries


def shows(rig: Rig, fault: FaultSpec) -> bool:
    """Whether displayed values of an engine show a fault at that size."""
    try:
        effects_on(fault, rig)
    except LeitfadenError:
        return False
    return has_sheet(rig) and bool(telling(rig.id, fault.model_dump_json()))


@lru_cache(maxsize=512)
def telling(rig_id: str, fault: str) -> tuple[ReadingPlace, ...]:
    """The readings that tell a fault (as JSON) on an engine, one of each channel, the plainest first."""
    rig = load_rig(rig_id)
    bands = load_sheet(rig).bands
    found = stored_statistics(rig, load_script(SCRIPT), [[FaultSpec.model_validate_json(fault)]])[0]
    best: dict[str, tuple[float, ReadingPlace]] = {}
    for where, channels in found.items():
        for name, stats in channels.items():
            for stat in ("mean", "max", "min", "freq"):
                band, value = bands.get((where, name, stat)), stats.get(stat, float("nan"))
                if channel(name).layer != Layer.SCAN or band is None or value != value or no_meaning(rig, where, name):
                    continue
                if stat != "mean" and channel(name).family != "oxygen":
                    continue
                away = abs(value - band.mean) / max(band.deviation, 1e-12)
                if away >= TELLS and away > best.get(name, (0.0, None))[0]:
                    best[name] = away, ReadingPlace(condition=where, channel=name, stat=stat)
    ranked = sorted(best.values(), key=lambda entry: -entry[0])
    return tuple(place for _away, place in ranked)
