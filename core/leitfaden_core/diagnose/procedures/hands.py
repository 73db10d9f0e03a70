"""What hands and eyes do: pump, heat, look, smoke, close off, exchange, move plugs."""

import itertools
import re
from collections.abc import Callable

import numpy as np

from leitfaden_core.channels import Layer, channel
from leitfaden_core.diagnose.procedures.base import (
    UNDER_THE_HAND,
    DiagnosticTest,
    Examined,
    Isolated,
    Outcome,
    flag,
    yes_or_no,
)
from leitfaden_core.expect import load_sheet
from leitfaden_core.faults import FaultSpec, fault_kinds, offered_on
from leitfaden_core.faults.hoses import HOSES, hoses_of
from leitfaden_core.instruments.kinds.air import smoking
from leitfaden_core.instruments.kinds.eyes import PLACES
from leitfaden_core.instruments.kinds.parts import parts_of
from leitfaden_core.instruments.kinds.stimulus import pressure_read, thermistor_read
from leitfaden_core.instruments.vehicle import BEFORE, BEHIND, Vehicle
from leitfaden_core.monitors import trouble_codes
from leitfaden_core.rigs import Rig, rig_channels
from leitfaden_core.scripts import condition
from leitfaden_core.simulate import FRAME, Run, injector_of
from leitfaden_core.simulate.pins import jump_under_hand
from leitfaden_core.wiring.circuits import CIRCUITS, circuits_of
from leitfaden_core.words import inside, say

#: Purge flow that a hand feels. [g/s]
FELT_SUCTION = 0.02
Reader = Callable[[Examined], list[float]]
#: Signal of an airflow meter that is glowing. [V]
BURN_OFF_SEEN = 4.3
#: Jump of a voltage that a fast recorder shows beyond doubt. [V]
JUMP_SEEN = 0.15
#: Share of ambient pressure at a MAP sensor from which on a pump's needle is seen to fall.
LEAK_SEEN = 0.02
#: Change of load, relative, and of speed [rev/min] by which a cylinder is missed.
LOAD_MISSED, RPM_MISSED = 0.06, 40.0
#: What of a data list is compared before and after an exchange.
WATCHED_STATISTICS = frozenset({"mean", "min", "max", "freq"})
#: A reading is clearly out, and back in, by so many standard deviations of healthy engines.
CLEARLY_OUT, BACK_IN = 4.0, 3.0
#: What is watched while something is closed off, with what it may move by itself.
_WATCHED = {"stft": 0.8, "maf": 0.15, "map": 1.0, "charge_pressure": 2.0, "rpm": 12.0}


def stimulus_tests(rig: Rig) -> list[DiagnosticTest]:
    found = []
    for wire, label in (("map", "MAP sensor"), ("charge", "charge pressure sensor"), ("dpf_dp", "filter sensor")):
        if wire not in rig.features:
            continue
        levels = (20.0, 60.0) if wire == "dpf_dp" else (30.0, 60.0)
        found.append(
            DiagnosticTest(
                f"pump.{wire}",
                say("Hand pump on the {label}: two points", label=label),
                instrument="hand_pump",
                place=label,
                condition="koeo",
                outcomes=tuple(
                    Outcome(
                        say("believed at {level:g} kPa", level=level),
                        quantity="pressure_abs",
                        spread=0.8,
                        error=0.6,
                        step=1.0,
                    )
                    for level in levels
                ),
                read=_pumped(wire, levels),
                uses=1.5,
            )
        )
    if "map" in rig.features:
        found.append(
            DiagnosticTest(
                "pump.map_hose",
                "Hand pump on the hose of the MAP sensor: does it hold",
                instrument="hand_pump",
                place="MAP sensor hose",
                condition="koeo",
                outcomes=(flag("holds"),),
                read=yes_or_no(lambda car: car.vehicle.hooks("koeo")["map_hose_share"] < LEAK_SEEN),
            )
        )
    for wire, label in (("ect", "ECT sensor"), ("iat", "IAT sensor")):
        found.append(
            DiagnosticTest(
                f"heat.{wire}",
                say("Mild heat on the {label}: resistance at two temperatures", label=label),
                instrument="heat_source",
                place=label,
                condition="koeo",
                outcomes=(
                    *(
                        Outcome(say("reads at {c:g} °C", c=c), quantity="temperature", spread=1.2, error=0.6, step=1.0)
                        for c in (20.0, 70.0)
                    ),
                    flag("a jump on the way", 0.1),
                ),
                read=_heated(wire, (20.0, 70.0)),
                uses=1.5,
            )
        )
    if "petrol" in rig.features:
        found.append(_cylinder_test(rig))
    if "purge" in rig.features:
        found.append(_suction_test())
    return [*found, _wiggle_test(rig), *_scope_tests(rig)]


