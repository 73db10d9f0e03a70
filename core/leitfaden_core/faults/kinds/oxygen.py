"""Faults of oxygen sensors, of the gas they sense, and of the catalyst."""

from leitfaden_core.engine.air_path import HOLE_COEFFICIENT
from leitfaden_core.errors import UnknownName
from leitfaden_core.faults.catalogue import (
    BANK,
    Effect,
    FaultKind,
    Leads,
    Parameter,
    Values,
    fault_kinds,
    in_second_bank,
)
from leitfaden_core.rigs import Rig
from leitfaden_core.words import say

_HOT = "Exhaust and sensor are hot; work on them when they have cooled down."


#: Sensor in the vocabulary -> wire of its heater, feature that a rig must have.
_HEATERS = {
    "b1s1": ("front_heater", "heated_front", "ho2s_b1s1"),
    "b1s2": ("rear_heater", "ho2s_b1s2", "ho2s_b1s2"),
    "wideband": ("wideband_heater", "wideband", "wideband"),
}


def _heater(values: Values, rig: Rig) -> list[Effect]:
    wire, needs, sensor = _HEATERS[str(values["sensor"])]
    if needs not in rig.features or sensor not in rig.features:
        known = [name for name, (_w, n, s) in _HEATERS.items() if n in rig.features and s in rig.features]
        raise UnknownName("heated sensor", str(values["sensor"]), known, where=say("on rig {id}", id=rig.id))
    return [Effect(f"element_{wire}", "set", 0.0)]


def _exhaust_leak(values: Values, rig: Rig) -> list[Effect]:
    hook = "exhaust_leak_second" if in_second_bank("exhaust_leak_before_sensor", values, rig) else "exhaust_leak_area"
    return [Effect(hook, "add", float(values["area_mm2"]) * 1e-6 * HOLE_COEFFICIENT)]


