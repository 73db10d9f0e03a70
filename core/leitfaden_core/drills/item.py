"""One item of a drill: readings of an engine, or of two, or a trace; is it sound? Its answer, and what the readings
say.

What was put into the engine decides whether an answer is right, as in any experiment on detection: below the threshold
the readings cannot. What is said afterwards about each reading is judged from the reading alone.
"""

from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from leitfaden_core.chance import chance
from leitfaden_core.channels import Layer, channel
from leitfaden_core.diagnose.costs import JOBS, USUAL_JOB, WRONG_PURCHASE
from leitfaden_core.drills.deck import SCRIPT, Entry, telling
from leitfaden_core.expect import individual_engine, load_sheet
from leitfaden_core.faults import FaultSpec
from leitfaden_core.judge import judge_reading
from leitfaden_core.judge.verdict import no_meaning
from leitfaden_core.lessons.item import read_value, reading_of, trace_along
from leitfaden_core.lessons.shapes import ReadingPlace, Shape, StationReading, Trace
from leitfaden_core.quantities import UnitSystem
from leitfaden_core.rigs import Rig, load_rig, rig_channels
from leitfaden_core.scripts import Script, load_script
from leitfaden_core.simulate import Run, simulate
from leitfaden_core.words import say

Form = Literal["reading", "sheet", "pair", "trace"]
FORMS: tuple[Form, ...] = ("reading", "sheet", "pair", "trace")
Said = Literal["sound", "faulty", "first", "second"]
#: Readings on a sheet that tell the fault, and that do not.
TELLING, OTHERS = 3, 3
#: Channels that a sheet is filled with, as far as the engine has them.
_USUAL = ("rpm", "ect", "iat", "map", "maf", "total_trim", "battery_v", "throttle", "idle_air", "ignition")
_CALM = ("hot_idle", "no_load_2500", "cruise_80", "wot_pull")


class Ask(BaseModel):
    """What an item is to be: an entry on one of its engines, at a share of its size, faulty or sound, in a form. The
    seed gives the engines.
    """

    model_config = ConfigDict(frozen=True)

    fault: FaultSpec
    rig: str
    share: Annotated[float, Field(ge=0.0, le=2.0)]
    faulty: bool
    form: Form
    seed: Annotated[int, Field(ge=1, le=2**30)]

    @property
    def right(self) -> Said:
        """The right answer. In a pair one of the two is faulty: the first, when the item is called faulty."""
        if self.form == "pair":
            return "first" if self.faulty else "second"
        return "faulty" if self.faulty else "sound"


class DrillView(Shape):
    """What a learner sees: one engine's readings, or two engines'."""

    form: Form
    engine: str
    engines: list[list[StationReading]]
    trace: Trace | None = None


class JudgedReading(StationReading):
    """A reading with the verdict on it; ``tells``: one of those that the fault moves."""

    verdict: str
    reason: str
    tells: bool


class DrillKey(Shape):
    """What is right, what was wrong with the engine, what the readings say, and what condemning a good part costs.
    [min]
    """

    right: Said
    wrong: str
    engines: list[list[JudgedReading]]
    part: str
    in_vain: float


@dataclass(frozen=True)
class DrillItem:
    """An item with its key."""

    view: DrillView
    key: DrillKey


def make_item(ask: Ask, units: UnitSystem = UnitSystem.METRIC) -> DrillItem:
    """Simulate what is asked for."""
    rig = load_rig(ask.rig)
    entry = Entry(fault=ask.fault, rigs=(ask.rig,))
    fault = entry.at(ask.share)
    tells = telling(rig.id, ask.fault.model_dump_json())
    places = _places(rig, ask, tells)
    drive = load_script(SCRIPT).to_last_window({place.condition for place in places})
    runs = [_driven(rig, drive, fault if faulty else None, seed) for faulty, seed in _engines(ask)]
    trace = trace_along(rig, runs[0], places[0]) if ask.form == "trace" else None
    judged = [[_judged(rig, run, place, tells, units) for place in places] for run in runs]
    view = DrillView(
        form=ask.form,
        engine=rig.name,
        engines=[] if trace else [[_seen(reading) for reading in engine] for engine in judged],
        trace=trace,
    )
    kind, values = ask.fault.checked()
    part = kind.part_of(values)
    there = ask.faulty or ask.form == "pair"
    return DrillItem(
        view,
        DrillKey(
            right=ask.right,
            wrong=entry.size_in_words(ask.share) if there else "",
            engines=judged,
            part=part,
            in_vain=WRONG_PURCHASE + JOBS.get(part, USUAL_JOB),
        ),
    )


def _engines(ask: Ask) -> list[tuple[bool, int]]:
    """Whether each engine is faulty, and its seed: two individuals for a pair."""
    if ask.form == "pair":
        return [(ask.faulty, ask.seed), (not ask.faulty, ask.seed + 2**30)]
    return [(ask.faulty, ask.seed)]


def _driven(rig: Rig, drive: Script, fault: FaultSpec | None, seed: int) -> Run:
    faults = [fault] if fault is not None else []
    return simulate(rig, drive, faults, seed, individual_engine(rig, seed))


def _places(rig: Rig, ask: Ask, tells: tuple[ReadingPlace, ...]) -> list[ReadingPlace]:
    """Where values are read, chosen without looking at whether the engine is faulty."""
    draw = chance(ask.seed, "drill", ask.fault.kind)
    if ask.form in ("reading", "trace"):
        return [tells[int(draw.integers(min(len(tells), TELLING)))]]
    told = {place.channel for place in tells}
    bands, known = load_sheet(rig).bands, rig_channels(rig)
    others = [
        ReadingPlace(condition=where, channel=name)
        for name in _USUAL
        for where in _CALM
        if name in known
        and name not in told
        and channel(name).layer == Layer.SCAN
        and (where, name, "mean") in bands
        and no_meaning(rig, where, name) is None
    ]
    chosen = [others[int(k)] for k in draw.permutation(len(others))[:OTHERS]]
    all_of_them = [*tells[:TELLING], *chosen]
    return [all_of_them[int(k)] for k in draw.permutation(len(all_of_them))]


def _judged(
    rig: Rig, run: Run, place: ReadingPlace, tells: tuple[ReadingPlace, ...], units: UnitSystem
) -> JudgedReading:
    value = read_value(run, place)
    made_up = run.substituted(place.condition, place.channel)
    verdict = judge_reading(rig, place.condition, place.channel, value, place.stat, None, units, made_up)
    told = reading_of(rig, place, value, made_up).model_dump(exclude={"digits"})
    return JudgedReading(**told, verdict=str(verdict.kind), reason=verdict.reason, tells=place in tells)


def _seen(reading: JudgedReading) -> StationReading:
    return StationReading(**reading.model_dump(exclude={"digits", "verdict", "reason", "tells"}))


def price_of(said: str, key: DrillKey) -> float:
    """What an answer costs the shop: a good part that is condemned is bought and fitted in vain. [min]"""
    return key.in_vain if said == "faulty" and key.right == "sound" else 0.0


def cost_in_words(key: DrillKey) -> str:
    """The price of condemning a good part."""
    if not key.part:
        return say("A sound engine called faulty: {minutes:.0f} min of the shop for nothing.", minutes=key.in_vain)
    return say(
        "A good part called faulty ({part}): {minutes:.0f} min of the shop for nothing.",
        part=key.part,
        minutes=key.in_vain,
    )
