"""The table of a rig: what every test gives for every cause, at several sizes. Computed by simulation once, kept on
disk.

Between the simulated sizes readings are taken to run straight from one to the next, so that a leak of 3 mm² is no
stranger to a table that knows 2 and 4: each point stands for all sizes from halfway to the one before it to halfway to
the one after it. Where a code, or something else that is there or not, comes or goes on that way, sizes between are
simulated as well: what tips over there shows on no straight line. The largest size is simulated beyond those that have
a name, for the same reason.

What comes and goes by chance (a loose contact) may be there in the very moment of a measurement, or not, and may set
its code or not: such a fault is simulated in several courses of chance. One test may meet it and the next miss it, so
that each test counts in all courses (:func:`evidence.test_likelihoods`).

No vehicle is the rig itself. Some sound individuals of the population are simulated, and what is odd about each may be
odd about a faulty engine just as well: a cause explains a vehicle by its own readings plus those of any of the
individuals.
"""

import contextlib
import hashlib
import json
from collections.abc import Callable, Iterator
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, replace
from functools import cache, cached_property
from importlib import resources
from itertools import pairwise
from multiprocessing import get_context
from pathlib import Path
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.compiled import cache_base
from leitfaden_core.diagnose.candidates import VICTIMS, Candidate, candidates
from leitfaden_core.diagnose.procedures import Examined, tests_of
from leitfaden_core.errors import LeitfadenError
from leitfaden_core.expect import individual_engine, sheet_fingerprint
from leitfaden_core.faults import FaultSpec, effects_on, fault_kinds
from leitfaden_core.files import write_whole
from leitfaden_core.instruments.vehicle import Vehicle
from leitfaden_core.rigs import Rig, is_shipped
from leitfaden_core.words import per_language

#: Engines of the table: the rig itself, with this weight, and individuals, in which one odd property runs through many
#: readings.
INDIVIDUALS, NOMINAL = 48, 0.6
#: Points between two simulated sizes, and how far beyond the largest that has a name there is one more (as a share of
#: the last gap). What is smaller than the smallest size is no fault.
BETWEEN, LARGER = 3, 1.3
#: Courses of chance in which a fault is simulated that comes and goes.
COURSES = 5
#: How far a reading between two sizes may lie from the straight line, and how far one of a size still larger than the
#: largest from it, as shares of the gap.
BENT, OPEN = 0.05, 0.15


Readings = NDArray[np.float64]


@dataclass(frozen=True)
class Subject:
    """A vehicle of the table: the rig itself with some faults, or a sound individual of the population by its seed.

    ``course``: number of the course of chance in which its faults come and go.
    """

    faults: tuple[FaultSpec, ...] = ()
    individual: int | None = None
    course: int = 0

    def name(self, rig: Rig) -> str:
        """The name under which its readings are kept."""
        told = [
            rig.id if is_shipped(rig) else rig.digest,
            [fault.model_dump_json() for fault in self.faults],
            self.individual,
            *([self.course] if self.course else []),
        ]
        return hashlib.sha256(json.dumps(told).encode()).hexdigest()[:32]


