"""Fuel: trims and their scales, errors and pressures behind them, injection time, lambda and air-fuel ratio."""

from leitfaden_core.workings.working import Input, Step, Values, Working, workings

#: Stoichiometric air-fuel ratios by mass. Petrol with 10 % ethanol and pure ethanol from their oxygen content; diesel
#: for CH1.85.
FUELS = {"petrol": 14.7, "E10": 14.1, "E85": 9.8, "ethanol": 9.0, "diesel": 14.5, "LPG": 15.6, "methane": 17.2}

_STOICH = Input(
    "afr_stoich",
    "stoichiometric ratio of the fuel (petrol 14.7, E10 14.1, diesel 14.5, ethanol 9.0)",
    "ratio",
    5.0,
    18.0,
    default=14.7,
)
_ST = Input("ST", "short-term trim", "trim", -60.0, 60.0, "stft")
_LT = Input("LT", "long-term trim", "trim", -60.0, 60.0, "ltft")


def _total_words(values: Values) -> str:
    if abs(values["total"]) < 3.0 and abs(values["LT"]) > 5.0:
        return "Near neutral now, while the memory has still to unlearn: something has changed."
    side = "sensed lean, fuel is added" if values["total"] > 0 else "sensed rich, fuel is taken away"
    return f"{abs(values['total']):.1f} %: {side}."


workings.register(
    Working(
        "total_trim",
        "Total trim and both scales",
        "Both trims act one after the other, so they multiply; the sum is near enough while both are small.",
        (_ST, _LT),
        (
            Step(
                "factor",
                "factor on the fuel",
                "(1 + ST / 100) * (1 + LT / 100)",
                "ratio",
                5,
                (("1 + ST / 100 * LT / 100", "The ones belong into both factors."),),
            ),
            Step(
                "total",
                "total trim",
                "100 * (factor - 1)",
                "trim",
                4,
                (
                    ("100 * factor", "One is to be taken off before percent are made of it."),
                    ("ST + LT", "That is the simple sum: the trims act one after the other, so they multiply."),
                ),
            ),
            Step("sum", "simple sum, for comparison", "ST + LT", "trim", 4),
            Step(
                "count",
                "on the 128-count scale",
                "128 * (1 + total / 100)",
                "count",
                4,
                (("128 + total", "A count is 0.78 %, not 1 %."),),
            ),
        ),
        reading=_total_words,
    )
)
workings.register(
    Working(
        "trim_from_counts",
        "Percent from counts",
        "Older control units show trims around 128.",
        (Input("n", "count", "count", 0.0, 255.0),),
        (
            Step(
                "trim",
                "trim",
                "(n - 128) / 1.28",
                "trim",
                3,
                (
                    ("n - 128", "A count is 0.78 %, not 1 %."),
                    ("(128 - n) / 1.28", "The sign is the wrong way round: more counts are more fuel."),
                ),
            ),
        ),
    )
)
workings.register(
    Working(
        "trim_from_error",
        "Trim that a meter's error asks for",
        "A meter that reads too little makes the control unit give too little fuel, and the trims add what is missing.",
        (Input("e", "error of the meter", "percent", -90.0, 200.0),),
        (
            Step("reads", "reading over true flow", "1 + e / 100", "ratio", 4),
            Step(
                "trim",
                "total trim",
                "100 * (1 / reads - 1)",
                "trim",
                3,
                (
                    ("-e", "Only the sign was turned: the trim refers to the smaller flow."),
                    ("e", "The trim goes the other way."),
                ),
            ),
        ),
        ("airflow-metered engine", "closed loop", "the same error at all flows"),
    )
)
workings.register(
    Working(
        "error_from_trim",
        "Meter error from a trim",
        "The other way round, when nothing else is wrong.",
        (Input("trim", "total trim", "trim", -60.0, 100.0, "total_trim"),),
        (
            Step("factor", "factor on the fuel", "1 + trim / 100", "ratio", 4),
            Step(
                "e",
                "error of the meter",
                "100 * (1 / factor - 1)",
                "percent",
                3,
                (("-trim", "Only the sign was turned."),),
            ),
        ),
        ("airflow-metered engine", "closed loop", "the same trim at all flows"),
    )
)
workings.register(
    Working(
        "trim_from_pressure",
        "Trim that a fuel pressure asks for",
        "Injector flow goes with the root of the pressure difference.",
        (
            Input("p_is", "pressure difference over the injectors", "pressure_diff", 10.0, 30000.0),
            Input("p_set", "what it should be", "pressure_diff", 10.0, 30000.0),
        ),
        (
            Step("r", "ratio of the pressures", "p_is / p_set", "ratio", 4, (("p_set / p_is", "Upside down."),)),
            Step(
                "flow",
                "injector flow over right flow",
                "sqrt(r)",
                "ratio",
                4,
                (("r", "Flow goes with the root of the pressure, not with the pressure."),),
            ),
            Step(
                "trim",
                "total trim",
                "100 * (1 / flow - 1)",
                "trim",
                3,
                (
                    ("100 * (1 / r - 1)", "Flow goes with the root of the pressure, not with the pressure."),
                    ("100 * (flow - 1)", "That is what is missing, not what is to be added."),
                ),
            ),
        ),
        ("closed loop",),
        source="Bernoulli",
    )
)
workings.register(
    Working(
        "injector_flow",
        "Injector flow at another pressure",
        (
            "Ten times the pressure gives 3.16 times the flow: that is how direct injection serves full load "
            "within a few milliseconds."
        ),
        (
            Input("q1", "known flow", "injector_flow", 0.1, 100.0),
            Input("p1", "at this pressure difference", "pressure_diff", 10.0, 40000.0),
            Input("p2", "wanted for this pressure difference", "pressure_diff", 10.0, 40000.0),
        ),
        (
            Step("r", "ratio of the pressures", "p2 / p1", "ratio", 4),
            Step(
                "q2",
                "flow",
                "q1 * sqrt(r)",
                "injector_flow",
                4,
                (("q1 * r", "Flow goes with the root of the pressure, not with the pressure."),),
            ),
        ),
        source="Bernoulli",
    )
)
workings.register(
    Working(
        "injection_time",
        "Injection time from airflow",
        "From air to fuel to milliseconds.",
        (
            Input("maf", "air into the engine", "mass_flow", 0.05, 1000.0, "maf_true"),
            Input("rpm", "engine speed", "speed", 50.0, 12000.0, "rpm"),
            Input("cyl", "cylinders", "ratio", 1.0, 16.0),
            Input("lam", "lambda", "lambda", 0.5, 2.0, default=1.0),
            Input("afr_stoich", "stoichiometric air-fuel ratio", "ratio", 5.0, 18.0, default=14.7),
            Input("q_stat", "flow of one injector, held open", "injector_flow", 0.1, 100.0),
            Input("t_dead", "dead time", "time_ms", 0.0, 3.0, default=0.8),
        ),
        (
            Step(
                "air",
                "air per stroke [mg]",
                "1000 * maf * 120 / (rpm * cyl)",
                "fuel_mass",
                4,
                (("1000 * maf * 60 / (rpm * cyl)", "Each cylinder draws in only every second turn."),),
            ),
            Step(
                "fuel",
                "fuel per stroke [mg]",
                "air / (afr_stoich * lam)",
                "fuel_mass",
                4,
                (("air / afr_stoich", "Lambda was forgotten."),),
            ),
            Step(
                "t_inj",
                "injection time",
                "fuel / q_stat + t_dead",
                "time_ms",
                4,
                (("fuel / q_stat", "The dead time is missing."),),
            ),
        ),
    )
)


