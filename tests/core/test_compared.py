"""A kept reading beside sound engines: what is promised of it, and that a fault shows."""

import pytest

from leitfaden_core.errors import UnknownName
from leitfaden_core.expect import individual_engine
from leitfaden_core.faults import FaultSpec
from leitfaden_core.instruments import Vehicle, instruments, measure
from leitfaden_core.judge import Verdict, VerdictKind
from leitfaden_core.live import KeptReading, judge_kept
from leitfaden_core.rigs import load_rig

pytestmark = pytest.mark.model

LEAK = FaultSpec(kind="manifold_vacuum_leak", params={"area_mm2": 8.0})
WEAK_GROUND = FaultSpec(kind="ground_resistance", params={"circuit": "sensor_ground", "ohms": 200.0})


def verdict_on(rig_id: str, instrument: str, place: str, condition: str, *faults: FaultSpec, seed: int = 0) -> Verdict:
    """Read the first thing that an instrument shows, and have it judged."""
    rig = load_rig(rig_id)
    own = tuple(sorted(individual_engine(rig, seed).items())) if seed else ()
    seen = measure(instruments.get(instrument), Vehicle(rig, faults, seed, own), place, condition, {}, seed).shown[0]
    kept = KeptReading(
        instrument=instrument,
        place=place,
        condition=condition,
        what=seen.id,
        label="in whatever words",
        value=seen.value,
        text=seen.text,
    )
    return judge_kept(rig, kept)


@pytest.mark.parametrize(
    ("rig", "instrument", "place", "condition", "faults"),
    [
        ("R1", "vacuum_gauge", "manifold", "hot_idle", [LEAK]),
        ("R1", "smoke_generator", "behind the throttle", "koeo", [LEAK]),
        ("R1", "scan_tool", "ltft,maf", "hot_idle", [LEAK]),
        ("R4", "multimeter", "sensor ground/battery minus", "hot_idle", [WEAK_GROUND]),
    ],
)
def test_a_sound_reading_is_good_and_a_faulty_one_is_an_alarm(
    rig: str, instrument: str, place: str, condition: str, faults: list[FaultSpec]
) -> None:
    assert verdict_on(rig, instrument, place, condition).kind is VerdictKind.GOOD
    found = verdict_on(rig, instrument, place, condition, *faults)
    assert found.kind in {VerdictKind.SUSPECT, VerdictKind.FAULTY}
    assert found.reason.endswith(".")


def test_ninety_five_in_a_hundred_sound_engines_are_within_the_limits() -> None:
    """Binomial: fewer than 33 of 40 within has a chance below one in a thousand where 95 in 100 are promised."""
    kinds = [verdict_on("R1", "vacuum_gauge", "manifold", "hot_idle", seed=500 + k).kind for k in range(40)]
    assert kinds.count(VerdictKind.GOOD) >= 33


def test_weather_moves_the_limits_with_it() -> None:
    """2,000 m up every engine shows less vacuum: the same number that is good there is an alarm at the school."""
    rig = load_rig("R1")
    high = individual_engine(rig, 3) | {"ambient_pressure": 79_500.0, "ambient_temp": 283.15}
    car = Vehicle(rig, (), 3, tuple(sorted(high.items())))
    seen = measure(instruments.get("vacuum_gauge"), car, "manifold", "hot_idle", {}, 3).shown[0]
    told = {
        "instrument": "vacuum_gauge",
        "place": "manifold",
        "condition": "hot_idle",
        "what": seen.id,
        "label": seen.label,
    }
    there = judge_kept(rig, KeptReading(**told, value=seen.value, celsius=10.0, kpa=79.5))
    here = judge_kept(rig, KeptReading(**told, value=seen.value))
    assert (there.kind, here.kind) == (VerdictKind.GOOD, VerdictKind.FAULTY)


def test_a_value_that_the_control_unit_makes_up_decides_nothing() -> None:
    told = {"instrument": "scan_tool", "place": "rpm,iat", "condition": "hot_idle", "what": "iat", "label": "IAT"}
    told |= {"value": 20.0}
    rig = load_rig("R1")
    assert judge_kept(rig, KeptReading(**told)).kind is VerdictKind.GOOD
    assert judge_kept(rig, KeptReading(**told, substitute=True)).kind is VerdictKind.NOT_DECIDABLE


def test_an_instrument_that_nobody_knows_is_told() -> None:
    with pytest.raises(UnknownName, match="unknown instrument"):
        judge_kept(
            load_rig("R1"),
            KeptReading(instrument="x", place="y", condition="hot_idle", what="z", label="z", value=1.0),
        )
