"""Air: density, volumetric efficiency, airflow per litre, speed-density, leaks."""

from leitfaden_core.words import say
from leitfaden_core.workings.working import Input, Step, Values, Working, workings

RPM = Input("rpm", "engine speed", "speed", 50.0, 12000.0, "rpm")
MAF = Input("maf", "airflow", "mass_flow", 0.1, 1000.0, "maf")
IAT = Input("t", "intake air temperature", "temperature", -60.0, 150.0, "iat")
BARO = Input("p", "barometric pressure, of this place", "pressure_abs", 50.0, 110.0, "baro")
LITRES = Input("L", "displacement", "displacement", 0.05, 20.0)

_KELVIN = Step(
    "T", "absolute temperature", "t + 273.15", "kelvin", 5, (("t", "Degrees Celsius were put in for kelvin."),)
)
_PASCAL = Step("p_Pa", "pressure in pascal", "p * 1000", "pascal", 6, (("p", "Kilopascal were left as they are."),))
_DENSITY = Step(
    "rho",
    "air density",
    "p_Pa / (287.05 * T)",
    "density",
    4,
    (
        ("p_Pa / (287.05 * t)", "Degrees Celsius were put in for kelvin."),
        ("p_Pa / 287.05 * T", "The parentheses in the divisor are missing."),
    ),
)


def _ve_words(values: Values) -> str:
    ve = values["VE"]
    if ve > 105.0:
        return (
            "More than an unboosted engine can breathe: the airflow reads too high, or the engine is boosted and "
            "manifold pressure is the reference."
        )
    if ve >= 85.0:
        return "Usual for engines with variable valve timing; older designs reach about 75 to 85 %."
    if ve >= 75.0:
        return "Usual for older designs; low for an engine with variable valve timing: look at the trims."
    return (
        "Too low: with trims near zero the engine really breathes too little, with high positive trims the meter "
        "reads too low."
    )


workings.register(
    Working(
        "air_density",
        "Air density",
        "Fuel must follow mass, not volume: cold and high pressure put more air into the same litre.",
        (BARO, IAT),
        (_PASCAL, _KELVIN, _DENSITY),
        source="ideal gas law, R = 287.05 J/(kg K) for dry air",
    )
)
workings.register(
    Working(
        "volumetric_efficiency",
        "Volumetric efficiency from airflow",
        "What the engine breathed, as a share of what its displacement could hold of the surrounding air.",
        (MAF, RPM, IAT, BARO, LITRES),
        (
            _PASCAL,
            _KELVIN,
            _DENSITY,
            Step(
                "full",
                "airflow at 100 %: a four-stroke draws its displacement every second turn, 60 s · 2 = 120",
                "rpm * rho * L / 120",
                "mass_flow",
                4,
                (
                    ("rpm * rho * L / 60", "A four-stroke draws in only every second turn: divide by 120."),
                    ("rpm * rho * L", "The speed was left per minute: divide by 120."),
                ),
            ),
            Step(
                "VE",
                "volumetric efficiency",
                "100 * maf / full",
                "percent",
                3,
                (
                    ("100 * full / maf", "Upside down."),
                    ("100 * maf / rpm * rho * L / 120", "The parentheses in the divisor are missing."),
                ),
            ),
        ),
        (
            "full load",
            "all values from the same instant, at the highest speed before the shift",
            "barometric pressure of this place, not of the weather service",
        ),
        _ve_words,
        "Heywood 1988, ch. 2.10",
    )
)
workings.register(
    Working(
        "full_load_airflow",
        "Airflow to expect at full load",
        "What an airflow meter should show at full load and this speed.",
        (Input("VE", "volumetric efficiency", "percent", 20.0, 250.0, default=88.0), RPM, IAT, BARO, LITRES),
        (
            _PASCAL,
            _KELVIN,
            _DENSITY,
            Step(
                "maf",
                "airflow",
                "VE / 100 * rho * L * rpm / 120",
                "mass_flow",
                4,
                (("VE / 100 * rho * L * rpm / 60", "A four-stroke draws in only every second turn: divide by 120."),),
            ),
        ),
        ("full load",),
    )
)


def _per_litre_words(values: Values) -> str:
    low, high = 0.85, 1.25
    flow = values["q"]
    if low <= flow <= high:
        return say(
            "Within the workshop rule of 1 g/s per litre (−15 to +25 %: {low:g} to {high:g}).", low=low, high=high
        )
    return say(
        (
            "Outside the workshop rule of 1 g/s per litre (−15 to +25 %: {low:g} to {high:g}): check the "
            "preconditions, then the trims."
        ),
        low=low,
        high=high,
    )


workings.register(
    Working(
        "airflow_per_litre",
        "Airflow per litre at idle",
        "A quick check of the meter at hot idle: about 1 g/s for each litre.",
        (MAF, LITRES),
        (
            Step(
                "q",
                "airflow per litre",
                "maf / L",
                "flow_per_litre",
                3,
                (("L / maf", "Upside down."), ("maf * L", "Multiplied instead of divided.")),
            ),
        ),
        ("engine fully warm", "air conditioning and lights off", "normal idle speed"),
        _per_litre_words,
    )
)


def _against_meter(values: Values) -> str:
    return (
        "Meter and manifold pressure agree within 15 %."
        if abs(values["d"]) <= 15.0
        else "More than 15 % apart: one of the two is wrong, or air goes past the meter."
    )


