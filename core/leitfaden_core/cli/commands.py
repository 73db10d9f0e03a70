"""rigs, scripts, conditions, channels, faults, simulate, pins, codes, expect, cases, and those of ``judgement``: parse,
call, print. Bad input: one line, exit code 2.
"""

import argparse
import io
import json
import sys
from dataclasses import asdict
from pathlib import Path
from typing import Any, NoReturn

from leitfaden_core import __version__
from leitfaden_core.cases import check_cases, parse_cases
from leitfaden_core.channels import Channel, channel
from leitfaden_core.cli.judgement import add_commands
from leitfaden_core.cli.workshop import code_rows, pin_rows, unplugged_faults
from leitfaden_core.errors import LeitfadenError, UnknownName
from leitfaden_core.expect import OwnValue, band_of, compute_sheet, load_sheet, parse_own, write_sheet
from leitfaden_core.faults import fault_kinds, left_with_plugs_off, parse_fault
from leitfaden_core.judge import no_meaning
from leitfaden_core.monitors import trouble_codes
from leitfaden_core.quantities import QUANTITIES
from leitfaden_core.recordings import RunRecording, write_csv
from leitfaden_core.rigs import Rig, load_rig, rig_channels, rig_ids, variant_ids
from leitfaden_core.scripts import CONDITIONS, load_script, reading_scripts, script_ids
from leitfaden_core.scripts import condition as condition_of
from leitfaden_core.simulate import Run, simulate
from leitfaden_core.words import in_language, say


class _Parser(argparse.ArgumentParser):
    """Says what is wrong on one line instead of the usage text."""

    def error(self, message: str) -> NoReturn:
        raise LeitfadenError(say("{prog}: {message}; see {prog} --help", prog=self.prog, message=message))


def main(arguments: list[str]) -> int:
    """Run one command; returns the exit code."""
    try:
        options = _parser().parse_args(arguments)
        return int(options.run(options) or 0)
    except LeitfadenError as error:
        print(f"leitfaden: {error}", file=sys.stderr)
        return 2
    except BrokenPipeError:
        return 0


