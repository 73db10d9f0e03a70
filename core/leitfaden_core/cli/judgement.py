"""measure, judge, work: what one would see, what it means, and the arithmetic."""

import argparse
from dataclasses import asdict
from typing import Any

from leitfaden_core.channels import channel
from leitfaden_core.cli.consequences import signature_rows, symptom_rows
from leitfaden_core.cli.diagnosis import diagnose_rows, rig_table
from leitfaden_core.cli.vehicle import pairs, vehicle_of
from leitfaden_core.diagnose import (
    HISTORY,
    VICTIMS,
)
from leitfaden_core.errors import MissingPart, UnknownName
from leitfaden_core.expect import Weather
from leitfaden_core.instruments import Observation, instruments, measure
from leitfaden_core.judge import (
    PRECONDITIONS,
    RelationRules,
    SchoolRules,
    Seen,
    Weighed,
    check_relations,
    narrowband_findings,
    reading_scale,
    weigh_reading,
)
from leitfaden_core.quantities import QUANTITIES, parse_reading, shown
from leitfaden_core.rigs import Rig, load_rig, rig_channels, shown_quantity
from leitfaden_core.scripts import condition as condition_of
from leitfaden_core.simulate import FRAME
from leitfaden_core.words import say
from leitfaden_core.workings import from_run, mark_steps, work, workings
from leitfaden_core.workings.kinds.pressure import station_pressure

Rows = list[dict[str, Any]]


# --- measure
# ----------------------------------------------------------------------------


def measure_rows(options: argparse.Namespace) -> Rows:
    """What an instrument shows; without a tool, the instruments and where they can be applied."""
    if options.tool is None:
        rig = load_rig(options.rig)
        return [
            {
                "instrument": entry.id,
                "what": entry.purpose,
                "minutes": f"{entry.minutes:g}",
                "places": entry.free_places or "; ".join(entry.places(rig)),
                "settings": "; ".join(
                    f"{o.id}={'|'.join(o.choices) if o.choices else f'{o.low:g}..{o.high:g} {o.unit}'}"
                    for o in entry.options
                ),
            }
            for entry in instruments
        ]
    entry = instruments.get(options.tool)
    if options.place is None:
        raise MissingPart(
            say("say where: {value}", value=entry.free_places or ", ".join(entry.places(load_rig(options.rig))))
        )
    condition = options.condition or (entry.conditions[0] if entry.conditions else "hot_idle")
    condition_of(condition)
    seen = measure(entry, vehicle_of(options), options.place, condition, pairs(options.set), options.seed)
    cautions = tuple(dict.fromkeys((*entry.cautions, *seen.cautions)))
    return [*observation_rows(seen, options.trace), *({"what": "caution", "value": "", "note": c} for c in cautions)]


def observation_rows(seen: Observation, traces: bool = False) -> Rows:
    """An observation as rows: readings, then what it costs and changes."""
    rows: Rows = []
    if seen.refused:
        rows.append({"what": "not done", "value": "", "note": seen.refused})
    for entry in seen.shown:
        if entry.value is None or entry.value != entry.value:
            value = entry.text or "not defined"
            rows.append({"what": entry.label, "value": value, "note": ""})
            continue
        value = shown(entry.value, entry.quantity, entry.step or 0.001) if entry.quantity else f"{entry.value:.4g}"
        rows.append({"what": entry.label, "value": value, "note": entry.text})
    rows.append({"what": "costs", "value": say("{minutes:g} min", minutes=seen.minutes), "note": ""})
    rows += [{"what": "mind", "value": "", "note": note} for note in seen.notes]
    rows += [{"what": "changed", "value": "", "note": note} for note in seen.changes]
    if traces:
        rows += [
            {"what": trace.label, "value": f"{second:g} s", "note": f"{value:g}", "seconds": second, "reading": value}
            for trace in seen.traces
            for second, value in zip(trace.seconds, trace.values, strict=True)
        ]
    return rows


# --- judge
# ----------------------------------------------------------------------------


