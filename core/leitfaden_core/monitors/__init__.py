"""Monitors: what the control unit complains about, from what it believes and from its own pins."""

from leitfaden_core.monitors.codes import CODES, Code, code
from leitfaden_core.monitors.run import trouble_codes

__all__ = ["CODES", "Code", "code", "trouble_codes"]
