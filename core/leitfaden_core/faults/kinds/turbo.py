"""Faults of turbocharging and of exhaust recirculation."""

from leitfaden_core.engine.air_path import HOLE_COEFFICIENT
from leitfaden_core.faults.catalogue import Effect, FaultKind, Leads, Parameter, fault_kinds

_HOT = "Turbocharger and exhaust are hot; let them cool, and keep clothes and leads away."
_HOSE = "A charge hose under pressure can fly off: never look into it or hold it while the engine is loaded."
#: Openings of a charge hose. [mm²]
_GAPS = (100.0, 400.0, 1200.0)

fault_kinds.register(
    FaultKind(
        "boost_leak",
        "Leak on the charge side",
        group="turbo",
        meaning="Compressed air escapes between compressor and engine; a hose may open only under pressure.",
        place="charge",
        parameters=(
            Parameter("area_mm2", "opening", unit="mm²", low=5.0, high=4000.0, steps=_GAPS),
            Parameter(
                "opens_above_kPa",
                "opens above",
                unit="kPa",
                low=0.0,
                high=150.0,
                steps=(0.0, 20.0, 40.0),
                optional=True,
                words="opens above {value:g} kPa",
            ),
        ),
        effects=lambda values, rig: [
            Effect("boost_leak_area", "add", float(values["area_mm2"]) * 1e-6 * HOLE_COEFFICIENT),
            Effect("boost_leak_opens", "max", float(values.get("opens_above_kPa", 0.0)) * 1000.0),
        ],
        # A crack that always leaks, and a hose that is tight until the charge presses it open: no smoke tells of that
        # one.
        ways=lambda chosen, rig: [
            [{"area_mm2": area} for area in _GAPS],
            [{"area_mm2": area, "opens_above_kPa": 30.0} for area in _GAPS],
        ],
        repair="Renew hose, clamp or cooler.",
        cautions=(_HOSE,),
        proof=(
            "Regulated air into the plugged inlet at the pressure of driving, with soapy water; smoke at low "
            "pressure misses a hose that opens late."
        ),
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
        group="turbo",
        meaning="The gate does not move from this opening.",
        place="charge",
        parameters=(Parameter("opening_percent", "opening", unit="%", low=0.0, high=100.0, steps=(30.0, 100.0, 0.0)),),
        effects=lambda values, rig: [Effect("wastegate_stuck", "set", float(values["opening_percent"]) / 100.0)],
        repair="Free or renew the gate and its actuator.",
        cautions=(_HOT, "A gate that stays shut lets the charge rise beyond what the engine bears: no full load."),
        proof="Pressure on the actuator: the rod must move and return.",
        needs="wastegate",
        part="wastegate",
        look="The flap of the wastegate does not follow its rod or a pump on its actuator.",
        prior=1.0,
        measured_by=("look.air filter and duct",),
    )
)
fault_kinds.register(
    FaultKind(
        "wastegate_hose_leak",
        "Hose to the wastegate actuator leaks",
        group="turbo",
        meaning="The actuator gets only part of the charge pressure, so the gate opens late: too much charge.",
        place="charge",
        parameters=(
            Parameter(
                "fraction",
                "share of the pressure lost",
                unit="-",
                low=0.05,
                high=1.0,
                steps=(0.2, 0.5, 1.0),
                words="{percent:.3g} % of the pressure lost",
            ),
        ),
        effects=lambda values, rig: [Effect("wastegate_hose", "max", float(values["fraction"]))],
        repair="Renew the hose.",
        cautions=(_HOT, _HOSE),
        proof="A hand pump on the hose does not hold.",
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
        group="turbo",
        meaning="When the throttle shuts, the compressed air has nowhere to go: a pressure spike, and flutter.",
        place="charge",
        parameters=(),
        effects=lambda values, rig: [Effect("recirculation_shut", "set", 1.0)],
        repair="Renew the valve or its vacuum hose.",
        cautions=(_HOSE,),
        proof="Charge pressure in the half second after lifting; a hand pump on the valve.",
        needs="recirculation_valve",
        part="recirculation valve",
        prior=1.0,
    )
)
fault_kinds.register(
    FaultKind(
        "recirculation_valve_torn",
        "Compressor recirculation valve torn",
        group="turbo",
        meaning="Its diaphragm lets compressed air back to the inlet all the time: charge never builds.",
        place="charge",
        parameters=(Parameter("opening_percent", "opening", unit="%", low=5.0, high=100.0, steps=(30.0, 60.0, 100.0)),),
        effects=lambda values, rig: [Effect("recirculation_torn", "max", float(values["opening_percent"]) / 100.0)],
        repair="Renew the valve.",
        cautions=(_HOSE,),
        proof="A hand pump on the valve does not hold.",
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
        group="turbo",
        meaning="The variable vanes do not move.",
        place="charge",
        parameters=(
            Parameter(
                "position_percent",
                "position, 0 open, 100 closed",
                unit="%",
                low=0.0,
                high=100.0,
                steps=(30.0, 0.0, 100.0),
            ),
        ),
        effects=lambda values, rig: [Effect("vanes_stuck", "set", float(values["position_percent"]) / 100.0)],
        repair="Clean or renew turbine and actuator.",
        cautions=(_HOT,),
        proof="Actuator test: the rod must follow its command.",
        needs="vanes",
        part="turbocharger",
        look="The lever of the vanes does not move over its way.",
        prior=1.5,
        measured_by=("look.air filter and duct",),
    )
)
