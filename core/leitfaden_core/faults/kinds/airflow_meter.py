"""Faults of the airflow meter."""

from leitfaden_core.faults.catalogue import Effect, FaultKind, Leads, Parameter, Values, fault_kinds
from leitfaden_core.rigs import Rig

_TOUCH = "Never touch the element; let it dry before it is switched on."


def _one_factor(values: Values, rig: Rig) -> list[Effect]:
    gain = float(values["gain"])
    return [Effect("meter_gain_idle", "multiply", gain), Effect("meter_gain_full", "multiply", gain)]


def _dirty(values: Values, rig: Rig) -> list[Effect]:
    return [
        Effect("meter_gain_idle", "multiply", float(values["gain_idle"])),
        Effect("meter_gain_full", "multiply", float(values["gain_full"])),
    ]


fault_kinds.register(
    FaultKind(
        "maf_under_read",
        "Airflow meter reads too low",
        group="airflow_meter",
        meaning="The meter reads too low by one factor at all flows.",
        place="maf",
        parameters=(
            Parameter(
                "gain",
                "reading / true flow",
                unit="-",
                low=0.3,
                high=0.99,
                steps=(0.92, 0.85, 0.75),
                words="reads {percent:.3g} % of true flow",
                neutral=1.0,
            ),
        ),
        effects=_one_factor,
        repair="Renew the airflow meter with the right part; reset the learned trims.",
        cautions=(_TOUCH,),
        proof="Volumetric efficiency at full load too low while trims are high at every flow.",
        needs="maf",
        part="airflow meter",
        prior=2.0,
        leads_to=(Leads("egr_stuck_closed", "a valve that is held shut for months seizes in its soot"),),
    )
)
fault_kinds.register(
    FaultKind(
        "maf_over_read",
        "Airflow meter reads too high",
        group="airflow_meter",
        meaning="The meter reads too high by one factor: turbulence, wrong seat, missing flow straightener.",
        place="maf",
        parameters=(
            Parameter(
                "gain",
                "reading / true flow",
                unit="-",
                low=1.01,
                high=2.0,
                steps=(1.08, 1.15, 1.25),
                words="reads {percent:.3g} % of true flow",
                neutral=1.0,
            ),
        ),
        effects=_one_factor,
        repair="Seat the meter correctly, restore the flow straightener, or renew the meter.",
        cautions=(_TOUCH,),
        proof="Negative trims at every flow; volumetric efficiency above what the engine can have.",
        needs="maf",
        part="airflow meter",
        prior=0.7,
        leads_to=(Leads("ho2s_contaminated", "rich running soots the sensor"),),
    )
)
fault_kinds.register(
    FaultKind(
        "maf_dirty",
        "Deposit on the airflow meter's element",
        group="airflow_meter",
        meaning="A deposit insulates the element: the error grows with flow.",
        place="maf",
        parameters=(
            Parameter(
                "gain_idle",
                "reading / true flow at idle",
                unit="-",
                low=0.7,
                high=1.2,
                steps=(1.0, 0.98, 0.95),
                words="reads {percent:.3g} % of true flow at idle",
                neutral=1.0,
            ),
            Parameter(
                "gain_full",
                "reading / true flow at full load",
                unit="-",
                low=0.4,
                high=1.1,
                steps=(0.9, 0.82, 0.7),
                words="reads {percent:.3g} % of true flow at full load",
                neutral=1.0,
            ),
        ),
        effects=_dirty,
        repair="Clean the element with the proper spray, or renew the meter; find where the dirt came from.",
        cautions=(_TOUCH,),
        proof="Trims that rise with flow, and volumetric efficiency at full load too low.",
        needs="maf",
        part="airflow meter",
        look="A grey film on the element of the airflow meter.",
        prior=3.0,
        measured_by=("look.air filter and duct",),
    )
)
fault_kinds.register(
    FaultKind(
        "maf_burnoff_inoperative",
        "Burn-off of the airflow meter's wire does not work",
        group="airflow_meter",
        meaning="After key-off the wire is not glowed clean; the deposit that grows then is a fault of its own.",
        place="maf",
        parameters=(),
        effects=lambda values, rig: [Effect("burnoff_dead", "set", 1.0)],
        repair="Restore the burn-off relay or its wiring; clean or renew the wire.",
        cautions=(_TOUCH,),
        proof="No pulse of the signal a few seconds after key-off from a hot run.",
        needs="burn_off",
        part="burn-off relay",
        prior=0.7,
        measured_by=("scope.burn_off",),
        leads_to=(Leads("maf_dirty", "a wire that is never glowed clean grows a film"),),
    )
)
