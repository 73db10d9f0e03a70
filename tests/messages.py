"""All texts of the core and the server that people read, as a catalogue for translators."""

import ast
import dataclasses
import io
import re
from collections.abc import Collection, Iterable, Iterator
from functools import cache
from pathlib import Path
from typing import Any

from babel.messages.catalog import Catalog
from babel.messages.pofile import write_po

import leitfaden_core
from leitfaden_core.channels import CHANNELS
from leitfaden_core.faults import ONSETS, fault_kinds
from leitfaden_core.instruments import instruments
from leitfaden_core.live.circuit import joints_of
from leitfaden_core.live.way import STATIONS
from leitfaden_core.monitors import CODES
from leitfaden_core.quantities import QUANTITIES
from leitfaden_core.rigs import load_rig, rig_ids, variant_ids
from leitfaden_core.scripts import CONDITIONS, load_script, reading_scripts
from leitfaden_core.wiring.circuits import CIRCUITS
from leitfaden_core.wiring.joints import SHARED

CORE = Path(leitfaden_core.__file__).parent
SERVER = Path(__file__).parents[1] / "server"
#: Texts that are names for the model, such as nodes of the wiring, stand between packages that speak to nobody.
SILENT = ("engine", "sensors", "control", "simulate", "wiring")
#: What of the server speaks to those who run it, in folders; and to those who read its interface or its log, in calls.
FOR_KEEPERS = {"management", "migrations", "demo"}
FOR_PROGRAMMERS = {"get", "post", "put", "patch", "delete", "Query", "Path"}
LOGS = {"debug", "info", "warning", "error", "exception"}
#: Headers, types of files, questions to the database.
_TECHNICAL = re.compile(r"^(select |text/|application/|private, |default-src |accelerometer=)|^Value error, $")


@cache
def messages() -> Catalog:
    """A catalogue of all texts, each with the files in which it stands; the same texts give the same bytes."""
    found: dict[str, set[str]] = {}
    for text, where in (*_in_sources(), *_in_tables()):
        found.setdefault(text, set()).add(where)
    catalogue = Catalog(project="Leitfaden", copyright_holder="Leitfaden", fuzzy=False)
    for text in sorted(found):
        flags = ["python-brace-format"] if "{" in text else []
        catalogue.add(text, locations=[(where, None) for where in sorted(found[text])], flags=flags)
    return catalogue


def as_template(catalogue: Catalog) -> str:
    """The catalogue as a template file without its date."""
    out = io.BytesIO()
    write_po(out, catalogue, width=120, omit_header=True, include_lineno=False)
    return out.getvalue().decode()


def _in_sources() -> Iterator[tuple[str, str]]:
    in_core = [(file, file.relative_to(CORE).as_posix()) for file in sorted(CORE.rglob("*.py"))]
    in_server = [(file, file.relative_to(SERVER.parent).as_posix()) for file in sorted(SERVER.rglob("*.py"))]
    in_server = [(file, name) for file, name in in_server if not FOR_KEEPERS & set(file.parts)]
    for file, name in in_core + in_server:
        tree = ast.parse(file.read_text(encoding="utf-8"))
        skipped = {
            id(node) for node in _for_readers(tree, FOR_PROGRAMMERS | LOGS if file.is_relative_to(SERVER) else ())
        }
        for node in ast.walk(tree):
            if not (isinstance(node, ast.Constant) and isinstance(node.value, str)) or id(node) in skipped:
                continue
            if _is_text(node.value) and name.split("/")[0] not in SILENT:
                yield node.value, name
        for node in ast.walk(tree):
            called = isinstance(node, ast.Call) and getattr(node.func, "id", "") == "say"
            # What is no constant comes from a table, and stands below.
            if called and isinstance(node.args[0], ast.Constant):  # type: ignore[attr-defined]
                yield node.args[0].value, name  # type: ignore[attr-defined]


def _for_readers(tree: ast.Module, calls: Collection[str]) -> Iterator[ast.AST]:
    """Docstrings, what stands inside f-strings, and what is told in these calls."""
    for node in ast.walk(tree):
        if isinstance(node, ast.Expr) and isinstance(node.value, ast.Constant):
            yield node.value
        elif isinstance(node, ast.JoinedStr) or (isinstance(node, ast.Call) and _called(node) in calls):
            yield from ast.walk(node)


def _called(node: ast.Call) -> str:
    return getattr(node.func, "attr", "") or getattr(node.func, "id", "")


def _is_text(value: str) -> bool:
    begins = " " in value.strip() and (value[0].isalpha() or value[0] == "{")
    return begins and "\n" not in value and not _TECHNICAL.match(value)


def _in_tables() -> Iterator[tuple[str, str]]:
    tables: dict[str, Iterable[Any]] = {
        "faults": [*fault_kinds, *(p for kind in fault_kinds for p in kind.parameters), *ONSETS.values()],
        "channels": CHANNELS.values(),
        "instruments": [*instruments, *(o for entry in instruments for o in entry.options)],
        "conditions": CONDITIONS.values(),
        "circuits": CIRCUITS.values(),
        "quantities": QUANTITIES.values(),
        "codes": CODES.values(),
        "way": STATIONS,
    }
    for where, entries in tables.items():
        for entry in entries:
            for field in dataclasses.fields(entry):
                value = getattr(entry, field.name)
                for text in value if isinstance(value, tuple) else [value]:
                    if field.name != "id" and isinstance(text, str) and (field.name == "label" or _has_words(text)):
                        yield text, where
    for rig in map(load_rig, (*rig_ids(), *variant_ids())):
        yield from ((text, "rigs") for text in (rig.name, rig.description))
        yield from ((text, "rigs") for sensor in rig.sensors for text in (sensor.name, sensor.place))
        yield from ((text, "pins") for text in _pins(joints_of(rig)))
    yield from ((text, "pins") for text in SHARED.values())
    for script in [*reading_scripts(), load_script("settle_memory")]:
        yield from ((text, "scripts") for text in (script.name, script.description))
        yield from ((segment.label, "scripts") for segment in script.segments)


def _pins(joints: Iterable[str]) -> Iterator[str]:
    """Of each joint what its pin is called; what belongs to no plug is called as a whole."""
    for joint in joints:
        owner, _, pin = joint.partition(".")
        # At the control unit the wire stands in front of its pin.
        yield (pin.partition(" ")[2] if owner == "unit" else pin) or owner


def _has_words(text: str) -> bool:
    return bool(text) and _is_text(text)
