"""Golden runs: what each rig gave when somebody last looked at it and found it right. A change must be meant.

Made anew with ``LEITFADEN_GOLDEN=write ./leitfaden test tests/core/test_golden.py``; read the difference before you
keep it.
"""

import json
import os
from pathlib import Path

import pytest

from leitfaden_core.channels import channel
from leitfaden_core.faults import parse_fault
from leitfaden_core.rigs import load_rig, rig_channels, rig_ids
from leitfaden_core.scripts import reading_scripts
from leitfaden_core.simulate import cached_run

FOLDER = Path(__file__).parents[1] / "data" / "golden"
CHANNELS = (
    "rpm",
    "maf",
    "map",
    "map_true",
    "maf_true",
    "iat",
    "ect",
    "total_trim",
    "ho2s_b1s1_v",
    "lambda_true",
    "injector_ms",
    "idle_air",
    "torque_true",
    "load",
)
FAULTS = ("", "manifold_vacuum_leak:area_mm2=2", "fuel_pressure_low:factor=0.75", "ect_offset:K=-20")
#: Rounding on other processors and in other library versions stays far below these.
RELATIVE, STEPS = 0.01, 1.5


def found(rig_id: str, fault: str) -> dict[str, float | None]:
    rig = load_rig(rig_id)
    values: dict[str, float | None] = {}
    for script in reading_scripts():
        run = cached_run(rig, script, [parse_fault(fault)] if fault else [])
        for condition in script.conditions():
            for name in CHANNELS:
                if name in rig_channels(rig):
                    value = run.statistic(condition, name, "mean")
                    values[f"{condition}/{name}"] = None if value != value else float(f"{value:.5g}")
    return values


@pytest.mark.parametrize("fault", FAULTS, ids=lambda fault: fault.partition(":")[0] or "healthy")
@pytest.mark.parametrize("rig_id", rig_ids())
def test_a_run_gives_what_it_gave(rig_id: str, fault: str) -> None:
    path = FOLDER / f"{rig_id}-{fault.partition(':')[0] or 'healthy'}.json"
    now = found(rig_id, fault)
    if os.environ.get("LEITFADEN_GOLDEN") == "write":
        path.write_text(json.dumps(now, indent=1) + "\n", encoding="utf-8")
    kept = json.loads(path.read_text(encoding="utf-8"))
    assert set(now) == set(kept)
    moved = {}
    for place, value in now.items():
        was, step = kept[place], channel(place.partition("/")[2]).step
        if (value is None) != (was is None) or (
            value is not None and abs(value - was) > max(RELATIVE * abs(was), STEPS * step)
        ):
            moved[place] = f"was {was}, is {value}"
    assert moved == {}
