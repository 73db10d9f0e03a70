"""The smallest size of a fault that a data list can tell from healthy engines, in each condition.

A size can be told where some displayed mean lies three standard deviations of healthy engines from their middle: in a
single look, with one false alarm in several hundred. Between the simulated sizes the way is taken to be straight.
"""

from dataclasses import dataclass
from itertools import pairwise

from leitfaden_core.channels import Layer, channel
from leitfaden_core.diagnose.candidates import candidate_of
from leitfaden_core.expect import load_sheet
from leitfaden_core.faults import FaultSpec, describe_fault, describe_size, effects_on, fault_kinds
from leitfaden_core.judge.verdict import no_meaning
from leitfaden_core.rigs import Rig
from leitfaden_core.scripts import CONDITIONS, reading_scripts
from leitfaden_core.simulate import stored_statistics
from leitfaden_core.words import say

#: Standard deviations from the middle of healthy engines at which a size can be told.
TOLD_FROM = 3.0
#: Sizes that are simulated, as shares of the largest way from sound.
SHARES = (0.1, 0.25, 0.5, 0.75, 1.0)


@dataclass(frozen=True)
class Told:
    """A condition with the channel that tells the fault first there. ``share``: of the largest size; None where even
    that cannot be told, with the ``deviations`` that it reaches.
    """

    condition: str
    channel: str
    share: float | None
    words: str
    size: str
    deviations: float


def smallest_sizes(rig: Rig, fault: FaultSpec) -> list[Told]:
    """For each condition the smallest size that can be told there, the most telling condition first. Empty for a fault
    that has no size.
    """
    largest = _largest(rig, fault)
    kind = fault_kinds.get(fault.kind)
    if all(parameter.choices or parameter.neutral is None for parameter in kind.parameters):
        return []
    sizes = [FaultSpec(kind=fault.kind, params=kind.sized(dict(largest.params), share)) for share in SHARES]
    away: dict[tuple[str, str], list[float]] = {}
    bands = load_sheet(rig).bands
    for script in reading_scripts():
        for k, statistics in enumerate(stored_statistics(rig, script, [[size] for size in sizes])):
            for condition, channels in statistics.items():
                for name, stats in channels.items():
                    band, value = bands.get((condition, name, "mean")), stats.get("mean")
                    if channel(name).layer != Layer.SCAN or band is None or value is None or value != value:
                        continue
                    if no_meaning(rig, condition, name) is not None:
                        continue
                    away.setdefault((condition, name), [0.0] * len(SHARES))[k] = abs(band.away(value))
    found = [_best(condition, away, largest) for condition in CONDITIONS if any(c == condition for c, _name in away)]
    return sorted(found, key=lambda told: (told.share is None, told.share or 0.0, -told.deviations))


def _largest(rig: Rig, fault: FaultSpec) -> FaultSpec:
    """The largest simulated size of a fault on the side on which it lies."""
    own = dict(fault.params)
    ways = [way for way in candidate_of(rig, fault).ways if len(way) > 1]
    for way in ways:
        same_side = all(
            isinstance(value, str) or float(value) * float(own.get(name, value)) >= 0.0
            for name, value in way[-1].params.items()
        )
        if same_side:
            effects_on(way[-1], rig)
            return way[-1]
    return fault


def _best(condition: str, away: dict[tuple[str, str], list[float]], largest: FaultSpec) -> Told:
    """The channel that tells first in a condition."""
    kind = fault_kinds.get(largest.kind)
    found: list[tuple[float, float, str]] = []
    for (where, name), values in away.items():
        if where == condition:
            share = _crossing(values)
            found.append((share if share is not None else 9.0, -values[-1], name))
    share, deviations, name = min(found)
    if share > 1.0:
        return Told(condition, name, None, say("not told here"), "", -deviations)
    params = {name: _rounded(value) for name, value in kind.sized(dict(largest.params), share).items()}
    size = FaultSpec(kind=largest.kind, params=params)
    return Told(condition, name, share, describe_fault(size), describe_size(size), -deviations)


def _rounded(value: float | str) -> float | str:
    """Two digits: between simulated sizes more would be made up."""
    return value if isinstance(value, str) else float(f"{value:.2g}")


def _crossing(values: list[float]) -> float | None:
    """The share from which on all larger sizes can be told; None when the largest cannot.

    >>> _crossing([0.0, 2.0, 4.0, 5.0, 6.0])
    0.375
    """
    points = [(0.0, 0.0), *zip(SHARES, values, strict=True)]
    if points[-1][1] < TOLD_FROM:
        return None
    for (s0, d0), (s1, d1) in reversed(list(pairwise(points))):
        if d0 < TOLD_FROM:
            return s0 + (s1 - s0) * (TOLD_FROM - d0) / (d1 - d0)
    return points[0][0]
