"""Faults of temperature sensors and of the temperatures themselves."""

from collections.abc import Callable

from leitfaden_core.faults.catalogue import Effect, FaultKind, Leads, Parameter, Values, fault_kinds
from leitfaden_core.rigs import Rig

_COOLANT = "Never open a hot cooling system; the fan may start by itself."


def _dead_spot(wire: str) -> Callable[[Values, Rig], list[Effect]]:
    return lambda values, rig: [
        Effect(f"{wire}_dead_at", "set", float(values["at_C"]) + 273.15),
        Effect(f"{wire}_dead_width", "set", float(values["width_K"])),
    ]


fault_kinds.register(
    FaultKind(
        "ect_offset",
        "Coolant temperature sensor reads wrong",
        "temperature",
        "A constant error at all temperatures.",
        "ect",
        (Parameter("K", "added to the reading", "K", -60.0, 60.0, (-10.0, -25.0, 25.0)),),
        lambda values, rig: [Effect("ect_offset", "add", float(values["K"]))],
        "Renew the sensor; check the plug.",
        (_COOLANT,),
        "Compare with a second thermometer, and with the air after a cold soak.",
        part="ECT sensor",
        prior=1.5,
        leads_to=(Leads("ho2s_contaminated", "a sensor that reads cold enriches until the tip is black"),),
    )
)
fault_kinds.register(
    FaultKind(
        "iat_offset",
        "Intake air temperature sensor reads wrong",
        "temperature",
        "A constant error at all temperatures.",
        "iat",
        (Parameter("K", "added to the reading", "K", -60.0, 80.0, (10.0, 25.0, 45.0)),),
        lambda values, rig: [Effect("iat_offset", "add", float(values["K"]))],
        "Renew the sensor; check the plug.",
        (),
        "After a cold soak all temperatures must agree.",
        part="IAT sensor",
        prior=1.0,
    )
)
#: Wire, what it measures, temperatures at which a spot is met on an ordinary day.
for _wire, _what, _met in (("ect", "Coolant", (40.0, 50.0, 60.0)), ("iat", "Intake air", (30.0, 28.0, 26.0))):
    fault_kinds.register(
        FaultKind(
            f"{_wire}_dead_spot",
            f"{_what} temperature sensor with a dead spot",
            "temperature",
            "Around one temperature the element loses contact and reads far too cold; above and below it is right.",
            _wire,
            (
                Parameter("at_C", "around", "°C", -20.0, 110.0, _met, neutral=None),
                Parameter("width_K", "over", "K", 1.0, 40.0, (4.0, 8.0, 14.0)),
            ),
            _dead_spot(_wire),
            "Renew the sensor; check the plug.",
            (_COOLANT,),
            "Warm the sensor slowly and watch the whole way up and down: two points of the table are not enough.",
            part=f"{_wire.upper()} sensor",
            prior=0.3,
            measured_by=(f"heat.{_wire}",),
        )
    )
fault_kinds.register(
    FaultKind(
        "thermostat_stuck_open",
        "Thermostat stuck open",
        "temperature",
        "The coolant really stays too cold; the sensor is honest.",
        "ect",
        (Parameter("opening_percent", "opening", "%", 1.0, 100.0, (25.0, 60.0, 100.0)),),
        lambda values, rig: [Effect("thermostat_stuck", "max", float(values["opening_percent"]) / 100.0)],
        "Renew thermostat and seal, fill and bleed the system.",
        (_COOLANT,),
        "The upper hose warms from the first minute; a second thermometer agrees with the sensor.",
        part="thermostat",
        look="The upper radiator hose warms from the first minute.",
        prior=2.5,
        measured_by=("gauge.thermometer",),
    )
)
fault_kinds.register(
    FaultKind(
        "iat_heat_soak",
        "Intake air sensor soaks up heat",
        "temperature",
        "The element is heated by its surroundings more than the air that it should represent; fades with flow.",
        "iat",
        (Parameter("rise_K", "above the air at idle, engine hot", "K", 2.0, 90.0, (10.0, 20.0, 35.0)),),
        lambda values, rig: [Effect("iat_soak", "add", float(values["rise_K"]))],
        "Move or shield the sensor, restore the ducting.",
        (),
        "Falls back to the air's temperature after a minute of driving; a leak does not.",
        part="heat shield",
        look="The heat shield of the intake sensor is missing.",
        prior=0.7,
    )
)
fault_kinds.register(
    FaultKind(
        "egt_offset",
        "Exhaust temperature sensor reads wrong",
        "temperature",
        "A constant error at all temperatures.",
        "egt_1",
        (
            Parameter("sensor", "sensor", choices=("egt_1", "egt_2")),
            Parameter("K", "added to the reading", "K", -400.0, 400.0, (30.0, 80.0, -120.0)),
        ),
        lambda values, rig: [Effect(f"{values['sensor']}_offset", "add", float(values["K"]))],
        "Renew the sensor; check the plug.",
        ("Exhaust parts are hot; run engines only with exhaust extraction.",),
        "After a night's soak all temperatures must agree.",
        needs="egt_1",
        part="{sensor}",
        prior=0.7,
    )
)
