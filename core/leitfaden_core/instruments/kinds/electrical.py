"""Multimeter and current clamp: what they show follows from the network, wrong dial and wrong jack included."""

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.chance import chance
from leitfaden_core.engine.fuel import INJECTOR_OHMS
from leitfaden_core.errors import LeitfadenError, UnknownName
from leitfaden_core.instruments.instrument import Instrument, Observation, Option, Shown, Use, instruments
from leitfaden_core.instruments.vehicle import Vehicle
from leitfaden_core.rigs import Rig, rig_channels
from leitfaden_core.simulate import FRAME, Run
from leitfaden_core.simulate.pins import hooks_at
from leitfaden_core.wiring.joints import pins_of_plug
from leitfaden_core.wiring.network import GROUND, Network
from leitfaden_core.words import say

#: A meter's own: fuse of the current range [A], shunt [ohm], test current of the ohm range [A], resistance of its leads
#: [ohm], share of error.
FUSE_AMPS, SHUNT_OHMS, TEST_AMPS, LEAD_OHMS, VOLT_ERROR, OHM_ERROR = 10.0, 0.01, 0.0005, 0.2, 0.005, 0.01
BEEPS_BELOW = 30.0
_OHMS_LIVE = (
    "Resistance on a circuit under voltage: the meter shows the foreign voltage as ohms, and can be damaged. Key "
    "off, plug off first."
)


def pins_of(rig: Rig) -> list[str]:
    """Nothing fixed: any two pins of the wiring, written red/black; ``leitfaden pins`` lists them."""
    return []


def _tips(use: Use, network: Network) -> tuple[str, str]:
    red, slash, black = use.place.partition("/")
    red, black = _pin(use, network, red.strip()), _pin(use, network, black.strip()) if slash else GROUND
    for pin in (red, black):
        if pin != GROUND and pin not in network.nodes():
            raise UnknownName("pin", pin, [GROUND, *network.nodes()], where=say("on rig {id}", id=use.vehicle.rig.id))
    return red, black


def numbered_pins(vehicle: Vehicle, network: Network, plug: str) -> list[str]:
    """Pins of a plug in the order in which they are numbered on this vehicle: makers choose, so nobody may assume
    it.
    """
    pins = sorted(pins_of_plug(plug, network.nodes()))
    return [pins[k] for k in chance(vehicle.seed, "order of pins", vehicle.rig.id, plug).permutation(len(pins))]


def _pin(use: Use, network: Network, name: str) -> str:
    """A pin by its name, or by its number in the plug, such as ``map.2``."""
    plug, _, number = name.rpartition(".")
    if not plug or not number.isdigit():
        return name
    pins = numbered_pins(use.vehicle, network, plug)
    if not 1 <= int(number) <= len(pins):
        numbers = [f"{plug}.{k + 1}" for k in range(len(pins))]
        raise UnknownName("pin", name, numbers, where=say("on rig {id}", id=use.vehicle.rig.id))
    return pins[int(number) - 1]


def _multimeter(use: Use) -> Observation:
    off = use.options["key"] == "off"
    network = use.vehicle.network(use.condition, key_off=off)
    red, black = _tips(use, network)
    dial, jack = use.options["dial"], use.options["jack"]
    if jack == "A" and dial != "A":
        return _short(use, network, red, black)
    shown, notes, changes = _DIALS[dial](use, network, red, black, off)
    return Observation("multimeter", use.place, use.condition, shown=shown, minutes=3.0, notes=notes, changes=changes)


Result = tuple[tuple[Shown, ...], tuple[str, ...], tuple[str, ...]]


def _volts(use: Use, network: Network, red: str, black: str, off: bool) -> Result:
    if use.options["hold"] == "min/max":
        return _held(use, red, black)
    true = network.volts(red, black)
    ranges = {"4 V": 4.0, "40 V": 40.0, "400 V": 400.0}
    top = ranges.get(use.options["range"], 4.0 if abs(true) < 4.0 else 40.0)
    if abs(true) > top:
        return (
            (Shown("volts", "V DC", None, quantity="voltage", text="OL (over the range)"),),
            ("Choose a larger range.",),
            (),
        )
    step = top / 4000.0
    value = true + VOLT_ERROR / 3.0 * abs(true) * float(use.chance.standard_normal())
    notes = (
        ("No current flows through this path: a voltage here proves the wire to this pin, not the path under load.",)
        if use.vehicle.work.unplugged
        else ()
    )
    return (
        (
            Shown(
                "volts",
                "V DC",
                round(value / step) * step,
                quantity="voltage",
                text="",
                step=step,
                error=VOLT_ERROR / 3.0 * abs(true) + step / 3.5,
            ),
        ),
        notes,
        (),
    )


