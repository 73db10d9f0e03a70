"""Moments of many channels at once: what numpy's own functions say of each, holes left out."""

import warnings

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from leitfaden_core.simulate.moments import moments


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
