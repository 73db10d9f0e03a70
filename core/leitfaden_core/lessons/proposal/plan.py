"""What a proposed lesson is about: a device, or an aim; its faults at the size of the level, and what they show."""

from dataclasses import dataclass

from leitfaden_core.atlas import Page, page_on
from leitfaden_core.channels import Layer, channel
from leitfaden_core.diagnose.candidates import candidates
from leitfaden_core.errors import LeitfadenError, MissingPart, UnknownName
from leitfaden_core.faults import FaultSpec, describe_fault, effects_on, fault_kinds
from leitfaden_core.judge import Departure, signature
from leitfaden_core.lessons.aims import Aim, Misconception, Size, SizedFault, page_for
from leitfaden_core.rigs import Rig, rig_channels
from leitfaden_core.scripts import load_script, reading_scripts
from leitfaden_core.words import inside, say

SCRIPT = "workshop_day"
#: Standard deviations of healthy engines from which on a reading tells the fault plainly, and below which it stays.
TELLS, STAYS = 4.0, 0.4
#: Size of the fault by level: for a device the step of its kind, for an aim its size.
_STEP = {"start": -1, "journeyman": 1, "expert": 0}
_SIZES: dict[str, tuple[Size, ...]] = {
    "start": ("easy", "medium", "hard"),
    "journeyman": ("medium", "easy", "hard"),
    "expert": ("hard", "medium", "easy"),
}


@dataclass(frozen=True)
class Plan:
    """What the stations are made of.

    ``seen``: what leaves its band on the displays along the drive ``script``, means only, the farthest first;
    ``shapes`` the same for other statistics. What an aim does not name is empty: the stations then take what the device
    and the model say. ``repaired``: the faults are mended, and only the memory still knows them.
    """

    page: Page
    rig: Rig
    script: str
    faults: tuple[FaultSpec, ...]
    seen: tuple[Departure, ...]
    title: str
    goal: str
    shapes: tuple[Departure, ...] = ()
    lanes: tuple[str, ...] = ()
    hidden: tuple[str, ...] = ()
    hidden_because: str = ""
    claims: tuple[Misconception, ...] = ()
    myths: tuple[str, ...] = ()
    workings: tuple[str, ...] = ()
    others: tuple[FaultSpec, ...] = ()
    tests: tuple[str, ...] = ()

    @property
    def fault(self) -> FaultSpec:
        """The first of its faults."""
        return self.faults[0]


def for_device(page: Page, rig: Rig, asked: str, level: str) -> Plan:
    """About a device and one of its faults: the one asked for, else the first that shows plainly."""
    fault, seen = _chosen_of_device(page, rig, asked, _STEP[level])
    return Plan(
        page,
        rig,
        SCRIPT,
        (fault,),
        tuple(seen),
        title=say("{device}, {rig}", device=page.title, rig=rig.name),
        goal=say(
            (
                "After this lesson, learners can say how a {device} works, tell its good values from faulty ones "
                "on the {rig}, and prove what is wrong."
            ),
            device=inside(page.title),
            rig=rig.name,
        ),
    )


def for_aim(aim: Aim, rig: Rig, asked: str, level: str) -> Plan:
    """About an aim: the first of its faults, or the one asked for, that shows plainly on that engine, at the size of
    the level or else at the next easier one; along the drive on which most of it can be seen.
    """
    page = page_for(aim, rig.id)
    if page is None:
        raise UnknownName("engine for this aim", rig.id, [name for name in aim.rigs if page_for(aim, name)])
    known = list(dict.fromkeys(fault.kind for fault in aim.faults if fault.rig in ("", rig.id)))
    if asked and asked not in known:
        raise UnknownName("fault of this aim", asked, known)
    faults, shown, script = _chosen_of_aim(aim, rig, asked, level)
    means = [d for d in shown if d.stat == "mean"]
    there = rig_channels(rig)
    return Plan(
        page,
        rig,
        script,
        tuple(faults),
        tuple(means),
        title=say("{aim} ({rig})", aim=aim.title, rig=rig.name),
        goal=say("After this lesson, learners can {can}", can=aim.can),
        shapes=tuple(d for d in shown if d.stat != "mean" and channel(d.channel).family == "oxygen"),
        lanes=tuple(name for name in aim.show if name in there),
        hidden=aim.hide,
        hidden_because=aim.hide_because,
        claims=aim.misconceptions,
        myths=aim.known_errors,
        workings=aim.calculations,
        others=tuple(_look_alikes(aim, rig)),
        tests=tuple(dict.fromkeys(step for order in aim.orders for step in order if isinstance(step, str))),
    )


