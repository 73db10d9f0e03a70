"""pins and codes: a meter on the wiring, and what the control unit has stored."""

import argparse
from dataclasses import asdict

from leitfaden_core.errors import LeitfadenError, UnknownName
from leitfaden_core.faults import FaultSpec, left_with_plugs_off, parse_fault
from leitfaden_core.monitors import code, trouble_report
from leitfaden_core.rigs import Rig, load_rig
from leitfaden_core.scripts import condition, load_script, reading_scripts, script_with
from leitfaden_core.simulate import simulate
from leitfaden_core.simulate.pins import network_at
from leitfaden_core.wiring.circuits import CIRCUITS, circuits_of
from leitfaden_core.wiring.network import GROUND
from leitfaden_core.words import say


def circuit_wires(names: list[str], rig: Rig) -> frozenset[str]:
    """Wires of circuits that a user names, such as ``map_signal``."""
    known = circuits_of(rig, "signal", "supply", "actuator")
    for name in names:
        if name not in known:
            raise UnknownName("circuit", name, known, where=say("on rig {id}", id=rig.id))
    return frozenset(CIRCUITS[name].wire for name in names)


def unplugged_faults(names: list[str], rig: Rig) -> list[FaultSpec]:
    """What unplugging does to the control unit: an open wire, for as long as it lasts."""
    circuit_wires(names, rig)
    return [FaultSpec(kind="signal_open", params={"circuit": name}) for name in names]


def pin_rows(options: argparse.Namespace) -> list[dict[str, object]]:
    """Voltage of every node against battery minus; with ``--between``, volts and ohms between two of them."""
    rig, wanted = load_rig(options.rig), condition(options.condition).id
    script = script_with(wanted)
    unplugged = circuit_wires(options.unplug, rig)
    acting = left_with_plugs_off([parse_fault(text) for text in options.fault], frozenset(options.unplug), rig)
    run = simulate(rig, script, acting, options.seed)
    seconds = sum(script.span(wanted)) / 2.0
    powered, dead = (network_at(run, seconds, unplugged, key_off=off) for off in (False, True))
    if options.between:
        red, black = options.between
        volts, ohms = powered.volts(red, black), dead.ohms(red, black)
        return [
            {
                "red": red,
                "black": black,
                "volts": f"{volts:.3f}",
                "ohms, key off": "open" if ohms is None else f"{ohms:.1f}",
            }
        ]
    shown = dead if options.key_off else powered
    return [{"pin": name, "volts": f"{shown.volts(name, GROUND):.3f}"} for name in shown.nodes()]


def code_rows(options: argparse.Namespace) -> list[dict[str, object]]:
    """Codes after some drives with the faults, and some more without them."""
    if not 1 <= options.drives <= 10 or not 0 <= options.good_drives_after <= 10:
        raise LeitfadenError("--drives takes 1 to 10, --good-drives-after 0 to 10")
    rig, script = load_rig(options.rig), load_script(options.script)
    if script.id not in {known.id for known in reading_scripts()}:
        raise UnknownName(
            "script",
            script.id,
            [known.id for known in reading_scripts()],
            where="with conditions in which monitors ask",
        )
    faults = [parse_fault(text) for text in options.fault]
    unplugged = unplugged_faults(options.unplug, rig)
    acting = left_with_plugs_off(faults, frozenset(options.unplug), rig) + unplugged
    faulty, plugged, good = (simulate(rig, script, wrong, options.seed) for wrong in (acting, faults, []))
    after = [good] * options.good_drives_after
    report = trouble_report([faulty] * options.drives + after, [plugged] * options.drives + after)
    codes = [
        asdict(stored) | {"meaning": code(stored.code, rig).meaning, "seconds": round(stored.seconds, 2)}
        for stored in report.codes
    ]
    readiness: list[dict[str, object]] = [
        {"system": system, "readiness": state} for system, state in report.readiness.items()
    ]
    return readiness if options.readiness else (codes or [{"code": "none", "meaning": "no code stored"}])
