"""Stimulating a sensor or the mixture: pump, heat, added fuel, added air.

What comes out is worked out, not looked up.
"""

from dataclasses import replace

from leitfaden_core.channels import rounded
from leitfaden_core.errors import LeitfadenError
from leitfaden_core.faults import FaultSpec, Onset
from leitfaden_core.instruments.instrument import Instrument, Observation, Option, Shown, Use, instruments
from leitfaden_core.instruments.vehicle import Vehicle
from leitfaden_core.rigs import Rig, rig_channels
from leitfaden_core.rigs.document import EGR_DRIVES
from leitfaden_core.sensors.pressure import DP_GAIN, DP_OFFSET, believed_pressure
from leitfaden_core.sensors.temperature import dead_spot, ntc_resistance, ntc_temperature
from leitfaden_core.simulate import FRAME
from leitfaden_core.simulate.layout import CIRCUITS
from leitfaden_core.simulate.parts.recirculation import bleed_share, valve_lift
from leitfaden_core.simulate.pins import operating_point
from leitfaden_core.wiring.harness import WireFault, harness
from leitfaden_core.wiring.network import GROUND
from leitfaden_core.words import say

#: Place -> wire of the sensor, feature that the rig must have.
_PUMPED = {
    "MAP sensor": ("map", "map"),
    "charge pressure sensor": ("charge", "charge"),
    "filter sensor": ("dpf_dp", "dpf_dp"),
}
#: Beyond this share of the supply a diaphragm is destroyed.
BURST = 1.15


def _pin_with(vehicle: Vehicle, condition: str, shares: dict[str, float], ohms: dict[str, float]) -> dict[str, float]:
    """Voltages of all pins with sensors made to sense something."""
    hooks, run = vehicle.hooks(condition), vehicle.run(condition)
    frame = min(int(vehicle.moment(condition) / FRAME), len(run.lanes) - 1)
    point = operating_point(run, frame, hooks, False)
    point = replace(point, shares=point.shares | shares, ohms=point.ohms | ohms)
    faults = {name: WireFault(int(hooks[f"circuit_{name}"]), hooks[f"ohms_{name}"]) for name in CIRCUITS}
    return harness(vehicle.rig, point, faults, frozenset(), max(hooks["reference_held"], 0.0)).solve()


def pump_places(rig: Rig) -> list[str]:
    """Where a hand pump fits."""
    places = [name for name, (_wire, needs) in _PUMPED.items() if needs in rig.features]
    if "map" in rig.features:
        places.append("MAP sensor hose")
    return places + (["EGR valve"] if "egr_vacuum" in rig.features else [])


