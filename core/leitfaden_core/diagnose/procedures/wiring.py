"""The multimeter at plugs, wires, heaters, grounds and supplies."""

from functools import cache

from leitfaden_core.diagnose.procedures.base import (
    DiagnosticTest,
    Examined,
    Outcome,
    drop,
    log_ohms,
    ohms,
    volt,
)
from leitfaden_core.instruments.kinds.electrical import injector_peak, injectors_together
from leitfaden_core.instruments.vehicle import Vehicle
from leitfaden_core.rigs import Rig
from leitfaden_core.simulate.pins import network_at
from leitfaden_core.wiring.circuits import CIRCUITS, circuits_of
from leitfaden_core.wiring.joints import joint_word
from leitfaden_core.wiring.network import GROUND
from leitfaden_core.words import say


def wiring_tests(rig: Rig) -> list[DiagnosticTest]:
    found = []
    for name in circuits_of(rig, "signal"):
        wire = CIRCUITS[name].wire
        found.append(_plug_test(rig, name, wire))
        found.append(_plug_off_test(rig, name, wire))
    for name in circuits_of(rig, "heater"):
        found.append(_heater_test(name, CIRCUITS[name].plug))
    if "maf_supply" in circuits_of(rig):
        found.append(
            DiagnosticTest(
                "meter.maf_supply",
                "Multimeter: supply at the airflow meter, idling and at full load",
                instrument="multimeter",
                place="maf.supply/maf.power ground",
                condition="wot_pull",
                outcomes=(volt("supply idling", 0.1), volt("supply at full load", 0.1)),
                read=lambda car: [
                    car.vehicle.run(c).statistic(c, "maf_supply_v", "mean") for c in ("hot_idle", "wot_pull")
                ],
                uses=2.0,
            )
        )
    found.append(_grounds_test(rig))
    if "petrol_rail" in rig.features:
        found.append(
            DiagnosticTest(
                "clamp.injectors",
                "Current clamp: injectors' common supply, idling",
                instrument="current_clamp",
                place="common supply of the injectors",
                condition="hot_idle",
                outcomes=(
                    Outcome(
                        "peak current", quantity="current", spread=0.05 * injectors_together(rig), error=0.03, step=0.05
                    ),
                ),
                read=lambda car: [injector_peak(car.vehicle, "hot_idle")],
            )
        )
    found += [_valve_test(name) for name in circuits_of(rig, "actuator")]
    return [*found, _reference_test(rig)]


def _grounds_test(rig: Rig) -> DiagnosticTest:
    """What grounds and supplies that several parts share are against battery minus while current flows, and the ground
    of a narrowband, which carries its signal. The starter's current shows most of what the engine's ground is worth,
    also on an engine that does not start.
    """
    nodes = {
        "sensor ground": drop("sensor ground", 0.005),
        "engine block": volt("engine block", 0.03),
        "reference": volt("5 V reference"),
        "battery plus": volt("battery", 0.15),
    }
    if "ho2s_b1s1" in rig.features:
        nodes["front.ground"] = drop("ground of the front oxygen sensor", 0.01)

    def read(car: Examined) -> list[float]:
        volts = car.volts("hot_idle")
        # A sensor without a ground wire returns over its thread.
        running = [volts.get(node, volts["engine block"] if node == "front.ground" else 0.0) for node in nodes]
        return [*running, car.volts("crank")["engine block"]]

    return DiagnosticTest(
        "meter.grounds",
        "Multimeter: voltage drop of grounds and engine block, running and cranking",
        instrument="multimeter",
        place="sensor ground/battery minus",
        condition="hot_idle",
        outcomes=(*nodes.values(), volt("engine block, cranking", 0.05)),
        read=read,
        uses=2.0,
        of_shared=True,
    )


def _valve_test(name: str) -> DiagnosticTest:
    """The coil and the control wire of a valve, plug off and key off."""
    wire = CIRCUITS[name].wire

    def read(car: Examined) -> list[float]:
        dead = network_at(car.day, car.vehicle.moment("koeo"), frozenset({wire}), True)
        pairs = [
            (f"{wire}.sensor.plus", f"{wire}.sensor.minus"),
            (f"{wire}.minus", f"unit.{wire}"),
            (f"{wire}.minus", GROUND),
        ]
        return [log_ohms(found) for found in dead.resistances(pairs)]

    return DiagnosticTest(
        f"plug_off.{name}",
        say("Multimeter: plug of the {label} off, coil and wire resistances", label=CIRCUITS[name].label),
        instrument="multimeter",
        place=f"{wire}.minus/{GROUND}",
        condition="koeo",
        outcomes=(ohms(say("coil")), ohms("wire through"), ohms("wire to ground")),
        read=read,
        uses=3.0,
    )


