"""Recordings as plain tables: written as CSV with units, and read back, also when another program has written them."""

import csv
import itertools
from collections.abc import Iterable
from dataclasses import dataclass, field
from typing import Any, TextIO

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.channels import CHANNELS, channel
from leitfaden_core.errors import BadDocument
from leitfaden_core.quantities import parse_reading
from leitfaden_core.recordings.recording import Event, Recording, Stretch, unit_of
from leitfaden_core.rigs import Rig
from leitfaden_core.simulate.shape import statistic_of
from leitfaden_core.words import say

#: Columns of text in a table.
CONDITION, EVENT = "condition", "event"


@dataclass(frozen=True)
class Capture:
    """A recording that came as a table. It knows no conditions but those that somebody has named."""

    rig: Rig
    time: NDArray[np.float64]
    columns: dict[str, NDArray[np.float64]]
    events: tuple[Event, ...] = ()
    stretches: tuple[Stretch, ...] = field(default=())

    @property
    def channels(self) -> list[str]:
        """Ids of the columns."""
        return list(self.columns)

    def column(self, name: str) -> NDArray[np.floating[Any]]:
        """Values of a channel."""
        return self.columns[name]

    def statistic(self, condition: str, name: str, stat: str) -> float:
        """A statistic over the last stretch that is named so; NaN when none is."""
        last = next((s for s in reversed(self.stretches) if s.condition == condition), None)
        if last is None:
            return float("nan")
        inside = (self.time > last.start) & (self.time <= last.end)
        return statistic_of(lambda column: self.columns[column][inside], name, stat, last.end - last.start)

    def substituted(self, condition: str, name: str) -> bool:
        """Never known: a table does not tell what its values were made of."""
        return False


def write_csv(recording: Recording, out: TextIO, channels: Iterable[str] | None = None) -> None:
    """A recording as a table: time, then a column per channel, each with its unit in brackets; empty: not defined.

    Two columns of text close it: the condition of each row, and what was done in it.
    """
    names = list(channels if channels is not None else recording.channels)
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(["time [s]", *(f"{name} [{unit_of(name)}]" for name in names), CONDITION, EVENT])
    columns = [recording.column(name) for name in names]
    texts = _texts_of_rows(recording)
    for k, seconds in enumerate(recording.time):
        values = (column[k] for column in columns)
        writer.writerow([f"{seconds:.3f}", *("" if value != value else f"{value:.6g}" for value in values), *texts[k]])


def _texts_of_rows(recording: Recording) -> list[list[str]]:
    """Condition and events of each row."""
    time = np.asarray(recording.time)
    texts = [["", ""] for _ in time]
    for stretch in recording.stretches:
        first, last = np.searchsorted(time, (stretch.start, stretch.end), side="right")
        for row in texts[first:last]:
            row[0] = stretch.condition
    for event in recording.events:
        row = texts[min(int(np.searchsorted(time, event.seconds, side="right")), len(texts) - 1)]
        row[1] = "; ".join(part for part in (row[1], event.words.replace(";", ",")) if part)
    return texts


def read_csv(text: TextIO, rig: Rig) -> Capture:
    """A table as a recording of a rig. Columns of other units are converted; what is no channel is left out.

    Raises
    ------
    BadDocument
        Naming the row and the column that cannot be read.
    """
    rows = csv.reader(text)
    heads = next(rows, [])
    if not heads or heads[0].partition("[")[0].strip() != "time":
        raise BadDocument("the table's first column must be 'time [s]'")
    known = {k: _named(head) for k, head in enumerate(heads) if k and _named(head)[0] in CHANNELS}
    if not known:
        raise BadDocument("the table has no column that is a channel, such as 'maf [g/s]'")
    named = {name: heads.index(name) for name in (CONDITION, EVENT) if name in heads}
    told: dict[str, list[tuple[float, str]]] = {CONDITION: [], EVENT: []}
    time: list[float] = []
    values: dict[str, list[float]] = {name: [] for name, _unit in known.values()}
    for number, row in enumerate(rows, 2):
        if len(row) != len(heads):
            raise BadDocument(
                say(
                    "row {number} of the table has {count} columns instead of {count_2}",
                    number=number,
                    count=len(row),
                    count_2=len(heads),
                )
            )
        time.append(_number(row[0], number, "time"))
        for column, k in named.items():
            told[column].append((time[-1], row[k].strip()))
        for k, (name, unit) in known.items():
            values[name].append(float("nan") if not row[k].strip() else _kept(row[k], unit, name, number))
    if len(time) < 2 or any(later <= earlier for earlier, later in itertools.pairwise(time)):
        raise BadDocument("the table's time must rise from row to row, over two rows at least")
    columns = {name: np.array(found) for name, found in values.items()}
    return Capture(rig, np.array(time), columns, _events(told[EVENT]), _stretches(told[CONDITION]))


def _events(rows: list[tuple[float, str]]) -> tuple[Event, ...]:
    return tuple(
        Event(seconds, "mark", words.strip()) for seconds, text in rows for words in text.split(";") if words.strip()
    )


def _stretches(rows: list[tuple[float, str]]) -> tuple[Stretch, ...]:
    """Rows of one condition after the other as stretches: a row stands for the time since the one before it."""
    found, before = [], rows[0][0] if rows else 0.0
    for name, part in itertools.groupby(rows, key=lambda row: row[1]):
        last = [seconds for seconds, _name in part][-1]
        if name and last > before:
            found.append(Stretch(name, before, last))
        before = last
    return tuple(found)


def kept_from(values: NDArray[np.float64], unit: str, name: str) -> NDArray[np.float64]:
    """Values of a channel in another unit, as they are kept. LeitfadenError for a unit that its quantity has not."""
    if unit in {"", unit_of(name)}:
        return values
    # Every conversion of a unit is a straight line: two points tell it.
    zero, one = (parse_reading(f"{value!r} {unit}", channel(name).quantity) for value in (0.0, 1.0))
    return zero + (one - zero) * values


def _named(head: str) -> tuple[str, str]:
    name, _, unit = head.partition("[")
    return name.strip(), unit.rstrip("] ").strip()


def _number(cell: str, row: int, name: str) -> float:
    try:
        return float(cell)
    except ValueError:
        raise BadDocument(
            say("row {row} of the table, {name}: '{cell}' is no number", row=row, name=name, cell=cell)
        ) from None


def _kept(cell: str, unit: str, name: str, row: int) -> float:
    value = _number(cell, row, name)
    if unit in {"", unit_of(name)}:
        return value
    return parse_reading(f"{value!r} {unit}", channel(name).quantity)
