"""Circuits: drops over bad contacts, injector currents side by side, dividers."""

from leitfaden_core.workings.working import Input, Step, Values, Working, workings


def _drop_words(values: Values) -> str:
    return (
        "Within the usual limit of 0.1 V."
        if values["drop"] <= 0.1
        else "Beyond the usual limit of 0.1 V: the ground path is bad."
    )


workings.register(
    Working(
        "ground_drop",
        "Voltage drop over a ground",
        "A drop needs current: without load the worst ground looks sound.",
        (
            Input("i", "current that returns over it", "current_ma", 0.01, 1e5),
            Input("r", "resistance in the path", "resistance", 0.0, 1e5),
            Input("share", "share of its supply that the sensor gives", "ratio", 0.0, 1.0, default=0.4),
        ),
        (
            Step("drop", "drop", "i / 1000 * r", "voltage", 3, (("i * r", "Milliampere were left as ampere."),)),
            Step(
                "shift",
                "how much too high the signal reads: largest at low signals",
                "drop * (1 - share)",
                "voltage",
                3,
                (("drop", "The sensor's own supply shrinks as well."),),
            ),
        ),
        reading=_drop_words,
        source="Ohm's law; V = (Vref − Vg)·share + Vg for a ratiometric sensor",
    )
)
workings.register(
    Working(
        "parallel_coils",
        "Current of coils side by side",
        "Four injectors on one clamp: their currents add.",
        (
            Input("U", "voltage", "voltage", 0.1, 100.0, "battery_v", default=13.5),
            Input("R", "resistance of one coil", "resistance", 0.1, 1000.0),
            Input("n", "coils", "ratio", 1.0, 16.0),
        ),
        (
            Step("i1", "current of one", "U / R", "current", 3, (("R / U", "Upside down."),)),
            Step("i", "current of all", "n * i1", "current", 3, (("i1 / n", "Side by side the currents add."),)),
        ),
        source="Ohm's and Kirchhoff's laws",
    )
)
