"""Faults of temperature sensors and of the temperatures themselves."""

from collections.abc import Callable

from leitfaden_core.faults.catalogue import Effect, FaultKind, Leads, Parameter, Values, fault_kinds
from leitfaden_core.rigs import Rig

_HOT = "Never open a hot cooling system: it is under pressure and scalds."
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
        group="temperature",
        meaning="A constant error at all temperatures.",
        place="ect",
        parameters=(
            Parameter("K", "added to the reading", unit="K", low=-60.0, high=60.0, steps=(-10.0, -25.0, 25.0)),
        ),
        everyday=True,
        effects=lambda values, rig: [Effect("ect_offset", "add", float(values["K"]))],
        repair="Renew the sensor; check the plug.",
        cautions=(_COOLANT,),
        proof="Compare with a second thermometer, and with the air after a cold soak.",
        part="ECT sensor",
        prior=1.5,
        measured_by=("heat.ect",),
        leads_to=(Leads("ho2s_contaminated", "a sensor that reads cold enriches until the tip is black"),),
    )
)
fault_kinds.register(
    FaultKind(
        "iat_offset",
        "Intake air temperature sensor reads wrong",
        group="temperature",
        meaning="A constant error at all temperatures.",
        place="iat",
        parameters=(Parameter("K", "added to the reading", unit="K", low=-60.0, high=80.0, steps=(10.0, 25.0, 45.0)),),
        everyday=True,
        effects=lambda values, rig: [Effect("iat_offset", "add", float(values["K"]))],
        repair="Renew the sensor; check the plug.",
        cautions=(),
        proof="After a cold soak all temperatures must agree.",
        part="IAT sensor",
        prior=1.0,
        measured_by=("heat.iat",),
    )
)
#: Wire, what it measures, temperatures at which a spot is met on an ordinary day.
for _wire, _what, _met in (("ect", "Coolant", (40.0, 50.0, 60.0)), ("iat", "Intake air", (30.0, 28.0, 26.0))):
    fault_kinds.register(
        FaultKind(
            f"{_wire}_dead_spot",
            f"{_what} temperature sensor with a dead spot",
            group="temperature",
            meaning=(
                "Around one temperature the element loses contact and reads far too cold; above and below it is right."
            ),
            place=_wire,
            parameters=(
                Parameter(
                    "at_C",
                    "around",
                    unit="°C",
                    low=-20.0,
                    high=110.0,
                    steps=_met,
                    neutral=None,
                    words="around {value:g} °C",
                ),
                Parameter(
                    "width_K", "over", unit="K", low=1.0, high=40.0, steps=(4.0, 8.0, 14.0), words="over {value:g} K"
                ),
            ),
            effects=_dead_spot(_wire),
            repair="Renew the sensor; check the plug.",
            cautions=(_COOLANT,),
            proof="Warm the sensor slowly and watch the whole way up and down: two points of the table are not enough.",
            part=f"{_wire.upper()} sensor",
            prior=0.3,
            measured_by=(f"heat.{_wire}",),
        )
    )
