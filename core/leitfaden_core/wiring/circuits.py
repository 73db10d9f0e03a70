"""The circuits of the rigs, by the names that cases and lessons use: what hangs on each, and which rigs have it."""

from dataclasses import KW_ONLY, dataclass
from typing import Literal

from leitfaden_core.rigs import Rig
from leitfaden_core.rigs.document import FIVE_VOLT


@dataclass(frozen=True)
class Circuit:
    """One circuit.

    ``wire`` is its name among the simulator's hooks, ``needs`` a feature of the rig (see Rig.features), ``sensor``
    whose it is, where that is called otherwise than what the circuit needs. ``beside`` is the signal wire in whose plug
    a supply or heater lies.
    """

    id: str
    label: str
    wire: str
    kind: Literal["signal", "supply", "heater", "actuator", "reference", "ground"]
    needs: str
    sensor: str = ""
    _: KW_ONLY
    beside: str = ""

    @property
    def plug(self) -> str:
        """What the joints of its plug are called alike."""
        return self.beside or self.wire

    def element(self, rig: Rig) -> Literal["electronics", "potentiometer"]:
        """What a three-wire sensor on the reference is inside: a wiper on a track wherever a shaft is read by a
        contact, as on a throttle with a cable and on an EGR valve.
        """
        wiper = self.wire == "egr" or (self.wire == "tp" and not rig.control.electronic_throttle)
        return "potentiometer" if wiper else "electronics"

    @property
    def shared(self) -> bool:
        """Whether several sensors hang on it."""
        return self.kind in {"reference", "ground"}

    @property
    def on_reference(self) -> bool:
        """Whether the 5 V reference supplies what hangs on this wire."""
        return self.kind == "signal" and (self.sensor or self.needs) in FIVE_VOLT


CIRCUITS: dict[str, Circuit] = {
    circuit.id: circuit
    for circuit in (
        Circuit("maf_signal", "MAF signal", "maf", "signal", "maf"),
        Circuit("maf_supply", "MAF supply", "maf_supply", "supply", "maf", beside="maf"),
        Circuit("map_signal", "MAP signal", "map", "signal", "map"),
        Circuit("charge_signal", "charge pressure signal", "charge", "signal", "charge"),
        Circuit("ambient_signal", "barometric pressure signal", "ambient", "signal", "ambient_wire", "baro"),
        Circuit("tp_signal", "TP signal", "tp", "signal", "tp"),
        Circuit("iat", "IAT", "iat", "signal", "iat"),
        Circuit("ect", "ECT", "ect", "signal", "ect"),
        Circuit("egt_1", "EGT 1", "egt_1", "signal", "egt_1"),
        Circuit("egt_2", "EGT 2", "egt_2", "signal", "egt_2"),
        Circuit("ho2s_b1s1_signal", "HO2S 1/1 signal", "front", "signal", "ho2s_b1s1"),
        Circuit("ho2s_b2s1_signal", "HO2S 2/1 signal", "front2", "signal", "ho2s_b2s1"),
        Circuit(
            "ho2s_b1s1_heater", "HO2S 1/1 heater", "front_heater", "heater", "heated_front", "ho2s_b1s1", beside="front"
        ),
        Circuit("ho2s_b1s2_signal", "HO2S 1/2 signal", "rear", "signal", "ho2s_b1s2"),
        Circuit("ho2s_b1s2_heater", "HO2S 1/2 heater", "rear_heater", "heater", "ho2s_b1s2", beside="rear"),
        Circuit("wideband", "wideband sensor", "wideband", "signal", "wideband"),
        Circuit("wideband_heater", "wideband heater", "wideband_heater", "heater", "wideband", beside="wideband"),
        Circuit("rail_signal", "rail pressure signal", "rail", "signal", "rail"),
        Circuit("dpf_dp_signal", "filter pressure drop signal", "dpf_dp", "signal", "dpf_dp"),
        Circuit("egr_signal", "EGR position signal", "egr", "signal", "egr_sensor", "egr"),
        Circuit("egr_dp_signal", "EGR pressure drop signal", "egr_dp", "signal", "egr_dp"),
        Circuit("app_signal", "APP first track", "app", "signal", "app"),
        Circuit("purge_valve", "purge valve", "purge", "actuator", "purge"),
        Circuit("ref_5v", "5 V reference", "reference", "reference", ""),
        Circuit("sensor_ground", "sensor ground", "sensor_ground", "ground", ""),
        Circuit("engine_ground", "engine ground", "engine_ground", "ground", ""),
    )
}


def circuits_of(rig: Rig, *kinds: str) -> list[str]:
    """Names of the circuits that a rig has, of these kinds or of all."""
    return [c.id for c in CIRCUITS.values() if c.needs in {"", *rig.features} and (not kinds or c.kind in kinds)]


def circuits_of_kind(*kinds: str, five_volt: bool = False) -> tuple[str, ...]:
    """Names of all circuits of these kinds, on whatever rig;

    ``five_volt``: only those of sensors on the 5 V reference.
    """
    return tuple(c.id for c in CIRCUITS.values() if c.kind in kinds and (not five_volt or c.on_reference))
