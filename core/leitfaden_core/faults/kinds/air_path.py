"""Leaks and restrictions along the way of the air."""

from collections.abc import Callable

from leitfaden_core.engine.air_path import HOLE_COEFFICIENT
from leitfaden_core.errors import LeitfadenError
from leitfaden_core.faults.catalogue import Effect, FaultKind, Leads, Parameter, Values, fault_kinds
from leitfaden_core.rigs import Rig
from leitfaden_core.words import say

_FIRE = "Use tracer gas or smoke rather than flammable spray near a hot exhaust."
_MOVING = "Keep hands and leads away from belt and fan."


def _hole(hook: str) -> Callable[[Values, Rig], list[Effect]]:
    return lambda values, rig: [Effect(hook, "add", float(values["area_mm2"]) * 1e-6 * HOLE_COEFFICIENT)]


#: Share of a monolith's pressure drop at rated flow that grows with flow rather than with its square (Haimad and
#: Roberts, SAE 2002-01-1010, measured both parts; the share is this model's).
MONOLITH_LINEAR = 0.5


def _exhaust_drop(values: Values, rig: Rig) -> list[Effect]:
    place = str(values["place"])
    needs = {"dpf": "dpf", "catalyst": "catalyst"}.get(place)
    if needs is not None and needs not in rig.features and not (place == "catalyst" and "diesel" in rig.features):
        raise LeitfadenError(
            say("fault exhaust_restricted: rig {id} has no {place}; place can be silencer", id=rig.id, place=place)
        )
    if place != "catalyst":
        return _drop("dpf_extra" if place == "dpf" else "exhaust_extra")(values, rig)
    # Through the narrow channels of a monolith gas creeps, at its ends it must turn: half of the drop grows with flow.
    drop, flow = 1000.0 * float(values["dp_full_kPa"]), rig.air_path.full_flow
    creeps = MONOLITH_LINEAR * drop
    return [Effect("catalyst_linear", "add", creeps / flow), Effect("catalyst_extra", "add", (drop - creeps) / flow**2)]


def _drop(hook: str) -> Callable[[Values, Rig], list[Effect]]:
    def effects(values: Values, rig: Rig) -> list[Effect]:
        return [Effect(hook, "add", float(values["dp_full_kPa"]) * 1000.0 / rig.air_path.full_flow**2)]

    return effects


