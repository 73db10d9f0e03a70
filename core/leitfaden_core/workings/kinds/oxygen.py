"""Oxygen sensors: crossings and edges of a narrowband, rear against front."""

from leitfaden_core.words import say
from leitfaden_core.workings.working import Input, Step, Values, Working, workings


def _rate_words(values: Values) -> str:
    swing = "At least one full swing a second" if values["f"] >= 1.0 else "Less than one full swing a second"
    edge = "edges under 100 ms" if values["t_edge"] <= 100.0 else "edges over 100 ms"
    return say("{swing}, {edge} (limits for 2000 to 2500 1/min).", swing=swing, edge=edge)


workings.register(
    Working(
        "narrowband_rate",
        "Crossings and edge time of a narrowband",
        "Reach, speed and count are three questions; this is the count and the speed.",
        (
            Input("n", "crossings of 450 mV, both ways", "ratio", 0.0, 1000.0),
            Input("s", "counted in", "time_s", 0.1, 600.0, default=10.0),
            Input("edge", "time of one edge between 300 and 600 mV", "time_ms", 0.1, 10000.0),
        ),
        (
            Step(
                "f",
                "full swings per second: two crossings make one",
                "n / (2 * s)",
                "frequency",
                3,
                (("n / s", "Every swing crosses twice."),),
            ),
            Step("t_edge", "edge time", "edge", "time_ms", 3),
            Step(
                "rate",
                "rate of change",
                "0.3 / (edge / 1000)",
                "slope",
                3,
                (("0.3 / edge", "Milliseconds were left as seconds."),),
            ),
        ),
        reading=_rate_words,
    )
)


def _catalyst_words(values: Values) -> str:
    return (
        "The rear sensor is calm: oxygen is stored."
        if values["ratio"] < 0.5
        else "The rear sensor copies the front one: storage is worn, when exhaust and front sensor are sound."
    )


workings.register(
    Working(
        "catalyst_ratio",
        "Rear against front oxygen sensor",
        "How much of the front sensor's swing is left behind the catalyst.",
        (
            Input("f_low", "front sensor, low", "voltage", -0.5, 1.5),
            Input("f_high", "front sensor, high", "voltage", -0.5, 1.5),
            Input("r_low", "rear sensor, low", "voltage", -0.5, 1.5),
            Input("r_high", "rear sensor, high", "voltage", -0.5, 1.5),
        ),
        (
            Step("front", "swing in front", "f_high - f_low", "voltage", 3),
            Step("rear", "swing behind", "r_high - r_low", "voltage", 3),
            Step("ratio", "rear over front", "rear / front", "ratio", 3, (("front / rear", "Upside down."),)),
        ),
        ("steady cruise, warm catalyst", "exhaust tight before and between the sensors", "front sensor sound"),
        _catalyst_words,
    )
)
