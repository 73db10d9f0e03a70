"""Faults of turbocharging and of exhaust recirculation."""

from leitfaden_core.engine.air_path import HOLE_COEFFICIENT
from leitfaden_core.faults.catalogue import Effect, FaultKind, Leads, Parameter, fault_kinds

_HOT = "Turbocharger and exhaust are hot; let them cool, and keep clothes and leads away."
_HOSE = "A charge hose under pressure can fly off: never look into it or hold it while the engine is loaded."

fault_kinds.register(
    FaultKind(
        "boost_leak",
        "Leak on the charge side",
        "turbo",
        "Compressed air escapes between compressor and engine; a hose may open only under pressure.",
        "charge",
        (
            Parameter("area_mm2", "opening", "mm²", 5.0, 4000.0, (100.0, 400.0, 1200.0)),
            Parameter("opens_above_kPa", "opens above", "kPa", 0.0, 150.0, (0.0, 20.0, 40.0), optional=True),
        ),
        lambda values, rig: [
            Effect("boost_leak_area", "add", float(values["area_mm2"]) * 1e-6 * HOLE_COEFFICIENT),
            Effect("boost_leak_opens", "max", float(values.get("opens_above_kPa", 0.0)) * 1000.0),
        ],
        "Renew hose, clamp or cooler.",
        (_HOSE,),
        "Regulated air into the plugged inlet at the pressure of driving, with soapy water; smoke at low pressure misses a hose that opens late.",
        needs="turbo",
        part="charge hoses",
        hose="charge pipe",
        look="Oil mist at a joint of the charge pipe.",
        prior=3.0,
        leads_to=(Leads("exhaust_restricted", "soot fills the particle filter"),),
    )
)
fault_kinds.register(
    FaultKind(
        "wastegate_stuck",
        "Wastegate stuck",
        "turbo",
        "The gate does not move from this opening.",
        "charge",
        (Parameter("opening_percent", "opening", "%", 0.0, 100.0, (30.0, 100.0, 0.0)),),
        lambda values, rig: [Effect("wastegate_stuck", "set", float(values["opening_percent"]) / 100.0)],
        "Free or renew the gate and its actuator.",
        (_HOT, "A gate that stays shut lets the charge rise beyond what the engine bears: no full load."),
        "Pressure on the actuator: the rod must move and return.",
        needs="wastegate",
        part="wastegate",
        look="The flap of the wastegate does not follow its rod or a pump on its actuator.",
        prior=1.0,
    )
)
fault_kinds.register(
    FaultKind(
        "wastegate_hose_leak",
        "Hose to the wastegate actuator leaks",
        "turbo",
        "The actuator gets only part of the charge pressure, so the gate opens late: too much charge.",
        "charge",
        (
            Parameter(
                "fraction",
                "share of the pressure lost",
                "-",
                0.05,
                1.0,
                (0.2, 0.5, 1.0),
                words="{percent:.3g} % of the pressure lost",
            ),
        ),
        lambda values, rig: [Effect("wastegate_hose", "max", float(values["fraction"]))],
        "Renew the hose.",
        (_HOT, _HOSE),
        "A hand pump on the hose does not hold.",
        needs="wastegate",
        part="wastegate hose",
        look="The hose to the wastegate actuator is cracked.",
        prior=1.0,
    )
)
fault_kinds.register(
    FaultKind(
        "recirculation_valve_stuck_closed",
        "Compressor recirculation valve stays closed",
        "turbo",
        "When the throttle shuts, the compressed air has nowhere to go: a pressure spike, and flutter.",
        "charge",
        (),
        lambda values, rig: [Effect("recirculation_shut", "set", 1.0)],
        "Renew the valve or its vacuum hose.",
        (_HOSE,),
        "Charge pressure in the half second after lifting; a hand pump on the valve.",
        needs="recirculation_valve",
        part="recirculation valve",
        prior=1.0,
    )
)
fault_kinds.register(
    FaultKind(
        "recirculation_valve_torn",
        "Compressor recirculation valve torn",
        "turbo",
        "Its diaphragm lets compressed air back to the inlet all the time: charge never builds.",
        "charge",
        (Parameter("opening_percent", "opening", "%", 5.0, 100.0, (30.0, 60.0, 100.0)),),
        lambda values, rig: [Effect("recirculation_torn", "max", float(values["opening_percent"]) / 100.0)],
        "Renew the valve.",
        (_HOSE,),
        "A hand pump on the valve does not hold.",
        needs="recirculation_valve",
        part="recirculation valve",
        hose="recirculation hose",
        prior=1.0,
    )
)
fault_kinds.register(
    FaultKind(
        "vgt_stuck",
        "Turbine vanes stuck",
        "turbo",
        "The variable vanes do not move.",
        "charge",
        (Parameter("position_percent", "position, 0 open, 100 closed", "%", 0.0, 100.0, (30.0, 0.0, 100.0)),),
        lambda values, rig: [Effect("vanes_stuck", "set", float(values["position_percent"]) / 100.0)],
        "Clean or renew turbine and actuator.",
        (_HOT,),
        "Actuator test: the rod must follow its command.",
        needs="vanes",
        part="turbocharger",
        look="The lever of the vanes does not move over its way.",
        prior=1.5,
    )
)
