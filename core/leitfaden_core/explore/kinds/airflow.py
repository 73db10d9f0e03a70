"""Airflow: heated element with its bridge, sprung flap, air that comes in unseen."""

from leitfaden_core.constants import ZERO_CELSIUS
from leitfaden_core.engine.air_path import HOLE_COEFFICIENT, orifice
from leitfaden_core.explore.drawing import Drawing, Hand, Hands, Numbers, Pose, Seen, drawings, number
from leitfaden_core.sensors.airflow import (
    heater_current,
    meter_flow,
    meter_frequency,
    meter_slope,
    meter_voltage,
    vane_flow,
    vane_voltage,
)
from leitfaden_core.words import say

#: A meter as it fits a two-litre engine. [kg/s], [V]
FULL_SCALE, ZERO_VOLTS = 0.12, 1.0
#: How far the bridge keeps its element above the air: this drawing's choice of a usual design. [K]
ABOVE_AIR = 160.0

# --- hot element
# ----------------------------------------------------------------------------------------------------------------


def _hot_element(hands: Hands) -> Numbers:
    flow, film = number(hands, "flow") / 1000.0, number(hands, "film") / 100.0
    slope = meter_slope(ZERO_VOLTS, FULL_SCALE)
    # A film insulates the more the more heat should pass: nothing at rest, its whole share at full scale.
    volts = meter_voltage(flow * (1.0 - film * min(flow / FULL_SCALE, 1.0)), ZERO_VOLTS, slope)
    believed = 1000.0 * meter_flow(volts, ZERO_VOLTS, slope)
    return {
        "volts": volts,
        "hertz": meter_frequency(volts),
        "amps": heater_current(flow, FULL_SCALE),
        "element": number(hands, "celsius") + ABOVE_AIR,
        "believed": believed,
        "half_volt": believed - 1000.0 * meter_flow(max(volts - 0.5, 0.0), ZERO_VOLTS, slope),
        "error": 100.0 * (believed / max(1000.0 * flow, 1e-6) - 1.0) if flow > 0.0 else 0.0,
    }


def _hot_element_says(hands: Hands, numbers: Numbers) -> str:
    if number(hands, "flow") == 0.0:
        return say(
            (
                "No air moves: the element only heats what is round it. The signal is {volts:.2f} V, not zero, "
                "and means 0 g/s."
            ),
            volts=numbers["volts"],
        )
    words = say(
        (
            "The stream cools the element; the bridge sends more current to keep it at {celsius:.0f} °C, and "
            "that current is the signal. Half a volt less here would take away {flow:.1f} g/s."
        ),
        celsius=numbers["element"],
        flow=numbers["half_volt"],
    )
    if number(hands, "film") > 0.0:
        words += " " + say(
            "The film keeps heat in: {percent:.0f} % of the flow goes unseen, more at high flow than at low.",
            percent=-numbers["error"],
        )
    return words


drawings.register(
    Drawing(
        "hot_element",
        "Heated element and its bridge",
        "A wire or film is kept a fixed step hotter than the air; what that takes tells the mass that passes",
        hands=(
            Hand("flow", "air that passes", quantity="mass_flow", low=0, high=120, start=20, step=1),
            Hand("celsius", "temperature of the air", quantity="temperature", low=-20, high=60, start=20, step=1),
            Hand("film", "film of dirt, share lost at full flow", quantity="percent", low=0, high=40, start=0, step=1),
        ),
        seen=(
            Seen("element", "element", "temperature", 0),
            Seen("amps", "heating current", "current", 2),
            Seen("volts", "signal", "voltage", 2),
            Seen("hertz", "a digital meter's signal", "frequency", 0),
            Seen("believed", "what the unit reads", "mass_flow", 1),
            Seen("half_volt", "worth of half a volt here", "mass_flow", 1),
        ),
        poses=(
            Pose(
                "rest",
                "No flow",
                {"flow": 0.0, "celsius": 20.0, "film": 0.0},
                "Key on, engine off: the zero can be checked before anything turns.",
            ),
            Pose(
                "idle",
                "Idle",
                {"flow": 2.0, "celsius": 20.0, "film": 0.0},
                "Two grams a second take a large part of the voltage already: the curve is steep here.",
            ),
            Pose(
                "full",
                "Full load",
                {"flow": 100.0, "celsius": 20.0, "film": 0.0},
                "Near the top the curve is flat: half a volt is more than a third of the engine's air.",
            ),
            Pose(
                "cold",
                "Cold air",
                {"flow": 20.0, "celsius": -10.0, "film": 0.0},
                "The element follows the air, so the step stays the same and so does the signal: mass is what counts.",
            ),
            Pose(
                "dirty",
                "Dirty",
                {"flow": 100.0, "celsius": 20.0, "film": 20.0},
                "A film insulates. At idle hardly anything is missing, at full load a sixth.",
            ),
        ),
        look=_hot_element,
        tells=_hot_element_says,
        along="flow",
        over=("volts",),
        holds=(
            "King 1914: V² = a + b·√flow, 0 to full scale; a plain element cannot tell the direction. The step "
            "of 160 K is a usual design."
        ),
    )
)