def _pump(use: Use) -> Observation:
    level = use.number("kPa")
    if use.place == "EGR valve":
        return _pump_valve(use, level)
    pressure_mode = use.options["mode"] == "pressure"
    if pressure_mode and use.place == "MAP sensor hose":
        raise LeitfadenError("the hand pump's vacuum side belongs on the hose; pressure would lift it off")
    rig, vehicle = use.vehicle.rig, use.vehicle
    run = vehicle.run(use.condition)
    baro = run.statistic(use.condition, "baro_true", "mean")
    wire = "map" if use.place == "MAP sensor hose" else _PUMPED[use.place][0]
    hooks = vehicle.hooks(use.condition)
    offset, gain = _line(rig, wire)
    top = (1.0 - offset) / gain
    wanted = (baro + level if pressure_mode else baro - level) if wire != "dpf_dp" else level
    if wanted > BURST * top:
        refused = say(
            "{wanted:.0f} kPa lie beyond what this sensor bears ({top:.0f} kPa): not applied.", wanted=wanted, top=top
        )
        return Observation("hand_pump", use.place, use.condition, shown=(), minutes=5.0, refused=refused)
    if wanted < 0.0:
        raise LeitfadenError(
            say(
                "a vacuum of {level:g} kPa cannot be pulled below a barometer of {baro:.1f} kPa", level=level, baro=baro
            )
        )
    held = 1.0
    if use.place == "MAP sensor hose" and hooks["map_hose_share"] > 0.0:
        held = 0.0  # a leaking hose lets the vacuum go as fast as it is pulled
        wanted = baro - 0.15 * level
    seen = _sensed(hooks, wire, wanted)
    share = offset + gain * seen
    volts = _pin_with(vehicle, use.condition, {wire: share}, {})
    pin = volts[f"unit.{wire}"] - volts[GROUND]
    quantity = "pressure_diff" if wire == "dpf_dp" else "pressure_abs"
    shown = (
        Shown("applied", "applied", round(wanted, 1), quantity=quantity, text="", step=0.5, error=0.5),
        Shown(
            "pin",
            "signal at the pin",
            round(pin + 0.003 * float(use.chance.standard_normal()), 3),
            quantity="voltage",
            text="",
            step=0.01,
            error=0.005,
        ),
        Shown(
            "believed",
            "believed",
            round(believed_pressure(pin, 5.0, offset, gain)),
            quantity=quantity,
            text="",
            step=1.0,
            error=0.5,
        ),
        Shown("holds", "holds", None, quantity="", text="yes" if held > 0.5 else "no: the needle falls back"),
    )
    notes = ("Movement alone is no pass: compare offset, slope and return with the table.",)
    return Observation("hand_pump", use.place, use.condition, shown=shown, minutes=5.0, notes=notes)


def _line(rig: Rig, wire: str) -> tuple[float, float]:
    if wire == "dpf_dp":
        return DP_OFFSET, DP_GAIN
    if wire == "map":
        assert rig.map_sensor is not None
        return rig.map_sensor.map_offset, rig.map_sensor.map_gain
    assert rig.charge_sensor is not None
    return rig.charge_sensor.charge_offset, rig.charge_sensor.charge_gain


def _sensed(hooks: dict[str, float], wire: str, pressure: float) -> float:
    """What the element makes of a pressure at its port. [kPa]"""
    if wire == "map":
        if hooks["map_stuck"] >= 0.0:
            return hooks["map_stuck"] / 1000.0
        return max(pressure, hooks["map_lowest"] / 1000.0) * hooks["map_part"] + hooks["map_shift"] / 1000.0
    if wire == "charge":
        return pressure * hooks["charge_part"] + hooks["charge_shift"] / 1000.0
    return pressure + hooks["dpf_dp_shift"] / 1000.0


def _pump_valve(use: Use, level: float) -> Observation:
    """A hand pump on a vacuum EGR valve: what it does depends on the kind of its transducer and on exhaust pressure."""
    part = use.vehicle.rig.egr_by_load
    assert part is not None
    run = use.vehicle.run(use.condition)
    running = float(run.rows(run.script.span(use.condition))["running"].mean()) > 0.5
    gauge = run.statistic(use.condition, "exhaust_backpressure", "mean") * 1000.0
    lift = bleed_share.py_func(float(EGR_DRIVES.index(part.egr_drive)), gauge, part.egr_bleed, running)  # type: ignore[attr-defined]
    opening = valve_lift.py_func(level * 1000.0 * min(lift, 1.0), part.egr_spring, part.egr_span)  # type: ignore[attr-defined]
    hooks = use.vehicle.hooks(use.condition)
    opening = min(max(opening, hooks["egr_least"]), hooks["egr_most"])
    words = "holds" if lift > 0.95 else "cannot be built up" if lift < 0.05 else "falls slowly"
    notes = {
        "positive_back_pressure": (
            "Without exhaust pressure its bleed stands open: that it holds nothing with the engine off is right.",
        ),
        "negative_back_pressure": (
            "At rest its bleed is shut: it lifts and holds, and lets go when the engine starts.",
        ),
    }.get(part.egr_drive, ())
    shown = (
        Shown("vacuum", "vacuum", None, quantity="", text=words),
        Shown(
            "opening", "valve opening", rounded(100.0 * opening, 1.0), quantity="percent", text="", step=1.0, error=2.0
        ),
    )
    return Observation("hand_pump", use.place, use.condition, shown=shown, minutes=5.0, notes=notes)