#: A meter's own averaging in min/max. [s]
HELD_OVER = 0.1
#: Recorded voltage of a pin, by the wire that it belongs to, or by its whole name.
_RECORDED = {
    "maf": "maf_volts",
    "map": "map_volts",
    "charge": "charge_volts",
    "iat": "iat_volts",
    "ect": "ect_volts",
    "tp": "tp_volts",
    "front": "ho2s_b1s1_pin_v",
    "rear": "ho2s_b1s2_pin_v",
    "rail": "rail_volts",
    "egr": "egr_volts",
}
_SHARED_PINS = {
    "reference": "vref_v",
    "unit.5v": "vref_v",
    "sensor ground": "sensor_ground_v",
    "engine block": "block_lift",
    "battery plus": "battery_true",
}


def _recorded(use: Use, run: Run, pin: str) -> NDArray[np.float64]:
    """Voltage of a pin against battery minus over the whole condition."""
    rows = run.rows(run.script.span(use.condition))
    if pin == GROUND:
        return np.zeros(len(rows))
    signal = pin.removeprefix("unit.").removesuffix(".signal")
    name = _SHARED_PINS.get(pin) or _RECORDED.get(signal, "")
    if name not in (rows.dtype.names or ()) or (signal in _RECORDED and name not in rig_channels(run.rig)):
        raise LeitfadenError(
            say("min/max is kept for signal pins and supplies, such as unit.ect; '{pin}' is none of this rig", pin=pin)
        )
    return np.asarray(rows[name], dtype=np.float64)


def _held(use: Use, red: str, black: str) -> Result:
    """Lowest and highest voltage between the tips over the whole condition, averaged over a tenth of a second: shorter
    gaps shrink or vanish.
    """
    run = use.vehicle.run(use.condition)
    values = _recorded(use, run, red) - _recorded(use, run, black)
    width = max(round(HELD_OVER / FRAME), 1)
    smooth = np.convolve(values, np.ones(width) / width, mode="valid")
    notes = (
        say(
            "Averaged over {held_over:g} ms: a gap of 20 ms shows as a fifth of its depth.", held_over=HELD_OVER * 1000
        ),
    )
    return (
        (
            Shown("lowest", "lowest", round(float(smooth.min()), 3), quantity="voltage", text="", step=0.01),
            Shown("highest", "highest", round(float(smooth.max()), 3), quantity="voltage", text="", step=0.01),
        ),
        notes,
        (),
    )


def _ohms(use: Use, network: Network, red: str, black: str, off: bool) -> Result:
    foreign = network.volts(red, black)
    if abs(foreign) > 0.02:
        shown = Shown("ohms", "ohm", abs(foreign) / TEST_AMPS, quantity="resistance", text="not a resistance")
        return (shown,), (_OHMS_LIVE,), ()
    if not off:
        return _resistance(use, use.vehicle.network(use.condition, key_off=True), red, black, (_OHMS_LIVE,))
    return _resistance(use, network, red, black, ())


def _resistance(use: Use, network: Network, red: str, black: str, warned: tuple[str, ...]) -> Result:
    true = network.ohms(red, black)
    if true is None:
        return (Shown("ohms", "ohm", None, quantity="resistance", text="open"),), warned, ()
    value = (true + LEAD_OHMS) * (1.0 + OHM_ERROR / 3.0 * float(use.chance.standard_normal()))
    step = 0.1 if true < 400 else 1.0 if true < 4e3 else 10.0 if true < 4e4 else 1e3
    parallel = (
        ()
        if use.vehicle.work.unplugged
        else ("The plug is on: everything that hangs on the circuit is measured along.",)
    )
    return (
        (
            Shown(
                "ohms",
                "ohm",
                round(value / step) * step,
                quantity="resistance",
                text="",
                step=step,
                error=OHM_ERROR / 3.0 * true + step / 3.5,
            ),
        ),
        (*warned, *parallel),
        (),
    )


