"""The atlas: every page whole on an engine that has its device, every card with its switch, search and glossary."""

import re

import pytest
import yaml

from leitfaden_core.atlas import School, glossary, myths, outcomes, page_on, page_rigs, pages, schools, search
from leitfaden_core.atlas.page import circuit_on
from leitfaden_core.cautions import CAUTIONS
from leitfaden_core.channels import CHANNELS
from leitfaden_core.explore import drawings, showing
from leitfaden_core.faults import effects_on, fault_kinds
from leitfaden_core.instruments import instruments
from leitfaden_core.judge.rules import RULES
from leitfaden_core.rigs import load_rig, rig_ids, variant_ids
from leitfaden_core.wiring.circuits import CIRCUITS
from leitfaden_core.workings import workings

pytestmark = pytest.mark.model

PAGES = [pytest.param(page, id=page.id) for page in pages().values()]
SWITCHES = [pytest.param(card, id=card.id) for card in schools().values()]


@pytest.mark.parametrize("page", PAGES)
def test_a_page_is_whole_on_the_first_engine_that_has_its_device(page) -> None:  # type: ignore[no-untyped-def]
    having = page_rigs(page)
    assert having, "no engine has it"
    here = page_on(page, load_rig(having[0]))
    assert here.places or page.id == "supply_and_ground"
    assert set(page.drawings) <= set(drawings.ids()) and page.drawings
    assert set(page.workings) <= set(workings.ids())
    assert set(page.faults) <= set(fault_kinds.ids())
    assert set(page.channels) <= set(CHANNELS)
    assert set(page.wires) <= {circuit.wire for circuit in CIRCUITS.values()}
    assert page.tests and {name for way in page.tests for name in way.cautions} <= set(CAUTIONS)
    assert (
        any(page.id in myth.pages for myth in myths().values())
        or any(page.id in s.pages for s in schools().values())
        or page.faults
    )


@pytest.mark.parametrize("page", PAGES)
def test_the_examples_of_failures_are_faults_that_each_engine_can_have(page) -> None:  # type: ignore[no-untyped-def]
    met = set()
    for name in page_rigs(page):
        rig = load_rig(name)
        for fault in page_on(page, rig).faults:
            effects_on(fault.example, rig)
            assert "{" not in fault.look + fault.words + fault.meaning + fault.repair
            met.add(fault.kind)
    # What belongs to another page's device (a hose of a sensor that this engine has not) is shown where it exists.
    assert len(set(page.faults) - met) <= 1, set(page.faults) - met


def test_every_sensor_of_every_engine_has_its_page() -> None:
    for name in (*rig_ids(), *variant_ids()):
        shown = {sensor for page in pages().values() if name in page_rigs(page) for sensor in page.sensors}
        missing = {sensor.id for sensor in load_rig(name).sensors} - shown - {"map_truth"}
        assert not missing, (name, missing)


def test_good_values_are_those_of_the_value_sheet_and_leave_out_what_means_nothing() -> None:
    page = page_on(pages()["map_sensor"], load_rig("R2"))
    idle = next(line for line in page.good if (line.channel, line.condition) == ("map", "hot_idle"))
    assert 25.0 < idle.low < idle.median < idle.high < 36.0
    assert not any(line.channel == "stft" and line.condition == "koeo" for line in page.good)


class TestCircuit:
    def test_an_unplugged_thermistor_leaves_the_units_bias_and_a_pressure_sensor_nothing(self) -> None:
        thermistor = {state.id: state for state in circuit_on(load_rig("R2"), "ect")}
        signal = {s: next(w for w in state.wires if w.role == "signal") for s, state in thermistor.items()}
        assert signal["key_on_off"].joints[-1].volts == pytest.approx(5.0, abs=0.05)
        assert signal["running"].joints[-1].volts < 1.2

    def test_the_reference_stands_at_the_plug_with_and_without_the_sensor(self) -> None:
        for state in circuit_on(load_rig("R2"), "map"):
            supply = next(wire for wire in state.wires if wire.role == "supply")
            assert supply.joints[-1].volts == pytest.approx(5.0, abs=0.02)

    def test_manifold_pressure_lowers_the_signal_between_key_on_and_idle(self) -> None:
        found = {state.id: state for state in circuit_on(load_rig("R2"), "map")}
        volts = {
            s: next(w for w in found[s].wires if w.role == "signal").joints[-1].volts for s in ("key_on", "running")
        }
        assert volts["key_on"] > 4.0 and volts["running"] < 2.0


