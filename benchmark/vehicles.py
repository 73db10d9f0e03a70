"""How often the diagnosis is right about vehicles that it does not know: hidden faults, sound vehicles, what is said on
the way, and two faults at once.
"""

import math
from collections.abc import Iterable
from typing import Any

import numpy as np

from benchmark.shares import one_by_one, row
from leitfaden_core.chance import chance
from leitfaden_core.diagnose import (
    Table,
    Way,
    ranked,
    table,
    take,
    tests_of,
    until_nothing_is_left,
    way_of_a_technician,
)
from leitfaden_core.diagnose.table import between
from leitfaden_core.expect import individual_engine
from leitfaden_core.faults import FaultSpec
from leitfaden_core.instruments.vehicle import Vehicle
from leitfaden_core.rigs import load_rig, rig_ids

#: First seed of the vehicles, far from those of sheets, tables and tests; another one for every set of figures.
VEHICLES = 5_660_000
#: Probabilities that were said of one vehicle, and whether the cause was the true one.
Said = list[tuple[float, bool]]
#: Tests of a set after which something is said, set by set.
SOME_TESTS = (3, 6, 10) * 4

BRACKETS = ((2.0, 4.0), (4.0, 8.0), (8.0, math.inf))


def separations(causes: Table) -> np.ndarray[Any, np.dtype[np.float64]]:
    """How far each point of the table lies from the sound rig, in the test that tells best. [spreads]"""
    apart = np.abs(np.nan_to_num(causes.points - causes.points[0], nan=1e3)) / causes.spread
    return np.asarray(np.max(apart, axis=1), dtype=np.float64)


def nearest_other(causes: Table, point: int) -> float:
    """How far a point of the table lies from every other cause, sound engines among them, in the test that tells them
    best: the least of these. [spreads]
    """
    others = np.flatnonzero(causes.owner != causes.owner[point])
    loose = causes.looseness(slice(None))
    slack = np.hypot(loose[others], loose[point][None, :])
    gaps = np.abs(np.nan_to_num(causes.points[others], nan=1e3) - np.nan_to_num(causes.points[point], nan=1e3))
    return float((gaps / np.hypot(causes.spread[None, :], slack)).max(axis=1).min())


def drawn(causes: Table, seed: int) -> tuple[str, FaultSpec | None, bool]:
    """A cause by its prior, and a size of a third each: told by 2 to 4 spreads, by 4 to 8, by more; whether any test
    tells it from every other cause at all.
    """
    draws = chance(seed, "hidden by separation")
    shares = np.array([c.prior for c in causes.candidates])
    number = int(draws.choice(len(shares), p=shares / shares.sum()))
    if not causes.candidates[number].kind:
        return "nothing_wrong", None, True
    apart = separations(causes)
    mine = [k for k in np.flatnonzero(causes.owner == number) if causes.meant[k] is not None]
    low, high = BRACKETS[int(draws.integers(len(BRACKETS)))]
    fits = [k for k in mine if low <= apart[k] < high] or [k for k in mine if apart[k] >= BRACKETS[0][0]]
    picked = int(draws.choice(fits or mine))
    fault = somewhere_from(causes, picked, draws.random())
    return causes.candidates[number].id, fault, nearest_other(causes, picked) >= BRACKETS[0][0]


def somewhere_from(causes: Table, point: int, share: float) -> FaultSpec | None:
    """A size at a share of the way from one point of the table to the next: hardly one that the table has simulated."""
    here, after = causes.meant[point], point + 1
    if here is None or after == len(causes.owner) or causes.owner[after] != causes.owner[point]:
        return None if here is None else here.faults[0]
    there = causes.meant[after]
    if there is None or _ends_a_way(causes, point):
        return here.faults[0]
    return (between(here, there, share, causes.rig) or here).faults[0]


def _ends_a_way(causes: Table, point: int) -> bool:
    """Whether the next point of a cause belongs to another way, a shift down after one up: each begins at its
    smallest.
    """
    cause, after = causes.candidates[causes.owner[point]], causes.sizes[point + 1]
    return any(after == way[0] for way in cause.ways)


def _vehicle(rig_id: str, seed: int, faults: Iterable[FaultSpec]) -> Vehicle:
    rig = load_rig(rig_id)
    return Vehicle(rig, tuple(faults), seed, tuple(sorted(individual_engine(rig, seed).items())))


def _hidden(job: tuple[str, int]) -> dict[str, Any]:
    rig_id, seed = job
    true, fault, decidable = drawn(table(load_rig(rig_id), workers=1), seed)
    way = _worked_on(rig_id, seed, fault)
    return {
        "true": true,
        "decidable": decidable,
        "top": way.end.candidate == true,
        "proven": way.proven,
        "minutes": way.minutes,
    }


def _worked_on(rig_id: str, seed: int, fault: FaultSpec | None) -> Way:
    car = _vehicle(rig_id, seed, [fault] if fault is not None else [])
    return way_of_a_technician(table(load_rig(rig_id), workers=1), lambda name: take(car, name))


def _called(job: tuple[str, int]) -> tuple[str, bool]:
    """What a sound vehicle is said to have after twelve tests, and whether that is called proven."""
    end = _worked_on(*job, None).end
    return end.candidate, end.proven


def sound_vehicles(count: int, pool: Any) -> list[dict[str, Any]]:
    """Sound vehicles that somebody looks for a fault in: said to be sound, and a fault "proven"."""
    rigs = rig_ids()
    jobs = [(rigs[k % len(rigs)], VEHICLES + 700_000 + k) for k in range(count)]
    said = list(pool.map(_called, jobs, chunksize=2))
    first = sum(cause == "nothing_wrong" for cause, _proven in said)
    wrong = sum(proven and cause != "nothing_wrong" for cause, proven in said)
    return [
        row("sound vehicle: nothing wrong on top", "95 %", first, len(said)),
        row("sound vehicle: a fault called proven", "at most 1 in 300", wrong, len(said)),
    ]


