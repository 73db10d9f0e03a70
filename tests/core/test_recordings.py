"""Recordings: whatever they come from, they are read in one way."""

import contextlib
import gc
import io
from collections.abc import Callable, Iterator
from typing import Any, TypeVar

import numpy as np
import pytest

from leitfaden_core.errors import BadDocument, LeitfadenError
from leitfaden_core.expect import band_of
from leitfaden_core.faults import parse_fault
from leitfaden_core.live import Beginning, Bench, doing_of, stretch_of
from leitfaden_core.recordings import (
    Capture,
    Recording,
    RunRecording,
    Stretch,
    conditions_of,
    read_csv,
    read_mdf,
    write_csv,
    write_mdf,
)
from leitfaden_core.rigs import load_rig
from leitfaden_core.scripts import load_script
from leitfaden_core.simulate import cached_run

pytestmark = pytest.mark.lessons

RIG = load_rig("R1")
T = TypeVar("T", bound=Callable[..., None])


NAMES = ["rpm", "maf", "lambda_true", "ect", "stft", "total_trim", "map_true", "load", "ho2s_b1s1_v"]


def under_hands(*steps: tuple[dict[str, Any], int], seed: int = 3) -> Capture:
    """A hot engine, what is done to it one after the other, each with the frames until the next."""
    bench = Bench(Beginning(rig="R1", seed=seed))
    for doing, frames in steps:
        bench.do(doing_of(doing))
        bench.go_to(bench.frame + frames)
    return stretch_of(bench.beginning, bench.journal, 0, bench.frame, NAMES)


@pytest.fixture(scope="module")
def live() -> Capture:
    """A hot engine: idle, raised, idle with a leak."""
    leak = {"kind": "manifold_vacuum_leak", "params": {"area_mm2": 4}}
    return under_hands(
        ({"do": "turn_key", "to": "on"}, 0),
        ({"do": "move_pedal", "to": 0.0}, 1500),
        ({"do": "hold_speed", "rpm": 2500.0}, 1500),
        ({"do": "mark", "words": "now the hose comes off"}, 0),
        ({"do": "move_pedal", "to": 0.0}, 0),
        ({"do": "put_fault", "name": "hose", "fault": leak}, 1500),
    )


def as_capture(recording: Recording, names: list[str]) -> Capture:
    table = io.StringIO()
    write_csv(recording, table, names)
    table.seek(0)
    return read_csv(table, RIG)


class TestUnderHands:
    def test_conditions_come_from_the_state_and_everything_done_is_there(self, live: Capture) -> None:
        assert conditions_of(live) == ["hot_idle", "no_load_2500"]
        assert [s.condition for s in live.stretches] == ["hot_idle", "no_load_2500", "hot_idle"]
        *_before, speed, mark, pedal, hose = [(event.seconds, event.words) for event in live.events]
        assert (speed, mark) == ((15.0, "hold 2500 1/min"), (30.0, "now the hose comes off"))
        assert pedal == (30.0, "pedal 0 %")
        assert hose[0] == 30.0 and hose[1].startswith("put in: ")

    def test_a_reading_is_that_of_the_last_time(self, live: Capture) -> None:
        trim = live.statistic("hot_idle", "stft", "mean")
        band = band_of(RIG, "hot_idle", "stft")
        assert band is not None and trim > band.high + 5
        assert np.isnan(live.statistic("cruise_80", "maf", "mean"))

    def test_an_engine_in_order_stays_in_its_bands_without_any_script(self) -> None:
        record = under_hands(({"do": "move_pedal", "to": 0.0}, 3000), seed=5)
        # Not the mean of a switching sensor: the script's idle follows overrun, after which the mixture is richer for a
        # while.
        for name in ("maf", "map_true", "total_trim", "ect", "load"):
            band = band_of(RIG, "hot_idle", name)
            assert band is not None and band.low <= record.statistic("hot_idle", name, "mean") <= band.high, name


