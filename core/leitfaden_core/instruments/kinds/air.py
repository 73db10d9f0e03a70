"""Finding air where it should not go: smoke, tracer gas, spray, hose clamps. Each with what it cannot find."""

from leitfaden_core.channels import channel, rounded
from leitfaden_core.constants import ZERO_CELSIUS
from leitfaden_core.engine.air_path import HOLE_COEFFICIENT, orifice
from leitfaden_core.faults.hoses import hoses_of
from leitfaden_core.instruments.instrument import Instrument, Observation, Option, Shown, Use, instruments
from leitfaden_core.instruments.vehicle import BEFORE, BEHIND, Opening, Vehicle
from leitfaden_core.rigs import Rig, rig_channels
from leitfaden_core.words import say

#: Smaller holes than this give no smoke that an eye finds. [mm²]
SMOKE_SHOWS = 0.3
#: Pressure of a smoke generator above the surroundings. [kPa]
SMOKE_PRESSURE = 2.0
#: Trim that must move for a tracer to be called a reaction. [%]
REACTS = 1.5
_FIRE = "Flammable spray on a hot engine: fire and flashback. Use tracer gas; extinguisher at hand."
_CRUSH = "Fingers clear of the fan; no sharp jaws on fuel hoses; count the clamps at the end."


def _outlets(rig: Rig, entry: str) -> list[str]:
    """Where smoke leaves a sound engine."""
    return (
        ["air filter inlet"]
        if entry == BEFORE
        else ["crankcase breather", "throttle plate gap"]
        if "throttle" in rig.features
        else ["crankcase breather"]
    )


def smoking(vehicle: Vehicle, entry: str) -> list[Opening]:
    """Holes from which smoke comes when it is fed in at a side of the throttle."""
    holes = (hole for hole in vehicle.openings() if hole.side == entry)
    return [
        hole
        for hole in holes
        if hole.area_mm2 >= SMOKE_SHOWS and hole.opens_at_kpa <= SMOKE_PRESSURE and not hole.sealed
    ]


def _smoke(use: Use) -> Observation:
    shown = [
        Shown("smoke", "smoke comes out", None, quantity="", text=hole.place)
        for hole in smoking(use.vehicle, use.place)
    ]
    outlets = _outlets(use.vehicle.rig, use.place)
    notes = [
        (
            "Smoke shows leaks that are open at its low pressure: one that opens under vacuum, boost, heat or "
            "movement stays hidden."
        )
    ]
    if use.options["outlets"] == "open":
        shown += [
            Shown(
                "smoke",
                "smoke comes out",
                None,
                quantity="",
                text=say("{outlet} (lets smoke out on a sound engine too)", outlet=outlet),
            )
            for outlet in outlets
        ]
        notes.append("Plug the regular outlets first, or their smoke hides the rest: " + ", ".join(outlets) + ".")
    if not shown:
        shown.append(Shown("smoke", "smoke", None, quantity="", text="none to be seen"))
        notes.append("No smoke is no proof of a tight intake.")
    return Observation(
        "smoke_generator",
        use.place,
        use.condition,
        shown=tuple(shown),
        minutes=20.0,
        notes=tuple(notes),
        changes=("intake opened and closed again",),
    )


instruments.register(
    Instrument(
        "smoke_generator",
        "smoke generator",
        purpose="Low-pressure smoke into the intake, engine off.",
        minutes=20.0,
        places=lambda rig: [BEHIND, BEFORE],
        use=_smoke,
        options=(Option("outlets", "regular outlets", choices=("plugged", "open"), default="plugged"),),
        cautions=(
            "Low pressure only; inert gas where fuel vapour is present; no ignition source.",
            "Ultraviolet lamp: protect eyes, glasses that match the dye.",
        ),
        conditions=("koeo",),
    )
)


def _watched(rig: Rig) -> str:
    return "stft" if "stft" in rig_channels(rig) else "charge_pressure" if "turbo" in rig.features else "rpm"


