"""Looking: what the eye sees at a place, on a sound engine as well, and driving with a helper at the tool."""

from leitfaden_core.chance import chance
from leitfaden_core.instruments.instrument import Instrument, Observation, Option, Shown, Use, instruments
from leitfaden_core.instruments.kinds.scan import menu_of

#: Place -> groups of faults whose traces are there.
PLACES = {
    "air filter and duct": ("airflow_meter", "air_path", "turbo"),
    "hoses at the manifold": ("air_path", "pressure_sensor", "egr"),
    "plugs and cables": ("circuit", "wrong_part"),
    "fuses and ground terminals": ("circuit",),
    "exhaust and its sensors": ("oxygen", "egr"),
    "coolant and thermostat": ("temperature",),
    "ignition and timing": ("mechanical",),
    "fuel": ("fuel",),
}
#: What any engine may show, and what means nothing.
HARMLESS = {
    "air filter and duct": (
        "Leaves in the filter box, none behind the element.",
        "The snorkel before the filter is loose.",
    ),
    "hoses at the manifold": ("A clamp has been exchanged for a cable tie, and holds.", "An old oil film, dry."),
    "plugs and cables": ("Old adhesive tape around a sound harness.", "A plug of another colour, seated."),
    "fuses and ground terminals": ("A fuse of the right rating, newer than the others.",),
    "exhaust and its sensors": ("Surface rust on the heat shield.",),
    "coolant and thermostat": ("A dry smear of old coolant below the sensor.",),
    "ignition and timing": ("Paint marks from an earlier repair.",),
    "fuel": ("The cap's seal is worn at the edge.",),
}


def _inspect(use: Use) -> Observation:
    looks = chance(use.vehicle.seed, "harmless", use.place)
    harmless = [text for text in HARMLESS[use.place] if looks.random() < 0.5]
    found = [*(mark.words for mark in use.vehicle.marks() if mark.group in PLACES[use.place]), *harmless]
    shown = tuple(Shown("seen", "seen", None, quantity="", text=text) for text in sorted(found)) or (
        Shown("seen", "seen", None, quantity="", text="nothing unusual"),
    )
    return Observation(
        "inspection",
        use.place,
        use.condition,
        shown=shown,
        minutes=4.0,
        notes=("Look first, touch nothing: what is seated again before testing is gone as evidence.",),
    )


instruments.register(
    Instrument(
        "inspection",
        "visual inspection",
        purpose="What the eye sees, before anything is touched.",
        minutes=4.0,
        places=lambda rig: list(PLACES),
        use=_inspect,
        cautions=("Engine off, key off, parts may be hot.",),
        conditions=("koeo",),
    )
)


def _drive(use: Use) -> Observation:
    if use.options["helper"] == "no":
        why = "A full-load pull alone with a tool in the hand: a helper works the tool, never the driver."
        return Observation("road_test", use.place, use.condition, shown=(), cautions=(why,), refused=why)
    run = use.vehicle.run(use.condition)
    names = [
        name
        for name in menu_of(use.vehicle.rig, "enhanced")
        if name in {"rpm", "maf", "map", "charge_pressure", "ho2s_b1s1_v", "lambda_wideband", "iat", "rail_pressure"}
    ]
    shown = tuple(
        Shown(
            f"{name}.{stat}",
            f"{name} {stat}",
            float(run.statistic(use.condition, name, stat)),
            quantity="",
            text="",
            step=0.0,
        )
        for name in names
        for stat in ("mean", "max")
        if run.statistic(use.condition, name, stat) == run.statistic(use.condition, name, stat)
    )
    return Observation("road_test", use.place, use.condition, shown=shown, minutes=15.0)


instruments.register(
    Instrument(
        "road_test",
        "drive with a helper",
        purpose="Reproduce the complaint where it happens.",
        minutes=15.0,
        places=lambda rig: ["roller bench"],
        use=_drive,
        options=(Option("helper", "helper at the tool", choices=("yes", "no"), default="yes"),),
        cautions=(
            (
                "Safe and legal stretch or roller bench; check tyres, brakes and coolant first; abort when it "
                "runs lean, knocks or overboosts."
            ),
        ),
        conditions=("cruise_80", "wot_pull", "decel_fuel_cut", "warm_up", "full_load_altitude"),
    )
)
