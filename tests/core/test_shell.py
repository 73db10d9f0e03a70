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


@pytest.mark.parametrize(
    ("command", "sentence"),
    [
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
