"""The whole wiring at one instant of a run, for whoever wants to put a meter on it."""

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.rigs import Rig
from leitfaden_core.scripts import Segment
from leitfaden_core.sensors.temperature import PTC_PULL_UP
from leitfaden_core.simulate.layout import CIRCUITS as WIRES
from leitfaden_core.simulate.layout import FRAME, HOOK_NAMES, HOOKS
from leitfaden_core.simulate.params import effect_rows
from leitfaden_core.simulate.parts.effects import apply_faults_to
from leitfaden_core.simulate.presence import Presence
from leitfaden_core.simulate.run import Run
from leitfaden_core.wiring.circuits import CIRCUITS
from leitfaden_core.wiring.harness import Key, OperatingPoint, WireFault, harness
from leitfaden_core.wiring.network import Network

#: Sensor of the rig -> name of its wire -> lane with what it gives before any wire.
_SHARES = {
    "map": "map",
    "charge": "charge",
    "tp": "tp",
    "rail": "rail",
    "dpf_dp": "dpf_dp",
    "egr": "egr_pin",
    "egr_dp": "egr_dp",
    "app": "app",
}

#: Wires of narrowbands, with the sensor and the lanes of what the cell gives and of its resistance: one element's
#: warmth stands for both front ones.
_CELLS = (
    ("front", "ho2s_b1s1", "front_source", "front_ohms"),
    ("front2", "ho2s_b2s1", "front2_source", "front_ohms"),
    ("rear", "ho2s_b1s2", "rear_source", "rear_ohms"),
)

#: Wires that all share -> their node.
_SHARED = {"reference": "reference", "sensor_ground": "sensor ground", "engine_ground": "engine block"}


def network_at(run: Run, seconds: float, unplugged: frozenset[str] = frozenset(), key_off: bool = False) -> Network:
    """The circuit of a run's rig at a time of its script.

    Parameters
    ----------
    seconds : float
        Script time.
    unplugged : set
        Wires whose plug is off at the sensor, by their names in ``layout.CIRCUITS``.
    key_off : bool
        The same instant with the key switched off and the relay dropped, for resistances.
    """
    frame = min(max(int(seconds / FRAME), 0), len(run.lanes) - 1)
    return _network(run, frame, hooks_at(run, frame), unplugged, key_off)


def hooks_at(run: Run, frame: int) -> dict[str, float]:
    """Where faults act, with the values that they have in a frame of a run."""
    moved = _segment_at(run, (frame + 0.5) * FRAME).wiggle
    return _hooks(run, frame, presence(run, frame, 1, moved)[0])


def presence(run: Run, first: int, frames: int, moved: str | None) -> NDArray[np.uint8]:
    """Which faults of a run are there while a hand moves a place, shape (frames, faults + 1)."""
    present = np.ones((frames, len(run.faults) + 1), dtype=np.uint8)
    for k, fault in enumerate(run.faults):
        Presence(fault, run.seed, 0).fill(present[:, k], first, moved)
    return present


def jump_under_hand(run: Run, seconds: float, circuit: str, watched: float = 3.0) -> float:
    """How far the voltage at a circuit jumps while its plug is moved at an instant of a run. [V]"""
    frame = min(max(int(seconds / FRAME), 0), len(run.lanes) - 1)
    ways = np.unique(presence(run, frame, round(watched / FRAME), circuit), axis=0)
    if len(ways) < 2:
        return 0.0
    volts = []
    for way in ways:
        hooks = _hooks(run, frame, way)
        solved = _network(run, frame, hooks, frozenset(), False).solve()
        volts.append({node: value for node, value in solved.items() if _belongs(node, circuit)})
    return max((max(v[node] for v in volts) - min(v[node] for v in volts) for node in volts[0]), default=0.0)


def _belongs(node: str, circuit: str) -> bool:
    """Whether a probe at a node of the network hangs on a circuit."""
    entry = CIRCUITS[circuit]
    if entry.kind == "signal":
        return node == f"unit.{entry.plug}" or node.startswith(f"unit.{entry.plug} ")
    if entry.kind in {"supply", "heater", "actuator"}:
        role = {"supply": "supply", "heater": "heater ", "actuator": "minus"}[entry.kind]
        return node.startswith(f"{entry.plug}.{role}")
    return node == _SHARED[entry.wire]


def _network(run: Run, frame: int, hooks: dict[str, float], unplugged: frozenset[str], key_off: bool) -> Network:
    faults = {name: WireFault(int(hooks[f"circuit_{name}"]), hooks[f"ohms_{name}"]) for name in WIRES}
    point = operating_point(run, frame, hooks, key_off)
    return harness(run.rig, point, faults, unplugged, max(hooks["reference_held"], 0.0))


def _hooks(run: Run, frame: int, present: NDArray[np.uint8]) -> dict[str, float]:
    effects = effect_rows(run.rig, list(run.faults), run.work)
    row = run.lanes[frame]
    values = np.array(list(HOOKS.values()))
    apply_faults_to.py_func(  # type: ignore[attr-defined]
        values,
        effects.view(np.recarray),
        present,
        float(row["ect_true"]) + 273.15,
        float(row["torque_true"]) / run.rig.engine.rated_torque,
        float(row["since_hot_restart"]),
    )
    return dict(zip(HOOK_NAMES, values.tolist(), strict=True))


def operating_point(run: Run, frame: int, hooks: dict[str, float], key_off: bool) -> OperatingPoint:
    """What the sensors give in a frame of a run."""
    row, rig = run.lanes[frame], run.rig
    there = {sensor.id for sensor in rig.sensors}
    shares = {wire: float(row[f"{lane}_share"]) for wire, lane in _SHARES.items() if wire in there}
    if "ambient_wire" in rig.features:
        shares["ambient"] = float(row["ambient_share"])
    usual = rig.thermistors.ntc_pull_up
    pull_ups = {"iat": usual, "ect": float(row["ect_pull_up"]) or usual, "egt_1": PTC_PULL_UP, "egt_2": PTC_PULL_UP}
    ohms = {wire: float(row[f"{wire}_ohms"]) for wire in pull_ups if wire in there}
    volts = {"maf": float(row["meter_output"])} if "maf" in there else {}
    cells = [(wire, source, ohms) for wire, sensor, source, ohms in _CELLS if sensor in there]
    volts |= {wire: float(row[source]) for wire, source, _ohms in cells}
    return OperatingPoint(
        _key(run, frame, key_off),
        float(row["battery_true"]),
        shares,
        ohms,
        pull_ups,
        volts,
        {wire: float(row[ohms]) for wire, _source, ohms in cells},
        _meter_flow(rig, row),
        frozenset(name for name in ("front", "rear", "wideband") if hooks[f"element_{name}_heater"] == 0.0),
        float(row["pump_current"]) if "wideband" in there else None,
        float(row["block_amps"]),
        hooks["front_ground"],
    )


def _key(run: Run, frame: int, key_off: bool) -> Key:
    if key_off or _segment_at(run, (frame + 0.5) * FRAME).key == "off":
        return "off"
    return "running" if run.lanes["running"][frame] > 0.5 else "on"


def _segment_at(run: Run, seconds: float) -> Segment:
    starts = run.script.starts()
    return run.script.segments[max(k for k, start in enumerate(starts) if start <= seconds)]


def _meter_flow(rig: Rig, row: object) -> float:
    return float(row["maf_meter_true"]) / 1000.0 if rig.airflow_meter is not None else 0.0  # type: ignore[index]
