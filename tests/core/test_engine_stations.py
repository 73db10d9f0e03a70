"""Stations at an engine that is run, foreseen, compared or probed: live, sketch, sheets, pins."""

from typing import Any

import numpy as np
import pytest

from leitfaden_core.errors import BadDocument, LeitfadenError
from leitfaden_core.lessons import (
    check_lesson,
    mark_answer,
    mark_by_key,
    parse_answer,
    parse_lesson,
    require_answer,
    station_engine,
    station_key,
    station_view,
)
from leitfaden_core.lessons.exchange import worksheet
from leitfaden_core.live import Bench, doing_of
from leitfaden_core.rigs import load_rig, rig_channels
from station_lessons import LEAK, lesson

pytestmark = pytest.mark.lessons


@pytest.mark.parametrize("rig", ["R1", "R2", "R5"])
def test_what_a_live_station_asks_can_be_read_off_its_running_engine(rig: str) -> None:
    """The key comes from the lesson's drive, the learner from the bench: the same engine must show the same."""
    places = [("hot_idle", "total_trim"), ("hot_idle", "rpm"), ("no_load_2500", "map"), ("no_load_2500", "ect")]
    places = [place for place in places if place[1] in rig_channels(load_rig(rig))]
    station = {
        "kind": "live",
        "id": "s",
        "title": "t",
        "channels": ["rpm"],
        "readings": [{"condition": where, "channel": name} for where, name in places],
    }
    leak = {"kind": "manifold_vacuum_leak", "params": {"area_mm2": 4.0}}
    lesson = parse_lesson({"title": "t", "rig": rig, "faults": [leak], "stations": [station]})
    for seed in (0, 11):
        beginning, _cover = station_engine(lesson, 0, seed)
        bench, found = Bench(beginning), {}
        bench.go_to(6000)
        found["hot_idle"] = bench.advance(800).rows
        bench.do(doing_of({"do": "hold_speed", "rpm": 2500}))
        bench.go_to(bench.frame + 4000)
        found["no_load_2500"] = bench.advance(800).rows
        key = station_key(lesson, 0, seed).model_dump()["parts"]
        typed = [
            f"{np.nanmean(found[where][name]):.6g} {reading['unit']}"
            for (where, name), reading in zip(places, key[0]["readings"], strict=True)
        ]
        mark = mark_by_key("live", key, {"typed": typed, "noticed": "w"})
        assert mark.points == 1.0, [(r["label"], r["reason"]) for r in mark.parts[0]["readings"] if not r["points"]]


class TestSketch:
    """A trace drawn before it is seen."""

    def made(self, **changed: Any) -> Any:
        place = {"condition": "hot_idle", "channel": "total_trim"}
        return lesson("sketch", **({"place": place} | changed))

    def drawn(self, made: Any, by: str) -> list[float]:
        """A trace as a steady hand draws it: through the middle of what swings."""
        part = station_key(made, 0, 0).model_dump()["parts"][0]
        strokes = np.array_split(np.array(part[by], dtype=float), len(part["knots"]))
        return [float(np.nanmean(stroke)) for stroke in strokes]

    def test_what_the_faulty_engine_shows_is_met_and_what_the_sound_one_shows_is_not(self) -> None:
        made = self.made()
        marks = {by: mark_answer(made, 0, 0, {"drawn": self.drawn(made, by)}) for by in ("faulty", "sound")}
        assert marks["faulty"].points > 0.8 and marks["sound"].points < 0.3
        assert "13 knots met" in marks["sound"].parts[0]["reason"]

    def test_the_axis_does_not_tell_where_the_trace_goes(self) -> None:
        small, large = (
            station_view(self.made(vehicle={"faults": [LEAK | {"params": {"area_mm2": size}}]}), 0, 0).trace
            for size in (0.5, 4.0)
        )
        assert (small.low, small.high, small.sound) == (large.low, large.high, large.sound)

    def test_a_fault_that_moves_nothing_there_is_warned_of(self) -> None:
        still = self.made(place={"condition": "no_load_2500", "channel": "ect"})
        assert {w.code for w in check_lesson(still)} >= {"nothing_moves"}
        assert "nothing_moves" not in {w.code for w in check_lesson(self.made())}

    def test_half_a_sketch_is_refused(self) -> None:
        view = station_view(self.made(), 0, 0)
        with pytest.raises(LeitfadenError, match="whole width"):
            require_answer(view, parse_answer("sketch", {"drawn": [1.0] * 6 + [None] * 7}))