def _clamp(use: Use) -> Observation:
    """Open, closed, open again: the isolation that proves, when the effect goes and comes back."""
    name = _watched(use.vehicle.rig)
    step, quantity = channel(name).step, channel(name).quantity
    first = use.vehicle.watched(use.condition).statistic(use.condition, name, "mean")
    closed = use.vehicle.with_closed(use.place)
    during = closed.watched(use.condition).statistic(use.condition, name, "mean")
    label = channel(name).label
    shown: tuple[Shown, ...] = (
        Shown(
            "before",
            say("{label} before", label=label),
            rounded(first, step),
            quantity=quantity,
            text="",
            step=step,
            error=step / 3.5,
        ),
        Shown(
            "clamped",
            say("{label} clamped", label=label),
            rounded(during, step),
            quantity=quantity,
            text="",
            step=step,
            error=step / 3.5,
        ),
    )
    if use.options["release"] == "yes":
        shown = (
            *shown,
            Shown(
                "released",
                say("{label} released", label=label),
                rounded(first, step),
                quantity=quantity,
                text="",
                step=step,
                error=step / 3.5,
            ),
        )
    notes = ("The learned memory stays as it was: the short-term trim shows the whole step.",) if name == "stft" else ()
    return Observation("hose_clamp", use.place, use.condition, shown=shown, minutes=3.0, notes=notes)


instruments.register(
    Instrument(
        "hose_clamp",
        "hose clamp",
        purpose="Close one hose, watch, open it again. One at a time.",
        minutes=3.0,
        places=hoses_of,
        use=_clamp,
        options=(Option("release", "release and watch again", choices=("yes", "no"), default="yes"),),
        cautions=(_CRUSH,),
        conditions=("hot_idle", "no_load_2500", "wot_pull"),
    )
)


def drawn_in(vehicle: Vehicle, condition: str, hose: str) -> float:
    """Share of the engine's air that comes in through holes at a hose or joint, by the pressure on either side. [-]

    A tracer that is blown there takes the place of this air, however the engine meters it.
    """
    run = vehicle.watched(condition)
    rows = run.rows(run.script.span(condition))
    inside = {BEHIND: rows["map_true"], BEFORE: rows["inlet_true"]}
    flow = 0.0
    for hole in vehicle.openings():
        if hole.place == hose:
            low, high = (1e3 * float(values.mean()) for values in (inside[hole.side], rows["baro_true"]))
            through, _up, _slope = orifice.py_func(  # type: ignore[attr-defined]
                hole.area_mm2 * 1e-6 * HOLE_COEFFICIENT, high, float(rows["iat_true"].mean()) + ZERO_CELSIUS, low
            )
            flow += max(float(through), 0.0)
    return flow / max(float(rows["maf_true"].mean()) / 1000.0, 1e-5)


#: Share of the drawn-in air that a tracer or a spray replaces when it is held to a hole. [-]
REPLACED = 0.6


def _tracer(use: Use) -> Observation:
    name = _watched(use.vehicle.rig)
    replaced = 100.0 * REPLACED * drawn_in(use.vehicle, use.condition, use.place)
    # Less oxygen at the same fuel: the loop takes fuel away, as far as it may. Without a loop the speed falls.
    move = max(-replaced, -25.0) if name == "stft" else 0.0
    words = "reacts" if replaced > REACTS else "no reaction"
    note = "A tracer is drawn in wherever air is: it finds leaks that smoke does not push open."
    seen = rounded(move + 0.4 * float(use.chance.standard_normal()), 0.78)
    return Observation(
        "tracer_gas",
        use.place,
        use.condition,
        shown=(Shown("trim", "trim with tracer", seen, quantity="trim", text=words, step=0.78, error=0.6),),
        minutes=6.0,
        notes=(note,),
    )


instruments.register(
    Instrument(
        "tracer_gas",
        "tracer gas",
        purpose="Carbon dioxide at a suspected place, engine idling: where it is drawn in, the mixture answers.",
        minutes=6.0,
        places=hoses_of,
        use=_tracer,
        cautions=("Carbon dioxide suffocates in pits and small rooms: cylinder secured, regulator fitted.",),
        conditions=("hot_idle",),
    )
)


def _spray(use: Use) -> Observation:
    if use.options["agent"] == "flammable":
        return Observation("spray", use.place, use.condition, shown=(), minutes=0.0, cautions=(_FIRE,), refused=_FIRE)
    reacts = 100.0 * REPLACED * drawn_in(use.vehicle, use.condition, use.place) > REACTS
    return Observation(
        "spray",
        use.place,
        use.condition,
        shown=(Shown("idle", "idle", None, quantity="", text="changes" if reacts else "does not change"),),
        minutes=3.0,
    )


instruments.register(
    Instrument(
        "spray",
        "leak spray",
        purpose="A little non-flammable spray at a joint, engine idling.",
        minutes=3.0,
        places=hoses_of,
        use=_spray,
        options=(Option("agent", "agent", choices=("non-flammable", "flammable"), default="non-flammable"),),
        cautions=(_FIRE, "Sprayed solvent attacks rubber, paint and sensor plastics."),
        conditions=("hot_idle",),
    )
)
