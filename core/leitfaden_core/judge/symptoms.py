"""What a driver notices of a fault, in which state of the engine: found by comparing its drives with those of the sound
engine.

A symptom is a small registered class of its own with the measure by which it is found, so a fault never declares what
it causes: switched on in the model it causes it or does not. The way back, from what the driver says to all faults that
would cause it, ranks nothing.
"""

import json
from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import asdict, dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.diagnose.candidates import Candidate, candidates
from leitfaden_core.errors import LeitfadenError, MissingPart, UnknownName
from leitfaden_core.faults import FaultSpec, describe_size, effects_on, fault_kinds
from leitfaden_core.judge.knock import autoignition
from leitfaden_core.monitors import trouble_report
from leitfaden_core.registry import Registry
from leitfaden_core.rigs import Rig
from leitfaden_core.scripts import load_script
from leitfaden_core.simulate import FRAME, Run, cached_run, kept, simulate
from leitfaden_core.words import say

Lanes = NDArray[np.void]
#: States in which a driver may notice something: id -> (words, script, condition; none for the start itself).
STATES: dict[str, tuple[str, str, str]] = {
    "cold_start": ("cold start", "workshop_day", ""),
    "frost_start": ("start in deep frost", "winter_morning", ""),
    "hot_restart": ("restart when hot", "after_the_hill", ""),
    "cold_idle": ("cold idle", "workshop_day", "cold_idle"),
    "hot_idle": ("hot idle", "workshop_day", "hot_idle"),
    "idle_after_restart": ("idle after a hot restart", "after_the_hill", "hot_soak_restart"),
    "long_idle": ("long idle", "road_and_yard", "long_idle"),
    "cruise": ("steady driving", "workshop_day", "cruise_80"),
    "load_step": ("sudden load", "road_and_yard", "load_step"),
    "full_load": ("full load", "workshop_day", "wot_pull"),
}
SCRIPTS = tuple(dict.fromkeys(script for _label, script, _condition in STATES.values()))
_STARTS = tuple(state for state, (_label, _script, condition) in STATES.items() if not condition)
_IDLES = ("cold_idle", "hot_idle", "idle_after_restart", "long_idle")


@dataclass(frozen=True)
class Noticed:
    """A symptom in a state, with what was measured for it in the faulty and in the sound engine."""

    symptom: str
    state: str
    measure: str
    faulty: float
    sound: float


@dataclass(frozen=True)
class Measured:
    """What a symptom looks at in one state, and whether the driver notices it. NaN: it does not exist there."""

    faulty: float
    sound: float
    noticed: bool


@dataclass(frozen=True)
class Symptom:
    """Something that a driver notices: where it is looked for, and by which measure."""

    id: str
    label: str
    measure: str  # what the numbers are, with their unit
    states: tuple[str, ...]
    find: Callable[["Pair", str], Measured]


@dataclass(frozen=True)
class Pair:
    """The drives of a faulty engine beside those of the sound one, by script; a part of the scripts will do."""

    faulty: dict[str, Run]
    sound: dict[str, Run]

    @property
    def rig(self) -> Rig:
        """The rig that is driven."""
        return next(iter(self.sound.values())).rig

    @cached_property
    def lamps(self) -> tuple[bool, bool]:
        """Whether the lamp is lit after two of the workshop's drives, faulty and sound."""
        faulty, sound = (trouble_report([drives["workshop_day"]] * 2).lamp for drives in (self.faulty, self.sound))
        return faulty, sound

    def runs(self, state: str) -> tuple[Run, Run]:
        """Faulty and sound drive that hold a state."""
        script = STATES[state][1]
        return self.faulty[script], self.sound[script]

    def rows(self, state: str) -> tuple[Lanes, Lanes]:
        """Faulty and sound rows of a state's condition."""
        return tuple(run.rows(run.script.span(STATES[state][2])) for run in self.runs(state))  # type: ignore[return-value]


symptoms: Registry[Symptom] = Registry("symptom")


def _symptom(
    id: str, label: str, measure: str, states: tuple[str, ...]
) -> Callable[[Callable[[Pair, str], Measured]], None]:
    def register(find: Callable[[Pair, str], Measured]) -> None:
        symptoms.register(Symptom(id, label, measure, states, find))

    return register


def _compared(
    of: Callable[[Lanes], float], pair: Pair, state: str, noticed: Callable[[float, float], bool]
) -> Measured:
    """A measure of rows in both engines; nothing is noticed where either has none."""
    faulty, sound = (of(rows) for rows in pair.rows(state))
    return Measured(faulty, sound, bool(np.isfinite(faulty) and np.isfinite(sound) and noticed(faulty, sound)))