def _duty_words(values: Values) -> str:
    return (
        "Enough time is left."
        if values["duty"] <= 80.0
        else "Beyond 80 %: the injectors cannot follow much further, more demand will run lean."
    )


workings.register(
    Working(
        "injector_duty",
        "Injection time, window and duty",
        "A sequential injector has two turns, a bank-fired one opens twice in that time.",
        (
            Input("t_inj", "injection time of one opening", "time_ms", 0.0, 50.0, "injector_ms"),
            Input("rpm", "engine speed", "speed", 50.0, 12000.0, "rpm"),
            Input("openings", "openings per working cycle", "ratio", 1.0, 2.0, default=1.0),
        ),
        (
            Step(
                "window",
                "time available for one opening",
                "120000 / rpm / openings",
                "time_ms",
                4,
                (("60000 / rpm / openings", "A working cycle takes two turns."),),
            ),
            Step("limit", "80 % of it", "0.8 * window", "time_ms", 4, (("0.9 * window", "That is 90 %."),)),
            Step("duty", "duty", "100 * t_inj / window", "percent", 3, (("100 * window / t_inj", "Upside down."),)),
        ),
        ("port injection; direct injection has a smaller window of the crank angle",),
        _duty_words,
    )
)
workings.register(
    Working(
        "lambda_from_afr",
        "Lambda from air-fuel ratio",
        "Lambda is the same for all fuels; the ratio is not.",
        (
            Input("afr", "air-fuel ratio", "ratio", 5.0, 100.0),
            _STOICH,
        ),
        (
            Step(
                "lam",
                "lambda",
                "afr / afr_stoich",
                "lambda",
                3,
                (("afr_stoich / afr", "That is the equivalence ratio, 1 over lambda."),),
            ),
            Step("phi", "equivalence ratio", "1 / lam", "ratio", 3),
        ),
    )
)
workings.register(
    Working(
        "afr_from_lambda",
        "Air-fuel ratio from lambda",
        "For a tool or a book that speaks of ratios.",
        (
            Input("lam", "lambda", "lambda", 0.5, 10.0, "lambda_wideband"),
            _STOICH,
        ),
        (
            Step(
                "afr",
                "air-fuel ratio",
                "lam * afr_stoich",
                "ratio",
                4,
                (("afr_stoich / lam", "Divided instead of multiplied."),),
            ),
        ),
    )
)
