"""Where things lie on this machine. Everything that is made lies in one folder; removing it starts afresh."""

import os
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]
#: LEITFADEN_LOCAL puts it elsewhere, for instance on a disk of its own.
LOCAL = Path(os.environ.get("LEITFADEN_LOCAL") or ROOT / ".local")
RUN = LOCAL / "run"


class HostError(Exception):
    """Something on this machine is in the way; one sentence for the person at the shell."""
