"""Shares that were counted, with their intervals."""

import math
from typing import Any


def interval(hits: float, count: float) -> tuple[float, float]:
    """Wilson's interval of a share. [-]"""
    if not count:
        return (0.0, 1.0)
    z, p = 1.96, hits / count
    middle, half = p + z * z / (2 * count), z * math.sqrt(p * (1 - p) / count + z * z / (4 * count * count))
    return ((middle - half) / (1 + z * z / count), (middle + half) / (1 + z * z / count))


def row(what: str, promised: str, hits: int, count: int) -> dict[str, Any]:
    """One figure: what, promised, got, its interval, and out of how many."""
    low, high = interval(hits, count)
    got = hits / count if count else float("nan")
    return {
        "what": what,
        "promised": promised,
        "got_percent": round(100 * got, 1),
        "from": round(100 * low, 1),
        "to": round(100 * high, 1),
        "of": count,
    }


def one_by_one(what: str, promised: str, right: list[list[bool]]) -> dict[str, Any]:
    """A row of the table whose interval counts vehicle by vehicle: what is seen on one hangs together."""
    found = row(what, promised, sum(map(sum, right)), sum(map(len, right)))
    least, most = interval(*_worth(right))
    return found | {"from": round(100 * least, 1), "to": round(100 * most, 1), "vehicles": len(right)}


def _worth(right: list[list[bool]]) -> tuple[float, float]:
    """Hits and statements that would tell as much if each were of a vehicle of its own: by the design effect, the
    variance of a share over clusters over that of independent draws (Kish 1965, Survey Sampling, ch. 5).
    """
    hits, count = sum(map(sum, right)), sum(map(len, right))
    share = hits / count
    between = sum((sum(one) - share * len(one)) ** 2 for one in right)
    within = count * share * (1.0 - share)
    effect = max(between / within, 1.0) if within else 1.0
    return hits / effect, count / effect
