"""The signature of a fault: which channels leave their band, in which condition, by how much; and the matrix of all
faults of a rig.
"""

from dataclasses import dataclass

from leitfaden_core.channels import Layer, channel
from leitfaden_core.diagnose.candidates import candidates
from leitfaden_core.expect import load_sheet
from leitfaden_core.faults import FaultSpec
from leitfaden_core.judge.verdict import no_meaning
from leitfaden_core.rigs import Rig
from leitfaden_core.scripts import reading_scripts
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
    rig: Rig, faults: list[FaultSpec], layers: tuple[Layer, ...] = (Layer.SCAN, Layer.PIN, Layer.TRUTH)
) -> list[Departure]:
    """All statistics of a faulty engine that lie outside their band, the farthest first."""
    bands = load_sheet(rig).bands
    found = []
    for script in reading_scripts():
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


@dataclass(frozen=True)
class Row:
    """A fault with, for each condition, the scan channel that leaves its band farthest (empty: none does)."""

    candidate: str
    label: str
    cells: dict[str, str]


def matrix(rig: Rig, only: tuple[str, ...] = ()) -> list[Row]:
    """Faults of a rig at their middle size against conditions."""
    rows = []
    for cause in candidates(rig):
        if not cause.sizes or (only and cause.id not in only):
            continue
        found = signature(rig, [cause.sizes[len(cause.sizes) // 2]], (Layer.SCAN,))
        cells: dict[str, str] = {}
        for departure in found:
            arrow = "↑" if departure.deviations > 0 else "↓"
            cells.setdefault(departure.condition, f"{departure.channel}{arrow}")
        rows.append(Row(cause.id, cause.label, cells))
    return rows
