"""The case catalogue: every assertion about an engine that is modelled holds; damaged catalogues are named at their
place.
"""

import json
from pathlib import Path

import pytest

from leitfaden_core import cases
from leitfaden_core.cases import check_cases, parse_cases
from leitfaden_core.cli.commands import main
from leitfaden_core.errors import BadDocument
from leitfaden_core.rigs import rig_ids

FILE = Path(cases.__file__).parent / "data" / "hollerbach.yaml"
ALL = parse_cases(FILE.read_text(encoding="utf-8"))

ONE = """
cases:
- id: X-1
  engine: R1
  faults:
  - {kind: manifold_vacuum_leak, params: {area_mm2: 2}}
  signature:
  - {condition: hot_idle, channel: total_trim, relation: '>', value: 8, unit: '%'}
"""


@pytest.mark.parametrize("case", [case for case in ALL.cases if case.engine in rig_ids()], ids=lambda case: case.id)
def test_every_assertion_of_a_modelled_engine_holds(case) -> None:
    result = next(check_cases(ALL.model_copy(update={"cases": [case]})))
    assert [f"{o.expected}; got {o.got}" for o in result.outcomes if not o.passed] == []


def test_what_cannot_be_computed_counts_as_failed_with_its_reason() -> None:
    result = next(check_cases(parse_cases(ONE.replace("engine: R1", "engine: R0"))))
    assert not result.passed
    assert result.outcomes[0].got.startswith("not computed: unknown rig 'R0'")


@pytest.mark.parametrize(
    ("relation", "value", "versus", "passed"),
    [
        ("'>'", "8", "absolute", True),
        ("'<'", "8", "absolute", False),
        ("between", "[15, 30]", "absolute", True),
        ("'>'", "5", "cruise_80", True),
        ("'>'", "15", "good", True),
    ],
)
def test_relations_and_comparisons(relation: str, value: str, versus: str, passed: bool) -> None:
    text = ONE.replace("relation: '>', value: 8", f"relation: {relation}, value: {value}, versus: {versus}")
    assert next(check_cases(parse_cases(text))).passed is passed


@pytest.mark.parametrize("relation", [">", "<"])
def test_more_than_before_is_not_as_much_as_before(relation: str) -> None:
    # At key on a leak changes nothing: neither more nor less.
    same = ONE.replace("condition: hot_idle, channel: total_trim", "condition: koeo, channel: ect").replace("'%'", "K")
    text = same.replace("relation: '>', value: 8", f"relation: '{relation}', value: 0, versus: good")
    assert not next(check_cases(parse_cases(text))).passed


@pytest.mark.parametrize(
    ("old", "new", "sentence"),
    [
        (
            "relation: '>', value: 8",
            "relation: between, value: 8",
            "case X-1.signature.0: relation 'between' needs a value [low, high]",
        ),
        (
            "relation: '>', value: 8",
            "relation: has, value: [P0171]",
            "case X-1.signature.0: relations 'has' and 'has_not' belong to channel 'dtc'",
        ),
        ("engine: R1", "motor: R1", "case X-1.engine: is missing"),
        ("relation: '>'", "relation: about", "case X-1.signature.0.relation"),
        ("cases:", "orders:", "cases: is missing"),
    ],
)
def test_a_damaged_catalogue_names_case_and_place(old: str, new: str, sentence: str) -> None:
    with pytest.raises(BadDocument) as error:
        parse_cases(ONE.replace(old, new, 1), source="file")
    assert sentence in error.value.message


def test_the_command_ends_with_1_when_an_assertion_fails_and_with_2_for_a_bad_file(
    tmp_path, capsys: pytest.CaptureFixture[str]
) -> None:
    path = tmp_path / "cases.yaml"
    for text, code in ((ONE, 0), (ONE.replace("value: 8", "value: 80"), 1), ("cases: [", 2), ("", 2)):
        path.write_text(text, encoding="utf-8")
        assert main(["cases", "check", str(path)]) == code
        said = capsys.readouterr()
        assert (said.err.count("\n") == 1) == (code == 2)
    assert main(["cases", "check", str(tmp_path / "none.yaml")]) == 2
    assert "cannot read" in capsys.readouterr().err


def test_json_tells_pass_expected_and_got(tmp_path, capsys: pytest.CaptureFixture[str]) -> None:
    path = tmp_path / "cases.yaml"
    path.write_text(ONE, encoding="utf-8")
    assert main(["cases", "check", str(path), "--json"]) == 0
    row = json.loads(capsys.readouterr().out)[0]
    assert (row["id"], row["passed"]) == ("X-1", True)
    assert set(row["outcomes"][0]) == {"passed", "expected", "got"}
