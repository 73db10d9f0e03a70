"""What pins are called: a word for every place on which a tip can be put, on every engine."""

import pytest

from leitfaden_core.live import reach_of
from leitfaden_core.rigs import load_rig, rig_ids, variant_ids


@pytest.mark.parametrize("rig", [*rig_ids(), *variant_ids()])
def test_every_place_of_the_multimeter_has_a_word_of_its_own(rig: str) -> None:
    (meter,) = [fits for fits in reach_of(load_rig(rig)).instruments if fits.instrument.id == "multimeter"]
    assert list(meter.words) == meter.places
    words = list(meter.words.values())
    assert len(set(words)) == len(words)
    assert not [word for word in words if "." in word or "_" in word]


def test_pins_are_called_by_the_sensor_whose_plug_they_are_in() -> None:
    (meter,) = [fits for fits in reach_of(load_rig("R3")).instruments if fits.instrument.id == "multimeter"]
    assert meter.words["charge.supply"] == "Charge pressure plug: supply"
    assert meter.words["wideband.heater minus"] == "A/F 1/1 plug: heater minus"
    assert meter.words["unit.wideband pump"] == "control unit: A/F 1/1 pump"
    assert meter.words["unit.power ground"] == "control unit: power ground"
