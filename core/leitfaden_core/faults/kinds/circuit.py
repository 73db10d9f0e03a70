"""Faults of wires and plugs. What the pin then shows follows from the circuit, not from a table."""

from collections.abc import Callable

from leitfaden_core.engine.battery import CAPACITY, RUNNING_AMPS
from leitfaden_core.errors import UnknownName
from leitfaden_core.faults.catalogue import Effect, FaultKind, Parameter, Range, Values, fault_kinds
from leitfaden_core.rigs import Rig
from leitfaden_core.wiring import (
    CIRCUIT_GROUNDED,
    CIRCUIT_OPEN,
    CIRCUIT_REVERSED,
    CIRCUIT_SHORT_5V,
    CIRCUIT_SHORT_BATTERY,
    CIRCUIT_SWAPPED,
)
from leitfaden_core.wiring.circuits import CIRCUITS, circuits_of, circuits_of_kind
from leitfaden_core.words import say

_PROBE = "Probe from the back of the plug; never pierce insulation. Resistance only with the key off."
_ALL = circuits_of_kind("signal", "supply", "heater", "actuator", "reference", "ground")
_SIGNALS = circuits_of_kind("signal")


def _circuit_on(values: Values, rig: Rig) -> str:
    """The simulator's name of the chosen circuit, when the rig has it."""
    circuit, known = str(values["circuit"]), circuits_of(rig)
    if circuit not in known:
        raise UnknownName("circuit", circuit, known, where=say("on rig {id}", id=rig.id))
    return CIRCUITS[circuit].wire


def _state(state: int) -> Callable[[Values, Rig], list[Effect]]:
    return lambda values, rig: [Effect(f"circuit_{_circuit_on(values, rig)}", "set", float(state))]


def _ohms(values: Values, rig: Rig) -> list[Effect]:
    return [Effect(f"ohms_{_circuit_on(values, rig)}", "add", float(values["ohms"]))]


def _called(names: tuple[str, ...]) -> dict[str, str]:
    return {name: CIRCUITS[name].label for name in names}


def _circuits(names: tuple[str, ...]) -> Parameter:
    return Parameter("circuit", "circuit", choices=names, called=_called(names))


def _resistance(low: float, high: float, steps: tuple[float, ...]) -> Parameter:
    return Parameter("ohms", "resistance", unit="ohm", low=low, high=high, steps=steps)


