"""Recordings as ASAM MDF 4 (ASAM MCD-2, version 4.10): channels with units and layers, conditions and events beside
them.

Values lie in one group of channels on one time axis; the name of the condition and what was done in groups of text of
their own. A file from elsewhere is read as far as its channels have names that we know.
"""

import contextlib
import io
import itertools
import tempfile
from collections.abc import Iterable
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.channels import CHANNELS, channel
from leitfaden_core.errors import BadDocument
from leitfaden_core.recordings.capture import CONDITION, EVENT, Capture, kept_from
from leitfaden_core.recordings.recording import Event, Recording, Stretch, unit_of
from leitfaden_core.rigs import Rig
from leitfaden_core.words import say

#: What a file may hold at most. [points]
MOST_POINTS = 20_000_000
#: Two times are the same within this. [s]
_SAME = 1e-6


def write_mdf(recording: Recording, channels: Iterable[str] | None = None) -> bytes:
    """A recording as the bytes of a file."""
    # The package takes a second to load: only who writes or reads such a file waits for it.
    from asammdf import MDF, Signal

    names = list(channels if channels is not None else recording.channels)
    time = np.asarray(recording.time, dtype=np.float64)
    file = MDF(version="4.10")
    file.header.comment = f"Leitfaden, rig {recording.rig.id} ({recording.rig.name})"
    values = [
        Signal(
            np.asarray(recording.column(name), dtype=np.float32),
            time,
            unit=unit_of(name),
            name=name,
            comment=f"{channel(name).label}, {channel(name).layer}",
        )
        for name in names
    ]
    file.append(values, comment="values", common_timebase=True)
    edges = [(s.start, s.condition) for s in recording.stretches] + [(s.end, "") for s in recording.stretches]
    for name, entries in ((CONDITION, sorted(edges)), (EVENT, [(e.seconds, e.words) for e in recording.events])):
        if entries:
            texts = np.array([text.encode() for _time, text in entries])
            times = np.array([seconds for seconds, _text in entries])
            file.append([Signal(texts, times, name=name, encoding="utf-8")], comment=name)
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "recording.mf4"
        file.save(path, overwrite=True, compression=2)
        file.close()
        return path.read_bytes()


def read_mdf(content: bytes, rig: Rig) -> Capture:
    """A file as a recording of a rig. Other units are converted; what is no channel is left out.

    Raises
    ------
    BadDocument
        When it is no such file, or a channel in it cannot be read; names the channel.
    """
    from asammdf import MDF

    if content[:3] != b"MDF":
        raise BadDocument(say("this is no measurement file: it does not begin with 'MDF'"))
    try:
        file = MDF(io.BytesIO(content))
    except Exception:  # the package raises whatever its parsing runs into
        raise BadDocument(say("this measurement file cannot be read: it is damaged or of an unknown version")) from None
    with contextlib.closing(file):
        return _read(file, rig)


def _read(file: Any, rig: Rig) -> Capture:
    found: dict[str, tuple[NDArray[np.float64], NDArray[np.float64]]] = {}
    points = 0
    for name in (name for name in file.channels_db if name in CHANNELS):
        try:
            group, index = file.channels_db[name][0]
            signal = file.get(group=group, index=index)
            times, values = np.asarray(signal.timestamps, float), np.asarray(signal.samples, dtype=np.float64)
        except Exception:
            raise BadDocument(say("channel '{name}' of the measurement file cannot be read", name=name)) from None
        points += len(values)
        if points > MOST_POINTS or values.ndim != 1:
            raise BadDocument(
                say("channel '{name}' of the measurement file is too large or no row of numbers", name=name)
            )
        found[name] = times, kept_from(values, str(signal.unit or ""), name)
    if not found:
        raise BadDocument(say("the measurement file has no channel that is known here, such as 'maf'"))
    time = max((times for times, _values in found.values()), key=len)
    if len(time) < 2 or not bool(np.all(np.diff(time) > 0.0)):
        raise BadDocument(say("the measurement file's time must rise from point to point, over two points at least"))
    columns = {name: _on(time, times, values) for name, (times, values) in found.items()}
    events = tuple(Event(seconds, "mark", words) for seconds, words in _texts(file, EVENT))
    return Capture(rig, time, columns, events, _stretches(_texts(file, CONDITION)))


def _on(time: NDArray[np.float64], times: NDArray[np.float64], values: NDArray[np.float64]) -> NDArray[np.float64]:
    """Values on a common time: the last one known at each point."""
    if len(times) == len(time) and bool(np.all(np.abs(times - time) < _SAME)):
        return values
    if not len(times):
        return np.full(len(time), np.nan)
    at = np.searchsorted(times, time + _SAME, side="right") - 1
    return np.where(at >= 0, values[np.maximum(at, 0)], np.nan)


def _texts(file: Any, name: str) -> list[tuple[float, str]]:
    if name not in file.channels_db:
        return []
    signal = file.get(name)
    return [
        (float(seconds), text.decode("utf-8", "replace") if isinstance(text, bytes) else str(text))
        for seconds, text in zip(signal.timestamps, signal.samples, strict=True)
    ]


def _stretches(edges: list[tuple[float, str]]) -> tuple[Stretch, ...]:
    following = [*edges, (edges[-1][0], "")] if edges else []
    return tuple(
        Stretch(name, start, end)
        for (start, name), (end, _next) in itertools.pairwise(following)
        if name and end > start
    )
