"""How often the judge and the diagnosis are right, promised against got, on engines and vehicles of their own seeds:
``./leitfaden bench --truth``.

Nothing here looks at a test's own numbers: fresh engines are simulated, faults are drawn, and what the judge says of
their readings is counted. Intervals are Wilson's, of 95 %.
"""

import argparse
import json
import math
import sys
from collections import defaultdict
from collections.abc import Callable, Iterable
from concurrent.futures import ProcessPoolExecutor
from multiprocessing import get_context
from typing import Any

import numpy as np

from leitfaden_core.chance import chance
from leitfaden_core.channels import Layer, channel
from leitfaden_core.diagnose import (
    Table,
    Way,
    candidates,
    ranked,
    table,
    take,
    tests_of,
    until_nothing_is_left,
    way_of_a_technician,
)
from leitfaden_core.diagnose.table import between
from leitfaden_core.expect import individual_engine, load_sheet
from leitfaden_core.faults import FaultSpec
from leitfaden_core.instruments.vehicle import Vehicle
from leitfaden_core.judge import ALARMS, Reading, judge_together
from leitfaden_core.judge.lanes import shown_value
from leitfaden_core.judge.weighing import column_of, promised_rate
from leitfaden_core.rigs import load_rig, rig_channels, rig_ids
from leitfaden_core.scripts import load_script
from leitfaden_core.simulate import simulate, steady_statistics

#: First seeds of the engines, far from those of sheets, tables and tests.
ENGINES, VEHICLES = 880_000, 5_660_000
#: Conditions whose whole data list is judged at once, and the kinds of reading that are held against their promise.
LISTS = ("hot_idle", "no_load_2500", "cruise_80")
DAY = "workshop_day"
#: Probabilities that were said of one vehicle, and whether the cause was the true one.
Said = list[tuple[float, bool]]
#: Tests of a set after which something is said, set by set.
SOME_TESTS = (3, 6, 10) * 4


def interval(hits: float, count: float) -> tuple[float, float]:
    """Wilson's interval of a share. [-]"""
    if not count:
        return (0.0, 1.0)
    z, p = 1.96, hits / count
    middle, half = p + z * z / (2 * count), z * math.sqrt(p * (1 - p) / count + z * z / (4 * count * count))
    return ((middle - half) / (1 + z * z / count), (middle + half) / (1 + z * z / count))


def row(what: str, promised: str, hits: int, count: int) -> dict[str, Any]:
    """One figure: what, promised, got, its interval, and out of how many."""
    low, high = interval(hits, count)
    got = hits / count if count else float("nan")
    return {
        "what": what,
        "promised": promised,
        "got_percent": round(100 * got, 1),
        "from": round(100 * low, 1),
        "to": round(100 * high, 1),
        "of": count,
    }


# --- sound engines
# ---------------------------------------------------------------------------------------------------------------


def _sound(job: tuple[str, int]) -> tuple[dict[tuple[str, str], list[bool]], list[bool]]:
    """Of one fresh sound engine: which displayed values lie in their bands, by kind of channel and statistic, and
    whether each data list shows an alarm.
    """
    rig, seed = load_rig(job[0]), job[1]
    bands = load_sheet(rig).bands
    run = simulate(rig, load_script(DAY), [], seed, individual_engine(rig, seed))
    inside: dict[tuple[str, str], list[bool]] = defaultdict(list)
    statistics = steady_statistics(run, rig_channels(rig))
    for condition, of_channels in statistics.items():
        for name, stats in of_channels.items():
            for stat, value in stats.items():
                band = bands.get((condition, name, stat))
                step = channel(name).step if stat in {"mean", "min", "max"} else 0.0
                # Where engines differ by less than a display shows, there is nothing to promise.
                if band is None or value != value or band.deviation < step:
                    continue
                kind = f"{channel(name).family}, {channel(name).layer}"
                inside[kind, stat].append(band.holds(shown_value(name, stat, value), step))
    lists = []
    for condition in LISTS:
        readings = [
            Reading(condition, name, shown_value(name, "mean", stats["mean"]))
            for name, stats in statistics[condition].items()
            if channel(name).layer is Layer.SCAN and stats["mean"] == stats["mean"]
        ]
        lists.append(any(verdict.kind in ALARMS for verdict in judge_together(rig, readings)))
    return inside, lists


def sound_engines(count: int, pool: Any) -> list[dict[str, Any]]:
    """Coverage of the bands by kind of channel, and alarms over whole data lists of sound engines."""
    jobs = [(rig, ENGINES + 1000 * n + k) for n, rig in enumerate(rig_ids()) for k in range(count)]
    inside: dict[tuple[str, str], list[list[bool]]] = defaultdict(list)
    lists: list[bool] = []
    for found, alarmed in pool.map(_sound, jobs, chunksize=4):
        for key, values in found.items():
            inside[key].append(values)
        lists += alarmed
    rows = [
        one_by_one(f"in the band: {kind}, {stat}", "95 +- 1 %", engines)
        for (kind, stat), engines in sorted(inside.items())
        if stat in {"mean", "min", "max"}
    ]
    return [*rows, row("sound engine: any alarm in a data list", "below 10 %", sum(lists), len(lists))]


