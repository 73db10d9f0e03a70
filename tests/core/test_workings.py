"""Workings against hand-worked values, every step; and how a learner's steps are marked.

The numbers in the tables were worked by hand.
"""

import math

import pytest

from leitfaden_core.errors import LeitfadenError, MissingPart, OutOfRange, UnknownName
from leitfaden_core.faults import parse_fault
from leitfaden_core.rigs import load_rig
from leitfaden_core.scripts import load_script
from leitfaden_core.simulate import cached_run
from leitfaden_core.workings import StepVerdict, from_run, mark_steps, work, workings
from leitfaden_core.workings.kinds.fuelling import FUELS
from leitfaden_core.workings.kinds.pressure import resolution

#: working, inputs, steps with their values by hand.
BY_HAND = [
    ("air_density", {"p": 97.0, "t": 35.0}, {"p_Pa": 97000.0, "T": 308.15, "rho": 1.0966}),
    # On a hot day at 350 m: 1.0966·2.4·5200/120 = 114.05; 92/114.05 = 80.7 %.
    (
        "volumetric_efficiency",
        {"maf": 92.0, "rpm": 5200.0, "t": 35.0, "p": 97.0, "L": 2.4},
        {"p_Pa": 97000.0, "T": 308.15, "rho": 1.0966, "full": 114.05, "VE": 80.67},
    ),
    (
        "full_load_airflow",
        {"VE": 90.0, "rpm": 6000.0, "t": 20.0, "p": 100.0, "L": 2.0},
        {"T": 293.15, "rho": 1.1884, "maf": 106.95},
    ),
    ("airflow_per_litre", {"maf": 2.1, "L": 2.0}, {"q": 1.05}),
    (
        "speed_density",
        {"p_m": 30.0, "t_m": 34.85, "rpm": 750.0, "VE_m": 50.0, "L": 2.0, "maf": 2.5},
        {"T": 308.0, "rho_m": 0.33932, "m": 2.1207, "d": 17.88},
    ),
    (
        "density_airflow",
        {"p_m": 40.0, "t_m": 26.85, "rpm": 2000.0, "VE_m": 60.0, "L": 1.6},
        {"T": 300.0, "rho_m": 0.46450, "m": 7.4320},
    ),
    # 3 mm at Cd 0.8: 0.0404·0.8·7.0686e-6·101300/sqrt(293.15) = 1.352 g/s.
    ("leak_from_hole", {"d": 3.0, "Cd": 0.8, "p": 101.3, "t": 20.0}, {"A": 7.0686, "T": 293.15, "leak": 1.3517}),
    ("trim_from_leak", {"leak": 0.3, "total": 2.1}, {"metered": 1.8, "trim": 16.667}),
    (
        "leak_from_trim",
        {"maf": 1.8, "trim": 16.667, "p": 100.0, "t": 20.0, "Cd": 0.8},
        {"leak": 0.3, "T": 293.15, "A": 1.5893, "d": 1.4225},
    ),
    ("total_trim", {"ST": 9.0, "LT": -9.0}, {"factor": 0.9919, "total": -0.81, "sum": 0.0, "count": 126.963}),
    ("total_trim", {"ST": 12.0, "LT": 10.0}, {"factor": 1.232, "total": 23.2, "sum": 22.0, "count": 157.696}),
    ("trim_from_counts", {"n": 140.0}, {"trim": 9.375}),
    ("trim_from_counts", {"n": 96.0}, {"trim": -25.0}),
    ("trim_from_error", {"e": -20.0}, {"reads": 0.8, "trim": 25.0}),
    ("error_from_trim", {"trim": 25.0}, {"factor": 1.25, "e": -20.0}),
    ("trim_from_pressure", {"p_is": 210.0, "p_set": 300.0}, {"r": 0.7, "flow": 0.83666, "trim": 19.523}),
    ("injector_flow", {"q1": 2.6, "p1": 300.0, "p2": 3000.0}, {"r": 10.0, "q2": 8.2219}),
    # 40 g/s at 3000 1/min in four cylinders: 400 mg a stroke, 27.21 mg petrol, 10.47 ms + 0.8 ms.
    (
        "injection_time",
        {"maf": 40.0, "rpm": 3000.0, "cyl": 4.0, "lam": 1.0, "afr_stoich": 14.7, "q_stat": 2.6, "t_dead": 0.8},
        {"air": 400.0, "fuel": 27.211, "t_inj": 11.266},
    ),
    ("injector_duty", {"t_inj": 14.0, "rpm": 6000.0, "openings": 1.0}, {"window": 20.0, "limit": 16.0, "duty": 70.0}),
    ("injector_duty", {"t_inj": 8.0, "rpm": 6000.0, "openings": 2.0}, {"window": 10.0, "limit": 8.0, "duty": 80.0}),
    ("lambda_from_afr", {"afr": 12.5, "afr_stoich": 14.7}, {"lam": 0.85034, "phi": 1.176}),
    ("afr_from_lambda", {"lam": 0.85, "afr_stoich": 14.1}, {"afr": 11.985}),
    ("pressure_from_altitude", {"h": 300.0}, {"base": 0.99323269, "p": 97.773}),
    ("pressure_from_weather", {"p0": 102.0, "h": 850.0}, {"base": 0.98082596, "p": 92.12}),
    ("three_rulers", {"p_abs": 32.0, "p": 100.0}, {"vacuum": 68.0, "gauge": -68.0, "inHg": 20.08}),
    (
        "sensor_line",
        {"p1": 15.0, "v1": 0.5, "p2": 105.0, "v2": 4.7, "p": 66.1},
        {"b": 0.0466667, "a": -0.2, "v": 2.8847},
    ),
    (
        "pump_point",
        {"vac": 10.0, "p": 100.0, "a": -0.2, "b": 0.0466667},
        {"vac_kPa": 33.8639, "p_abs": 66.136, "v": 2.8863},
    ),
    ("thermistor_resistance", {"t": 90.0}, {"T": 363.15, "R": 277.29, "V": 0.55967}),
    ("thermistor_resistance", {"t": -20.0}, {"T": 253.15, "R": 17208.0, "V": 4.4332}),
    ("thermistor_temperature", {"V": 2.5}, {"R": 2200.0, "T": 298.15, "t": 25.0}),
    (
        "thermistor_fit",
        {"t1": 20.0, "R1": 2500.0, "t2": 80.0, "R2": 320.0},
        {"T1": 293.15, "T2": 353.15, "B": 3547.0, "R25": 2040.9},
    ),
    ("kelvin_from_fahrenheit", {"F": 68.0}, {"T": 293.15, "t": 20.0}),
    ("narrowband_rate", {"n": 24.0, "s": 10.0, "edge": 60.0}, {"f": 1.2, "t_edge": 60.0, "rate": 5.0}),
    (
        "catalyst_ratio",
        {"f_low": 0.1, "f_high": 0.8, "r_low": 0.6, "r_high": 0.7},
        {"front": 0.7, "rear": 0.1, "ratio": 0.142857},
    ),
    ("ground_drop", {"i": 10.0, "r": 20.0, "share": 0.4}, {"drop": 0.2, "shift": 0.12}),
    ("parallel_coils", {"U": 13.5, "R": 14.0, "n": 4.0}, {"i1": 0.964286, "i": 3.857143}),
]


