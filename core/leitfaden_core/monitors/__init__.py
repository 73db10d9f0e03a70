"""Monitors: what the control unit complains about, from what it believes and from its own pins."""

from leitfaden_core.monitors.codes import CODES, Code, code, flash_number
from leitfaden_core.monitors.report import (
    OnBoardDiagnosis,
    Report,
    StoredCode,
    trouble_codes,
    trouble_codes_of,
    trouble_report,
    watched_run,
)

__all__ = [
    "CODES",
    "Code",
    "OnBoardDiagnosis",
    "Report",
    "StoredCode",
    "code",
    "flash_number",
    "trouble_codes",
    "trouble_codes_of",
    "trouble_report",
    "watched_run",
]
