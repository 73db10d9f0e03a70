"""A stretch of what was on a bench, as a recording that can be kept, given away and laid over another."""

import itertools

import numpy as np

from leitfaden_core.live.bench import Beginning, Bench, Done
from leitfaden_core.live.told import told
from leitfaden_core.recordings import Capture, Event, Stretch
from leitfaden_core.simulate import FRAME
from leitfaden_core.simulate.naming import NAMED, NONE, Naming

#: A condition counts as a stretch of its own from so long on. [s]
SHORTEST = 1.0
#: Frames before a stretch from which its conditions are named: they have to have held for a while.
BEFORE = 3000


def stretch_of(beginning: Beginning, journal: list[Done], first: int, last: int, channels: list[str]) -> Capture:
    """Rows ``first`` to before ``last`` of a bench, with conditions and what was done; time begins at 0."""
    bench = Bench.replayed(beginning, [done for done in journal if done.frame < last], last)
    start = max(first - BEFORE, 0)
    rows = bench.rows(start, last).rows
    names = Naming(bench.rig).feed(rows)[first - start :]
    rows = rows[first - start :]
    events = tuple(
        Event((done.frame - first) * FRAME, "action", words)
        for done, words in zip(journal, told(beginning, journal), strict=True)
        if first <= done.frame < last
    )
    time = np.asarray((np.arange(len(rows)) + 1) * FRAME, dtype=np.float64)
    columns = {name: np.asarray(rows[name], dtype=np.float64) for name in channels}
    return Capture(bench.rig, time, columns, events, spells_of(names))


def spells_of(names: np.ndarray) -> tuple[Stretch, ...]:
    """Stretches of the named conditions, from the number of the condition in each row."""
    cuts = [0, *(np.flatnonzero(np.diff(names)) + 1).tolist(), len(names)]
    spells = [(int(names[start]), start * FRAME, end * FRAME) for start, end in itertools.pairwise(cuts)]
    return tuple(
        Stretch(NAMED[name].id, start, end) for name, start, end in spells if name != NONE and end - start >= SHORTEST
    )
