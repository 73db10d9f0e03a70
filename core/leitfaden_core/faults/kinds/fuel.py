"""Faults of fuel supply and injectors."""

from leitfaden_core.faults.catalogue import Effect, FaultKind, Parameter, Values, fault_kinds
from leitfaden_core.rigs import Rig

_FUEL = "Fuel lines are under pressure: relieve it first, keep sparks away, catch what drips."


def _pressure(values: Values, rig: Rig) -> list[Effect]:
    factor = float(values["factor"])
    full = float(values.get("factor_full", factor))
    return [Effect("rail_factor_idle", "multiply", factor), Effect("rail_factor_full", "multiply", full)]


fault_kinds.register(
    FaultKind(
        "fuel_pressure_low",
        "Fuel pressure low",
        "fuel",
        "Weak pump, blocked filter or regulator: the pressure difference over the injectors is too small.",
        "fuel_rail",
        (
            Parameter("factor", "pressure relative to right, at idle", "-", 0.3, 1.0, (0.85, 0.7, 0.55)),
            Parameter("factor_full", "pressure relative to right, at full fuel flow", "-", 0.1, 1.0, (0.85, 0.7, 0.4), optional=True),
        ),
        _pressure,
        "Renew filter, pump or regulator, whichever was proven.",
        (_FUEL,),
        "A mechanical gauge at the rail, at idle and under load.",
    )
)
fault_kinds.register(
    FaultKind(
        "fuel_pressure_high",
        "Fuel pressure high",
        "fuel",
        "Regulator or return fault.",
        "fuel_rail",
        (Parameter("factor", "pressure relative to right", "-", 1.05, 2.5, (1.2, 1.4, 1.8)),),
        _pressure,
        "Renew the regulator, clear the return line.",
        (_FUEL,),
        "A mechanical gauge at the rail.",
    )
)
fault_kinds.register(
    FaultKind(
        "injector_leaking",
        "Injector leaking",
        "fuel",
        "An injector does not seal: additional fuel as long as there is pressure.",
        "fuel_rail",
        (Parameter("mg_s", "additional fuel", "mg/s", 1.0, 200.0, (10.0, 20.0, 40.0)),),
        lambda values, rig: [Effect("injector_leak", "add", float(values["mg_s"]) * 1e-6)],
        "Renew the leaking injector; change the oil if fuel got into it.",
        (_FUEL,),
        "Rail pressure falls with the engine off; trims negative at idle and near zero under load.",
    )
)
