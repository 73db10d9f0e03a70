"""How numeric functions are compiled: one decorator for all of them.

A cached function that calls one of another module is not recompiled when only that other module changes. The compiler's cache therefore lies
in a folder named after all sources: see :func:`source_fingerprint`. LEITFADEN_CACHE chooses where these folders are.
"""

import hashlib
import os
from functools import cache
from importlib.metadata import version
from pathlib import Path
from typing import Any, TypeVar

_ROOT = Path(__file__).parent
_Function = TypeVar("_Function")


@cache
def source_fingerprint() -> str:
    """Hash of all core sources, their data and the compiler's version; changes when any of them does."""
    digest = hashlib.sha256(version("numba").encode())
    for path in sorted([*_ROOT.rglob("*.py"), *_ROOT.rglob("*.yaml")]):
        digest.update(path.relative_to(_ROOT).as_posix().encode())
        digest.update(path.read_bytes())
    return digest.hexdigest()[:16]


def cache_base() -> Path:
    """Folder for whatever can be computed again: LEITFADEN_CACHE, or one in the user's home."""
    return Path(os.environ.get("LEITFADEN_CACHE") or Path.home() / ".cache" / "leitfaden")


# numba reads this once, when it is imported.
os.environ["NUMBA_CACHE_DIR"] = str(cache_base() / "compiled" / source_fingerprint())

import numba  # noqa: E402  must follow the line above


def compiled(function: _Function) -> _Function:
    """Compile a function; it keeps its plain form as ``py_func``.

    No fastmath: the same inputs must give the same bits on every run. numpy's error model spares a zero test at each division.
    """
    decorated: Any = numba.njit(cache=True, error_model="numpy", nogil=True)(function)
    return decorated  # type: ignore[no-any-return]