def _parser() -> _Parser:
    parser = _Parser(prog="leitfaden", description="Leitfaden: sensor signals of engines, healthy and faulty")
    commands = parser.add_subparsers(dest="command", required=True, parser_class=_Parser)

    def add(name: str, run: Any, help: str) -> argparse.ArgumentParser:
        command = commands.add_parser(name, help=help)
        command.set_defaults(run=run)
        command.add_argument("--json", action="store_true", help="machine-readable output")
        return command

    add("rigs", _rigs, "list the rigs")
    add("scripts", _scripts, "list the drive scripts")
    add("conditions", _conditions, "list the conditions in which values are read")
    add("channels", _channels, "list the channels of a rig").add_argument("rig")
    add("faults", _faults, "list the fault kinds with their parameters").add_argument("rig", nargs="?")
    run = add("simulate", _simulate, "run a rig along a script")
    run.add_argument("rig")
    run.add_argument("--script", help="default: workshop_day; for a summary, every script in which conditions are read")
    run.add_argument("--fault", action="append", default=[], metavar="KIND:param=value,...")
    run.add_argument("--seed", type=int, default=0)
    run.add_argument("--channels", help="comma-separated; default all")
    run.add_argument("--format", choices=("csv", "json", "summary"), default="summary")
    run.add_argument("--out", type=Path)
    run.add_argument("--cold-memory", action="store_true", help="start with unlearned trims")
    run.add_argument(
        "--unplug", action="append", default=[], metavar="CIRCUIT", help="plug off at the sensor, such as map_signal"
    )
    run.add_argument(
        "--learned-with",
        action="append",
        metavar="KIND:param=value,...",
        help="start with trims learned with these faults: after a repair",
    )
    pins = add(
        "pins",
        lambda options: _print_rows(options, pin_rows(options)),
        "voltages and resistances anywhere in the wiring",
    )
    pins.add_argument("rig")
    pins.add_argument("--condition", default="koeo")
    pins.add_argument("--fault", action="append", default=[], metavar="KIND:param=value,...")
    pins.add_argument("--unplug", action="append", default=[], metavar="CIRCUIT")
    pins.add_argument("--key-off", action="store_true", help="the same instant with the key off")
    pins.add_argument(
        "--between", nargs=2, metavar=("RED", "BLACK"), help="volts, and ohms with the key off, between two pins"
    )
    pins.add_argument("--seed", type=int, default=0)
    codes = add(
        "codes",
        lambda options: _print_rows(options, code_rows(options)),
        "what the control unit has stored after some drives",
    )
    codes.add_argument("rig")
    codes.add_argument("--fault", action="append", default=[], metavar="KIND:param=value,...")
    codes.add_argument("--unplug", action="append", default=[], metavar="CIRCUIT")
    codes.add_argument("--script", default="workshop_day")
    codes.add_argument("--drives", type=int, default=2)
    codes.add_argument("--good-drives-after", type=int, default=0, help="drives after the repair")
    codes.add_argument("--readiness", action="store_true", help="which monitors have answered")
    codes.add_argument("--seed", type=int, default=0)
    cases = commands.add_parser("cases", help="check a case catalogue").add_subparsers(
        dest="action", required=True, parser_class=_Parser
    )
    check = cases.add_parser(
        "check", help="every assertion of a catalogue against the simulator; exit code 1 when one fails"
    )
    check.set_defaults(run=_check_cases)
    check.add_argument("file", type=Path)
    check.add_argument("--json", action="store_true", help="machine-readable output")
    check.add_argument("--rig", help="only the cases of one engine")
    expect = add("expect", _expect, "what a healthy engine shows")
    expect.add_argument("rig")
    expect.add_argument("--condition")
    expect.add_argument("--rebuild", action="store_true", help="compute the value sheet anew and store it")
    expect.add_argument("--why", action="store_true", help="what makes each band as wide as it is")
    expect.add_argument(
        "--own",
        type=Path,
        metavar="FILE.yaml",
        help="own values with their source, which take the place of computed ones",
    )
    add_commands(add, _print_rows)
    return parser


def _print_rows(options: argparse.Namespace, rows: list[dict[str, Any]]) -> None:
    """Rows as JSON, or as an aligned table of their short fields, in the language that is spoken."""
    rows = in_language(rows)
    if options.json:
        print(json.dumps(rows, indent=1, ensure_ascii=False))
        return
    fields = list(
        dict.fromkeys(
            name
            for row in rows
            for name, value in row.items()
            if not isinstance(value, (list, dict, float, type(None)))
        )
    )
    widths = {name: max(len(name), *(len(str(row.get(name, ""))) for row in rows)) for name in fields}
    for row in [dict(zip(fields, fields, strict=True)), *rows]:
        print("  ".join(str(row.get(name, "")).ljust(widths[name]) for name in fields).rstrip())


def _rigs(options: argparse.Namespace) -> None:
    _print_rows(
        options,
        [
            {"id": r.id, "name": r.name, "description": r.description}
            for r in map(load_rig, [*rig_ids(), *variant_ids()])
        ],
    )


def _scripts(options: argparse.Namespace) -> None:
    _print_rows(
        options,
        [
            {"id": s.id, "seconds": round(s.seconds, 1), "name": s.name, "conditions": s.conditions()}
            for s in map(load_script, script_ids())
        ],
    )


def _conditions(options: argparse.Namespace) -> None:
    _print_rows(
        options,
        [
            {"id": c.id, "label": c.label, "meaning": c.meaning, "closed_loop": c.closed_loop}
            for c in CONDITIONS.values()
        ],
    )


def _channels(options: argparse.Namespace) -> None:
    rig = load_rig(options.rig)
    _print_rows(
        options,
        [
            {
                "id": c.id,
                "layer": str(c.layer),
                "unit": QUANTITIES[c.quantity].kept,
                "quantity": c.quantity,
                "meaning": c.meaning,
            }
            for c in map(channel, rig_channels(rig))
        ],
    )


