"""Circuits: a thermistor in its divider, a pair of tracks."""

from leitfaden_core.constants import ZERO_CELSIUS
from leitfaden_core.explore.drawing import Drawing, Hand, Hands, Numbers, Pose, Seen, drawings, number
from leitfaden_core.sensors.temperature import believed_resistance, ntc_resistance, ntc_temperature, ptc_resistance
from leitfaden_core.wiring.node import REFERENCE_VOLTS
from leitfaden_core.words import say

#: Thermistor of the drawings. [ohm], [K]
R25, BETA = 2200.0, 3450.0
#: A meter's tips on an open plug carry next to nothing. [ohm]
_OPEN, _SHORT = 1e9, 0.05

# --- divider
# ----------------------------------------------------------------------------------------------------------------


def _divider(hands: Hands) -> Numbers:
    kelvin, pull_up = number(hands, "celsius") + ZERO_CELSIUS, number(hands, "pull_up")
    element = ptc_resistance(kelvin) if hands["type"] == "ptc" else ntc_resistance(kelvin, R25, BETA)
    path = {"on": element + number(hands, "series"), "off": _OPEN, "shorted": _SHORT}[str(hands["plug"])]
    volts = REFERENCE_VOLTS * path / (path + pull_up)
    seen = believed_resistance(volts, pull_up, REFERENCE_VOLTS)
    return {
        "element": element,
        "volts": volts,
        "amps": 1000.0 * REFERENCE_VOLTS / (path + pull_up),
        "believed": ntc_temperature(seen, R25, BETA) - ZERO_CELSIUS,
        "drop": REFERENCE_VOLTS - volts,
    }


def _divider_says(hands: Hands, numbers: Numbers) -> str:
    if hands["plug"] == "off":
        return say(
            "Plug off: no current, no drop over the pull-up, the full 5 V stand at the pin. They come from "
            "the control unit, and it reads its coldest end."
        )
    if hands["plug"] == "shorted":
        return say("Shorted: the pin lies at ground, and the unit reads its hottest end.")
    if hands["type"] == "ptc":
        return say("A PTC rises with heat, as a heater element does: the opposite of what this unit reckons with.")
    if number(hands, "series") > 0.0:
        return say(
            (
                "Resistance in the wire adds to the sensor's: the unit reads {believed:.0f} °C instead of "
                "{celsius:.0f}. When hot, the same ohms weigh more."
            ),
            believed=numbers["believed"],
            celsius=number(hands, "celsius"),
        )
    return say(
        (
            "The sensor sends nothing: it is a resistor. Pull-up and sensor share 5 V, and the unit works the "
            "temperature out from {volts:.2f} V."
        ),
        volts=numbers["volts"],
    )


drawings.register(
    Drawing(
        "divider",
        "Thermistor in its divider",
        "A pull-up in the control unit and a resistor that falls with heat share the 5 V",
        hands=(
            Hand("celsius", "temperature", quantity="temperature", low=-40, high=130, start=20, step=1),
            Hand(
                "type",
                "element",
                start="ntc",
                choices=(("ntc", "NTC, falls with heat"), ("ptc", "PTC, rises with heat")),
            ),
            Hand("pull_up", "pull-up", quantity="resistance", low=500, high=10000, start=2200, step=100),
            Hand("series", "resistance in wire or plug", quantity="resistance", low=0, high=3000, start=0, step=50),
            Hand("plug", "plug", start="on", choices=(("on", "on"), ("off", "off"), ("shorted", "pins bridged"))),
        ),
        seen=(
            Seen("element", "element", "resistance", 0),
            Seen("volts", "voltage at the pin", "voltage", 2),
            Seen("amps", "current", "current_ma", 2),
            Seen("believed", "what the unit reads", "temperature", 0),
        ),
        poses=(
            Pose(
                "cold",
                "Cold",
                {"celsius": 0.0, "type": "ntc", "pull_up": 2200.0, "series": 0.0, "plug": "on"},
                "Large resistance, most of the 5 V.",
            ),
            Pose(
                "hot",
                "Hot",
                {"celsius": 90.0, "type": "ntc", "pull_up": 2200.0, "series": 0.0, "plug": "on"},
                "Small resistance, a fraction of a volt.",
            ),
            Pose(
                "series",
                "Green contact",
                {"celsius": 90.0, "type": "ntc", "pull_up": 2200.0, "series": 300.0, "plug": "on"},
                (
                    "300 ohms are nothing when cold and twenty-odd kelvin when hot; no code, since the voltage "
                    "is a possible one."
                ),
            ),
            Pose(
                "off",
                "Plug off",
                {"celsius": 90.0, "type": "ntc", "pull_up": 2200.0, "series": 0.0, "plug": "off"},
                "Five volts at the pin are no signal of the sensor: it is not connected.",
            ),
            Pose(
                "bridged",
                "Pins bridged",
                {"celsius": 90.0, "type": "ntc", "pull_up": 2200.0, "series": 0.0, "plug": "shorted"},
                "Off and bridged are the two ends: if the display follows both, wires and unit are proven.",
            ),
        ),
        look=_divider,
        tells=_divider_says,
        along="celsius",
        over=("volts", "element"),
        holds=(
            "Beta equation (two points of Steinhart and Hart 1968) with 2.2 kΩ at 25 °C and 3450 K; Callendar "
            "and Van Dusen for platinum."
        ),
    )
)

