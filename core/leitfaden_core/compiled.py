"""How numeric functions are compiled: one decorator for all of them.

A cached function that calls one of another module is not recompiled when only that other module changes. The compiler's cache therefore lies
in a folder named after all sources: see :func:`source_fingerprint`. LEITFADEN_CACHE chooses where these folders are.
"""

import hashlib
import os
from importlib.metadata import version
from pathlib import Path
from typing import Any, TypeVar

_ROOT = Path(__file__).parent
_Function = TypeVar("_Function")


def source_fingerprint() -> str:
    """Hash of all core sources and the compiler's version; changes when any of them does."""
    digest = hashlib.sha256(version("numba").encode())
    for path in sorted(_ROOT.rglob("*.py")):
        digest.update(path.relative_to(_ROOT).as_posix().encode())
        digest.update(path.read_bytes())
    return digest.hexdigest()[:16]


def _cache_folder() -> str:
    base = os.environ.get("LEITFADEN_CACHE") or str(Path.home() / ".cache" / "leitfaden")
    return str(Path(base) / "compiled" / source_fingerprint())


# numba reads this once, when it is imported.
os.environ["NUMBA_CACHE_DIR"] = _cache_folder()

import numba  # noqa: E402  must follow the line above


def compiled(function: _Function) -> _Function:
    """Compile a function; it keeps its plain form as ``py_func``.

    No fastmath: the same inputs must give the same bits on every run. numpy's error model spares a zero test at each division.
    """
    decorated: Any = numba.njit(cache=True, error_model="numpy", nogil=True)(function)
    return decorated  # type: ignore[no-any-return]
