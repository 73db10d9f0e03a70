"""Verdicts on relations: values that must agree with each other say more than any one of them.

A relation names the odd one out only where a third reading agrees with one side.
"""

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field

from leitfaden_core.channels import CHANNELS
from leitfaden_core.engine.air_path import breathing, cylinder_flow, volumetric_efficiency
from leitfaden_core.expect import band_of
from leitfaden_core.judge.verdict import VerdictKind
from leitfaden_core.quantities import UnitSystem, shown
from leitfaden_core.rigs import Rig
from leitfaden_core.words import say


@dataclass(frozen=True)
class RelationRules:
    """Limits of the school."""

    pressures_kpa: float = 3.0
    temperatures_k: float = 5.0
    soak_hours: float = 6.0  # from which on temperatures must agree
    tracks_volts: float = 0.25
    airflow_percent: float = 15.0
    drop_volts: float = 0.1
    filling_low: float = 75.0  # % at full load, naturally aspirated
    filling_high: float = 105.0
    charged_filling_low: float = 110.0  # % at full load, charged, referred to the surrounding air
    charged_filling_high: float = 260.0
    cold_richest: float = 0.6  # commanded lambda of a cold start


@dataclass(frozen=True)
class Seen:
    """What was read, by channel in kept units, and what else is known."""

    readings: dict[str, float]
    condition: str
    soak_hours: float | None = None  # since the engine last ran
    station_kpa: float | None = None  # what a barometer beside the vehicle shows
    rules: RelationRules = field(default_factory=RelationRules)
    units: UnitSystem = UnitSystem.METRIC


@dataclass(frozen=True)
class RelationVerdict:
    """A verdict on values that belong together."""

    relation: str
    kind: VerdictKind
    reason: str
    odd: tuple[str, ...] = ()


def check_relations(rig: Rig, seen: Seen) -> list[RelationVerdict]:
    """All relations that the given readings allow, on this rig in this condition."""
    return [verdict for relation in _RELATIONS for verdict in relation(rig, seen)]


#: What a sound meter shows at most while the engine stands. [g/s]
STANDING_FLOW = 0.5

Relation = Callable[[Rig, Seen], Iterator[RelationVerdict]]