# --- two tracks
# ----------------------------------------------------------------------------------------------------------------

#: How far two tracks may disagree. [V]
AGREE = 0.25


def _tracks(hands: Hands) -> Numbers:
    share = number(hands, "travel") / 100.0
    # What the sensors' common ground lies above the unit's, with some 12 mA of two tracks in it.
    lift = 0.012 * number(hands, "ground")
    reference = number(hands, "reference")
    worn = number(hands, "worn") / 100.0
    span = max(reference - lift, 0.0)
    if hands["pair"] == "throttle":
        first, second = 0.1 + 0.8 * share + worn, 0.9 - 0.8 * share
    else:
        first, second = 0.15 + 0.7 * share + worn, 0.5 * (0.15 + 0.7 * share)
    one, two = lift + min(max(first, 0.0), 1.0) * span, lift + second * span
    apart = abs(one + two - REFERENCE_VOLTS) if hands["pair"] == "throttle" else abs(one - 2.0 * two)
    return {"one": one, "two": two, "apart": apart, "agree": float(apart <= AGREE), "lift": lift}


def _tracks_says(hands: Hands, numbers: Numbers) -> str:
    rule = (
        say("One rises, the other falls: together they are always 5 V.")
        if hands["pair"] == "throttle"
        else say("The second is always half of the first.")
    )
    if numbers["agree"]:
        return f"{rule} {say('They agree within a quarter of a volt, so the unit believes them.')}"
    apart = say(
        "They are {apart:.2f} V apart: the unit believes neither, limits the engine and stores the correlation code.",
        apart=numbers["apart"],
    )
    return f"{rule} {apart}"


drawings.register(
    Drawing(
        "tracks",
        "A pair of tracks",
        "Two tracks tell the same place in two ways, so that one lie is found out by the other",
        hands=(
            Hand("travel", "plate or pedal", quantity="percent", low=0, high=100, start=20, step=1),
            Hand("pair", "pair", start="throttle", choices=(("throttle", "throttle"), ("pedal", "pedal"))),
            Hand("worn", "first track shifted", quantity="percent", low=-20, high=20, start=0, step=1),
            Hand("ground", "resistance in the common ground", quantity="resistance", low=0, high=60, start=0, step=1),
            Hand(
                "reference",
                "reference at the sensor",
                quantity="voltage",
                low=4.0,
                high=5.2,
                start=5.0,
                step=0.05,
                digits=2,
            ),
        ),
        seen=(
            Seen("one", "first track", "voltage", 2),
            Seen("two", "second track", "voltage", 2),
            Seen("apart", "apart by", "voltage", 2),
        ),
        poses=(
            Pose(
                "closed",
                "At rest",
                {"travel": 0.0, "pair": "throttle", "worn": 0.0, "ground": 0.0, "reference": 5.0},
                "Half a volt and four and a half.",
            ),
            Pose(
                "open",
                "Fully open",
                {"travel": 100.0, "pair": "throttle", "worn": 0.0, "ground": 0.0, "reference": 5.0},
                "The other way round.",
            ),
            Pose(
                "pedal",
                "A pedal's pair",
                {"travel": 50.0, "pair": "pedal", "worn": 0.0, "ground": 0.0, "reference": 5.0},
                "Here both rise; the second is half of the first.",
            ),
            Pose(
                "ground",
                "Poor ground",
                {"travel": 0.0, "pair": "pedal", "worn": 0.0, "ground": 40.0, "reference": 5.0},
                "The lifted ground adds the same to both, and half is no longer half.",
            ),
        ),
        look=_tracks,
        tells=_tracks_says,
        along="travel",
        over=("one", "two"),
        holds="Ratiometric tracks as the simulator has them; a quarter of a volt is its limit of agreement.",
    )
)