@dataclass(frozen=True)
class Table:
    """Readings of all points of all candidates.

    Shapes: points (n, readings), owner (n,), weight (n,), spread (readings,), odd (engines, readings), odd_weight
    (engines,). ``sizes``: the named fault of each point, None for the sound rig (which is the first), for points
    between and beyond the named ones, and for pairs; ``meant``: the vehicle with a fault of any size that a point
    stands for; ``courses``: points of one size in different courses of chance, shape (sizes, COURSES); ``neighbours``:
    numbers of the points one size smaller and one larger on the same way, the point's own where there is none, shape
    (2, n); ``tips``: readings that are there or not, with nothing between, shape (readings,).
    """

    rig: Rig
    candidates: tuple[Candidate, ...]
    points: NDArray[np.float64]
    owner: NDArray[np.int64]
    weight: NDArray[np.float64]  # of each point within its candidate; sums to 1 there
    spread: NDArray[np.float64]
    slack: NDArray[
        np.float64
    ]  # of each point's readings: how far a bent way may lie from the straight one, shape (n, readings)
    slices: dict[str, slice]  # test id -> its readings
    sizes: tuple[FaultSpec | None, ...]
    meant: tuple[Subject | None, ...]
    odd: NDArray[np.float64]  # what an individual's readings add to those of any point; nothing in the first row
    odd_weight: NDArray[np.float64]  # how common each is; sums to 1
    courses: NDArray[np.int64]
    neighbours: NDArray[np.int64]
    tips: NDArray[np.bool_]
    victims: float = VICTIMS  # share of spoilt parts that are victims, see candidates.VICTIMS

    def width(self, columns: slice | list[int]) -> NDArray[np.float64]:
        """Spread of some readings at every point. Shape (n, readings of the columns)."""
        return np.asarray(np.hypot(self.spread[columns][None, :], self.slack[:, columns]))

    def halfway(self, columns: slice | list[int]) -> NDArray[np.float32]:
        """From every point's readings to those halfway to the next smaller and the next larger size. Shape (2, n,
        readings of the columns); nothing where no straight line leads there.
        """
        return self._halfway[:, :, columns]

    def looseness(self, columns: slice | list[int]) -> NDArray[np.float64]:
        """How far readings of the sizes that every point stands for lie from its own: root of their mean square, as if
        they filled its stretch evenly. Shape (n, readings of the columns).
        """
        return self._looseness[:, columns]

    @cached_property
    def first_course(self) -> NDArray[np.int64]:
        """Number of the point with the same fault in the first course of chance: the point's own, but for what comes
        and goes. Shape (n,).
        """
        first = np.arange(len(self.points))
        first[self.courses] = self.courses[:, :1]
        return first

    @cached_property
    def heard(self) -> dict[tuple[str, bytes], NDArray[np.float32]]:
        """Likelihoods of what tests showed, as far as they were asked for (:func:`evidence.test_likelihoods`)."""
        return {}

    @cached_property
    def _halfway(self) -> NDArray[np.float32]:
        half = np.nan_to_num(self.points[self.neighbours] - self.points) / 2.0
        return np.where(self.tips, 0.0, half).astype(np.float32)

    @cached_property
    def _looseness(self) -> NDArray[np.float64]:
        return np.asarray(np.sqrt(np.square(self.slack) + np.square(self._halfway).sum(axis=0) / 6.0))


def readings_of(rig: Rig, subject: Subject) -> Readings:
    """All readings of all tests for a vehicle, without the instruments' own errors."""
    own = () if subject.individual is None else tuple(sorted(individual_engine(rig, subject.individual).items()))
    car = Examined(Vehicle(rig, subject.faults, subject.individual or subject.course, own))
    return np.array([value for test in tests_of(rig) for value in test.read(car)], dtype=np.float64)


SOUND = (Subject(), *(Subject((), 9_000 + k) for k in range(INDIVIDUALS)))


def _job(job: tuple[Rig, Subject]) -> list[float]:
    return [float(v) for v in readings_of(*job)]


def compute_readings(
    rig: Rig, subjects: list[Subject], workers: int = 2, progress: Callable[[int, int], None] | None = None
) -> list[Readings]:
    """Readings of several vehicles, from the store where it has them, else on ``workers`` processes (1: in this
    one).
    """
    named = {subject.name(rig): subject for subject in subjects}
    found = {name: kept for name, subject in named.items() if (kept := _kept(rig, subject)) is not None}
    missing = [name for name in named if name not in found]
    with _mapper(workers if len(missing) > 4 else 1) as mapped:
        for done, (name, result) in enumerate(
            zip(missing, mapped(_job, [(rig, named[name]) for name in missing]), strict=True), 1
        ):
            found[name] = result
            _keep(rig, named[name], result)
            if progress is not None:
                progress(done, len(missing))
    return [np.array(found[subject.name(rig)]) for subject in subjects]