def _runs(rows: Lanes) -> bool:
    return bool(np.all(rows["running"] > 0.5))


def _while_running(of: Callable[[Lanes], float]) -> Callable[[Lanes], float]:
    return lambda rows: of(rows) if _runs(rows) else float("nan")


# --- starting and staying alive
# ------------------------------------------------------------------------------------------------------


def _cranking(run: Run) -> tuple[float, float]:
    """From when to when the starter turns in a script. [s]"""
    for start, segment in zip(run.script.starts(), run.script.segments, strict=True):
        if segment.key == "start":
            return start, start + segment.seconds
    raise UnknownName("segment with the key at", "start", [], where=say("in script {id}", id=run.script.id))


def _time_to_start(run: Run) -> float:
    """Seconds from the starter's first turn until the engine goes on turning by itself; NaN when it does not."""
    begin, _end = _cranking(run)
    alive = run.rows((begin, begin + 10.0))["running"] > 0.5
    # What dies again within two seconds has not started.
    need = round(2.0 / FRAME)
    lasting = np.convolve(alive, np.ones(need), mode="valid") >= need
    return float(np.argmax(lasting) * FRAME) if lasting.any() else float("nan")


@_symptom("no_start", "does not start", "runs within 10 s of cranking (1: yes)", _STARTS)
def _no_start(pair: Pair, state: str) -> Measured:
    faulty, sound = (float(not np.isnan(_time_to_start(run))) for run in pair.runs(state))
    return Measured(faulty, sound, faulty < sound)


@_symptom("hard_start", "starts late", "time from the starter's first turn [s]", _STARTS)
def _hard_start(pair: Pair, state: str) -> Measured:
    faulty, sound = (_time_to_start(run) for run in pair.runs(state))
    return Measured(faulty, sound, bool(faulty > sound + 0.4))


@_symptom("stall", "stalls", "share of the time in which it runs", (*_IDLES, "cruise", "load_step"))
def _stall(pair: Pair, state: str) -> Measured:
    alive = _alive_before(pair.runs(state)[0], state)
    return _compared(
        lambda rows: float((rows["running"] > 0.5).mean()), pair, state, lambda f, s: alive and f < s - 0.01
    )


def _alive_before(run: Run, state: str) -> bool:
    """Whether the engine still ran after the start, and at the end of the last condition before this state's."""
    start = run.script.span(STATES[state][2])[0]
    ends = [end for _begin, end in map(run.script.span, run.script.conditions()) if end <= start]
    began = [_cranking(run)[1] + 2.0] if any(segment.key == "start" for segment in run.script.segments) else []
    since = max([end for end in (*ends, *began) if end <= start], default=FRAME)
    return bool(run.lanes["running"][round(since / FRAME) - 1] > 0.5)


# --- idle and driving
# ----------------------------------------------------------------------------------------------------------------


def _speed(rows: Lanes) -> float:
    return float(rows["rpm_true"].mean())


@_symptom("high_idle", "idles too fast", "engine speed [1/min]", _IDLES)
def _high_idle(pair: Pair, state: str) -> Measured:
    return _compared(_while_running(_speed), pair, state, lambda f, s: f > s + 120.0)


@_symptom("low_idle", "idles too slowly", "engine speed [1/min]", _IDLES)
def _low_idle(pair: Pair, state: str) -> Measured:
    return _compared(_while_running(_speed), pair, state, lambda f, s: f < s - 80.0)


def _roughness(rows: Lanes) -> float:
    """Speed that comes and goes within a second, and power strokes without fire. [1/min]"""
    speed = rows["rpm_true"].astype(float)
    width = round(1.0 / FRAME)
    slow = np.convolve(speed, np.ones(width) / width, mode="same")[width:-width]
    return float((speed[width:-width] - slow).std() + 200.0 * rows["misfire"].mean())


@_symptom("rough_idle", "idles roughly", "fluctuation of speed with missed strokes [1/min]", _IDLES)
def _rough_idle(pair: Pair, state: str) -> Measured:
    return _compared(_while_running(_roughness), pair, state, lambda f, s: f > 2.0 * s + 5.0)


def _jerks(rows: Lanes) -> float:
    """Slow coming and going of torque at steady driving, over half a second and more. [Nm]"""
    width = round(0.5 / FRAME)
    smooth = np.convolve(rows["torque_true"].astype(float), np.ones(width) / width, mode="valid")
    return float(smooth.std())


