"""What hands and eyes do: pump, heat, look, smoke, clamp, exchange."""

import itertools
from collections.abc import Callable

import numpy as np

from leitfaden_core.diagnose.tests.base import ISOLATED, Examined, Outcome, Test, flag, yes_or_no
from leitfaden_core.faults import FaultSpec
from leitfaden_core.instruments.kinds.air import BEFORE, BEHIND, SMOKE_SHOWS, clamp_places, kinds_here
from leitfaden_core.instruments.kinds.eyes import PLACES
from leitfaden_core.instruments.kinds.parts import cures, parts_of
from leitfaden_core.instruments.kinds.stimulus import pressure_read, thermistor_read
from leitfaden_core.rigs import Rig
from leitfaden_core.simulate import FRAME
from leitfaden_core.wiring.circuits import CIRCUITS, circuits_of

#: Purge flow that a hand feels. [g/s]
FELT_SUCTION = 0.02
Reader = Callable[[Examined], list[float]]
#: Signal of an airflow meter that is glowing. [V]
BURN_OFF_SEEN = 4.3


def stimulus_tests(rig: Rig) -> list[Test]:
    found = []
    for wire, label in (("map", "MAP sensor"), ("charge", "charge pressure sensor"), ("dpf_dp", "filter sensor")):
        if wire not in rig.features:
            continue
        levels = (20.0, 60.0) if wire == "dpf_dp" else (30.0, 60.0)
        found.append(
            Test(
                f"pump.{wire}",
                f"Hand pump on the {label}: two points",
                "hand_pump",
                label,
                "koeo",
                8.0,
                tuple(Outcome(f"believed at {level:g} kPa", "pressure_abs", 0.8, 0.6, 1.0) for level in levels),
                _pumped(wire, levels),
            )
        )
    if "map" in rig.features:
        found.append(
            Test(
                "pump.map_hose",
                "Hand pump on the hose of the MAP sensor: does it hold",
                "hand_pump",
                "hose of the MAP sensor",
                "koeo",
                5.0,
                (flag("holds"),),
                yes_or_no(lambda car: not any(f.kind in {"map_hose_leak", "changeover_stuck"} for f in car.faults)),
            )
        )
    for wire, label in (("ect", "ECT sensor"), ("iat", "IAT sensor")):
        found.append(
            Test(
                f"heat.{wire}",
                f"Mild heat on the {label}: resistance at two temperatures",
                "heat_source",
                label,
                "koeo",
                12.0,
                (
                    *(Outcome(f"reads at {c:g} °C", "temperature", 1.2, 0.6, 1.0) for c in (20.0, 70.0)),
                    flag("a jump on the way", 0.1),
                ),
                _heated(wire, (20.0, 70.0)),
            )
        )
    if "petrol" in rig.features:
        found.append(_cylinder_test(rig))
    if "purge" in rig.features:
        found.append(_suction_test())
    return [*found, _wiggle_test(rig), *_scope_tests(rig)]