def judge_rows(options: argparse.Namespace) -> Rows:
    """Verdicts on typed readings: one line for each, and the relations between them."""
    rig, rules = load_rig(options.rig), SchoolRules(options.trim_good, options.trim_investigate)
    condition_of(options.condition)
    for name in options.missing:
        if name not in PRECONDITIONS:
            raise UnknownName("precondition", name, PRECONDITIONS)
    readings = {name: _typed(rig, name, text) for name, text in pairs(options.reading).items()}
    if options.trace:
        return _trace_rows(options)
    if not readings:
        raise MissingPart("give at least one reading, such as maf='1.6 g/s'")
    causes = rig_table(rig)
    # At another height the air is thinner, and nobody has told how warm it is.
    weather = None if options.altitude is None else Weather(kpa=station_pressure(options.altitude))
    rows: Rows = []
    for name, value in readings.items():
        channel_id, _colon, stat = name.partition(":")
        found = weigh_reading(
            *(causes, options.condition, channel_id, value, stat or "mean", options.error),
            *(tuple(options.missing), rules, weather),
        )
        rows.append(_weighed_row(rig, channel_id, stat or "mean", value, found))
    plain = {name: value for name, value in readings.items() if ":" not in name}
    outside = None if options.altitude is None else station_pressure(options.altitude)
    seen = Seen(plain, options.condition, options.soak_hours, outside, RelationRules())
    rows += [
        {
            "reading": verdict.relation,
            "verdict": str(verdict.kind),
            "reason": verdict.reason,
            "decided by": "",
            "ratio": None,
            "told": [],
        }
        for verdict in check_relations(rig, seen)
    ]
    return rows


def _typed(rig: Rig, name: str, text: str) -> float:
    channel_id, _colon, stat = name.partition(":")
    entry = channel(channel_id)
    if channel_id not in rig_channels(rig):
        raise UnknownName("channel", channel_id, rig_channels(rig), where=say("on rig {id}", id=rig.id))
    if stat not in {"", "mean", "min", "max", "freq"}:
        raise UnknownName("statistic", stat, ("mean", "min", "max", "freq"))
    quantity = "frequency" if stat == "freq" else shown_quantity(rig, entry.id)
    return parse_reading(text, quantity)


def _weighed_row(rig: Rig, channel_id: str, stat: str, value: float, found: Weighed) -> dict[str, Any]:
    entry = channel(channel_id)
    named = entry.label if stat == "mean" else f"{entry.label} {stat}"
    return {
        "reading": f"{named} {shown(value, *reading_scale(rig, channel_id, stat))}",
        "verdict": str(found.verdict.kind),
        "reason": found.verdict.reason,
        "decided by": found.decided_by,
        "ratio": found.ratio,
        "told": [asdict(entry) for entry in found.alternatives],
    }


def _trace_rows(options: argparse.Namespace) -> Rows:
    """The three measures of a switching sensor, on the signal of a vehicle in a condition."""
    vehicle = vehicle_of(options)
    run = vehicle.run(options.condition)
    rows = run.rows(run.script.span(options.condition))
    name = channel(options.trace).id
    findings = narrowband_findings(rows[name].astype(float), FRAME)
    return [
        {"reading": f"{name} {f.measure}", "verdict": str(f.kind), "reason": f.reason, "decided by": ""}
        for f in findings
    ]


# --- work
# ----------------------------------------------------------------------------


def work_rows(options: argparse.Namespace) -> Rows:
    """A calculation with every step; without a name, the list of them; with answers, their marks."""
    if options.working is None:
        return [
            {
                "working": w.id,
                "what": w.label,
                "inputs": ", ".join(f"{i.symbol} [{i.unit}]" for i in w.inputs),
                "result": f"{w.steps[-1].symbol} [{QUANTITIES[w.steps[-1].quantity].kept}]",
            }
            for w in workings
        ]
    working = workings.get(options.working)
    given: dict[str, float | str] = {}
    sources: dict[str, str] = {}
    if options.rig:
        options.hidden, options.unplug = None, []
        run = vehicle_of(options).run(condition_of(options.condition).id)
        values, sources = from_run(working, run, options.condition)
        given |= values
    for name, text in pairs(options.inputs).items():
        try:
            given[name] = float(text)
        except ValueError:
            given[name] = text
        sources[name] = "typed"
    sheet = work(working, given, sources)
    if options.mark:
        return [
            asdict(step) | {"verdict": str(step.verdict)} for step in mark_steps(working, sheet, pairs(options.mark))
        ]
    rows: Rows = [
        {
            "step": say("given {name}", name=name),
            "formula": sources.get(name, "default"),
            "numbers": "",
            "result": f"{value:g} {next(i.unit for i in working.inputs if i.symbol == name)}",
        }
        for name, value in sheet.inputs.items()
    ]
    rows += [
        {
            "step": step.label,
            "formula": f"{step.symbol} = {step.formula}",
            "numbers": step.filled,
            "result": step.shown,
            "value": step.value,
            "unit": step.unit,
            "slips": list(step.slips),
        }
        for step in sheet.steps
    ]
    rows += [{"step": "holds for", "formula": text, "numbers": "", "result": ""} for text in sheet.preconditions]
    return rows + ([{"step": "means", "formula": sheet.meaning, "numbers": "", "result": ""}] if sheet.meaning else [])