@_symptom("surge", "surges or jerks", "standard deviation of torque [Nm]", ("cruise",))
def _surge(pair: Pair, state: str) -> Measured:
    return _compared(_while_running(_jerks), pair, state, lambda f, s: f > 3.0 * s + 1.0)


def _torque(rows: Lanes) -> float:
    return float(rows["torque_true"].mean())


@_symptom("sluggish", "pulls badly", "torque [Nm]", ("full_load",))
def _sluggish(pair: Pair, state: str) -> Measured:
    return _compared(_while_running(_torque), pair, state, lambda f, s: f < 0.92 * s)


@_symptom("reduced_power", "reduced power with the lamp lit", "torque [Nm]", ("full_load",))
def _reduced(pair: Pair, state: str) -> Measured:
    lit = pair.lamps[0]
    return _compared(_while_running(_torque), pair, state, lambda f, s: lit and f < 0.75 * s)


# --- exhaust, fuel, noise, lamp
# ------------------------------------------------------------------------------------------------------


#: Lambda below which soot can be seen (Heywood 1988, ch. 11.5). [-]
_SOOT_DIESEL, _SOOT_PETROL = 1.15, 0.75


def _richest(rows: Lanes, seconds: float = 1.0) -> float:
    """Lambda that the mixture stays below for at least so long in all. [-]"""
    burning = rows["lambda_true"][~np.isnan(rows["lambda_true"])]
    count = round(seconds / FRAME)
    return float(np.partition(burning, count)[count]) if burning.size > count else float("nan")


@_symptom(
    "black_smoke",
    "smokes black",
    "richest lambda over a second",
    ("cold_idle", "hot_idle", "idle_after_restart", "cruise", "load_step", "full_load"),
)
def _black_smoke(pair: Pair, state: str) -> Measured:
    limit = _SOOT_DIESEL if "diesel" in pair.rig.features else _SOOT_PETROL
    return _compared(_richest, pair, state, lambda f, s: f < min(limit, s - 0.06))


@_symptom("black_smoke_start", "smokes black after the start", "richest lambda over half a second", _STARTS)
def _black_start(pair: Pair, state: str) -> Measured:
    found = []
    for run in pair.runs(state):
        begin, _end = _cranking(run)
        found.append(_richest(run.rows((begin, begin + 12.0)), 0.5))
    limit = _SOOT_DIESEL if "diesel" in pair.rig.features else _SOOT_PETROL
    return Measured(found[0], found[1], bool(found[0] < min(limit, found[1] - 0.06)))


def _fuel(run: Run, state: str) -> float:
    """Mean fuel flow: true air over true mixture, none where the fuel is cut. [g/s]"""
    rows = run.rows(run.script.span(STATES[state][2]))
    flow = rows["maf_true"] / (run.rig.engine.afr_stoich * rows["lambda_true"])
    return float(np.nan_to_num(flow).mean())


@_symptom("thirst", "needs more fuel", "fuel [g/s]", ("hot_idle", "cruise"))
def _thirst(pair: Pair, state: str) -> Measured:
    faulty, sound = (_fuel(run, state) for run in pair.runs(state))
    return Measured(faulty, sound, bool(faulty > 1.07 * sound))


@_symptom(
    "knock", "knocks", "autoignition integral of the end gas (ratio matters)", ("cruise", "load_step", "full_load")
)
def _knock(pair: Pair, state: str) -> Measured:
    if "spark" not in pair.rig.features:
        return Measured(float("nan"), float("nan"), False)
    faulty, sound = (
        float(autoignition(run, run.script.span(STATES[state][2])).max(initial=0.0)) for run in pair.runs(state)
    )
    # The maker's spark keeps about this margin from knocking at load; far below 1 nothing ignites by itself.
    return Measured(faulty, sound, faulty > 1.15 * sound and faulty > 0.5)


@_symptom("stays_cold", "heater stays cool", "coolant [°C]", ("cruise",))
def _stays_cold(pair: Pair, state: str) -> Measured:
    return _compared(_while_running(lambda rows: float(rows["ect_true"].mean())), pair, state, lambda f, s: f < s - 8.0)


@_symptom("lamp", "warning lamp lit", "lamp after two drives (1: lit)", ("hot_idle",))
def _lamp_on(pair: Pair, state: str) -> Measured:
    faulty, sound = pair.lamps
    return Measured(float(faulty), float(sound), faulty and not sound)


# --- both ways
# ----------------------------------------------------------------------------