def _scope_tests(rig: Rig) -> list[Test]:
    """What only a fast picture shows: the glow after key-off, and how a pressure follows the throttle."""
    found = []
    if "burn_off" in rig.features:
        glows = yes_or_no(
            lambda car: (
                float(car.day.lanes["maf_volts"][car.day.lanes["powered"] < 0.5].max(initial=0.0)) > BURN_OFF_SEEN
            )
        )
        found.append(
            Test(
                "scope.burn_off",
                "Oscilloscope: airflow meter after key-off",
                "oscilloscope",
                "maf_volts",
                "wot_pull",
                10.0,
                (flag("glows clean", 0.1),),
                glows,
            )
        )
    for wire in ("map", "charge"):
        if wire in rig.features and "throttle" in rig.features:
            outcome = Outcome("behind the throttle by [s]", "ratio", 0.02, 0.005, 0.005)
            label = f"Oscilloscope: {wire} sensor against throttle in a snap"
            found.append(
                Test(
                    f"scope.{wire}_follows",
                    label,
                    "oscilloscope",
                    f"{wire}_volts",
                    "snap_throttle",
                    10.0,
                    (outcome,),
                    _follows(wire),
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


def _wiggle_test(rig: Rig) -> Test:
    """Every plug is moved while a recorder runs fast enough; what jumps only by itself now and then shows under the
    hand.
    """
    names = circuits_of(rig)

    def read(car: Examined) -> list[float]:
        loose = {str(fault.params.get("circuit")) for fault in car.faults if fault.kind == "connector_intermittent"}
        return [float(name in loose) for name in names]

    outcomes = tuple(flag(f"{CIRCUITS[name].label} jumps") for name in names)
    return Test(
        "wiggle",
        "Move plug after plug while a fast recorder runs",
        "oscilloscope",
        "maf_volts",
        "hot_idle",
        12.0,
        outcomes,
        read,
    )


def _suction_test() -> Test:
    """A hand on the canister's hose: the purge valve is shut at idle and open at raised speed."""
    conditions = ("hot_idle", "no_load_2500")
    return Test(
        "hand.purge_suction",
        "Hand on the canister's hose: suction at idle and at 2500 1/min",
        "inspection",
        "manifold",
        "no_load_2500",
        5.0,
        tuple(flag(f"suction, {c.replace('_', ' ')}", 0.1) for c in conditions),
        lambda car: [float(car.vehicle.run(c).statistic(c, "purge_true", "mean") > FELT_SUCTION) for c in conditions],
        caution="Keep hands and leads away from belt and fan.",
    )


def _cylinder_test(rig: Rig) -> Test:
    count = rig.engine.cylinders

    def read(car: Examined) -> list[float]:
        dead = {int(float(f.checked()[1]["cylinder"])) for f in car.faults if f.kind == "dead_cylinder"}
        return [float(k + 1 not in dead) for k in range(count)]

    return Test(
        "cylinders",
        "Actuator test: shut off each injector in turn",
        "actuator_test",
        "injector of cylinder 1 off",
        "hot_idle",
        2.0 * count,
        tuple(flag(f"cylinder {k + 1} is missed") for k in range(count)),
        read,
        caution="Keep it short: unburnt fuel overheats the catalyst.",
    )


def eye_tests(rig: Rig) -> list[Test]:
    """Looking at a place: one answer for each thing that may be seen there."""
    found = []
    for place, groups in PLACES.items():
        kinds = [kind for kind in kinds_here(rig) if kind.look and kind.group in groups]
        if kinds:
            outcomes = tuple(flag(kind.look) for kind in kinds)
            found.append(
                Test(
                    f"look.{place}",
                    f"Look: {place}",
                    "inspection",
                    place,
                    "koeo",
                    4.0,
                    outcomes,
                    _traces(tuple(kind.id for kind in kinds)),
                )
            )
    return found


def _shows_smoke(fault: FaultSpec, entry: str) -> bool:
    kind, values = fault.checked()
    opens = float(values.get("opens_above_kPa", 0.0)) <= 2.0
    return kind.smoke == entry and float(values.get("area_mm2", 1.0)) >= SMOKE_SHOWS and opens


def _smoke(entry: str) -> Reader:
    return yes_or_no(lambda car: any(_shows_smoke(fault, entry) for fault in car.faults))


def _traces(kinds: tuple[str, ...]) -> Reader:
    return lambda car: [float(any(fault.kind == kind for fault in car.faults)) for kind in kinds]


def _closed(place: str) -> Reader:
    return yes_or_no(lambda car: any(fault.checked()[0].clamp == place for fault in car.faults))


def _exchanged(part: str) -> Reader:
    return yes_or_no(lambda car: any(cures(fault, part) for fault in car.faults))


def _pumped(wire: str, levels: tuple[float, ...]) -> Reader:
    return lambda car: [pressure_read(car.vehicle, "koeo", wire, level) for level in levels]


def _heated(wire: str, levels: tuple[float, ...]) -> Reader:
    def read(car: Examined) -> list[float]:
        way = [thermistor_read(car.vehicle, "koeo", wire, float(c)) for c in range(0, 101, 2)]
        jumps = any(b < a - 5.0 for a, b in itertools.pairwise(way))
        return [*(thermistor_read(car.vehicle, "koeo", wire, level) for level in levels), float(jumps)]

    return read


def air_tests(rig: Rig) -> list[Test]:
    found = [
        Test(
            f"smoke.{entry}",
            f"Smoke, fed in {entry}",
            "smoke_generator",
            entry,
            "koeo",
            20.0,
            (flag("smoke comes out"),),
            _smoke(entry),
        )
        for entry in (BEHIND, BEFORE)
    ]
    for place in clamp_places(rig):
        found.append(
            Test(
                f"clamp.{place}",
                f"Close and open again: {place}",
                "hose_clamp",
                place,
                "hot_idle",
                4.0,
                (flag("the effect goes and returns", ISOLATED),),
                _closed(place),
                isolates=f"clamp:{place}",
                caution="Fingers clear of the fan; count the clamps.",
            )
        )
    return found


def part_tests(rig: Rig) -> list[Test]:
    return [
        Test(
            f"part.{part}",
            f"Known-good part and back: {part}",
            "known_good_part",
            part,
            "hot_idle",
            30.0,
            (flag("the fault goes and returns", ISOLATED),),
            _exchanged(part),
            isolates=f"part:{part}",
        )
        for part in parts_of(rig)
    ]


def isolated_by(fault: FaultSpec, test: Test) -> bool:
    """Whether a test closes off or exchanges what this fault is."""
    what, _colon, name = test.isolates.partition(":")
    return (what == "part" and cures(fault, name)) or (what == "clamp" and fault.checked()[0].clamp == name)
