"""The crank drive: combustion, friction, starter and load turn it."""

import math
from typing import Any

import numpy as np

from leitfaden_core.compiled import inlined
from leitfaden_core.engine.battery import AMPS_PER_NM, alternator_torque, starter_amps
from leitfaden_core.engine.diesel import diesel_quality, equivalence_of, exhaust_burnt_share
from leitfaden_core.engine.torque import (
    burn_quality,
    burnt_gas_quality,
    compression_loss,
    cyclic_spread,
    mixture_torque,
)
from leitfaden_core.simulate.lag import covered
from leitfaden_core.simulate.layout import CRANK_STEP, CRANK_STEPS
from leitfaden_core.simulate.limits import FIRES_ABOVE, STANDSTILL, UNBURNT_UNSEEN
from leitfaden_core.simulate.noise import uniform
from leitfaden_core.simulate.parts.exhaust import bank_mixtures

#: Speed above which segments are too short to tell cylinders apart. [rad/s]
TELLS_BELOW = 470.0
#: Time after a fuel cut in which strokes are not compared: the walls are dry, and the cut itself was the control unit's
#: doing. [s]
SETTLES_AFTER_CUT = 0.5
#: Numbers of the crank drive.
CRANK = (
    "speed",
    "burn",
    "burnt_share",
    "torque",
    "torque_wander",
    "misfire",
    "brake_torque",
    "friction",
    "efficiency",
    "share_burn",
    "angle",
    "lean_torque",
    "rich_torque",
    "segment",
    "segment_end",
    "segment_speed",
    "strokes",
    "fires",
    "gained",
    "gained_before",
    "quality",
    "quality_lean",
    "odds",
    "odds_lean",
    "twist",
    "weakest",
    "phi_leanest",
    "spread",
    "phi_cylinder",
    "phi_exhaust",
    "phi_exhaust_2",
    "phi_bank",
    "phi_bank_2",
)


#: Of the work of a power stroke what a segment must lack beside its neighbours to count as missing [-], and the cycles
#: over which missing ones are counted [-].
LACKS, COUNTED_OVER = 0.5, 25.0
#: Share of burning charges above which none is taken to fail. [-]
ALL_FIRE = 0.995
#: Natural frequency [rad/s] and damping [-] of the drive line between crankshaft and rollers: shuffle of a few hertz
#: (Kiencke and Nielsen 2005); the values are engineering estimates.
SHUFFLE, SHUFFLE_DAMPED = 38.0, 0.4
#: Crank angle of a working cycle. [rad]
CYCLE = 4.0 * math.pi
#: Amplitude of the torque of compression and expansion at the starter's speed, per m³ of displacement. [Nm/m³]
GAS_SPRING = 1.0e4
#: Which cylinder fires when, by the number of cylinders: rows from 0 to 12, shape (13, 12).
ORDERS = np.zeros((13, 12), dtype=np.int64)
for _order in (
    (1,),
    (1, 2),
    (1, 2, 3),
    (1, 3, 4, 2),
    (1, 2, 4, 5, 3),
    (1, 5, 3, 6, 2, 4),
    (1, 8, 4, 3, 6, 5, 7, 2),
    (1, 12, 5, 8, 3, 10, 6, 7, 2, 11, 4, 9),
):
    ORDERS[len(_order), : len(_order)] = _order


@inlined
def stroke(p: Any, crank: Any, h: Any, live: float) -> float:
    """Torque of this instant's power stroke over the mean of the cycle: cylinders that do not burn, now and then or at
    all, or burn lean, leave a gap, and the others fill it in the mean. [-]

    References: the mean value model (Hendricks and Sorenson 1990), shared out over the strokes of a cycle.
    """
    bit = 1 << (ORDERS[int(p.cylinders), int(crank.segment)] - 1)
    if int(h.dead_cylinders) & bit:
        return 0.0
    shared = 1.0 / max(live, 0.05) if h.dead_cylinders > 0.5 else 1.0
    starved = h.lean_cylinders > 0.5 and int(h.lean_cylinders) & bit
    if (crank.quality_lean if starved else crank.quality) < ALL_FIRE:
        shared *= crank.fires / max(crank.odds_lean if starved else crank.odds, 0.05)
    if h.lean_cylinders > 0.5:
        lean = h.restricted_share
        mean = max((1.0 - lean) * crank.rich_torque + lean * crank.lean_torque, 1e-6)
        shared *= (crank.lean_torque if int(h.lean_cylinders) & bit else crank.rich_torque) / mean
    return shared


