"""Pressure: diaphragm and bridge, three rulers, orifice, vacuum valves with their bleed, wastegate."""

from leitfaden_core.constants import ZERO_CELSIUS
from leitfaden_core.engine.turbo import wastegate_opening
from leitfaden_core.expect import SCHOOL
from leitfaden_core.explore.drawing import Drawing, Hand, Hands, Numbers, Pose, Seen, drawings, number
from leitfaden_core.rigs import load_rig
from leitfaden_core.sensors.pressure import (
    EGR_DP_GAIN,
    EGR_DP_OFFSET,
    EGR_GAS,
    believed_pressure,
    orifice_drop,
    orifice_mass_flow,
)
from leitfaden_core.simulate.parts.recirculation import NEGATIVE, PORTED, POSITIVE, bleed_share, valve_lift
from leitfaden_core.words import say
from leitfaden_core.workings.kinds.pressure import station_pressure

_REFERENCE = 5.0
#: Share of a silicon diaphragm's reach, and output of its bridge at full pressure: a usual design. [mV/V]
BRIDGE_FULL = 20.0
#: Range -> (volts and kPa at its lower point, at its upper).
_RANGES = {"one": (0.5, 15.0, 4.7, 105.0), "two": (0.4, 10.0, 4.65, 200.0), "three": (0.4, 10.0, 4.65, 300.0)}

# --- diaphragm
# ----------------------------------------------------------------------------------------------------------------


def _diaphragm(hands: Hands) -> Numbers:
    low_volts, low, high_volts, high = _RANGES[str(hands["range"])]
    gain = (high_volts - low_volts) / (high - low) / _REFERENCE
    offset = low_volts / _REFERENCE - gain * low
    kpa, supply = number(hands, "kpa"), number(hands, "supply")
    share = min(max(offset + gain * kpa, 0.02), 0.98)
    volts = share * supply
    return {
        "bend": min(kpa / high, 1.1),
        "bridge": BRIDGE_FULL * supply * min(kpa / high, 1.1),
        "volts": volts,
        "believed": believed_pressure(volts, _REFERENCE, offset, gain),
        "clipped": float(kpa > high or share >= 0.98),
    }


def _diaphragm_says(hands: Hands, numbers: Numbers) -> str:
    if numbers["clipped"]:
        return say(
            "The pressure lies beyond the range: the signal stands at its end, and no number behind it can be trusted."
        )
    kpa = number(hands, "kpa")
    if abs(numbers["believed"] - kpa) > 1.0:
        return say(
            (
                "The output is a share of the supply. The unit reckons with 5 V; with {supply:.2f} V at the "
                "sensor it reads {believed:.1f} kPa instead of {kpa:.1f}."
            ),
            supply=number(hands, "supply"),
            believed=numbers["believed"],
            kpa=kpa,
        )
    return say(
        (
            "The pressure bends the diaphragm against a sealed vacuum, so it is absolute. Strained resistors on "
            "it put the bridge out of balance by {mv:.0f} mV, and keep it there: it holds a steady reading."
        ),
        mv=numbers["bridge"],
    )


drawings.register(
    Drawing(
        "diaphragm",
        "Diaphragm with its strain bridge",
        "A thin diaphragm over a sealed vacuum, four resistors on it, and an amplifier that gives a share of "
        "the supply",
        hands=(
            Hand("kpa", "pressure on it", quantity="pressure_abs", low=5, high=320, start=33, step=1),
            Hand("range", "range", start="one", choices=(("one", "1 bar"), ("two", "2 bar"), ("three", "3 bar"))),
            Hand(
                "supply", "supply at the sensor", quantity="voltage", low=4.0, high=5.5, start=5.0, step=0.05, digits=2
            ),
        ),
        seen=(
            Seen("bridge", "bridge, out of balance [mV]", "count", 0),
            Seen("volts", "signal", "voltage", 2),
            Seen("believed", "what the unit reads", "pressure_abs", 1),
        ),
        poses=(
            Pose(
                "off",
                "Key on, engine off",
                {"kpa": 98.0, "range": "one", "supply": 5.0},
                "The manifold holds the air of the day: the sensor is a barometer now.",
            ),
            Pose(
                "idle",
                "Hot idle",
                {"kpa": 33.0, "range": "one", "supply": 5.0},
                "A third of an atmosphere: the diaphragm relaxes, the signal falls.",
            ),
            Pose(
                "two",
                "The same in a 2-bar sensor",
                {"kpa": 98.0, "range": "two", "supply": 5.0},
                "The same pressure, another voltage: the range must be known before a voltage means anything.",
            ),
            Pose(
                "weak",
                "Supply too low",
                {"kpa": 98.0, "range": "one", "supply": 4.5},
                "Every sensor on this reference reads low by the same share.",
            ),
        ),
        look=_diaphragm,
        tells=_diaphragm_says,
        along="kpa",
        over=("volts",),
        holds="Straight line from the two points of each range; the bridge's 20 mV/V are a usual design.",
    )
)