fault_kinds.register(
    FaultKind(
        "connector_intermittent",
        "Connector with a loose contact",
        group="circuit",
        meaning="The connection opens for short times at random instants.",
        place="wiring",
        parameters=(
            _circuits(_ALL),
            Parameter(
                "gap_ms",
                "open each time",
                unit="ms",
                low=5.0,
                high=60000.0,
                steps=(30.0, 150.0, 400.0),
                words="open for {value:g} ms",
            ),
            Parameter(
                "rate_per_min",
                "how often",
                unit="1/min",
                low=0.1,
                high=600.0,
                steps=(6.0, 15.0, 40.0),
                words="{value:g} times a minute",
            ),
        ),
        effects=_state(CIRCUIT_OPEN),
        repair="Renew the terminal, restore its spring force and the strain relief.",
        cautions=(_PROBE,),
        proof="Wiggle the plug while recording fast enough: the gap follows the hand.",
        pulses=lambda values: (float(values["gap_ms"]) / 1000.0, float(values["rate_per_min"])),
        prior=2.0,
        measured_by=("wiggle",),
        ways=lambda chosen, rig: [
            [{"gap_ms": gap, "rate_per_min": rate} for gap, rate in ((30.0, 6.0), (150.0, 15.0), (400.0, 40.0))]
        ],
    )
)
fault_kinds.register(
    FaultKind(
        "signal_open",
        "Wire interrupted",
        group="circuit",
        meaning="The wire is broken; the pin shows what the control unit pulls it to.",
        place="wiring",
        parameters=(_circuits(_ALL),),
        effects=_state(CIRCUIT_OPEN),
        repair="Repair the wire with a crimp and seal of the right kind.",
        cautions=(_PROBE,),
        proof="Voltage at both ends of the wire.",
        prior=1.5,
        measured_by=("plug_off.{circuit}", "meter.{circuit}"),
    )
)
fault_kinds.register(
    FaultKind(
        "signal_short_to_ground",
        "Wire touches ground",
        group="circuit",
        meaning=(
            "A signal lies at ground potential; a shorted reference takes all its sensors with it; a shorted "
            "supply blows its fuse; a valve whose control wire is shorted stands open."
        ),
        place="wiring",
        parameters=(_circuits((*_SIGNALS, *circuits_of_kind("supply", "heater", "actuator", "reference"))),),
        effects=_state(CIRCUIT_GROUNDED),
        repair="Repair the chafed place and its protection.",
        cautions=(_PROBE,),
        proof="Resistance to ground, sensor and control unit unplugged.",
        look="A cable is chafed at a bracket.",
        prior=0.6,
        measured_by=("plug_off.{circuit}", "meter.{circuit}"),
    )
)
fault_kinds.register(
    FaultKind(
        "signal_short_to_5v",
        "Signal wire touches the 5 V reference",
        group="circuit",
        meaning="The pin lies at the reference.",
        place="wiring",
        parameters=(_circuits(_SIGNALS),),
        effects=_state(CIRCUIT_SHORT_5V),
        repair="Repair the chafed place and its protection.",
        cautions=(_PROBE,),
        proof="Voltage at the unplugged signal wire.",
        prior=0.4,
        measured_by=("plug_off.{circuit}", "meter.{circuit}"),
    )
)
fault_kinds.register(
    FaultKind(
        "signal_short_to_battery",
        "Wire touches battery voltage",
        group="circuit",
        meaning=(
            "The pin lies at battery voltage, as when an oxygen sensor's signal chafes against its heater "
            "supply; a heater's control wire then has no drop to drive it."
        ),
        place="wiring",
        parameters=(_circuits((*_SIGNALS, *circuits_of_kind("heater", "actuator"))),),
        effects=_state(CIRCUIT_SHORT_BATTERY),
        repair="Repair the chafed place; check that the control unit's input has survived.",
        cautions=(_PROBE,),
        proof="Voltage at the unplugged signal wire: more than the reference can give.",
        prior=0.4,
        measured_by=("plug_off.{circuit}", "meter.{circuit}"),
    )
)
fault_kinds.register(
    FaultKind(
        "series_resistance",
        "Resistance in a wire or plug",
        group="circuit",
        meaning="Corrosion in a plug or a bad splice adds resistance to the path.",
        place="wiring",
        parameters=(
            _circuits((*_SIGNALS, *circuits_of_kind("supply", "heater", "actuator", "reference"))),
            _resistance(0.01, 1e6, (100.0, 500.0, 2000.0)),
        ),
        effects=_ohms,
        repair="Clean or renew the terminals.",
        cautions=(_PROBE,),
        proof="Voltage drop over the plug with the circuit working.",
        look="Green corrosion in a plug.",
        prior=1.0,
        measured_by=("plug_off.{circuit}", "meter.{circuit}"),
    )
)


def _ground_sizes(params: Values, rig: Rig) -> list[list[Values]]:
    """Between an engine that runs on a bad ground and one that its starter no longer turns nothing lies half way."""
    if params["circuit"] == "engine_ground":
        return [[{"ohms": ohms} for ohms in (0.01, 0.03, 0.05)], [{"ohms": 0.1}]]
    return [[{"ohms": ohms} for ohms in (3.0, 10.0, 30.0)]]