@inlined
def end_segment(p: Any, crank: Any, unit: Any, h: Any, seed: np.uint64) -> None:
    """A power stroke is over: the next one begins, and the control unit has measured how long its segment took.

    Out of that it makes the share of strokes that were missing beside their neighbours, and the number of the one
    cylinder after whose stroke the shaft is slower than after the others, 0 where there is none or the speed is too
    high to tell.

    References: crank speed fluctuation as of on-board misfire detection (Kiencke and Nielsen 2005); the limits
    are this model's.
    """
    count = int(p.cylinders)
    done = ORDERS[count, min(int(crank.segment), count - 1)] - 1
    gained = (crank.speed * crank.speed - crank.segment_speed * crank.segment_speed) * 0.5 * p.inertia
    crank.segment_speed = crank.speed
    crank.gains[done] += 0.15 * (gained - crank.gains[done])
    told = unit.running > 0.5 and crank.speed < TELLS_BELOW and unit.cut < 0.5 and unit.since_cut > SETTLES_AFTER_CUT
    # What a stroke gives at the air that the control unit reckons with.
    strokes = count * crank.speed / CYCLE
    work = p.lower_heating_value * p.indicated_efficiency * unit.air_estimate / (p.afr_stoich * max(strokes, 1.0))
    if told:
        missed = 1.0 if max(crank.gained_before, gained) - crank.gained > LACKS * work else 0.0
        crank.misfire += (missed - crank.misfire) / (COUNTED_OVER * count)
    else:
        # At speeds at which it cannot tell it forgets within a hundred strokes.
        crank.misfire -= crank.misfire / (COUNTED_OVER * count) if unit.running > 0.5 else crank.misfire
    crank.gained_before, crank.gained = crank.gained, gained
    # Whether the next charge burns is a matter of chance.
    crank.strokes += 1.0
    crank.segment += 1.0
    last = crank.segment >= count
    if last:
        crank.segment = 0.0
        crank.angle -= CYCLE
    crank.segment_end = (crank.segment + 1.0) * CYCLE / count
    bit = 1 << (ORDERS[count, int(crank.segment)] - 1)
    burns = crank.quality_lean if h.lean_cylinders > 0.5 and int(h.lean_cylinders) & bit else crank.quality
    crank.fires = 1.0 if burns >= ALL_FIRE or uniform(seed, 16, int(crank.strokes)) < burns else 0.0
    if not last:
        return
    worst, total = 0, 0.0
    for k in range(count):
        total += crank.gains[k]
        worst = k if crank.gains[k] < crank.gains[worst] else worst
    # Without its stroke the shaft lacks the work of one segment.
    lacks = (total - count * crank.gains[worst]) / max(count - 1, 1)
    crank.weakest = worst + 1.0 if told and count > 2 and lacks > LACKS * work else 0.0


@inlined
def equivalence(p: Any, air: Any, fuel: Any, h: Any) -> float:
    """Fuel over that of a stoichiometric mixture, in the mean of all cylinders. [-]

    References: Heywood 1988, sec. 3.4 (fuel-air equivalence ratio).
    """
    return fuel.fuel_flow * (p.afr_stoich * p.fuel_blend * h.fuel_afr / max(air.air_flow, 1e-6))


@inlined
def compare_cycles(p: Any, crank: Any, air: Any, fuel: Any, h: Any) -> None:
    """How much the work of one cycle differs from the next, one frame."""
    if p.diesel < 0.5:
        crank.spread = cyclic_spread(air.egr_share, equivalence(p, air, fuel, h) / (1.0 - h.dead_fuel))


