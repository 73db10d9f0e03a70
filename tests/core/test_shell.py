"""The commands as a user types them: output, and one line with exit code 2 for bad input."""

import csv
import json
import shlex

import pytest

from leitfaden_core.channels import CHANNELS
from leitfaden_core.cli.commands import main

pytestmark = pytest.mark.lessons


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
        main(
            [
                "simulate",
                "R1",
                "--fault",
                "maf_under_read:gain=0.9",
                "--channels",
                "rpm,maf",
                "--format",
                "csv",
                "--out",
                str(out),
            ]
        )
        == 0
    )
    with out.open(encoding="utf-8") as file:
        rows = list(csv.reader(file))
    assert rows[0] == ["time [s]", "rpm [1/min]", "maf [g/s]", "condition", "event"]
    assert {"hot_idle", "wot_pull"} <= {row[3] for row in rows[1:]}
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
    rows = {
        row["code"]: row for row in rows_of("codes R1 --fault maf_under_read:gain=0.72 --unplug iat --drives 1", capsys)
    }
    assert (rows["P0171"]["status"], rows["P0171"]["origin"]) == ("pending", "vehicle")
    assert (rows["P0113"]["status"], rows["P0113"]["origin"]) == ("confirmed", "unplugging")
    assert rows["P0171"]["freeze_frame"]["rpm"] > 500  # type: ignore[index]
    assert {row["readiness"] for row in rows_of("codes R1 --readiness", capsys)} == {"complete"}
    assert rows_of("codes R1 --fault iat_offset:K=5", capsys)[0]["code"] == "none"


def test_trims_find_back_after_a_repair(capsys: pytest.CaptureFixture[str]) -> None:
    assert (
        main(
            [
                "simulate",
                "R1",
                "--learned-with",
                "manifold_vacuum_leak:area_mm2=2",
                "--channels",
                "ltft",
                "--format",
                "json",
            ]
        )
        == 0
    )
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
        (
            "simulate R3 --fault pressure_offset:sensor=rail",
            "unknown pressure sensor 'rail' on rig R3; known: ambient, charge, map",
        ),
        ("simulate R4 --fault pressure_offset:sensor=dpf_dp,kPa=200", "allowed is -30 to 30 kPa"),
        (
            "simulate R2 --fault wrong_part:part=map_sensor,resistance_ratio=2",
            "differs by gain or offset, not by resistance_ratio",
        ),
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
def test_bad_input_gets_one_line_and_exit_code_2(
    command: str, sentence: str, capsys: pytest.CaptureFixture[str]
) -> None:
    assert main(command.split()) == 2
    said = capsys.readouterr()
    assert said.out == ""
    assert sentence in said.err
    assert said.err.count("\n") == 1 and "Traceback" not in said.err