def add_commands(add: Any, print_rows: Any) -> None:
    """Register the commands of this module."""

    def command(name: str, rows: Any, help: str) -> argparse.ArgumentParser:
        parser: argparse.ArgumentParser = add(name, lambda options: print_rows(options, rows(options)), help)
        return parser

    def vehicle_options(parser: argparse.ArgumentParser, hidden: bool = True) -> None:
        parser.add_argument("--fault", action="append", default=[], metavar="KIND:param=value,...")
        parser.add_argument("--seed", type=int, default=0)
        if hidden:
            parser.add_argument("--hidden", type=int, metavar="SEED", help="a vehicle whose fault you do not know")
            parser.add_argument("--unplug", action="append", default=[], metavar="CIRCUIT")

    taking = command("measure", measure_rows, "apply an instrument at a place in a condition")
    taking.add_argument("rig")
    taking.add_argument("tool", nargs="?", help="left out: all instruments and where they can be applied")
    taking.add_argument("place", nargs="?")
    taking.add_argument("--condition")
    taking.add_argument("--set", action="append", default=[], metavar="name=value", help="settings of the instrument")
    taking.add_argument("--trace", action="store_true", help="all points of recorded signals")
    vehicle_options(taking)

    judging = command("judge", judge_rows, "verdict on readings")
    judging.add_argument("rig")
    judging.add_argument("reading", nargs="*", metavar="channel[:stat]='value unit'")
    judging.add_argument("--condition", default="hot_idle")
    judging.add_argument(
        "--missing", action="append", default=[], metavar="PRECONDITION", help=", ".join(PRECONDITIONS)
    )
    judging.add_argument("--error", type=float, help="standard deviation of the instrument, in the channel's unit")
    judging.add_argument("--soak-hours", type=float)
    judging.add_argument("--altitude", type=float, help="of this place [m]")
    judging.add_argument("--trim-good", type=float, default=SchoolRules().trim_good)
    judging.add_argument("--trim-investigate", type=float, default=SchoolRules().trim_investigate)
    judging.add_argument(
        "--trace", metavar="CHANNEL", help="reach, speed and count of a switching sensor of this vehicle"
    )
    vehicle_options(judging)

    finding = command("diagnose", diagnose_rows, "from tests to a proven cause")
    finding.add_argument("rig")
    finding.add_argument(
        "--take", action="append", default=[], metavar="TEST", help="a test to take; give it once for each"
    )
    finding.add_argument("--list-tests", action="store_true")
    finding.add_argument("--rebuild", action="store_true", help="compute what all causes show anew and store it")
    finding.add_argument("--history", action="append", default=[], metavar="WORDS", help="; ".join(HISTORY))
    finding.add_argument(
        "--victims",
        type=float,
        default=100.0 * VICTIMS,
        metavar="PERCENT",
        help="of parts that another fault usually spoils, those that are its victims",
    )
    finding.add_argument(
        "--told", action="append", default=[], metavar="SYMPTOM[:STATE]", help="what the driver says; see symptoms"
    )
    finding.add_argument("--next", type=int, default=5, help="how many proposals")
    finding.add_argument("--causes", type=int, default=6, help="how many causes to show")
    finding.add_argument(
        "--pairs", type=int, default=0, metavar="N", help="take pairs of the N likeliest causes into account"
    )
    finding.add_argument(
        "--conclude", metavar="CAUSE", help="name the cause: right or wrong, proven or not, and what it cost"
    )
    finding.add_argument("--best-path", action="store_true", help="how a good technician would have gone")
    finding.add_argument(
        "--look-alikes", metavar="CAUSE", help="what gives the same picture in the taken tests, and what tells it apart"
    )
    vehicle_options(finding)

    working = command("work", work_rows, "a calculation of the trade with every step")
    working.add_argument("working", nargs="?", help="left out: all of them")
    working.add_argument("inputs", nargs="*", metavar="symbol=value")
    working.add_argument("--rig", help="take what is there from a run of this rig")
    working.add_argument("--condition", default="hot_idle")
    working.add_argument(
        "--mark", action="append", default=[], metavar="symbol='value unit'", help="mark these steps of a learner"
    )
    vehicle_options(working, hidden=False)

    noticing = command(
        "symptoms", symptom_rows, "what a driver notices of a fault, and which faults a driver's words may come from"
    )
    noticing.add_argument("rig", nargs="?", help="left out: all symptoms")
    noticing.add_argument(
        "--told", action="append", default=[], metavar="SYMPTOM[:STATE]", help="several times: all of them together"
    )
    vehicle_options(noticing, hidden=False)

    leaving = command("signature", signature_rows, "which channels leave their band with a fault")
    leaving.add_argument("rig")
    leaving.add_argument("--condition")
    leaving.add_argument("--rows", type=int, default=40)
    leaving.add_argument("--matrix", action="store_true", help="all faults of the rig against all conditions")
    vehicle_options(leaving, hidden=False)