def _continuity(use: Use, network: Network, red: str, black: str, off: bool) -> Result:
    if not off and abs(network.volts(red, black)) > 0.02:
        return (
            (Shown("continuity", "continuity", None, quantity="", text="silent or beeping at random"),),
            (_OHMS_LIVE,),
            (),
        )
    # On a circuit that is alive and happens to show no voltage here, it shows what it would, and the warning stands.
    true = (network if off else use.vehicle.network(use.condition, key_off=True)).ohms(red, black)
    beeps = true is not None and true + LEAD_OHMS < BEEPS_BELOW
    note = say(
        "It beeps below {beeps_below:g} ohm: {beeps_below_2:g} ohm in a ground beep as well.",
        beeps_below=BEEPS_BELOW,
        beeps_below_2=BEEPS_BELOW - 1,
    )
    notes = (note,) if off else (_OHMS_LIVE, note)
    return (Shown("continuity", "continuity", None, quantity="", text="beeps" if beeps else "silent"),), notes, ()


def _amps(use: Use, network: Network, red: str, black: str, off: bool) -> Result:
    if use.options["jack"] != "A":
        return (
            (Shown("amps", "A", 0.0, quantity="current", text="the lead is in the volt jack"),),
            ("Nothing flows through the volt jack: put the red lead into the ampere jack.",),
            (),
        )
    amps = _short_current(network, red, black)
    if amps > FUSE_AMPS:
        return (
            (Shown("amps", "A", 0.0, quantity="current", text="fuse blown"),),
            ("A current range is a short between the tips: it belongs into the circuit, never across a supply.",),
            ("the meter's fuse is blown",),
        )
    return (
        (Shown("amps", "A", round(amps, 3), quantity="current", text="", step=0.001, error=0.01 * amps + 0.0003),),
        ("Between these tips there was a short while this was read.",),
        (),
    )


def _hertz(use: Use, network: Network, red: str, black: str, off: bool) -> Result:
    run = use.vehicle.run(use.condition)
    if "maf_hz" in rig_channels(use.vehicle.rig) and "maf" in red:
        return (
            (
                Shown(
                    "hertz",
                    "Hz",
                    round(run.statistic(use.condition, "maf_hz", "mean")),
                    quantity="frequency",
                    text="",
                    step=1.0,
                    error=1.0,
                ),
            ),
            (),
            (),
        )
    return (Shown("hertz", "Hz", 0.0, quantity="frequency", text="no pulses"),), (), ()


def _duty(use: Use, network: Network, red: str, black: str, off: bool) -> Result:
    """Share of the time in which the driver pulls its side to ground; the supply's side stands still."""
    run, rig = use.vehicle.run(use.condition), use.vehicle.rig
    if red == "wideband.heater minus" and "heater_duty" in rig_channels(rig):
        seen = round(run.statistic(use.condition, "heater_duty", "mean"), 1)
        return (Shown("duty", "duty", seen, quantity="percent", text="", step=0.1, error=0.5),), (), ()
    return (Shown("duty", "duty", None, quantity="percent", text="no pulses"),), (), ()


def _short_current(network: Network, red: str, black: str) -> float:
    """Current through a meter in its current range. [A]"""
    loaded = Network(
        [*network.resistors, (red, black, SHUNT_OHMS)], network.sources, network.amplifiers, network.currents
    )
    voltages = loaded.solve()
    return abs(voltages[red] - voltages[black]) / SHUNT_OHMS


def _short(use: Use, network: Network, red: str, black: str) -> Observation:
    amps = _short_current(network, red, black)
    blown = amps > FUSE_AMPS
    words = "fuse blown" if blown else say("{amps:.2f} A through the meter", amps=amps)
    notes = ["The red lead sits in the ampere jack: whatever the dial says, the tips are a short."]
    if "reference" in red or ".supply" in red or red == "unit.5v":
        notes.append(
            "The 5 V reference was shorted: all its sensors went with it, and the control unit may have stored a code."
        )
    return Observation(
        "multimeter",
        use.place,
        use.condition,
        shown=(Shown("reading", "reading", 0.0 if blown else round(amps, 3), quantity="current", text=words),),
        minutes=5.0,
        notes=tuple(notes),
        changes=("the meter's fuse is blown",) if blown else ("the circuit was shorted",),
    )


_DIALS = {"V DC": _volts, "ohm": _ohms, "continuity": _continuity, "A": _amps, "Hz": _hertz, "duty": _duty}

instruments.register(
    Instrument(
        "multimeter",
        "multimeter",
        purpose="Voltage, resistance, current between any two pins.",
        minutes=3.0,
        places=pins_of,
        use=_multimeter,
        options=(
            Option("dial", "dial", choices=tuple(_DIALS), default="V DC"),
            Option("jack", "red lead in jack", choices=("V", "A"), default="V"),
            Option("key", "key", choices=("as the condition", "off"), default="as the condition"),
            Option("range", "range", choices=("auto", "4 V", "40 V", "400 V"), default="auto"),
            Option("hold", "hold", choices=("off", "min/max"), default="off"),
        ),
        cautions=(
            "Probe from the back of the plug; never pierce insulation.",
            "Resistance and continuity only with the key off and the plug off.",
        ),
        free_places="two pins, red/black, such as map.signal/battery minus; leitfaden pins lists them",
    )
)