# --- hits and false alarms of single readings
# ---------------------------------------------------------------------------------------------------------------

#: Kinds of faults, each with the reading that is watched for it: rig, kind, condition, channel.
WATCHED = (
    ("R1", "maf_under_read", "cruise_80", "maf"),
    ("R1", "maf_dirty", "wot_pull", "maf"),
    ("R1", "ect_offset", "hot_idle", "ect"),
    ("R1", "exhaust_restricted", "wot_pull", "maf"),
    ("R2", "pressure_offset:map", "hot_idle", "map"),
    ("R2", "air_filter_restricted", "wot_pull", "map"),
    ("R2", "iat_offset", "koeo", "iat"),
    ("R2", "thermostat_stuck_open", "cruise_80", "ect"),
    ("R3", "pressure_offset:charge", "koeo", "charge_pressure"),
    ("R3", "wideband_shifted", "wot_pull", "lambda_wideband"),
    ("R3", "boost_leak", "wot_pull", "charge_pressure"),
    ("R4", "maf_under_read", "cruise_80", "maf"),
    ("R4", "boost_leak", "wot_pull", "charge_pressure"),
    ("R5", "manifold_vacuum_leak", "hot_idle", "maf"),
)


def _seen(job: tuple[str, FaultSpec | None, str, str, int]) -> float:
    rig_id, fault, condition, name, seed = job
    rig = load_rig(rig_id)
    faults = [fault] if fault is not None else []
    run = simulate(rig, load_script(DAY), faults, seed, individual_engine(rig, seed))
    return shown_value(name, "mean", run.statistic(condition, name, "mean"))


def single_readings(count: int, pool: Any) -> list[dict[str, Any]]:
    """Of faults at each of their sizes: how often the reading lies outside its band, against what is promised."""
    rows = []
    for rig_id, cause, condition, name in WATCHED:
        rig = load_rig(rig_id)
        band = load_sheet(rig).bands[condition, name, "mean"]
        causes = table(rig, workers=1)
        kind = next(c for c in candidates(rig) if f"{c.id}:".startswith(f"{cause}:"))
        for fault in kind.sizes[:3]:
            nominal = simulate(rig, load_script(DAY), [fault], 0).statistic(condition, name, "mean")
            d_prime = abs(nominal - band.mean) / band.deviation
            jobs = [(rig_id, fault, condition, name, ENGINES + 5000 + k) for k in range(count)]
            values = [value for value in pool.map(_seen, jobs, chunksize=4) if value == value]
            out = sum(not band.holds(value, channel(name).step) for value in values)
            sizes = ", ".join(f"{key} {value:g}" for key, value in fault.params.items() if not isinstance(value, str))
            promised = f"{100 * promised_rate(causes, band, nominal, channel(name).step):.0f} % (d' {d_prime:.1f})"
            rows.append(row(f"{rig_id} {cause} {sizes}: {name} outside at {condition}", promised, out, len(values)))
    return rows


#: Engines with each fault that is drawn by lot.
ALIKE = 40


def _data_lists(job: tuple[str, FaultSpec, int]) -> dict[tuple[str, str], float]:
    """Means of all displayed values of an engine with a fault, by condition and channel; of seed 0 the rig itself."""
    rig_id, fault, seed = job
    rig = load_rig(rig_id)
    engine = individual_engine(rig, seed) if seed else None
    statistics = steady_statistics(simulate(rig, load_script(DAY), [fault], seed, engine), rig_channels(rig))
    return {
        (condition, name): shown_value(name, "mean", stats["mean"]) if seed else stats["mean"]
        for condition, of_channels in statistics.items()
        for name, stats in of_channels.items()
        if channel(name).layer is Layer.SCAN and stats["mean"] == stats["mean"]
    }