@inlined
def burn(p: Any, crank: Any, air: Any, fuel: Any, warm: Any, mix: Any, h: Any) -> None:
    """What the charges in the cylinders burn, one step, and what they let out."""
    firing = crank.speed > FIRES_ABOVE
    phi = equivalence(p, air, fuel, h)
    crank.phi_cylinder = min(phi, 6.0)
    # All fuel is in the cylinders that get some; of these, those with a spark burn theirs.
    fuelled = 1.0 - h.dead_fuel
    live = fuelled - h.dead_spark
    if p.diesel > 0.5:
        # Recirculated gas of a lean engine still holds air: what counts is the share that is not burnt.
        available = air.charge_flow * (1.0 - air.egr_share * crank.burnt_share)
        quality = diesel_quality(available / max(fuel.fuel_flow * p.afr_stoich, 1e-7)) if firing else 0.0
        # Too little air makes smoke of all charges alike.
        crank.quality = 1.0
        burnt = fuel.fuel_flow * live / fuelled * quality
        out = exhaust_burnt_share(air.egr_share * crank.burnt_share, air.charge_flow, fuel.fuel_flow, p.afr_stoich)
        crank.burnt_share += covered(0.05) * (min(out, 1.2) - crank.burnt_share)
        crank.phi_exhaust = min(equivalence_of(crank.burnt_share, p.afr_stoich), 2.0)
    else:
        crank.phi_leanest = phi * (1.0 / fuelled)
        quality, burnt = burn_petrol(p, crank, air, fuel, warm, h, crank.phi_leanest, fuelled, live, firing)
        # The electrode burns only part of what a cylinder without spark sends unburnt: the rest of its oxygen is felt
        # as lean.
        crank.phi_exhaust = crank.phi_cylinder * (1.0 - h.dead_spark / fuelled * UNBURNT_UNSEEN)
        if p.two_banks > 0.5:
            bank_mixtures(crank, fuel, mix, h)
    crank.burn += crank.share_burn * (burnt - crank.burn)
    # With the delay of the burning, or the strokes after a fuel cut would share out work that was never there.
    crank.odds += crank.share_burn * (crank.quality - crank.odds)
    crank.odds_lean += crank.share_burn * (crank.quality_lean - crank.odds_lean)


@inlined
def turn(
    p: Any,
    crank: Any,
    air: Any,
    gas: Any,
    wires: Any,
    unit: Any,
    h: Any,
    key: float,
    in_gear: float,
    roller: float,
    brake: float,
    consumers: float,
    compressor: float,
    seed: np.uint64,
) -> None:
    """Torque and crankshaft, one step in several of the crankshaft's own: power strokes pass within a few milliseconds.

    ``consumers`` [A] and ``compressor`` [Nm]: what the driver has switched on.
    """
    slow = max(crank.speed, 15.0)
    per_fuel = p.lower_heating_value * p.tank_energy * h.fuel_energy * crank.efficiency / slow
    work = crank.burn * (per_fuel * (1.0 + crank.torque_wander))
    uneven = h.dead_cylinders > 0.5 or h.lean_cylinders > 0.5 or crank.quality < ALL_FIRE
    runs = unit.running > 0.5
    driven = p.accessory_torque
    if runs:
        driven += compressor + alternator_torque(consumers, wires.battery, crank.speed)
    dragged = (gas.p_exhaust - air.p_manifold) * p.displacement / (4.0 * math.pi) + crank.friction + driven
    if not runs:
        dragged += compression_loss(crank.speed, p.displacement, p.compression_ratio)
    if in_gear < 0.5:
        crank.twist = 0.0
    for _ in range(CRANK_STEPS):
        crank.angle += crank.speed * CRANK_STEP
        if crank.angle >= crank.segment_end:
            end_segment(p, crank, unit, h, seed)
        indicated = work
        if uneven:
            indicated *= stroke(p, crank, h, 1.0 - h.dead_fuel - h.dead_spark)
        held = dragged
        if not runs:
            # Each compression holds the shaft back, each expansion drives it on.
            held += GAS_SPRING * p.displacement * math.sin(0.5 * p.cylinders * crank.angle) * min(crank.speed, 1.0)
        outside = taken(p, crank, in_gear, roller, brake)
        helped = started(p, crank, wires, unit) if key > 1.5 else 0.0
        net = indicated + (helped - outside - held * min(crank.speed / 3.0, 1.0))
        crank.speed += CRANK_STEP / p.inertia * net
        if crank.speed < STANDSTILL:
            crank.speed = 0.0
        free = indicated - dragged if runs else 0.0
        crank.brake_torque += CRANK_STEP / 0.1 * ((outside if in_gear > 0.5 else 0.0) - crank.brake_torque)
        crank.torque += CRANK_STEP / 0.02 * (free - crank.torque)