def seen_on(rig: Rig, faults: list[FaultSpec], script: str = SCRIPT, means_only: bool = True) -> list[Departure]:
    """What leaves its band on the displays along a drive, the farthest first."""
    found = signature(rig, faults, (Layer.SCAN,), along=load_script(script))
    return [d for d in found if d.stat == "mean" or not means_only]


def possible(fault: FaultSpec, rig: Rig) -> bool:
    """Whether an engine can have a fault."""
    try:
        effects_on(fault, rig)
    except LeitfadenError:
        return False
    return True


def _plain(seen: list[Departure]) -> int:
    """Channels that tell it plainly."""
    return len({d.channel for d in seen if abs(d.deviations) >= TELLS})


def _chosen_of_device(page: Page, rig: Rig, asked: str, step: int) -> tuple[FaultSpec, list[Departure]]:
    lines = page_on(page, rig).faults
    known = [line.kind for line in lines]
    if asked and asked not in known:
        raise UnknownName("fault of this device", asked, known)
    found: list[tuple[int, FaultSpec, list[Departure]]] = []
    for line in lines:
        if asked and line.kind != asked:
            continue
        sized = _sized(line.example, rig, step)
        seen = seen_on(rig, [sized])
        if _plain(seen) >= 2:
            return sized, seen
        found.append((_plain(seen), sized, seen))
    best = max(found, key=lambda entry: entry[0], default=None)
    if best is None or not best[2]:
        raise MissingPart(say("no fault of this device can be seen on {rig} at that level", rig=rig.name))
    return best[1], best[2]


def _sized(example: FaultSpec, rig: Rig, step: int) -> FaultSpec:
    """An example at its small, medium or large size, as far as the engine can have it so."""
    kind, params = fault_kinds.get(example.kind), dict(example.params)
    for parameter in kind.parameters:
        if not parameter.choices and parameter.id in params and parameter.neutral is not None:
            params[parameter.id] = parameter.range_for(params).steps[step]
    sized = example.model_copy(update={"params": params})
    return sized if possible(sized, rig) else example


def _chosen_of_aim(aim: Aim, rig: Rig, asked: str, level: str) -> tuple[list[FaultSpec], list[Departure], str]:
    """Faults, what they show, and the drive on which they do."""
    best: tuple[int, list[FaultSpec], list[Departure], str] | None = None
    for fault in aim.faults:
        if (asked and fault.kind != asked) or not _meant_for(fault, aim, rig):
            continue
        for size in _SIZES[level]:
            specs = fault.at(size)
            if not all(possible(spec, rig) for spec in specs):
                continue
            script, seen = _best_drive(aim, rig, specs)
            plain = _plain([d for d in seen if d.stat == "mean"])
            if plain >= 2:
                return specs, seen, script
            if any(d.stat == "mean" for d in seen) and (best is None or plain > best[0]):
                best = plain, specs, seen, script
    if best is None:
        raise MissingPart(say("no fault of this aim can be seen on the displays of {rig}", rig=rig.name))
    return best[1:]


def _meant_for(fault: SizedFault, aim: Aim, rig: Rig) -> bool:
    """A fault with an engine of its own is meant for that one; one that names none, for all of the aim."""
    return fault.rig == rig.id if fault.rig else rig.id in aim.rigs


def _best_drive(aim: Aim, rig: Rig, faults: list[FaultSpec]) -> tuple[str, list[Departure]]:
    """The drive on which the aim's conditions show most; the day in the workshop when it shows as much."""
    shown = {}
    for script in reading_scripts():
        wanted = set(script.conditions()) & set(aim.conditions)
        if wanted:
            seen = seen_on(rig, faults, script.id, means_only=False)
            shown[script.id] = sorted(seen, key=lambda d: (d.condition not in wanted, -abs(d.deviations)))
    if not shown:
        return SCRIPT, seen_on(rig, faults, means_only=False)
    best = max(shown, key=lambda name: (min(_plain(shown[name]), 2), name == SCRIPT, _plain(shown[name])))
    return best, shown[best]


def _look_alikes(aim: Aim, rig: Rig) -> list[FaultSpec]:
    """Those that the engine can have, at the middle of their sizes."""
    found = {c.sizes[0].kind: c.sizes[len(c.sizes) // 2] for c in reversed(candidates(rig)) if c.sizes}
    return [found[alike.kind] for alike in aim.look_alikes if alike.kind in found]


def in_words(faults: tuple[FaultSpec, ...]) -> str:
    """Faults in words."""
    return ", ".join(describe_fault(fault) for fault in faults)
