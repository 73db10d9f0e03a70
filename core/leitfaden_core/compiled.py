"""How numeric functions are compiled: one decorator for all of them.

A cached function that calls one of another module is not recompiled when only that other module changes. The compiler's
cache therefore lies in a folder named after all sources that hold compiled functions. LEITFADEN_CACHE chooses where
these folders are.
"""

import contextlib
import gc
import hashlib
import io
import os
from collections.abc import Callable, Iterable, Iterator
from functools import cache
from importlib.metadata import version
from pathlib import Path
from typing import Any, TypeVar

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.files import write_whole

_ROOT = Path(__file__).parent
#: Packages with compiled functions; a test holds that no other module has one.
_COMPILED = ("engine", "sensors", "wiring", "control", "simulate")
_Function = TypeVar("_Function")


def _fingerprint(paths: Iterable[Path]) -> str:
    """Hash of files by name and content, and of the compiler's version."""
    digest = hashlib.sha256(version("numba").encode())
    for path in sorted(paths):
        digest.update(path.relative_to(_ROOT).as_posix().encode())
        digest.update(path.read_bytes())
    return digest.hexdigest()[:16]


@cache
def source_fingerprint() -> str:
    """Hash of all sources and data of the core; changes when any of them does."""
    return _fingerprint([*_ROOT.rglob("*.py"), *_ROOT.rglob("*.yaml")])


def _compiled_fingerprint() -> str:
    """Hash of the sources that may hold compiled functions: only their change asks for a new compilation."""
    return _fingerprint([*_ROOT.glob("*.py"), *(path for name in _COMPILED for path in (_ROOT / name).rglob("*.py"))])


def cache_base() -> Path:
    """Folder for whatever can be computed again: LEITFADEN_CACHE, or one in the user's home."""
    return Path(os.environ.get("LEITFADEN_CACHE") or Path.home() / ".cache" / "leitfaden")


@contextlib.contextmanager
def uncollected() -> Iterator[None]:
    """Without looking for garbage, now or later, among what is loaded: hundreds of thousands of objects that all
    stay.
    """
    collecting = gc.isenabled()
    gc.disable()
    try:
        yield
    finally:
        gc.freeze()
        if collecting:
            gc.enable()


_COMPILED_FOLDER = cache_base() / "compiled" / _compiled_fingerprint()
# numba reads this once, when it is imported.
os.environ["NUMBA_CACHE_DIR"] = str(_COMPILED_FOLDER)
with uncollected():
    import numba


def stored_table(name: str, compute: Callable[[], NDArray[np.float64]]) -> NDArray[np.float64]:
    """A table that these sources always compute alike, from the compiler's folder where it lies there."""
    path = _COMPILED_FOLDER / f"{name}.npy"
    with contextlib.suppress(OSError, ValueError):
        return np.asarray(np.load(path))
    table = compute()
    with contextlib.suppress(OSError):
        content = io.BytesIO()
        np.save(content, table)
        write_whole(path, content.getvalue())
    return table


#: Whether functions stay plain Python, some thousand times slower, so that a debugger can walk through them.
UNCOMPILED = bool(os.environ.get("LEITFADEN_UNCOMPILED"))


def records(array: NDArray[Any]) -> NDArray[Any]:
    """Records as functions of the step take them: plain Python reaches a field by its name only in a view."""
    return array.view(np.recarray) if UNCOMPILED else array


def compiled(function: _Function) -> _Function:
    """Compile a function; it keeps its plain form as ``py_func``.

    No fastmath: the same inputs must give the same bits on every run. numpy's error model spares a zero test at each
    division. All functions end up inside the frame loop: called ones would load and store the state around every call.
    """
    return _compile(function, cache=True)


def inlined(function: _Function) -> _Function:
    """Compile a function that only compiled ones call, and that is kept only as a part of them: to be called from
    plain Python as well takes longer to compile than most functions by themselves. Python has its ``py_func``.
    """
    return _compile(function, no_cpython_wrapper=True, no_cfunc_wrapper=True)


def compiled_as(signature: str) -> Callable[[_Function], _Function]:
    """As :func:`compiled`, for these types only. Without them the compiler makes a function of its own for each whole
    number that a caller writes down.
    """

    def decorate(function: _Function) -> _Function:
        return _compile(function, signature, cache=True)

    return decorate


def _compile(function: _Function, *signature: str, **options: bool) -> _Function:
    if UNCOMPILED:
        function.py_func = function  # type: ignore[attr-defined]
        return function
    compiler: Any = numba.njit
    return compiler(*signature, error_model="numpy", nogil=True, forceinline=True, **options)(function)  # type: ignore[no-any-return]


def of_fixed_types(function: _Function) -> _Function:
    """A compiled function whose arguments are always of the same types, contiguous arrays among them.

    The compiler's own call looks at every argument first, which takes ten microseconds for records of some hundred
    fields, as long as half a frame. Here only the first call does; whoever calls answers for the types of all later
    ones.
    """
    if UNCOMPILED:
        return function
    entry: Callable[..., Any] | None = None

    def call(*arguments: Any) -> Any:
        nonlocal entry
        if entry is None:
            dispatcher: Any = function
            entry = dispatcher.compile(tuple(numba.typeof(given) for given in arguments))  # type: ignore[no-untyped-call]
            assert entry is not None
        return entry(*arguments)

    return call  # type: ignore[return-value]
