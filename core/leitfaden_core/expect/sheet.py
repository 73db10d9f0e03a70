"""The value sheet of a rig: for every condition, channel and statistic the band of a healthy population, computed once and shipped."""

import hashlib
import json
from collections.abc import Callable
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from functools import cache
from importlib import resources
from pathlib import Path

import numpy as np

from leitfaden_core.channels import channel
from leitfaden_core.errors import LeitfadenError, UnknownName
from leitfaden_core.expect.population import individual_engine
from leitfaden_core.rigs import Rig, load_rig, rig_channels
from leitfaden_core.scripts import reading_scripts
from leitfaden_core.simulate import simulate, steady_statistics

#: Engines in the population, and the share of them that the band holds.
MEMBERS = 120
COVERED = 0.95
#: Sources that change what a healthy engine shows; editing others keeps the sheet valid.
_MODEL = ("constants.py", "channels.py", "engine", "sensors", "wiring", "control", "simulate", "scripts", "rigs", "expect/population.py")


@dataclass(frozen=True)
class Band:
    """What healthy engines show: ``low`` to ``high`` holds 95 % of them. In the unit in which the channel is kept."""

    condition: str
    channel: str
    stat: str
    low: float
    high: float
    median: float
    mean: float
    deviation: float

    def why(self, members: int) -> str:
        """Where the band comes from, in one sentence."""
        return f"{100 * COVERED:.0f} % of {members} healthy engines of this type, with production spread, ageing and a day's weather (15 to 25 °C, 99.3 to 103.3 kPa), and the display's own step"


@dataclass(frozen=True)
class ValueSheet:
    """All bands of a rig with the fingerprint of the model that computed them."""

    rig: str
    members: int
    fingerprint: str
    bands: dict[tuple[str, str, str], Band]


def sheet_fingerprint() -> str:
    """Hash of all sources and data that decide what a healthy engine shows."""
    root = Path(__file__).parent.parent
    digest = hashlib.sha256()
    for part in _MODEL:
        path = root / part
        for file in sorted(path.rglob("*")) if path.is_dir() else [path]:
            if file.suffix in {".py", ".yaml"}:
                digest.update(file.relative_to(root).as_posix().encode())
                digest.update(file.read_bytes())
    return digest.hexdigest()[:16]


def _member_statistics(job: tuple[str, int]) -> dict[str, dict[str, dict[str, float]]]:
    rig_id, seed = job
    rig = load_rig(rig_id)
    found: dict[str, dict[str, dict[str, float]]] = {}
    for script in reading_scripts():
        run = simulate(rig, script, [], seed, individual_engine(rig, seed))
        found |= steady_statistics(run, rig_channels(rig))
    return found


def compute_sheet(
    rig: Rig, members: int = MEMBERS, first_seed: int = 1000, workers: int = 2, progress: Callable[[int, int], None] | None = None
) -> ValueSheet:
    """Run a population of healthy engines and take the bands.

    The band is the central 95 % of the population, widened by one display step on either side: nobody can read closer than that.
    """
    jobs = [(rig.id, first_seed + k) for k in range(members)]
    results = []
    with ProcessPoolExecutor(workers) as pool:
        for k, result in enumerate(pool.map(_member_statistics, jobs)):
            results.append(result)
            if progress is not None:
                progress(k + 1, members)
    bands = {}
    tail = 100.0 * (1.0 - COVERED) / 2.0
    for condition in results[0]:
        for name in results[0][condition]:
            step = channel(name).step
            for stat in results[0][condition][name]:
                values = np.array([result[condition][name][stat] for result in results])
                values = values[~np.isnan(values)]
                if values.size < members // 2:
                    continue
                low, median, high = np.percentile(values, [tail, 50.0, 100.0 - tail])
                step = 0.1 if stat == "freq" else step
                bands[(condition, name, stat)] = Band(
                    condition,
                    name,
                    stat,
                    *(round(float(v), 5) for v in (low - step, high + step, median, values.mean(), max(values.std(), step / 2.0))),
                )
    return ValueSheet(rig.id, members, sheet_fingerprint(), bands)


def write_sheet(sheet: ValueSheet, path: Path) -> None:
    """Store a sheet as JSON: one line per condition and channel, so that a change can be read in a diff."""
    rows: dict[str, dict[str, list[float]]] = {}
    for (condition, name, stat), b in sheet.bands.items():
        rows.setdefault(f"{condition}/{name}", {})[stat] = [b.low, b.high, b.median, b.mean, b.deviation]
    lines = ",\n".join(f"{json.dumps(key)}: {json.dumps(value)}" for key, value in rows.items())
    head = json.dumps({"rig": sheet.rig, "members": sheet.members, "fingerprint": sheet.fingerprint})[:-1]
    path.write_text(f'{head}, "bands": {{\n{lines}\n}}}}\n', encoding="utf-8")


@cache
def load_sheet(rig_id: str) -> ValueSheet:
    """The shipped value sheet of a rig."""
    path = resources.files(__package__).joinpath("data", f"{rig_id}.json")
    if not path.is_file():
        raise LeitfadenError(f"rig {rig_id} has no value sheet yet; compute it with: ./leitfaden expect {rig_id} --rebuild")
    stored = json.loads(path.read_text(encoding="utf-8"))
    bands = {}
    for key, stats in stored["bands"].items():
        condition, name = key.split("/")
        for stat, (low, high, median, mean, deviation) in stats.items():
            bands[(condition, name, stat)] = Band(condition, name, stat, low, high, median, mean, deviation)
    return ValueSheet(stored["rig"], stored["members"], stored["fingerprint"], bands)


def band_of(rig_id: str, condition: str, channel_id: str, stat: str = "mean") -> Band | None:
    """The band of a channel in a condition; None where the channel is not defined there (lambda of a cylinder without fuel)."""
    sheet = load_sheet(rig_id)
    channel(channel_id)
    if condition not in {key[0] for key in sheet.bands}:
        raise UnknownName("condition", condition, {key[0] for key in sheet.bands}, where=f"in the value sheet of {rig_id}")
    return sheet.bands.get((condition, channel_id, stat))