def any_readings(count: int, pool: Any) -> list[dict[str, Any]]:
    """Of faults and sizes drawn by lot, so many of each rig: every displayed value of every data list, in fifths of
    what is promised.
    """
    drawn_faults = []
    for rig_id in rig_ids():
        chosen = chance(ENGINES, "any readings", rig_id)
        sized = [cause for cause in candidates(load_rig(rig_id)) if cause.sizes]
        for k in chosen.choice(len(sized), size=min(count, len(sized)), replace=False):
            drawn_faults.append((rig_id, sized[k].sizes[int(chosen.integers(len(sized[k].sizes)))]))
    jobs = [(rig_id, fault, s and ENGINES + 8000 + s) for rig_id, fault in drawn_faults for s in range(ALIKE + 1)]
    lists = list(pool.map(_data_lists, jobs, chunksize=ALIKE + 1))
    # By fifth and fault: what is seen of one fault hangs together.
    told: dict[int, list[float]] = defaultdict(list)
    seen: dict[int, dict[int, list[bool]]] = defaultdict(lambda: defaultdict(list))
    for number, (rig_id, _fault) in enumerate(drawn_faults):
        itself, *engines = lists[number * (ALIKE + 1) : (number + 1) * (ALIKE + 1)]
        for promised, outside in _against_promise(rig_id, itself, engines):
            fifth = min(int(5.0 * promised), 4)
            told[fifth] += [promised] * len(outside)
            seen[fifth][number] += outside
    return [
        one_by_one(
            f"any reading, promised {20 * fifth} to {20 * fifth + 20} %",
            f"{100 * np.mean(told[fifth]):.1f} %",
            list(seen[fifth].values()),
        )
        for fifth in sorted(told)
    ]


def _against_promise(
    rig_id: str, itself: dict[tuple[str, str], float], engines: list[dict[tuple[str, str], float]]
) -> Iterable[tuple[float, list[bool]]]:
    """Of each reading that is weighed: how often it was promised to lie outside its band, and on which engines it
    does.
    """
    rig = load_rig(rig_id)
    bands, causes = load_sheet(rig).bands, table(rig, workers=1)
    for (condition, name), value in itself.items():
        band, step = bands.get((condition, name, "mean")), channel(name).step
        known = not channel(name).is_trim and column_of(causes, condition, name, "mean") >= 0
        values = [engine[condition, name] for engine in engines if (condition, name) in engine]
        if not known or band is None or band.deviation < step or not values:
            continue
        promised = promised_rate(causes, band, value, step)
        yield promised, [not band.holds(shown, step) for shown in values]


# --- hidden vehicles
# ---------------------------------------------------------------------------------------------------------------

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


def one_by_one(what: str, promised: str, right: list[list[bool]]) -> dict[str, Any]:
    """A row of the table whose interval counts vehicle by vehicle: what is seen on one hangs together."""
    found = row(what, promised, sum(map(sum, right)), sum(map(len, right)))
    least, most = interval(*_worth(right))
    return found | {"from": round(100 * least, 1), "to": round(100 * most, 1), "vehicles": len(right)}


def _worth(right: list[list[bool]]) -> tuple[float, float]:
    """Hits and statements that would tell as much if each were of a vehicle of its own: by the design effect, the
    variance of a share over clusters over that of independent draws (Kish 1965, Survey Sampling, ch. 5).
    """
    hits, count = sum(map(sum, right)), sum(map(len, right))
    share = hits / count
    between = sum((sum(one) - share * len(one)) ** 2 for one in right)
    within = count * share * (1.0 - share)
    effect = max(between / within, 1.0) if within else 1.0
    return hits / effect, count / effect


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


def main() -> None:
    """All figures; ``--count`` scales the numbers of engines and vehicles."""
    parser = argparse.ArgumentParser(prog="leitfaden bench --truth")
    parser.add_argument("--count", type=float, default=1.0, help="share of the full numbers: 1 takes an hour or two")
    parser.add_argument("--json", action="store_true")
    parser.add_argument("--only", choices=("sound", "single", "any", "hidden", "nothing", "said", "two"))
    options = parser.parse_args([name for name in sys.argv[1:] if name != "--truth"])
    share = options.count
    parts: dict[str, Callable[[Any], list[dict[str, Any]]]] = {
        "sound": lambda pool: sound_engines(max(round(100 * share), 4), pool),
        "single": lambda pool: single_readings(max(round(120 * share), 10), pool),
        "any": lambda pool: any_readings(max(round(12 * share), 2), pool),
        "hidden": lambda pool: hidden_vehicles(max(round(1000 * share), 6), pool),
        "nothing": lambda pool: sound_vehicles(max(round(600 * share), 6), pool),
        "said": lambda pool: statements(max(round(1800 * share), 6), pool),
        "two": lambda pool: two_fault_vehicles(max(round(120 * share), 6), pool),
    }
    for name in rig_ids():
        table(load_rig(name), workers=1)
    with ProcessPoolExecutor(2, mp_context=get_context("fork")) as pool:
        for part, figures in parts.items():
            if options.only in {None, part}:
                _show(figures(pool), options.json)


def _show(rows: list[dict[str, Any]], as_json: bool) -> None:
    if as_json:
        print("\n".join(json.dumps(entry) for entry in rows), flush=True)
        return
    for entry in rows:
        vehicles = f" of {entry['vehicles']} vehicles" if "vehicles" in entry else ""
        got = f"{entry['got_percent']:5.1f} % ({entry['from']:.1f} to {entry['to']:.1f} %, of {entry['of']}{vehicles})"
        print(f"{entry['what'][:96]:96}  promised {entry['promised']:18}  got {got}", flush=True)


if __name__ == "__main__":
    main()
