"""Drawings in the hand: their numbers against closed forms and published values, their steps, their refusals."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from leitfaden_core.errors import LeitfadenError
from leitfaden_core.explore import Drawing, Hands, drawings, showing

pytestmark = pytest.mark.model

ALL = [pytest.param(drawing, id=drawing.id) for drawing in drawings]
QUICK = [pytest.param(drawing, id=drawing.id) for drawing in drawings if not drawing.simulated]


def numbers(name: str, **hands: float | str) -> dict[str, float]:
    return showing(drawings.get(name), hands).numbers


def words(name: str, **hands: float | str) -> str:
    return showing(drawings.get(name), hands).words


@pytest.mark.parametrize("drawing", ALL)
def test_every_step_of_the_explanation_can_be_shown_and_says_something(drawing: Drawing) -> None:
    assert len({pose.id for pose in drawing.poses}) == len(drawing.poses) >= 3
    told = [showing(drawing, pose.hands) for pose in drawing.poses]
    for shown in told:
        assert {entry.id for entry in drawing.seen} <= set(shown.numbers)
        assert all(math.isfinite(value) for value in shown.numbers.values())
        assert shown.words and "{" not in shown.words
    assert len({f"{shown.numbers} {shown.words}" for shown in told}) == len(told), "two steps show the same"


@pytest.mark.parametrize("drawing", QUICK)
def test_the_moving_point_lies_on_its_curve(drawing: Drawing) -> None:
    shown = showing(drawing, drawing.poses[0].hands)
    for curve in shown.curves:
        at = float(shown.hands[curve.along])
        near = min(range(len(curve.given)), key=lambda k: abs(curve.given[k] - at))
        span = max(curve.result) - min(curve.result)
        neighbours = curve.result[max(near - 1, 0) : near + 2]
        assert min(neighbours) - 0.02 * span <= shown.numbers[curve.seen] <= max(neighbours) + 0.02 * span


@pytest.mark.parametrize("drawing", QUICK)
def test_both_ends_of_every_hand_are_finite(drawing: Drawing) -> None:
    for hand in drawing.hands:
        for value in [name for name, _label in hand.choices] or [hand.low, hand.high]:
            assert all(math.isfinite(number) for number in showing(drawing, {hand.id: value}).numbers.values())


@pytest.mark.parametrize(
    ("name", "hands", "sentence"),
    [
        ("narrowband", {"lambda": 3.0}, "allowed is 0.8 to 1.2"),
        ("narrowband", {"pressure": 3.0}, "unknown hand"),
        ("narrowband", {"celsius": "warm"}, "is no number"),
        ("narrowband", {"celsius": float("nan")}, "is no number"),
        ("divider", {"plug": "loose"}, "on, off, shorted"),
    ],
)
def test_a_hand_that_cannot_be_set_so_gets_a_sentence(name: str, hands: Hands, sentence: str) -> None:
    with pytest.raises(LeitfadenError) as refused:
        showing(drawings.get(name), hands)
    text = str(refused.value)
    assert sentence in text or all(word in text for word in sentence.split(", "))


class TestOxygen:
    @pytest.mark.parametrize(("percent", "millivolts"), [(1.0, 65.5), (2.5, 45.8)])
    def test_known_amounts_of_oxygen_read_lean(self, percent: float, millivolts: float) -> None:
        """R·T/4F·ln(20.95 / x) at 1000 K."""
        nernst = 8.314 * 1000.0 / (4.0 * 96485.0) * math.log(20.95 / percent) * 1000.0
        assert nernst == pytest.approx(millivolts, abs=0.2)
        # The lambda at which that much is left, by the drawing itself.
        lam = next(
            k / 1000.0
            for k in range(1000, 1200)
            if numbers("narrowband", **{"lambda": k / 1000.0, "celsius": 730.0})["oxygen"] > percent
        )
        assert 1000.0 * numbers("narrowband", **{"lambda": lam, "celsius": 727.0})["cell"] == pytest.approx(
            millivolts, abs=4.0
        )

    def test_a_narrowband_is_a_switch(self) -> None:
        def volts(lam: float) -> float:
            return numbers("narrowband", **{"lambda": lam, "celsius": 700.0})["pin"]

        assert volts(0.99) - volts(1.01) > 0.5
        assert volts(1.02) - volts(1.2) < 0.06

    def test_a_cold_cell_shows_the_units_bias(self) -> None:
        for bias in (0.2, 0.45, 1.0):
            assert numbers("narrowband", **{"lambda": 0.9, "celsius": 250.0, "bias": bias})["pin"] == pytest.approx(
                bias, abs=0.06
            )

    @given(st.floats(0.66, 2.5), st.floats(0.66, 2.5))
    def test_the_pump_current_rises_with_lambda_and_is_zero_at_one_only(self, one: float, two: float) -> None:
        low, high = sorted((one, two))
        first, second = (numbers("wideband", **{"lambda": lam})["current"] for lam in (low, high))
        assert first <= second
        assert (numbers("wideband", **{"lambda": one})["current"] > 0) == (one > 1.0) or abs(one - 1.0) < 1e-6

    def test_two_displays_in_volts_disagree_about_the_same_gas(self) -> None:
        lean, rich = numbers("wideband", **{"lambda": 1.1}), numbers("wideband", **{"lambda": 0.9})
        assert lean["rising"] > rich["rising"] and lean["falling"] < rich["falling"]

    def test_without_its_pump_it_is_a_switch_again(self) -> None:
        assert numbers("wideband", **{"lambda": 1.3, "pump": "off"})["sensing"] < 0.1
        assert numbers("wideband", **{"lambda": 0.8, "pump": "off"})["sensing"] > 0.7

    def test_a_worn_or_cold_catalyst_lets_the_swings_through(self) -> None:
        sound, worn, cold = (numbers("catalyst", **hands)["ratio"] for hands in ({}, {"left": 2.0}, {"celsius": 120.0}))
        assert sound < 0.3 and worn > 0.8 and cold > 0.9

    def test_storage_does_not_help_against_a_mixture_that_is_wrong_on_the_average(self) -> None:
        assert numbers("catalyst", offset=2.0)["passed"] > 3.0 * numbers("catalyst")["passed"]

    def test_both_sensors_see_the_same_event(self) -> None:
        shown = showing(drawings.get("both_oxygen"), {"event": "hot_idle"})
        narrow, wide = shown.traces
        assert narrow.seconds == wide.seconds
        assert max(narrow.values) - min(narrow.values) > 0.6 and max(wide.values) - min(wide.values) < 0.12


class TestAir:
    def test_half_a_volt_is_worth_more_near_the_top(self) -> None:
        assert numbers("hot_element", flow=100.0)["half_volt"] > 15.0 * numbers("hot_element", flow=2.0)["half_volt"]

    def test_no_flow_is_not_no_voltage(self) -> None:
        assert numbers("hot_element", flow=0.0)["volts"] == 1.0 and numbers("hot_element", flow=0.0)["believed"] == 0.0

    def test_dirt_takes_more_at_full_load_than_at_idle(self) -> None:
        assert (
            -numbers("hot_element", flow=100.0, film=20.0)["error"]
            > 10.0 * -numbers("hot_element", flow=2.0, film=20.0)["error"]
        )

    @pytest.mark.parametrize("celsius", [-20.0, 0.0, 40.0, 60.0])
    def test_a_flap_answers_to_the_push_and_needs_the_temperature(self, celsius: float) -> None:
        assert numbers("vane", celsius=celsius)["believed"] == pytest.approx(20.0, rel=1e-3)
        # Bernoulli: the push goes with m²/ρ, so without the temperature the error is the root of the densities' ratio.
        lost = numbers("vane", celsius=celsius, told="lost")["believed"]
        assert lost == pytest.approx(20.0 * math.sqrt((celsius + 273.15) / 293.15), rel=1e-3)

    def test_a_choked_leak_lets_in_the_same_at_idle_and_at_cruise(self) -> None:
        idle, cruise = (numbers("false_air", area=2.0, regime=regime) for regime in ("idle", "cruise"))
        # m = 0.0404·Cd·A·p0/√T0 (SI), Cd 0.7.
        assert idle["leak"] == pytest.approx(1000.0 * 0.0404 * 0.7 * 2e-6 * 101300.0 / math.sqrt(293.15), rel=0.01)
        assert cruise["leak"] == pytest.approx(idle["leak"], rel=0.02)
        assert idle["trim"] == pytest.approx(100.0 * idle["leak"] / (2.1 - idle["leak"]), rel=1e-3)

    def test_boost_turns_the_sign(self) -> None:
        assert numbers("false_air", place="gasket", regime="idle")["leak"] > 0.0
        assert numbers("false_air", place="gasket", regime="boost")["leak"] < 0.0
        assert "rich" in words("false_air", place="charge", regime="boost", area=20.0)


class TestPressure:
    @pytest.mark.parametrize(
        ("range_", "kpa", "volts"),
        [("one", 15.0, 0.5), ("one", 105.0, 4.7), ("two", 200.0, 4.65), ("three", 300.0, 4.65)],
    )
    def test_each_range_goes_through_its_points(self, range_: str, kpa: float, volts: float) -> None:
        assert numbers("diaphragm", range=range_, kpa=kpa)["volts"] == pytest.approx(volts, abs=1e-6)

    def test_a_low_supply_is_a_low_pressure(self) -> None:
        assert numbers("diaphragm", kpa=98.0, supply=4.5)["believed"] < 91.0

    @given(st.floats(10.0, 250.0), st.floats(0.0, 3000.0))
    def test_three_rulers_agree(self, kpa: float, altitude: float) -> None:
        told = numbers("rulers", kpa=kpa, altitude=altitude)
        assert told["barometer"] + told["boost"] - told["vacuum"] == pytest.approx(told["absolute"], abs=0.01)
        assert not (told["boost"] > 0.0 and told["vacuum"] > 0.0)

    def test_height_takes_the_vacuum_and_leaves_the_absolute_pressure(self) -> None:
        sea, high = numbers("rulers", kpa=33.0), numbers("rulers", kpa=33.0, altitude=2000.0)
        assert sea["absolute"] == high["absolute"] and high["vacuum"] < 0.7 * sea["vacuum"]
        assert numbers("rulers", altitude=500.0)["weather"] == pytest.approx(5 * 1.2, rel=0.05)

    def test_twice_the_flow_is_four_times_the_drop(self) -> None:
        assert numbers("orifice", flow=2.0)["drop"] == pytest.approx(
            4.0 * numbers("orifice", flow=1.0)["drop"], rel=1e-4
        )
        assert numbers("orifice", flow=0.0)["volts"] == pytest.approx(0.5)

    def test_swapped_hoses_fall_below_the_rest(self) -> None:
        assert numbers("orifice", flow=1.0, hoses="swapped")["volts"] < 0.5
        assert numbers("orifice", flow=1.0, hoses="first_off")["volts"] == pytest.approx(0.5)

    def test_a_positive_valve_holds_no_vacuum_on_the_bench_and_a_negative_one_does(self) -> None:
        assert numbers("vacuum_valve", type="positive", engine="off", vacuum=60.0)["lift"] == 0.0
        assert numbers("vacuum_valve", type="negative", engine="off", vacuum=60.0)["lift"] == 100.0
        for kind in ("positive", "negative"):
            little, much = (
                numbers("vacuum_valve", type=kind, engine="running", vacuum=50.0, exhaust=kpa)["lift"]
                for kpa in (0.2, 0.5)
            )
            assert much > little, "both open wider when exhaust pressure rises"

    def test_pressure_opens_the_wastegate_and_bleeding_shuts_it(self) -> None:
        assert (
            numbers("wastegate", boost=80.0, duty=0.0)["opening"]
            > numbers("wastegate", boost=40.0, duty=0.0)["opening"]
        )
        assert (
            numbers("wastegate", boost=80.0, duty=60.0)["opening"]
            < numbers("wastegate", boost=80.0, duty=0.0)["opening"]
        )
        assert numbers("wastegate", boost=150.0, hose="off")["opening"] == 0.0


class TestCircuits:
    @given(st.floats(-39.0, 130.0), st.floats(500.0, 10000.0))
    def test_the_unit_reads_back_what_a_sound_thermistor_has(self, celsius: float, pull_up: float) -> None:
        assert numbers("divider", celsius=celsius, pull_up=pull_up)["believed"] == pytest.approx(celsius, abs=0.05)

    def test_open_reads_coldest_and_bridged_hottest(self) -> None:
        assert numbers("divider", plug="off")["believed"] == pytest.approx(-40.0)
        assert numbers("divider", plug="off")["volts"] == pytest.approx(5.0, abs=0.001)
        assert numbers("divider", plug="shorted")["believed"] == pytest.approx(150.0)

    def test_the_same_ohms_weigh_more_when_hot(self) -> None:
        cold, hot = (c - numbers("divider", celsius=c, series=300.0)["believed"] for c in (0.0, 90.0))
        assert hot > 10.0 * cold > 0.0

    @given(st.floats(0.0, 100.0))
    def test_sound_tracks_keep_their_rule(self, travel: float) -> None:
        throttle, pedal = numbers("tracks", travel=travel), numbers("tracks", travel=travel, pair="pedal")
        assert throttle["one"] + throttle["two"] == pytest.approx(5.0, abs=1e-4)
        assert pedal["one"] == pytest.approx(2.0 * pedal["two"], abs=1e-4)

    def test_a_poor_ground_breaks_the_pedals_rule(self) -> None:
        assert not numbers("tracks", pair="pedal", ground=40.0, travel=0.0)["agree"]


class TestBurning:
    def test_published_shares_of_exhaust(self) -> None:
        """About 1 % of oxygen at lambda 1.05, several percent of CO at 0.90, CO2 peaking near 1 (Heywood 1988, 4.9)."""
        assert numbers("combustion", **{"lambda": 1.05})["o2"] == pytest.approx(1.1, abs=0.3)
        assert 3.0 < numbers("combustion", **{"lambda": 0.9})["co"] < 5.0
        co2 = {k: numbers("combustion", **{"lambda": k / 100.0})["co2"] for k in range(80, 131)}
        assert 97 <= max(co2, key=lambda k: co2[k]) <= 103
        nox = {k: numbers("combustion", **{"lambda": k / 100.0})["nox"] for k in range(80, 131)}
        assert 102 <= max(nox, key=lambda k: nox[k]) <= 110

    def test_a_misfire_raises_oxygen_and_hydrocarbons_together(self) -> None:
        sound, missed = numbers("combustion"), numbers("combustion", missed=25.0)
        assert missed["o2"] > sound["o2"] + 3.0 and missed["hc"] > 10.0 * sound["hc"]

    def test_recirculation_lowers_nitrogen_oxides(self) -> None:
        assert numbers("combustion", egr=15.0)["nox"] < 0.4 * numbers("combustion")["nox"]

    def test_a_dead_cylinder_makes_the_others_rich_in_closed_loop(self) -> None:
        opened, closed = (numbers("cylinders", fault="spark", loop=loop) for loop in ("open", "closed"))
        assert opened["sensed"] > 1.15 and opened["others"] == 1.0
        assert closed["sensed"] == pytest.approx(1.0, abs=1e-4) and closed["others"] < 0.85
        assert numbers("cylinders", fault="leaking", size=40.0)["others"] > 1.05

    def test_injector_flow_goes_with_the_root_of_the_pressure(self) -> None:
        one, four = (numbers("injector", kpa=kpa)["flow"] for kpa in (300.0, 1200.0))
        assert four == pytest.approx(2.0 * one, rel=1e-4)

    def test_eighty_percent_at_6000_are_16_milliseconds(self) -> None:
        assert numbers("injector", speed=6000.0, pulse=16.0)["duty"] == pytest.approx(80.0)

    def test_a_weak_battery_takes_fuel(self) -> None:
        assert numbers("injector", volts=9.0)["fuel"] < numbers("injector", volts=14.0)["fuel"]


def posed(name: str, pose: str, **other: float | str) -> dict[str, float]:
    """The numbers of a step of an explanation, some hands moved."""
    drawing = drawings.get(name)
    hands = next(entry.hands for entry in drawing.poses if entry.id == pose)
    return showing(drawing, hands | other).numbers


class TestWhatTheWordsSay:
    """Shares and sizes that the steps of an explanation name are those that the drawing computes."""

    def test_a_hole_of_two_square_millimetres_is_a_sixth_of_idle_and_little_of_cruise(self) -> None:
        assert posed("false_air", "idle")["share"] == pytest.approx(100 / 6, rel=0.06)
        assert posed("false_air", "cruise")["leak"] == pytest.approx(posed("false_air", "idle")["leak"], rel=0.01)
        assert posed("false_air", "cruise")["share"] < 3.0 and posed("false_air", "full")["trim"] < 0.5

    def test_half_a_volt_near_the_top_is_more_than_a_third_of_the_engines_air(self) -> None:
        full = posed("hot_element", "full")
        assert full["half_volt"] > full["believed"] / 3

    def test_a_film_takes_a_sixth_at_full_load_and_hardly_anything_at_idle(self) -> None:
        assert posed("hot_element", "dirty")["error"] == pytest.approx(-100 / 6, rel=0.05)
        assert abs(posed("hot_element", "dirty", flow=2.0)["error"]) < 3.0

    def test_a_hundredth_of_lambda_is_a_third_of_a_volt_at_the_steepest_place(self) -> None:
        rich, lean = (numbers("narrowband", **{"lambda": value})["pin"] for value in (0.995, 1.005))
        assert rich - lean > 1 / 3

    def test_one_part_in_a_hundred_is_oxygen_when_lean(self) -> None:
        assert posed("narrowband", "lean")["oxygen"] == pytest.approx(1.0, abs=0.2)
        assert posed("combustion", "lean")["o2"] == pytest.approx(1.0, abs=0.4)

    def test_almost_a_third_of_the_vacuum_is_gone_at_height(self) -> None:
        low, high = posed("rulers", "idle"), posed("rulers", "high")
        assert high["absolute"] == low["absolute"] == pytest.approx(low["barometer"] / 3, rel=0.05)
        assert 0.28 < 1 - high["vacuum"] / low["vacuum"] < 1 / 3
        assert posed("rulers", "full")["vacuum"] == pytest.approx(2.0, abs=0.6)

    def test_three_hundred_ohms_are_nothing_cold_and_twenty_odd_kelvin_hot(self) -> None:
        assert posed("divider", "hot")["believed"] - posed("divider", "series")["believed"] == pytest.approx(25, abs=5)
        cold = float(next(pose.hands["celsius"] for pose in drawings.get("divider").poses if pose.id == "cold"))
        assert posed("divider", "series", celsius=cold)["believed"] == pytest.approx(cold, abs=1.5)

    def test_a_narrowband_at_full_load_stays_high_while_the_order_lasts(self) -> None:
        assert posed("both_oxygen", "load")["narrow_high"] > 0.85 and posed("both_oxygen", "load")["wide_low"] < 0.9
        idle = posed("both_oxygen", "idle")
        assert idle["wide_high"] - idle["wide_low"] < 0.1 and idle["narrow_high"] - idle["narrow_low"] > 0.6

    def test_twice_and_four_times(self) -> None:
        one, two = posed("orifice", "half"), posed("orifice", "double")
        assert two["drop"] == pytest.approx(4.0 * one["drop"], rel=0.01)
        assert posed("injector", "pressure")["flow"] == pytest.approx(2.0 * posed("injector", "idle")["flow"])
        assert posed("injector", "idle")["duty"] == pytest.approx(100 / 60, rel=0.1)