class TestTables:
    def test_a_table_brings_back_what_was_written(self, live: Capture) -> None:
        names = ["rpm", "maf", "lambda_true"]
        found = as_capture(live, names)
        assert found.channels == names and np.allclose(found.time, live.time)
        for name in names:
            assert np.allclose(found.column(name), live.column(name), rtol=1e-5, equal_nan=True)

    def test_a_named_stretch_is_read_as_in_any_other_recording(self, live: Capture) -> None:
        found = as_capture(live, ["maf", "ho2s_b1s1_v"])
        last = live.stretches[-1]
        named = Capture(RIG, found.time, found.columns, stretches=(Stretch("hot_idle", last.start, last.end),))
        for name, stat in (("maf", "mean"), ("maf", "max"), ("ho2s_b1s1_v", "freq")):
            assert named.statistic("hot_idle", name, stat) == pytest.approx(
                live.statistic("hot_idle", name, stat), rel=1e-3
            )

    def test_other_units_are_converted_and_strange_columns_left_out(self) -> None:
        table = "time [s],maf [kg/h],ect [°F],mood\n0.0,36.0,212,good\n0.5,18.0,,better\n"
        found = read_csv(io.StringIO(table), RIG)
        assert found.column("maf").tolist() == pytest.approx([10.0, 5.0])
        assert found.column("ect")[0] == pytest.approx(100.0) and np.isnan(found.column("ect")[1])
        assert found.channels == ["maf", "ect"]

    @pytest.mark.parametrize(
        ("table", "sentence"),
        [
            ("", "first column must be 'time [s]'"),
            ("time [s],mood\n0,1\n", "no column that is a channel"),
            ("time [s],maf [g/s]\n0,1\n1,many\n", "row 3 of the table, maf: 'many' is no number"),
            ("time [s],maf [g/s]\n0,1\n1\n", "row 3 of the table has 1 columns instead of 2"),
            ("time [s],maf [g/s]\n0,1\n0,2\n", "time must rise from row to row"),
            ("time [s],maf [kPa]\n0,1\n1,2\n", "unknown unit 'kPa'"),
        ],
    )
    def test_a_table_that_cannot_be_read_says_where(self, table: str, sentence: str) -> None:
        with pytest.raises(LeitfadenError) as told:
            read_csv(io.StringIO(table), RIG)
        assert sentence in told.value.message and isinstance(told.value, (BadDocument, LeitfadenError))


class TestFiles:
    """Both formats: what was written comes back, with units, conditions and what was done."""

    @pytest.fixture(params=["csv", "mdf"])
    def back(self, request: pytest.FixtureRequest, live: Capture) -> Capture:
        if request.param == "csv":
            return as_capture(live, NAMES)
        return read_mdf(write_mdf(live, NAMES), RIG)

    def test_values_and_time(self, back: Capture, live: Capture) -> None:
        assert back.channels == NAMES and np.allclose(back.time, live.time)
        for name in NAMES:
            assert np.allclose(back.column(name), live.column(name), rtol=1e-5, equal_nan=True)

    def test_conditions_and_what_was_done(self, back: Capture, live: Capture) -> None:
        assert [s.condition for s in back.stretches] == [s.condition for s in live.stretches]
        for mine, theirs in zip(back.stretches, live.stretches, strict=True):
            assert (mine.start, mine.end) == pytest.approx((theirs.start, theirs.end), abs=0.021)
        assert [e.words for e in back.events] == [e.words for e in live.events]
        assert [e.seconds for e in back.events] == pytest.approx([e.seconds for e in live.events], abs=0.011)

    def test_a_reading_in_a_condition_is_the_same(self, back: Capture, live: Capture) -> None:
        condition = live.stretches[-1].condition
        for name, stat in (("maf", "mean"), ("rpm", "max")):
            assert back.statistic(condition, name, stat) == pytest.approx(
                live.statistic(condition, name, stat), rel=1e-3
            )


@pytest.fixture
def left_behind() -> Iterator[None]:
    """The package complains when a reader that it could not build is thrown away: that is to be here, not in the middle
    of whatever test comes next.
    """
    yield
    gc.collect()


def quietly(test: T) -> T:
    """Those complaints are none of ours."""
    ignored = pytest.mark.filterwarnings("ignore::pytest.PytestUnraisableExceptionWarning")
    return ignored(pytest.mark.usefixtures("left_behind")(test))


@quietly
@pytest.mark.parametrize(
    "content",
    [b"", b"junk", b"MDF     4.10    ", b"MDF" + bytes(4000), b"MDF     9.99    " + bytes(500), b"\x00" * 300],
)
def test_a_measurement_file_that_cannot_be_read_is_refused_in_one_sentence(content: bytes) -> None:
    with pytest.raises(BadDocument) as told:
        read_mdf(content, RIG)
    assert "\n" not in told.value.message


@quietly
def test_a_damaged_measurement_file_never_does_more_than_be_refused(live: Capture) -> None:
    whole, chance = write_mdf(live, ["rpm", "maf"]), np.random.default_rng(5)
    for _ in range(40):
        damaged = bytearray(whole[: int(chance.integers(100, len(whole)))])
        for place in chance.integers(64, len(damaged), 30):
            damaged[place] = int(chance.integers(256))
        with contextlib.suppress(LeitfadenError):
            read_mdf(bytes(damaged), RIG)


def test_a_run_tells_its_segments_windows_and_faults() -> None:
    run = RunRecording(cached_run(RIG, load_script("workshop_day"), [parse_fault("maf_dirty")], 0))
    assert run.events[0].kind == "action" and "airflow meter" in run.events[0].words
    assert [e.words for e in run.events if e.kind == "segment"][:2] == ["Key on", "Crank"]
    assert conditions_of(run)[:3] == ["koeo", "crank", "cold_idle"]
    assert set(run.channels) >= {"maf", "ect"} and len(run.time) == len(run.column("maf"))
