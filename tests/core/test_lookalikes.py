"""No two faults are the same: what all readings, all codes and a multimeter cannot tell apart, a diagnostic test
can.
"""

import itertools
from concurrent.futures import ThreadPoolExecutor

import numpy as np
import pytest
from numpy.typing import NDArray

from leitfaden_core.channels import Layer, channel
from leitfaden_core.diagnose import Table, candidate_of, candidates, look_alikes, table
from leitfaden_core.faults import FaultSpec, offered_on
from leitfaden_core.monitors import CODES, trouble_codes
from leitfaden_core.rigs import Rig, load_rig, rig_channels, rig_ids
from leitfaden_core.scripts import load_script
from leitfaden_core.simulate import Run, simulate
from leitfaden_core.simulate.pins import network_at
from leitfaden_core.wiring.circuits import CIRCUITS, circuits_of
from leitfaden_core.wiring.network import GROUND

pytestmark = pytest.mark.model

DAY = load_script("workshop_day")
#: Readings that differ by less than two steps of their display, and meter readings by less than this, count as equal.
STEPS, VOLTS, OHMS_SHARE = 2.0, 0.03, 0.02


def all_faults(rig: Rig) -> list[FaultSpec]:
    """Every kind with every choice that a rig's diagnosis knows as a cause, at its middle size."""
    found = []
    causes = {cause.kind for cause in candidates(rig)}
    for kind, choices in offered_on(rig).items():
        if kind not in causes:
            continue
        for picked in itertools.product(*choices.values()):
            found.append(FaultSpec(kind=kind, params=dict(zip(choices, picked, strict=True))))
    return found


def readings(run: Run) -> NDArray[np.float64]:
    """What scan tool, pins and codes show, in steps of their display."""
    names = [name for name in rig_channels(run.rig) if channel(name).layer is not Layer.TRUTH]
    values = [
        run.statistic(condition, name, stat) / channel(name).step
        for condition in run.script.conditions()
        for name in names
        for stat in ("mean", "min", "max")
    ]
    stored = trouble_codes(run)
    codes = [100.0 * (code in stored) for code in CODES]
    gauges = [
        10.0 * run.statistic("wot_pull", name, "mean") for name in ("exhaust_backpressure", "pressure_behind_catalyst")
    ]
    return np.nan_to_num(np.array([*values, *codes, *gauges]))


def meter(run: Run) -> NDArray[np.float64]:
    """What a multimeter shows with the key on at every pin, plugged and unplugged, and with the key off between the
    ends of every wire.
    """
    seconds = sum(run.script.span("koeo")) / 2.0
    wires = [CIRCUITS[name].wire for name in circuits_of(run.rig, "signal")]
    found: list[float] = []
    for unplugged in (frozenset[str](), frozenset(wires)):
        net = network_at(run, seconds, unplugged)
        voltages = net.solve()
        found += [voltages[name] / VOLTS for name in sorted(voltages) if not name.endswith("output")]
        dead = network_at(run, seconds, unplugged, key_off=True)
        nodes = dead.nodes()
        ends = sorted(name for name in nodes if name.endswith((".signal", ".supply", ".heater plus", ".pump")))
        pairs = [(name, GROUND) for name in ends]
        for name in ends:
            sensor = name.removesuffix(".signal").removesuffix(".pump")
            pairs += [(name, unit) for unit in (f"unit.{sensor}", f"unit.{sensor} pump") if unit in nodes]
        pairs += [(name, name.replace("plus", "minus")) for name in nodes if name.endswith("sensor.heater plus")]
        found += [np.log(1e8 if ohms is None else max(ohms, 0.1)) / OHMS_SHARE for ohms in dead.resistances(pairs)]
    return np.array(found)


def told_apart(causes: Table, one: FaultSpec, two: FaultSpec) -> bool:
    """Whether any of the rig's diagnostic tests tells two faults apart, at the sizes that come nearest."""
    first, second = (candidate_of(causes.rig, fault).id for fault in (one, two))
    return second not in {alike.candidate for alike in look_alikes(causes, first, list(causes.slices))}


@pytest.mark.slow
@pytest.mark.parametrize("rig_id", rig_ids())
def test_no_two_faults_are_the_same_in_everything_that_can_be_measured(rig_id: str) -> None:
    rig = load_rig(rig_id)
    specs = all_faults(rig)
    with ThreadPoolExecutor(2) as pool:
        runs = list(pool.map(lambda spec: simulate(rig, DAY, [spec], cold_memory=True), specs))
    seen = [np.concatenate([readings(run), meter(run)]) for run in runs]
    causes = table(rig)
    alike = [
        f"{one.kind} {one.params} and {two.kind} {two.params}"
        for (one, here), (two, there) in itertools.combinations(zip(specs, seen, strict=True), 2)
        if np.max(np.abs(here - there)) < STEPS and not told_apart(causes, one, two)
    ]
    assert alike == []