@contextlib.contextmanager
def _mapper(workers: int) -> Iterator[Callable[..., Iterator[list[float]]]]:
    """``map``, here or on several processes. Children of a running program share what it has compiled and loaded."""
    if workers < 2:
        yield map
        return
    with ProcessPoolExecutor(workers, mp_context=get_context("fork")) as pool:
        yield lambda function, jobs: pool.map(function, jobs, chunksize=2)


def _fingerprint(rig: Rig) -> str:
    """Of everything that decides what a test shows on a rig."""
    return sheet_fingerprint(
        rig,
        *("faults", "wiring", "monitors", "instruments", "diagnose/procedures"),
        *("simulate/pins.py", "simulate/naming.py"),
    )


def _path(rig: Rig, subject: Subject) -> Path:
    return cache_base() / "readings" / _fingerprint(rig) / f"{subject.name(rig)}.json"


def _courses(way: tuple[FaultSpec, ...]) -> list[tuple[Subject, ...]]:
    """The vehicles with the named sizes of a way, from small to large, once for each course of chance."""
    courses = range(COURSES if _by_chance(way[0]) else 1)
    return [tuple(Subject((spec,), course=course) for spec in way) for course in courses]


def _ways(causes: tuple[Candidate, ...]) -> list[tuple[Subject, ...]]:
    return [course for c in causes for way in c.ways for course in _courses(way)]


def _by_chance(fault: FaultSpec) -> bool:
    return fault_kinds.get(fault.kind).pulses is not None


def _of_causes(rig: Rig, causes: tuple[Candidate, ...]) -> list[Subject]:
    """The vehicles that are simulated for some causes in any case, way by way."""
    return [subject for way in _ways(causes) for subject in (*way, _beyond(way, rig)) if subject is not None]


def _across_thresholds(rig: Rig, causes: tuple[Candidate, ...], known: dict[str, Readings]) -> list[Subject]:
    """The vehicles between two simulated sizes of a cause where something is there in one and not in the other, or
    where chance has its hand in.
    """
    tips, found = _tips(rig), []
    for one, two in (gap for way in _ways(causes) for gap in pairwise(way)):
        here, there = (known[subject.name(rig)][tips] for subject in (one, two))
        if _by_chance(one.faults[0]) or not np.array_equal(here, there, equal_nan=True):
            found += [between(one, two, k / BETWEEN, rig) for k in range(1, BETWEEN)]
    return [subject for subject in found if subject is not None]


def _simulate(
    rig: Rig, causes: tuple[Candidate, ...], workers: int = 2, progress: Callable[[int, int], None] | None = None
) -> dict[str, Readings]:
    """Readings of all vehicles of a table, by their names."""
    first = [*SOUND, *_of_causes(rig, causes)]
    known = _by_name(rig, first, workers, progress)

    def further(done: int, wanted: int) -> None:
        if progress is not None:
            progress(len(first) + done, len(first) + wanted)

    return known | _by_name(rig, _across_thresholds(rig, causes, known), workers, further)


def _by_name(
    rig: Rig, subjects: list[Subject], workers: int, progress: Callable[[int, int], None] | None
) -> dict[str, Readings]:
    names = [subject.name(rig) for subject in subjects]
    return dict(zip(names, compute_readings(rig, subjects, workers, progress), strict=True))


@cache
def _shipped(rig: Rig) -> dict[str, NDArray[np.float32]]:
    """Readings that ship with the product, by the name of their faults; empty when they are those of another model."""
    path = resources.files(__package__).joinpath("data", f"{rig.id}.npz")
    if not is_shipped(rig) or not path.is_file():
        return {}
    with path.open("rb") as file, np.load(file) as stored:
        if str(stored["fingerprint"]) != _fingerprint(rig):
            return {}
        return dict(zip(stored["names"].tolist(), stored["readings"], strict=True))