instruments.register(
    Instrument(
        "hand_pump",
        "hand pump",
        purpose="Vacuum or pressure on a sensor or a valve, held and released.",
        minutes=5.0,
        places=pump_places,
        use=_pump,
        options=(
            Option("kPa", "vacuum or pressure", choices=(), low=0.0, high=250.0, unit="kPa", default="30"),
            Option("mode", "mode", choices=("vacuum", "pressure"), default="vacuum"),
        ),
        cautions=("Stay inside the sensor's range, release slowly; no liquid into the hose.",),
        conditions=("koeo", "hot_idle"),
    )
)


def pressure_read(vehicle: Vehicle, condition: str, wire: str, level: float) -> float:
    """What the control unit believes with this vacuum [kPa] on a sensor's own port (a differential sensor: this
    pressure). [kPa]
    """
    hooks = vehicle.hooks(condition)
    offset, gain = _line(vehicle.rig, wire)
    baro = vehicle.run(condition).statistic(condition, "baro_true", "mean")
    seen = _sensed(hooks, wire, level if wire == "dpf_dp" else baro - level)
    volts = _pin_with(vehicle, condition, {wire: offset + gain * seen}, {})
    return believed_pressure.py_func(volts[f"unit.{wire}"], 5.0, offset, gain)  # type: ignore[attr-defined, no-any-return]


def thermistor_read(vehicle: Vehicle, condition: str, wire: str, celsius: float) -> float:
    """Temperature that an unplugged thermistor's resistance stands for when it is held at this one. [°C]"""
    hooks = vehicle.hooks(condition)
    part = vehicle.rig.thermistors
    ohms = _thermistor_ohms(hooks, wire, part.ntc_r25, part.ntc_b, celsius)
    return float(ntc_temperature.py_func(ohms, part.ntc_r25, part.ntc_b)) - 273.15  # type: ignore[attr-defined]


def _thermistor_ohms(hooks: dict[str, float], wire: str, r25: float, b: float, celsius: float) -> float:
    seen = 273.15 + (celsius + hooks[f"{wire}_offset"]) * hooks[f"{wire}_slope"]
    lost = dead_spot.py_func(seen, hooks[f"{wire}_dead_at"], hooks[f"{wire}_dead_width"])  # type: ignore[attr-defined]
    return float(ntc_resistance.py_func(seen, r25, b)) * hooks[f"{wire}_resistance"] * lost  # type: ignore[attr-defined, no-any-return]


def _heat(use: Use) -> Observation:
    wire = {"IAT sensor": "iat", "ECT sensor": "ect"}[use.place]
    celsius = use.number("C")
    hooks = use.vehicle.hooks(use.condition)
    part = use.vehicle.rig.thermistors
    ohms = _thermistor_ohms(hooks, wire, part.ntc_r25, part.ntc_b, celsius)
    right = ntc_resistance.py_func(celsius + 273.15, part.ntc_r25, part.ntc_b)  # type: ignore[attr-defined]
    volts = _pin_with(use.vehicle, use.condition, {}, {wire: ohms})
    shown = (
        Shown(
            "unplugged",
            "resistance of the unplugged sensor",
            round(ohms),
            quantity="resistance",
            text="",
            step=1.0,
            error=0.01 * ohms,
        ),
        Shown("table", "table at this temperature", round(right), quantity="resistance", text="", step=1.0),
        Shown(
            "plugged",
            "signal at the pin, plugged",
            round(volts[f"unit.{wire}"], 3),
            quantity="voltage",
            text="",
            step=0.01,
            error=0.005,
        ),
    )
    notes = ("A smooth curve can be wrong everywhere: compare with the table at two temperatures at least.",)
    return Observation("heat_source", use.place, use.condition, shown=shown, minutes=8.0, notes=notes)


