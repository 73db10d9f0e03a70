"""Faults of the throttle position sensor."""

from leitfaden_core.faults.catalogue import Effect, FaultKind, Parameter, fault_kinds

fault_kinds.register(
    FaultKind(
        "tp_shifted",
        "Throttle position sensor shifted",
        group="position",
        meaning=(
            "Worn or turned: the first track reads too high or too low by one amount. A second track, where "
            "there is one, contradicts it."
        ),
        place="tp",
        parameters=(
            Parameter("percent", "added to the reading", unit="%", low=-20.0, high=40.0, steps=(3.0, 8.0, 20.0)),
        ),
        effects=lambda values, rig: [Effect("tp_shift", "add", 0.8 * float(values["percent"]) / 100.0)],
        repair="Renew the sensor or set it as the service information says; relearn the closed stop.",
        cautions=("Key off before unplugging; an electronic throttle can crush fingers when it moves.",),
        proof="Reading at the closed stop and fully open against the table; both tracks must add up.",
        needs="tp",
        part="throttle position sensor",
        prior=1.0,
        measured_by=("scan.koeo.positions",),
    )
)
fault_kinds.register(
    FaultKind(
        "app_shifted",
        "Accelerator pedal sensor shifted",
        group="position",
        meaning=(
            "The first track reads too high or too low by one amount; the second contradicts it, and the pedal "
            "is no longer believed."
        ),
        place="app",
        parameters=(
            Parameter("percent", "added to the first track", unit="%", low=-20.0, high=40.0, steps=(2.0, 8.0, 20.0)),
        ),
        effects=lambda values, rig: [Effect("app_shift", "add", 0.7 * float(values["percent"]) / 100.0)],
        repair="Renew the pedal sensor; clear the code and read both tracks over the whole travel.",
        cautions=("The engine may answer the pedal unexpectedly: parking brake, gear out, nobody before the vehicle.",),
        proof="Both tracks over the whole travel: the first must be twice the second.",
        needs="app",
        part="accelerator pedal sensor",
        prior=0.7,
        measured_by=("scan.koeo.positions",),
    )
)