# --- three rulers
# ----------------------------------------------------------------------------------------------------------------


def _barometer(hands: Hands) -> float:
    return number(hands, "sea") * station_pressure(number(hands, "altitude")) / station_pressure(0.0)


def _rulers(hands: Hands) -> Numbers:
    barometer, kpa = _barometer(hands), number(hands, "kpa")
    return {
        "barometer": barometer,
        "absolute": kpa,
        "boost": max(kpa - barometer, 0.0),
        "vacuum": max(barometer - kpa, 0.0),
        "weather": number(hands, "sea") - barometer,
    }


def _rulers_says(hands: Hands, numbers: Numbers) -> str:
    if numbers["boost"] > 0.2:
        return say(
            "Above the air of the day: {boost:.0f} kPa boost, {absolute:.0f} kPa absolute. There is no vacuum here.",
            boost=numbers["boost"],
            absolute=numbers["absolute"],
        )
    if numbers["vacuum"] > 0.2:
        return say(
            (
                "{absolute:.0f} kPa absolute are {vacuum:.0f} kPa of vacuum under a barometer of "
                "{barometer:.1f}. Move the height: the vacuum changes with the barometer, the absolute pressure "
                "stays where it is put."
            ),
            absolute=numbers["absolute"],
            vacuum=numbers["vacuum"],
            barometer=numbers["barometer"],
        )
    return say("The pressure of the day itself: zero on both of the other rulers.")


drawings.register(
    Drawing(
        "rulers",
        "One pressure on three rulers",
        "Absolute, boost and vacuum: three zeros for the same gas, with the barometer between them",
        hands=(
            Hand("kpa", "pressure", quantity="pressure_abs", low=10, high=250, start=33, step=1),
            Hand("altitude", "height of the place", quantity="altitude", low=0, high=3000, start=0, step=50),
            Hand(
                "sea",
                "weather report, reduced to sea level",
                quantity="pressure_abs",
                low=96,
                high=105,
                start=101.3,
                step=0.1,
                digits=1,
            ),
        ),
        seen=(
            Seen("absolute", "absolute", "pressure_abs", 1),
            Seen("vacuum", "vacuum", "vacuum", 1),
            Seen("boost", "boost", "pressure_gauge", 1),
            Seen("barometer", "barometer here", "pressure_abs", 1),
            Seen("weather", "above the barometer here: the report", "pressure_diff", 1),
        ),
        poses=(
            Pose(
                "idle",
                "Idle at sea level",
                {"kpa": 33.0, "altitude": 0.0, "sea": 101.3},
                "An engine needs about a third of an atmosphere to idle.",
            ),
            Pose(
                "high",
                "The same idle at 2000 m",
                {"kpa": 33.0, "altitude": 2000.0, "sea": 101.3},
                "It still needs the same absolute pressure. Almost a third of the vacuum is gone, and "
                "nothing is wrong.",
            ),
            Pose(
                "full",
                "Full load at 2000 m",
                {"kpa": 77.0, "altitude": 2000.0, "sea": 101.3},
                "Some two kilopascals below the air of the place: full load is not 100 kPa.",
            ),
            Pose(
                "boost",
                "Boost",
                {"kpa": 165.0, "altitude": 0.0, "sea": 101.3},
                "Part throttle may lie above the barometer too, once a compressor works.",
            ),
        ),
        look=_rulers,
        tells=_rulers_says,
        along="altitude",
        over=("vacuum",),
        holds="Standard atmosphere up to 3000 m, moved with the weather; about 1.2 kPa for each 100 m.",
    )
)

