"""The commands as a user types them: output, and one line with exit code 2 for bad input."""

import csv
import json

import pytest

from leitfaden_core.channels import CHANNELS
from leitfaden_core.cli.commands import main


@pytest.mark.parametrize("command", ["rigs", "scripts", "conditions", "channels R1", "faults", "faults R1"])
def test_lists_come_as_a_table_and_as_json(command: str, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(command.split()) == 0
    table = capsys.readouterr().out
    assert main([*command.split(), "--json"]) == 0
    rows = json.loads(capsys.readouterr().out)
    assert rows and all(str(row["id"]) in table for row in rows)


def test_the_summary_has_the_shape_that_others_read(capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["simulate", "R1", "--channels", "maf,ho2s_b1s1_v,map_true"]) == 0
    data = json.loads(capsys.readouterr().out)
    assert (data["rig"], data["seed"]) == ("R1", 0) and data["core"]
    idle = data["conditions"]["hot_idle"]
    assert set(idle["maf"]) == {"unit", "layer", "mean", "min", "max", "std", "freq"}
    assert (idle["maf"]["unit"], idle["maf"]["layer"], idle["map_true"]["layer"]) == ("g/s", "scan", "truth")
    assert idle["maf"]["freq"] is None and idle["ho2s_b1s1_v"]["freq"] > 0.3


def test_csv_goes_to_a_file_with_units_in_its_head(tmp_path) -> None:
    out = tmp_path / "run.csv"
    assert (
        main(["simulate", "R1", "--fault", "maf_under_read:gain=0.9", "--channels", "rpm,maf", "--format", "csv", "--out", str(out)]) == 0
    )
    with out.open(encoding="utf-8") as file:
        rows = list(csv.reader(file))
    assert rows[0] == ["time [s]", "rpm [1/min]", "maf [g/s]"]
    assert len(rows) > 20_000
    assert 650 < float(rows[10_700][1]) < 800


def test_json_lanes_are_as_long_as_their_time(capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["simulate", "R1", "--channels", "lambda_true", "--format", "json", "--seed", "4"]) == 0
    data = json.loads(capsys.readouterr().out)
    assert len(data["time"]) == len(data["lanes"]["lambda_true"])
    assert None in data["lanes"]["lambda_true"]


def test_expect_prints_bands_of_one_condition(capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["expect", "R1", "--condition", "hot_idle", "--json"]) == 0
    rows = {row["channel"]: row for row in json.loads(capsys.readouterr().out)}
    assert float(rows["maf"]["low"]) < 1.8 < float(rows["maf"]["high"])
    assert set(rows) <= set(CHANNELS)


def rows_of(command: str, capsys: pytest.CaptureFixture[str]) -> list[dict[str, str]]:
    assert main([*command.split(), "--json"]) == 0
    rows: list[dict[str, str]] = json.loads(capsys.readouterr().out)
    return rows


def test_a_meter_finds_the_bad_ground(capsys: pytest.CaptureFixture[str]) -> None:
    fault = "--fault ground_resistance:circuit=sensor_ground,ohms=30"
    pins = {row["pin"]: float(row["volts"]) for row in rows_of(f"pins R6 {fault}", capsys)}
    assert 0.2 < pins["sensor ground"] < 0.6 and pins["reference"] > 4.9
    between = rows_of(f"pins R6 {fault} --between unit.ground map.ground", capsys)[0]
    assert float(between["ohms, key off"]) == pytest.approx(30.0, abs=0.5)


def test_an_unplugged_sensor_leaves_its_harness_and_its_own_pins(capsys: pytest.CaptureFixture[str]) -> None:
    pins = {row["pin"]: float(row["volts"]) for row in rows_of("pins R2 --condition hot_idle --unplug ect", capsys)}
    assert pins["ect.signal"] == pytest.approx(5.0, abs=0.02) and "ect.sensor.signal" in pins


def test_codes_with_their_frame_and_origin(capsys: pytest.CaptureFixture[str]) -> None:
    rows = {row["code"]: row for row in rows_of("codes R1 --fault maf_under_read:gain=0.72 --unplug iat --drives 1", capsys)}
    assert (rows["P0171"]["status"], rows["P0171"]["origin"]) == ("pending", "vehicle")
    assert (rows["P0113"]["status"], rows["P0113"]["origin"]) == ("confirmed", "unplugging")
    assert rows["P0171"]["freeze_frame"]["rpm"] > 500  # type: ignore[index]
    assert {row["readiness"] for row in rows_of("codes R1 --readiness", capsys)} == {"complete"}
    assert rows_of("codes R1 --fault iat_offset:K=5", capsys)[0]["code"] == "none"


def test_trims_find_back_after_a_repair(capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["simulate", "R1", "--learned-with", "manifold_vacuum_leak:area_mm2=2", "--channels", "ltft", "--format", "json"]) == 0
    learned = json.loads(capsys.readouterr().out)["lanes"]["ltft"]
    assert learned[3000] > 15 and abs(learned[-1500]) < 4


@pytest.mark.parametrize(
    ("command", "sentence"),
    [
        ("pins R2 --unplug maf_signal", "unknown circuit 'maf_signal' on rig R2; known: ect"),
        ("pins R2 --between map.signal nowhere", "unknown pin 'nowhere'"),
        ("codes R2 --drives 0", "--drives takes 1 to 10"),
        ("codes R2 --script settle_memory", "unknown script 'settle_memory'"),
        ("simulate R4 --channels total_trim", "unknown channel 'total_trim' on rig R4"),
        ("simulate R4 --fault fuel_ethanol", "rig R4 (Street-works truck): it has no petrol injection"),
        ("simulate R5 --fault ho2s_heater_open", "unknown heated sensor 'b1s1' on rig R5"),
        ("simulate R3 --fault pressure_offset:sensor=rail", "unknown pressure sensor 'rail' on rig R3; known: ambient, charge, map"),
        ("simulate R4 --fault pressure_offset:sensor=dpf_dp,kPa=200", "allowed is -30 to 30 kPa"),
        ("simulate R2 --fault wrong_part:part=map_sensor,resistance_ratio=2", "differs by gain or offset, not by resistance_ratio"),
        ("simulate R7", "unknown rig 'R7'; known: R1"),
        ("simulate R1 --script monday", "unknown script 'monday'"),
        ("simulate R1 --fault maf_drift", "unknown fault kind 'maf_drift'"),
        ("simulate R1 --fault manifold_vacuum_leak:area_mm2=900", "allowed is 0.1 to 200 mm²"),
        ("simulate R1 --fault manifold_vacuum_leak:hole=2", "unknown parameter 'hole'"),
        ("simulate R1 --channels maf,boost", "unknown channel 'boost'"),
        ("simulate R1 --seed -1", "--seed is -1; it must be 0 or more"),
        ("simulate R1 --seed many", "--seed"),
        ("simulate R1 --format pdf", "invalid choice"),
        ("simulate R1 --format csv --out /nowhere/run.csv", "cannot write /nowhere/run.csv"),
        ("channels R9", "unknown rig 'R9'"),
        ("expect R1 --condition idle", "unknown condition 'idle'"),
        ("dance", "invalid choice"),
    ],
)
def test_bad_input_gets_one_line_and_exit_code_2(command: str, sentence: str, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(command.split()) == 2
    said = capsys.readouterr()
    assert said.out == ""
    assert sentence in said.err
    assert said.err.count("\n") == 1 and "Traceback" not in said.err