def write_readings(rig: Rig, progress: Callable[[int, int], None] | None = None) -> Path:
    """Compute the readings of all causes of a rig anew and put them where they ship from."""
    known = _simulate(rig, candidates(rig), progress=progress)
    path = Path(__file__).parent / "data" / f"{rig.id}.npz"
    path.parent.mkdir(exist_ok=True)
    np.savez_compressed(
        path,
        fingerprint=np.array(_fingerprint(rig)),
        names=np.array(list(known)),
        readings=np.array(list(known.values()), dtype=np.float32),
    )
    return path


def readings_are_current(rig: Rig) -> bool:
    """Whether what ships was computed by this model."""
    return bool(_shipped(rig))


def _kept(rig: Rig, subject: Subject) -> list[float] | None:
    shipped = _shipped(rig).get(subject.name(rig))
    if shipped is not None:
        return [float(value) for value in shipped]
    with contextlib.suppress(OSError, ValueError):
        values: list[float] = json.loads(_path(rig, subject).read_text(encoding="utf-8"))
        return values
    return None


def _keep(rig: Rig, subject: Subject, values: list[float]) -> None:
    with contextlib.suppress(OSError):
        write_whole(_path(rig, subject), json.dumps(values).encode())


@per_language(16)
def table(
    rig: Rig,
    history: tuple[str, ...] = (),
    only: tuple[str, ...] = (),
    workers: int = 2,
    progress: Callable[[int, int], None] | None = None,
    victims: float = VICTIMS,
) -> Table:
    """The table of a rig.

    Parameters
    ----------
    history : tuple of str
        Words of the history that change the priors (see ``candidates.HISTORY``).
    only : tuple of str
        Ids of candidates; empty: all. "Nothing is wrong" is always among them.
    workers : int
        Processes for what is not in the store.
    victims : float
        Share of spoilt parts that are victims of another fault (see ``candidates.VICTIMS``). [-]
    """
    chosen = tuple(c for c in candidates(rig, history, victims) if not only or c.id in only or not c.kind)
    known = _simulate(rig, chosen, workers, progress)
    sound = np.array([known[subject.name(rig)] for subject in SOUND])
    points = [_Point(sound[0], np.zeros_like(sound[0]), None, None)]
    owner, weight, courses = [0], [1.0], []
    neighbours = [(0, 0)]
    for number, c in enumerate(chosen):
        own: list[_Point] = []
        for way in c.ways:
            rows = [_points_of(rig, course, known) for course in _courses(way)]
            if len(rows) > 1:
                first = len(points) + len(own)
                courses += np.arange(first, first + len(rows) * len(rows[0])).reshape(len(rows), -1).T.tolist()
            for row in rows:
                neighbours += _neighbours(len(points) + len(own), len(row), straight=len(rows) == 1)
                own += row
        points += own
        owner += [number] * len(own)
        weight += [1.0 / len(own) for _ in own]
    outcomes = [outcome for test in tests_of(rig) for outcome in test.outcomes]
    return Table(
        rig,
        chosen,
        np.array([point.readings for point in points]),
        np.array(owner),
        np.array(weight),
        np.array([float(np.hypot(outcome.spread, outcome.error)) for outcome in outcomes]),
        np.array([point.slack for point in points]),
        _slices(rig),
        tuple(point.size for point in points),
        tuple(point.meant for point in points),
        # What is seen or not, and codes, do not add up.
        np.where([outcome.yes_or_no for outcome in outcomes], 0.0, np.nan_to_num(sound - sound[0])),
        np.array([NOMINAL, *[(1.0 - NOMINAL) / INDIVIDUALS] * INDIVIDUALS]),
        np.array(courses, dtype=np.int64).reshape(-1, COURSES),
        np.array(neighbours).T,
        _tips(rig),
        victims,
    )


