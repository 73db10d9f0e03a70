"""Plates: what the eye sees, in the atlas and at a station."""

from typing import Any

import pytest

from leitfaden_core.atlas import page_on, page_rigs, pages, plate_groups
from leitfaden_core.errors import BadDocument
from leitfaden_core.faults import fault_kinds
from leitfaden_core.lessons import check_lesson, mark_answer, station_key, station_view
from leitfaden_core.rigs import load_rig
from station_lessons import lesson

TIPS = ["tip_soot", "tip_oil", "tip_silicone", "tip_lead"]
BANKS = [f"bank_{bank}_sensor_{sensor}" for bank in (1, 2) for sensor in (1, 2)]
ALL = [plate for group in plate_groups() for plate in group.plates]


def meanings(made: Any, seed: int) -> dict[str, str]:
    return {meaning["id"]: meaning["label"] for meaning in station_view(made, 0, seed).model_dump()["meanings"]}


class TestStation:
    def test_the_key_names_what_each_plate_means(self) -> None:
        made = lesson("plates", plates=TIPS)
        for seed in (0, 7, 4711):
            words, parts = meanings(made, seed), station_key(made, 0, seed).model_dump()["parts"]
            shown = station_view(made, 0, seed).model_dump()["plates"]
            assert [part["look"] for part in parts] == [plate["look"] for plate in shown]
            assert all(words[part["ids"][0]] == part["right"] for part in parts)
            oil = next(part for part in parts if part["plate"] == "tip_oil")
            assert oil["right"] == "oil that is burnt"

    def test_the_order_differs_from_learner_to_learner(self) -> None:
        made = lesson("plates", plates=TIPS)
        looks = {tuple(p["look"] for p in station_view(made, 0, seed).model_dump()["plates"]) for seed in range(8)}
        assert len(looks) > 3

    def test_bank_one_is_the_side_of_the_first_cylinder_wherever_it_lies(self) -> None:
        """Drawings b1 to b4 have cylinder 1 in the upper row, b5 to b8 in the lower one."""
        made, seen = lesson("plates", plates=BANKS), set()
        for seed in range(12):
            for part in station_key(made, 0, seed).model_dump()["parts"]:
                place = (int(part["look"][1:]) - 1) % 4
                assert part["right"] == f"bank {1 + place // 2}, sensor {1 + place % 2}"
                seen.add(part["look"])
        assert seen == {f"b{k}" for k in range(1, 9)}

    def test_each_place_counts(self) -> None:
        made = lesson("plates", plates=TIPS)
        right = [part["ids"][0] for part in station_key(made, 0, 3).model_dump()["parts"]]
        crossed = [right[1], right[0], *right[2:]]
        assert mark_answer(made, 0, 3, {"kind": "plates", "meanings": right}).points == 1.0
        assert mark_answer(made, 0, 3, {"kind": "plates", "meanings": crossed}).points == 0.5

    def test_a_plate_alone_of_its_kind_is_warned_of_and_can_go(self) -> None:
        warned = check_lesson(lesson("plates", plates=[*TIPS, "hose_off"]))
        assert [w.code for w in warned] == ["only_one_fits"]
        assert warned[0].remedies[0].station == {"plates": TIPS}

    @pytest.mark.parametrize(
        "plates", [["tip_soot", "tip_oil", "nonsense"], ["tip_soot", "tip_soot", "tip_oil"], TIPS[:2]]
    )
    def test_what_is_no_set_of_plates_is_refused(self, plates: list[str]) -> None:
        with pytest.raises(BadDocument):
            lesson("plates", plates=plates)


class TestAtlas:
    def test_drawings_are_of_one_plate_each_and_tell_nothing(self) -> None:
        looks = [look for plate in ALL for look in plate.looks]
        assert len(set(looks)) == len(looks)
        assert all(len(look) == 2 for look in looks)

    def test_plates_belong_to_faults_that_there_are(self) -> None:
        for group in plate_groups():
            for plate in group.plates:
                assert set(plate.of) <= set(group.kinds)
                for kind, needed in plate.of.items():
                    choices = {parameter.id: parameter.choices for parameter in fault_kinds.get(kind).parameters}
                    assert all(value in choices[name] for name, value in needed.items())

    def test_a_fault_that_can_be_seen_lies_among_what_it_is_not(self) -> None:
        lines = [
            line
            for page in pages().values()
            for rig in page_rigs(page)[:1]
            for line in page_on(page, load_rig(rig)).faults
        ]
        shown = {line.kind: line.plates for line in lines if line.plates}
        assert {"ho2s_contaminated", "connector_intermittent", "map_hose_blocked"} <= set(shown)
        for plates in shown.values():
            assert 0 < sum(plate.mine for plate in plates) < len(plates)