fault_kinds.register(
    FaultKind(
        "ho2s_slow",
        "Front oxygen sensor slow",
        group="oxygen",
        meaning="Aged or sooted element: an additional lag in both directions.",
        place="ho2s_b1s1",
        parameters=(Parameter("tau_s", "additional lag", unit="s", low=0.05, high=3.0, steps=(0.2, 0.5, 1.2)),),
        effects=lambda values, rig: [Effect("front_lag", "set", float(values["tau_s"]))],
        repair="Renew the sensor; find out what sooted or poisoned it.",
        cautions=(_HOT,),
        proof="Crossings per second at 2500 rpm too few, edges too slow, trims and mixture right on average.",
        needs="ho2s_b1s1",
        part="front oxygen sensor",
        prior=2.0,
    )
)
fault_kinds.register(
    FaultKind(
        "ho2s_stuck",
        "Front oxygen sensor signal stuck",
        group="oxygen",
        meaning="The sensor gives one voltage whatever the gas is: dead cell, fouled element.",
        place="ho2s_b1s1",
        parameters=(Parameter("volts", "signal", unit="V", low=0.0, high=1.0, steps=(0.3, 0.1, 0.85)),),
        effects=lambda values, rig: [Effect("front_stuck", "set", float(values["volts"]))],
        repair="Renew the sensor after its circuit has been proven.",
        cautions=(_HOT,),
        proof="Force the mixture rich and lean: a sound sensor answers within a second, this one does not.",
        needs="ho2s_b1s1",
        part="front oxygen sensor",
        prior=1.0,
        # Below the middle the loop enriches, above it leans out: nothing lies between.
        ways=lambda chosen, rig: [[{"volts": v} for v in side] for side in ((0.1, 0.3, 0.44), (0.47, 0.65, 0.85))],
    )
)
fault_kinds.register(
    FaultKind(
        "ho2s_heater_open",
        "Oxygen sensor heater open",
        group="oxygen",
        meaning="The heating element is burnt through: the sensor wakes late and may fall asleep at long idle.",
        place="ho2s_b1s1",
        parameters=(
            Parameter(
                "sensor",
                "sensor",
                choices=tuple(_HEATERS),
                called={"b1s1": "HO2S 1/1", "b1s2": "HO2S 1/2", "wideband": "wideband sensor"},
            ),
        ),
        effects=_heater,
        repair="Restore fuse, wiring or renew the sensor.",
        cautions=(_HOT,),
        proof="Heater resistance and supply at the plug.",
        part="{sensor}",
        prior=2.0,
        measured_by=("meter.ho2s_{sensor}_heater", "meter.{sensor}_heater"),
    )
)
fault_kinds.register(
    FaultKind(
        "ho2s_ground_loose",
        "Signal ground of the front oxygen sensor lifted",
        group="oxygen",
        meaning="The sensor's ground lies above the control unit's: the reading is too high by that voltage.",
        place="ho2s_b1s1",
        parameters=(Parameter("volts", "lift", unit="V", low=0.02, high=1.0, steps=(0.1, 0.2, 0.35)),),
        effects=lambda values, rig: [Effect("front_ground", "add", float(values["volts"]))],
        repair="Clean and tighten the ground.",
        cautions=(_HOT,),
        proof="Voltage drop from the sensor's ground to battery minus with the engine running.",
        needs="ho2s_b1s1",
        prior=0.7,
        measured_by=("meter.grounds",),
    )
)
fault_kinds.register(
    FaultKind(
        "ho2s_ref_air_polluted",
        "Reference air of the front oxygen sensor polluted",
        group="oxygen",
        meaning="Exhaust or water on the reference side lowers the output, below zero at worst.",
        place="ho2s_b1s1",
        parameters=(Parameter("volts", "lowered by", unit="V", low=0.02, high=1.0, steps=(0.1, 0.25, 0.5)),),
        effects=lambda values, rig: [Effect("front_offset", "add", -float(values["volts"]))],
        repair="Renew the sensor, keep its breathing path clear.",
        cautions=(_HOT,),
        proof="A negative voltage on a sound circuit.",
        needs="ho2s_b1s1",
        part="front oxygen sensor",
        prior=0.7,
    )
)
fault_kinds.register(
    FaultKind(
        "secondary_air_stuck_on",
        "Air pump not diverted",
        group="oxygen",
        meaning=(
            "The diverter valve goes on letting the pump blow into the exhaust when warm: the sensor sees oxygen "
            "that the cylinders did not leave."
        ),
        place="ho2s_b1s1",
        parameters=(
            Parameter(
                "share",
                "share of the pump's air",
                unit="-",
                low=0.05,
                high=1.0,
                steps=(0.3, 0.6, 1.0),
                words="{percent:.3g} % of the pump's air",
            ),
        ),
        effects=lambda values, rig: [Effect("air_undiverted", "max", float(values["share"]))],
        repair="Renew the diverter valve or its hose; reset the learned trims.",
        cautions=(_HOT,),
        proof="Close off the hose of the air pump: the sensor wakes to rich at once and the trims fall.",
        needs="secondary_air",
        part="air pump diverter valve",
        hose="air pump hose",
        prior=1.0,
    )
)
fault_kinds.register(
    FaultKind(
        "exhaust_leak_before_sensor",
        "Exhaust leak before the front oxygen sensor",
        group="oxygen",
        meaning=(
            "Outside air is drawn in between pulses at low flow: the sensor sees oxygen that the cylinders did "
            "not leave."
        ),
        place="ho2s_b1s1",
        parameters=(Parameter("area_mm2", "opening", unit="mm²", low=0.5, high=150.0, steps=(2.0, 5.0, 10.0)), BANK),
        effects=_exhaust_leak,
        repair="Renew gasket or manifold.",
        cautions=(_HOT, "Exhaust gas is poisonous: run engines only with exhaust extraction."),
        proof="Trims high at idle only, and soot or sound at the leak.",
        needs="trims",
        part="exhaust gasket",
        look="A trace of soot at the flange before the sensor.",
        prior=2.0,
        leads_to=(Leads("ho2s_contaminated", "false lean lets the trims enrich"),),
    )
)
fault_kinds.register(
    FaultKind(
        "catalyst_worn",
        "Catalyst worn",
        group="oxygen",
        meaning="The catalyst has lost oxygen storage: the rear sensor begins to follow the front one.",
        place="ho2s_b1s2",
        parameters=(
            Parameter(
                "storage_ratio",
                "storage relative to a sound catalyst",
                unit="-",
                low=0.0,
                high=0.99,
                steps=(0.4, 0.15, 0.03),
                words="stores {percent:.3g} % of what a sound catalyst does",
                neutral=1.0,
            ),
        ),
        usual_with="ho2s_b1s2",
        effects=lambda values, rig: [Effect("catalyst_share", "multiply", max(float(values["storage_ratio"]), 0.001))],
        repair="Renew the catalyst after the cause (misfire, oil, rich running) has been cured.",
        cautions=(_HOT,),
        proof="Rear sensor switches with the front one at steady cruise, with a tight exhaust.",
        needs="catalyst",
        part="catalyst",
        prior=1.5,
        leads_to=(Leads("exhaust_restricted", "molten or broken substrate blocks the way"),),
    )
)

#: What settles on an element: how far it slows it [s], what it leaves of its voltage, and how it looks when it is taken
#: out.
DEPOSITS = {
    "soot": (0.35, 0.97, "dry and black"),
    "oil": (0.25, 0.88, "black and oily, later grey crust"),
    "silicone": (0.60, 0.80, "white and shiny"),
    "coolant": (0.45, 0.84, "white to greenish, crystalline"),
    "lead": (0.30, 0.62, "dull grey to metallic"),
}


def _deposit(values: Values, rig: Rig) -> list[Effect]:
    lag, gain, _look = DEPOSITS[str(values["deposit"])]
    share = float(values["share"])
    return [Effect("front_lag", "add", lag * share), Effect("front_gain", "multiply", 1.0 - (1.0 - gain) * share)]


