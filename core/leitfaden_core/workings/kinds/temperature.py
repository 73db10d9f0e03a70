"""Thermistors: table, divider, and the curve through two measured points; the mean of Fahrenheit and Celsius is
nobody's friend.
"""

from leitfaden_core.workings.working import Input, Step, Working, workings

_R25 = Input("R25", "resistance at 25 °C", "resistance", 10.0, 1e6, default=2200.0)
_B = Input("B", "B value of the thermistor [K]", "kelvin", 1000.0, 6000.0, default=3450.0)
_KELVIN_SLIP = (("t", "Degrees Celsius were put in for kelvin."),)

workings.register(
    Working(
        "thermistor_resistance",
        "Resistance of a thermistor, and the volts that it makes",
        "A passive resistor in a divider: it sends nothing back, it only pulls the pull-up down.",
        (
            Input("t", "temperature", "temperature", -60.0, 200.0, "ect"),
            _R25,
            _B,
            Input("R_pull", "pull-up in the control unit", "resistance", 10.0, 1e6, default=2200.0),
            Input("V_ref", "reference", "voltage", 1.0, 15.0, default=5.0),
        ),
        (
            Step("T", "absolute temperature", "t + 273.15", "kelvin", 5, _KELVIN_SLIP),
            Step(
                "R",
                "resistance",
                "R25 * exp(B * (1 / T - 1 / 298.15))",
                "resistance",
                4,
                (
                    (
                        "R25 * exp(B * (1 / 298.15 - 1 / T))",
                        "The difference is the wrong way round: an NTC falls with heat.",
                    ),
                ),
            ),
            Step(
                "V",
                "voltage at the pin",
                "V_ref * R / (R + R_pull)",
                "voltage",
                3,
                (("V_ref * R_pull / (R + R_pull)", "That is the voltage over the pull-up, not over the sensor."),),
            ),
        ),
        source="beta equation; Steinhart and Hart 1968 for its place among fits",
    )
)
workings.register(
    Working(
        "thermistor_temperature",
        "Temperature from the volts of a thermistor",
        "What the control unit does with the pin.",
        (
            Input("V", "voltage at the pin", "voltage", 0.001, 15.0, "ect_volts"),
            Input("V_ref", "reference", "voltage", 1.0, 15.0, default=5.0),
            Input("R_pull", "pull-up in the control unit", "resistance", 10.0, 1e6, default=2200.0),
            _R25,
            _B,
        ),
        (
            Step(
                "R",
                "resistance",
                "R_pull * V / (V_ref - V)",
                "resistance",
                4,
                (("R_pull * (V_ref - V) / V", "Upside down."),),
            ),
            Step("T", "absolute temperature", "1 / (1 / 298.15 + ln(R / R25) / B)", "kelvin", 5),
            Step("t", "temperature", "T - 273.15", "temperature", 4, (("T", "Kelvin were left as degrees Celsius."),)),
        ),
    )
)
workings.register(
    Working(
        "thermistor_fit",
        "Curve of a thermistor from two points",
        "Two measured points make R25 and B; a third point tells whether the curve fits.",
        (
            Input("t1", "temperature of the first point", "temperature", -60.0, 200.0),
            Input("R1", "resistance there", "resistance", 1.0, 1e7),
            Input("t2", "temperature of the second point", "temperature", -60.0, 200.0),
            Input("R2", "resistance there", "resistance", 1.0, 1e7),
        ),
        (
            Step("T1", "first absolute temperature", "t1 + 273.15", "kelvin", 5),
            Step("T2", "second absolute temperature", "t2 + 273.15", "kelvin", 5),
            Step(
                "B",
                "B value",
                "ln(R1 / R2) / (1 / T1 - 1 / T2)",
                "kelvin",
                4,
                (
                    ("ln(R1 / R2) / (1 / t1 - 1 / t2)", "Degrees Celsius were put in for kelvin."),
                    ("ln(R2 / R1) / (1 / T1 - 1 / T2)", "The points were exchanged in one place only."),
                ),
            ),
            Step("R25", "resistance at 25 °C", "R1 * exp(B * (1 / 298.15 - 1 / T1))", "resistance", 4),
        ),
    )
)
workings.register(
    Working(
        "kelvin_from_fahrenheit",
        "Kelvin from Fahrenheit",
        "For a formula that wants kelvin and a tool that shows Fahrenheit.",
        (Input("F", "temperature in degrees Fahrenheit", "ratio", -100.0, 500.0),),
        (
            Step(
                "T",
                "absolute temperature",
                "(F + 459.67) * 5 / 9",
                "kelvin",
                5,
                (("F + 459.67", "Those are degrees Rankine: times 5/9 is missing."),),
            ),
            Step("t", "temperature", "T - 273.15", "temperature", 4),
        ),
    )
)
