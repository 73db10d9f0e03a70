"""The value sheet of a rig: for every condition, channel and statistic the band of a healthy population, computed once
and shipped.
"""

import contextlib
import json
import math
from collections.abc import Callable, Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, replace
from functools import cache, cached_property, partial
from importlib import resources
from importlib.resources.abc import Traversable
from pathlib import Path
from statistics import NormalDist

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.channels import channel, rounded
from leitfaden_core.compiled import cache_base
from leitfaden_core.constants import ZERO_CELSIUS
from leitfaden_core.errors import LeitfadenError, UnknownName
from leitfaden_core.expect.fingerprint import sheet_fingerprint
from leitfaden_core.expect.population import SPREAD, even_population
from leitfaden_core.files import write_whole
from leitfaden_core.rigs import Rig, is_shipped
from leitfaden_core.scripts import reading_scripts
from leitfaden_core.simulate import Statistics, measured
from leitfaden_core.words import say

#: Engines in the population, and the share of them that the band holds.
MEMBERS = 200
COVERED = 0.95
#: Standard deviations that the band of a normal spread reaches to either side. [-]
REACHES = NormalDist().inv_cdf(0.5 + COVERED / 2.0)
#: Places within a display's step at which what is may lie, and the steps in which counts and times are shown, by
#: statistic.
PHASES, DISPLAYED = 8, {"freq": 0.1, "edge": 0.001}
#: Statistics that go to a process together.
CHUNK = 200
#: The school's day around which the population is drawn. [°C], [kPa]
SCHOOL_CELSIUS, SCHOOL_KPA = SPREAD["ambient_temp"].centre - ZERO_CELSIUS, SPREAD["ambient_pressure"].centre / 1000.0


@dataclass(frozen=True)
class Weather:
    """Air round a vehicle that does not stand at the school, as far as it is known: temperature [°C] and pressure
    [kPa], with how unsure each is (standard deviation).
    """

    celsius: float = SCHOOL_CELSIUS
    kpa: float = SCHOOL_KPA
    unsure_k: float = 10.0
    unsure_kpa: float = 0.8


