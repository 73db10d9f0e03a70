"""What decides a computed number: a hash of sources and data, without what is only for readers.

Comments, docstrings, layout and texts that people read do not count: a changed word computes nothing anew. Nor does the
source of a part that an engine has not.
"""

import ast
import hashlib
import json
from functools import cache
from pathlib import Path
from typing import Any

import yaml

from leitfaden_core.compiled import cache_base
from leitfaden_core.files import write_whole
from leitfaden_core.rigs import Rig

#: Sources that change what a healthy engine shows; editing others keeps the sheet valid.
_MODEL = (
    *(
        "constants.py",
        "chance.py",
        "channels.py",
        "engine",
        "sensors",
        "wiring/node.py",
        "control",
        "scripts",
        "expect/population.py",
    ),
    *("rigs/document.py", "rigs/sections.py"),
    *(
        f"simulate/{name}.py"
        for name in ("actions", "hands", "handwork", "lag", "layout", "limits", "machine", "noise")
    ),
    *(f"simulate/{name}.py" for name in ("moments", "params", "presence", "record", "run", "shape", "start", "state")),
    "simulate/step.py",
    "simulate/parts",
)
#: Sources of what only some engines have: the feature of a rig without which they count for nothing.
_ONLY_WITH = {
    "sensors/wideband.py": "wideband",
    "sensors/airflow.py": "maf",
    "engine/turbo.py": "turbo",
    "simulate/parts/turbo.py": "turbo",
    "control/boost.py": "turbo",
    "engine/diesel.py": "diesel",
    "control/diesel.py": "diesel",
    "control/governor.py": "governor",
    "control/idle.py": "petrol",
    "simulate/parts/mixture.py": "two_banks",
}


@cache
def sheet_fingerprint(rig: Rig, *more: str) -> str:
    """Hash of all sources and data that decide what a healthy engine of this rig shows, and of ``more`` parts of the
    core.
    """
    digest = hashlib.sha256(_told(rig.model_dump(mode="json")))
    for name, meaning in _sources((*_MODEL, *more)).items():
        if _ONLY_WITH.get(name, "") in {"", *rig.features}:
            digest.update(name.encode())
            digest.update(meaning)
    return digest.hexdigest()[:16]


@cache
def _sources(parts: tuple[str, ...]) -> dict[str, bytes]:
    """What the files of some parts of the core say, by their names."""
    root, found = Path(__file__).parent.parent, {}
    for part in parts:
        path = root / part
        for file in sorted(path.rglob("*")) if path.is_dir() else [path]:
            if file.suffix in {".py", ".yaml"}:
                found[file.relative_to(root).as_posix()] = _kept_meaning(file)
    return found


def _kept_meaning(file: Path) -> bytes:
    """What a file says, worked out once for each of its contents: a process would spend a second on all of them."""
    content = file.read_bytes()
    kept = cache_base() / "meanings" / hashlib.sha256(Path(__file__).read_bytes() + content).hexdigest()
    if not kept.is_file():
        write_whole(kept, _meaning(content.decode(), file.suffix))
    return kept.read_bytes()


def _meaning(text: str, suffix: str) -> bytes:
    """What a source or data file says, without what is only for readers.

    >>> _meaning('LABEL, GAIN = "Air leak", 2.0  # why', ".py") == _meaning('LABEL, GAIN = "Leak of air",   2.0', ".py")
    True
    >>> _meaning("GAIN = 2.0", ".py") == _meaning("GAIN = 2.1", ".py")
    False
    """
    if suffix == ".yaml":
        return _told(yaml.load(text, yaml.CSafeLoader))
    tree = ast.parse(text)
    for node in ast.walk(tree):
        if (
            isinstance(node, (ast.Module, ast.ClassDef, ast.FunctionDef))
            and ast.get_docstring(node, clean=False) is not None
        ):
            node.body = node.body[1:] or [ast.Pass()]
        elif isinstance(node, ast.Constant) and _is_prose(node.value):
            node.value = ""
    return ast.dump(tree).encode()


def _told(data: Any) -> bytes:
    """Plain data without its texts."""

    def bare(value: Any) -> Any:
        if isinstance(value, dict):
            return {key: bare(part) for key, part in value.items()}
        if isinstance(value, list):
            return [bare(part) for part in value]
        return "" if _is_prose(value) else value

    return json.dumps(bare(data), sort_keys=True, default=str).encode()


def _is_prose(value: object) -> bool:
    """Whether something is a text for people: words with a space between them. A speed such as «0.8 cruise» is none."""
    return isinstance(value, str) and " " in value.strip() and not value[0].isdigit()
