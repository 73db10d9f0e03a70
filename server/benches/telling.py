"""A bench in plain data, for those who watch it."""

from dataclasses import asdict
from functools import cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from benches.sealed import sealed
from leitfaden_core.channels import channel
from leitfaden_core.expect import MissingSheet
from leitfaden_core.instruments import Observation, Vehicle, instruments, measure
from leitfaden_core.live import Bench, Cover, Present, circuit_of, judged, parted, to_be_seen, told
from leitfaden_core.monitors import code
from leitfaden_core.quantities import QUANTITIES
from leitfaden_core.rigs import shown_quantity
from leitfaden_core.scripts import CONDITIONS
from leitfaden_core.simulate.hands import KEYS
from leitfaden_core.simulate.layout import FOOT_PEDAL, FOOT_SNAP, FOOT_SPEED, FOOT_TORQUE
from simulations.lanes import bands
from simulations.wishes import oxygen_limits, rules_and_units

_KEYS = {number: name for name, number in KEYS.items()}
_FEET = {FOOT_PEDAL: "pedal", FOOT_SPEED: "speed", FOOT_TORQUE: "load", FOOT_SNAP: "snap"}


def opening(bench: Bench, cover: Cover | None) -> dict[str, Any]:
    """Everything that somebody needs who begins to watch. Under a cover, here and below: nothing of what is wrong, of
    the twin, of truths and of pins.
    """
    begun = bench.beginning.model_dump(mode="json")
    return {
        "rig": bench.rig.id,
        "beginning": begun if cover is None else begun | {"faults": [], "individual": {}, "seed": 0},
        "cover": None if cover is None else cover.model_dump(mode="json"),
        "frame": bench.frame,
        "events": events(bench),
        "vehicle": vehicle(bench, cover),
        "codes": codes(bench),
        "now": now(bench, cover),
        "marks": marks(bench, cover),
        "bands": _bands(bench),
        "quantities": {name: shown_quantity(bench.rig, name) for name in bench.history.channels},
    }


def _bands(bench: Bench) -> list[dict[str, Any]]:
    """What healthy engines show in each condition; none where the engine has no value sheet yet."""
    try:
        return bands(bench.rig, bench.history.channels)
    except MissingSheet:
        return []


def events(bench: Bench, first: int = 0) -> list[dict[str, Any]]:
    """What was done, from the thing number ``first`` on, and its words."""
    words = told(bench.beginning, bench.journal, first)
    return [
        {"frame": done.frame, "doing": done.doing.model_dump(mode="json", exclude_none=True), "words": said}
        for done, said in zip(bench.journal[first:], words, strict=True)
    ]


def now(bench: Bench, cover: Cover | None) -> dict[str, Any]:
    """The values of all channels at this instant, as their displays show them, and the condition it is in."""
    moment = bench.moment
    values, twin = ({}, {}) if moment is None else (_values(bench, side[-1]) for side in (moment.rows, moment.twin))
    if cover is not None:
        values, twin = {name: values[name] for name in to_be_seen(list(values))}, {}
    condition = CONDITIONS[bench.condition].label if bench.condition else None
    return {
        "frame": bench.frame,
        "condition": bench.condition,
        "condition_label": condition,
        "values": values,
        "twin": twin,
    }


def marks(bench: Bench, cover: Cover | None) -> dict[str, list[str]]:
    """What stands out on the thread: displays that the control unit makes up, and those that part from the truth."""
    moment = bench.moment
    if moment is None:
        return {"substitutes": [], "parted": []}
    substitutes = [name for name in bench.history.channels if _stands_in(moment.rows[-1], name)]
    return {
        "substitutes": substitutes,
        "parted": parted(bench.rig, moment.rows, moment.twin) if cover is None else [],
    }


def _values(bench: Bench, row: Any) -> dict[str, float]:
    """Values of a row as their displays show them: whole steps, as ``channels.rounded`` has them; NaN becomes null."""
    steps = _steps(tuple(bench.history.channels))
    shown = np.round(np.round(bench.history.of_row(row) / steps) * steps, 6)
    return dict(zip(bench.history.channels, shown.tolist(), strict=True))


@cache
def _steps(channels: tuple[str, ...]) -> NDArray[np.float64]:
    return np.array([channel(name).step for name in channels])