def _faults(options: argparse.Namespace) -> None:
    if options.rig:
        load_rig(options.rig)
    rows = []
    for kind in fault_kinds:
        parameters = [
            {"id": p.id, "label": p.label, "choices": list(p.choices)}
            if p.choices
            else {
                "id": p.id,
                "label": p.label,
                "unit": p.unit,
                "range": [p.low, p.high],
                "steps": list(p.steps),
                "optional": p.optional,
            }
            for p in kind.parameters
        ]
        shown = ", ".join(
            f"{p.id}=" + ("|".join(p.choices) if p.choices else f"{p.low:g}..{p.high:g} {p.unit}")
            for p in kind.parameters
        )
        rows.append(
            {
                "id": kind.id,
                "group": kind.group,
                "arguments": shown,
                "meaning": kind.meaning,
                "parameters": parameters,
                "cautions": list(kind.cautions),
            }
        )
    _print_rows(options, rows)


def _simulate(options: argparse.Namespace) -> None:
    if options.seed < 0:
        raise LeitfadenError(say("--seed is {seed}; it must be 0 or more", seed=options.seed))
    rig = load_rig(options.rig)
    names = options.channels.split(",") if options.channels else rig_channels(rig)
    for name in names:
        channel(name)
        if name not in rig_channels(rig):
            raise UnknownName("channel", name, rig_channels(rig), where=say("on rig {id}", id=rig.id))
    faults = left_with_plugs_off([parse_fault(text) for text in options.fault], frozenset(options.unplug), rig)
    faults += unplugged_faults(options.unplug, rig)
    learned = None if options.learned_with is None else [parse_fault(text) for text in options.learned_with]
    if options.script:
        scripts = [load_script(options.script)]
    else:
        scripts = reading_scripts() if options.format == "summary" else [load_script("workshop_day")]
    runs = [
        simulate(rig, script, faults, options.seed, cold_memory=options.cold_memory, learned_with=learned)
        for script in scripts
    ]
    text = (
        {"csv": _as_csv, "json": _as_json}[options.format](runs[0], names)
        if options.format != "summary"
        else _as_summary(runs, names)
    )
    if options.out is None:
        sys.stdout.write(text)
        return
    try:
        options.out.write_text(text, encoding="utf-8")
    except OSError as error:
        raise LeitfadenError(say("cannot write {out}: {strerror}", out=options.out, strerror=error.strerror)) from error


def _as_csv(run: Run, names: list[str]) -> str:
    out = io.StringIO()
    write_csv(RunRecording(run), out, names)
    return out.getvalue()


def _as_json(run: Run, names: list[str]) -> str:
    lanes = {name: [None if value != value else round(float(value), 6) for value in run.lanes[name]] for name in names}
    return (
        json.dumps(
            {
                "rig": run.rig.id,
                "script": run.script.id,
                "seed": run.seed,
                "core": __version__,
                "time": [round(float(t), 2) for t in run.time],
                "lanes": lanes,
            }
        )
        + "\n"
    )


def _as_summary(runs: list[Run], names: list[str]) -> str:
    found = [(condition, rows) for run in runs for condition, rows in run.summary().items()]
    conditions = {condition: {name: row for name, row in rows.items() if name in names} for condition, rows in found}
    codes = sorted({name for run in runs if run.script.ambient is None for name in trouble_codes(run)})
    summary = {"rig": runs[0].rig.id, "seed": runs[0].seed, "core": __version__, "conditions": conditions, "dtc": codes}
    return json.dumps(summary, indent=1) + "\n"


