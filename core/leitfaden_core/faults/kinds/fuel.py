"""Faults of fuel supply and injectors."""

from leitfaden_core.engine.fuel import INJECTOR_OHMS, blended
from leitfaden_core.errors import OutOfRange
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

_FUEL = "Fuel lines are under pressure: relieve it first, keep sparks away, catch what drips."


def _ethanol(values: Values, rig: Rig) -> list[Effect]:
    ratio, energy, density = blended(float(values["fraction"]))
    return [
        Effect("fuel_afr", "set", ratio),
        Effect("fuel_energy", "set", energy),
        # Through an orifice in liquid the mass flow goes with the root of density; the hook stands beside the pressure
        # under that root.
        Effect("fuel_density", "set", density),
    ]


def _restricted(values: Values, rig: Rig) -> list[Effect]:
    number = float(values["cylinders"])
    if number > rig.engine.cylinders:
        raise OutOfRange("fault injector_restricted: cylinders", number, 1, rig.engine.cylinders, "-")
    return [
        Effect("restricted_share", "set", number / rig.engine.cylinders),
        Effect("restricted_flow", "set", float(values["flow_factor"])),
        Effect("lean_cylinders", "set", 2.0 ** round(number) - 1.0 if float(values["flow_factor"]) < 1.0 else 0.0),
    ]


def _pressure(values: Values, rig: Rig) -> list[Effect]:
    factor = float(values["factor"])
    full = float(values.get("factor_full", factor))
    return [Effect("rail_factor_idle", "multiply", factor), Effect("rail_factor_full", "multiply", full)]


def _leaking(values: Values, rig: Rig) -> list[Effect]:
    flow = float(values["mg_s"]) * 1e-6
    second = [Effect("injector_leak_second", "add", flow)] if in_second_bank("injector_leaking", values, rig) else []
    return [Effect("injector_leak", "add", flow), *second]