class TestJudgementAtTheShell:
    def test_an_unknown_fault_is_found_step_by_step(self, capsys: pytest.CaptureFixture[str]) -> None:
        """A technician takes what is proposed next until it is proven, then names the cause."""
        taken, proven = ["codes"], False
        for _ in range(10):
            rows = rows_of(
                f"diagnose R1 --hidden 1 {' '.join(f'--take {name}' for name in taken)}".replace(
                    "look.coolant and thermostat", "look.fuel"
                ),
                capsys,
            )
            proven = any(row["part"] == "proven" for row in rows)
            if proven:
                break
            proposals = [row["note"].split(";")[0] for row in rows if row["part"] in {"would prove", "next"}]
            taken.append(next(name for name in proposals if name not in taken and " " not in name))
        assert proven
        cause = next(row["note"] for row in rows if row["part"] == "likely")
        ending = rows_of(
            f"diagnose R1 --hidden 1 {' '.join(f'--take {name}' for name in taken)} --conclude {cause}", capsys
        )
        words = {row["part"]: row for row in ending}
        assert (
            words["conclusion"]["what"] == "right"
            and words["conclusion"]["value"] == "proven"
            and "min" in words["cost"]["value"]
        )

    def test_nothing_hidden_is_told_before_the_conclusion(self, capsys: pytest.CaptureFixture[str]) -> None:
        assert not any(
            row["part"] in {"truth", "conclusion"} for row in rows_of("diagnose R1 --hidden 4 --take codes", capsys)
        )

    def test_measure_lists_and_measures(self, capsys: pytest.CaptureFixture[str]) -> None:
        assert {"multimeter", "hand_pump", "oscilloscope"} <= {
            row["instrument"] for row in rows_of("measure R2", capsys)
        }
        rows = rows_of("measure R2 multimeter map.signal --condition koeo", capsys)
        assert rows[0]["what"] == "V DC" and rows[0]["value"].startswith("4.")

    def test_judge_takes_units_and_gives_reasons(self, capsys: pytest.CaptureFixture[str]) -> None:
        assert main(["judge", "R1", "maf=4.3 kg/h", "total_trim=18 %", "--json"]) == 0
        rows = json.loads(capsys.readouterr().out)
        assert [row["verdict"] for row in rows] == ["faulty", "faulty"] and "school rule" in rows[1]["reason"]

    def test_work_shows_every_step_and_marks(self, capsys: pytest.CaptureFixture[str]) -> None:
        rows = rows_of("work volumetric_efficiency maf=107 rpm=6000 t=20 p=100 L=2", capsys)
        assert any(row["step"] == "volumetric efficiency" and row["result"] == "90.0 %" for row in rows)
        assert (
            main(
                [
                    "work",
                    "volumetric_efficiency",
                    "maf=107",
                    "rpm=6000",
                    "t=20",
                    "p=100",
                    "L=2",
                    "--mark",
                    "VE=90 %",
                    "--json",
                ]
            )
            == 0
        )
        assert json.loads(capsys.readouterr().out)[-1]["verdict"] == "right"
        assert any("VE" in row["result"] for row in rows_of("work", capsys))

    def test_a_run_feeds_a_working(self, capsys: pytest.CaptureFixture[str]) -> None:
        rows = rows_of(
            "work volumetric_efficiency --rig R1 --condition wot_pull --fault maf_under_read:gain=0.8", capsys
        )
        result = next(row for row in rows if row["step"] == "volumetric efficiency")
        assert 60 < float(result["value"]) < 75

    def test_signature_names_what_leaves_its_band(self, capsys: pytest.CaptureFixture[str]) -> None:
        rows = rows_of("signature R1 --fault thermostat_stuck_open:opening_percent=100 --condition cruise_80", capsys)
        assert any(row["channel"] == "ect" and row["deviations"].startswith("-") for row in rows)

    def test_symptoms_both_ways(self, capsys: pytest.CaptureFixture[str]) -> None:
        rows = rows_of("symptoms R2 --fault map_stuck:kPa=101", capsys)
        assert {"does not start", "smokes black after the start"} <= {row["symptom"] for row in rows}
        assert rows_of("symptoms R2 --fault iat_offset:K=2", capsys)[0]["symptom"] == "nothing noticed"
        assert {"no_start", "knock", "lamp"} <= {row["symptom"] for row in rows_of("symptoms", capsys)}

    def test_expect_gives_reasons_limits_and_own_values(self, capsys: pytest.CaptureFixture[str], tmp_path) -> None:
        own = tmp_path / "own.yaml"
        own.write_text("- {condition: hot_idle, channel: maf, from: 1.7 g/s, to: 2.0 g/s, source: service information}")
        rows = {row["channel"]: row for row in rows_of(f"expect R1 --condition hot_idle --why --own {own}", capsys)}
        assert rows["maf"]["note"] == "own value: service information" and rows["maf"]["high"] == "2"
        assert "individual engine" in rows["rpm"]["note"] and float(rows["rpm"]["at least"]) < float(
            rows["rpm"]["at most"]
        )
        open_loop = {row["channel"]: row for row in rows_of("expect R1 --condition wot_pull", capsys)}
        assert "open loop" in open_loop["stft"]["note"]

    @pytest.mark.parametrize(
        "command",
        [
            "measure R1 stethoscope engine",
            "measure R1 multimeter",
            "measure R1 multimeter nowhere.pin --condition koeo",
            "measure R1 multimeter maf.signal --set dial",
            "measure R9",
            "judge R1",
            "judge R1 maf=1.8",
            "judge R1 map='30 kPa'",
            "judge R1 maf='1.8 V'",
            "judge R1 maf:middle='1.8 g/s'",
            "judge R1 maf='1.8 g/s' --missing sunshine",
            "diagnose R1 --take everything",
            "diagnose R1 --hidden 1 --fault maf_dirty",
            "diagnose R1 --hidden -1",
            "diagnose R1 --hidden 1 --conclude gremlins",
            "diagnose R1 --history rainy",
            "work perpetual_motion",
            "work air_density p=100",
            "work air_density p=1 t=20",
            "work air_density p='100 V' t=20",
            "symptoms R1",
            "symptoms R1 --told tired",
            "symptoms R1 --told thirst:koeo",
            "symptoms R1 --told thirst --fault maf_dirty",
            "signature R1",
            "signature R1 --fault maf_dirty --condition rain",
        ],
    )
    def test_bad_input_is_one_line(self, command: str, capsys: pytest.CaptureFixture[str]) -> None:
        assert main(shlex.split(command)) == 2
        told = capsys.readouterr()
        assert told.out == "" and len(told.err.strip().splitlines()) == 1