def _scope_tests(rig: Rig) -> list[DiagnosticTest]:
    """What only a fast picture shows: the glow after key-off, and how a pressure follows the throttle."""
    found = []
    if "burn_off" in rig.features:
        glows = yes_or_no(
            lambda car: (
                float(car.day.lanes["maf_volts"][car.day.lanes["powered"] < 0.5].max(initial=0.0)) > BURN_OFF_SEEN
            )
        )
        found.append(
            DiagnosticTest(
                "scope.burn_off",
                "Oscilloscope: airflow meter after key-off",
                instrument="oscilloscope",
                place="maf_volts",
                condition="wot_pull",
                outcomes=(flag("glows clean", 0.1),),
                read=glows,
            )
        )
    for wire in ("map", "charge"):
        if wire in rig.features and "throttle" in rig.features:
            outcome = Outcome("behind the throttle by", quantity="time_s", spread=0.02, error=0.005, step=0.005)
            label = say("Oscilloscope: {wire} sensor against throttle in a snap", wire=wire)
            found.append(
                DiagnosticTest(
                    f"scope.{wire}_follows",
                    label,
                    instrument="oscilloscope",
                    place=f"{wire}_volts",
                    condition="snap_throttle",
                    outcomes=(outcome,),
                    read=_follows(wire),
                )
            )
    return found


def _follows(wire: str) -> Reader:
    """Time from the throttle's half to half of the pressure's swing; 2 s when it never gets there."""

    def read(car: Examined) -> list[float]:
        rows = car.day.rows(car.day.script.span("snap_throttle"))
        opened = np.flatnonzero(rows["throttle_true"] > 50.0)
        volts = rows[f"{wire}_volts"].astype(float)
        middle = volts[:10].mean() + 0.5 * (volts.max() - volts[:10].mean())
        there = np.flatnonzero(volts > middle)
        if not opened.size or not there.size or np.ptp(volts) < 0.1:
            return [2.0]
        return [float(np.clip((there[0] - opened[0]) * FRAME, -0.5, 2.0))]

    return read


def _wiggle_test(rig: Rig) -> DiagnosticTest:
    """Every plug is moved while a recorder runs fast enough; what jumps only by itself now and then shows under the
    hand.
    """
    names = circuits_of(rig)

    def read(car: Examined) -> list[float]:
        run, moment = car.vehicle.run("hot_idle"), car.vehicle.moment("hot_idle")
        return [float(jump_under_hand(run, moment, name) > JUMP_SEEN) for name in names]

    return DiagnosticTest(
        "wiggle",
        "Move plug after plug while a fast recorder runs",
        instrument="oscilloscope",
        place="maf_volts",
        condition="hot_idle",
        outcomes=tuple(flag(say("{label} jumps", label=CIRCUITS[name].label), UNDER_THE_HAND) for name in names),
        read=read,
        uses=2.0,
    )


def _suction_test() -> DiagnosticTest:
    """A hand on the canister's hose: the purge valve is shut at idle and open at raised speed."""
    conditions = ("hot_idle", "no_load_2500")
    return DiagnosticTest(
        "hand.purge_suction",
        "Hand on the canister's hose: suction at idle and at 2500 1/min",
        instrument="inspection",
        place="manifold",
        condition="no_load_2500",
        outcomes=tuple(flag(say("suction, {c}", c=inside(condition(c).label)), 0.1) for c in conditions),
        read=lambda car: [
            float(car.vehicle.run(c).statistic(c, "purge_true", "mean") > FELT_SUCTION) for c in conditions
        ],
    )


def _cylinder_test(rig: Rig) -> DiagnosticTest:
    """Shut off each injector in turn: a cylinder that works is missed, in speed or in the load that makes good for
    it.
    """
    count = rig.engine.cylinders

    def missed(car: Vehicle, before: Run, number: int) -> bool:
        during = car.with_held(injector_of(number)).watched("hot_idle")
        load, rpm = (
            (during.statistic("hot_idle", name, "mean"), before.statistic("hot_idle", name, "mean"))
            for name in ("load", "rpm")
        )
        return abs(load[0] - load[1]) > LOAD_MISSED * load[1] or abs(rpm[0] - rpm[1]) > RPM_MISSED

    def read(car: Examined) -> list[float]:
        before = car.vehicle.watched("hot_idle")
        return [float(missed(car.vehicle, before, k + 1)) for k in range(count)]

    return DiagnosticTest(
        "cylinders",
        "Actuator test: shut off each injector in turn",
        instrument="actuator_test",
        place="injector of cylinder 1 off",
        condition="hot_idle",
        outcomes=tuple(flag(say("cylinder {k} is missed", k=k + 1)) for k in range(count)),
        read=read,
        uses=0.5 * count,
    )


def eye_tests(rig: Rig) -> list[DiagnosticTest]:
    """Looking at a place: one answer for each thing that may be seen there."""
    found = []
    for place, groups in PLACES.items():
        kinds = [kind for name in offered_on(rig) if (kind := fault_kinds.get(name)).look and kind.group in groups]
        looks = tuple(dict.fromkeys(kind.look for kind in kinds))
        if looks:
            found.append(
                DiagnosticTest(
                    f"look.{place}",
                    say("Look: {place}", place=place),
                    instrument="inspection",
                    place=place,
                    condition="koeo",
                    outcomes=tuple(flag(_without_choices(look)) for look in looks),
                    read=_seen(groups, looks),
                )
            )
    return found