fault_kinds.register(
    FaultKind(
        "ho2s_contaminated",
        "Front oxygen sensor contaminated",
        group="oxygen",
        meaning=(
            "A deposit closes the pores of the protective layer: the sensor slows down and reaches less. It "
            "reports what happened to the engine."
        ),
        place="ho2s_b1s1",
        parameters=(
            Parameter("deposit", "deposit", choices=tuple(DEPOSITS)),
            Parameter(
                "share",
                "how far",
                unit="-",
                low=0.1,
                high=1.5,
                steps=(0.3, 0.7, 1.2),
                words="{percent:.3g} % of the way",
            ),
        ),
        effects=_deposit,
        repair="Find and cure the origin first (oil, coolant, unsuitable sealant, leaded fuel), then renew the sensor.",
        cautions=(_HOT,),
        proof="Look at the tip; slow edges and a low top voltage at full load.",
        needs="ho2s_b1s1",
        part="front oxygen sensor",
        look="The tip of the oxygen sensor carries a deposit ({deposit}).",
        prior=1.5,
        leads_to=(Leads("ho2s_slow", "a covered element answers late"),),
    )
)
fault_kinds.register(
    FaultKind(
        "ho2s_low_output",
        "Front oxygen sensor reaches too little",
        group="oxygen",
        meaning="Age lowers the voltage in rich gas; at idle the sensor still swings.",
        place="ho2s_b1s1",
        parameters=(
            Parameter(
                "gain",
                "voltage / sound voltage",
                unit="-",
                low=0.4,
                high=0.99,
                steps=(0.9, 0.8, 0.7),
                words="gives {percent:.3g} % of a sound voltage",
                neutral=1.0,
            ),
        ),
        effects=lambda values, rig: [Effect("front_gain", "multiply", float(values["gain"]))],
        repair="Renew the sensor.",
        cautions=(_HOT,),
        proof="Top voltage at full load or with forced enrichment below about 0.8 V.",
        needs="ho2s_b1s1",
        part="front oxygen sensor",
        prior=1.0,
    )
)
fault_kinds.register(
    FaultKind(
        "ho2s_loose",
        "One-wire oxygen sensor loose in its thread",
        group="oxygen",
        meaning=(
            "The thread is its ground: without firm contact it gives less, and outside air that gets in at its "
            "tip makes it show lean, so that the trims climb."
        ),
        place="ho2s_b1s1",
        parameters=(),
        # Rust leaves some contact; the gap at the seat lies right before the element.
        effects=lambda values, rig: [Effect("ohms_front", "add", 5e3), Effect("exhaust_leak_area", "add", 4e-5)],
        repair="Seat the washer and tighten the sensor to its torque; nothing is to be renewed.",
        cautions=(_HOT,),
        proof="Resistance from the sensor's hexagon to battery minus; the signal returns when it is tightened.",
        needs="unheated_front",
        look="The oxygen sensor can be turned by hand.",
        prior=0.7,
        measured_by=("look.exhaust and its sensors",),
        leads_to=(Leads("ho2s_contaminated", "air at the thread lets the trims enrich until everything is black"),),
    )
)
fault_kinds.register(
    FaultKind(
        "wideband_shifted",
        "Wideband characteristic shifted",
        group="oxygen",
        meaning="The sensor shows a lambda that differs from that of the gas by this much.",
        place="wideband",
        parameters=(
            Parameter(
                "delta_lambda",
                "added to lambda",
                unit="-",
                low=-0.2,
                high=0.2,
                steps=(0.03, 0.06, -0.06),
                words="λ {value:+g}",
            ),
        ),
        effects=lambda values, rig: [Effect("wideband_shift", "add", float(values["delta_lambda"]))],
        repair="Renew the sensor after exhaust leaks and its wiring have been ruled out.",
        cautions=(_HOT,),
        proof="Lambda from a five-gas analysis against the shown one; the rear sensor disagrees as well.",
        needs="wideband",
        part="wideband sensor",
        prior=1.0,
    )
)
fault_kinds.register(
    FaultKind(
        "wideband_unstable",
        "Wideband signal unstable",
        group="oxygen",
        meaning="The control of the pump current does not come to rest: lambda swings although the load is steady.",
        place="wideband",
        parameters=(
            Parameter(
                "swing",
                "swing of lambda (standard deviation)",
                unit="-",
                low=0.01,
                high=0.3,
                steps=(0.04, 0.08, 0.15),
                words="λ swings by {value:g}",
            ),
        ),
        effects=lambda values, rig: [Effect("wideband_noise", "max", float(values["swing"]))],
        repair="Check its grounds and plug, renew the sensor.",
        cautions=(_HOT,),
        proof="Lambda at steady hot idle beyond ±0.03 with steady trims before.",
        needs="wideband",
        part="wideband sensor",
        prior=0.7,
    )
)
fault_kinds.register(
    FaultKind(
        "wideband_slow",
        "Wideband sensor slow",
        group="oxygen",
        meaning="Deposits on the diffusion passage delay the reading.",
        place="wideband",
        parameters=(Parameter("tau_s", "additional lag", unit="s", low=0.05, high=3.0, steps=(0.3, 0.8, 1.5)),),
        effects=lambda values, rig: [Effect("wideband_lag", "add", float(values["tau_s"]))],
        repair="Renew the sensor; find out what sooted it.",
        cautions=(_HOT,),
        proof="Time from fuel cut to lambda 2.",
        needs="wideband",
        part="wideband sensor",
        prior=1.0,
    )
)
