"""What the control unit stores of what its monitors found, over drives that follow each other.

A failed two-trip monitor leaves a pending code; a second failure in the next drive in which the monitor answers
confirms it, lights the lamp and makes it permanent. A drive in which the monitor passes takes a pending code away;
three put the lamp out, and with it goes the permanent code (SAE J1979, services 03, 07 and 0A; the counts follow the
usual on-board diagnostic regulation).
"""

from dataclasses import dataclass, field
from functools import lru_cache
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.channels import CHANNELS
from leitfaden_core.faults import FaultSpec
from leitfaden_core.monitors import circuits, systems  # noqa: F401  importing them registers the monitors
from leitfaden_core.monitors.inhibitions import silenced_by
from leitfaden_core.monitors.logic import CONTINUOUS, Drive, Monitor, System, Test
from leitfaden_core.rigs import Rig, rig_channels
from leitfaden_core.scripts import Script
from leitfaden_core.simulate import FRAME, Run, simulate

#: Passing drives after which the lamp goes out.
LAMP_OUT_AFTER = 3
#: What a freeze frame holds, as far as the rig has it.
FREEZE_FRAME = (
    "rpm",
    "load",
    "ect",
    "iat",
    "map",
    "charge_pressure",
    "maf",
    "stft",
    "ltft",
    "throttle",
    "rail_pressure",
    "battery_v",
)


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


class OnBoardDiagnosis:
    """The monitors of a control unit over its drives, and its memory of what they found. Fed with rows as they come.

    It may follow a machine. A drive goes from key on to key off. A code is there as soon as its monitor has failed;
    that a drive passed is known at its end.
    """

    def __init__(self, rig: Rig) -> None:
        self.rig, self.number = rig, 0
        self.clear()

    def clear(self) -> None:
        """Forget codes, freeze frames and readiness, as the scan tool's command does; monitors begin anew."""
        self.memories: dict[str, _Memory] = {}
        self.answered: dict[System, bool] = {}
        self.drive: Drive | None = None
        self.last: Any = None  # row of the drive

    def feed(self, rows: NDArray[np.void]) -> None:
        """The next rows of ``layout.LANES``, in any portions."""
        powered = rows["powered"] > 0.5
        edges = np.flatnonzero(np.diff(powered.astype(np.int8))) + 1
        for start, end in zip([0, *edges], [*edges, len(rows)], strict=True):
            if start == end:
                continue
            if powered[start]:
                self._feed_powered(rows[start:end])
            else:
                self.end_drive()

    def _feed_powered(self, rows: NDArray[np.void]) -> None:
        if self.drive is None:
            self.number += 1
            self.drive = Drive(self.rig)
            self.failed: set[int] = set()
            self.silent: set[int] = set()
        first = self.drive.frames
        self.drive.feed(rows)
        self._take_over(rows, first)

    def end_drive(self) -> None:
        """The key is off: monitors that judge a whole drive speak, and those that passed are counted."""
        if self.drive is None:
            return
        self.drive.close()
        self._take_over(None, 0)
        silent = {self.drive.watched[k][0].code for k in self.silent}
        for code, passed in _passed(self.drive).items():
            if code in silent:
                continue
            if passed and code in self.memories:
                _pass(self.memories[code])
        self.drive = None

    def _take_over(self, rows: NDArray[np.void] | None, first: int) -> None:
        """Codes of monitors that have failed since the last rows, with the row at which they did."""
        assert self.drive is not None
        already = {self.drive.watched[k][0].code for k in self.failed}
        # In the order in which they failed: the first may silence those behind it.
        order = sorted(
            range(len(self.drive.watched)),
            key=lambda k: _failed_at(self.drive.watched[k][1]),  # type: ignore[union-attr]
        )
        for k in order:
            entry, test = self.drive.watched[k]
            if k not in self.failed and self._silenced(entry.code):
                self.silent.add(k)
            if k in self.silent:
                self.answered.setdefault(entry.system, entry.system in CONTINUOUS)
                continue
            self.answered[entry.system] = (
                self.answered.get(entry.system, entry.system in CONTINUOUS)
                or test.completed
                or test.failed_at is not None
            )
            if test.failed_at is None or k in self.failed:
                continue
            self.failed.add(k)
            if entry.code not in already:
                row = rows[min(max(test.failed_at - first, 0), len(rows) - 1)] if rows is not None else self.last
                self._fail(entry, test, row)
                already.add(entry.code)
        if rows is not None:
            self.last = rows[-1].copy()

    def _silenced(self, code: str) -> bool:
        """Whether a stored code forbids to judge by what this one's monitor reads."""
        return any(
            memory.first is not None and code in silenced_by(other, self.rig) for other, memory in self.memories.items()
        )

    def _fail(self, entry: Monitor, test: Test, row: Any) -> None:
        memory = self.memories.setdefault(entry.code, _Memory())
        memory.failures += 1
        memory.passes = 0
        if memory.first is None:
            assert test.failed_at is not None
            memory.first = (self.number, (test.failed_at + 1) * FRAME)
            memory.frame = {
                name: round(float(row[name]), 4)
                for name in FREEZE_FRAME
                if name in rig_channels(self.rig) and name in CHANNELS
            }
        if memory.failures >= entry.trips:
            memory.confirmed = memory.lamp = True

    def report(self, plugged: set[str] | None = None) -> Report:
        """Codes, lamp and readiness at present. ``plugged``: the codes that are set with every connector on."""
        codes = [
            _stored(code, memory, plugged) for code, memory in sorted(self.memories.items()) if memory.first is not None
        ]
        return Report(codes, {system: "complete" if done else "incomplete" for system, done in self.answered.items()})


