"""Faults of wires and plugs. What the pin then shows follows from the circuit, not from a table."""

from collections.abc import Callable

from leitfaden_core.errors import UnknownName
from leitfaden_core.faults.catalogue import Effect, FaultKind, Parameter, Values, fault_kinds
from leitfaden_core.rigs import Rig
from leitfaden_core.wiring import CIRCUIT_GROUNDED, CIRCUIT_OPEN, CIRCUIT_SHORT_5V

#: Circuit name -> hook of its state. The supply of the meter is a wire of its own.
_SIGNALS = {
    "maf_signal": "circuit_maf",
    "map_signal": "circuit_map",
    "iat": "circuit_iat",
    "ect": "circuit_ect",
    "ho2s_b1s1_signal": "circuit_front",
    "ho2s_b1s2_signal": "circuit_rear",
}
_OHMS = {"maf_signal": "ohms_maf", "map_signal": "ohms_map", "iat": "ohms_iat", "ect": "ohms_ect", "ho2s_b1s1_signal": "ohms_front"}
_OPENABLE = (*_SIGNALS, "maf_supply", "ho2s_b1s1_heater")
#: Sensor that a rig must have for a circuit to exist; circuits not named here are on every rig.
_ON = {"maf_signal": "maf", "maf_supply": "maf", "map_signal": "map", "ho2s_b1s2_signal": "ho2s_b1s2"}
_PROBE = "Probe from the back of the plug; never pierce insulation. Resistance only with the key off."


def circuits_of(rig: Rig) -> list[str]:
    """Circuits that a rig has and that can be interrupted."""
    there = {sensor.id for sensor in rig.sensors}
    heated = rig.oxygen_sensors.heater_rise > 0
    return [name for name in _OPENABLE if _ON.get(name, "") in {"", *there} and (heated or name != "ho2s_b1s1_heater")]


def _circuit_on(values: Values, rig: Rig) -> str:
    """The chosen circuit, when the rig has it."""
    circuit, known = str(values["circuit"]), circuits_of(rig)
    if circuit not in known:
        raise UnknownName("circuit", circuit, known, where=f"on rig {rig.id}")
    return circuit


def _state(state: int) -> Callable[[Values, Rig], list[Effect]]:
    def effects(values: Values, rig: Rig) -> list[Effect]:
        circuit = _circuit_on(values, rig)
        if circuit == "maf_supply":
            return [Effect("maf_supply_open", "set", 1.0)]
        if circuit == "ho2s_b1s1_heater":
            return [Effect("front_heater", "set", 0.0)]
        return [Effect(_SIGNALS[circuit], "set", float(state))]

    return effects


def _circuits(names: tuple[str, ...]) -> Parameter:
    return Parameter("circuit", "circuit", choices=names)


fault_kinds.register(
    FaultKind(
        "connector_intermittent",
        "Connector with a loose contact",
        "circuit",
        "The connection opens for short times at random instants.",
        "maf",
        (
            _circuits(_OPENABLE),
            Parameter("gap_ms", "open each time", "ms", 10.0, 2000.0, (30.0, 150.0, 400.0)),
            Parameter("rate_per_min", "how often", "1/min", 0.5, 120.0, (6.0, 15.0, 40.0)),
        ),
        _state(CIRCUIT_OPEN),
        "Renew the terminal, restore its spring force and the strain relief.",
        (_PROBE,),
        "Wiggle the plug while recording fast enough: the gap follows the hand.",
        pulses=lambda values: (float(values["gap_ms"]) / 1000.0, float(values["rate_per_min"])),
    )
)
fault_kinds.register(
    FaultKind(
        "signal_open",
        "Wire interrupted",
        "circuit",
        "The wire is broken; the pin shows what the control unit pulls it to.",
        "maf",
        (_circuits(_OPENABLE),),
        _state(CIRCUIT_OPEN),
        "Repair the wire with a crimp and seal of the right kind.",
        (_PROBE,),
        "Voltage at both ends of the wire.",
    )
)
fault_kinds.register(
    FaultKind(
        "signal_short_to_ground",
        "Signal wire touches ground",
        "circuit",
        "The pin lies at ground potential.",
        "maf",
        (_circuits(tuple(_SIGNALS)),),
        _state(CIRCUIT_GROUNDED),
        "Repair the chafed place and its protection.",
        (_PROBE,),
        "Resistance to ground, sensor and control unit unplugged.",
    )
)
fault_kinds.register(
    FaultKind(
        "signal_short_to_5v",
        "Signal wire touches the 5 V reference",
        "circuit",
        "The pin lies at the reference.",
        "maf",
        (_circuits(tuple(_SIGNALS)),),
        _state(CIRCUIT_SHORT_5V),
        "Repair the chafed place and its protection.",
        (_PROBE,),
        "Voltage at the unplugged signal wire.",
    )
)
fault_kinds.register(
    FaultKind(
        "series_resistance",
        "Resistance in a signal wire",
        "circuit",
        "Corrosion in a plug adds resistance to the signal path.",
        "ect",
        (_circuits(tuple(_OHMS)), Parameter("ohms", "resistance", "ohm", 10.0, 100000.0, (100.0, 500.0, 2000.0))),
        lambda values, rig: [Effect(_OHMS[_circuit_on(values, rig)], "add", float(values["ohms"]))],
        "Clean or renew the terminals.",
        (_PROBE,),
        "Voltage drop over the plug with the circuit working.",
    )
)