def _without_choices(look: str) -> str:
    """What may be seen, whichever of its kinds it is."""
    return re.sub(r"\s*\(\{\w+\}\)", "", look)


def _seen(groups: tuple[str, ...], looks: tuple[str, ...]) -> Reader:
    def read(car: Examined) -> list[float]:
        here = {mark.kind for mark in car.vehicle.marks() if mark.group in groups}
        return [float(look in here) for look in looks]

    return read


def _pumped(wire: str, levels: tuple[float, ...]) -> Reader:
    return lambda car: [pressure_read(car.vehicle, "koeo", wire, level) for level in levels]


def _heated(wire: str, levels: tuple[float, ...]) -> Reader:
    def read(car: Examined) -> list[float]:
        way = [thermistor_read(car.vehicle, "koeo", wire, float(c)) for c in range(0, 101, 2)]
        jumps = any(b < a - 5.0 for a, b in itertools.pairwise(way))
        return [*(thermistor_read(car.vehicle, "koeo", wire, level) for level in levels), float(jumps)]

    return read


def air_tests(rig: Rig) -> list[DiagnosticTest]:
    found = [
        DiagnosticTest(
            f"smoke.{entry}",
            say("Smoke, fed in {entry}", entry=entry),
            instrument="smoke_generator",
            place=entry,
            condition="koeo",
            outcomes=(flag("smoke comes out"),),
            read=_smoke(entry),
        )
        for entry in (BEHIND, BEFORE)
    ]
    for hose in (HOSES[name] for name in hoses_of(rig)):
        names = [name for name in _WATCHED if name in rig_channels(rig)]
        found.append(
            DiagnosticTest(
                f"clamp.{hose.name}",
                say("Close and open again: {name}", name=hose.name),
                instrument="hose_clamp",
                place=hose.name,
                condition=hose.condition,
                outcomes=tuple(
                    Outcome(
                        say("{label} moves by", label=channel(name).label),
                        quantity=channel(name).quantity,
                        spread=_WATCHED[name],
                        error=channel(name).step / 2.5,
                        step=channel(name).step,
                    )
                    for name in names
                ),
                read=_closed(hose.name, hose.condition, names),
                isolates=Isolated("hose", hose.name),
            )
        )
    return found


def _smoke(entry: str) -> Reader:
    return yes_or_no(lambda car: bool(smoking(car.vehicle, entry)))


def _closed(hose: str, condition: str, names: list[str]) -> Reader:
    """How far each reading moves when a hose is closed off; it moves back when the hose is opened."""

    def read(car: Examined) -> list[float]:
        before, during = (v.watched(condition) for v in (car.vehicle, car.vehicle.with_closed(hose)))
        moves = [during.statistic(condition, n, "mean") - before.statistic(condition, n, "mean") for n in names]
        return [0.0 if np.isnan(move) else move for move in moves]

    return read


def part_tests(rig: Rig) -> list[DiagnosticTest]:
    return [
        DiagnosticTest(
            f"part.{part}",
            say("Known-good part and back: {part}", part=part),
            instrument="known_good_part",
            place=part,
            condition="hot_idle",
            outcomes=(flag("a reading or a code goes and returns"),),
            read=_exchanged(part),
            isolates=Isolated("part", part),
        )
        for part in parts_of(rig)
    ]


def _exchanged(part: str) -> Reader:
    """Whether something that was clearly out, or a code, is gone with a known-good part on a whole drive."""

    def read(car: Examined) -> list[float]:
        with_part = car.vehicle.with_part(part).run("hot_idle")
        if with_part is car.day:
            return [0.0]
        return [float(bool(car.codes - set(trouble_codes(with_part))) or _comes_back_in(car.day, with_part))]

    return read


def _comes_back_in(before: Run, after: Run) -> bool:
    for (where, name, stat), band in load_sheet(before.rig).bands.items():
        watched = stat in WATCHED_STATISTICS and channel(name).layer is Layer.SCAN and band.deviation > 0.0
        if watched and where in before.script.conditions():
            out, back = (abs(run.statistic(where, name, stat) - band.mean) for run in (before, after))
            if out > CLEARLY_OUT * band.deviation and back < BACK_IN * band.deviation:
                return True
    return False


def isolated_by(fault: FaultSpec, test: DiagnosticTest) -> bool:
    """Whether a test closes off or exchanges what this fault would be: said of a suspicion, never of the vehicle."""
    return test.isolates in isolable(fault)


def isolable(fault: FaultSpec) -> tuple[Isolated, Isolated]:
    """The part whose exchange and the hose whose closing would take a fault away, as tests name what they isolate."""
    kind, values = fault.checked()
    return Isolated("part", kind.part_of(values)), Isolated("hose", kind.hose)
