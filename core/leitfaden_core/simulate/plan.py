"""The plan: everything that the compiled step needs, made from documents, checked once."""

import math
import zlib
from dataclasses import dataclass
from functools import cache

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.errors import UnknownName
from leitfaden_core.faults import FaultSpec, effects_on
from leitfaden_core.rigs import Rig
from leitfaden_core.scripts import Script, Segment
from leitfaden_core.sensors.oxygen import cell_voltage_table
from leitfaden_core.simulate.layout import (
    EFFECT,
    FOOT_PEDAL,
    FOOT_SNAP,
    FOOT_SPEED,
    FOOT_TORQUE,
    FRAME,
    GATE_ABOVE_COOLANT,
    GATE_ABOVE_TORQUE,
    GATE_AFTER_SOAK,
    GATE_ALWAYS,
    GATE_BELOW_COOLANT,
    HOOK_NAMES,
    INDIVIDUAL,
    INPUT,
    KEY_OFF,
    KEY_ON,
    KEY_START,
    OP_ADD,
    OP_MAX,
    OP_MULTIPLY,
    OP_SET,
    params_dtype,
)

_OPS = {"set": OP_SET, "add": OP_ADD, "multiply": OP_MULTIPLY, "max": OP_MAX}
_KEYS = {"off": KEY_OFF, "on": KEY_ON, "start": KEY_START}
_RAD_PER_RPM = 2.0 * np.pi / 60.0
#: Road speed at the rig's cruising speed. [km/h]
CRUISE_KMH = 80.0


@dataclass(frozen=True)
class Plan:
    """Flat inputs of one run. Shapes: inputs (frames,), effects (effects,), present (frames, faults)."""

    rig: Rig
    script: Script
    params: np.void
    inputs: NDArray[np.void]
    effects: NDArray[np.void]
    present: NDArray[np.uint8]
    seed: int


def make_plan(rig: Rig, script: Script, faults: list[FaultSpec], seed: int, individual: dict[str, float] | None = None) -> Plan:
    """Lay out a run.

    Parameters
    ----------
    rig, script : Rig, Script
    faults : list of FaultSpec
        Any number; they combine.
    seed : int
        Of all chance in the run.
    individual : dict, optional
        Numbers in which this engine differs from its rig, by the names of ``layout.INDIVIDUAL`` and of the rig's fields.
    """
    numbers = rig.numbers() | INDIVIDUAL
    unknown = set(individual or {}) - set(numbers)
    if unknown:
        raise UnknownName("individual parameter", sorted(unknown)[0], numbers)
    numbers |= individual or {}
    if script.ambient is not None:
        numbers |= {"ambient_temp": script.ambient.temp_C + 273.15, "ambient_pressure": script.ambient.baro_kPa * 1000.0}
    params = np.zeros(1, dtype=params_dtype(rig))
    for name, value in numbers.items():
        params[name] = value
    params["cell_table"] = _cell_table(rig.exhaust.mixture_spread)
    inputs = _inputs(rig, script)
    effects, present = fault_effects(rig, script, faults, seed, len(inputs))
    return Plan(rig, script, params[0], inputs, effects, present, seed)


@cache
def _cell_table(spread: float) -> NDArray[np.float64]:
    return cell_voltage_table(spread)


def _inputs(rig: Rig, script: Script) -> NDArray[np.void]:
    rows = np.zeros(sum(_frames(segment) for segment in script.segments), dtype=INPUT)
    at, pedal_before = 0, 0.0
    for segment in script.segments:
        part = rows[at : at + _frames(segment)]
        n = len(part)
        part["key"] = _KEYS[segment.key]
        part["time_lapse"] = segment.time_lapse
        if segment.roller is not None:
            first, last = (_roller_speed(rig, speed) for speed in segment.roller)
            speed = np.linspace(first, last, n)
            part["in_gear"] = 1.0
            part["roller_speed"] = speed * _RAD_PER_RPM
            part["vehicle_kmh"] = CRUISE_KMH * speed / rig.vehicle.cruise_speed * _gear_ratio(rig, segment.gear)
        pedal_before = _foot(part, segment, pedal_before, rig)
        at += n
    return rows


def _gear_ratio(rig: Rig, gear: str | None) -> float:
    """Road speed of a gear over that of the usual gear, at one engine speed. The next gear lies in the geometric middle between both."""
    pull = rig.vehicle.pull_ratio
    return {"pull": pull, "next": math.sqrt(pull)}.get(gear or "", 1.0)