@pytest.mark.parametrize(
    ("name", "given", "steps"), BY_HAND, ids=[f"{name}-{k}" for k, (name, _g, _s) in enumerate(BY_HAND)]
)
def test_every_step_is_that_of_the_hand(name: str, given: dict[str, float], steps: dict[str, float]) -> None:
    worked = {step.symbol: step.value for step in work(workings.get(name), given).steps}
    for symbol, value in steps.items():
        assert worked[symbol] == pytest.approx(value, rel=5e-4, abs=1e-9), symbol


def test_every_working_is_in_the_table() -> None:
    assert {name for name, _g, _s in BY_HAND} == set(workings.ids())


@pytest.mark.parametrize(("name", "given", "_steps"), BY_HAND)
def test_a_slip_is_never_the_right_value(name: str, given: dict[str, float], _steps: dict[str, float]) -> None:
    for step in work(workings.get(name), given).steps:
        assert all(not math.isclose(value, step.value, rel_tol=1e-6) for value, _words in step.slips)


class TestSheet:
    def test_shows_formula_numbers_and_unit(self) -> None:
        step = work(workings.get("air_density"), {"p": 100.0, "t": 20.0}).steps[2]
        assert (
            step.formula == "p_Pa / (287.05 · T)"
            and step.filled == "100000 / (287.05 · 293.15)"
            and step.shown == "1.188 kg/m³"
        )

    def test_takes_units(self) -> None:
        imperial = work(workings.get("air_density"), {"p": "29.53 inHg", "t": "68 °F"})
        assert imperial.result.value == pytest.approx(1.1884, rel=2e-4)

    def test_carries_digits_between_steps(self) -> None:
        """A barometer that is off by 0.2 % moves the result by 0.2 %, no more and no less."""
        right, off = (
            work(workings.get("volumetric_efficiency"), {"maf": 107, "rpm": 6000, "t": 20, "p": p, "L": 2}).result.value
            for p in (100.0, 100.2)
        )
        assert right / off == pytest.approx(1.002, rel=1e-6)

    @pytest.mark.parametrize(
        ("given", "error"),
        [
            ({"p": 100.0}, MissingPart),
            ({"p": 100.0, "t": 20.0, "x": 1.0}, UnknownName),
            ({"p": 30.0, "t": 20.0}, OutOfRange),
            ({"p": "100", "t": 20.0}, MissingPart),
        ],
    )
    def test_refuses_what_it_cannot_use(self, given: dict[str, float | str], error: type[LeitfadenError]) -> None:
        with pytest.raises(error):
            work(workings.get("air_density"), given)

    def test_division_by_nothing_is_one_sentence(self) -> None:
        with pytest.raises(LeitfadenError, match="cannot be worked out"):
            work(workings.get("sensor_line"), {"p1": 50.0, "v1": 1.0, "p2": 50.0, "v2": 2.0, "p": 60.0})

    def test_unboosted_engines_do_not_breathe_more_than_they_hold(self) -> None:
        sheet = work(workings.get("volumetric_efficiency"), {"maf": 128.4, "rpm": 6000, "t": 20, "p": 100, "L": 2})
        assert sheet.result.value == pytest.approx(108.0, abs=0.2) and "reads too high" in sheet.meaning

    def test_fuels_differ_in_ratio_and_not_in_lambda(self) -> None:
        found = [
            work(workings.get("afr_from_lambda"), {"lam": 0.9, "afr_stoich": stoich}).result.value
            for stoich in FUELS.values()
        ]
        assert len(set(found)) == len(FUELS)

    def test_whole_inches_hide_more_than_whole_kilopascal(self) -> None:
        assert resolution("inHg", 0).kilopascal > 3 > resolution("kPa", 0).kilopascal > resolution("inHg", 1).kilopascal


