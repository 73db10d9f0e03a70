"""A stretch of what was on a bench, as a drive script: what key, foot and rollers did, for lessons to drive again.

What else was done to the vehicle is no part of a drive. Faults go beside it; plugs, hoses, parts and nights are told as
left out.
"""

from dataclasses import dataclass, replace
from typing import Any

from leitfaden_core.errors import LeitfadenError
from leitfaden_core.faults import FaultSpec
from leitfaden_core.live.bench import Beginning, Bench, Done
from leitfaden_core.live.doings import Mark, SettleMemory, Stand
from leitfaden_core.live.stretch import BEFORE, spells_of
from leitfaden_core.live.told import told
from leitfaden_core.recordings import Stretch
from leitfaden_core.scripts import Script
from leitfaden_core.scripts.document import Segment, Surroundings, Window
from leitfaden_core.simulate import FRAME, actions
from leitfaden_core.simulate.naming import Naming
from leitfaden_core.words import say

#: A condition is read in a stretch that holds for so long, this long after its beginning. [s]
READ_FOR, READ_AFTER = 3.0, 1.0
#: An engine with its coolant above this begins hot. [°C]
HOT = 60.0
#: What the engine does before the stretch, as it did at its beginning, so that gas and trims are where they were. [s]
APPROACH = 15.0
#: More segments than these are nothing that anybody can follow.
MOST = 300
#: What goes into a lesson beside the drive, and words that change nothing.
_BESIDE = (actions.PutFault, actions.SizeFault, actions.TakeFault, Mark)
_TIME_JUMPS = (Stand, SettleMemory, actions.PassMonths)


@dataclass(frozen=True)
class Driven:
    """A drive out of a bench, the faults that were in the vehicle at its end, and what of the doings it leaves out."""

    script: Script
    faults: tuple[FaultSpec, ...]
    left_out: tuple[str, ...]


AT_REST = actions.MovePedal(to=0.0, seconds=0.0)


@dataclass(frozen=True)
class _Hands:
    """What key, foot and rollers do, and since when the rollers change their speed. [frames]"""

    key: Any = "on"
    foot: Any = AT_REST
    drive: actions.Drive | None = None
    drive_since: int = 0
    lapse: float = 1.0
    plug: str | None = None

    def after(self, doing: Any, frame: int) -> "_Hands | None":
        """The same after something was done; None when it was none of theirs."""
        match doing:
            case actions.TurnKey():
                return replace(self, key=doing.to)
            case actions.MovePedal() | actions.HoldSpeed() | actions.HoldLoad() | actions.Snap():
                return replace(self, foot=doing)
            case actions.Drive():
                return replace(self, drive=doing, drive_since=frame)
            case actions.Neutral():
                return replace(self, drive=None)
            case actions.LapseTime():
                return replace(self, lapse=doing.factor)
            case actions.MovePlug():
                return replace(self, plug=doing.place)
        return None

    def after_a_snap(self) -> "_Hands":
        """The same with the foot at rest where it had snapped: a snap is done once."""
        return replace(self, foot=AT_REST) if isinstance(self.foot, actions.Snap) else self


def script_of(beginning: Beginning, journal: list[Done], first: int, last: int, name: str) -> Driven:
    """Frames ``first`` to before ``last`` of a bench as a drive script.

    Raises
    ------
    LeitfadenError
        For a stretch in which time jumped, or that is too restless.
    """
    if any(isinstance(done.doing, _TIME_JUMPS) for done in journal if first < done.frame < last):
        raise LeitfadenError(
            say("days or nights passed within this stretch, which no drive does: choose a stretch without that")
        )
    bench = Bench.replayed(beginning, [done for done in journal if done.frame < last], last)
    start = max(first - BEFORE, 0)
    rows = bench.rows(start, last).rows
    spells = spells_of(Naming(bench.rig).feed(rows)[first - start :])
    coolant = float(rows["ect_true"][first - start]) if last > first else 0.0
    approach, segments, left_out = _segments(beginning, journal, first, last)
    return Driven(
        Script(
            schema_version=1,
            id="own_" + "".join(c if c.isalnum() else "_" for c in name.lower())[:30],
            name=name,
            description=say("Driven by hand on a bench ({rig})", rig=bench.rig.name),
            start="hot" if coolant > HOT else "cold",
            ambient=_air(beginning, journal, first),
            segments=[*approach, *_read(segments, spells)],
        ),
        tuple(put.now for put in bench.machine.faults.values()),
        tuple(dict.fromkeys([*_standing(bench), *left_out])),
    )


def _standing(bench: Bench) -> list[str]:
    """Handwork that stands at the end of the stretch."""
    work = bench.machine.work
    doings = [
        *(actions.PullPlug(circuit=name) for name in sorted(work.unplugged)),
        *(actions.CloseHose(hose=name) for name in sorted(work.closed)),
        *(actions.FitPart(part=name) for name in sorted(work.gone)),
        *(actions.HoldActuator(actuator=name, share=share) for name, share in sorted(work.held)),
    ]
    return told(bench.beginning, [Done(bench.frame, doing) for doing in doings])


