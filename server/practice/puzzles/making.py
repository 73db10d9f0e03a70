"""Making the first minute's puzzles anew, when the model has changed. Takes some minutes."""

from typing import Any

from leitfaden_core.channels import CHANNELS, Layer, rounded
from leitfaden_core.expect import compute_sheet, has_sheet, individual_engine, keep_sheet
from leitfaden_core.expect.sheet import sheet_text
from leitfaden_core.faults import FaultSpec
from leitfaden_core.judge import VerdictKind, judge_reading
from leitfaden_core.quantities import QUANTITIES, digits_of
from leitfaden_core.rigs import Rig, load_rig
from leitfaden_core.scripts import CONDITIONS, load_script
from leitfaden_core.simulate import FRAME, Run, cached_run

CONDITION = "hot_idle"
#: Values a second in the moving picture.
TRACE_HZ = 10.0
#: Engines drawn at most until one reading alone is doubtful: of a band of 95 in 100 sound readings fall out too.
DRAWS = 60
#: Faults that put one reading out of band at hot idle and leave the others in it.
FAULTS = (
    FaultSpec(kind="iat_offset", params={"K": 38.0}),
    FaultSpec(kind="maf_under_read", params={"gain": 0.78}),
    FaultSpec(kind="iat_offset", params={"K": -30.0}),
    FaultSpec(kind="maf_over_read", params={"gain": 1.25}),
)


def engine() -> Rig:
    """The puzzles' own engine: it is in no catalogue, so that no lesson can have it. Its numbers are made up."""
    document = load_rig("R1").model_dump(mode="json")
    document |= {"id": "START", "name": "Stand engine by the door", "description": "1.9 L four-cylinder petrol engine"}
    document["engine"] |= {"displacement": 0.0019, "accessory_torque": 5.0}
    return Rig.model_validate(document)


def made() -> list[dict[str, Any]]:
    """All puzzles, each with one reading that the judgement doubts."""
    rig = engine()
    if not has_sheet(rig):
        keep_sheet(rig, sheet_text(compute_sheet(rig)))
    return [_puzzle(rig, number, fault) for number, fault in enumerate(FAULTS, 1)]


def _puzzle(rig: Rig, number: int, fault: FaultSpec) -> dict[str, Any]:
    for draw in range(DRAWS):
        seed = number + draw * len(FAULTS)
        run = cached_run(rig, load_script("workshop_day"), [fault], seed, individual_engine(rig, seed, 0.3))
        readings = _readings(run)
        verdicts = [judge_reading(rig, CONDITION, row["id"], row["value"]) for row in readings]
        off = [k for k, verdict in enumerate(verdicts) if verdict.kind != VerdictKind.GOOD]
        if len(off) == 1:
            told = verdicts[off[0]]
            return {
                "question": {"condition": CONDITIONS[CONDITION].label, "rig": rig.name, "readings": readings},
                "off": {"id": readings[off[0]]["id"], "verdict": str(told.kind), "reason": told.reason},
            }
    raise ValueError(f"no engine of {DRAWS} shows {fault.kind} in one reading alone")


def _readings(run: Run) -> list[dict[str, Any]]:
    """Scan values of all sensors on the thread, and how they run."""
    rows_of_idle = run.rows(run.script.span(CONDITION))[:: round(1.0 / (FRAME * TRACE_HZ))]
    rows: list[dict[str, Any]] = []
    for sensor in run.rig.sensors:
        name = sensor.channels[0]
        entry = CHANNELS[name]
        if entry.layer is not Layer.SCAN:
            continue
        rows.append(
            {
                "id": name,
                "term": sensor.term,
                "label": sensor.name,
                "family": entry.family,
                "place": sensor.place,
                "quantity": entry.quantity,
                "step": entry.step,
                "digits": digits_of(entry.step),
                "unit": QUANTITIES[entry.quantity].kept,
                "value": rounded(run.statistic(CONDITION, name, "mean"), entry.step),
                "trace": [float(rounded(float(v), entry.step)) for v in rows_of_idle[name]],
            }
        )
    return rows