def _neighbours(first: int, count: int, straight: bool) -> list[tuple[int, int]]:
    """Numbers of the points before and after each of a way that begins at number ``first``. No straight line leads from
    one size of what comes and goes by chance to the next.
    """
    last = first + count - 1
    return [(max(k - 1, first), min(k + 1, last)) if straight else (k, k) for k in range(first, last + 1)]


def _tips(rig: Rig) -> NDArray[np.bool_]:
    """Readings that are there or not, with nothing between: what is seen or not, and codes."""
    tips = np.array([outcome.yes_or_no for test in tests_of(rig) for outcome in test.outcomes])
    tips[_slices(rig)["codes"]] = True
    return tips


def _slices(rig: Rig) -> dict[str, slice]:
    """Where each test's readings stand among all of a rig."""
    found, at = {}, 0
    for test in tests_of(rig):
        found[test.id] = slice(at, at + len(test.outcomes))
        at += len(test.outcomes)
    return found


class _Point(NamedTuple):
    """One row of a table, see :class:`Table`."""

    readings: Readings
    slack: Readings
    size: FaultSpec | None
    meant: Subject | None


def _points_of(rig: Rig, way: tuple[Subject, ...], known: dict[str, Readings]) -> list[_Point]:
    """The simulated sizes of one way, with points between them and one beyond, which stand for the sizes around them,
    and so have slack. What was not simulated lies on the straight line. Where chance has its hand in, all are
    simulated: no line leads from one course to another.
    """
    bend, further = (0.0, 0.0) if _by_chance(way[0].faults[0]) else (BENT, OPEN)
    named = [known[subject.name(rig)] for subject in way]
    nothing = np.zeros_like(named[0])
    found = []
    for (one, here), (two, there) in pairwise(zip(way, named, strict=True)):
        found.append(_Point(here, nothing, one.faults[0], one))
        for k in range(1, BETWEEN):
            meant = between(one, two, k / BETWEEN, rig)
            exact = None if meant is None else known.get(meant.name(rig))
            if exact is None:
                found.append(_Point(here + k / BETWEEN * (there - here), bend * _gap(here, there), None, meant))
            else:
                found.append(_Point(exact, bend / BETWEEN * _gap(here, there), None, meant))
    found.append(_Point(named[-1], nothing, way[-1].faults[0], way[-1]))
    if len(way) > 1:
        gap = named[-1] - named[-2]
        beyond = _beyond(way, rig)
        if beyond is None:
            found.append(_Point(named[-2] + LARGER * gap, further * _gap(named[-2], named[-1]), None, None))
        else:
            last = known[beyond.name(rig)]
            found.append(
                _Point(last, further * _gap(named[-1], last), None, beyond)
            )  # it stands for what is larger still
    return found


def _beyond(way: tuple[Subject, ...], rig: Rig) -> Subject | None:
    """A fault somewhat larger than the largest that has a name; None where there is none."""
    return None if len(way) == 1 else between(way[-2], way[-1], LARGER, rig)


def between(one: Subject, two: Subject, share: float, rig: Rig) -> Subject | None:
    """A fault at a share of the way from one size to another; None where its kind or the rig does not allow that."""
    small, large = one.faults[0], two.faults[0]
    counted = {p.id for p in fault_kinds.get(small.kind).parameters if p.neutral is None and p.unit == "-"}
    mixed = {
        name: value
        if isinstance(value, str)
        else round(value + share * (float(large.params[name]) - value), 0 if name in counted else 6)
        for name, value in small.params.items()
    }
    spec = small.model_copy(update={"params": mixed})
    try:
        effects_on(spec, rig)
    except LeitfadenError:
        return None
    return replace(one, faults=(spec,))


def _gap(here: Readings, there: Readings) -> Readings:
    return np.asarray(np.abs(np.nan_to_num(there - here)))