def _roller_speed(rig: Rig, speed: float | str) -> float:
    """Crankshaft speed of a script's speed on this rig. [rev/min]"""
    if isinstance(speed, float):
        return speed
    share, _, reference = speed.rpartition(" ")
    references = {
        "cruise": rig.vehicle.cruise_speed,
        "rated": rig.engine.rated_speed,
        "shifted": rig.engine.rated_speed * _gear_ratio(rig, "pull") / _gear_ratio(rig, "next"),
    }
    wanted = float(share or 1.0) * references[reference]
    # A governed engine has no faster speed than that of its governor.
    return min(wanted, rig.governor.governed_speed) if rig.governor is not None else wanted


def _frames(segment: Segment) -> int:
    return max(round(segment.seconds / FRAME), 1)


def _foot(part: NDArray[np.void], segment: Segment, pedal_before: float, rig: Rig) -> float:
    """Fill in what the foot does in a segment; returns the pedal at its end for the ramp of the next."""
    if segment.hold_speed is not None:
        part["foot"], part["target"] = FOOT_SPEED, segment.hold_speed * _RAD_PER_RPM
        return 0.1
    if segment.hold_load is not None:
        share = rig.vehicle.cruise_load if segment.hold_load == "cruise" else float(segment.hold_load)
        part["foot"], part["target"] = FOOT_TORQUE, share * rig.engine.rated_torque
        return 0.1
    if segment.snap:
        part["foot"] = FOOT_SNAP
        return 0.0
    pedal = segment.pedal or 0.0
    seconds = (np.arange(len(part)) + 1) * FRAME
    share = np.clip(seconds / max(segment.pedal_ramp, FRAME), 0.0, 1.0)
    part["foot"], part["target"] = FOOT_PEDAL, pedal_before + (pedal - pedal_before) * share
    return pedal


def fault_effects(rig: Rig, script: Script, faults: list[FaultSpec], seed: int, frames: int) -> tuple[NDArray[np.void], NDArray[np.uint8]]:
    """Where faults act and how (rows of ``layout.EFFECT``), and in which frames each of them is there, shape (frames, faults)."""
    rows, present = [], np.ones((frames, max(len(faults), 1)), dtype=np.uint8)
    for k, spec in enumerate(faults):
        kind, values, acts = effects_on(spec, rig)
        gate, gate_value = _gate(spec)
        for effect in acts:
            rows.append((HOOK_NAMES.index(effect.hook), _OPS[effect.op], effect.value, gate, gate_value, k))
        # A stream of its own for each fault, so that a second fault does not move the gaps of the first.
        chance = np.random.default_rng([seed, zlib.crc32(spec.model_dump_json().encode())])
        if kind.pulses is not None:
            present[:, k] = _pulses(chance, frames, *kind.pulses(values))
        elif spec.onset.mode == "wiggle":
            present[:, k] = _moved(script, str(values.get("circuit", kind.place)))
        elif spec.onset.mode == "random":
            present[:, k] = _on_and_off(chance, frames, spec.onset.on_s or 1.0, spec.onset.off_s or 1.0)
    return np.array(rows, dtype=EFFECT), present


def _gate(spec: FaultSpec) -> tuple[int, float]:
    onset = spec.onset
    if onset.mode == "hot":
        return GATE_ABOVE_COOLANT, (onset.above_C or 0.0) + 273.15
    if onset.mode == "cold":
        return GATE_BELOW_COOLANT, (onset.below_C or 0.0) + 273.15
    if onset.mode == "load":
        return GATE_ABOVE_TORQUE, (onset.above_percent or 0.0) / 100.0
    if onset.mode == "after_hot_soak":
        return GATE_AFTER_SOAK, onset.for_s or 0.0
    return GATE_ALWAYS, 0.0


def _moved(script: Script, place: str) -> NDArray[np.uint8]:
    """Frames in which a hand moves the part: a contact that is loose only there stays closed everywhere else."""
    parts = [np.full(_frames(segment), segment.wiggle == place, dtype=np.uint8) for segment in script.segments]
    return np.concatenate(parts)


def _pulses(chance: np.random.Generator, frames: int, seconds: float, per_minute: float) -> NDArray[np.uint8]:
    """Random instants (Poisson) at which something is there for a fixed time."""
    mask = np.zeros(frames, dtype=np.uint8)
    now, length = 0.0, max(round(seconds / FRAME), 1)
    while True:
        now += chance.exponential(60.0 / per_minute)
        start = int(now / FRAME)
        if start >= frames:
            return mask
        mask[start : start + length] = 1
        now += seconds


def _on_and_off(chance: np.random.Generator, frames: int, on: float, off: float) -> NDArray[np.uint8]:
    """Random stretches present and absent with the given mean times."""
    mask = np.zeros(frames, dtype=np.uint8)
    now, there = 0.0, False
    while now < frames * FRAME:
        length = chance.exponential(on if there else off)
        if there:
            mask[int(now / FRAME) : int((now + length) / FRAME) + 1] = 1
        now, there = now + length, not there
    return mask