def _air(beginning: Beginning, journal: list[Done], first: int) -> Surroundings | None:
    found = beginning.weather
    for done in journal:
        if done.frame <= first and isinstance(done.doing, actions.Surround):
            found = done.doing.weather
    return found


def _segments(
    beginning: Beginning, journal: list[Done], first: int, last: int
) -> tuple[list[Segment], list[Segment], list[str]]:
    """How the engine comes to where the stretch begins; what hands did in it, one segment for each time in which they
    did nothing new; and what they did beside driving.
    """
    hands, left_out = _Hands(), []
    for done in (done for done in journal if done.frame <= first):
        hands = hands.after(done.doing, done.frame) or hands
    approach, segments, at = _approach(hands, first), [], first
    for done, words in zip(journal, told(beginning, journal), strict=True):
        if not first < done.frame < last:
            continue
        after = hands.after(done.doing, done.frame)
        if after is not None:
            segments += _held(hands, at, done.frame)
            hands, at = _without_snap(after, hands), done.frame
        elif not isinstance(done.doing, _BESIDE):
            left_out.append(words)
    segments += _held(hands, at, last)
    if len(segments) > MOST:
        raise LeitfadenError(say("hands did {count} things in this stretch: choose a shorter one", count=len(segments)))
    return approach, segments, left_out


def _without_snap(after: _Hands, before: _Hands) -> _Hands:
    """A snap is done once: whatever comes next finds the foot at rest."""
    done = after.foot is before.foot and isinstance(before.foot, actions.Snap)
    return replace(after, foot=AT_REST) if done else after


def _approach(hands: _Hands, first: int) -> list[Segment]:
    """The engine as it was at the beginning of the stretch, from the script's own beginning."""
    if hands.key != "on":
        return []
    still = hands.after_a_snap()
    if hands.drive is not None:
        speed = _speed(hands.drive, (first - hands.drive_since) * FRAME)
        still = replace(still, drive=hands.drive.model_copy(update={"roller": (speed, speed)}))
    return [_segment(replace(still, lapse=1.0), APPROACH, say("Come to where it begins"))]


def _speed(drive: actions.Drive, seconds: float) -> Any:
    """Speed of the rollers so long after they began to change it."""
    low, high = drive.roller
    if seconds >= drive.seconds or isinstance(low, str) or isinstance(high, str):
        return high
    return low + (high - low) * seconds / drive.seconds


def _held(hands: _Hands, start: int, end: int) -> list[Segment]:
    """Segments of a time in which hands did nothing new: the rollers first come to their speed, then keep it."""
    if end <= start:
        return []
    seconds, drive = (end - start) * FRAME, hands.drive
    if drive is None:
        return [_segment(hands, seconds)]
    gone = (start - hands.drive_since) * FRAME
    changing = min(max(drive.seconds - gone, 0.0), seconds)
    parts = []
    if changing >= FRAME:
        roller = (_speed(drive, gone), _speed(drive, gone + changing))
        parts.append(_segment(replace(hands, drive=drive.model_copy(update={"roller": roller})), changing))
    if seconds - changing >= FRAME:
        speed = _speed(drive, gone + seconds)
        steady = drive.model_copy(update={"roller": (speed, speed)})
        parts.append(_segment(replace(hands.after_a_snap() if parts else hands, drive=steady), seconds - changing))
    return parts


def _segment(hands: _Hands, seconds: float, label: str = "") -> Segment:
    foot: dict[str, Any] = {}
    match hands.foot:
        case actions.MovePedal():
            foot = {"pedal": hands.foot.to, "pedal_ramp": hands.foot.seconds}
        case actions.HoldSpeed():
            foot = {"hold_speed": hands.foot.rpm}
        case actions.HoldLoad() if hands.drive is not None:
            foot = {"hold_load": hands.foot.share}
        case actions.Snap():
            foot = {"snap": True}
    on_rollers = {} if hands.drive is None else {"roller": hands.drive.roller, "gear": hands.drive.gear}
    return Segment(
        label=label or say("As the hands did"),
        seconds=round(seconds, 2),
        key=hands.key,
        wiggle=hands.plug,
        time_lapse=hands.lapse,
        **foot,
        **on_rollers,
    )


def _read(segments: list[Segment], spells: tuple[Stretch, ...]) -> list[Segment]:
    """The segments with a window for each condition, where it held longest without a hand that moved."""
    starts, now = [], 0.0
    for segment in segments:
        starts.append(now)
        now += segment.seconds
    best: dict[str, tuple[float, int, Window]] = {}
    for k, (start, segment) in enumerate(zip(starts, segments, strict=True)):
        for spell in spells:
            low, high = max(spell.start + READ_AFTER, start), min(spell.end, start + segment.seconds)
            if high - low < READ_FOR or high - low <= best.get(spell.condition, (0.0, 0, None))[0]:
                continue
            span = (round(low - start, 2), round(min(high - start, segment.seconds), 2))
            best[spell.condition] = (high - low, k, Window(condition=spell.condition, span=span))
    windows: dict[int, Window] = {}
    for _length, k, window in sorted(best.values(), key=lambda entry: -entry[0]):
        windows.setdefault(k, window)
    return [segment.model_copy(update={"window": windows.get(k)}) for k, segment in enumerate(segments)]
