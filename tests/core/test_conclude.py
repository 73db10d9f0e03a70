"""Which offered causes explain a car's readings: sizes that are not tried could not have explained them."""

from collections.abc import Iterator, Sequence
from concurrent.futures import Future
from contextlib import contextmanager
from typing import Any

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from leitfaden_core.expect import band_of
from leitfaden_core.faults import FaultSpec
from leitfaden_core.lessons.kinds.conclude import explains
from leitfaden_core.lessons.kinds.conclude.explains import EXPLAINS_WITHIN, best_misfits, size_ladder
from leitfaden_core.lessons.shapes import ReadingPlace
from leitfaden_core.rigs import load_rig
from leitfaden_core.scripts import load_script

pytestmark = pytest.mark.lessons

RIG, SCRIPT = load_rig("R1"), load_script("workshop_day")
LEAK = FaultSpec(kind="manifold_vacuum_leak", params={"area_mm2": 2.0})
PLACES = [ReadingPlace(condition="hot_idle", channel="maf"), ReadingPlace(condition="hot_idle", channel="injector_ms")]
BANDS = [band for place in PLACES if (band := band_of(RIG, place.condition, place.channel, place.stat)) is not None]
#: Of a reading: what it is without the fault, and what a fault of the offered size adds. [healthy standard deviations]
LINES = st.tuples(st.floats(-3, 3), st.floats(-80, 80))


class Simulated:
    """A simulator whose readings go in a straight line with the size of the fault; it counts what it is asked for."""

    def __init__(self, lines: Sequence[tuple[float, float]]) -> None:
        self.lines, self.asked = lines, 0

    def values(self, size: Sequence[FaultSpec]) -> list[float]:
        share = float(size[0].params["area_mm2"]) / 2.0
        return [
            band.mean + band.deviation * (start + slope * share)
            for band, (start, slope) in zip(BANDS, self.lines, strict=True)
        ]

    @contextmanager
    def simulating(self, *_: Any) -> Iterator[Any]:
        def ask(size: Sequence[FaultSpec]) -> Future[Any]:
            self.asked += 1
            found: Future[Any] = Future()
            rows = zip(PLACES, self.values(size), strict=True)
            found.set_result({"hot_idle": {place.channel: {"mean": value} for place, value in rows}})
            return found

        yield ask


def worst(seen: Sequence[float], values: Sequence[float]) -> float:
    """Distance of the reading that fits worst: a fault spreads by a tenth of its shift to either side."""
    return max(
        abs(one - value) / float(np.hypot(band.deviation, 0.05 * (value - band.mean)))
        for one, value, band in zip(seen, values, BANDS, strict=True)
    )


@settings(max_examples=400, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(st.tuples(LINES, LINES), st.tuples(st.floats(-120, 120), st.floats(-120, 120)))
def test_no_size_that_would_explain_the_readings_is_left_out(
    monkeypatch: pytest.MonkeyPatch, lines: Sequence[tuple[float, float]], at: Sequence[float]
) -> None:
    simulated = Simulated(lines)
    monkeypatch.setattr(explains, "simulating", simulated.simulating)
    seen = [band.mean + band.deviation * value for band, value in zip(BANDS, at, strict=True)]
    (found,) = best_misfits(RIG, SCRIPT, PLACES, seen, [(LEAK,)])
    every = [worst(seen, simulated.values(size)) for size in size_ladder((LEAK,))]
    assert found.explains == (min(every) <= EXPLAINS_WITHIN)
    if found.explains:
        assert found.distance == pytest.approx(min(every))


@pytest.mark.parametrize("share", [0.4, 0.7, 1.0, 1.3, 2.0])
def test_a_car_with_the_offered_cause_in_another_size_is_explained(
    monkeypatch: pytest.MonkeyPatch, share: float
) -> None:
    simulated = Simulated([(0.0, 15.0), (0.0, -9.0)])
    monkeypatch.setattr(explains, "simulating", simulated.simulating)
    seen = simulated.values([LEAK.model_copy(update={"params": {"area_mm2": 2.0 * share}})])
    assert best_misfits(RIG, SCRIPT, PLACES, seen, [(LEAK,)])[0].explains


def test_a_cause_that_moves_a_reading_the_wrong_way_takes_two_simulated_engines_of_seven(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    simulated = Simulated([(0.0, 15.0), (0.0, -9.0)])
    monkeypatch.setattr(explains, "simulating", simulated.simulating)
    seen = [BANDS[0].mean - 20.0 * BANDS[0].deviation, BANDS[1].mean]
    (found,) = best_misfits(RIG, SCRIPT, PLACES, seen, [(LEAK,)])
    assert not found.explains and found.place.channel == "maf" and simulated.asked == 2
