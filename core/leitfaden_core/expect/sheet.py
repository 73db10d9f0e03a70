"""The value sheet of a rig: for every condition, channel and statistic the band of a healthy population, computed once
and shipped.
"""

import contextlib
import json
from collections.abc import Callable, Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from functools import cache, cached_property
from importlib import resources
from importlib.resources.abc import Traversable
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.channels import channel
from leitfaden_core.compiled import cache_base
from leitfaden_core.errors import LeitfadenError, UnknownName
from leitfaden_core.expect.fingerprint import sheet_fingerprint
from leitfaden_core.expect.population import SPREAD, individual_engine
from leitfaden_core.files import write_whole
from leitfaden_core.rigs import Rig, is_shipped, rig_channels
from leitfaden_core.scripts import reading_scripts
from leitfaden_core.simulate import simulate, steady_statistics
from leitfaden_core.words import say

#: Engines in the population, and the share of them that the band holds.
MEMBERS = 200
COVERED = 0.95


@dataclass(frozen=True)
class Band:
    """What healthy engines show: ``low`` to ``high`` holds 95 % of them. In the unit in which the channel is kept.

    ``least`` and ``most`` are one-sided: 95 % of them lie above the one, 95 % below the other. ``causes`` are the
    properties whose spread makes the band as wide as it is, each with its share of the variance (see
    :func:`width_causes`).
    """

    condition: str
    channel: str
    stat: str
    low: float
    high: float
    median: float
    mean: float
    deviation: float
    least: float
    most: float
    causes: tuple[tuple[str, float], ...] = ()

    def why(self, members: int) -> str:
        """Where the band comes from, in one sentence."""
        what = say(
            "{value:.0f} % of {members} healthy engines of this type, with production spread, ageing, fuel grades and a day's weather (15 to 25 °C, 99.3 to 103.3 kPa), and the display's own step",
            value=100 * COVERED,
            members=members,
        )
        return say("{what}. {width}", what=what, width=self.width())

    def width(self) -> str:
        """What makes the band as wide as it is, in one sentence."""
        if not self.causes:
            return "Its width is the display's own step, noise and the engine's cycle-to-cycle wander."
        named = "; ".join(
            say("{why} ({percent:.0f} %)", why=SPREAD[name].why, percent=100 * share) for name, share in self.causes
        )
        return say("Its width comes from: {named}.", named=named)


@dataclass(frozen=True)
class ValueSheet:
    """All bands of a rig with the fingerprint of the model that computed them."""

    rig: str
    members: int
    fingerprint: str
    bands: dict[tuple[str, str, str], Band]

    @cached_property
    def conditions(self) -> frozenset[str]:
        """The conditions in which there are bands."""
        return frozenset(condition for condition, _channel, _stat in self.bands)


def width_causes(
    values: NDArray[np.float64], engines: NDArray[np.float64], names: list[str]
) -> tuple[tuple[str, float], ...]:
    """Properties of the individual engines that explain a statistic's spread, at most three, each with its share of the
    variance.

    Linear regression of the values, shape (n,), on the engines' properties, shape (n, k), by least squares; a
    property's share is ``(slope·deviation)²`` over the variance. Shares below a tenth are noise and left out.
    """
    spread = values.std()
    if spread <= 0.0 or len(values) < 3 * len(names):
        return ()
    x = (engines - engines.mean(axis=0)) / np.maximum(engines.std(axis=0), 1e-300)
    slopes = np.linalg.lstsq(x, (values - values.mean()) / spread, rcond=None)[0]
    shares = sorted(((float(slope * slope), name) for slope, name in zip(slopes, names, strict=True)), reverse=True)[:3]
    return tuple((name, round(min(share, 1.0), 2)) for share, name in shares if share >= 0.1)


def _member_statistics(job: tuple[Rig, int]) -> dict[str, dict[str, dict[str, float]]]:
    rig, seed = job
    found: dict[str, dict[str, dict[str, float]]] = {}
    for script in reading_scripts():
        run = simulate(rig, script, [], seed, individual_engine(rig, seed))
        found |= steady_statistics(run, rig_channels(rig))
    return found


