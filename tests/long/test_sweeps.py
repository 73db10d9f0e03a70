"""Sweeps over many engines and all cases: what a class would meet in years. Only with ./leitfaden test --long."""

import os
import sys
from concurrent.futures import ProcessPoolExecutor
from multiprocessing import get_context
from pathlib import Path

import pytest

from leitfaden_core import cases
from leitfaden_core.cases import parse_cases
from leitfaden_core.channels import Layer, channel
from leitfaden_core.diagnose import candidate_of, hidden_vehicle, table, take, way_of_a_technician
from leitfaden_core.expect import individual_engine
from leitfaden_core.instruments import Vehicle
from leitfaden_core.judge import VerdictKind, judge_reading
from leitfaden_core.lessons.item import read_value
from leitfaden_core.lessons.shapes import ReadingPlace
from leitfaden_core.monitors import trouble_codes
from leitfaden_core.rigs import load_rig, rig_channels, rig_ids
from leitfaden_core.scripts import load_script
from leitfaden_core.simulate import simulate

pytestmark = pytest.mark.skipif(not os.environ.get("LEITFADEN_LONG"), reason="only with ./leitfaden test --long")

#: Sound engines of each rig, and hidden vehicles.
ENGINES, VEHICLES = 60, 120
#: Tests after which a technician gives up.
DAY = 24
CATALOGUE = Path(cases.__file__).parent / "data" / "hollerbach.yaml"


def say(text: str) -> None:
    sys.stdout.write(f"\n  {text}\n")
    sys.stdout.flush()


def _alarms(job: tuple[str, int]) -> tuple[int, int, list[str]]:
    """Readings judged, those called faulty, and codes, of a sound engine."""
    rig, seed = load_rig(job[0]), job[1]
    run = simulate(rig, load_script("workshop_day"), [], seed, individual_engine(rig, seed))
    judged = faulty = 0
    for condition in run.script.conditions():
        for name in (name for name in rig_channels(rig) if channel(name).layer is Layer.SCAN):
            place = ReadingPlace(condition=condition, channel=name)
            kind = judge_reading(rig, condition, name, read_value(run, place)).kind
            judged += kind is not VerdictKind.NOT_DECIDABLE
            faulty += kind is VerdictKind.FAULTY
    return judged, faulty, list(trouble_codes(run))


@pytest.mark.parametrize("rig_id", rig_ids())
def test_sound_engines_are_left_in_peace(rig_id: str) -> None:
    with ProcessPoolExecutor(2, mp_context=get_context("fork")) as pool:
        found = list(pool.map(_alarms, [(rig_id, 60_000 + k) for k in range(ENGINES)], chunksize=4))
    judged, faulty = sum(row[0] for row in found), sum(row[1] for row in found)
    codes = [code for row in found for code in row[2]]
    say(
        f"{rig_id}: {ENGINES} sound engines, {judged} readings judged, {faulty} called faulty "
        f"({100 * faulty / judged:.2f} %), codes {sorted(set(codes)) or 'none'}"
    )
    assert faulty / judged < 0.002 and not codes


def _solved(job: tuple[str, int]) -> tuple[str, bool, bool, float]:
    rig = load_rig(job[0])
    vehicle = hidden_vehicle(rig, job[1])
    if not vehicle.faults:
        return "nothing_wrong", True, True, 0.0
    cause = candidate_of(rig, vehicle.faults[0]).id
    way = way_of_a_technician(table(rig), lambda name: take(vehicle, name), limit=DAY)
    return cause, True, way.proven and way.end.candidate == cause, way.minutes


@pytest.mark.parametrize("rig_id", rig_ids())
def test_a_technician_who_takes_the_best_next_test_arrives(rig_id: str) -> None:
    table(load_rig(rig_id))
    with ProcessPoolExecutor(2, mp_context=get_context("fork")) as pool:
        found = list(pool.map(_solved, [(rig_id, 80_000 + k) for k in range(VEHICLES // 6)], chunksize=2))
    proven = [row for row in found if row[2]]
    minutes = sorted(row[3] for row in proven)
    lost = sorted(row[0] for row in found if not row[2])
    say(
        f"{rig_id}: {len(proven)} of {len(found)} hidden causes proven, median "
        f"{minutes[len(minutes) // 2]:.0f} min; not proven: {', '.join(lost) or 'none'}"
    )
    assert len(proven) >= 0.6 * len(found)


def test_all_cases_by_a_simulated_technician() -> None:
    """Each single fault of the catalogue, at the school's weather: is there a way to its proof, and what does it
    cost?
    """
    proven, open_ = [], []
    for case in parse_cases(CATALOGUE.read_text(encoding="utf-8")).cases:
        if len(case.faults) != 1 or case.ambient.temp_C != 20.0:
            continue
        vehicle = Vehicle(load_rig(case.engine), tuple(case.faults))
        way = way_of_a_technician(table(vehicle.rig), lambda name, car=vehicle: take(car, name), limit=DAY)
        right = way.end.candidate == candidate_of(vehicle.rig, case.faults[0]).id
        (proven if way.proven and right else open_).append((case.id, way.minutes))
    say(
        f"cases: {len(proven)} of {len(proven) + len(open_)} proven, "
        f"{sum(m for _id, m in proven) / max(len(proven), 1):.0f} min on average; not proven: "
        f"{', '.join(name for name, _m in open_) or 'none'}"
    )
    assert len(proven) >= 0.6 * (len(proven) + len(open_))
