"""One run: a script performed on a machine, with the memory that days of driving have left; lanes and their
statistics.
"""

from collections.abc import Iterable
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.channels import channel
from leitfaden_core.compiled import uncollected
from leitfaden_core.faults import FaultSpec
from leitfaden_core.rigs import Rig, load_rig, rig_channels
from leitfaden_core.scripts import CONDITIONS, Script, load_script
from leitfaden_core.simulate.actions import Action, PutFault, script_actions
from leitfaden_core.simulate.beside import Beside
from leitfaden_core.simulate.handwork import UNTOUCHED, Handwork
from leitfaden_core.simulate.layout import FRAME, LANES, LTFT_CELLS, blank_rows, flat
from leitfaden_core.simulate.machine import Follower, Machine
from leitfaden_core.simulate.moments import MOMENTS, moments
from leitfaden_core.simulate.shape import statistic_of, statistics_of

#: A learned memory has settled when its mean over one window moves by no more than this until the next; a window holds
#: some periods of a limit cycle. [-], [frames]
SETTLED_WITHIN, SETTLE_WINDOW = 0.002, 200
#: Drives through all its cells until they have settled.
SETTLE_ROUNDS = 3

#: condition -> channel -> statistic -> value (NaN where the channel is not defined there)
Statistics = dict[str, dict[str, dict[str, float]]]


@dataclass(frozen=True)
class Run:
    """What a run recorded: one row of lanes every 10 ms, script and rig it came from, the learned memory at its
    start.
    """

    rig: Rig
    script: Script
    faults: tuple[FaultSpec, ...]
    seed: int
    lanes: NDArray[np.void]
    memory: NDArray[np.float64]
    work: Handwork = UNTOUCHED

    @property
    def time(self) -> NDArray[np.float64]:
        """Time of each row. [s]"""
        return np.asarray((np.arange(len(self.lanes)) + 1) * FRAME, dtype=np.float64)

    def rows(self, span: tuple[float, float]) -> NDArray[np.void]:
        """Rows of lanes within a span of script time."""
        return self.lanes[rows_of(span)]

    def statistic(self, condition: str, channel_id: str, stat: str) -> float:
        """A statistic of a channel in a condition; NaN where the channel is not defined there."""
        rows = self.rows(self.script.span(condition, stat))
        return statistic_of(lambda name: rows[name], channel_id, stat, len(rows) * FRAME)

    def substituted(self, condition: str, channel_id: str) -> bool:
        """Whether a channel shows the control unit's own making in a condition, since its sensor is lost."""
        status = channel(channel_id).stands_in
        return bool(status) and float(np.mean(self.rows(self.script.span(condition))[status])) > 0.5

    def summary(self) -> dict[str, dict[str, dict[str, float | str | None]]]:
        """Per condition and channel: unit, layer, mean, min, max, std and, where it switches, freq."""
        table: dict[str, dict[str, dict[str, float | str | None]]] = {}
        for condition in self.script.conditions():
            table[condition] = {}
            for name in rig_channels(self.rig):
                entry = channel(name)
                stats = {stat: self.statistic(condition, name, stat) for stat in ("mean", "min", "max", "std")}
                frequency = self.statistic(condition, name, "freq") if channel(name).swings == "switching" else None
                values = {key: None if np.isnan(value) else round(value, 5) for key, value in stats.items()}
                table[condition][name] = {
                    "unit": _unit(entry.quantity),
                    "layer": str(entry.layer),
                    **values,
                    "freq": None if frequency is None else round(frequency, 4),
                }
        return table


def rows_of(span: tuple[float, float]) -> slice:
    """Rows of a run within a span of script time. [s]"""
    return slice(round(span[0] / FRAME), round(span[1] / FRAME))


def _unit(quantity: str) -> str:
    from leitfaden_core.quantities import QUANTITIES

    return QUANTITIES[quantity].kept


_LANE = {name: k for k, name in enumerate(LANES.names or ())}


def steady_statistics(run: Run, channels: list[str]) -> Statistics:
    """Statistics of some channels in all conditions of a run, as plain numbers (NaN where not defined): those of
    :func:`shape.statistics_of`.
    """
    found: Statistics = {}
    places = np.array([_LANE[name] for name in channels], dtype=np.intp)
    for condition in run.script.conditions():
        if condition not in CONDITIONS:
            continue
        table: dict[str, dict[str, float]] = {name: {} for name in channels}
        spans = {stat: run.script.span(condition, stat) for stat in MOMENTS}
        found_in = {span: moments(flat(run.rows(span)), places).tolist() for span in set(spans.values())}
        for k, (stat, span) in enumerate(spans.items()):
            for name, value in zip(channels, found_in[span][k], strict=True):
                table[name][stat] = value
        for name in channels:
            for stat in statistics_of(name)[len(MOMENTS) :]:
                table[name][stat] = run.statistic(condition, name, stat)
        found[condition] = table
    return found


def measured(
    rig: Rig, script: Script, faults: list[FaultSpec], seed: int = 0, individual: dict[str, float] | None = None
) -> Statistics:
    """Statistics of all channels of a rig in all conditions of a script, which is driven as far as something is
    read.
    """
    return steady_statistics(simulate(rig, script.to_last_window(), faults, seed, individual), rig_channels(rig))


