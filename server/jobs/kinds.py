"""Kinds of computations: a function from a wish to an answer, with its limits.

Apps register theirs in a module ``computations``.
"""

from collections.abc import Callable
from dataclasses import dataclass
from functools import cache
from typing import Any

from django.utils.module_loading import autodiscover_modules

#: Progress: the share that is done, and what goes on, for the person who waits.
Tell = Callable[[float, str], None]
Work = Callable[[Any, Tell], Any]
#: What somebody looks at a screen for, and what may take minutes. One worker keeps itself free for the quick ones.
QUICK, HEAVY = "quick", "heavy"


@dataclass(frozen=True)
class Kind:
    """A registered computation.

    ``limit_s`` is the time after which it is given up; ``background`` ones run though nobody waits for them any more.
    Of the ones that people wait for, a person's newest takes the place of their older ones of the same kind
    (``supersedes``).
    """

    id: str
    work: Work
    queue: str
    limit_s: float
    background: bool
    supersedes: bool
    priority: int


_kinds: dict[str, Kind] = {}


@cache
def load_kinds() -> dict[str, Kind]:
    """All kinds of all apps, imported when first needed: they bring the simulator with them."""
    autodiscover_modules("computations")
    return _kinds


def kind_called(kind_id: str) -> Kind:
    """A registered kind."""
    return load_kinds()[kind_id]


def computation(
    kind_id: str,
    *,
    queue: str = QUICK,
    limit_s: float = 30.0,
    background: bool = False,
    supersedes: bool = False,
    priority: int = 0,
) -> Callable[[Work], Work]:
    """Register a function as a kind of computation."""

    def register(work: Work) -> Work:
        if kind_id in _kinds:
            raise ValueError(f"two kinds of computation are called {kind_id}")
        _kinds[kind_id] = Kind(kind_id, work, queue, limit_s, background, supersedes, priority)
        return work

    return register
