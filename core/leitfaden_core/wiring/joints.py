"""What people call the joints of the wiring: pins of a plug by its sensor, pins of the control unit by what arrives
there.
"""

from collections.abc import Iterable

from leitfaden_core.rigs import Rig
from leitfaden_core.wiring.circuits import CIRCUITS, circuits_of
from leitfaden_core.words import per_language, say

#: Joints that belong to nothing, or to the control unit as a whole.
SHARED = {
    "reference": "5 V reference, splice in the harness",
    "sensor ground": "sensor ground, splice in the harness",
    "switched plus": "switched plus (ignition on)",
    "unit.5v": "control unit: 5 V reference",
    "unit.ground": "control unit: sensor ground",
    "unit.power ground": "control unit: power ground",
}
#: Ends of the names of those inside a sensor, where no tip can be put.
INSIDE = (".cell", ".output")


def joint_word(rig: Rig, joint: str) -> str:
    """What a joint of a rig's wiring is called.

    >>> from leitfaden_core.rigs import load_rig
    >>> [joint_word(load_rig("R1"), name) for name in ("maf.signal", "unit.maf", "battery plus", "front.cell")]
    ['MAF plug: signal', 'control unit: MAF', 'battery plus', 'inside the sensor']
    """
    if joint in SHARED:
        return say(SHARED[joint])
    if joint.endswith(INSIDE):
        return say("inside the sensor")
    owner, _, pin = joint.partition(".")
    if not pin:
        return say(joint)
    if owner != "unit":
        return say("{sensor} plug: {pin}", sensor=_owners(rig).get(owner, owner), pin=say(pin))
    wire, _, pin = pin.partition(" ")
    sensor = _owners(rig).get(wire, wire)
    return (
        say("control unit: {sensor} {pin}", sensor=sensor, pin=say(pin))
        if pin
        else say("control unit: {sensor}", sensor=sensor)
    )


def pins_of_plug(plug: str, joints: Iterable[str]) -> list[str]:
    """Those joints that are pins of a plug."""
    return [joint for joint in joints if joint.startswith(f"{plug}.") and not joint.endswith(INSIDE)]


@per_language(most=32)
def _owners(rig: Rig) -> dict[str, str]:
    """What hangs on each plug of a rig: a sensor by its term, anything else as its circuit is called."""
    terms = {sensor.id: sensor.term for sensor in rig.sensors}
    found: dict[str, str] = {}
    for circuit in (CIRCUITS[name] for name in circuits_of(rig)):
        term = next((terms[name] for name in (circuit.sensor, circuit.needs) if name in terms), circuit.label)
        found.setdefault(circuit.plug, term)
    return found
