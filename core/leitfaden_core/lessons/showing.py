"""Where a station's fault shows, from which size on: what a warning can offer instead, and a dial of difficulty."""

from dataclasses import dataclass
from typing import Any

from leitfaden_core.channels import Layer, channel
from leitfaden_core.errors import LeitfadenError
from leitfaden_core.expect import band_of
from leitfaden_core.faults import FaultSpec, describe_fault, effects_on, fault_kinds
from leitfaden_core.judge import Departure, no_meaning, signature
from leitfaden_core.lessons.item import Item
from leitfaden_core.lessons.kind import Remedy
from leitfaden_core.lessons.shapes import ReadingPlace
from leitfaden_core.rigs import Rig
from leitfaden_core.scripts import condition
from leitfaden_core.simulate import Statistics, stored_statistics
from leitfaden_core.words import inside, say

#: Standard deviations of healthy engines from which on a reading tells a fault in one look.
TELLS = 3.0
#: Sizes of a dial, as shares of the size that is set.
SHARES = (0.25, 0.4, 0.65, 1.0, 1.5, 2.0, 3.0, 5.0, 8.0)


@dataclass(frozen=True)
class DialStep:
    """A size of a fault, as its parameters and in words: how far from healthy engines, in their standard deviations,
    the farthest reading of a station lies then, which reading that is, and how many tell it.
    """

    share: float
    params: dict[str, float | str]
    words: str
    separation: float
    place: ReadingPlace
    telling: int


def showing(item: Item[Any]) -> list[Departure]:
    """Displayed means that tell the faults of a station along its drive, each channel once, the farthest first."""
    found: dict[str, Departure] = {}
    for departure in signature(item.rig, list(item.setting.faults), (Layer.SCAN,), along=item.setting.script):
        if departure.stat == "mean" and abs(departure.deviations) >= TELLS:
            found.setdefault(departure.channel, departure)
    return list(found.values())


def dial(item: Item[Any], places: list[ReadingPlace]) -> list[DialStep]:
    """The first fault of a station in several sizes, the smallest first: what each shows at these places. Empty for a
    sound engine, and for a fault that has no size.
    """
    if not item.setting.faults or not places:
        return []
    fault, *others = item.setting.faults
    kind, values = fault.checked()
    sizes = {share: fault.model_copy(update={"params": kind.sized(values, share)}) for share in SHARES}
    by_params = {str(size.params): share for share, size in reversed(sizes.items())} | {str(values): 1.0}
    there = {share: size for share, size in sizes.items() if by_params[str(size.params)] == share}
    there = {share: size for share, size in there.items() if _possible(size, item.rig)}
    if len(there) < 2:
        return []
    found = stored_statistics(item.rig, item.setting.script, [[size, *others] for size in there.values()])
    steps: list[DialStep] = []
    for (share, size), statistics in zip(there.items(), found, strict=True):
        away = [abs(_away(item.rig, place, statistics)) for place in places]
        best = max(range(len(places)), key=away.__getitem__)
        telling = sum(far >= TELLS for far in away)
        steps.append(DialStep(share, size.params, describe_fault(size), away[best], places[best], telling))
    return steps


def telling_places(item: Item[Any], places: list[ReadingPlace]) -> list[int]:
    """Which of these readings tell the faults of a station, the farthest from sound engines first."""
    found = stored_statistics(item.rig, item.setting.script, [list(item.setting.faults)])[0]
    away = [abs(_away(item.rig, place, found)) for place in places]
    return sorted((k for k, far in enumerate(away) if far >= TELLS), key=lambda k: -away[k])


def red_herring(item: Item[Any], places: list[ReadingPlace]) -> FaultSpec | None:
    """A fault of everyday that shows in these readings too, and leaves what tells the station's own fault where it is;
    None where there is none.
    """
    known = {fault.kind for fault in item.setting.faults}
    common = sorted((kind for kind in fault_kinds if kind.everyday), key=lambda kind: -kind.prior)
    others = [FaultSpec(kind=kind.id) for kind in common if kind.id not in known]
    others = [fault for fault in others if _possible(fault, item.rig)]
    alone, *beside = stored_statistics(
        item.rig,
        item.setting.script,
        [list(item.setting.faults), *([*item.setting.faults, fault] for fault in others)],
    )
    before = [_away(item.rig, place, alone) for place in places]
    for fault, statistics in zip(others, beside, strict=True):
        after = [_away(item.rig, place, statistics) for place in places]
        stays = all(abs(now - then) < TELLS for then, now in zip(before, after, strict=True) if abs(then) >= TELLS)
        new = any(abs(then) < TELLS <= abs(now) for then, now in zip(before, after, strict=True))
        if stays and new:
            return fault
    return None


def _possible(fault: FaultSpec, rig: Rig) -> bool:
    try:
        effects_on(fault, rig)
    except LeitfadenError:
        return False
    return True


def _away(rig: Rig, place: ReadingPlace, found: Statistics) -> float:
    """Standard deviations of healthy engines between a reading and their middle; nothing where it decides nothing.
    [-]
    """
    band = band_of(rig, place.condition, place.channel, place.stat)
    value = found[place.condition][place.channel].get(place.stat, float("nan"))
    if band is None or value != value or no_meaning(rig, place.condition, place.channel) is not None:
        return 0.0
    return float(band.away(value))


def smallest_told(item: Item[Any], places: list[ReadingPlace]) -> DialStep | None:
    """The smallest size of a dial that some of these places tell."""
    return next((step for step in dial(item, places) if step.separation >= TELLS), None)


def in_that_size(item: Item[Any], step: DialStep) -> Remedy:
    """The first fault in that size: in the station's own vehicle where it has one, else in the lesson's."""
    fault, *others = item.setting.faults
    faults = [spec.model_dump(mode="json") for spec in (fault.model_copy(update={"params": step.params}), *others)]
    says, vehicle = say("Make the fault: {size}", size=step.words), item.station.vehicle
    if vehicle.faults is None:
        return Remedy(says, lesson={"faults": faults})
    return Remedy(says, {"vehicle": vehicle.model_dump(mode="json") | {"faults": faults}})


def showing_places(item: Item[Any], field: str, places: list[ReadingPlace], most: int) -> tuple[Remedy, ...]:
    """Two readings that show the faults of a station put to these, if there are any and room for them."""
    telling = showing(item)[:2]
    if not telling or len(places) + len(telling) > most:
        return ()
    new = [ReadingPlace(condition=d.condition, channel=d.channel) for d in telling]
    named = ", ".join(
        say(
            "{channel} at {condition}",
            channel=channel(d.channel).label,
            condition=inside(condition(d.condition).label),
        )
        for d in telling
    )
    listed = [place.model_dump(mode="json") for place in (*places, *new)]
    return (Remedy(say("Add {readings}", readings=named), {field: listed}),)
