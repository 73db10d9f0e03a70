"""The model in half its steps: what the length of a step decides. Only with ./leitfaden test --long."""

import json
import os
import shutil
import subprocess
import sys
from pathlib import Path

import pytest

import leitfaden_core
from leitfaden_core.channels import Layer, channel
from leitfaden_core.simulate.layout import STEP

pytestmark = pytest.mark.skipif(not os.environ.get("LEITFADEN_LONG"), reason="only with ./leitfaden test --long")

#: Engines, sound or with what would shake in steps that are too long: a wide open way out of a small volume.
DRIVES = (("R1", ""), ("R3", ""), ("R4", ""), ("R6", ""), ("R4", "egr_stuck_open:opening_percent=100"))
#: Everything that is read of an engine in one drive; the beat of a switching loop makes some of it differ.
ASK = """
import json, sys
from leitfaden_core.faults import parse_fault
from leitfaden_core.rigs import load_rig
from leitfaden_core.scripts import load_script
from leitfaden_core.simulate import measured
found = measured(load_rig(sys.argv[1]), load_script("workshop_day"), [parse_fault(text) for text in sys.argv[2:]])
print(json.dumps([[c, n, s, v] for c, names in found.items() for n, stats in names.items() for s, v in stats.items()]))
"""


def values(core: Path, cache: Path, rig: str, *faults: str) -> dict[tuple[str, str, str], float]:
    """Statistics of an engine, as the sources in a folder compute them."""
    environment = os.environ | {"PYTHONPATH": str(core), "LEITFADEN_CACHE": str(cache)}
    asked = [sys.executable, "-c", ASK, rig, *faults]
    done = subprocess.run(asked, env=environment, capture_output=True, text=True, check=True)
    return {(condition, name, stat): value for condition, name, stat, value in json.loads(done.stdout)}


@pytest.fixture(scope="module")
def halved(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The core's sources with steps of half the length."""
    folder = tmp_path_factory.mktemp("halved")
    shutil.copytree(Path(leitfaden_core.__file__).parent, folder / "leitfaden_core")
    layout = folder / "leitfaden_core" / "simulate" / "layout.py"
    text = layout.read_text(encoding="utf-8")
    assert text.count(f"\nSTEP = {STEP}") == 1
    layout.write_text(text.replace(f"\nSTEP = {STEP}", f"\nSTEP = {STEP / 2.0}"), encoding="utf-8")
    return folder


@pytest.mark.parametrize(("rig", "fault"), DRIVES)
def test_in_half_the_steps_nearly_all_values_are_the_same(rig: str, fault: str, halved: Path) -> None:
    sources = (Path(leitfaden_core.__file__).parents[1], halved)
    whole, half = (values(core, halved.parent / "cache", rig, *filter(None, [fault])) for core in sources)
    away = []
    for place, value in half.items():
        _condition, name, stat = place
        if stat in {"mean", "min", "max"} and channel(name).layer is not Layer.TRUTH and value == value:
            away.append((abs(whole[place] - value) / max(abs(value), 2.0 * channel(name).step), place))
    away.sort(reverse=True)
    shares = [distance for distance, _place in away]
    within = [sum(distance < limit for distance in shares) / len(shares) for limit in (0.01, 0.05)]
    told = f"{len(shares)} values, {within[0]:.1%} within 1 %, {within[1]:.1%} within 5 %"
    sys.stdout.write(f"\n  {rig} {fault or 'sound'}: {told}; farthest: {[place for _, place in away[:3]]}\n")
    assert within[0] > 0.9
    assert within[1] > 0.97