fault_kinds.register(
    FaultKind(
        "ground_resistance",
        "Resistance in a ground path",
        group="circuit",
        meaning=(
            "The sensor ground is common to all 5 V sensors and thermistors; the engine ground carries starter, "
            "alternator and the airflow meter."
        ),
        place="wiring",
        parameters=(
            _circuits(circuits_of_kind("ground")),
            Parameter(
                "ohms",
                "resistance",
                unit="ohm",
                low=0.001,
                high=10000.0,
                steps=(3.0, 10.0, 30.0),
                depends_on="circuit",
                ranges={"engine_ground": Range(0.001, 10000.0, (0.01, 0.03, 0.1))},
            ),
        ),
        effects=_ohms,
        repair="Clean the ground's terminal to metal, bolt and seal it.",
        cautions=(_PROBE,),
        proof="Voltage drop from the sensor's ground pin to battery minus with everything plugged in and working.",
        look="Green corrosion at a ring terminal.",
        prior=1.5,
        measured_by=("meter.grounds",),
        ways=_ground_sizes,
    )
)
fault_kinds.register(
    FaultKind(
        "supply_resistance",
        "Resistance in a battery supply",
        group="circuit",
        meaning="Fuse holder, relay contact or plug drops voltage that the consumer lacks; more when it draws more.",
        place="wiring",
        parameters=(_circuits(circuits_of_kind("supply", "heater")), _resistance(0.01, 1000.0, (2.0, 8.0, 20.0))),
        effects=_ohms,
        repair="Clean or renew the contact that drops the voltage.",
        cautions=(_PROBE,),
        proof="Voltage at the consumer's pins under load, compared with the battery.",
        look="A fuse holder is brown from heat.",
        prior=1.0,
        measured_by=("meter.{circuit}",),
    )
)
_FIVE_VOLT_SIGNALS = circuits_of_kind("signal", five_volt=True)


def _loading_sensor(values: Values, rig: Rig) -> str:
    """The damaged sensor's circuit; where none is named, the first on the rig's reference."""
    known = [name for name in circuits_of(rig, "signal") if name in _FIVE_VOLT_SIGNALS]
    named = str(values.get("sensor", known[0]))
    if named not in known:
        raise UnknownName("sensor", named, known, where=say("on the 5 V reference of rig {id}", id=rig.id))
    return named


def _pulled_down(values: Values, rig: Rig) -> list[Effect]:
    _loading_sensor(values, rig)
    return [Effect("reference_held", "set", max(float(values["volts"]), 1e-3))]


fault_kinds.register(
    FaultKind(
        "reference_pulled_down",
        "5 V reference pulled down",
        group="circuit",
        meaning="A damaged sensor loads the shared reference; the control unit keeps converting against its own 5 V.",
        place="wiring",
        parameters=(
            Parameter("volts", "what remains of it", unit="V", low=0.0, high=4.95, steps=(4.5, 4.0, 2.5), neutral=5.0),
            Parameter(
                "sensor",
                "circuit of the damaged sensor",
                choices=_FIVE_VOLT_SIGNALS,
                called=_called(_FIVE_VOLT_SIGNALS),
                optional=True,
            ),
        ),
        effects=_pulled_down,
        repair=(
            "Unplug the sensors on the reference one after the other: the reference returns with the guilty one; "
            "renew it or its wire."
        ),
        cautions=(_PROBE,),
        proof="Reference voltage at any sensor's plug, before and after unplugging the suspect.",
        at_plug=_loading_sensor,
        prior=0.7,
        measured_by=("unplug.reference",),
    )
)
#: What follows when two pins of a three-wire sensor's plug are exchanged, for a sensor with electronics and for a
#: potentiometer, which knows no polarity.
_SWAPS: dict[str, dict[str, Callable[[str], list[Effect]]]] = {
    "signal_and_ground": {
        "electronics": lambda wire: [Effect(f"circuit_{wire}", "set", float(CIRCUIT_SWAPPED))],
        # The wiper lies at ground, and what is left of the track below it as well.
        "potentiometer": lambda wire: [Effect(f"circuit_{wire}", "set", float(CIRCUIT_GROUNDED))],
    },
    "supply_and_ground": {
        # The input stage conducts backwards and holds the shared reference at its threshold.
        "electronics": lambda wire: [
            Effect("reference_held", "set", 0.8),
            Effect(f"circuit_{wire}", "set", float(CIRCUIT_OPEN)),
        ],
        "potentiometer": lambda wire: [Effect(f"circuit_{wire}", "set", float(CIRCUIT_REVERSED))],
    },
}


