"""Vehicles that are put to tests: a rig with faults, as it is or as one odd engine of its population."""

from leitfaden_core.diagnose import Taken, take
from leitfaden_core.expect import individual_engine
from leitfaden_core.faults import parse_fault
from leitfaden_core.instruments import Vehicle
from leitfaden_core.rigs import load_rig


def car(rig: str, *faults: str, seed: int = 0) -> Vehicle:
    """The rig itself with some faults."""
    return Vehicle(load_rig(rig), tuple(parse_fault(text) for text in faults), seed)


def odd_car(rig: str, fault: str | None, seed: int) -> Vehicle:
    """One engine of the population, with a fault or sound: nothing on it is exactly as its rig has it."""
    own = tuple(sorted(individual_engine(load_rig(rig), seed).items()))
    return Vehicle(load_rig(rig), () if fault is None else (parse_fault(fault),), seed, own)


def evidence(vehicle: Vehicle, *tests: str) -> list[Taken]:
    """Some tests taken on a vehicle, with what they showed."""
    return [take(vehicle, name) for name in tests]
