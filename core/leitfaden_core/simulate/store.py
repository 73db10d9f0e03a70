"""Statistics of runs, kept on disk: the same rig, script, faults and seed give the same numbers, so nobody needs to
wait for them twice.

The folder is named after the sources of the core (see :mod:`leitfaden_core.compiled`), so a changed model never finds
old numbers. Without a writable folder everything works, only slower.
"""

import contextlib
import hashlib
import json
import os
import time
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import Future, ThreadPoolExecutor
from functools import cache, lru_cache
from pathlib import Path
from typing import TypeVar

from leitfaden_core.compiled import cache_base, source_fingerprint
from leitfaden_core.faults import FaultSpec
from leitfaden_core.files import write_whole
from leitfaden_core.rigs import Rig
from leitfaden_core.scripts import Script
from leitfaden_core.simulate.run import Statistics, measured

T = TypeVar("T")


@cache
def _folder() -> Path:
    return cache_base() / "statistics" / source_fingerprint()


@lru_cache(maxsize=512)
def _statistics(rig: Rig, script: str, faults: tuple[str, ...], seed: int) -> Statistics:
    def compute() -> Statistics:
        specs = [FaultSpec.model_validate_json(fault) for fault in faults]
        return measured(rig, Script.model_validate_json(script), specs, seed)

    return kept(json.dumps([rig.digest, script, faults, seed]), compute)


def kept(key: str, compute: Callable[[], T]) -> T:
    """What ``compute`` gave for this key and these sources, as plain JSON, from the store where it has it."""
    path = _folder() / f"{hashlib.sha256(key.encode()).hexdigest()[:32]}.json"
    with contextlib.suppress(OSError, ValueError):
        stored: T = json.loads(path.read_text(encoding="utf-8"))
        os.utime(path)  # what is read stays: prune_store goes by age
        return stored
    found = compute()
    with contextlib.suppress(OSError):
        write_whole(path, json.dumps(found).encode())
    return found


#: What the store may hold on disk, and for how long nobody may have read a file before it goes. [bytes, s]
STORE_BYTES, STORE_AGE = 2_000_000_000, 90 * 86_400.0


def prune_store(most_bytes: int = STORE_BYTES, most_age: float = STORE_AGE) -> int:
    """Throw away what other sources computed, what is too old, and then the oldest until the store is small enough; how
    many files went.
    """
    root, kept_now, gone = cache_base() / "statistics", [], 0
    for path in root.rglob("*"):
        with contextlib.suppress(OSError):
            if path.is_file():
                found = path.stat()
                if path.parent != _folder() or time.time() - found.st_mtime > most_age:
                    path.unlink()
                    gone += 1
                else:
                    kept_now.append((found.st_mtime, found.st_size, path))
    held = sum(size for _time, size, _path in kept_now)
    for _time, size, path in sorted(kept_now):
        if held <= most_bytes:
            break
        with contextlib.suppress(OSError):
            path.unlink()
            held, gone = held - size, gone + 1
    return gone


def stored_statistics(rig: Rig, script: Script, faults: list[list[FaultSpec]], seed: int = 0) -> list[Statistics]:
    """Statistics of the rig itself with each of several sets of faults, from the store where it has them.

    What is missing is computed on all cores.
    """
    with simulating(rig, script, seed) as ask:
        return [asked.result() for asked in [ask(group) for group in faults]]


@contextlib.contextmanager
def simulating(
    rig: Rig, script: Script, seed: int = 0
) -> Iterator[Callable[[Sequence[FaultSpec]], Future[Statistics]]]:
    """To ask for :func:`stored_statistics` one after the other; they come as they are ready, from all cores
    (LEITFADEN_THREADS: from so many): the compiled step releases the interpreter's lock.
    """
    course = script.model_dump_json()
    with ThreadPoolExecutor(int(os.environ.get("LEITFADEN_THREADS") or os.cpu_count() or 1)) as pool:

        def ask(faults: Sequence[FaultSpec]) -> Future[Statistics]:
            return pool.submit(_statistics, rig, course, tuple(fault.model_dump_json() for fault in faults), seed)

        yield ask