def _check_cases(options: argparse.Namespace) -> int:
    """Prints every assertion; returns the exit code."""
    try:
        text = options.file.read_text(encoding="utf-8")
    except (OSError, UnicodeDecodeError) as error:
        raise LeitfadenError(
            say(
                "cannot read {file}: {value}",
                file=options.file,
                value=getattr(error, "strerror", None) or "it is no text",
            )
        ) from error
    catalogue = parse_cases(text, source=str(options.file))
    if options.rig:
        load_rig(options.rig)
        catalogue = catalogue.model_copy(
            update={"cases": [case for case in catalogue.cases if case.engine == options.rig]}
        )
    results = []
    for result in check_cases(catalogue):
        results.append(result)
        if not options.json:
            print(f"{result.id}  {result.engine}  {'pass' if result.passed else 'FAIL'}  {result.title}")
            for outcome in result.outcomes:
                print(f"    {'pass' if outcome.passed else 'FAIL'}  {outcome.expected}; got {outcome.got}")
    if options.json:
        rows = [asdict(result) | {"passed": result.passed} for result in results]
        print(json.dumps(rows, indent=1, ensure_ascii=False))
    else:
        outcomes = [outcome for result in results for outcome in result.outcomes]
        print(
            say(
                "{count} of {count_2} cases, {count_3} of {count_4} assertions pass",
                count=sum(r.passed for r in results),
                count_2=len(results),
                count_3=sum(o.passed for o in outcomes),
                count_4=len(outcomes),
            )
        )
    return 0 if all(result.passed for result in results) else 1


def _show_progress(done: int, total: int) -> None:
    print(f"\r{done} of {total} healthy engines", end="\n" if done == total else "", file=sys.stderr)


def _expect(options: argparse.Namespace) -> None:
    rig = load_rig(options.rig)
    if options.rebuild:
        sheet = compute_sheet(rig, progress=_show_progress if sys.stderr.isatty() else None)
        write_sheet(sheet, Path(__file__).parent.parent / "expect" / "data" / f"{rig.id}.json")
        load_sheet.cache_clear()
    sheet = load_sheet(rig)
    wanted = [options.condition] if options.condition else list(dict.fromkeys(key[0] for key in sheet.bands))
    if options.condition:
        condition_of(options.condition)
        if options.condition not in {key[0] for key in sheet.bands}:
            raise UnknownName(
                "condition",
                options.condition,
                {key[0] for key in sheet.bands},
                where=say("in the value sheet of {id}", id=rig.id),
            )
    own = parse_own(options.own.read_text(encoding="utf-8"), str(options.own)) if options.own else {}
    rows = []
    for condition in wanted:
        for entry in map(channel, rig_channels(rig)):
            rows.append(_expect_row(rig, sheet.members, condition, entry, own, options.why))
    _print_rows(options, rows)


def _expect_row(
    rig: Rig, members: int, condition: str, entry: Channel, own: dict[tuple[str, str], OwnValue], why: bool
) -> dict[str, Any]:
    """A channel in a condition: its band, or why it has none; one's own value takes the computed one's place and says
    so.
    """
    row: dict[str, Any] = {"condition": condition, "channel": entry.id, "layer": str(entry.layer)}
    unit = QUANTITIES[entry.quantity].kept
    given = own.get((condition, entry.id))
    missing, band = no_meaning(rig, condition, entry.id), band_of(rig, condition, entry.id)
    if given is not None:
        row |= {
            "low": f"{given.low:.4g}",
            "median": "",
            "high": f"{given.high:.4g}",
            "unit": unit,
            "note": say("own value: {source}", source=given.source),
        }
    elif missing is not None or band is None:
        words = missing or "healthy engines have no defined value of this here"
        row |= {"low": "", "median": "", "high": "", "unit": "", "note": say("no meaning: {words}", words=words)}
    else:
        row |= {"low": f"{band.low:.4g}", "median": f"{band.median:.4g}", "high": f"{band.high:.4g}", "unit": unit}
        row |= {"note": band.width() if why else "", "at least": f"{band.least:.4g}", "at most": f"{band.most:.4g}"}
        row["why"] = [band.why(members)]
    return row