# --- orifice
# ----------------------------------------------------------------------------------------------------------------


def _orifice_area() -> float:
    section = load_rig("R2-EGRDP").egr_by_load
    assert section is not None
    return section.egr_orifice


def _orifice(hands: Hands) -> Numbers:
    flow, kelvin = number(hands, "flow") / 1000.0, number(hands, "celsius") + ZERO_CELSIUS
    pascal = 1000.0 * SCHOOL.kpa
    drop = orifice_drop(flow, _orifice_area(), pascal, kelvin) / 1000.0
    # The hose that is left sees the pipe, the other side of the sensor the air.
    felt = {"right": drop, "swapped": -drop, "first_off": 0.0, "both": 0.0}[str(hands["hoses"])]
    volts = _REFERENCE * min(max(EGR_DP_OFFSET + EGR_DP_GAIN * felt, 0.01), 0.98)
    believed = orifice_mass_flow(
        1000.0 * believed_pressure(volts, _REFERENCE, EGR_DP_OFFSET, EGR_DP_GAIN), _orifice_area(), pascal, EGR_GAS
    )
    return {
        "drop": drop,
        "felt": felt,
        "volts": volts,
        "believed": 1000.0 * believed,
        "rest": _REFERENCE * EGR_DP_OFFSET,
    }


def _orifice_says(hands: Hands, numbers: Numbers) -> str:
    if hands["hoses"] == "swapped":
        return say(
            (
                "With the hoses swapped the voltage falls below its rest of {rest:.1f} V as the flow grows: the "
                "unit takes it for no flow."
            ),
            rest=numbers["rest"],
        )
    if hands["hoses"] != "right":
        return say("The hose before the orifice is off or burnt through: the sensor feels nothing, whatever flows.")
    return say(
        (
            "The drop grows with the square of the flow: half the flow makes a quarter of the drop. {drop:.2f} "
            "kPa give {volts:.2f} V, and the unit takes the root of it."
        ),
        drop=numbers["drop"],
        volts=numbers["volts"],
    )


drawings.register(
    Drawing(
        "orifice",
        "Flow told by a pressure drop",
        "An orifice in the recirculation pipe, a hose on each side, and a sensor that feels the difference",
        hands=(
            Hand("flow", "gas that flows", quantity="mass_flow", low=0, high=4, start=1, step=0.1, digits=1),
            Hand("celsius", "temperature of the gas", quantity="temperature", low=20, high=700, start=527, step=10),
            Hand(
                "hoses",
                "hoses",
                start="right",
                choices=(("right", "both on"), ("swapped", "swapped"), ("first_off", "front one burnt")),
            ),
        ),
        seen=(
            Seen("drop", "drop over the orifice", "pressure_diff", 2),
            Seen("volts", "signal", "voltage", 2),
            Seen("believed", "flow that the unit reads", "mass_flow", 1),
        ),
        poses=(
            Pose(
                "rest",
                "No flow",
                {"flow": 0.0, "celsius": 527.0, "hoses": "right"},
                "Half a volt at rest: zero flow is not zero volts.",
            ),
            Pose("half", "Some flow", {"flow": 1.0, "celsius": 527.0, "hoses": "right"}, "One gram a second."),
            Pose("double", "Twice the flow", {"flow": 2.0, "celsius": 527.0, "hoses": "right"}, "Four times the drop."),
            Pose(
                "swapped",
                "Hoses swapped",
                {"flow": 2.0, "celsius": 527.0, "hoses": "swapped"},
                "The needle goes the wrong way, below its rest.",
            ),
            Pose(
                "cool",
                "Cooler gas",
                {"flow": 2.0, "celsius": 127.0, "hoses": "right"},
                "Denser gas drops less; the unit, calibrated for hot gas, reads too little.",
            ),
        ),
        look=_orifice,
        tells=_orifice_says,
        along="flow",
        over=("volts",),
        holds=(
            "Orifice equation at small drops (Heywood 1988, app. C); a particle filter adds a straight part, see "
            "its page."
        ),
    )
)