class TestSheets:
    """Readings looked at together, engine by engine."""

    def answer(self, parts: list[Any], verdict: str | None, tells: int | None) -> dict[str, Any]:
        return {"engines": [{"kind": "sheet", "verdict": verdict or part["right"], "tells": tells} for part in parts]}

    def test_the_verdict_counts_half_and_the_reading_that_tells_it_the_other_half(self) -> None:
        made = lesson("sheet", engines=4)
        parts = station_key(made, 0, 7).model_dump()["parts"]
        assert {part["right"] for part in parts} == {"sound", "faulty"}
        tells_nothing = 2  # the coolant
        mark = mark_answer(made, 0, 7, self.answer(parts, None, tells_nothing))
        assert [p["points"] for p in mark.parts] == [1.0 if p["right"] == "sound" else 0.5 for p in parts]

    def test_one_word_for_all_engines_is_right_for_no_more_than_two_thirds(self) -> None:
        made = lesson("sheet")
        rights = [part.right for seed in range(1, 13) for part in station_key(made, 0, seed).parts]
        assert max(rights.count("sound"), rights.count("faulty")) <= 0.67 * len(rights)

    def test_a_reading_must_be_named_for_an_engine_that_is_called_faulty(self) -> None:
        made = lesson("sheet")
        view, parts = station_view(made, 0, 7), station_key(made, 0, 7).model_dump()["parts"]
        with pytest.raises(LeitfadenError, match="reading that tells it"):
            require_answer(view, parse_answer("sheet", self.answer(parts, "faulty", None)))
        require_answer(view, parse_answer("sheet", self.answer(parts, "sound", None)))

    def test_readings_that_do_not_show_the_fault_are_warned_of(self) -> None:
        still = [{"condition": where, "channel": "ect"} for where in ("hot_idle", "cruise_80")]
        warnings = [w for w in check_lesson(lesson("sheet", readings=still)) if w.code == "fault_not_visible"]
        assert warnings and warnings[0].remedies[0].station["readings"]


class TestTraces:
    """Sheets that are looked at as traces."""

    PLACES = (
        {"condition": "hot_idle", "channel": "ho2s_b1s1_v", "stat": "freq"},
        {"condition": "hot_idle", "channel": "total_trim"},
    )

    def view(self, **changed: Any) -> dict[str, Any]:
        made = lesson("sheet", readings=list(self.PLACES), as_traces=True, **changed)
        return dict(station_view(made, 0, 7).model_dump())

    def test_a_learner_sees_the_signals_and_no_value(self) -> None:
        view = self.view()
        assert all(reading["value"] is None for sheet in view["sheets"] for reading in sheet)
        for sheet, traces in zip(view["sheets"], view["traces"], strict=True):
            for reading, trace in zip(sheet, traces, strict=True):
                assert reading["label"].startswith(f"{trace['label']},")
        switching = view["traces"][0][0]["values"]
        assert max(switching) > 0.6 and min(switching) < 0.3

    def test_a_slow_tool_shows_fewer_points_and_what_it_cannot_tell_is_warned_of(self) -> None:
        quick, slow = (self.view(answers=answers)["traces"][0][0]["seconds"] for answers in (10.0, 0.5))
        assert len(quick) > 5 * len(slow)
        assert slow[1] - slow[0] == pytest.approx(2.0)
        warned = check_lesson(lesson("sheet", readings=list(self.PLACES), as_traces=True, answers=0.5))
        coarse = next(w for w in warned if w.code == "instrument_too_slow")
        assert coarse.remedies[0].station == {"answers": 0.0}

    def test_the_key_is_that_of_the_same_engines_as_values(self) -> None:
        plain, traced = (lesson("sheet", readings=list(self.PLACES), as_traces=flag) for flag in (False, True))
        assert station_key(plain, 0, 7) == station_key(traced, 0, 7)

    def test_paper_tells_how_far_a_trace_goes(self) -> None:
        made = lesson("sheet", readings=list(self.PLACES), as_traces=True)
        assert "mean" in str(worksheet(made, 7).blocks[0].rows)

    def test_more_than_fit_beside_each_other_are_refused(self) -> None:
        with pytest.raises(BadDocument, match="at most 4"):
            lesson("sheet", readings=[{"condition": "hot_idle", "channel": "rpm"}] * 5, as_traces=True)


def test_the_share_of_faulty_engines_is_a_matter_of_the_trainer() -> None:
    few, many = (
        [
            part["right"]
            for seed in range(10)
            for part in station_key(lesson("sheet", engines=2, faulty_percent=percent), 0, seed).model_dump()["parts"]
        ]
        for percent in (10, 90)
    )
    assert len(few) == len(many) == 20 and few.count("faulty") < 7 < 13 < many.count("faulty")


class TestPins:
    """Which pin is which, by a meter."""

    def volts(self, wire: str, rig: str = "R1", seed: int = 3) -> dict[str, list[float]]:
        station = {"kind": "pins", "id": "s", "title": "t", "wire": wire}
        made = parse_lesson({"title": "t", "rig": rig, "stations": [station]})
        return {part.ids[0]: part.volts for part in station_key(made, 0, seed).parts}

    def test_a_thermistors_signal_is_pulled_up_when_its_plug_is_off(self) -> None:
        on, off, *_ = self.volts("ect")["signal"]
        assert 0.3 < on < 4.7 and off == pytest.approx(5.0, abs=0.05)

    def test_the_supply_of_a_reference_sensor_stays_with_the_plug_on_and_off(self) -> None:
        assert self.volts("tp")["supply"] == pytest.approx([5.0] * 4, abs=0.1)

    def test_every_learner_gets_the_pins_in_another_order(self) -> None:
        made = lesson("pins", wire="front")
        orders = {tuple(part.right for part in station_key(made, 0, seed).parts) for seed in range(1, 9)}
        assert len(orders) > 3

    def test_a_place_without_a_plug_is_refused_with_a_sentence(self) -> None:
        with pytest.raises(LeitfadenError, match="no plug with several pins"):
            self.volts("purge")
