"""The way of the air of every engine: in the order in which the air takes it, with all that hands find there."""

import pytest

from leitfaden_core.live import reach_of
from leitfaden_core.live.way import way_of
from leitfaden_core.rigs import load_rig, rig_channels, rig_ids, variant_ids

pytestmark = pytest.mark.model

ALL = [*rig_ids(), *variant_ids()]
#: Of any two of these that an engine has, the first comes before the second.
ORDER = (
    *("filter", "maf", "compressor", "cooler", "tp", "map", "injectors", "cylinders", "turbine", "wideband"),
    *("catalyst", "ho2s_b1s2", "silencer"),
)


@pytest.mark.parametrize("name", ALL)
def test_the_air_comes_to_its_places_in_their_order(name: str) -> None:
    rig = load_rig(name)
    way = way_of(rig)
    assert sorted(way.order) == sorted([*(s.id for s in rig.sensors), *(p.id for p in way.parts)])
    known = [place for place in ORDER if place in way.order]
    assert known == sorted(known, key=way.order.index)


@pytest.mark.parametrize("name", ALL)
def test_whatever_is_found_at_a_place_can_be_reached_there(name: str) -> None:
    rig = load_rig(name)
    reach = reach_of(rig)
    for station in (*reach.way.parts, *reach.way.branches):
        assert set(station.hoses) <= set(reach.hoses)
        assert set(station.parts) <= set(reach.parts)
        assert set(station.actuators) <= set(reach.actuators)
        assert set(station.channels) <= set(rig_channels(rig))
    assert all(branch.at in reach.way.order for branch in reach.way.branches)
    # Every hose that can be clamped has its place on the way.
    placed = {hose for station in (*reach.way.parts, *reach.way.branches) for hose in station.hoses}
    assert placed == set(reach.hoses)


def test_parts_are_those_of_the_engine() -> None:
    assert {"compressor", "cooler", "turbine"} <= set(way_of(load_rig("R3")).order)
    assert not {"compressor", "cooler", "turbine"} & set(way_of(load_rig("R1")).order)
    assert [b.id for b in way_of(load_rig("R4")).branches] == ["vacuum", "egr_way"]
    assert "air_pump" in [b.id for b in way_of(load_rig("R5-AIR")).branches]
