"""What was done on a bench is told in words, wherever it is told."""

from typing import Any

import pytest

from leitfaden_core.faults import parse_fault
from leitfaden_core.live import Beginning, Done, doing_of, told
from leitfaden_core.live.doings import DOING

LEAK = {"kind": "manifold_vacuum_leak", "params": {"area_mm2": 3.0}}


def words(*doings: dict[str, Any], beginning: Beginning | None = None, first: int = 0) -> list[str]:
    journal = [Done(10 * k, doing_of(raw)) for k, raw in enumerate(doings)]
    return told(beginning or Beginning(rig="R1"), journal, first)


SAID: list[tuple[dict[str, Any], str]] = [
    ({"do": "turn_key", "to": "start"}, "key: cranking"),
    ({"do": "move_pedal", "to": 0.256}, "pedal 26 %"),
    ({"do": "hold_speed", "rpm": 2500.4}, "hold 2500 1/min"),
    ({"do": "hold_load", "share": "cruise"}, "torque as at cruise"),
    ({"do": "hold_load", "share": 0.4}, "torque 40 %"),
    ({"do": "snap"}, "snap throttle"),
    ({"do": "drive", "roller": [1000, 4000], "gear": "pull", "seconds": 8}, "rollers, gear of a full-load pull"),
    ({"do": "neutral"}, "neutral"),
    ({"do": "lapse_time", "factor": 20}, "warmth ×20"),
    ({"do": "surround", "weather": {"temp_C": -10, "baro_kPa": 98.52}}, "−10.0 °C, 98.5 kPa absolute"),
    ({"do": "switch_consumers", "lights": True, "air_conditioning": True}, "consumers: lights + air conditioning"),
    ({"do": "switch_consumers"}, "consumers off"),
    ({"do": "connect_charger", "on": False}, "charger off"),
    ({"do": "move_plug", "place": "maf"}, "a plug is moved"),
    ({"do": "put_fault", "name": "one", "fault": LEAK}, "put in: Air leak behind the throttle (3 mm²)"),
    ({"do": "pull_plug", "circuit": "maf_signal"}, "plug off: MAF signal"),
    ({"do": "put_plug", "circuit": "maf_signal"}, "plug on: MAF signal"),
    ({"do": "close_hose", "hose": "air duct"}, "clamped: air duct"),
    ({"do": "open_hose", "hose": "air duct"}, "opened: air duct"),
    ({"do": "fit_part", "part": "airflow meter"}, "other part: airflow meter"),
    ({"do": "put_part_back", "part": "airflow meter"}, "old part: airflow meter"),
    ({"do": "hold_actuator", "actuator": "purge valve", "share": 0.5}, "held at 50 %: purge valve"),
    ({"do": "let_actuator_go", "actuator": "purge valve"}, "let go: purge valve"),
    ({"do": "reset_learned"}, "adaptations reset"),
    ({"do": "clear_codes"}, "codes cleared"),
    ({"do": "disconnect_battery"}, "battery off and on"),
    ({"do": "pass_months", "months": 6}, "6 months pass"),
    ({"do": "stand", "hours": 8.5}, "stands 8.5 h"),
    ({"do": "settle_memory"}, "memory settles"),
    ({"do": "mark", "words": "listen here"}, "listen here"),
]


@pytest.mark.parametrize(("doing", "said"), SAID)
def test_what_was_done_is_told_in_few_words(doing: dict[str, Any], said: str) -> None:
    assert words(doing) == [said]


def test_everything_that_can_be_done_has_words() -> None:
    kinds = set(DOING.json_schema()["discriminator"]["mapping"])
    assert kinds - {"size_fault", "take_fault"} == {doing["do"] for doing, _said in SAID}


def test_a_fault_is_told_with_its_size_and_a_new_size_by_itself() -> None:
    meter = {"kind": "maf_under_read", "params": {"gain": 0.75}}
    said = words(
        {"do": "put_fault", "name": "one", "fault": LEAK},
        {"do": "put_fault", "name": "two", "fault": meter},
        {"do": "size_fault", "name": "one", "params": {"area_mm2": 4.0}},
        {"do": "size_fault", "name": "two", "params": {"gain": 0.8}},
        {"do": "take_fault", "name": "one"},
    )
    assert said[0] == "put in: Air leak behind the throttle (3 mm²)"
    assert said[2:4] == ["now 4 mm²", "now reads 80 % of true flow"]
    assert said[4] == "taken out: Air leak behind the throttle (4 mm²)"


def test_faults_that_were_there_at_the_beginning_can_be_resized_and_taken_out() -> None:
    beginning = Beginning(rig="R1", faults=(parse_fault("manifold_vacuum_leak:area_mm2=3"),))
    doings = (
        {"do": "size_fault", "name": "fault 1", "params": {"area_mm2": 5.0}},
        {"do": "take_fault", "name": "fault 1"},
    )
    assert words(*doings, beginning=beginning) == ["now 5 mm²", "taken out: Air leak behind the throttle (5 mm²)"]
    # Told alone, the last thing is the same.
    assert words(*doings, beginning=beginning, first=1) == words(*doings, beginning=beginning)[1:]