def _reference_test(rig: Rig) -> DiagnosticTest:
    """The shared reference with all sensors plugged, while they are unplugged one after the other, then all off: with
    whose plug does it return?
    """
    names = [name for name in circuits_of(rig, "signal") if CIRCUITS[name].on_reference]

    def read(car: Examined) -> list[float]:
        plugged = car.volts("koeo")["reference"]
        off = [car.vehicle.with_plug_off(name).network("koeo").solve()["reference"] for name in names]
        dead = car.vehicle.with_plug_off(*names).network("koeo", key_off=True)
        return [plugged, *off, log_ohms(dead.ohms("reference", GROUND))]

    return DiagnosticTest(
        "unplug.reference",
        "Multimeter: 5 V reference, its sensors unplugged one after the other",
        instrument="multimeter",
        place=f"reference/{GROUND}",
        condition="koeo",
        outcomes=(
            volt("reference, all plugged", 0.03),
            *(
                volt(
                    say("reference, plug of the {label} off", label=CIRCUITS[name].label),
                    0.03,
                )
                for name in names
            ),
            ohms("reference to ground, all unplugged"),
        ),
        read=read,
        uses=1.0 + len(names),
        of_shared=True,
    )


def _plug_test(rig: Rig, name: str, wire: str) -> DiagnosticTest:
    """At the plug of a sensor with key on: supply, ground and signal where there are such pins, and the signal at the
    control unit.
    """
    roles = ("supply", "signal", "ground") if wire not in {"wideband"} else ("pump", "sensing", "return")
    nodes = [f"{wire}.{role}" for role in roles] + [f"unit.{wire}" if wire != "wideband" else "unit.wideband pump"]
    sound = _sound_nodes(rig)
    known = [node for node in nodes if node in sound]
    # A thermistor's volts follow the day's weather, an oxygen cell's what is left of the last drive.
    spread = 0.06 if wire in {"iat", "ect", "front", "front2", "rear"} else 0.03
    return DiagnosticTest(
        f"meter.{name}",
        say("Multimeter: plug of the {label} wire, key on", label=CIRCUITS[name].label),
        instrument="multimeter",
        place=f"{known[0]}/{GROUND}",
        condition="koeo",
        outcomes=tuple(volt(joint_word(rig, node), spread) for node in known),
        read=lambda car: [car.volts("koeo").get(node, 0.0) for node in known],
        uses=2.0,
    )


def _plug_off_test(rig: Rig, name: str, wire: str) -> DiagnosticTest:
    signal, ground = (
        (f"{wire}.signal", f"{wire}.ground") if wire != "wideband" else ("wideband.pump", "wideband.return")
    )
    unit = f"unit.{wire}" if wire != "wideband" else "unit.wideband pump"
    sound = _sound_nodes(rig)
    grounded = ground if ground in sound else "engine block"

    def read(car: Examined) -> list[float]:
        dead = car.network("koeo", plugs_off=True, key_off=True)
        through, to_ground, back = dead.resistances([(signal, unit), (signal, GROUND), (grounded, GROUND)])
        return [
            car.volts("koeo", plugs_off=True).get(signal, 0.0),
            *(log_ohms(found) for found in (through, to_ground, back)),
        ]

    return DiagnosticTest(
        f"plug_off.{name}",
        say("Multimeter: plug of the {label} wire off, volts and wire resistances", label=CIRCUITS[name].label),
        instrument="multimeter",
        place=f"{signal}/{GROUND}",
        condition="koeo",
        outcomes=(
            volt("signal wire, plug off"),
            ohms("wire through"),
            ohms("wire to ground"),
            ohms("ground wire"),
        ),
        read=read,
        uses=3.0,
    )


def _heater_test(name: str, element: str) -> DiagnosticTest:
    def read(car: Examined) -> list[float]:
        dead = network_at(car.day, car.vehicle.moment("hot_idle"), frozenset({element}), True)
        volts = car.volts("hot_idle")
        element_ohms = dead.ohms(f"{element}.sensor.heater plus", f"{element}.sensor.heater minus")
        return [log_ohms(element_ohms), volts[f"{element}.heater plus"], volts[f"{element}.heater minus"]]

    return DiagnosticTest(
        f"meter.{name}",
        say("Multimeter: {label}, element and supply", label=CIRCUITS[name].label),
        instrument="multimeter",
        place=f"{element}.heater plus/{GROUND}",
        condition="hot_idle",
        outcomes=(
            ohms(say("element"), 0.06, 0.02),
            volt("heater plus, running", 0.15),
            volt("heater minus, running", 0.15),
        ),
        read=read,
        uses=3.0,
    )


@cache
def _sound_nodes(rig: Rig) -> frozenset[str]:
    return frozenset(Vehicle(rig).network("koeo").nodes())