def hidden_vehicles(count: int, pool: Any) -> list[dict[str, Any]]:
    """Vehicles with an unknown fault, worked on as the evidence leads: right, proven, wrongly proven, minutes."""
    rigs = rig_ids()
    jobs = [(rigs[k % len(rigs)], VEHICLES + k) for k in range(count)]
    found = list(pool.map(_hidden, jobs, chunksize=2))
    told = [entry for entry in found if entry["decidable"] and entry["true"] != "nothing_wrong"]
    right = sum(entry["top"] for entry in told)
    proven = sum(entry["top"] and entry["proven"] for entry in told)
    wrong = sum(not entry["top"] and entry["proven"] for entry in found)
    minutes = float(np.median([entry["minutes"] for entry in told if entry["proven"]] or [math.nan]))
    return [
        row("hidden vehicle, within 12 tests: true cause on top", "95 %", right, len(told)),
        row(f"hidden vehicle: proven (median {minutes:.0f} min)", "90 %", proven, len(told)),
        row("hidden vehicle: wrong proofs", "at most 1 in 300", wrong, len(found)),
        row(
            "hidden vehicle: no test tells it from some other cause, counted apart",
            "-",
            sum(not entry["decidable"] for entry in found),
            len(found),
        ),
    ]


def by_prior(causes: Table, seed: int) -> tuple[str, FaultSpec | None]:
    """A cause and a size as the judge expects them before anything is known: only of such vehicles what it says can be
    right as often as it says.
    """
    draws = chance(seed, "by prior")
    shares = np.array([c.prior for c in causes.candidates])
    number = int(draws.choice(len(shares), p=shares / shares.sum()))
    mine = [k for k in np.flatnonzero(causes.owner == number) if causes.meant[k] is not None]
    if not mine:
        return "nothing_wrong", None
    weights = causes.weight[mine] / causes.weight[mine].sum()
    picked = int(draws.choice(mine, p=weights))
    return causes.candidates[number].id, somewhere_from(causes, picked, draws.random())


def _said(job: tuple[str, int]) -> tuple[Said, Said]:
    rig_id, seed = job
    causes = table(load_rig(rig_id), workers=1)
    true, fault = by_prior(causes, seed)
    car = _vehicle(rig_id, seed, [fault] if fault is not None else [])
    taken = [take(car, test.id) for test in tests_of(causes.rig)]
    draws, said = chance(seed, "random tests"), []
    for count in SOME_TESTS:
        some = [taken[k] for k in draws.choice(len(taken), size=count, replace=False)]
        said += [(entry.probability, entry.candidate == true) for entry in ranked(causes, some)[:4]]
    way = way_of_a_technician(causes, lambda name: take(car, name)).taken
    firsts = [ranked(causes, list(way[: k + 1]))[0] for k in range(len(way))]
    return said, [(first.probability, first.candidate == true) for first in firsts]


def statements(count: int, pool: Any) -> list[dict[str, Any]]:
    """What is said of vehicles drawn as the judge expects them, against how often it is right: after random tests,
    several sets of each vehicle, and of the first cause at each step of a technician's way.
    """
    rigs = rig_ids()
    jobs = [(rigs[k % len(rigs)], VEHICLES + 400_000 + k) for k in range(count)]
    rows = []
    for what, said in zip(
        ("said", "said first on the way"), zip(*pool.map(_said, jobs, chunksize=2), strict=True), strict=True
    ):
        rows += said_against_right(what, said)
    return rows


def said_against_right(what: str, of_vehicles: Iterable[Said]) -> list[dict[str, Any]]:
    """Probabilities that were said, in tenths, against how often they were right; vehicle by vehicle, since what is
    said of one hangs together.
    """
    rows, of_vehicles = [], list(of_vehicles)
    for low in np.arange(0.0, 1.0, 0.1):
        here = [
            [(p, ok) for p, ok in said if low <= p < low + 0.1 or (low > 0.85 and p == 1.0)] for said in of_vehicles
        ]
        here = [said for said in here if said]
        if not here:
            continue
        mean = np.mean([p for said in here for p, _ok in said])
        right = [[ok for _p, ok in said] for said in here]
        rows.append(one_by_one(f"{what} {low:.0%} to {low + 0.1:.0%}", f"{100 * mean:.1f} %", right))
    return rows


def _two_faults(job: tuple[str, int]) -> tuple[bool, bool]:
    """Whether a drawn pair counts (two kinds, each told from every other cause by some test), and whether both are
    found.
    """
    rig_id, seed = job
    causes = table(load_rig(rig_id), workers=1)
    first, one, one_told = drawn(causes, seed)
    second, two, two_told = drawn(causes, seed + 50_000)
    if one is None or two is None or one.kind == two.kind or not (one_told and two_told):
        return (False, False)
    car = _vehicle(rig_id, seed, [one, two])
    ways = until_nothing_is_left(causes, car)
    seen = {name for way in ways for name in way.end.candidate.split("+")}
    return (True, {first, second} <= seen)


def two_fault_vehicles(count: int, pool: Any) -> list[dict[str, Any]]:
    """Vehicles with two faults: whether both are found, the second after the first has been repaired."""
    rigs = rig_ids()
    found = list(pool.map(_two_faults, [(rigs[k % len(rigs)], VEHICLES + 200_000 + k) for k in range(count)]))
    both = [seen for valid, seen in found if valid]
    return [row("two faults: both seen", "80 %", sum(both), len(both))]