def _stands_in(row: Any, name: str) -> bool:
    status = channel(name).stands_in
    return bool(status) and float(row[status]) > 0.5


def observation(vehicle: Present, twin: Present, wish: dict[str, Any]) -> dict[str, Any]:
    """What an instrument shows; with what it shows on the twin, sealed, where the running engine itself is read."""
    told = asdict(_read(vehicle, wish))
    beside = not told["refused"] and vehicle.is_read_now(wish["condition"])
    sound = {shown.id: shown for shown in _read(twin, wish).shown} if beside else {}
    for shown in told["shown"]:
        shown["unit"] = QUANTITIES[shown["quantity"]].kept if shown["quantity"] in QUANTITIES else ""
        other = sound.get(shown["id"])
        shown["sealed"] = sealed(other) if other else ""
    return {"observation": told}


def _read(vehicle: Vehicle, wish: dict[str, Any]) -> Observation:
    return measure(
        instruments.get(wish["instrument"]), vehicle, wish["place"], wish["condition"], wish["options"], wish["seed"]
    )


def circuit(bench: Bench, wire: str, cover: Cover | None) -> list[dict[str, Any]]:
    """The wires of a sensor, joint after joint with volts; under a cover the volts are there to be measured."""
    wires = [asdict(wire) for wire in circuit_of(bench, wire)]
    for joint in (joint for wire in wires if cover is not None for joint in wire["joints"]):
        joint["volts"] = None
    return wires


def verdicts(bench: Bench, channels: list[str], wish: dict[str, Any]) -> dict[str, Any]:
    """Verdicts on channels in the condition that it is in, by the limits and in the units of a person."""
    rules, units = rules_and_units(wish)
    lanes = judged(bench, channels, rules, oxygen_limits(wish), units)
    return {
        "condition": bench.condition,
        "readings": [
            {
                "condition": lane.condition,
                "channel": lane.channel,
                "value": lane.value if lane.measure == "mean" else None,
                "low": lane.band.low if lane.band else None,
                "high": lane.band.high if lane.band else None,
                "verdict": str(lane.verdict.kind),
                "measure": lane.measure,
                "reason": lane.verdict.reason,
            }
            for lane in lanes
        ],
    }


def codes(bench: Bench) -> dict[str, Any]:
    """Codes with freeze frames, lamp and readiness, as the control unit has them now."""
    report = bench.diagnosis.report()
    return {
        "lamp": report.lamp,
        "codes": [asdict(stored) | {"meaning": code(stored.code, bench.rig).meaning} for stored in report.codes],
        "readiness": dict(report.readiness),
    }


def _last(bench: Bench, do: str, before: dict[str, Any]) -> dict[str, Any]:
    """How something was left that is only switched."""
    done = next((done.doing for done in reversed(bench.journal) if done.doing.do == do), None)
    return before if done is None else done.model_dump(exclude={"do"})


def vehicle(bench: Bench, cover: Cover | None) -> dict[str, Any]:
    """Where hands, faults, plugs, hoses and parts are."""
    machine = bench.machine
    hands, work = machine.hands, machine.work
    gear = None if hands.roller is None else {"speed": hands.roller[1], "ratio": hands.gear_ratio}
    return {
        "key": _KEYS[hands.key],
        "foot": _FEET[hands.foot],
        "target": hands.target,
        "roller": gear,
        "time_lapse": hands.time_lapse,
        "faults": [
            {"name": name, "fault": put.now.model_dump(mode="json"), "since": put.since}
            for name, put in machine.faults.items()
            if cover is None
        ],
        "unplugged": sorted(work.unplugged),
        "closed": sorted(work.closed),
        "parts": sorted(work.gone),
        "held": dict(sorted(work.held)),
        "consumers": _last(bench, "switch_consumers", {"lights": False, "air_conditioning": False}),
        "stood_h": round(float(machine.state["unit"]["soak_time"][0]) / 3600.0, 3),
        "charger": _last(bench, "connect_charger", {"on": False})["on"],
        "weather": {
            "temp_C": round(float(machine.params["ambient_temp"][0]) - 273.15, 2),
            "baro_kPa": round(float(machine.params["ambient_pressure"][0]) / 1000.0, 2),
        },
    }