def compute_sheet(
    rig: Rig,
    members: int = MEMBERS,
    first_seed: int = 1000,
    workers: int = 2,
    progress: Callable[[int, int], None] | None = None,
) -> ValueSheet:
    """Run a population of healthy engines and take the bands, on so many processes (0: in this one).

    The band is the central 95 % of the population, widened by one display step on either side: nobody can read closer
    than that.
    """
    jobs = [(rig, first_seed + k) for k in range(members)]
    results = []
    with ProcessPoolExecutor(workers) if workers else contextlib.nullcontext() as pool:
        for k, result in enumerate((pool.map if pool else map)(_member_statistics, jobs)):
            results.append(result)
            if progress is not None:
                progress(k + 1, members)
    bands = {}
    names = list(SPREAD)
    engines = np.array([[individual_engine(rig, seed)[name] for name in names] for _rig, seed in jobs])
    tail = 100.0 * (1.0 - COVERED) / 2.0
    for condition in results[0]:
        for name in results[0][condition]:
            step = channel(name).step
            for stat in results[0][condition][name]:
                values = np.array([result[condition][name][stat] for result in results])
                there = ~np.isnan(values)
                values = values[there]
                if values.size < members // 2:
                    continue
                low, median, high, least, most = np.percentile(
                    values, [tail, 50.0, 100.0 - tail, 2.0 * tail, 100.0 - 2.0 * tail]
                )
                step = 0.1 if stat == "freq" else step
                numbers = [
                    low - step,
                    high + step,
                    median,
                    values.mean(),
                    max(values.std(), step / 2.0),
                    least - step,
                    most + step,
                ]
                # A spread below the display's own step has no cause worth naming.
                causes = width_causes(values, engines[there], names) if values.std() > step / 2.0 else ()
                bands[(condition, name, stat)] = Band(condition, name, stat, *_seven(numbers), causes)
    return ValueSheet(rig.id, members, sheet_fingerprint(rig), bands)


def _seven(numbers: Sequence[float]) -> tuple[float, float, float, float, float, float, float]:
    low, high, median, mean, deviation, least, most = (round(float(number), 5) for number in numbers)
    return low, high, median, mean, deviation, least, most


def write_sheet(sheet: ValueSheet, path: Path) -> None:
    """Store a sheet as JSON."""
    path.write_text(sheet_text(sheet), encoding="utf-8")


def sheet_text(sheet: ValueSheet) -> str:
    """A sheet as JSON: one line per condition and channel, so that a change can be read in a diff."""
    rows: dict[str, dict[str, list[object]]] = {}
    for (condition, name, stat), b in sheet.bands.items():
        causes = [list(cause) for cause in b.causes]
        rows.setdefault(f"{condition}/{name}", {})[stat] = [
            b.low,
            b.high,
            b.median,
            b.mean,
            b.deviation,
            b.least,
            b.most,
            causes,
        ]
    lines = ",\n".join(f"{json.dumps(key)}: {json.dumps(value)}" for key, value in rows.items())
    head = json.dumps({"rig": sheet.rig, "members": sheet.members, "fingerprint": sheet.fingerprint})[:-1]
    return f'{head}, "bands": {{\n{lines}\n}}}}\n'


class MissingSheet(LeitfadenError):
    """A rig whose healthy population nobody has computed yet."""

    code = "no_sheet"


def _kept_path(rig: Rig) -> Path:
    return cache_base() / "sheets" / sheet_fingerprint(rig) / f"{rig.digest}.json"


def _shipped_path(rig: Rig) -> Traversable | None:
    """Where the sheet of a rig ships; None for a variant, and for a rig in which somebody has changed a number."""
    path = resources.files(__package__).joinpath("data", f"{rig.id}.json")
    return path if is_shipped(rig) and path.is_file() else None


def has_sheet(rig: Rig) -> bool:
    """Whether readings of a rig can be judged on this machine now."""
    return _shipped_path(rig) is not None or _kept_path(rig).is_file()


def keep_sheet(rig: Rig, text: str) -> None:
    """Keep a sheet on this machine that was computed for these sources, here or elsewhere;

    ``text`` is what :func:`sheet_text` gave.
    """
    write_whole(_kept_path(rig), text.encode())


@cache
def load_sheet(rig: Rig) -> ValueSheet:
    """The value sheet of a rig: the shipped one, or one that was computed here and kept (:func:`keep_sheet`)."""
    path = _shipped_path(rig) or _kept_path(rig)
    if not path.is_file():
        raise MissingSheet(
            say("rig {id} has no value sheet yet; compute it with: ./leitfaden expect {id} --rebuild", id=rig.id),
            rig=rig,
        )
    stored = json.loads(path.read_text(encoding="utf-8"))
    bands = {}
    for key, stats in stored["bands"].items():
        condition, name = key.split("/")
        for stat, (*numbers, causes) in stats.items():
            named = tuple((cause, share) for cause, share in causes)
            bands[(condition, name, stat)] = Band(condition, name, stat, *_seven(numbers), named)
    return ValueSheet(stored["rig"], stored["members"], stored["fingerprint"], bands)


def band_of(rig: Rig, condition: str, channel_id: str, stat: str = "mean") -> Band | None:
    """The band of a channel in a condition;

    None where the channel is not defined there (lambda of a cylinder without fuel).
    """
    sheet = load_sheet(rig)
    channel(channel_id)
    if condition not in sheet.conditions:
        raise UnknownName("condition", condition, sheet.conditions, where=say("in the value sheet of {id}", id=rig.id))
    return sheet.bands.get((condition, channel_id, stat))