class TestFromARun:
    RUN = staticmethod(
        lambda *faults: cached_run(load_rig("R1"), load_script("workshop_day"), [parse_fault(text) for text in faults])
    )

    def test_volumetric_efficiency_of_the_pull_is_that_of_the_model(self) -> None:
        values, sources = from_run(workings.get("volumetric_efficiency"), self.RUN(), "wot_pull")
        sheet = work(workings.get("volumetric_efficiency"), values, sources)
        rows = self.RUN().rows(self.RUN().script.span("wot_pull", "mean"))
        assert sheet.result.value == pytest.approx(float(rows["ve"][rows["rpm"].argmax()]), abs=0.7)
        assert "highest speed" in sources["maf"] and sources["L"] == "Library bus"

    def test_a_meter_that_reads_low_is_found_by_it(self) -> None:
        sound, low = (
            work(
                workings.get("volumetric_efficiency"),
                from_run(workings.get("volumetric_efficiency"), run, "wot_pull")[0],
            ).result.value
            for run in (self.RUN(), self.RUN("maf_under_read:gain=0.8"))
        )
        assert low / sound == pytest.approx(0.8, abs=0.01)

    def test_trim_and_leak_belong_together(self) -> None:
        run = self.RUN("manifold_vacuum_leak:area_mm2=2")
        leak = work(workings.get("leak_from_trim"), from_run(workings.get("leak_from_trim"), run, "hot_idle")[0])
        # Out of the trim comes the hole that was put in, less what the engine needs anyway.
        assert {step.symbol: step.value for step in leak.steps}["A"] == pytest.approx(2.0, rel=0.2)


class TestMarking:
    WORKING = workings.get("volumetric_efficiency")
    SHEET = work(WORKING, {"maf": 107.0, "rpm": 6000.0, "t": 20.0, "p": 100.0, "L": 2.0})

    def verdicts(self, **answers: str) -> dict[str, StepVerdict]:
        return {step.symbol: step.verdict for step in mark_steps(self.WORKING, self.SHEET, answers)}

    def test_right_in_any_unit(self) -> None:
        assert self.verdicts(full="428 kg/h", VE="90 %") | {} == {
            **dict.fromkeys(("p_Pa", "T", "rho"), StepVerdict.LEFT_OUT),
            "full": StepVerdict.RIGHT,
            "VE": StepVerdict.RIGHT,
        }

    def test_a_number_without_unit_is_no_answer(self) -> None:
        assert self.verdicts(rho="1.19", VE="90 %")["rho"] is StepVerdict.UNREADABLE

    def test_one_slip_is_punished_once(self) -> None:
        found = self.verdicts(full="237.7 g/s", VE="45.0 %")
        assert found["full"] is StepVerdict.SLIP and found["VE"] is StepVerdict.CARRIED

    def test_a_slip_is_named(self) -> None:
        marked = {step.symbol: step for step in mark_steps(self.WORKING, self.SHEET, {"T": "20 K", "VE": "90 %"})}
        assert "Celsius" in marked["T"].reason and marked["T"].points == 0.0

    def test_the_result_must_be_given(self) -> None:
        marked = {step.symbol: step for step in mark_steps(self.WORKING, self.SHEET, {"T": "293.15 K"})}
        assert marked["VE"].points == 0.0 and marked["rho"].points is None

    def test_rounding_is_no_slip(self) -> None:
        assert self.verdicts(rho="1.19 kg/m³", VE="90.0 %")["rho"] is StepVerdict.RIGHT
        assert self.verdicts(VE="92 %")["VE"] is StepVerdict.WRONG