_P_MANIFOLD = Input("p_m", "manifold pressure", "pressure_abs", 5.0, 300.0, "map")
_T_MANIFOLD = Input("t_m", "temperature of the air in the manifold", "temperature", -60.0, 200.0, "iat")
#: From manifold pressure to airflow, whether or not there is a meter to compare with.
_BY_DENSITY = (
    Step(
        "T", "absolute temperature", "t_m + 273.15", "kelvin", 5, (("t_m", "Degrees Celsius were put in for kelvin."),)
    ),
    Step(
        "rho_m",
        "density in the manifold",
        "p_m * 1000 / (287.05 * T)",
        "density",
        4,
        (("p_m * 1000 / (287.05 * t_m)", "Degrees Celsius were put in for kelvin."),),
    ),
    Step(
        "m",
        "airflow",
        "VE_m / 100 * rho_m * L * rpm / 120",
        "mass_flow",
        4,
        (
            ("VE_m / 100 * rho_m * L * rpm / 60", "A four-stroke draws in only every second turn: divide by 120."),
            ("VE_m * rho_m * L * rpm / 120", "Percent were not divided by 100."),
        ),
    ),
)


def _filling(default: float) -> Input:
    return Input("VE_m", "filling relative to manifold density", "percent", 20.0, 120.0, default=default)


_AGAINST_METER = Step(
    "d",
    "meter against this",
    "100 * (maf - m) / m",
    "percent",
    3,
    (("100 * (maf - m) / maf", "Referred to the meter instead of to the calculation."),),
)
workings.register(
    Working(
        "speed_density",
        "Airflow from manifold pressure",
        "What a control unit without a meter works out, and how far it lies from the meter where there is one.",
        (_P_MANIFOLD, _T_MANIFOLD, RPM, _filling(50.0), LITRES, MAF),
        (*_BY_DENSITY, _AGAINST_METER),
        reading=_against_meter,
        source="ideal gas law; Heywood 1988, ch. 2.10",
    )
)
workings.register(
    Working(
        "density_airflow",
        "Airflow from manifold pressure, without a meter",
        "What a speed-density control unit works out.",
        (_P_MANIFOLD, _T_MANIFOLD, RPM, _filling(55.0), LITRES),
        _BY_DENSITY,
    )
)

_CD = Input("Cd", "flow coefficient of the hole", "ratio", 0.5, 1.0, default=0.7)
workings.register(
    Working(
        "leak_from_hole",
        "Airflow through a hole",
        (
            "Below about half of the surrounding pressure the flow through a hole no longer depends on the "
            "manifold: it is choked."
        ),
        (Input("d", "diameter of the hole", "length", 0.1, 50.0), _CD, BARO, IAT),
        (
            Step(
                "A",
                "area",
                "3.14159265 * d ** 2 / 4",
                "area",
                4,
                (
                    ("3.14159265 * d ** 2", "Diameter was taken for radius."),
                    ("3.14159265 * d / 4", "The diameter is not squared."),
                ),
            ),
            _KELVIN,
            Step(
                "leak",
                "choked flow",
                "0.0404 * Cd * A / 1000000 * p * 1000 / sqrt(T) * 1000",
                "mass_flow",
                3,
                (
                    ("0.0404 * Cd * A / 1000000 * p * 1000 / T * 1000", "The root of the temperature is missing."),
                    ("0.0404 * A / 1000000 * p * 1000 / sqrt(T) * 1000", "The flow coefficient is missing."),
                ),
            ),
        ),
        ("manifold pressure below about half of the barometric pressure",),
        source="isentropic orifice flow (Heywood 1988, app. C): 0.0404 = sqrt(γ/R)·(2/(γ+1))^3 for air",
    )
)
workings.register(
    Working(
        "trim_from_leak",
        "Trim that an air leak asks for",
        "On an engine with a meter: the leak is not counted, so fuel is missing for its share.",
        (
            Input("leak", "flow of the leak", "mass_flow", 0.001, 100.0),
            Input("total", "air that the engine takes", "mass_flow", 0.1, 1000.0, "maf_true"),
        ),
        (
            Step("metered", "air that the meter sees", "total - leak", "mass_flow", 4),
            Step(
                "trim",
                "total trim",
                "100 * leak / metered",
                "trim",
                3,
                (
                    ("100 * leak / total", "Referred to all air instead of to what the meter sees."),
                    ("100 * (1 - leak / total)", "That is what is left, not what is missing."),
                ),
            ),
        ),
        ("airflow-metered engine", "closed loop"),
    )
)
workings.register(
    Working(
        "leak_from_trim",
        "Air leak from a trim",
        "The other way round: how large a leak the trim at idle speaks of.",
        (
            Input("maf", "airflow of the meter", "mass_flow", 0.1, 1000.0, "maf"),
            Input("trim", "total trim", "trim", 0.1, 100.0, "total_trim"),
            _CD,
            BARO,
            IAT,
        ),
        (
            Step(
                "leak",
                "flow of the leak",
                "maf * trim / 100",
                "mass_flow",
                3,
                (
                    ("maf * trim", "Percent were not divided by 100."),
                    ("maf * (1 + trim / 100)", "That is all air, not the leak."),
                ),
            ),
            _KELVIN,
            Step("A", "area of the hole", "leak / 1000 * sqrt(T) / (0.0404 * Cd * p * 1000) * 1000000", "area", 3),
            Step(
                "d",
                "diameter of a round hole",
                "sqrt(4 * A / 3.14159265)",
                "length",
                3,
                (("sqrt(A / 3.14159265)", "That is the radius."),),
            ),
        ),
        ("airflow-metered engine", "closed loop at hot idle", "no other fault"),
    )
)
