"""Writing files that others may read in the same moment."""

import os
import tempfile
from pathlib import Path


def write_whole(path: Path, content: bytes) -> None:
    """Write beside, then move: a reader finds the old file or the new one, never half of it. OSError as any write."""
    path.parent.mkdir(parents=True, exist_ok=True)
    handle, beside = tempfile.mkstemp(dir=path.parent)
    with os.fdopen(handle, "wb") as out:
        out.write(content)
    os.replace(beside, path)
