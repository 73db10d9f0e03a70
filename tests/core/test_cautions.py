"""Every caution stands at an act that exists, says what to do, and comes first where somebody can be hurt."""

import pytest

from leitfaden_core.cautions import CAUTIONS, Caution, acts_known, cautions_for
from leitfaden_core.live import DOING
from leitfaden_core.rigs import load_rig, rig_ids, variant_ids

ALL = [load_rig(name) for name in (*rig_ids(), *variant_ids())]
DOINGS = set(DOING.json_schema()["discriminator"]["mapping"])


def test_there_are_as_many_as_the_trade_names() -> None:
    assert len(CAUTIONS) == 49
    assert sum(caution.hurts for caution in CAUTIONS.values()) >= 15


@pytest.mark.parametrize("caution", CAUTIONS.values(), ids=lambda caution: caution.id)
def test_each_stands_at_acts_that_exist(caution: Caution) -> None:
    known = set().union(*(acts_known(rig) for rig in ALL))
    assert caution.at
    for act in caution.at:
        assert act in known or act.removeprefix("do:") in DOINGS, act
    assert caution.words.endswith(".")


@pytest.mark.parametrize("caution", [c for c in CAUTIONS.values() if c.measures], ids=lambda caution: caution.id)
def test_a_measure_is_one_of_three_different_ones(caution: Caution) -> None:
    assert caution.measures is not None
    assert len({caution.measures.right, *caution.measures.wrong}) == 3


def test_what_hurts_people_comes_first() -> None:
    hurts = [caution.hurts for caution in cautions_for(["part:front oxygen sensor"])]
    assert hurts == sorted(hurts, reverse=True) and hurts[0] and not hurts[-1]