def _agreement(name: str, values: dict[str, float], limit: float, seen: Seen, apart: str) -> RelationVerdict:
    """Whether values of one kind agree; ``apart``: the quantity of the limit, which is a difference."""
    low, high = min(values.values()), max(values.values())
    quantity = next(CHANNELS[key].quantity for key in values if key in CHANNELS)
    listed = ", ".join(f"{_called(key)} {shown(value, quantity, 0.1, seen.units)}" for key, value in values.items())
    within = shown(limit, apart, 0.1, seen.units)
    if high - low <= limit:
        reason = say("They agree within {limit} ({listed}).", limit=within, listed=listed)
        return RelationVerdict(name, VerdictKind.GOOD, reason)
    middle = sorted(values.values())[len(values) // 2]
    odd = tuple(key for key, value in values.items() if abs(value - middle) > limit) if len(values) > 2 else ()
    if odd:
        reason = say(
            "{list} stands apart from the others by more than {limit} ({listed}).",
            list=", ".join(_called(key) for key in odd),
            limit=within,
            listed=listed,
        )
        return RelationVerdict(name, VerdictKind.FAULTY, reason, odd)
    reason = say(
        "They differ by {apart}, limit {limit}; a third reading is needed to tell which of them is wrong ({listed}).",
        apart=shown(high - low, apart, 0.1, seen.units),
        limit=within,
        listed=listed,
    )
    return RelationVerdict(name, VerdictKind.SUSPECT, reason)


def _called(key: str) -> str:
    """What a display calls a value."""
    return CHANNELS[key].label if key in CHANNELS else key


def _pressures(rig: Rig, seen: Seen) -> Iterator[RelationVerdict]:
    """At key on, engine off, every pressure is that of the surroundings."""
    if seen.condition != "koeo":
        return
    values: dict[str, float] = {
        name: seen.readings[name] for name in ("map", "baro", "charge_pressure") if name in seen.readings
    }
    if seen.station_kpa is not None and values:
        values[say("station pressure")] = seen.station_kpa
    if len(values) > 1:
        yield _agreement(say("pressures at key on"), values, seen.rules.pressures_kpa, seen, "pressure_diff")


def _temperatures(rig: Rig, seen: Seen) -> Iterator[RelationVerdict]:
    values: dict[str, float] = {
        name: seen.readings[name] for name in ("ect", "iat", "egt_1", "egt_2") if name in seen.readings
    }
    if seen.condition != "koeo" or len(values) < 2:
        return
    if seen.soak_hours is not None and seen.soak_hours < seen.rules.soak_hours:
        reason = say(
            (
                "Not valid after {soak_hours:g} h standing: {soak_hours_2:g} h are needed until everything has "
                "one temperature."
            ),
            soak_hours=seen.soak_hours,
            soak_hours_2=seen.rules.soak_hours,
        )
        yield RelationVerdict(say("temperatures after a soak"), VerdictKind.NOT_DECIDABLE, reason)
        return
    yield _agreement(
        say("temperatures after a soak"), values, seen.rules.temperatures_k, seen, "temperature_difference"
    )


def _tracks(rig: Rig, seen: Seen) -> Iterator[RelationVerdict]:
    reference = seen.readings.get("vref_v", 5.0)
    if {"tp_volts", "tp2_volts"} <= seen.readings.keys():
        error = seen.readings["tp_volts"] + seen.readings["tp2_volts"] - reference
        yield _track(
            say("throttle tracks"), error, say("they must add up to {reference:.2f} V", reference=reference), seen.rules
        )
    if {"app_volts", "app2_volts"} <= seen.readings.keys():
        yield _track(
            say("pedal tracks"),
            seen.readings["app_volts"] - 2.0 * seen.readings["app2_volts"],
            say("the first must be twice the second"),
            seen.rules,
        )


def _track(name: str, error: float, rule: str, rules: RelationRules) -> RelationVerdict:
    kind = VerdictKind.GOOD if abs(error) <= rules.tracks_volts else VerdictKind.FAULTY
    return RelationVerdict(
        name,
        kind,
        say(
            "Off by {error:+.2f} V: {rule} within {tracks_volts:g} V.",
            error=error,
            rule=rule,
            tracks_volts=rules.tracks_volts,
        ),
    )


def _airflow(rig: Rig, seen: Seen) -> Iterator[RelationVerdict]:
    """The filling equation ties airflow, pressure, speed and temperature together."""
    given = seen.readings
    pressure = given.get("map", given.get("charge_pressure"))
    if pressure is None or not {"maf", "rpm", "iat"} <= given.keys() or given["rpm"] < 300:
        return
    krpm, path = given["rpm"] / 1000.0, rig.air_path
    breath = breathing.py_func(krpm, path.ve_const, path.ve_lin, path.ve_quad, path.ve_cub)  # type: ignore[attr-defined]
    # Residual gas and valve overlap count at low pressure: a filling assumed for all loads passes a meter that is far
    # off.
    outside = 1000.0 * given.get("baro", 101.3)
    filling = volumetric_efficiency.py_func(  # type: ignore[attr-defined]
        *(1000.0 * pressure, max(outside, 1000.0 * pressure), given["rpm"] * math.pi / 30.0, breath),
        *(rig.engine.compression_ratio, path.overlap_residual),
    )
    mass = 1000.0 * cylinder_flow.py_func(  # type: ignore[attr-defined]
        filling, 1000.0 * pressure, given["iat"] + 285.0, rig.engine.displacement, given["rpm"] * math.pi / 30.0
    )
    off = 100.0 * (given["maf"] - mass) / mass
    kind = VerdictKind.GOOD if abs(off) <= seen.rules.airflow_percent else VerdictKind.SUSPECT
    yield RelationVerdict(
        say("airflow against pressure"),
        kind,
        say(
            (
                "The meter shows {off:+.0f} % against what pressure, speed and temperature give ({mass}); limit "
                "{airflow_percent:g} %."
            ),
            off=off,
            mass=shown(mass, "mass_flow", 0.01, seen.units),
            airflow_percent=seen.rules.airflow_percent,
        ),
    )


def _zero_flow(rig: Rig, seen: Seen) -> Iterator[RelationVerdict]:
    if seen.condition == "koeo" and "maf" in seen.readings:
        flow = seen.readings["maf"]
        kind = VerdictKind.GOOD if flow < STANDING_FLOW else VerdictKind.FAULTY
        yield RelationVerdict(
            say("airflow at standstill"),
            kind,
            say(
                "{flow} with the engine off; a sound meter shows less than {limit}.",
                flow=shown(flow, "mass_flow", 0.01, seen.units),
                limit=shown(STANDING_FLOW, "mass_flow", 0.01, seen.units),
            ),
        )


def _ground_drop(rig: Rig, seen: Seen) -> Iterator[RelationVerdict]:
    """A ground that lies above battery minus lifts every signal that is measured against it."""
    if "sensor_ground_v" not in seen.readings:
        return
    drop = seen.readings["sensor_ground_v"]
    kind = VerdictKind.GOOD if abs(drop) <= seen.rules.drop_volts else VerdictKind.FAULTY
    reason = say(
        "Sensor ground lies {drop:.2f} V above battery minus (school rule: at most {limit:g} V).",
        drop=drop,
        limit=seen.rules.drop_volts,
    )
    yield RelationVerdict(say("voltage drop of the sensor ground"), kind, reason)


def _filling(rig: Rig, seen: Seen) -> Iterator[RelationVerdict]:
    """Volumetric efficiency at full load, referred to the surrounding air, against what the school takes for usual in
    this class of engine; the rig's own band stands beside it.
    """
    if seen.condition != "wot_pull" or "ve" not in seen.readings:
        return
    value, rules, charged = seen.readings["ve"], seen.rules, "turbo" in rig.features
    low, high = (
        (rules.charged_filling_low, rules.charged_filling_high) if charged else (rules.filling_low, rules.filling_high)
    )
    kind = VerdictKind.GOOD if low <= value <= high else VerdictKind.SUSPECT
    reason = say(
        (
            "{value:.0f} % of filling, referred to the surrounding air (school rule for {engines}: {low:g} to "
            "{high:g} %{beside})."
        ),
        value=value,
        engines="charged engines" if charged else "naturally aspirated engines",
        low=low,
        high=high,
        beside=_of_this_type(rig, "wot_pull", "ve", 0, " %"),
    )
    yield RelationVerdict(say("filling at full load"), kind, reason)


def _of_this_type(rig: Rig, condition: str, name: str, digits: int, unit: str = "") -> str:
    """What healthy engines of this type show, to stand beside a school's rule; empty where that is not known."""
    own = band_of(rig, condition, name)
    if own is None:
        return ""
    low, high = (f"{limit:.{digits}f}" for limit in (own.low, own.high))
    return say("; healthy engines of this very type show {low} to {high}{unit}", low=low, high=high, unit=unit)


#: Conditions of an engine that has just been started cold.
_COLD = ("crank", "cold_idle", "deep_cold_idle")


def _enrichment(rig: Rig, seen: Seen) -> Iterator[RelationVerdict]:
    """How rich a cold start is commanded, against what the school accepts; the rig's own band stands beside it."""
    if seen.condition not in _COLD or "lambda_commanded" not in seen.readings:
        return
    value, limit = seen.readings["lambda_commanded"], seen.rules.cold_richest
    kind = VerdictKind.GOOD if value >= limit else VerdictKind.SUSPECT
    reason = say(
        (
            "Lambda {value:.2f} is commanded (school rule: at least {limit:g}{beside}). It is a command: whether "
            "the mixture is so, another reading tells."
        ),
        value=value,
        limit=limit,
        beside=_of_this_type(rig, seen.condition, "lambda_commanded", 2),
    )
    yield RelationVerdict(say("enrichment when cold"), kind, reason)


_RELATIONS: tuple[Relation, ...] = (
    _pressures,
    _temperatures,
    _tracks,
    _airflow,
    _zero_flow,
    _ground_drop,
    _filling,
    _enrichment,
)
