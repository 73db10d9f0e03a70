"""Lanes for the screen: thinned without losing what is short, bands that fit what a lane shows."""

import numpy as np

from leitfaden_core.faults import parse_fault
from leitfaden_core.recordings import RunRecording
from leitfaden_core.rigs import load_rig
from leitfaden_core.scripts import load_script
from leitfaden_core.simulate import cached_run
from simulations.lanes import BUCKET, bands, lanes, thinned, time_axis, windows

DAY = load_script("workshop_day")


def test_a_gap_of_one_sample_survives_the_thinning() -> None:
    values = np.full(1000, 2.0, dtype=np.float32)
    values[473] = 0.0
    values[861] = 4.7
    shown = thinned(values, 0.01)
    assert shown.min() == 0.0 and shown.max() == np.float32(4.7)
    assert len(shown) == 2 * len(values) // BUCKET


def test_values_keep_their_order_within_a_bucket() -> None:
    rising = np.arange(100, dtype=np.float32)
    assert (np.diff(thinned(rising, 0.01)) >= 0).all()


def test_time_and_values_have_the_same_length() -> None:
    run = RunRecording(cached_run(load_rig("R1"), DAY, []))
    drawn = lanes(run, ["maf"], None)
    assert len(drawn["time"]) == len(drawn["lanes"]["maf"]["run"]) == len(time_axis(len(run.time)))
    assert abs(drawn["time"][-1] - DAY.seconds) < 0.2
    assert drawn["lanes"]["maf"]["good"] is None


def test_a_short_gap_of_a_loose_contact_is_visible_on_the_screen() -> None:
    run = cached_run(load_rig("R1"), DAY, [parse_fault("connector_intermittent:circuit=iat,gap_ms=20,rate_per_min=20")])
    assert thinned(run.lanes["iat_volts"], 0.01).max() > 4.8


def test_windows_lie_in_the_script_and_bands_belong_to_windows() -> None:
    named = windows(RunRecording(cached_run(load_rig("R1"), DAY, [])))
    assert all(0 <= w["start"] < w["end"] <= DAY.seconds for w in named)
    conditions = {w["condition"] for w in named}
    assert conditions <= {band["condition"] for band in bands(load_rig("R1"), ["maf"])}


def test_the_band_of_a_swinging_signal_spans_its_swing() -> None:
    by_channel = {
        band["channel"]: band
        for band in bands(load_rig("R1"), ["ho2s_b1s1_v", "maf"])
        if band["condition"] == "hot_idle"
    }
    swing = by_channel["ho2s_b1s1_v"]
    assert swing["swing"] and swing["low"] < 0.15 and swing["high"] > 0.8
    assert not by_channel["maf"]["swing"] and by_channel["maf"]["high"] - by_channel["maf"]["low"] < 0.5