# --- flap
# ----------------------------------------------------------------------------------------------------------------


def _vane(hands: Hands) -> Numbers:
    flow, kelvin = number(hands, "flow") / 1000.0, number(hands, "celsius") + ZERO_CELSIUS
    pascal = 1000.0 * number(hands, "kpa")
    volts = vane_voltage(flow, pascal, kelvin, 0.5, FULL_SCALE)
    believed_kelvin = kelvin if hands["told"] == "right" else 20.0 + ZERO_CELSIUS
    return {
        "volts": volts,
        "opening": 100.0 * (volts - 0.5) / 4.2,
        "density": pascal / (287.05 * kelvin),
        "believed": 1000.0 * vane_flow(volts, pascal, believed_kelvin, 0.5, FULL_SCALE),
    }


def _vane_says(hands: Hands, numbers: Numbers) -> str:
    flow = number(hands, "flow")
    away = 100.0 * (numbers["believed"] / flow - 1.0) if flow else 0.0
    if hands["told"] != "right" and abs(away) > 1.0:
        return say(
            (
                "The flap answers to the push of the stream, not to its mass. With the air taken for 20 °C the "
                "unit is {percent:+.0f} % off."
            ),
            percent=away,
        )
    return say(
        (
            "The stream pushes the flap open against its spring. From its place and the air's density of "
            "{density:.2f} kg/m³ the unit works out the mass."
        ),
        density=numbers["density"],
    )


drawings.register(
    Drawing(
        "vane",
        "Sprung flap",
        "The stream holds a flap open against a spring; a wiper on a track tells how far",
        hands=(
            Hand("flow", "air that passes", quantity="mass_flow", low=0, high=120, start=20, step=1),
            Hand("celsius", "temperature of the air", quantity="temperature", low=-20, high=60, start=20, step=1),
            Hand(
                "kpa", "pressure of the air", quantity="pressure_abs", low=70, high=105, start=101.3, step=0.1, digits=1
            ),
            Hand(
                "told",
                "its air temperature sensor",
                start="right",
                choices=(("right", "reads right"), ("lost", "stuck at 20 °C")),
            ),
        ),
        seen=(
            Seen("opening", "flap", "percent", 0),
            Seen("volts", "signal", "voltage", 2),
            Seen("density", "density of the air", "density", 3),
            Seen("believed", "what the unit reads", "mass_flow", 1),
        ),
        poses=(
            Pose(
                "idle",
                "Idle",
                {"flow": 3.0, "celsius": 20.0, "kpa": 101.3, "told": "right"},
                "The flap stands a little open.",
            ),
            Pose(
                "full",
                "Full load",
                {"flow": 100.0, "celsius": 20.0, "kpa": 101.3, "told": "right"},
                "Near its stop the track changes little.",
            ),
            Pose(
                "hot",
                "Hot air, not told",
                {"flow": 20.0, "celsius": 60.0, "kpa": 101.3, "told": "lost"},
                (
                    "Thin air must run faster for the same mass and pushes more: a meter without its temperature "
                    "reads too much."
                ),
            ),
            Pose(
                "high",
                "On the pass",
                {"flow": 20.0, "celsius": 20.0, "kpa": 80.0, "told": "right"},
                "The same for thin air at height, where the barometer must be known too.",
            ),
        ),
        look=_vane,
        tells=_vane_says,
        along="flow",
        over=("volts",),
        holds="Bernoulli at the flap, a logarithmic track; -20 to 60 °C, 70 to 105 kPa.",
    )
)

# --- air that comes in unseen
# ----------------------------------------------------------------------------------------------------------------

#: Regime -> (manifold, charge pipe, clean-air pipe) [kPa absolute], air that the engine takes [g/s]. A two-litre
#: engine.
_REGIMES: dict[str, tuple[float, float, float, float]] = {
    "idle": (31.0, 101.0, 101.2, 2.1),
    "cruise": (50.0, 100.6, 100.8, 14.0),
    "full": (97.0, 99.0, 99.2, 75.0),
    "boost": (160.0, 170.0, 98.5, 110.0),
}
#: Place -> (which of the three pressures is there, words for the side).
_PLACES: dict[str, tuple[int, str]] = {
    "gasket": (0, "behind the throttle"),
    "servo": (0, "behind the throttle"),
    "breather": (0, "behind the throttle"),
    "cover": (0, "behind the throttle"),
    "injector": (0, "behind the throttle"),
    "duct": (2, "between meter and throttle"),
    "charge": (1, "between compressor and throttle"),
}
_AIR_KPA, _AIR_KELVIN = 101.3, 293.15


