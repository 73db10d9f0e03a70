"""Faults of the throttle position sensor."""

from leitfaden_core.faults.catalogue import Effect, FaultKind, Parameter, fault_kinds

fault_kinds.register(
    FaultKind(
        "tp_shifted",
        "Throttle position sensor shifted",
        "position",
        "Worn or turned: the first track reads too high or too low by one amount. A second track, where there is one, contradicts it.",
        "tp",
        (Parameter("percent", "added to the reading", "%", -20.0, 40.0, (3.0, 8.0, 20.0)),),
        lambda values, rig: [Effect("tp_shift", "add", 0.8 * float(values["percent"]) / 100.0)],
        "Renew the sensor or set it as the service information says; relearn the closed stop.",
        ("Key off before unplugging; an electronic throttle can crush fingers when it moves.",),
        "Reading at the closed stop and fully open against the table; both tracks must add up.",
        needs="tp",
    )
)
