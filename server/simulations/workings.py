"""Calculations of the trade: worked out from what is typed, or from what an engine shows."""

from dataclasses import asdict
from typing import Annotated, Any

from django.http import HttpRequest, HttpResponse
from ninja import Path, Router, Schema
from pydantic import Field

from api.problems import ComputingOut
from jobs.services import answered, asker_of, packed, packed_response
from leitfaden_core.errors import UnknownName
from leitfaden_core.quantities import UnitSystem, display_unit
from leitfaden_core.rigs import load_rig
from leitfaden_core.scripts import CONDITIONS
from leitfaden_core.workings import Working, curve, symbol_tex, tex, work, workings
from leitfaden_core.workings.working import significant
from people.permissions import allowed
from people.schemas import Wish

router = Router(tags=["workings"])
Name: Any = Path(max_length=60)  # type: ignore[type-arg]


class InputOut(Schema):
    symbol: str
    tex: str
    label: str
    unit: str
    channel: str
    default: float | None
    low: float
    high: float


class WorkingOut(Schema):
    """A calculation: what goes in, and what it is for."""

    id: str
    label: str
    why: str
    inputs: list[InputOut]
    preconditions: list[str]
    source: str


class SlipOut(Schema):
    value: str
    words: str


class StepOut(Schema):
    """A step: what is computed, its formula, the same with its numbers, the result, and what typical slips would
    give.
    """

    symbol: str
    label: str
    formula: str
    numbers: str
    shown: str
    in_units: str
    slips: list[SlipOut]


class CurveOut(Schema):
    """How the result goes with an input, in the kept units."""

    symbol: str
    label: str
    unit: str
    result_label: str
    result_unit: str
    given: list[float]
    result: list[float]


class SheetOut(Schema):
    """A worked calculation. ``used``: the inputs as they went in, in the unit that the formulas want."""

    used: dict[str, str]
    values: dict[str, float]
    steps: list[StepOut]
    meaning: str
    curve: CurveOut


class WorkIn(Wish):
    """Inputs by their symbols, as texts with units; and the input over which the result is drawn."""

    given: dict[str, Annotated[str, Field(max_length=60)]] = Field(max_length=20)
    over: str = Field("", max_length=30)


class FeedOut(Schema):
    """What an engine gives for the inputs, as texts with units, and where each comes from."""

    given: dict[str, str]
    sources: dict[str, str]


@router.get("/workings", response={200: list[WorkingOut]}, operation_id="workings", summary="All calculations")
@allowed("catalogue.read")
def all_workings(request: HttpRequest) -> list[dict[str, Any]]:
    return [
        {
            "id": working.id,
            "label": working.label,
            "why": working.why,
            "inputs": [
                asdict(entry) | {"tex": symbol_tex(entry.symbol), "unit": entry.unit} for entry in working.inputs
            ],
            "preconditions": list(working.preconditions),
            "source": working.source,
        }
        for working in workings
    ]


@router.post("/workings/{working}", response={200: SheetOut}, operation_id="workOut", summary="Work a calculation out")
@allowed("catalogue.read")
def work_out(request: HttpRequest, payload: WorkIn, working: str = Name) -> dict[str, Any]:
    known = workings.get(working)
    told: dict[str, float | str] = {name: text for name, text in payload.given.items() if text.strip()}
    sheet = work(known, told)
    system = UnitSystem(request.member.user.units)  # type: ignore[attr-defined]
    values, steps = dict(sheet.inputs), []
    for step, worked in zip(known.steps, sheet.steps, strict=True):
        steps.append(
            {
                "symbol": symbol_tex(step.symbol),
                "label": step.label,
                "formula": tex(step.formula),
                "numbers": tex(step.formula, values),
                "shown": worked.shown,
                "in_units": _in_units(worked.value, step.quantity, step.digits, system),
                "slips": [
                    {"value": f"{significant(value, step.digits)} {_plain(worked.unit)}".rstrip(), "words": words}
                    for value, words in worked.slips
                ],
            }
        )
        values[step.symbol] = worked.value
    drawn = curve(known, told, payload.over or known.inputs[0].symbol)
    over = next(entry for entry in known.inputs if entry.symbol == drawn.symbol)
    return {
        "used": {
            entry.symbol: f"{significant(sheet.inputs[entry.symbol], 6)} {_plain(entry.unit)}".rstrip()
            for entry in known.inputs
        },
        "values": sheet.inputs,
        "steps": steps,
        "meaning": sheet.meaning,
        "curve": asdict(drawn)
        | {
            "label": over.label,
            "unit": _plain(over.unit),
            "result_label": sheet.result.label,
            "result_unit": _plain(sheet.result.unit),
        },
    }


def with_units(working: Working, values: dict[str, float]) -> dict[str, str]:
    """Inputs of a calculation as texts with the units that its formulas want."""
    units = {entry.symbol: _plain(entry.unit) for entry in working.inputs}
    return {symbol: f"{significant(value, 6)} {units[symbol]}".rstrip() for symbol, value in values.items()}


def _plain(unit: str) -> str:
    return "" if unit == "-" else unit


def _in_units(value: float, quantity: str, digits: int, system: UnitSystem) -> str:
    """The result in a person's unit, where that is another one; else nothing."""
    unit = display_unit(quantity, system)
    if unit.factor == 1.0 and unit.offset == 0.0:
        return ""
    return f"{significant(value * unit.factor + unit.offset, digits)} {_plain(unit.symbol)}".rstrip()


@router.get(
    "/workings/{working}/feed",
    response={200: FeedOut, 202: ComputingOut},
    operation_id="feedWorking",
    summary="Inputs of a calculation from a rig in a condition",
)
@allowed("numbers.read")
def feed(request: HttpRequest, rig: str, condition: str, working: str = Name) -> HttpResponse:
    known: Working = workings.get(working)
    if condition not in CONDITIONS:
        raise UnknownName("condition", condition, CONDITIONS)
    wish = {"working": known.id, "rig": load_rig(rig).id, "condition": condition}
    return packed_response(request, packed(answered("feed", wish, asker_of(request))))