@dataclass(frozen=True)
class Band:
    """What healthy engines show: ``low`` to ``high`` holds 95 % of what their displays show. In the unit in which the
    channel is kept.

    ``least`` and ``most`` are one-sided: 95 % of them lie above the one, 95 % below the other. ``causes`` are the
    properties whose spread makes the band as wide as it is, each with its share of the variance (see
    :func:`width_causes`). ``per_kelvin`` and ``per_kpa``: how the value goes with the air's temperature and pressure.
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
    per_kelvin: float = 0.0
    per_kpa: float = 0.0
    causes: tuple[tuple[str, float], ...] = ()

    def away(self, value: float) -> float:
        """How far a value lies from the middle, in standard deviations as wide as the band is on that side: a band that
        holds 95 % reaches 1.96 of them. [-]
        """
        half = (self.high - self.median) if value > self.median else (self.median - self.low)
        return (value - self.median) / max(half / REACHES, 1e-12)

    def holds(self, value: float, step: float = 0.0) -> bool:
        """Whether a displayed value lies in the band. Where the band is no wider than two steps of the display, the
        step itself is what one sees: the values next to its ends belong to it.
        """
        room = step / 2.0 if self.high - self.low <= 2.0 * step else 0.0
        return self.low - room <= value <= self.high + room

    def around(self, weather: "Weather") -> "Band":
        """The band in other surroundings than those of the school's day: moved with temperature and pressure, and wider
        or narrower by what is known of them.

        Straight lines: they hold from -20 to 45 °C and from 70 to 105 kPa, with a sixth of the move as doubt.
        """
        moved = gone = doubt = 0.0
        for told, unsure, usual, spread, slope in (
            (weather.celsius, weather.unsure_k, SCHOOL_CELSIUS, SPREAD["ambient_temp"].deviation, self.per_kelvin),
            (weather.kpa, weather.unsure_kpa, SCHOOL_KPA, SPREAD["ambient_pressure"].deviation / 1e3, self.per_kpa),
        ):
            move = slope * (told - usual)
            moved, gone = moved + move, gone + (slope * spread) ** 2
            doubt += (slope * unsure) ** 2 + (move / 6.0) ** 2
        # What is left of the spread on a day without weather is never less than a fifth of it.
        left = math.sqrt(max(self.deviation**2 - gone, 0.04 * self.deviation**2) + doubt)
        share = left / self.deviation if self.deviation > 0.0 else 1.0

        def at(limit: float) -> float:
            return self.median + moved + share * (limit - self.median)

        return replace(
            self,
            low=at(self.low),
            high=at(self.high),
            median=self.median + moved,
            mean=self.mean + moved,
            deviation=left,
            least=at(self.least),
            most=at(self.most),
        )

    def why(self, members: int) -> str:
        """Where the band comes from, in one sentence."""
        what = say(
            (
                "{value:.0f} % of {members} healthy engines of this type, with production spread, ageing, fuel "
                "grades and a day's weather (15 to 25 °C, 99.3 to 103.3 kPa), and the display's own step"
            ),
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


class Regression:
    """Linear regression on the properties of engines by least squares, each about its mean and in its deviations.

    ``engines``: shape (n, k). Made once for all statistics of the same engines.
    """

    def __init__(self, engines: NDArray[np.float64]) -> None:
        self.deviations = np.maximum(engines.std(axis=0), 1e-300)
        self._x = (engines - engines.mean(axis=0)) / self.deviations
        self._inverse = np.linalg.pinv(self._x, rcond=1e-12)

    def slopes(self, values: NDArray[np.float64]) -> NDArray[np.float64]:
        """How much values, shape (n,), go with one deviation of each property, shape (k,)."""
        return np.asarray(self._inverse @ (values - values.mean()))

    def doubt(self, values: NDArray[np.float64], slopes: NDArray[np.float64]) -> float:
        """Three standard errors of a slope, from what the slopes do not explain."""
        left = values - values.mean() - self._x @ slopes
        return float(3.0 * left.std() / math.sqrt(len(values)))


def width_causes(
    values: NDArray[np.float64], slopes: NDArray[np.float64], names: list[str]
) -> tuple[tuple[str, float], ...]:
    """Properties of the individual engines that explain a statistic's spread, at most three, each with its share of the
    variance.

    ``slopes``: of a :class:`Regression` of the values, shape (n,); a property's share is its slope squared over the
    variance. Shares below a tenth are noise and left out.
    """
    spread = values.std()
    if spread <= 0.0 or len(values) < 3 * len(names):
        return ()
    parts = slopes / spread
    shares = sorted(((float(part * part), name) for part, name in zip(parts, names, strict=True)), reverse=True)[:3]
    return tuple((name, round(min(share, 1.0), 2)) for share, name in shares if share >= 0.1)


#: An engine of a population: rig, seed of its noise, its own numbers.
Member = tuple[Rig, int, dict[str, float]]


def _member_statistics(member: Member) -> dict[str, dict[str, dict[str, float]]]:
    rig, seed, engine = member
    found: dict[str, dict[str, dict[str, float]]] = {}
    for script in reading_scripts():
        found |= measured(rig, script, [], seed, engine)
    return found


def compute_sheet(
    rig: Rig,
    members: int = MEMBERS,
    first_seed: int = 1000,
    workers: int = 2,
    progress: Callable[[int, int], None] | None = None,
    member: Callable[[Member], dict[str, dict[str, dict[str, float]]]] | None = None,
) -> ValueSheet:
    """Run a population of healthy engines and take the bands, on so many processes (0: in this one).

    The band is the central 95 % of what the population's displays show, the display's step included once. ``member``
    runs one of them (usually through the drives in the school's air).
    """
    jobs = [(rig, first_seed + k, engine) for k, engine in enumerate(even_population(rig, members, first_seed))]
    engines = np.array([list(engine.values()) for _rig, _seed, engine in jobs])
    results = []
    with ProcessPoolExecutor(workers) if workers else contextlib.nullcontext() as pool:
        for k, result in enumerate((pool.map if pool else map)(member or _member_statistics, jobs)):
            results.append(result)
            if progress is not None:
                progress(k + 1, members)
        band = partial(_band, engines, Regression(engines))
        tables = _tables(results, members // 2)
        bands = pool.map(band, tables, chunksize=CHUNK) if pool else map(band, tables)
        return ValueSheet(rig.id, members, sheet_fingerprint(rig), {(b.condition, b.channel, b.stat): b for b in bands})


def _tables(results: list[Statistics], least: int) -> list[tuple[tuple[str, str, str], NDArray[np.float64]]]:
    """Each statistic that is defined in so many engines, with its value in each, NaN where it is not: shape (n,)."""
    found = []
    for condition in results[0]:
        for name in results[0][condition]:
            for stat in results[0][condition][name]:
                values = np.array([result[condition][name].get(stat, np.nan) for result in results])
                if np.count_nonzero(~np.isnan(values)) >= least:
                    found.append(((condition, name, stat), values))
    return found


def _band(
    engines: NDArray[np.float64], regression: Regression, table: tuple[tuple[str, str, str], NDArray[np.float64]]
) -> Band:
    """The band of a statistic from its values, shape (n,), in engines with these properties, shape (n, k);
    ``regression``: on those of all.

    A display rounds: what it shows is spread evenly over one step around what is. The outer quantiles of a sample lie
    inside those of the population: (n - 1)/(n + 1) of the share is held on average, where it is drawn by lot. Of that
    an even population lacks about half (decision 53); the band is made as much wider.
    """
    key, values = table
    there = ~np.isnan(values)
    if not there.all():
        values, regression = values[there], Regression(engines[there])
    resolution = channel(key[1]).step if key[2] in {"mean", "min", "max"} else 0.0
    step = DISPLAYED.get(key[2], resolution)
    phases = (np.arange(PHASES) + 0.5) / PHASES - 0.5
    seen = (values[:, None] + step * phases[None, :]).ravel()
    tail = 100.0 * (1.0 - COVERED) / 2.0
    median = float(np.median(values))
    low, high, least, most = np.percentile(seen, [tail, 100.0 - tail, 2.0 * tail, 100.0 - 2.0 * tail])
    held = COVERED * (len(values) - 1.0) / (len(values) + 1.0)
    wider = 0.5 + 0.5 * NormalDist().inv_cdf(0.5 + COVERED / 2.0) / NormalDist().inv_cdf(0.5 + held / 2.0)
    low, high, least, most = (median + wider * (limit - median) for limit in (low, high, least, most))
    # What the middle engine's display shows is never outside.
    middle = rounded(median, step) if step > 0.0 else median
    low, high, least, most = min(low, middle), max(high, middle), min(least, middle), max(most, middle)
    deviation = max(float(np.hypot(values.std(), step / math.sqrt(12.0))), 1e-9)
    causes, per_kelvin, per_kpa = (), 0.0, 0.0  # type: tuple[tuple[str, float], ...], float, float
    if values.std() > max(step / 2.0, 1e-9):  # a spread below the display's own step has no cause worth naming
        slopes = regression.slopes(values)
        causes = width_causes(values, slopes, list(SPREAD))
        per_kelvin, per_kpa = weather_slopes(regression, slopes, regression.doubt(values, slopes))
    numbers = [low, high, median, values.mean(), deviation, least, most, per_kelvin, per_kpa]
    return _of_numbers(key, numbers, causes)


def weather_slopes(regression: Regression, slopes: NDArray[np.float64], doubt: float) -> tuple[float, float]:
    """How a statistic goes with the air's temperature [per K] and pressure [per kPa], 0 where its slope is no larger
    than chance would have it.
    """
    found = []
    for name, unit in (("ambient_temp", 1.0), ("ambient_pressure", 1000.0)):
        k = list(SPREAD).index(name)
        found.append(float(slopes[k] / regression.deviations[k] * unit) if abs(slopes[k]) > doubt else 0.0)
    return found[0], found[1]


#: Numbers of a band in the order in which a sheet keeps them.
_NUMBERS = ("low", "high", "median", "mean", "deviation", "least", "most", "per_kelvin", "per_kpa")


def _of_numbers(key: tuple[str, str, str], numbers: Sequence[float], causes: tuple[tuple[str, float], ...]) -> Band:
    """A band from its numbers, with as many digits as a sheet keeps."""
    kept = {name: float(f"{float(number):.7g}") for name, number in zip(_NUMBERS, numbers, strict=True)}
    condition, name, stat = key
    return Band(condition, name, stat, causes=causes, **kept)


def write_sheet(sheet: ValueSheet, path: Path) -> None:
    """Store a sheet as JSON."""
    path.write_text(sheet_text(sheet), encoding="utf-8")


def sheet_text(sheet: ValueSheet) -> str:
    """A sheet as JSON: one line per condition and channel, so that a change can be read in a diff."""
    rows: dict[str, dict[str, list[object]]] = {}
    for (condition, name, stat), b in sheet.bands.items():
        causes = [list(cause) for cause in b.causes]
        rows.setdefault(f"{condition}/{name}", {})[stat] = [
            *(getattr(b, number) for number in _NUMBERS),
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
    return sheet_from(path.read_text(encoding="utf-8"))


def sheet_from(text: str) -> ValueSheet:
    """A sheet from what :func:`sheet_text` gave."""
    stored = json.loads(text)
    bands = {}
    for key, stats in stored["bands"].items():
        condition, name = key.split("/")
        for stat, (*numbers, causes) in stats.items():
            named = tuple((cause, share) for cause, share in causes)
            bands[(condition, name, stat)] = _of_numbers((condition, name, stat), numbers, named)
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
