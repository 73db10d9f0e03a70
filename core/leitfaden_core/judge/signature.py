"""The signature of a fault: which channels leave their band, in which condition, by how much; and the matrix of all
faults of a rig.
"""

from collections.abc import Callable
from dataclasses import dataclass

from leitfaden_core.channels import Layer, channel
from leitfaden_core.diagnose.candidates import candidates
from leitfaden_core.expect import load_sheet
from leitfaden_core.faults import FaultSpec, describe_fault
from leitfaden_core.judge.verdict import no_meaning
from leitfaden_core.rigs import Rig
from leitfaden_core.scripts import Script, reading_scripts
from leitfaden_core.simulate import stored_statistics


@dataclass(frozen=True)
class Departure:
    """A statistic outside its healthy band."""

    condition: str
    channel: str
    layer: str
    stat: str
    value: float
    low: float
    high: float
    deviations: float  # from the healthy mean, in standard deviations; its sign is the side


#: Statistics that a data list shows.
LISTED = frozenset({"mean", "min", "max", "freq"})


def signature(
    rig: Rig,
    faults: list[FaultSpec],
    layers: tuple[Layer, ...] = (Layer.SCAN, Layer.PIN, Layer.TRUTH),
    along: Script | None = None,
) -> list[Departure]:
    """All statistics of a faulty engine that lie outside their band, the farthest first; along one drive, or along all
    in which conditions are read.
    """
    bands = load_sheet(rig).bands
    found = []
    for script in [along] if along else reading_scripts():
        for condition, channels in stored_statistics(rig, script, [faults])[0].items():
            for name, stats in channels.items():
                if channel(name).layer not in layers or no_meaning(rig, condition, name) is not None:
                    continue
                for stat, value in stats.items():
                    band = bands.get((condition, name, stat))
                    # The shape of a signal is judged on its lane; a signature is what a data list shows.
                    if stat not in LISTED or band is None or value != value or band.low <= value <= band.high:
                        continue
                    away = (value - band.mean) / band.deviation
                    found.append(
                        Departure(condition, name, str(channel(name).layer), stat, value, band.low, band.high, away)
                    )
    return sorted(found, key=lambda departure: -abs(departure.deviations))


def by_sight(found: list[Departure]) -> list[Departure]:
    """One departure for each channel in each condition, in the order in which a technician can see them: displayed
    values, then pins, then what only the model knows; the farthest first within each.
    """
    order = [str(layer) for layer in (Layer.SCAN, Layer.PIN, Layer.TRUTH)]
    best: dict[tuple[str, str], Departure] = {}
    for departure in found:  # the farthest first
        kept = best.get((departure.condition, departure.channel))
        if kept is None or (departure.stat == "mean" and kept.stat != "mean"):
            best[departure.condition, departure.channel] = departure
    return sorted(best.values(), key=lambda d: (order.index(d.layer), -abs(d.deviations)))


#: Standard deviations of healthy engines from which on a matrix names a value: of forty sound values one or two lie
#: outside their band.
CLEAR = 3.0


@dataclass(frozen=True)
class Row:
    """A fault with, for each condition, the scan channel that leaves healthy engines farthest (empty: none clearly)."""

    candidate: str
    label: str
    words: str
    fault: FaultSpec
    cells: dict[str, str]


def matrix(rig: Rig, only: tuple[str, ...] = (), progress: Callable[[int, int], None] | None = None) -> list[Row]:
    """Faults of a rig at their middle size against conditions."""
    rows = []
    asked = [cause for cause in candidates(rig) if cause.sizes and (not only or cause.id in only)]
    for done, cause in enumerate(asked):
        if progress is not None:
            progress(done, len(asked))
        size = cause.sizes[len(cause.sizes) // 2]
        cells: dict[str, str] = {}
        for departure in signature(rig, [size], (Layer.SCAN,)):
            if abs(departure.deviations) < CLEAR:
                break  # the farthest come first
            arrow = "↑" if departure.deviations > 0 else "↓"
            cells.setdefault(departure.condition, f"{departure.channel}{arrow}")
        rows.append(Row(cause.id, cause.label, describe_fault(size), size, cells))
    return rows
