"""What the control unit stores of what its monitors found, over drives that follow each other.

A failed two-trip monitor leaves a pending code; a second failure in the next drive in which the monitor answers confirms it, lights the lamp
and makes it permanent. A drive in which the monitor passes takes a pending code away; three put the lamp out, and with it goes the permanent
code (SAE J1979, services 03, 07 and 0A; the counts follow the usual on-board diagnostic regulation).
"""

from dataclasses import dataclass, field
from typing import Literal

from leitfaden_core.channels import CHANNELS
from leitfaden_core.monitors import circuits, systems  # noqa: F401  importing them registers the monitors
from leitfaden_core.monitors.logic import CONTINUOUS, Monitor, System, monitors_of
from leitfaden_core.rigs import rig_channels
from leitfaden_core.simulate import FRAME, Run

#: Passing drives after which the lamp goes out.
LAMP_OUT_AFTER = 3
#: What a freeze frame holds, as far as the rig has it.
FREEZE_FRAME = ("rpm", "load", "ect", "iat", "map", "charge_pressure", "maf", "stft", "ltft", "throttle", "rail_pressure", "battery_v")


@dataclass(frozen=True)
class StoredCode:
    """One code in the control unit's memory. ``origin`` tells codes that only an unplugged connector has caused."""

    code: str
    status: Literal["pending", "confirmed"]
    permanent: bool
    lamp: bool
    drive: int  # in which it was first set, from 1
    seconds: float  # in that drive
    freeze_frame: dict[str, float]
    origin: Literal["vehicle", "unplugging"] = "vehicle"


@dataclass(frozen=True)
class Report:
    """Codes, lamp and readiness after some drives."""

    codes: list[StoredCode]
    readiness: dict[System, Literal["complete", "incomplete"]]

    @property
    def lamp(self) -> bool:
        """Whether the malfunction indicator lamp is lit."""
        return any(code.lamp for code in self.codes)


@dataclass
class _Memory:
    failures: int = 0  # drives in a row
    passes: int = 0
    confirmed: bool = False
    lamp: bool = False
    first: tuple[int, float] | None = None
    frame: dict[str, float] = field(default_factory=dict)


def trouble_report(drives: list[Run], without_unplugging: list[Run] | None = None) -> Report:
    """Codes, lamp and readiness after drives one after the other, from an empty memory.

    Parameters
    ----------
    drives : list of Run
        Of one vehicle.
    without_unplugging : list of Run, optional
        The same drives with every connector plugged in: codes that are not set there get the origin "unplugging".
    """
    memories: dict[str, _Memory] = {}
    answered: dict[System, bool] = {}
    for number, run in enumerate(drives, start=1):
        for entry in monitors_of(run):
            answered.setdefault(entry.system, entry.system in CONTINUOUS)
            outcome = entry.test(run)
            memory = memories.setdefault(entry.code, _Memory())
            if outcome.failed_at is not None:
                _fail(memory, entry, run, number, outcome.failed_at)
                answered[entry.system] = True
            elif outcome.completed:
                _pass(memory)
                answered[entry.system] = True
    plugged = set(trouble_codes_of(without_unplugging)) if without_unplugging is not None else None
    codes = [_stored(code, memory, plugged) for code, memory in sorted(memories.items()) if memory.first is not None]
    return Report(codes, {system: "complete" if done else "incomplete" for system, done in answered.items()})


def _fail(memory: _Memory, entry: Monitor, run: Run, number: int, seconds: float) -> None:
    memory.failures += 1
    memory.passes = 0
    if memory.first is None:
        memory.first = (number, seconds)
        row = run.lanes[min(int(seconds / FRAME), len(run.lanes) - 1)]
        memory.frame = {name: round(float(row[name]), 4) for name in FREEZE_FRAME if name in rig_channels(run.rig) and name in CHANNELS}
    if memory.failures >= entry.trips:
        memory.confirmed = memory.lamp = True


def _pass(memory: _Memory) -> None:
    """A passed drive: two monitors of one code both have to pass, so a failure of the other in the same drive stands."""
    if memory.first is None:
        return
    memory.passes += 1
    memory.failures = 0
    if not memory.confirmed:
        memory.first = None
    elif memory.passes >= LAMP_OUT_AFTER:
        memory.lamp = False


def _stored(code: str, memory: _Memory, plugged: set[str] | None) -> StoredCode:
    assert memory.first is not None
    origin: Literal["vehicle", "unplugging"] = "unplugging" if plugged is not None and code not in plugged else "vehicle"
    status: Literal["pending", "confirmed"] = "confirmed" if memory.confirmed else "pending"
    return StoredCode(code, status, memory.lamp, memory.lamp, *memory.first, memory.frame, origin)


def trouble_codes_of(drives: list[Run]) -> list[str]:
    """All codes that some drive sets, sorted."""
    return sorted({entry.code for run in drives for entry in monitors_of(run) if entry.test(run).failed_at is not None})


def trouble_codes(run: Run) -> list[str]:
    """Codes that are pending or confirmed after two drives like this one, sorted."""
    return trouble_codes_of([run])
