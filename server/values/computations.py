"""What is asked of the model about value sheets."""

import csv
import io
from dataclasses import astuple
from typing import Any

from jobs.kinds import HEAVY, Tell, computation, kind_called
from jobs.models import Computation
from jobs.services import key_of, value_of
from leitfaden_core.channels import channel
from leitfaden_core.expect import (
    MEMBERS,
    Air,
    Band,
    ValueSheet,
    air_sheet,
    load_sheet,
    moved_bands,
    sheet_from,
    sheet_text,
)
from leitfaden_core.quantities import UnitSystem, shown_number, unit_words
from leitfaden_core.rigs import Rig, load_rig, rig_channels, shown_quantity
from leitfaden_core.scripts import CONDITIONS
from leitfaden_core.words import say
from simulations.sheets import fetch_sheet

#: Statistics of a sheet that a page shows; of switching signals also how often and how fast.
SHOWN = ("mean", "min", "max", "freq", "edge", "ratio")


@computation("values", limit_s=30.0)
def values(wish: Any, tell: Tell) -> dict[str, Any]:
    """What sound engines show in a condition, in some air, with where the width comes from."""
    rig = load_rig(wish["rig"])
    fetch_sheet(rig)
    sheet, air = load_sheet(rig), Air(*wish["air"])
    tell(0.1, "the engine runs in that air")
    bands, estimated = bands_in(rig, air)
    rows = [
        {
            "channel": name,
            "quantity": shown_quantity(rig, name),
            "stats": {
                stat: _numbers(bands[key]) for stat in SHOWN if (key := (wish["condition"], name, stat)) in bands
            },
            "width": bands[wish["condition"], name, "mean"].width(),
        }
        for name in rig_channels(rig)
        if (wish["condition"], name, "mean") in bands
    ]
    present = {condition for condition, _name, _stat in bands}
    return {
        "members": sheet.members,
        "kpa": air.kpa,
        "estimated": estimated,
        "conditions": [name for name in CONDITIONS if name in present],
        "rows": rows,
    }


Bands = dict[tuple[str, str, str], Band]


def bands_in(rig: Rig, air: Air) -> tuple[Bands, bool]:
    """The bands of an engine in some air, and whether any of them is an estimate: those of the full sheet where a
    worker has computed it, else moved ones.
    """
    sheet = load_sheet(rig)
    moved = moved_bands(sheet, rig, air)
    full = full_sheet(rig, air)
    if full is None:
        return moved, moved is not sheet.bands
    return moved | full.bands, False


def full_sheet(rig: Rig, air: Air) -> ValueSheet | None:
    """The full sheet of an engine in some air, where a worker has computed it."""
    wish = {"rig": rig.id, "air": astuple(air)}
    done = Computation.objects.filter(
        key=key_of(kind_called("air_sheet"), _plain(wish)), state=Computation.State.DONE
    ).first()
    return sheet_from(value_of(done)) if done else None


def _plain(wish: dict[str, Any]) -> dict[str, Any]:
    return {**wish, "air": list(wish["air"])}


@computation("air_sheet", queue=HEAVY, limit_s=1800.0, background=True)
def full_air_sheet(wish: Any, tell: Tell) -> str:
    """The value sheet of a population in other air."""
    rig = load_rig(wish["rig"])
    sheet = air_sheet(
        rig,
        Air(*wish["air"]),
        members=MEMBERS,
        workers=0,
        progress=lambda done, of: tell(
            done / of, say("full sheet of {rig} in that air: {done} of {of} engines", rig=rig.name, done=done, of=of)
        ),
    )
    return sheet_text(sheet)


def _numbers(band: Band) -> dict[str, float]:
    return {"low": band.low, "high": band.high, "median": band.median}


@computation("values_table", limit_s=30.0)
def values_table(wish: Any, tell: Tell) -> dict[str, Any]:
    """The whole sheet as a table, in a person's units."""
    rig, units = load_rig(wish["rig"]), UnitSystem(wish["units"])
    fetch_sheet(rig)
    bands, _estimated = bands_in(rig, Air(*wish["air"]))
    out = io.StringIO()
    table = csv.writer(out)
    table.writerow(
        ["condition", "channel", "layer", "statistic", "low", "median", "high", "unit", "service value", "source"]
    )
    for (condition, name, stat), band in bands.items():
        if stat in ("mean", "min", "max"):
            own = wish["own"].get(f"{condition}/{name}") if stat == "mean" else None
            table.writerow(
                [
                    CONDITIONS[condition].label,
                    channel(name).label,
                    channel(name).layer,
                    stat,
                    *_cells(rig, name, band, units),
                    *_own(rig, name, own, units),
                ]
            )
    return {"content": out.getvalue()}


def _cells(rig: Rig, name: str, band: Band, units: UnitSystem) -> list[str]:
    quantity, step = shown_quantity(rig, name), channel(name).step
    numbers = (shown_number(value, quantity, step, units) for value in (band.low, band.median, band.high))
    return [*(number.replace("\u2212", "-") for number in numbers), unit_words(quantity, units)]


def _own(rig: Rig, name: str, own: Any, units: UnitSystem) -> list[str]:
    if own is None:
        return ["", ""]
    quantity, step = shown_quantity(rig, name), channel(name).step
    low, high = (shown_number(value, quantity, step, units) for value in (own["low"], own["high"]))
    return [say("{low} to {high}", low=low, high=high).replace("\u2212", "-"), own["source"]]