fault_kinds.register(
    FaultKind(
        "manifold_vacuum_leak",
        "Air leak behind the throttle",
        group="air_path",
        meaning="Air from outside enters the manifold behind the throttle without passing the meter.",
        place="map_truth",
        parameters=(Parameter("area_mm2", "opening", unit="mm²", low=0.1, high=200.0, steps=(1.0, 2.0, 4.0)),),
        effects=_hole("leak_manifold_area"),
        repair="Renew the leaking hose or gasket; reset the learned trims.",
        cautions=(_FIRE, _MOVING),
        proof="Close the suspected place: the short-term trim falls at once, and returns when it is opened again.",
        part="vacuum hose or gasket",
        hose="small vacuum hoses",
        look="A vacuum hose is cracked at its end.",
        prior=3.0,
        measured_by=("smoke.behind the throttle",),
    )
)
fault_kinds.register(
    FaultKind(
        "air_leak_before_throttle",
        "Air leak between meter and throttle",
        group="air_path",
        meaning="Unmetered air enters the duct between airflow meter and throttle; its share hardly depends on flow.",
        place="tp",
        parameters=(Parameter("area_mm2", "opening", unit="mm²", low=10.0, high=2000.0, steps=(150.0, 350.0, 800.0)),),
        effects=_hole("leak_duct_area"),
        repair="Seat or renew the air duct and its clamps; reset the learned trims.",
        cautions=(_MOVING,),
        proof=(
            "Smoke fed in before the throttle leaves at the gap; where air is metered, trims fall when the duct "
            "is sealed. Smoke fed in behind the closed throttle does not show this leak."
        ),
        part="air duct",
        hose="air duct",
        look="A gap at a clamp of the duct behind the meter.",
        usual_with="maf",
        prior=3.0,
        measured_by=("smoke.before the throttle",),
    )
)
fault_kinds.register(
    FaultKind(
        "air_filter_restricted",
        "Air filter blocked",
        group="air_path",
        meaning="An additional pressure drop before the meter that grows with flow squared.",
        place="baro",
        parameters=(
            Parameter(
                "dp_full_kPa", "additional drop at rated flow", unit="kPa", low=0.2, high=60.0, steps=(3.0, 6.0, 12.0)
            ),
        ),
        everyday=True,
        effects=_drop("filter_extra"),
        repair="Renew the filter element, clear the inlet.",
        cautions=(),
        proof="Full-load airflow too low with trims near zero.",
        part="air filter",
        look="The filter element is grey and packed.",
        prior=2.0,
        measured_by=("look.air filter and duct", "look.hoses at the manifold"),
        leads_to=(Leads("maf_dirty", "a filter that lets dust through soils the element"),),
    )
)
fault_kinds.register(
    FaultKind(
        "exhaust_restricted",
        "Exhaust restricted",
        group="air_path",
        meaning=(
            "An additional back pressure: behind a silencer it grows with flow squared, in the channels of a "
            "catalyst half of it with flow."
        ),
        place="ho2s_b1s2",
        parameters=(
            Parameter(
                "dp_full_kPa",
                "additional drop at rated flow",
                unit="kPa",
                low=1.0,
                high=3000.0,
                steps=(20.0, 60.0, 150.0),
            ),
            Parameter("place", "place", choices=("catalyst", "silencer", "dpf"), called={"dpf": "particle filter"}),
        ),
        effects=_exhaust_drop,
        repair="Renew the blocked part; find out what destroyed it.",
        cautions=("Exhaust parts are hot; run engines only with exhaust extraction.",),
        proof="A back-pressure gauge at the front oxygen sensor's bung.",
        part="{place}",
        prior=1.5,
        measured_by=("gauge.backpressure_gauge", "gauge.backpressure_gauge_rear"),
    )
)
fault_kinds.register(
    FaultKind(
        "purge_stuck_open",
        "Purge valve stuck open",
        group="air_path",
        meaning="Air and fuel vapour from the canister enter the manifold unasked; how rich depends on the canister.",
        place="map_truth",
        parameters=(
            Parameter("area_mm2", "opening", unit="mm²", low=0.1, high=60.0, steps=(1.0, 2.0, 4.0)),
            Parameter(
                "fuel_fraction",
                "fuel share of the purge gas",
                unit="-",
                low=0.0,
                high=0.4,
                steps=(0.0, 0.08, 0.2),
                words="purge gas with {percent:.3g} % fuel",
            ),
        ),
        effects=lambda values, rig: [
            Effect("purge_least", "max", float(values["area_mm2"]) * 1e-6 * HOLE_COEFFICIENT),
            Effect("purge_fuel", "set", float(values["fuel_fraction"])),
        ],
        usual_with="purge",
        repair="Renew the purge valve; check the canister for liquid fuel.",
        cautions=(_FIRE,),
        proof="Clamp the purge hose: the trim recovers within seconds.",
        needs="petrol",
        part="purge valve",
        hose="purge hose",
        prior=2.0,
        measured_by=("hand.purge_suction",),
    )
)
fault_kinds.register(
    FaultKind(
        "purge_stuck_closed",
        "Purge valve does not open",
        group="air_path",
        meaning=(
            "The valve stays shut when it is commanded: the canister fills until it breathes fuel vapour into the open."
        ),
        place="map_truth",
        parameters=(),
        effects=lambda values, rig: [Effect("purge_shut", "set", 1.0)],
        repair="Renew the purge valve.",
        cautions=(_FIRE,),
        proof=(
            "No suction at the canister's hose at raised speed, although the valve clicks and its coil has its "
            "resistance."
        ),
        needs="purge",
        part="purge valve",
        prior=0.6,
        measured_by=("hand.purge_suction",),
    )
)
fault_kinds.register(
    FaultKind(
        "brake_servo_leak",
        "Brake servo leaks",
        group="air_path",
        meaning=(
            "Its torn diaphragm lets air into the manifold, but only against real vacuum: the low pressure of a "
            "smoke test closes it."
        ),
        place="map_truth",
        parameters=(Parameter("area_mm2", "opening", unit="mm²", low=0.1, high=60.0, steps=(1.0, 2.5, 6.0)),),
        effects=_hole("leak_manifold_area"),
        unusual_with="governor",
        repair="Renew the brake servo. A braking risk: the vehicle is not to be driven before.",
        cautions=("A leaking servo takes the braking force that the driver counts on: do not drive.", _MOVING),
        proof=(
            "Clamp the servo hose: the trim falls at once, and returns when it is released. Pedal test with the "
            "engine off."
        ),
        sealed=True,
        needs="petrol",
        part="brake servo",
        hose="brake servo hose",
        prior=1.5,
    )
)
fault_kinds.register(
    FaultKind(
        "pcv_torn",
        "Crankcase ventilation valve torn",
        group="air_path",
        meaning=(
            "Air comes through the crankcase: from filler cap, dipstick or seals, with a whistle and suction at "
            "the filler."
        ),
        place="map_truth",
        parameters=(Parameter("area_mm2", "opening", unit="mm²", low=0.1, high=60.0, steps=(1.5, 3.0, 8.0)),),
        effects=_hole("leak_manifold_area"),
        repair="Renew the ventilation valve; check seals that the suction may have pulled in.",
        cautions=(_MOVING,),
        proof="Pinch the breather hose: the trim falls; open the filler cap: it changes too.",
        needs="petrol",
        part="crankcase ventilation valve",
        hose="breather hose",
        look="Suction at the oil filler cap.",
        prior=1.5,
        leads_to=(
            Leads("ho2s_contaminated", "oil mist burns and leaves ash on the sensor"),
            Leads("map_hose_blocked", "oil mist settles in hose and port"),
        ),
    )
)