def simulate(
    rig: Rig,
    script: Script,
    faults: list[FaultSpec],
    seed: int = 0,
    individual: dict[str, float] | None = None,
    cold_memory: bool = False,
    learned_with: list[FaultSpec] | None = None,
    work: Handwork = UNTOUCHED,
    settled: bool = False,
    followers: tuple[Follower, ...] = (),
) -> Run:
    """Run a rig with faults along a script.

    Parameters
    ----------
    faults : list of FaultSpec
        Checked here; LeitfadenError says what is wrong with one.
    seed : int
        Same seed, rig, script and faults give the same numbers.
    individual : dict, optional
        Deviations of this engine from its rig.
    cold_memory : bool
        True: start with unlearned trims instead of those that some days of driving with the faults have left.
    learned_with : list of FaultSpec, optional
        Start with the trims that other faults have left: the drive after a repair, in which they find back.
    work : Handwork
        What hands have done to the vehicle besides driving it.
    settled : bool
        The handwork was there on those days of driving already.
    followers : tuple of Follower
        Who looks on, in a thread beside the drive; they have seen all of it when this returns.
    """
    before = faults if learned_with is None else learned_with
    since = work if settled else UNTOUCHED
    memory = np.zeros(2 * LTFT_CELLS) if cold_memory else settle_memory(rig, before, seed, individual, since)
    lanes, _after = run_script(rig, script, faults, seed, individual, memory, work, followers)
    return Run(rig, script, tuple(faults), seed, lanes, memory, work)


def settle_memory(
    rig: Rig, faults: list[FaultSpec], seed: int, individual: dict[str, float] | None, work: Handwork = UNTOUCHED
) -> NDArray[np.float64]:
    """Long-term trims after some days of driving with these faults, one per cell. [-]"""
    own = tuple(sorted((individual or {}).items()))
    return _settle(rig, tuple(fault.model_dump_json() for fault in faults), seed, own, work).copy()


@lru_cache(maxsize=256)
def _settle(
    rig: Rig, faults: tuple[str, ...], seed: int, individual: tuple[tuple[str, float], ...], work: Handwork
) -> NDArray[np.float64]:
    drive, memory = load_script("settle_memory"), np.zeros(2 * LTFT_CELLS)
    if rig.mixture is None:
        return memory
    specs = [FaultSpec.model_validate_json(fault) for fault in faults]
    machine = machine_for(rig, drive, specs, seed, dict(individual), memory, work)
    for _ in range(SETTLE_ROUNDS):
        still = [_stands_still(machine, done, frames) for done, frames in script_actions(drive)]
        if all(still):
            break
    return machine.learned


def _stands_still(machine: Machine, done: Iterable[Action], frames: int) -> bool:
    """Drive a stretch until what is learned in it moves no more, or to its end; whether it stood still.

    Means over windows are compared, since a switching loop's limit cycle never lets the memory rest.
    """
    for action in done:
        machine.act(action)
    before = np.full(2, np.inf)
    for _ in range(frames // SETTLE_WINDOW):
        rows = machine.advance(SETTLE_WINDOW)
        now = np.array([rows["ltft"].mean(), rows["ltft_2"].mean()]) / 100.0
        if np.max(np.abs(now - before)) < SETTLED_WITHIN:
            return True
        before = now
    return False


def machine_for(
    rig: Rig,
    script: Script,
    faults: list[FaultSpec],
    seed: int,
    individual: dict[str, float] | None,
    memory: NDArray[np.float64],
    work: Handwork = UNTOUCHED,
) -> Machine:
    """A machine at the start of a script: in its weather, with the faults in it and the handwork done."""
    machine = Machine(rig, seed, individual, script.start, memory, script.ambient, work)
    for k, fault in enumerate(faults):
        machine.act(PutFault(name=f"fault {k + 1}", fault=fault))
    return machine


def run_script(
    rig: Rig,
    script: Script,
    faults: list[FaultSpec],
    seed: int,
    individual: dict[str, float] | None,
    memory: NDArray[np.float64],
    work: Handwork = UNTOUCHED,
    followers: tuple[Follower, ...] = (),
) -> tuple[NDArray[np.void], NDArray[np.float64]]:
    """Perform a script on a machine: its lanes, and the long-term trims that it leaves.

    ``memory``: those that it begins with. ``followers``: who looks on (see :class:`beside.Beside`).
    """
    machine = machine_for(rig, script, faults, seed, individual, memory, work)
    steps = list(script_actions(script))
    lanes = blank_rows(sum(frames for _done, frames in steps))
    with Beside(followers, lanes) as beside:
        for done, frames in steps:
            for action in done:
                machine.act(action)
            machine.advance(frames, lanes[machine.frame : machine.frame + frames])
            beside.recorded(machine.frame)
    return lanes, machine.learned


def warm_up_compiler() -> None:
    """Compile, or load from the cache, everything that a request would call: a short run of the first rig."""
    with uncollected():
        run = simulate(load_rig("R1"), load_script("settle_memory"), [], 0, cold_memory=True)
        moments(flat(run.lanes), np.zeros(1, dtype=np.intp))


@lru_cache(maxsize=12)
def _cached(
    rig: Rig, script: str, faults: tuple[str, ...], seed: int, individual: tuple[tuple[str, float], ...]
) -> Run:
    specs = [FaultSpec.model_validate_json(fault) for fault in faults]
    return simulate(rig, Script.model_validate_json(script), specs, seed, dict(individual))


def cached_run(
    rig: Rig, script: Script, faults: list[FaultSpec], seed: int = 0, individual: dict[str, float] | None = None
) -> Run:
    """:func:`simulate`, remembering the last runs: editors and players ask for the same one many times."""
    own = tuple(sorted((individual or {}).items()))
    return _cached(rig, script.model_dump_json(), tuple(fault.model_dump_json() for fault in faults), seed, own)