instruments.register(
    Instrument(
        "heat_source",
        "moderate heat",
        purpose="Warm the sensor with mild hot air and watch it follow.",
        minutes=8.0,
        places=lambda rig: ["IAT sensor", "ECT sensor"],
        use=_heat,
        options=(Option("C", "temperature", choices=(), low=-20.0, high=110.0, unit="°C", default="60"),),
        cautions=("Moderate heat, time limit, away from fuel and plastic.",),
        conditions=("koeo",),
    )
)


def _forced(use: Use, added: FaultSpec, instrument: str, note: str) -> Observation:
    """In bursts of a few seconds: what the front sensor reaches, and where the short-term trim goes."""
    vehicle, rig = use.vehicle, use.vehicle.rig
    burst = added.model_copy(update={"onset": Onset(mode="random", on_s=2.0, off_s=2.0)})
    during = vehicle.with_added(burst).watched(use.condition)
    shown = []
    for name in ("ho2s_b1s1_v", "lambda_wideband", "stft"):
        if name in rig_channels(rig):
            quantity = {"stft": "trim", "lambda_wideband": "lambda"}.get(name, "voltage")
            step = {"stft": 0.78, "lambda_wideband": 0.001}.get(name, 0.005)
            for stat in ("min", "max"):
                label = say("{name} lowest", name=name) if stat == "min" else say("{name} highest", name=name)
                value = rounded(during.statistic(use.condition, name, stat), step)
                shown.append(Shown(f"{name}.{stat}", label, value, quantity=quantity, step=step))
    return Observation(instrument, use.place, use.condition, shown=tuple(shown), minutes=5.0, notes=(note,))


def _enrich(use: Use) -> Observation:
    if use.options["agent"] == "flammable spray":
        why = "Flammable spray into a running engine: fire and flashback. Metered gas only."
        return Observation("fuel_enrichment", use.place, use.condition, shown=(), cautions=(why,), refused=why)
    note = "A sound sensor goes above 0.8 V within a second; one that does not answer proves nothing."
    return _forced(
        use, FaultSpec(kind="injector_leaking", params={"mg_s": use.number("mg_s")}), "fuel_enrichment", note
    )


instruments.register(
    Instrument(
        "fuel_enrichment",
        "metered enrichment gas",
        purpose="Force the mixture rich and watch the oxygen sensor.",
        minutes=5.0,
        places=lambda rig: ["air duct"] if "trims" in rig.features else [],
        use=_enrich,
        options=(
            Option("mg_s", "fuel", choices=(), low=5.0, high=300.0, unit="mg/s", default="60"),
            Option("agent", "agent", choices=("metered gas", "flammable spray"), default="metered gas"),
        ),
        cautions=("Small metered amounts, no hot surface, never on an engine that pops back.",),
        conditions=("hot_idle", "no_load_2500"),
    )
)


def _bleed(use: Use) -> Observation:
    metered = use.vehicle.rig.fuelling == "airflow_metered"
    note = (
        "On an engine with a meter the sensor goes below 0.2 V within a second."
        if metered
        else "On a speed-density engine the air is seen as pressure: little lasting change, and that is right."
    )
    return _forced(
        use, FaultSpec(kind="manifold_vacuum_leak", params={"area_mm2": use.number("mm2")}), "air_bleed", note
    )


instruments.register(
    Instrument(
        "air_bleed",
        "opened hose",
        purpose="Force the mixture lean: open a hose behind the throttle.",
        minutes=3.0,
        places=lambda rig: ["manifold"] if "trims" in rig.features else [],
        use=_bleed,
        options=(Option("mm2", "opening", choices=(), low=0.5, high=50.0, unit="mm²", default="4"),),
        conditions=("hot_idle", "no_load_2500"),
    )
)
