"""Words are apart from the model: another language is another catalogue, and every sentence speaks it."""

import os
import string
from collections.abc import Callable
from typing import Any

import pytest
from babel.messages.catalog import Catalog

from leitfaden_core.diagnose import candidates, standing, table, take
from leitfaden_core.diagnose import tests_of as known_tests
from leitfaden_core.errors import LeitfadenError
from leitfaden_core.faults import describe_fault, fault_kinds, parse_fault
from leitfaden_core.instruments import Vehicle, measure
from leitfaden_core.instruments import instruments as known_instruments
from leitfaden_core.judge import judge_reading
from leitfaden_core.lessons import parse_lesson
from leitfaden_core.rigs import load_rig
from leitfaden_core.words import in_language, inside, language, say, speaking
from messages import as_template, messages
from mirrored import TEMPLATE, is_mirrored, mirrored, spoken

__all__ = ["mirrored", "spoken"]
RIG = load_rig("R1")


def test_the_template_for_translators_is_that_of_the_sources() -> None:
    present = as_template(messages())
    if os.environ.get("LEITFADEN_WORDS") == "write":
        TEMPLATE.write_text(present, encoding="utf-8")
    assert TEMPLATE.read_text(encoding="utf-8") == present, (
        "write it anew: LEITFADEN_WORDS=write ./leitfaden test tests/core/test_words.py"
    )


def test_english_is_spoken_where_nobody_asks_for_another_language() -> None:
    assert language() == "en" and say("{count} of {all}", count=1, all=2) == "1 of 2"
    with speaking("no such language"):
        assert say("{count} of {all}", count=1, all=2) == "1 of 2"


def test_a_language_may_have_a_form_of_its_own_for_a_label_inside_a_sentence(spoken: Callable[[Catalog], None]) -> None:
    catalogue = Catalog()
    catalogue.add("Hot idle", "Warmer Leerlauf")
    catalogue.add("Hot idle", "im warmen Leerlauf", context="inside")
    spoken(catalogue)
    assert say("Hot idle") == "Warmer Leerlauf" and inside("Hot idle") == "im warmen Leerlauf"


@pytest.mark.usefixtures("mirrored")
class TestAnotherLanguage:
    @pytest.mark.parametrize(
        ("condition", "channel", "value"),
        [
            ("hot_idle", "maf", 2.3),
            ("hot_idle", "maf", 9.0),
            ("hot_idle", "maf", 2.75),
            ("hot_idle", "total_trim", 3.0),
            ("hot_idle", "total_trim", 30.0),
            ("wot_pull", "total_trim", 3.0),
            ("koeo", "ho2s_b1s1_v", 0.45),
        ],
    )
    def test_verdicts_speak_it(self, condition: str, channel: str, value: float) -> None:
        assert is_mirrored(judge_reading(RIG, condition, channel, value).reason)

    def test_tests_and_causes_speak_it(self) -> None:
        assert all(is_mirrored(in_language(test.label)) for test in known_tests(RIG))
        assert all("⟦" in in_language(cause.label) for cause in candidates(RIG))
        vehicle = Vehicle(RIG, (parse_fault("manifold_vacuum_leak:area_mm2=3"),))
        found = standing(table(RIG), [take(vehicle, name) for name in ("codes", "scan.hot_idle.trims")])
        assert is_mirrored(in_language(found.reason)) and found.candidate in {c.id for c in candidates(RIG)}

    def test_instruments_speak_it(self) -> None:
        seen = measure(known_instruments.get("smoke_generator"), Vehicle(RIG), "behind the throttle", "koeo")
        assert all(is_mirrored(in_language(note)) for note in (*seen.notes, *seen.cautions))

    def test_what_is_wrong_with_a_document_speaks_it(self) -> None:
        with pytest.raises(LeitfadenError) as told:
            parse_lesson({"title": "T", "rig": "R1", "stations": []})
        assert is_mirrored(told.value.message)

    def test_tables_speak_it_when_they_leave(self) -> None:
        out: Any = in_language([{"label": kind.label, "repair": kind.repair} for kind in fault_kinds])
        assert all(is_mirrored(row["label"]) and is_mirrored(row["repair"]) for row in out)

    def test_a_label_inside_a_sentence_speaks_it(self) -> None:
        assert inside("Hot idle") == "⟦Hot idle⟧"
        assert "⟦Hot idle⟧" in judge_reading(RIG, "hot_idle", "maf", 9.0).reason

    def test_numbers_stay_what_they_are(self) -> None:
        english = describe_fault(parse_fault("manifold_vacuum_leak:area_mm2=2.5"))
        with speaking("en"):
            assert "2.5 mm²" in describe_fault(parse_fault("manifold_vacuum_leak:area_mm2=2.5"))
        assert "2.5 mm²" in english


def test_places_of_sentences_have_names() -> None:
    """A translator may put them in another order."""
    for message in messages():
        fields = [
            field for _text, field, _spec, _conv in string.Formatter().parse(str(message.id)) if field is not None
        ]
        assert all(field and not field[0].isdigit() for field in fields), message.id