@inlined
def started(p: Any, crank: Any, wires: Any, unit: Any) -> float:
    """Torque of the starter: a weak battery turns it with less torque and to less speed; an engine that runs, it
    overtakes. [Nm]

    References: as of :func:`starter_amps`.
    """
    if unit.running > 0.5:
        return 0.0
    speed = crank.speed / p.starter_speed
    return starter_amps(wires.source, wires.inner, wires.eyelet, p.starter_torque, speed) / AMPS_PER_NM


@inlined
def taken(p: Any, crank: Any, in_gear: float, roller: float, brake: float) -> float:
    """Torque that rollers or a brake take, which let go before they stall the engine, one step of the crankshaft. [Nm]

    A brake on a governed engine takes torque; the governor holds the speed.
    """
    if brake < 0.0 and in_gear < 0.5:
        return 0.0
    grip = min(max((crank.speed - 70.0) / 50.0, 0.0), 1.0)
    return (brake if brake >= 0.0 else drive_line(p, crank, roller)) * grip


@inlined
def drive_line(p: Any, crank: Any, roller: float) -> float:
    """Torque that the rollers take through a drive line that twists, up to what its clutch bears, one step of the
    crankshaft. [Nm]

    References: Kiencke and Nielsen 2005 (one spring and damper).
    """
    strength = 3.0 * p.rated_torque
    stiffness = p.inertia * SHUFFLE * SHUFFLE
    slip = crank.speed - roller
    crank.twist = min(max(crank.twist + CRANK_STEP * slip, -strength / stiffness), strength / stiffness)
    return min(max(stiffness * crank.twist + 2.0 * SHUFFLE_DAMPED * SHUFFLE * p.inertia * slip, -strength), strength)


@inlined
def burn_petrol(
    p: Any, crank: Any, air: Any, fuel: Any, warm: Any, h: Any, phi: float, fuelled: float, live: float, firing: bool
) -> tuple[float, float]:
    """Share of the live charge that burns, and the fuel of best mixture that would give its work, one step. [-],
    [kg/s]

    ``phi``: of the cylinders that get fuel. [-]
    """
    crank.quality = crank.quality_lean = 1.0
    if not firing:
        return 0.0, 0.0
    dilution = burnt_gas_quality(air.egr_share)
    charge_air = air.air_flow / (p.afr_stoich * p.fuel_blend * h.fuel_afr)
    if h.restricted_share <= 0.0:
        quality = crank.quality = burn_quality(phi, warm.temp_coolant) * dilution
        burns = min(fuel.fuel_flow * (live / fuelled), charge_air * live)
        return quality, burns * quality * mixture_torque(phi)
    # Cylinders behind a restricted injector run leaner than the mean, the others richer.
    lean = h.restricted_share
    mean = 1.0 - lean + lean * h.restricted_flow
    rich_phi = phi / mean
    lean_phi = rich_phi * h.restricted_flow
    crank.phi_leanest = lean_phi
    rich_quality = burn_quality(rich_phi, warm.temp_coolant) * dilution
    lean_quality = burn_quality(lean_phi, warm.temp_coolant) * dilution
    crank.quality, crank.quality_lean = rich_quality, lean_quality
    crank.rich_torque = min(rich_phi, 1.0) * rich_quality * mixture_torque(rich_phi)
    crank.lean_torque = min(lean_phi, 1.0) * lean_quality * mixture_torque(lean_phi)
    burnt = (1.0 - lean) * crank.rich_torque + lean * crank.lean_torque
    return (1.0 - lean) * rich_quality + lean * lean_quality, burnt * charge_air * live