#: Wires whose heater a place may be, the first that there is.
_HEATERS = {
    "heater of the front oxygen sensor": ("wideband", "front"),
    "heater of the rear oxygen sensor": ("rear",),
}


def clamp_places(rig: Rig) -> list[str]:
    """Where a current clamp fits."""
    places = ["supply of the airflow meter"] if "maf" in rig.features else []
    if "heated_front" in rig.features or "wideband" in rig.features:
        places.append("heater of the front oxygen sensor")
    if "ho2s_b1s2" in rig.features:
        places.append("heater of the rear oxygen sensor")
    if "petrol" in rig.features:
        places.append("common supply of the injectors")
    return places


def _clamp(use: Use) -> Observation:
    vehicle = use.vehicle
    if use.place == "common supply of the injectors":
        return _injector_current(use)
    network = vehicle.network(use.condition)
    if use.place == "supply of the airflow meter":
        amps = next(current for start, _end, current in network.currents if start == "maf.supply")
        if vehicle.network(use.condition).volts("maf.supply", "maf.power ground") < 4.0:
            amps = 0.0
    else:
        wired = network.nodes()
        name = next(wire for wire in _HEATERS[use.place] if f"{wire}.heater plus" in wired)
        voltages = network.solve()
        amps = abs(voltages[f"{name}.heater plus"] - voltages[f"{name}.heater minus"]) / _between(
            network, f"{name}.heater plus", f"{name}.heater minus"
        )
    value = max(round(amps + 0.01 * float(use.chance.standard_normal()), 2), 0.0)
    return Observation(
        "current_clamp",
        use.place,
        use.condition,
        shown=(Shown("current", "current", value, quantity="current", text="", step=0.01, error=0.01),),
        minutes=4.0,
    )


def _between(network: Network, a: str, b: str) -> float:
    siemens = sum(1.0 / ohms for one, two, ohms in network.resistors if {one, two} == {a, b})
    if siemens <= 0.0:
        raise LeitfadenError(say("nothing lies between {a} and {b}", a=a, b=b))
    return 1.0 / siemens


def injectors_together(rig: Rig) -> int:
    """Injectors that are open at the same time: one, or all of a bank."""
    assert rig.fuel_system is not None
    return rig.engine.cylinders // 2 if rig.fuel_system.injections_per_cycle == 2 else 1


def injector_peak(vehicle: Vehicle, condition: str) -> float:
    """Highest current of the injectors' common supply in a cycle. [A]"""
    run = vehicle.run(condition)
    rows = run.rows(run.script.span(condition))
    if float(rows["injector_ms"].max()) <= 0.0:
        return 0.0
    hooks = hooks_at(run, min(int(vehicle.moment(condition) / FRAME), len(run.lanes) - 1))
    return float(rows["battery_true"].mean()) * (
        injectors_together(vehicle.rig) / INJECTOR_OHMS + hooks["coil_siemens"]
    )


def _injector_current(use: Use) -> Observation:
    """Peak of the current of all injectors that are open at the same time; the currents of parallel coils add."""
    run, rig = use.vehicle.run(use.condition), use.vehicle.rig
    rows = run.rows(run.script.span(use.condition))
    battery = float(rows["battery_true"].mean())
    together = injectors_together(rig)
    amps = injector_peak(use.vehicle, use.condition)
    note = say(
        "{together} coil{value} of {injector_ohms:g} ohm at {battery:.1f} V open at the same time; their currents add.",
        together=together,
        value="s" if together > 1 else "",
        injector_ohms=INJECTOR_OHMS,
        battery=battery,
    )
    return Observation(
        "current_clamp",
        use.place,
        use.condition,
        shown=(Shown("peak", "peak current", round(amps, 2), quantity="current", text="", step=0.05, error=0.05),),
        minutes=4.0,
        notes=(note,),
    )


instruments.register(
    Instrument(
        "current_clamp",
        "current clamp",
        purpose="Current in a wire without cutting it.",
        minutes=4.0,
        places=clamp_places,
        use=_clamp,
        cautions=("Keep clamp and leads away from belt and fan.",),
    )
)