def _failed_at(test: Test) -> float:
    return float("inf") if test.failed_at is None else test.failed_at


def _passed(drive: Drive) -> dict[str, bool]:
    """Whether each code's monitors have all answered, and none has failed."""
    passed: dict[str, bool] = {}
    for entry, test in drive.watched:
        passed[entry.code] = passed.get(entry.code, True) and test.completed and test.failed_at is None
    return passed


def _pass(memory: _Memory) -> None:
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
    origin: Literal["vehicle", "unplugging"] = (
        "unplugging" if plugged is not None and code not in plugged else "vehicle"
    )
    status: Literal["pending", "confirmed"] = "confirmed" if memory.confirmed else "pending"
    return StoredCode(code, status, memory.lamp, memory.lamp, *memory.first, memory.frame, origin)


def trouble_report(drives: list[Run], without_unplugging: list[Run] | None = None) -> Report:
    """Codes, lamp and readiness after recorded runs one after the other, from an empty memory.

    Parameters
    ----------
    drives : list of Run
        Of one vehicle; the key is off between them.
    without_unplugging : list of Run, optional
        The same drives with every connector plugged in: codes that are not set there get the origin "unplugging".
    """
    diagnosis = OnBoardDiagnosis(drives[0].rig)
    for run in drives:
        diagnosis.feed(run.lanes)
        diagnosis.end_drive()
    return diagnosis.report(set(trouble_codes_of(without_unplugging)) if without_unplugging is not None else None)


def trouble_codes_of(drives: list[Run]) -> list[str]:
    """All codes that some drive sets, sorted."""
    return sorted({code for run in drives for code in trouble_codes(run)})


def trouble_codes(run: Run) -> list[str]:
    """Codes that are pending or confirmed after two drives like this one, sorted."""
    diagnosis = OnBoardDiagnosis(run.rig)
    diagnosis.feed(run.lanes)
    diagnosis.end_drive()
    return sorted(diagnosis.memories)


def watched_run(rig: Rig, script: Script, faults: list[FaultSpec], seed: int = 0) -> tuple[Run, list[str]]:
    """A run and its :func:`trouble_codes`; the monitors run along. The last ones are remembered, since a bench asks
    for other channels of the same.
    """
    return _watched(rig, script.model_dump_json(), tuple(fault.model_dump_json() for fault in faults), seed)


@lru_cache(maxsize=4)
def _watched(rig: Rig, script: str, faults: tuple[str, ...], seed: int) -> tuple[Run, list[str]]:
    diagnosis = OnBoardDiagnosis(rig)
    specs = [FaultSpec.model_validate_json(fault) for fault in faults]
    run = simulate(rig, Script.model_validate_json(script), specs, seed, followers=(diagnosis,))
    diagnosis.end_drive()
    return run, sorted(diagnosis.memories)