class TestCards:
    def test_all_misconceptions_and_all_disagreements_have_a_card_on_a_page(self) -> None:
        assert len(myths()) == 67 and len(schools()) == 61
        for card in (*myths().values(), *schools().values()):
            assert card.pages and set(card.pages) <= set(pages())

    @pytest.mark.parametrize("card", SWITCHES)
    def test_a_card_has_exactly_one_switch_and_it_exists(self, card: School) -> None:
        told = [card.runs, card.drawing, card.setting, card.working, card.bench]
        assert sum(bool(switch) for switch in told) == 1
        assert not card.setting or card.setting in {rule.id for rule in RULES}
        assert not card.working or card.working in workings
        assert not card.bench or card.bench in instruments
        if card.drawing:
            shown = [showing(drawings.get(card.drawing.id), option.hands).numbers for option in card.drawing.options]
            assert len({str(numbers) for numbers in shown}) == len(shown), "the switch changes nothing"

    @pytest.mark.parametrize("card", [entry for entry in SWITCHES if entry.values[0].runs])  # type: ignore[attr-defined]
    def test_a_switch_between_engines_has_a_value_in_each_option(self, card: School) -> None:
        assert card.runs is not None
        rows = outcomes(card.runs)
        for option in card.runs.options:
            assert any(row.value is not None for row in rows if row.option == option.label), option.label

    def test_a_leak_on_a_speed_density_engine_leaves_the_mixture(self) -> None:
        told = {(row.option, row.channel): row for row in outcomes(schools()["s01"].runs)}  # type: ignore[arg-type]
        assert told["metered", "total_trim"].value > 15.0  # type: ignore[operator]
        assert abs(told["speed-density", "total_trim"].value) < 2.0  # type: ignore[arg-type]
        assert told["speed-density, the sensor's hose", "total_trim"].value < -15.0  # type: ignore[operator]

    def test_a_canister_decides_what_an_open_purge_valve_does(self) -> None:
        trims = [row.value for row in outcomes(schools()["s02"].runs) if row.channel == "total_trim"]  # type: ignore[arg-type]
        assert trims[0] > trims[1] > trims[2]  # type: ignore[operator]

    def test_zero_trim_with_a_bad_mixture(self) -> None:
        told = {(row.option, row.channel): row.value for row in outcomes(schools()["s04"].runs)}  # type: ignore[arg-type]
        assert told["the same, oxygen sensor's wire open", "total_trim"] == pytest.approx(0.0, abs=0.5)
        assert told["the same, oxygen sensor's wire open", "lambda_true"] < 0.9  # type: ignore[operator]

    def test_one_speed_vacuum_or_boost(self) -> None:
        told = {(row.option, row.channel): row.value for row in outcomes(schools()["s61"].runs)}  # type: ignore[arg-type]
        assert told["cruise", "rpm"] == pytest.approx(told["load step", "rpm"], rel=0.02)
        assert told["cruise", "map"] < told["cruise", "baro"] < 1.1 * told["load step", "map"]  # type: ignore[operator]
        assert told["load step", "map"] > told["load step", "baro"]  # type: ignore[operator]


class TestSearch:
    @pytest.mark.parametrize(
        ("text", "kind", "name"),
        [
            ("lambda probe", "device", "narrowband"),
            ("cat", "term", "TWC"),
            ("P0171", "code", "P0171"),
            ("hot idle", "condition", "hot_idle"),
            ("VE", "calculation", "volumetric_efficiency"),
            ("ferry", "engine", "R3"),
            ("buzzer", "school", "s35"),
            ("block learn", "term", "LTFT"),
            ("wastgate", "device", "wastegate"),
        ],
    )
    def test_what_people_type_finds_what_they_mean(self, text: str, kind: str, name: str) -> None:
        assert (kind, name) in {(found.kind, found.id) for found in search(text)[:6]}

    def test_every_word_must_occur_and_nothing_finds_nothing(self) -> None:
        assert search("   ") == [] and search("§§") == []
        assert all("trim" in f"{f.title} {f.text}".lower() or f.kind for f in search("trim counts"))
        assert {found.id for found in search("trim counts")} <= {found.id for found in search("trim", 400)}

    def test_where_a_hit_leads_to_exists(self) -> None:
        for word in ("air", "lambda", "pressure", "trim", "sensor"):
            assert all(not found.page or found.page in pages() for found in search(word, 200))


def test_a_term_is_told_once_with_a_page_that_exists() -> None:
    names = [term.term for term in glossary()]
    assert len(names) == len(set(names)) >= 65
    assert all(not term.page or term.page in pages() for term in glossary())


def test_texts_are_short_and_keep_to_plain_marks() -> None:
    for page in pages().values():
        text = " ".join([page.summary, page.inside, *(way.how for way in page.tests)])
        assert not re.search(r"!|\u2026|\.\.\.", text), page.id
        assert max(len(sentence.split()) for sentence in re.split(r"[.:;?]\s", page.inside)) < 45, page.id


def test_a_misspelt_field_of_a_document_is_an_error() -> None:
    from pydantic import ValidationError

    from leitfaden_core.atlas import Page

    with pytest.raises(ValidationError):
        Page.model_validate(yaml.safe_load("{id: x, title: x, family: oxygen, sumary: x, inside: x}"))
