"""Exchanging parts, and keeping the battery up while doing so."""

import itertools

from leitfaden_core.channels import Layer, channel
from leitfaden_core.engine.battery import CAPACITY, KEY_ON_AMPS, USUAL_CHARGE, terminal_voltage
from leitfaden_core.expect import load_sheet
from leitfaden_core.faults import FaultSpec, fault_kinds, offered_on
from leitfaden_core.instruments.instrument import Instrument, Observation, Option, Shown, Use, instruments
from leitfaden_core.instruments.vehicle import Vehicle
from leitfaden_core.rigs import Rig, rig_channels

#: A cheap new part that is bad as well.
_NEW_BUT_BAD = {
    "airflow meter": FaultSpec(kind="maf_under_read", params={"gain": 0.9}),
    "MAP sensor": FaultSpec(kind="wrong_part", params={"part": "map_sensor", "gain": 0.9}),
    "front oxygen sensor": FaultSpec(kind="ho2s_slow", params={"tau_s": 0.5}),
    "ECT sensor": FaultSpec(kind="ect_offset", params={"K": -10.0}),
    "IAT sensor": FaultSpec(kind="iat_offset", params={"K": 15.0}),
}


def parts_of(rig: Rig) -> list[str]:
    """Parts of a rig that can be exchanged, whether or not they are bad."""
    names = set()
    for kind_id, choices in offered_on(rig).items():
        kind = fault_kinds.get(kind_id)
        if kind.construction:
            continue
        for picked in itertools.product(*choices.values()) if choices else [()]:
            names.add(kind.part_of(dict(zip(choices, picked, strict=True))))
    return sorted(names - {""})


def outside(vehicle: Vehicle, condition: str) -> list[str]:
    """Scan channels that lie outside the healthy band in a condition."""
    run, bands = vehicle.run(condition), load_sheet(vehicle.rig).bands
    found = []
    for name in rig_channels(vehicle.rig):
        band = bands.get((condition, name, "mean"))
        value = run.statistic(condition, name, "mean")
        if (
            channel(name).layer is Layer.SCAN
            and band is not None
            and value == value
            and not band.low <= value <= band.high
        ):
            found.append(name)
    return found


def _exchange(use: Use) -> Observation:
    vehicle = use.vehicle
    bad = _NEW_BUT_BAD.get(use.place) if use.options["quality"] == "new but bad" else None
    after = vehicle.with_part(use.place, bad)
    before, now = outside(vehicle, use.condition), outside(after, use.condition)
    shown = (
        Shown(
            "before",
            "readings outside their band before",
            float(len(before)),
            quantity="ratio",
            text=", ".join(before) or "none",
            step=1.0,
        ),
        Shown("now", "with the other part", float(len(now)), quantity="ratio", text=", ".join(now) or "none", step=1.0),
    )
    notes = (
        "Adaptations were reset and driven in with it: trims unlearn slowly.",
        "Put the old part back: only when the fault returns is it proven.",
    )
    return Observation(
        "known_good_part",
        use.place,
        use.condition,
        shown=shown,
        minutes=30.0,
        notes=notes,
        changes=("a part was exchanged",),
    )


instruments.register(
    Instrument(
        "known_good_part",
        "known-good part",
        purpose="Exchange a part, and put the old one back to prove it.",
        minutes=30.0,
        places=parts_of,
        use=_exchange,
        options=(Option("quality", "part", choices=("known good", "new but bad"), default="known good"),),
        cautions=("Key off before unplugging; let hot parts cool.",),
        conditions=("hot_idle", "no_load_2500", "cruise_80", "wot_pull", "cold_idle", "koeo"),
    )
)


def _charger(use: Use) -> Observation:
    minutes = use.number("minutes")
    drained = use.vehicle.hooks(use.condition)["battery_drained"]
    drawn = 0.0 if use.options["charger"] == "on" else KEY_ON_AMPS
    left = max(USUAL_CHARGE - drained - drawn * minutes / 60.0 / CAPACITY, 0.0)
    volts = round(float(terminal_voltage(left, drawn)), 2)
    notes = (
        ()
        if volts > 12.0
        else ("Below 12 V control units log low supply and cranking slows: data taken now are not to be trusted.",)
    )
    return Observation(
        "battery_charger",
        use.place,
        use.condition,
        shown=(Shown("battery", "battery", volts, quantity="voltage", text="", step=0.01, error=0.01),),
        minutes=2.0,
        notes=notes,
    )


instruments.register(
    Instrument(
        "battery_charger",
        "battery charger",
        purpose="Keeps the supply up while the key is on for long.",
        minutes=2.0,
        places=lambda rig: ["battery"],
        use=_charger,
        options=(
            Option("charger", "charger", choices=("on", "off"), default="on"),
            Option("minutes", "key on for", choices=(), low=0.0, high=240.0, unit="min", default="20"),
        ),
        cautions=("Charger off before clamps; batteries give off explosive gas.",),
        conditions=("koeo",),
    )
)
