"""What is promised of single readings, against what fresh engines show: bands, alarms over data lists, and how often a
fault is seen.
"""

from collections import defaultdict
from collections.abc import Iterable
from typing import Any

import numpy as np

from benchmark.shares import one_by_one, row
from leitfaden_core.chance import chance
from leitfaden_core.channels import Layer, channel
from leitfaden_core.diagnose import Table, candidates, table
from leitfaden_core.expect import individual_engine, load_sheet
from leitfaden_core.faults import FaultSpec
from leitfaden_core.judge import ALARMS, Reading, judge_together
from leitfaden_core.judge.lanes import shown_value
from leitfaden_core.judge.weighing import column_of, promised_rate, taken_up_by
from leitfaden_core.rigs import load_rig, rig_channels, rig_ids
from leitfaden_core.scripts import load_script
from leitfaden_core.simulate import simulate, steady_statistics

#: First seed of the engines, far from those of sheets, tables and tests.
ENGINES = 880_000
#: Conditions whose whole data list is judged at once.
LISTS = ("hot_idle", "no_load_2500", "cruise_80")
DAY = "workshop_day"


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
            points = _points_of(causes, fault)
            shows = causes.points[points, column_of(causes, condition, name, "mean")]
            d_prime = float(np.median(np.abs(shows - band.mean))) / band.deviation
            rate = f"{100 * promised_rate(causes, band, shows, channel(name).step):.0f} %"
            if held_by := taken_up_by(causes, condition, name, points[0], d_prime):
                rate = f"nothing, {held_by} takes it up"
            jobs = [(rig_id, fault, condition, name, ENGINES + 5000 + k) for k in range(count)]
            values = [value for value in pool.map(_seen, jobs, chunksize=4) if value == value]
            out = sum(not band.holds(value, channel(name).step) for value in values)
            sizes = ", ".join(f"{key} {value:g}" for key, value in fault.params.items() if not isinstance(value, str))
            what = f"{rig_id} {cause} {sizes}: {name} outside at {condition}"
            rows.append(row(what, f"{rate} (d' {d_prime:.1f})", out, len(values)))
    return rows


def _points_of(causes: Table, fault: FaultSpec) -> list[int]:
    """The points of a table with a fault, one in each course of chance where it comes and goes."""
    return [point for point, size in enumerate(causes.sizes) if size == fault]


#: Engines with each fault that is drawn by lot.
ALIKE = 40


def _data_lists(job: tuple[str, FaultSpec, int]) -> dict[tuple[str, str], float]:
    """Means of all displayed values of an engine with a fault, by condition and channel."""
    rig_id, fault, seed = job
    rig = load_rig(rig_id)
    run = simulate(rig, load_script(DAY), [fault], seed, individual_engine(rig, seed))
    statistics = steady_statistics(run, rig_channels(rig))
    return {
        (condition, name): shown_value(name, "mean", stats["mean"])
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
    jobs = [(rig_id, fault, ENGINES + 8001 + k) for rig_id, fault in drawn_faults for k in range(ALIKE)]
    lists = list(pool.map(_data_lists, jobs, chunksize=ALIKE))
    # By fifth and fault: what is seen of one fault hangs together.
    told: dict[int, list[float]] = defaultdict(list)
    seen: dict[int, dict[int, list[bool]]] = defaultdict(lambda: defaultdict(list))
    for number, (rig_id, fault) in enumerate(drawn_faults):
        engines = lists[number * ALIKE : (number + 1) * ALIKE]
        for promised, outside in _against_promise(rig_id, fault, engines):
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
    rig_id: str, fault: FaultSpec, engines: list[dict[tuple[str, str], float]]
) -> Iterable[tuple[float, list[bool]]]:
    """Of each reading that is weighed: how often it was promised to lie outside its band, and on which engines it
    does.
    """
    rig = load_rig(rig_id)
    bands, causes = load_sheet(rig).bands, table(rig, workers=1)
    points = _points_of(causes, fault)
    for condition, name in sorted({key for engine in engines for key in engine}):
        band, step = bands.get((condition, name, "mean")), channel(name).step
        column = column_of(causes, condition, name, "mean")
        if channel(name).is_trim or column < 0 or band is None or band.deviation < step:
            continue
        shows = causes.points[points, column]
        d_prime = float(np.median(np.abs(shows - band.mean))) / band.deviation
        if np.isnan(shows).any() or taken_up_by(causes, condition, name, points[0], d_prime):
            continue
        values = [engine[condition, name] for engine in engines if (condition, name) in engine]
        yield promised_rate(causes, band, shows, step), [not band.holds(value, step) for value in values]
