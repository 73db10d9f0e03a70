"""The first minute's puzzles: a few engines at hot idle, one reading of each out of band.

They are made once (``manage.py make_puzzles``) on an engine that no lesson can have, and kept as data: nobody who is
not signed in makes the server compute, and what an answer tells is of no use in a lesson.
"""

import json
from functools import cache
from pathlib import Path
from typing import Any

KEPT = Path(__file__).parent / "puzzles.json"


@cache
def _puzzles() -> list[dict[str, Any]]:
    return json.loads(KEPT.read_text(encoding="utf-8"))  # type: ignore[no-any-return]


#: So many there are, numbered from 1.
COUNT = len(_puzzles())


def question(number: int) -> dict[str, Any]:
    """A puzzle without its answer."""
    asked: dict[str, Any] = _puzzles()[number - 1]["question"]
    return asked | {"number": number, "count": COUNT}


def answer(number: int, reading: str) -> dict[str, Any]:
    """Whether that reading is the one, which one is, and why: the same for whoever asks again, and nothing of the
    others.
    """
    off = _puzzles()[number - 1]["off"]
    return {"right": reading == off["id"], **off}
