"""A lesson with one station of any kind, for the tests of kinds."""

from typing import Any

from leitfaden_core.lessons import parse_lesson

LEAK = {"kind": "manifold_vacuum_leak", "params": {"area_mm2": 2.0}}
METER = {"kind": "maf_under_read", "params": {"gain": 0.85}}
STATIONS: dict[str, dict[str, Any]] = {
    "calculate": {"working": "volumetric_efficiency", "condition": "wot_pull"},
    "myth": {"myths": ["m04", "m06", "m07", "m09", "m55", "m59"], "count": 5},
    "predict": {
        "readings": [
            {"condition": "hot_idle", "channel": "total_trim"},
            {"condition": "hot_idle", "channel": "maf"},
            {"condition": "cruise_80", "channel": "ect"},
        ]
    },
    "separate": {
        "causes": [LEAK, METER],
        "tests": ["scan.no_load_2500.trims", "scan.cruise_80.trims", "look.fuel", "meter.grounds"],
    },
    "order": {
        "causes": [LEAK, METER, {"kind": "fuel_pressure_low", "params": {"factor": 0.7, "factor_full": 0.7}}],
        "tests": ["part.airflow meter", "scan.no_load_2500.trims", "scan.wot_pull.air", "gauge.fuel_gauge"],
    },
    "verify": {
        "complaint": "hot_idle",
        "readings": [
            {"condition": "hot_idle", "channel": "total_trim"},
            {"condition": "hot_idle", "channel": "ltft"},
            {"condition": "cruise_80", "channel": "total_trim"},
        ],
    },
    "match": {
        "readings": [
            {"condition": where, "channel": "rpm"} for where in ("hot_idle", "no_load_2500", "cruise_80", "crank")
        ]
    },
    "procedure": {"piece": "seized_sensor"},
    "own": {
        "readings": [{"condition": "hot_idle", "channel": "maf"}, {"condition": "hot_idle", "channel": "ect"}],
        "error_percent": 2.0,
    },
    "live": {
        "channels": ["rpm", "total_trim"],
        "hands": ["hoses"],
        "instruments": ["smoke_generator"],
        "readings": [
            {"condition": "hot_idle", "channel": "total_trim"},
            {"condition": "no_load_2500", "channel": "maf"},
        ],
    },
    "sketch": {"place": {"condition": "hot_idle", "channel": "total_trim"}},
    "sheet": {
        "readings": [
            {"condition": "hot_idle", "channel": "total_trim"},
            {"condition": "cruise_80", "channel": "maf"},
            {"condition": "hot_idle", "channel": "ect"},
        ],
        "engines": 3,
    },
    "pins": {"wire": "maf"},
    "plates": {"plates": ["tip_soot", "tip_oil", "tip_silicone", "bank_1_sensor_1", "bank_2_sensor_1"]},
    "reflect": {"words": 3},
}
SEEDS = (0, 7, 4711)


def lesson(kind: str, **changed: Any) -> Any:
    station = {"kind": kind, "id": "s", "title": "A station"} | STATIONS[kind] | changed
    return parse_lesson({"title": "t", "rig": "R1", "faults": [LEAK], "stations": [station]})
