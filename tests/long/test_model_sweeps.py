"""The model over everything that it is asked for: weather, drives, circuits. Only with ./leitfaden test --long."""

import os
from concurrent.futures import ProcessPoolExecutor
from multiprocessing import get_context
from typing import Any

import numpy as np
import pytest

from circuits_alone import KINDS, OWN
from leitfaden_core.expect import individual_engine
from leitfaden_core.faults import parse_fault
from leitfaden_core.monitors import trouble_codes
from leitfaden_core.rigs import load_rig, rig_ids, variant_ids
from leitfaden_core.scripts import load_script, reading_scripts
from leitfaden_core.simulate import simulate
from leitfaden_core.wiring.circuits import CIRCUITS, circuits_of

pytestmark = pytest.mark.skipif(not os.environ.get("LEITFADEN_LONG"), reason="only with ./leitfaden test --long")

ENGINES = [*rig_ids(), *variant_ids()]
#: Weather in which sound engines are driven: temperature and pressure of the air. [°C], [kPa]
WEATHER = [(-18.0, 101.3), (-5.0, 85.0), (20.0, 101.3), (20.0, 80.0), (38.0, 101.3), (40.0, 95.0)]


def everywhere(work: Any, jobs: list[Any]) -> list[Any]:
    with ProcessPoolExecutor(2, mp_context=get_context("fork")) as pool:
        return list(pool.map(work, jobs, chunksize=4))


def _unsound(job: tuple[str, int, float, float]) -> list[str]:
    """What a sound engine did that it must not do."""
    rig, (name, seed, celsius, kpa) = load_rig(job[0]), job
    own = individual_engine(rig, seed) | {"ambient_temp": celsius + 273.15, "ambient_pressure": kpa * 1000.0}
    found = []
    for script in reading_scripts():
        run = simulate(rig, script, [], seed, own)
        rows = run.lanes
        steady = rows[(rows["running"] > 0.5) & (rows["run_seconds"] > 20.0) & (rows["rpm_true"] > 500.0)]
        air = min(celsius, script.ambient.temp_C if script.ambient else celsius)
        limits = {
            "codes": not trouble_codes(run),
            "coolant": float(rows["ect_true"].max()) < 114.0 and float(steady["ect_true"].max(initial=0.0)) < 112.0,
            "battery": float(steady["battery_v"].max(initial=0.0)) < 14.9,
            "exhaust": float(rows["egt_1_true"].min()) > air - 1.0,
            "pressure": float(rows["map_true"].min()) > 5.0,
            "speed": float(rows["rpm_true"].max()) < 1.08 * rig.control.speed_limit,
        }
        found += [
            f"{name} {script.id} {celsius:g} °C {kpa:g} kPa: {what}" for what, holds in limits.items() if not holds
        ]
    return found


def test_sound_engines_set_no_code_and_stay_within_physical_limits_in_every_weather_and_drive() -> None:
    jobs = [(name, 900 + k, *weather) for name in ENGINES for k in range(3) for weather in WEATHER]
    assert [line for lines in everywhere(_unsound, jobs) for line in lines] == []


def _not_alone(job: tuple[str, str, str]) -> str:
    name, circuit, kind = job
    run = simulate(load_rig(name), load_script("workshop_day"), [parse_fault(f"{kind}:circuit={circuit}")], 0)
    found, own = set(trouble_codes(run)), OWN[CIRCUITS[circuit].wire]
    return "" if found and found <= own else f"{name} {kind} {circuit}: {sorted(found)}"


def test_every_electrical_fault_of_every_signal_sets_its_own_codes_and_silences_what_depends_on_it() -> None:
    jobs = [
        (name, circuit, kind) for name in ENGINES for circuit in circuits_of(load_rig(name), "signal") for kind in KINDS
    ]
    assert [line for line in everywhere(_not_alone, jobs) if line] == []


def _oxygen_lost(name: str) -> float:
    """Share of the oxygen through the catalyst over the workshop day that neither left it nor stayed in its store."""
    from rides import by_hand

    machine = by_hand(name)
    before, through, missing = float(machine.state["gas"]["store"][0]), 0.0, 0.0
    for _ in range(6000):
        row = machine.advance(1)[0]
        gas = machine.state["gas"][0]
        mass = float(row["maf_true"]) * 1.068 / 1000.0 * 0.01 * 0.232
        through += mass
        missing += mass * float(gas["phi_behind"] - gas["phi_pipe"])
    kept = (float(machine.state["gas"]["store"][0]) - before) * float(machine.params["oxygen_store"][0])
    return abs(kept - missing) / through


@pytest.mark.parametrize(
    "name", [name for name in ENGINES if "catalyst" in load_rig(name).features and "R5-" not in name]
)
def test_oxygen_is_conserved(name: str) -> None:
    assert _oxygen_lost(name) < 2e-3


def test_no_number_of_a_sound_drive_is_undefined_where_it_is_measured() -> None:
    for name in ENGINES:
        rows = simulate(load_rig(name), load_script("workshop_day"), [], 0).lanes
        powered = rows[rows["powered"] > 0.5]
        assert np.isfinite(powered["rpm"]).all() and np.isfinite(powered["ect"]).all(), name