def _swapped(values: Values, rig: Rig) -> list[Effect]:
    element = CIRCUITS[str(values["circuit"])].element(rig) if str(values["circuit"]) in CIRCUITS else ""
    return _SWAPS[str(values["pins"])][element or "electronics"](_circuit_on(values, rig))


def _loads_reference(values: Values, rig: Rig) -> str:
    """The plug that lets the reference go when it is pulled: that of electronics whose supply is reversed."""
    circuit = str(values["circuit"])
    reversed_ = values["pins"] == "supply_and_ground" and CIRCUITS[circuit].element(rig) == "electronics"
    return circuit if reversed_ else ""


fault_kinds.register(
    FaultKind(
        "pins_swapped",
        "Two pins exchanged in a plug",
        group="circuit",
        meaning=(
            "After a repair of the plug two wires of a 5 V sensor sit in each other's place. A thermistor would "
            "not mind, a potentiometer runs backwards."
        ),
        place="wiring",
        parameters=(
            _circuits(circuits_of_kind("signal", five_volt=True)),
            Parameter(
                "pins",
                "pins",
                choices=tuple(_SWAPS),
                called={"signal_and_ground": "signal and ground", "supply_and_ground": "supply and ground"},
            ),
        ),
        effects=_swapped,
        repair="Put the terminals where the wiring diagram has them; test the sensor afterwards.",
        cautions=(_PROBE,),
        proof=(
            "Supply, ground and signal at the unplugged plug, each against battery minus, compared with the "
            "wiring diagram."
        ),
        look="The terminals of a plug do not sit as the wiring diagram has them.",
        at_plug=_loads_reference,
        prior=0.2,
        measured_by=("meter.{circuit}",),
    )
)
fault_kinds.register(
    FaultKind(
        "control_unit_reference_weak",
        "Control unit's 5 V supply weak",
        group="circuit",
        meaning="The regulator inside the control unit has failed: the reference stays low whatever is unplugged.",
        place="wiring",
        parameters=(
            Parameter("volts", "what it gives", unit="V", low=0.5, high=4.9, steps=(4.5, 4.0, 2.5), neutral=5.0),
        ),
        effects=lambda values, rig: [Effect("reference_held", "set", float(values["volts"]))],
        repair=(
            "Only when supply, grounds, harness and every sensor on the reference are proven good: renew the "
            "control unit."
        ),
        cautions=(_PROBE,),
        proof="Reference voltage with all its sensors unplugged and the harness proven free of shorts.",
        part="control unit",
        prior=0.03,
        measured_by=("unplug.reference",),
        only_after=("meter.grounds", "unplug.reference"),
    )
)
fault_kinds.register(
    FaultKind(
        "charging_lost",
        "Alternator does not charge",
        group="circuit",
        meaning=(
            "The engine lives on the battery alone, and the battery empties: heaters get less, the starter turns "
            "slower at the next start."
        ),
        place="wiring",
        parameters=(
            Parameter("minutes", "driven without it", unit="min", low=0.0, high=90.0, steps=(20.0, 60.0, 80.0)),
        ),
        effects=lambda values, rig: [
            Effect("charging_lost", "set", 1.0),
            Effect("battery_drained", "set", RUNNING_AMPS * float(values["minutes"]) / 60.0 / CAPACITY),
        ],
        repair="Renew belt, alternator or its wiring, whichever was proven.",
        cautions=("Batteries give off explosive gas; disconnect minus first.", _PROBE),
        proof="Battery voltage with the engine at raised speed.",
        part="alternator",
        look="The charge lamp is on.",
        prior=1.0,
        measured_by=("meter.grounds",),
    )
)