def _false_air(hands: Hands) -> Numbers:
    manifold, charge, clean, air = _REGIMES[str(hands["regime"])]
    boosted = hands["regime"] == "boost"
    which, _side = _PLACES[str(hands["place"])]
    # Without a compressor the pipe before the throttle lies where the clean-air pipe lies.
    local = (manifold, charge if boosted else clean, clean)[which]
    area = number(hands, "area") * 1e-6 * HOLE_COEFFICIENT
    inward, _up, _down = orifice(area, 1000.0 * _AIR_KPA, _AIR_KELVIN, 1000.0 * local)
    outward, _up, _down = orifice(area, 1000.0 * local, _AIR_KELVIN + (40.0 if boosted else 0.0), 1000.0 * _AIR_KPA)
    leak = min(1000.0 * (inward - outward), 0.95 * air)
    # The throttle or the idle control keeps what the engine burns: the meter sees what is left of it.
    metered = air - leak
    return {
        "local": local,
        "leak": leak,
        "share": 100.0 * leak / air,
        "metered": metered,
        "trim": 100.0 * leak / max(metered, 0.05 * air),
    }


def _false_air_says(hands: Hands, numbers: Numbers) -> str:
    if abs(numbers["leak"]) < 0.005:
        return say("Hardly any pressure lies across the hole here: nothing to be seen.")
    if numbers["leak"] < 0.0:
        return say(
            (
                "Under boost the air goes out: {flow:.2f} g/s that a meter has counted are not there. A metered "
                "engine runs rich ({trim:.0f} %); a speed-density engine only loses boost."
            ),
            flow=-numbers["leak"],
            trim=numbers["trim"],
        )
    side = _PLACES[str(hands["place"])][1]
    return say(
        (
            "{flow:.2f} g/s come in {side}. A metered engine has not seen them and needs {trim:+.0f} % more "
            "fuel; a speed-density engine counts them as pressure and stays near its mixture, only the idle "
            "shifts."
        ),
        flow=numbers["leak"],
        side=side,
        trim=numbers["trim"],
    )


drawings.register(
    Drawing(
        "false_air",
        "Where air comes in unseen",
        "Servo, breather, cover seals, gaskets, ducts: what a hole at each place does in each state",
        hands=(
            Hand(
                "place",
                "place",
                start="servo",
                choices=(
                    ("gasket", "manifold gasket"),
                    ("servo", "brake servo"),
                    ("breather", "breather hose"),
                    ("cover", "cover seal or dipstick"),
                    ("injector", "injector seal"),
                    ("duct", "duct behind the meter"),
                    ("charge", "pipe before the throttle"),
                ),
            ),
            Hand("area", "size of the hole", quantity="area", low=0, high=20, start=2, step=0.5, digits=1),
            Hand(
                "regime",
                "state",
                start="idle",
                choices=(
                    ("idle", "hot idle"),
                    ("cruise", "cruise"),
                    ("full", "full load"),
                    ("boost", "full load, boosted"),
                ),
            ),
        ),
        seen=(
            Seen("local", "pressure at the hole", "pressure_abs", 1),
            Seen("leak", "air that comes in", "mass_flow", 2),
            Seen("share", "of what the engine takes", "percent", 1),
            Seen("trim", "correction of a metered engine", "trim", 1),
        ),
        poses=(
            Pose(
                "idle",
                "Idle",
                {"place": "servo", "area": 2.0, "regime": "idle"},
                "Two square millimetres behind the throttle are a sixth of what the engine takes at idle.",
            ),
            Pose(
                "cruise",
                "Cruise",
                {"place": "servo", "area": 2.0, "regime": "cruise"},
                "The hole flows as before, for it is choked; but now it is a small part of more air.",
            ),
            Pose(
                "full",
                "Full load",
                {"place": "servo", "area": 2.0, "regime": "full"},
                "No vacuum, no leak: what was a code at idle is gone.",
            ),
            Pose(
                "duct",
                "In the duct",
                {"place": "duct", "area": 20.0, "regime": "idle"},
                "Before the throttle there is hardly any pressure difference: it takes a split hose to matter.",
            ),
            Pose(
                "boost",
                "Under boost",
                {"place": "charge", "area": 20.0, "regime": "boost"},
                "The same hole, the other sign: what was counted blows out.",
            ),
        ),
        look=_false_air,
        tells=_false_air_says,
        along="area",
        over=("leak",),
        holds=(
            "Choked orifice (Heywood 1988, app. C) at the pressures of a two-litre engine in each state; "
            "correction = leak / (total - leak) with the idle held."
        ),
    )
)
