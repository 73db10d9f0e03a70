"""Faults side by side over states of the engine: the trim-step test, and the place of a leak against the pressure
there.
"""

from dataclasses import dataclass

from leitfaden_core.channels import channel
from leitfaden_core.errors import MissingPart
from leitfaden_core.expect import has_sheet, load_sheet
from leitfaden_core.faults import FaultSpec, describe_fault, offered_on
from leitfaden_core.judge.verdict import no_meaning
from leitfaden_core.rigs import Rig, rig_channels
from leitfaden_core.scripts import script_with
from leitfaden_core.simulate import stored_statistics
from leitfaden_core.words import say

#: From little to much air.
STEPS = ("hot_idle", "no_load_2500", "cruise_80", "load_step", "wot_pull")
#: Columns of the trim-step test: label, kind, its sizes small, medium, large.
_COLUMNS: tuple[tuple[str, str, tuple[dict[str, float | str], ...]], ...] = (
    ("leak behind the throttle", "manifold_vacuum_leak", ({"area_mm2": 1.0}, {"area_mm2": 2.0}, {"area_mm2": 4.0})),
    ("meter reads low", "maf_under_read", ({"gain": 0.92}, {"gain": 0.85}, {"gain": 0.75})),
    (
        "pressure sensor reads low",
        "pressure_offset",
        ({"sensor": "map", "kPa": -2.0}, {"sensor": "map", "kPa": -4.0}, {"sensor": "map", "kPa": -8.0}),
    ),
    (
        "fuel supply weak",
        "fuel_pressure_low",
        (
            {"factor": 0.85, "factor_full": 0.85},
            {"factor": 0.7, "factor_full": 0.7},
            {"factor": 0.55, "factor_full": 0.4},
        ),
    ),
)
#: Places of a leak on a boosted engine, and the states that turn its sign.
_PLACES: tuple[tuple[str, str, tuple[dict[str, float | str], ...]], ...] = (
    (
        "before the compressor",
        "air_leak_before_throttle",
        ({"area_mm2": 150.0}, {"area_mm2": 350.0}, {"area_mm2": 800.0}),
    ),
    (
        "compressor to throttle",
        "boost_leak",
        (
            {"area_mm2": 20.0, "opens_above_kPa": 0.0},
            {"area_mm2": 60.0, "opens_above_kPa": 0.0},
            {"area_mm2": 150.0, "opens_above_kPa": 0.0},
        ),
    ),
    ("behind the throttle", "manifold_vacuum_leak", ({"area_mm2": 1.0}, {"area_mm2": 2.0}, {"area_mm2": 4.0})),
)
REGIMES = ("hot_idle", "cruise_80", "load_step", "wot_pull")


@dataclass(frozen=True)
class Cell:
    """A displayed mean of one fault in one state; None where it means nothing. ``outside``: of healthy engines."""

    condition: str
    channel: str
    value: float | None
    outside: bool


@dataclass(frozen=True)
class Column:
    """A fault with its size in words, and what it shows."""

    label: str
    words: str
    fault: FaultSpec | None
    cells: list[Cell]


def trim_steps(rig: Rig, size: int = 1) -> list[Column]:
    """The sound engine, leak, meter or pressure sensor, and supply: total trim and mixture from idle to full load.

    ``size``: 0 small, 1 medium, 2 large.
    """
    if "trims" not in rig.features:
        raise MissingPart(say("{name} has no mixture control by an oxygen sensor, so it has no trims", name=rig.name))
    return _columns(rig, _COLUMNS, size, STEPS, ("total_trim", "lambda_true"))


def leak_places(rig: Rig, size: int = 1) -> list[Column]:
    """A leak at each place of a boosted engine against idle, cruise and boost."""
    if "turbo" not in rig.features:
        raise MissingPart(say("{name} has no turbocharger, so a leak never turns its sign there", name=rig.name))
    return _columns(rig, _PLACES, size, REGIMES, ("total_trim", "maf", "charge_pressure", "map", "lambda_true"))


def _columns(
    rig: Rig,
    told: tuple[tuple[str, str, tuple[dict[str, float | str], ...]], ...],
    size: int,
    conditions: tuple[str, ...],
    channels: tuple[str, ...],
) -> list[Column]:
    offered = offered_on(rig)
    faults: list[tuple[str, FaultSpec | None]] = [("sound", None)]
    for label, kind, sizes in told:
        params = sizes[size]
        if kind in offered and all(params[name] in known for name, known in offered[kind].items() if name in params):
            faults.append((label, FaultSpec(kind=kind, params=params)))
    return [
        Column(say(label), describe_fault(fault) if fault else "", fault, _cells(rig, fault, conditions, channels))
        for label, fault in faults
    ]


def _cells(rig: Rig, fault: FaultSpec | None, conditions: tuple[str, ...], channels: tuple[str, ...]) -> list[Cell]:
    bands = load_sheet(rig).bands if has_sheet(rig) else {}
    known, found = rig_channels(rig), []
    for condition in conditions:
        shown = stored_statistics(rig, script_with(condition), [[fault] if fault else []])[0][condition]
        for name in channels:
            if name not in known:
                continue
            value = shown.get(name, {}).get("mean")
            defined = value is not None and value == value and no_meaning(rig, condition, name) is None
            band = bands.get((condition, name, "mean"))
            outside = defined and band is not None and not band.holds(float(value or 0.0), channel(name).step)
            found.append(Cell(condition, name, float(value) if defined and value is not None else None, bool(outside)))
    return found