# --- vacuum valves for exhaust recirculation
# ----------------------------------------------------------------------------------------------------------------

_DRIVES = {"ported": PORTED, "positive": POSITIVE, "negative": NEGATIVE}


def _vacuum_valve(hands: Hands) -> Numbers:
    section = load_rig("R5-EGRP").egr_by_load
    assert section is not None
    running = hands["engine"] == "running"
    gauge = 1000.0 * number(hands, "exhaust") if running else 0.0
    left = bleed_share(_DRIVES[str(hands["type"])], gauge, section.egr_bleed, running)
    vacuum = 1000.0 * number(hands, "vacuum") * left
    return {
        "left": 100.0 * left,
        "bleed": 1.0 - left,
        "chamber": vacuum / 1000.0,
        "lift": 100.0 * valve_lift(vacuum, section.egr_spring, section.egr_span),
        "spring": section.egr_spring / 1000.0,
    }


def _vacuum_valve_says(hands: Hands, numbers: Numbers) -> str:
    kind, running = hands["type"], hands["engine"] == "running"
    if kind == "positive" and not running:
        return say(
            "Positive type, engine off: its bleed stands open. It neither lifts nor holds vacuum on the "
            "bench, and that is right. Only exhaust pressure shuts the bleed."
        )
    if kind == "negative" and not running:
        return say(
            "Negative type, engine off: its bleed is shut. It lifts and holds, and lets go when the engine starts."
        )
    if kind == "ported":
        return say(
            (
                "Ported type: no bleed. What the pump pulls is what the diaphragm feels; it begins to lift at "
                "{spring:.0f} kPa."
            ),
            spring=numbers["spring"],
        )
    return say(
        (
            "Engine running: {left:.0f} % of the vacuum is left to the diaphragm. More pressure in the exhaust "
            "shuts the bleed further, so the valve opens wider; that direction is the same for both kinds."
        ),
        left=numbers["left"],
    )


drawings.register(
    Drawing(
        "vacuum_valve",
        "Vacuum valves for exhaust recirculation",
        "Diaphragm, spring and bleed of the three vacuum types, under a hand pump and under exhaust pressure",
        hands=(
            Hand(
                "type",
                "type",
                start="positive",
                choices=(
                    ("ported", "ported vacuum"),
                    ("positive", "positive back-pressure"),
                    ("negative", "negative back-pressure"),
                ),
            ),
            Hand("engine", "engine", start="off", choices=(("off", "off"), ("running", "running"))),
            Hand("vacuum", "vacuum put on it", quantity="vacuum", low=0, high=70, start=50, step=1),
            Hand(
                "exhaust",
                "pressure in the exhaust",
                quantity="pressure_gauge",
                low=0,
                high=2,
                start=0.3,
                step=0.05,
                digits=2,
            ),
        ),
        seen=(
            Seen("left", "of it reaches the diaphragm", "percent", 0),
            Seen("chamber", "vacuum on the diaphragm", "vacuum", 1),
            Seen("lift", "lift", "percent", 0),
        ),
        poses=(
            Pose(
                "bench",
                "Positive type on the bench",
                {"type": "positive", "engine": "off", "vacuum": 50.0, "exhaust": 0.0},
                "The pump pulls air through the open bleed for ever. The valve is not faulty.",
            ),
            Pose(
                "pressed",
                "The same with exhaust pressure",
                {"type": "positive", "engine": "running", "vacuum": 50.0, "exhaust": 0.6},
                "Now the bleed is shut, the vacuum stays, the valve lifts.",
            ),
            Pose(
                "negative",
                "Negative type on the bench",
                {"type": "negative", "engine": "off", "vacuum": 50.0, "exhaust": 0.0},
                "It lifts and holds.",
            ),
            Pose(
                "idling",
                "The same at idle",
                {"type": "negative", "engine": "running", "vacuum": 50.0, "exhaust": 0.05},
                "The suction between exhaust pulses opens its bleed: it lets go.",
            ),
            Pose(
                "ported",
                "Ported type",
                {"type": "ported", "engine": "off", "vacuum": 50.0, "exhaust": 0.0},
                "Plain diaphragm and spring: pump and watch.",
            ),
        ),
        look=_vacuum_valve,
        tells=_vacuum_valve_says,
        along="vacuum",
        over=("lift",),
        holds=(
            "Generic arrangement (Heywood 1988, sec. 11.2.3 for the why); constants of the fire tender's "
            "variants R5-EGRV, R5-EGRP and R5-EGRN."
        ),
    )
)

