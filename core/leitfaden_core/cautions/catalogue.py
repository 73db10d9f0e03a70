"""The catalogue of cautions, each with the acts at which it stands.

An act is written as its kind and its name: ``do:snap`` (something done on a bench), ``instrument:spray``,
``part:thermostat`` (exchanged), ``hose:air duct`` (clamped), ``always`` (on every bench). Where an act can hurt
somebody, its measure is to be named before it goes on. They are the usual ones; local codes, the maker's information
and licensed practice go first.
"""

from collections.abc import Iterable
from dataclasses import dataclass

from leitfaden_core.faults.hoses import HOSES
from leitfaden_core.instruments import instruments
from leitfaden_core.instruments.kinds.parts import parts_of
from leitfaden_core.rigs import Rig


@dataclass(frozen=True)
class Measures:
    """What is to be done first: the right answer, and two that are not enough."""

    right: str
    wrong: tuple[str, str]


@dataclass(frozen=True)
class Caution:
    """A caution. ``measures`` where somebody can be hurt: one of them is to be named before the act goes on."""

    id: str
    words: str
    at: tuple[str, ...]
    measures: Measures | None = None

    @property
    def hurts(self) -> bool:
        """Whether it is people that can be hurt."""
        return self.measures is not None


_CAUTIONS = (
    Caution(
        "exhaust_gas",
        "A running engine gives off carbon monoxide, at idle too.",
        ("do:turn_key", "instrument:gas_analyser"),
        Measures(
            "Exhaust extraction on, or the open air",
            ("The gate a hand's width open", "A short run, then air the room"),
        ),
    ),
    Caution(
        "hot_parts",
        "Manifold, turbocharger, catalyst and oxygen sensors burn the skin for a long time after switching off.",
        (
            "part:front oxygen sensor",
            "part:rear oxygen sensor",
            "part:wideband sensor",
            "part:catalyst",
            "part:turbocharger",
            "instrument:backpressure_gauge",
            "instrument:backpressure_gauge_rear",
        ),
        Measures(
            "Let it cool until it is only warm, test the surface near it, wear gloves",
            ("Wet the part first", "Work quickly with a long spanner"),
        ),
    ),
    Caution(
        "moving_parts",
        "Belts and fans catch sleeves, hair and leads; electric fans start by themselves.",
        ("do:hold_speed", "instrument:timing_light", "instrument:current_clamp", "instrument:oscilloscope"),
        Measures(
            "Sleeves and hair tied, leads fixed away from belts and fans, signs for start and stop agreed",
            ("Stand to the side of the engine", "Hold the leads tight in the hand"),
        ),
    ),
    Caution(
        "raw_fuel",
        "Raw fuel under or behind the vehicle, or in flooded plugs, can catch fire.",
        ("part:fuel pump and filter", "part:fuel pressure regulator", "part:injectors"),
        Measures(
            "No spark, no cranking, air out, extinguisher at hand",
            ("Wipe it up and go on", "Crank with the pedal down until it is gone"),
        ),
    ),
    Caution(
        "flammable_spray",
        "Spray, fuel mist or gas at an engine can catch fire or flash back.",
        ("instrument:spray", "instrument:fuel_enrichment"),
        Measures(
            "Small metered amounts, nothing hot or sparking near, eye protection; never where it pops back",
            ("A long burst, so that the answer is clear", "Spray from further away"),
        ),
    ),
    Caution(
        "cleaner_fumes",
        "Chlorinated cleaners turn into toxic gas in the flame and on hot parts: not into a running engine.",
        ("instrument:spray", "part:airflow meter"),
    ),
    Caution(
        "smoke_pressure",
        "Smoke under pressure splits seals, and near fuel vapour it needs an inert gas.",
        ("instrument:smoke_generator",),
        Measures(
            "Low pressure limit set, inert gas where there is fuel vapour, no source of ignition",
            ("Compressed air from the line", "As much pressure as it takes to see smoke"),
        ),
    ),
    Caution(
        "tracer_gas",
        "Carbon dioxide and nitrogen push the air out of pits and small rooms.",
        ("instrument:tracer_gas",),
        Measures(
            "Aired room, nobody in the pit, cylinder secured, regulator fitted",
            ("Gate shut, so that no wind disturbs", "Cylinder laid on the floor"),
        ),
    ),
    Caution(
        "lamps",
        "Ultraviolet lamps and lasers harm eyes: no direct or mirrored beam, and the glasses that belong to the dye.",
        ("instrument:inspection", "instrument:thermometer", "instrument:thermometer_intake"),
    ),
    Caution(
        "full_load",
        "A full-load pull on the road needs a safe and legal stretch; on rollers, straps and a clear line.",
        ("instrument:road_test", "do:drive"),
        Measures(
            "Tyres, brakes and coolant checked, a helper at the tool, never the driver",
            ("A quiet road in the evening", "The tool on the passenger seat, read at the end"),
        ),
    ),
    Caution(
        "brake_servo",
        "After work at the brake servo or its hose the pedal may have no assistance.",
        ("part:brake servo", "hose:brake servo hose"),
        Measures(
            "Pedal check standing: pump, hold, start the engine, the pedal must sink",
            ("A short drive round the yard", "Look whether the hose is on"),
        ),
    ),
    Caution(
        "chassis",
        "What is found worn at steering or brakes by chance is told before the vehicle goes on the road.",
        ("instrument:inspection", "instrument:road_test"),
    ),
    Caution(
        "free_revs",
        "A snap of the throttle can move the vehicle.",
        ("do:snap",),
        Measures(
            "Area clear, gear out, parking brake on, chocks set, helper in the seat, signs agreed",
            ("Parking brake on", "Foot on the clutch"),
        ),
    ),
    Caution(
        "high_pressure",
        "Fuel from a high-pressure rail goes through skin.",
        ("part:rail pressure sensor",),
        Measures(
            "Never loosen it: probe electrically, let the pressure fall as the maker says",
            ("Loosen it slowly with a cloth around it", "Wear thick gloves"),
        ),
    ),
    Caution(
        "fuel_gauge",
        "A fuel line sprays when it is opened.",
        ("instrument:fuel_gauge",),
        Measures("Pressure relieved, leak caught, eye protection", ("A cloth around the joint", "Open it quickly")),
    ),
    Caution(
        "hot_coolant",
        "A hot cooling system scalds, and coolant is a poison, to animals too.",
        ("part:thermostat", "part:coolant", "part:ECT sensor", "part:cooling fan"),
        Measures(
            "Cap off only when cold; catch the coolant and hand it in",
            ("Open the cap a quarter turn", "Let it run into the drain and rinse"),
        ),
    ),
    Caution(
        "battery",
        "Batteries give off explosive gas, and a spanner between the poles glows.",
        ("do:disconnect_battery", "do:connect_charger", "instrument:battery_charger", "part:alternator"),
        Measures(
            "Key off, charger off before the clamps, minus first; airbag and memory notes heeded",
            ("Plus first", "Charger on, so that nothing is lost"),
        ),
    ),
    Caution(
        "high_tension",
        "Ignition voltage goes through the body; a coil must not fire into an open lead.",
        ("part:ignition coil, plug and injector of the cylinder", "instrument:timing_light"),
        Measures(
            "Key off before leads are touched, probes and hands clear, no coil into an open lead",
            ("Dry hands", "Pull the lead with insulated pliers while it runs"),
        ),
    ),
    Caution(
        "breaker_bar",
        "A stuck sensor lets go suddenly; gas heat is for trained hands only, and galvanised parts give off fumes.",
        ("part:front oxygen sensor", "part:rear oxygen sensor", "part:wideband sensor"),
        Measures(
            "Stand so that a slip hits nothing, head clear, no flame near fuel lines and wires",
            ("A longer bar", "Red heat on the sensor"),
        ),
    ),
    Caution(
        "hot_air",
        "Hot air near fuel and plastic: moderate heat, and not for long.",
        ("instrument:heat_source",),
        Measures(
            "Moderate heat, a limit in time, away from fuel and plastic",
            ("Full heat, but only for a moment", "A flame, held further away"),
        ),
    ),
    Caution(
        "heat_fumes",
        "Gas heat and grinding on galvanised or coated parts make fumes: extraction, or another way.",
        ("part:exhaust gasket", "part:silencer"),
    ),
    Caution(
        "clamping",
        "Fingers near a running fan; sharp jaws cut brittle hoses. No clamp on fuel hoses under pressure.",
        ("instrument:hose_clamp", "do:close_hose"),
        Measures(
            "Smooth jaws, fan stopped or guarded, no brittle hose, none with fuel under pressure",
            ("Pliers, pressed only lightly", "Clamp from above while the fan runs"),
        ),
    ),
    Caution(
        "by_mouth",
        "Nobody blows into a valve or sucks on it: fuel vapour and soot. Use the hand pump.",
        ("instrument:hand_pump", "part:EGR valve", "part:purge valve"),
    ),
    Caution(
        "thumb_on_breather",
        "A thumb over the breather of a running engine is close to hot and moving parts: use a plug or a clamp.",
        ("hose:breather hose", "part:crankcase ventilation valve"),
    ),
    Caution(
        "live_circuit",
        "Ohms or continuity on a live circuit, or a lead in the ampere jack, blow the meter or a control unit.",
        ("instrument:multimeter",),
    ),
    Caution(
        "oxygen_cell",
        "No ohms across an oxygen cell and no test lamp on its signal: both do harm or read wrong.",
        ("instrument:multimeter", "part:front oxygen sensor"),
    ),
    Caution(
        "short_while_probing",
        "A tip that touches two pins shorts the reference to battery: cover the neighbours.",
        ("instrument:multimeter", "instrument:oscilloscope"),
    ),
    Caution(
        "piercing",
        "No pierced insulation, no clip forced into a terminal: a back-probe, and sealed again.",
        ("instrument:multimeter", "instrument:oscilloscope"),
    ),
    Caution(
        "plug_with_key_on",
        (
            "A plug that is pulled with the key on stores codes and makes voltage spikes: key off, unless the "
            "test is just that."
        ),
        ("do:pull_plug",),
    ),
    Caution(
        "overpressure",
        "Stay inside the range of sensor and valve, release slowly, let no liquid into the hose.",
        ("instrument:hand_pump",),
    ),
    Caution(
        "meter_element",
        (
            "The element of an airflow meter bears no finger, straw, cloth or general solvent: the proper spray "
            "only, key off, dry before use."
        ),
        ("part:airflow meter",),
    ),
    Caution(
        "plastic_nipples",
        "No pliers on plastic nipples and clips: twist, then ease them off.",
        ("part:MAP sensor", "part:MAP sensor hose", "part:vacuum hose or gasket"),
    ),
    Caution(
        "poisoned_sensor",
        (
            "Sealant that is not marked safe for sensors, coolant, oil, silicone spray and leaded fuel poison "
            "oxygen sensors and catalyst."
        ),
        ("part:front oxygen sensor", "part:wideband sensor", "part:catalyst", "part:exhaust gasket"),
    ),
    Caution(
        "anti_seize",
        "Anti-seize on the thread only, never on the tip; to the torque given. Some new sensors come prepared.",
        ("part:front oxygen sensor", "part:rear oxygen sensor", "part:wideband sensor"),
    ),
    Caution(
        "twisted_cable",
        "The cable of a screwed sensor must not twist: free the plug first, fix the cable away from heat.",
        ("part:front oxygen sensor", "part:rear oxygen sensor", "part:wideband sensor"),
    ),
    Caution(
        "round_hex",
        "A slotted socket spreads and rounds the hexagon: when it begins to slip, stop.",
        ("part:front oxygen sensor", "part:rear oxygen sensor", "part:wideband sensor"),
    ),
    Caution(
        "misfire_heat",
        "A long run with misfire or raw enrichment melts the catalyst and washes the cylinders: keep it short.",
        ("do:hold_actuator", "instrument:actuator_test", "instrument:fuel_enrichment"),
    ),
    Caution(
        "no_coolant_no_oil",
        "No run without coolant or oil: stop.",
        ("part:coolant", "always"),
    ),
    Caution(
        "lean_full_load",
        (
            "An engine that runs lean, knocks or overboosts is not driven at full load: a lean turbo engine dies "
            "in seconds."
        ),
        ("do:drive", "instrument:road_test", "part:wastegate"),
    ),
    Caution(
        "long_cranking",
        "Ten seconds of cranking, then a pause: starter, battery and a flooded catalyst have limits.",
        ("do:turn_key",),
    ),
    Caution(
        "key_on_without_charger",
        "Long work with the key on empties the battery and falsifies the data: connect a charger.",
        ("do:turn_key", "instrument:battery_charger"),
    ),
    Caution(
        "cleared_too_early",
        "Clearing codes takes freeze frames and readiness with them: write them down first.",
        ("do:clear_codes", "instrument:codes"),
    ),
    Caution(
        "lost_learning",
        (
            "Without supply, idle and gearbox learning are gone, and a radio or an immobiliser may lock: have "
            "the codes at hand."
        ),
        ("do:disconnect_battery",),
    ),
    Caution(
        "solvent",
        "Solvent attacks rubber, paint and plastics: none on servo diaphragms and sensors.",
        ("instrument:spray", "part:brake servo"),
    ),
    Caution(
        "set_timing_step",
        (
            "Base timing is changed only with the control unit's own advance switched off, else the engine "
            "knocks or kicks back."
        ),
        ("part:timing belt setting", "instrument:timing_light"),
    ),
    Caution(
        "heat_wrap",
        "Heat-shield wrap near a throttle or oil jams or burns, and slows the sensor beneath it.",
        ("part:heat shield", "part:IAT sensor"),
    ),
    Caution(
        "count_clamps",
        "Every clamp and plug is freed at the end: count the tools.",
        ("do:close_hose", "instrument:hose_clamp", "instrument:smoke_generator"),
    ),
    Caution(
        "one_at_a_time",
        "Several parts off at once disturb contacts and can hide the cause: one at a time.",
        ("do:fit_part", "instrument:known_good_part"),
    ),
    Caution(
        "blocked_intake",
        (
            "Nobody closes the intake of a running engine with a hand or a bladder: it sucks the hand in or "
            "stalls the engine."
        ),
        ("hose:air duct",),
        Measures("Key off first; all seals out before starting", ("Only for a moment", "With a thick glove")),
    ),
)

CAUTIONS = {caution.id: caution for caution in _CAUTIONS}


def cautions_for(acts: Iterable[str]) -> list[Caution]:
    """Cautions that stand at some acts, those that hurt people first.

    >>> [caution.id for caution in cautions_for(["do:snap"])]
    ['free_revs']
    """
    asked = set(acts)
    found = [caution for caution in _CAUTIONS if asked & set(caution.at)]
    return sorted(found, key=lambda caution: not caution.hurts)


def acts_known(rig: Rig) -> set[str]:
    """Acts at which a caution can stand on a rig, but for what is done."""
    return {
        "always",
        *(f"instrument:{entry.id}" for entry in instruments),
        *(f"part:{part}" for part in parts_of(rig)),
        *(f"hose:{hose}" for hose in HOSES),
    }