fault_kinds.register(
    FaultKind(
        "thermostat_stuck_open",
        "Thermostat stuck open",
        group="temperature",
        meaning="The coolant really stays too cold; the sensor is honest.",
        place="ect",
        parameters=(Parameter("opening_percent", "opening", unit="%", low=1.0, high=100.0, steps=(25.0, 60.0, 100.0)),),
        everyday=True,
        effects=lambda values, rig: [Effect("thermostat_stuck", "max", float(values["opening_percent"]) / 100.0)],
        repair="Renew thermostat and seal, fill and bleed the system.",
        cautions=(_COOLANT,),
        proof="The upper hose warms from the first minute; a second thermometer agrees with the sensor.",
        part="thermostat",
        look="The upper radiator hose warms from the first minute.",
        prior=2.5,
        measured_by=("gauge.thermometer",),
    )
)
fault_kinds.register(
    FaultKind(
        "thermostat_stuck_closed",
        "Thermostat opens too little",
        group="temperature",
        meaning="The coolant overheats under load although fan and pump work; the sensor is honest.",
        place="ect",
        parameters=(
            Parameter(
                "opening_percent", "opens at most", unit="%", low=0.0, high=60.0, steps=(30.0, 15.0, 4.0), neutral=100.0
            ),
        ),
        effects=lambda values, rig: [Effect("thermostat_most", "set", float(values["opening_percent"]) / 100.0)],
        repair="Renew thermostat and seal, fill and bleed the system.",
        cautions=(_COOLANT, _HOT),
        proof="Engine hot, the lower radiator hose stays cold; a second thermometer agrees with the sensor.",
        part="thermostat",
        look="The engine is hot and the lower radiator hose is still cold.",
        prior=0.8,
        measured_by=("gauge.thermometer",),
    )
)
fault_kinds.register(
    FaultKind(
        "fan_weak",
        "Cooling fan weak",
        group="temperature",
        meaning="Standing in traffic the coolant gets too hot, on the road it is as it should be.",
        place="ect",
        parameters=(
            Parameter(
                "works_percent", "power left", unit="%", low=0.0, high=95.0, steps=(10.0, 5.0, 0.0), neutral=100.0
            ),
        ),
        effects=lambda values, rig: [Effect("fan_works", "set", float(values["works_percent"]) / 100.0)],
        repair="Renew the fan, its relay or its belt, whichever was proven.",
        cautions=("The fan can start by itself with the key off: keep hands and sleeves away.", _HOT),
        proof=(
            "Let the engine idle until the fan should run: it does not, or too slowly, and on the road the "
            "coolant cools."
        ),
        part="cooling fan",
        look="The engine is hot, and the fan hardly turns.",
        prior=0.8,
        measured_by=("look.coolant and thermostat",),
    )
)
fault_kinds.register(
    FaultKind(
        "coolant_low",
        "Coolant low",
        group="temperature",
        meaning=(
            "The pump draws air and little heat reaches the radiator; with much of it gone the sensor hangs in "
            "steam and reads too low."
        ),
        place="ect",
        parameters=(Parameter("lost_percent", "missing", unit="%", low=5.0, high=70.0, steps=(30.0, 45.0, 60.0)),),
        effects=lambda values, rig: [Effect("coolant_lost", "set", float(values["lost_percent"]) / 100.0)],
        repair="Find and mend the leak by a pressure test, fill and bleed the system.",
        cautions=(_COOLANT, _HOT),
        proof="Level in the cold expansion tank, then a pressure test of the cooling system.",
        part="coolant",
        look="The cold expansion tank is empty.",
        prior=1.0,
        needs="water_cooled",
        measured_by=("look.coolant and thermostat",),
    )
)
fault_kinds.register(
    FaultKind(
        "iat_heat_soak",
        "Intake air sensor soaks up heat",
        group="temperature",
        meaning=(
            "The element is heated by its surroundings more than the air that it should represent; fades with flow."
        ),
        place="iat",
        parameters=(
            Parameter(
                "rise_K", "above the air at idle, engine hot", unit="K", low=2.0, high=90.0, steps=(10.0, 20.0, 35.0)
            ),
        ),
        everyday=True,
        effects=lambda values, rig: [Effect("iat_soak", "add", float(values["rise_K"]))],
        repair="Move or shield the sensor, restore the ducting.",
        cautions=(),
        proof="Falls back to the air's temperature after a minute of driving; a leak does not.",
        part="heat shield",
        look="The heat shield of the intake sensor is missing.",
        prior=0.7,
        measured_by=("look.coolant and thermostat",),
    )
)
fault_kinds.register(
    FaultKind(
        "egt_offset",
        "Exhaust temperature sensor reads wrong",
        group="temperature",
        meaning="A constant error at all temperatures.",
        place="egt_1",
        parameters=(
            Parameter("sensor", "sensor", choices=("egt_1", "egt_2"), called={"egt_1": "EGT 1", "egt_2": "EGT 2"}),
            Parameter("K", "added to the reading", unit="K", low=-400.0, high=400.0, steps=(30.0, 80.0, -120.0)),
        ),
        effects=lambda values, rig: [Effect(f"{values['sensor']}_offset", "add", float(values["K"]))],
        repair="Renew the sensor; check the plug.",
        cautions=("Exhaust parts are hot; run engines only with exhaust extraction.",),
        proof="After a night's soak all temperatures must agree.",
        needs="egt_1",
        part="{sensor}",
        prior=0.7,
    )
)
for _id, _label, _meaning, _values, _repair in (
    (
        "iat_shielded",
        "Intake air sensor behind a heat shield",
        "A shield keeps most of the engine's heat from the element, and makes it slower.",
        {"iat_hood": 0.4, "iat_slow": 3.0},
        "Take the shield off.",
    ),
    (
        "iat_moved",
        "Intake air sensor moved into the cold stream",
        "The element sits where air always passes and the engine's heat does not reach.",
        {"iat_hood": 0.1},
        "Put the sensor back where it was.",
    ),
):
    fault_kinds.register(
        FaultKind(
            _id,
            _label,
            group="temperature",
            meaning=_meaning,
            place="iat",
            parameters=(),
            effects=lambda values, rig, hooks=_values: [  # type: ignore[misc]
                Effect(hook, "multiply", factor) for hook, factor in hooks.items()
            ],
            repair=_repair,
            proof="A hot restart and a cold start, both with the mixture watched.",
            part="place of the IAT sensor",
            construction=True,
        )
    )
fault_kinds.register(
    FaultKind(
        "iat_table_flattened",
        "Correction for intake air flattened",
        group="temperature",
        meaning=(
            "Somebody has bent the table so that a soaked sensor does less harm: a hot restart gets better, and "
            "cold air is no longer allowed for."
        ),
        place="iat",
        parameters=(
            Parameter(
                "share",
                "how much of the correction is gone",
                unit="-",
                low=0.05,
                high=1.0,
                steps=(0.3, 0.6, 1.0),
                words="{percent:.3g} % of the correction gone",
            ),
        ),
        effects=lambda values, rig: [Effect("iat_table_flat", "max", float(values["share"]))],
        repair="Restore the table; cure the heat by place, air or a shield.",
        proof="A hot restart and a cold start, both with the mixture watched.",
        part="correction table",
        construction=True,
    )
)