# --- wastegate
# ----------------------------------------------------------------------------------------------------------------


def _wastegate(hands: Hands) -> Numbers:
    turbo = load_rig("R3").turbocharger
    assert turbo is not None
    boost, duty = number(hands, "boost"), number(hands, "duty") / 100.0
    reaches = {"on": 1.0, "leaks": 0.5, "off": 0.0}[str(hands["hose"])]
    opening = wastegate_opening(1000.0 * boost * reaches, duty, turbo.wastegate_spring, turbo.wastegate_span)
    return {
        "actuator": boost * reaches * (1.0 - duty),
        "opening": 100.0 * opening,
        "spring": turbo.wastegate_spring / 1000.0,
        "full": (turbo.wastegate_spring + turbo.wastegate_span) / 1000.0,
    }


def _wastegate_says(hands: Hands, numbers: Numbers) -> str:
    if hands["hose"] != "on":
        return say(
            "Less of the charge pressure reaches the actuator, so the gate stays shut for longer: the boost "
            "runs away upwards, until the unit cuts."
        )
    if numbers["opening"] <= 0.0:
        return say(
            (
                "{kpa:.0f} kPa in the actuator do not beat its spring ({spring:.0f} kPa): the gate is shut, all "
                "gas drives the turbine, boost rises."
            ),
            kpa=numbers["actuator"],
            spring=numbers["spring"],
        )
    return say(
        (
            "Pressure in the actuator opens the gate: {opening:.0f} % open, gas goes round the turbine, boost is "
            "held back. The solenoid bleeds pressure off; more duty means more boost."
        ),
        opening=numbers["opening"],
    )


drawings.register(
    Drawing(
        "wastegate",
        "Wastegate actuator with its bleed",
        "Charge pressure opens the gate that lowers it; a solenoid bleeds some of it off",
        hands=(
            Hand(
                "boost", "charge pressure above the air", quantity="pressure_gauge", low=0, high=150, start=60, step=1
            ),
            Hand("duty", "duty of the solenoid", quantity="percent", low=0, high=100, start=20, step=1),
            Hand(
                "hose", "hose to the actuator", start="on", choices=(("on", "on"), ("leaks", "leaks"), ("off", "off"))
            ),
        ),
        seen=(Seen("actuator", "pressure in the actuator", "pressure_gauge", 0), Seen("opening", "gate", "percent", 0)),
        poses=(
            Pose("low", "Little boost", {"boost": 15.0, "duty": 0.0, "hose": "on"}, "The spring keeps the gate shut."),
            Pose(
                "opens",
                "Boost opens it",
                {"boost": 60.0, "duty": 0.0, "hose": "on"},
                "Rising pressure opens, and so limits itself.",
            ),
            Pose(
                "bled",
                "Bled off",
                {"boost": 60.0, "duty": 60.0, "hose": "on"},
                "The same boost, but the solenoid lets it past: the gate shuts, boost may rise.",
            ),
            Pose(
                "off",
                "Hose off",
                {"boost": 120.0, "duty": 0.0, "hose": "off"},
                "Nothing opens the gate any more: overboost.",
            ),
        ),
        look=_wastegate,
        tells=_wastegate_says,
        along="boost",
        over=("opening",),
        holds="Balance of diaphragm and spring; constants of the ferry shuttle (R3).",
    )
)