fault_kinds.register(
    FaultKind(
        "fuel_pressure_low",
        "Fuel pressure low",
        group="fuel",
        meaning="Weak pump, blocked filter or regulator: the pressure difference over the injectors is too small.",
        place="fuel_rail",
        parameters=(
            Parameter(
                "factor",
                "pressure relative to right, at idle",
                unit="-",
                low=0.2,
                high=1.0,
                steps=(0.85, 0.7, 0.55),
                words="{percent:.3g} % of the right pressure at idle",
                neutral=1.0,
            ),
            Parameter(
                "factor_full",
                "pressure relative to right, at full fuel flow",
                unit="-",
                low=0.1,
                high=1.0,
                steps=(0.85, 0.7, 0.4),
                words="{percent:.3g} % at full fuel flow",
                neutral=1.0,
                optional=True,
            ),
        ),
        effects=_pressure,
        repair="Renew filter, pump or regulator, whichever was proven.",
        cautions=(_FUEL,),
        proof="A mechanical gauge at the rail, at idle and under load.",
        part="fuel pump and filter",
        prior=2.5,
        measured_by=("gauge.fuel_gauge",),
        # A regulator lacks pressure everywhere; a pump or a filter lacks it where much fuel flows.
        ways=lambda chosen, rig: [
            [{"factor": factor} for factor in (0.85, 0.7, 0.55)],
            [{"factor": idle, "factor_full": full} for idle, full in ((0.95, 0.8), (0.88, 0.6), (0.8, 0.42))],
        ],
    )
)
fault_kinds.register(
    FaultKind(
        "fuel_pressure_high",
        "Fuel pressure high",
        group="fuel",
        meaning="Regulator or return fault.",
        place="fuel_rail",
        parameters=(
            Parameter(
                "factor",
                "pressure relative to right",
                unit="-",
                low=1.05,
                high=2.5,
                steps=(1.2, 1.4, 1.8),
                words="{percent:.3g} % of the right pressure",
                neutral=1.0,
            ),
        ),
        effects=_pressure,
        repair="Renew the regulator, clear the return line.",
        cautions=(_FUEL,),
        proof="A mechanical gauge at the rail.",
        part="fuel pressure regulator",
        prior=1.0,
        measured_by=("gauge.fuel_gauge",),
        leads_to=(Leads("ho2s_contaminated", "rich running soots the sensor"),),
    )
)
fault_kinds.register(
    FaultKind(
        "injector_leaking",
        "Injector leaking",
        group="fuel",
        meaning="An injector does not seal: additional fuel as long as there is pressure.",
        place="fuel_rail",
        parameters=(
            Parameter("mg_s", "additional fuel", unit="mg/s", low=0.5, high=500.0, steps=(10.0, 20.0, 40.0)),
            BANK,
        ),
        effects=_leaking,
        repair="Renew the leaking injector; change the oil if fuel got into it.",
        cautions=(_FUEL,),
        proof="Rail pressure falls with the engine off; trims negative at idle and near zero under load.",
        part="injectors",
        prior=1.5,
        leads_to=(
            Leads("ho2s_contaminated", "rich running soots the sensor"),
            Leads("catalyst_worn", "excess fuel overheats the catalyst"),
        ),
    )
)
fault_kinds.register(
    FaultKind(
        "injector_restricted",
        "Injectors restricted",
        group="fuel",
        meaning=(
            "Deposits narrow one or more injectors: their cylinders run lean, and what corrects the mean makes "
            "the others rich."
        ),
        place="fuel_rail",
        parameters=(
            Parameter(
                "cylinders",
                "how many",
                unit="-",
                low=1.0,
                high=12.0,
                steps=(1.0, 2.0, 4.0),
                words="{value:g} of the cylinders",
                neutral=None,
            ),
            Parameter(
                "flow_factor",
                "flow / right flow",
                unit="-",
                low=0.1,
                high=0.98,
                steps=(0.85, 0.7, 0.5),
                words="{percent:.3g} % of the right flow",
                neutral=1.0,
            ),
        ),
        effects=_restricted,
        repair="Clean or renew the injectors that were proven.",
        cautions=(_FUEL,),
        proof="Delivered volume of each injector side by side; plugs that look different.",
        part="injectors",
        prior=1.5,
    )
)
fault_kinds.register(
    FaultKind(
        "injector_coil_shorted",
        "Injector coil with shorted turns",
        group="fuel",
        meaning=(
            "Shorted turns draw more current and brake the field's rise: the injector opens late, and its driver "
            "runs hot."
        ),
        place="fuel_rail",
        parameters=(
            Parameter(
                "ohms", "coil resistance", unit="ohm", low=2.0, high=13.0, steps=(10.0, 7.0, 4.0), neutral=INJECTOR_OHMS
            ),
        ),
        effects=lambda values, rig: [
            Effect("coil_siemens", "add", 1.0 / float(values["ohms"]) - 1.0 / INJECTOR_OHMS),
            Effect("restricted_share", "set", 1.0 / rig.engine.cylinders),
            Effect("lean_cylinders", "set", 1.0 if float(values["ohms"]) < INJECTOR_OHMS else 0.0),
            # An estimate: the fewer sound turns, the later it opens.
            Effect("restricted_flow", "set", 1.0 - 0.2 * (1.0 - float(values["ohms"]) / INJECTOR_OHMS)),
        ],
        repair="Renew the injector; check that the control unit's driver has survived.",
        cautions=(_FUEL,),
        proof="Current clamp around the injectors' common supply: one pulse of the cycle stands out.",
        needs="petrol_rail",
        part="injectors",
        prior=0.3,
        measured_by=("clamp.injectors",),
    )
)
fault_kinds.register(
    FaultKind(
        "fuel_ethanol",
        "Alcohol in the petrol",
        group="fuel",
        meaning="Ethanol needs less air per fuel mass and holds less energy: the same pulse is too lean.",
        place="fuel_rail",
        parameters=(
            Parameter(
                "fraction",
                "ethanol by volume",
                unit="-",
                low=0.02,
                high=1.0,
                steps=(0.15, 0.3, 0.85),
                words="{percent:.3g} % ethanol by volume",
            ),
        ),
        effects=_ethanol,
        repair="Drain and fill with the right fuel; reset the learned trims.",
        cautions=(_FUEL,),
        proof="Shake a sample with water: the alcohol moves into it.",
        needs="petrol",
        part="fuel",
        look="The fuel smells of alcohol.",
        prior=0.7,
    )
)
