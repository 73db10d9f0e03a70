"""Statistics of signals against their plain definitions: what is compiled for speed says the same."""

import warnings
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from hypothesis.extra.numpy import arrays

from leitfaden_core.recordings import RunRecording
from leitfaden_core.rigs import load_rig, rig_channels
from leitfaden_core.scripts import load_script
from leitfaden_core.simulate import cached_run
from leitfaden_core.simulate.moments import MOMENTS, extremes, moments, moments_in
from leitfaden_core.simulate.shape import edge_time, rising_crossings

#: Of volts with gaps, as a lane holds them.
SIGNALS = arrays(np.float32, st.integers(1, 120), elements=st.floats(0.0, 5.0, width=32) | st.just(np.nan))


@given(SIGNALS, st.data())
def test_moments_of_stretches_are_those_of_their_defined_values(signal: np.ndarray, data: st.DataObject) -> None:
    ends = st.integers(0, len(signal))
    spans = [sorted((data.draw(ends), data.draw(ends))) for _ in range(3)]
    found = moments_in(signal, np.array(spans, dtype=np.intp))
    for (first, behind), numbers in zip(spans, found.T, strict=True):
        known = signal[first:behind].astype(np.float64)
        known = known[~np.isnan(known)]
        plain = [known.mean(), known.min(), known.max(), known.std()] if len(known) else [np.nan] * len(MOMENTS)
        assert numbers == pytest.approx(plain, rel=1e-9, abs=1e-9, nan_ok=True)


@given(SIGNALS, st.integers(1, 12))
def test_extremes_of_a_portion_stand_in_the_order_in_which_they_came(signal: np.ndarray, each: int) -> None:
    found = extremes(signal, each).reshape(-1, 2)
    portions = signal[: len(signal) // each * each].reshape(-1, each)
    assert len(found) == len(portions)
    for pair, portion in zip(found, portions, strict=True):
        if np.isnan(portion).any():
            assert np.isnan(pair).all()
        else:
            places = sorted((int(portion.argmin()), int(portion.argmax())))
            assert pair.tolist() == portion[places].tolist()


@given(arrays(np.float64, st.integers(0, 80), elements=st.floats(0.0, 1.0)))
def test_a_rise_is_counted_from_below_the_dead_band_to_above_it(signal: np.ndarray) -> None:
    sides = [1 if value > 0.5 else -1 for value in signal if value > 0.5 or value < 0.4]
    rises = sum(before < now for before, now in pairwise(sides))
    assert rising_crossings(signal, 0.45, 0.05) == rises


@pytest.mark.parametrize("took", [0.02, 0.15, 0.4])
def test_an_edge_takes_what_its_slope_makes_of_three_hundred_millivolts(took: float) -> None:
    time = np.arange(0.0, 40.0, 0.01) % 4.0
    there_and_back = np.clip(np.minimum(time - 1.0, 3.0 - time) * 0.3 / took, 0.0, 0.9)
    assert edge_time(there_and_back, 0.01) == pytest.approx(took, rel=0.01)
    assert edge_time(np.full(100, 0.45), 0.01) == float("inf")


def test_a_recording_reads_every_window_as_the_run_does() -> None:
    run = cached_run(load_rig("R1"), load_script("workshop_day"), [])
    recording = RunRecording(run)
    for condition in run.script.conditions():
        for name in rig_channels(run.rig):
            for stat in MOMENTS:
                read, plain = recording.statistic(condition, name, stat), run.statistic(condition, name, stat)
                assert read == plain or (read != read and plain != plain), (condition, name, stat)


@given(st.integers(0, 2**32 - 1), st.integers(1, 300), st.sampled_from([0.0, 0.2, 1.0]))
def test_moments_are_those_of_each_column_over_what_is_defined(seed: int, rows: int, holes: float) -> None:
    chance = np.random.default_rng(seed)
    lanes = (1e3 * chance.standard_normal((rows, 7))).astype(np.float32)
    lanes[chance.random(lanes.shape) < holes] = np.nan
    places = np.array([5, 0, 3])
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")  # a column without any value: NaN, which is what is wanted
        columns = lanes[:, places].astype(np.float64)
        wanted = [of(columns, axis=0) for of in (np.nanmean, np.nanmin, np.nanmax, np.nanstd)]
    assert moments(lanes, places) == pytest.approx(np.array(wanted), rel=1e-9, abs=1e-9, nan_ok=True)


def test_a_spread_about_a_large_mean_is_not_lost() -> None:
    lanes = np.array([[101300.0], [101301.0], [101302.0]], dtype=np.float32)
    assert moments(lanes, np.array([0]))[:, 0] == pytest.approx([101301.0, 101300.0, 101302.0, np.sqrt(2.0 / 3.0)])
