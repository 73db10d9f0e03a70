"""Drive scripts: what driver, key and roller bench do over time, and the named conditions in which values are read."""

from leitfaden_core.scripts.conditions import CONDITIONS, Condition, condition
from leitfaden_core.scripts.document import (
    Script,
    Segment,
    Window,
    load_script,
    parse_script,
    reading_scripts,
    script_ids,
    script_with,
)

__all__ = [
    "CONDITIONS",
    "Condition",
    "Script",
    "Segment",
    "Window",
    "condition",
    "load_script",
    "parse_script",
    "reading_scripts",
    "script_ids",
    "script_with",
]
