"""Faults of exhaust recirculation: valve, passage, what moves it and what tells of it."""

from leitfaden_core.faults.catalogue import Effect, FaultKind, Leads, Parameter, fault_kinds

_HOT = "Exhaust parts are hot; run engines only with exhaust extraction."

fault_kinds.register(
    FaultKind(
        "egr_stuck_open",
        "EGR valve does not close",
        group="egr",
        meaning="The valve returns no further than this opening; it follows larger commands.",
        place="egr",
        parameters=(
            Parameter("opening_percent", "smallest opening", unit="%", low=3.0, high=100.0, steps=(10.0, 25.0, 50.0)),
        ),
        effects=lambda values, rig: [Effect("egr_least", "max", float(values["opening_percent"]) / 100.0)],
        repair="Clean or renew the valve.",
        cautions=(_HOT,),
        proof="Position at key on, and with the valve commanded shut.",
        needs="egr",
        part="EGR valve",
        hose="EGR pipe",
        prior=2.0,
        leads_to=(Leads("exhaust_restricted", "soot fills the particle filter"),),
    )
)
fault_kinds.register(
    FaultKind(
        "egr_stuck_closed",
        "EGR valve does not open",
        group="egr",
        meaning="The valve stays closed whatever is commanded.",
        place="egr",
        parameters=(),
        effects=lambda values, rig: [Effect("egr_most", "set", 0.0)],
        repair="Clean or renew the valve or its drive.",
        cautions=(_HOT,),
        proof="Actuator test: command moves, position does not.",
        needs="egr",
        part="EGR valve",
        prior=1.0,
    )
)
fault_kinds.register(
    FaultKind(
        "egr_passage_blocked",
        "EGR passage clogged",
        group="egr",
        meaning="Deposits narrow the passage; the valve itself moves as it should.",
        place="egr",
        parameters=(
            Parameter(
                "share",
                "share of the passage lost",
                unit="-",
                low=0.1,
                high=1.0,
                steps=(0.4, 0.7, 1.0),
                words="{percent:.3g} % of the passage lost",
            ),
        ),
        effects=lambda values, rig: [Effect("egr_blocked", "max", float(values["share"]))],
        repair="Clean the passage and the cooler.",
        cautions=(_HOT,),
        proof="Actuator test: position moves, airflow and speed do not.",
        needs="egr",
        part="EGR passage",
        prior=1.5,
    )
)
fault_kinds.register(
    FaultKind(
        "egr_vacuum_lost",
        "EGR valve gets no vacuum",
        group="egr",
        meaning="Solenoid, hose or diaphragm: the manifold's vacuum does not reach the valve, or not all of it.",
        place="egr",
        parameters=(
            Parameter(
                "share",
                "share of the vacuum lost",
                unit="-",
                low=0.1,
                high=1.0,
                steps=(0.4, 0.7, 1.0),
                words="{percent:.3g} % of the vacuum lost",
            ),
        ),
        effects=lambda values, rig: [Effect("egr_vacuum_lost", "max", float(values["share"]))],
        repair="Renew hose, solenoid or valve, whichever was proven.",
        cautions=(_HOT,),
        proof=(
            "A hand pump on the valve itself moves it where its kind allows that; no vacuum comes from the "
            "solenoid when it is commanded."
        ),
        needs="egr_vacuum",
        part="EGR solenoid and hose",
        prior=1.0,
    )
)

_HOSES = {"swapped": -1.0, "off": 0.0}

fault_kinds.register(
    FaultKind(
        "egr_dp_hoses",
        "Hoses of the EGR pressure drop sensor",
        group="egr",
        meaning=(
            "Crossed hoses turn the sign: the signal falls below its rest voltage with flow. A burnt or open "
            "pair shows no drop at all."
        ),
        place="egr_dp",
        parameters=(Parameter("mode", "what is wrong", choices=tuple(_HOSES)),),
        effects=lambda values, rig: [Effect("egr_dp_hoses", "set", _HOSES[str(values["mode"])])],
        repair="Connect or renew the hoses; protect them from heat.",
        cautions=(_HOT,),
        proof="Signal at rest voltage without flow; the hand pump on each port moves it up or down.",
        needs="egr_dp",
        part="hoses of the EGR sensor",
        look="The hoses of the EGR sensor are burnt or crossed.",
        prior=1.0,
    )
)
