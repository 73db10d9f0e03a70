"""Which vehicle a command is about, and its settings."""

import argparse

from leitfaden_core.diagnose import hidden_vehicle
from leitfaden_core.errors import LeitfadenError
from leitfaden_core.faults import parse_fault
from leitfaden_core.instruments import Vehicle
from leitfaden_core.rigs import load_rig
from leitfaden_core.words import say


def vehicle_of(options: argparse.Namespace) -> Vehicle:
    """The vehicle that a command is about: with named faults, or the unknown one of a seed."""
    if options.hidden is not None and options.fault:
        raise LeitfadenError("--hidden and --fault exclude each other: an unknown vehicle has its own fault")
    if options.hidden is not None:
        if options.hidden < 0:
            raise LeitfadenError(say("--hidden is {hidden}; it must be 0 or more", hidden=options.hidden))
        vehicle = hidden_vehicle(load_rig(options.rig), options.hidden)
    else:
        rig = load_rig(options.rig)
        vehicle = Vehicle(rig, tuple(parse_fault(text) for text in options.fault), options.seed)
    return vehicle.with_plug_off(*options.unplug) if getattr(options, "unplug", None) else vehicle


def pairs(texts: list[str]) -> dict[str, str]:
    """``name=value`` arguments."""
    found = {}
    for text in texts:
        name, equals, value = text.partition("=")
        if not equals:
            raise LeitfadenError(say("write settings as name=value, not '{what}'", what=text))
        found[name.strip()] = value.strip()
    return found