def noticed(
    rig: Rig, faults: list[FaultSpec], seed: int = 0, individual: dict[str, float] | None = None
) -> list[Noticed]:
    """What a driver notices of some faults, by symptom and state, in the rig itself or in an individual engine of it
    (see ``make_plan``).
    """
    faulty = {name: simulate(rig, load_script(name), faults, seed, individual) for name in SCRIPTS}
    sound = {name: cached_run(rig, load_script(name), [], seed, None) for name in SCRIPTS}
    return list(_found(Pair(faulty, sound)))


def _found(pair: Pair) -> Iterator[Noticed]:
    for symptom in symptoms:
        for state in symptom.states:
            if STATES[state][1] not in pair.sound:
                continue
            measured = symptom.find(pair, state)
            if measured.noticed:
                yield Noticed(symptom.id, state, symptom.measure, round(measured.faulty, 4), round(measured.sound, 4))


@dataclass(frozen=True)
class Cause:
    """A fault that causes all that the driver told of, at least in one of its sizes."""

    candidate: str
    label: str
    group: str
    size: str  # empty where it has none


def symptom_table(rig: Rig, script: str) -> dict[str, list[dict[str, object]]]:
    """Every cause of a rig, at its largest usual size and at the end of its range -> what a driver notices of it in a
    script.

    From the store where it has it, else computed in about 15 s.
    """
    sizes = [(cause, size) for cause in candidates(rig) for way in cause.ways for size in _large(rig, way)]
    return kept(f"symptoms {script} {rig.model_dump_json()}", lambda: _table(rig, script, sizes))


def _large(rig: Rig, way: tuple[FaultSpec, ...]) -> list[FaultSpec]:
    """The largest usual size of a way, and as far as it can go in that direction."""
    largest = way[-1]
    farthest = dict(largest.params)
    for parameter in fault_kinds.get(largest.kind).parameters:
        first, last = (spec.params.get(parameter.id) for spec in (way[0], largest))
        if isinstance(first, float) and isinstance(last, float) and first != last:
            allowed = parameter.range_for(dict(largest.params))
            farthest[parameter.id] = allowed.high if last > first else allowed.low
    end = largest.model_copy(update={"params": farthest})
    try:
        effects_on(end, rig)
    except LeitfadenError:
        return [largest]
    return [largest] if farthest == largest.params else [largest, end]


def _table(rig: Rig, script: str, sizes: list[tuple[Candidate, FaultSpec]]) -> dict[str, list[dict[str, object]]]:
    course = load_script(script)
    sound = {script: simulate(rig, course, [], 0)}

    def of(spec: FaultSpec) -> list[dict[str, object]]:
        return [asdict(entry) for entry in _found(Pair({script: simulate(rig, course, [spec], 0)}, sound))]

    # The compiled step releases the interpreter's lock.
    with ThreadPoolExecutor(2) as pool:
        found = pool.map(of, [spec for _cause, spec in sizes])
        return {
            json.dumps([cause.id, spec.model_dump_json()]): rows
            for (cause, spec), rows in zip(sizes, found, strict=True)
        }


def causes_of(rig: Rig, told: list[str]) -> list[Cause]:
    """All faults of a rig that cause everything told, each told thing a symptom or ``symptom:state``; sorted by their
    names, none first.

    Raises MissingPart when nothing is told, UnknownName for an unknown symptom or state.
    """
    if not told:
        raise MissingPart("name at least one symptom")
    wanted = [told_symptom(text) for text in told]
    scripts = dict.fromkeys(
        STATES[state][1] for name, state in wanted for state in ([state] if state else symptoms.get(name).states)
    )
    noticed_of: dict[str, set[tuple[str, str]]] = {}
    for script in scripts:
        for key, rows in symptom_table(rig, script).items():
            there = noticed_of.setdefault(key, set())
            there |= {(str(row["symptom"]), str(row["state"])) for row in rows} | {
                (str(row["symptom"]), "") for row in rows
            }
    labels = {cause.id: cause for cause in candidates(rig)}
    found: dict[str, Cause] = {}
    for key, there in noticed_of.items():
        cause_id, size = json.loads(key)
        if cause_id not in found and all(entry in there for entry in wanted):
            spec, cause = FaultSpec.model_validate_json(size), labels[cause_id]
            found[cause_id] = Cause(cause_id, cause.label, fault_kinds.get(cause.kind).group, describe_size(spec))
    return sorted(found.values(), key=lambda cause: cause.label)


def told_symptom(text: str) -> tuple[str, str]:
    """Symptom and state (empty: any) of ``symptom`` or ``symptom:state``."""
    name, _, state = text.partition(":")
    symptom = symptoms.get(name)
    if state and state not in symptom.states:
        raise UnknownName("state", state, symptom.states, where=say("for the symptom {name}", name=name))
    return name, state
