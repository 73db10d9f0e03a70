"""The crank drive: combustion, friction, starter and load turn it."""

import math
from typing import Any

import numpy as np

from leitfaden_core.compiled import compiled
from leitfaden_core.engine.battery import AMPS_PER_NM, starter_amps
from leitfaden_core.engine.diesel import diesel_quality, equivalence_of, exhaust_burnt_share
from leitfaden_core.engine.torque import (
    burn_quality,
    burnt_gas_quality,
    compression_loss,
    cyclic_spread,
    mixture_torque,
)
from leitfaden_core.simulate.layout import STEP
from leitfaden_core.simulate.limits import FIRES_ABOVE, STANDSTILL, UNBURNT_UNSEEN
from leitfaden_core.simulate.parts.exhaust import bank_mixtures

#: Speed above which segments are too short to tell cylinders apart. [rad/s]
TELLS_BELOW = 470.0
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
    "weakest",
    "phi_leanest",
    "spread",
    "phi_cylinder",
    "phi_exhaust",
    "phi_exhaust_2",
    "phi_bank",
    "phi_bank_2",
)


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


@compiled
def stroke(p: Any, crank: Any, h: Any, live: float) -> float:
    """Torque of this instant's power stroke over the mean of the cycle: cylinders that do not burn, or burn lean, leave
    a gap, and the others fill it in the mean. [-]

    References: the mean value model (Hendricks and Sorenson 1990), shared out over the strokes of a cycle.
    """
    bit = 1 << (ORDERS[int(p.cylinders), int(crank.segment)] - 1)
    if int(h.dead_cylinders) & bit:
        return 0.0
    shared = 1.0 / max(live, 0.05) if h.dead_cylinders > 0.5 else 1.0
    if h.lean_cylinders > 0.5:
        lean = h.restricted_share
        mean = max((1.0 - lean) * crank.rich_torque + lean * crank.lean_torque, 1e-6)
        shared *= (crank.lean_torque if int(h.lean_cylinders) & bit else crank.rich_torque) / mean
    return shared


@compiled
def end_segment(p: Any, crank: Any, unit: Any) -> None:
    """A power stroke is over: the next one begins, and the control unit has measured how long its segment took.

    Out of that it makes the number of the one cylinder after whose stroke the shaft is slower than after the others, 0
    where there is none or the speed is too high to tell.

    References: crank speed fluctuation as of on-board misfire detection; the limits are this model's.
    """
    count = int(p.cylinders)
    done = ORDERS[count, min(int(crank.segment), count - 1)] - 1
    gained = (crank.speed * crank.speed - crank.segment_speed * crank.segment_speed) * 0.5 * p.inertia
    crank.segment_speed = crank.speed
    crank.gains[done] += 0.15 * (gained - crank.gains[done])
    crank.segment += 1.0
    if crank.segment < count:
        crank.segment_end = (crank.segment + 1.0) * CYCLE / count
        return
    crank.segment, crank.segment_end = 0.0, CYCLE / count
    crank.angle -= CYCLE
    worst, total = 0, 0.0
    for k in range(count):
        total += crank.gains[k]
        worst = k if crank.gains[k] < crank.gains[worst] else worst
    # Without its stroke the shaft lacks the work of one segment.
    lacks = (total - count * crank.gains[worst]) / max(count - 1, 1)
    work = max(crank.torque + crank.friction, 5.0) * CYCLE / count
    tells = count > 2 and unit.running > 0.5 and crank.speed < TELLS_BELOW and unit.cut < 0.5
    crank.weakest = worst + 1.0 if tells and lacks > 0.5 * work else 0.0


@compiled
def turn(
    p: Any,
    crank: Any,
    air: Any,
    fuel: Any,
    gas: Any,
    warm: Any,
    wires: Any,
    unit: Any,
    mix: Any,
    h: Any,
    key: float,
    in_gear: float,
    roller: float,
    brake: float,
) -> None:
    """Burning, torque and crankshaft, one step."""
    firing = crank.speed > FIRES_ABOVE
    fresh = max(air.air_flow, 1e-6)
    phi = p.afr_stoich * p.fuel_blend * h.fuel_afr * fuel.fuel_flow / fresh
    crank.phi_cylinder = min(phi, 6.0)
    # All fuel is in the cylinders that get some; of these, those with a spark burn theirs.
    fuelled = 1.0 - h.dead_fuel
    live = fuelled - h.dead_spark
    if p.diesel > 0.5:
        # Recirculated gas of a lean engine still holds air: what counts is the share that is not burnt.
        available = air.charge_flow * (1.0 - air.egr_share * crank.burnt_share)
        quality = diesel_quality(available / max(fuel.fuel_flow * p.afr_stoich, 1e-7)) if firing else 0.0
        burnt = fuel.fuel_flow * live / fuelled * quality
        out = exhaust_burnt_share(air.egr_share * crank.burnt_share, air.charge_flow, fuel.fuel_flow, p.afr_stoich)
        crank.burnt_share += STEP / 0.05 * (min(out, 1.2) - crank.burnt_share)
        crank.phi_exhaust = min(equivalence_of(crank.burnt_share, p.afr_stoich), 2.0)
    else:
        crank.phi_leanest = phi / fuelled
        crank.spread = cyclic_spread(air.egr_share, phi / fuelled)
        quality, burnt = burn_petrol(p, crank, air, fuel, warm, h, phi, fuelled, live, firing)
        # The electrode burns only part of what a cylinder without spark sends unburnt: the rest of its oxygen is felt
        # as lean.
        crank.phi_exhaust = crank.phi_cylinder * (1.0 - h.dead_spark / fuelled * UNBURNT_UNSEEN)
        if p.two_banks > 0.5:
            bank_mixtures(crank, fuel, mix, h)
    # What the crankshaft's segments tell: the share of power strokes that are missing.
    crank.misfire = 1.0 - live * quality if firing and fuel.fuel_flow > 1e-6 and unit.cut < 0.5 else 0.0
    crank.burn += crank.share_burn * (burnt - crank.burn)
    indicated = (
        p.lower_heating_value
        * h.fuel_energy
        * crank.efficiency
        * crank.burn
        / max(crank.speed, 15.0)
        * (1.0 + crank.torque_wander)
    )
    crank.angle += crank.speed * STEP
    if crank.angle >= crank.segment_end:
        end_segment(p, crank, unit)
    if h.dead_cylinders > 0.5 or h.lean_cylinders > 0.5:
        indicated *= stroke(p, crank, h, live)
    pumping = (gas.p_exhaust - air.p_manifold) * p.displacement / (4.0 * math.pi)
    turning = min(crank.speed / 3.0, 1.0)
    starter = 0.0
    if key > 1.5:
        # A weak battery turns the starter with less torque and to less speed; an engine that runs, it overtakes.
        amps = (
            starter_amps(wires.source, wires.inner, wires.eyelet, p.starter_torque, crank.speed / p.starter_speed)
            if unit.running < 0.5
            else 0.0
        )
        starter = amps / AMPS_PER_NM
    outside = 0.0
    if brake >= 0.0:
        # A brake on a governed engine takes torque; the governor holds the speed. It lets go before it stalls the
        # engine.
        outside = brake * min(max((crank.speed - 70.0) / 50.0, 0.0), 1.0)
    elif in_gear > 0.5:
        grip = min(max((crank.speed - 70.0) / 50.0, 0.0), 1.0)
        strength = 3.0 * p.rated_torque
        outside = min(max(0.25 * strength * (crank.speed - roller), -strength), strength) * grip
    dragged = pumping + crank.friction + p.accessory_torque
    if unit.running < 0.5:
        dragged += compression_loss(crank.speed, p.displacement, p.compression_ratio)
        # Each compression holds the shaft back, each expansion drives it on.
        dragged += GAS_SPRING * p.displacement * math.sin(0.5 * p.cylinders * crank.angle) * min(crank.speed, 1.0)
    net = indicated - dragged * turning + starter - outside
    crank.speed += STEP * net / p.inertia
    if crank.speed < STANDSTILL:
        crank.speed = 0.0
    free = indicated - pumping - crank.friction - p.accessory_torque if unit.running > 0.5 else 0.0
    crank.brake_torque += STEP / 0.1 * ((outside if in_gear > 0.5 else 0.0) - crank.brake_torque)
    crank.torque += STEP / 0.02 * (free - crank.torque)


@compiled
def burn_petrol(
    p: Any, crank: Any, air: Any, fuel: Any, warm: Any, h: Any, phi: float, fuelled: float, live: float, firing: bool
) -> tuple[float, float]:
    """Share of the live charge that burns, and the fuel of best mixture that would give its work, one step. [-], [kg/s]"""
    if not firing:
        return 0.0, 0.0
    dilution = burnt_gas_quality(air.egr_share)
    charge_air = air.air_flow / (p.afr_stoich * p.fuel_blend * h.fuel_afr)
    if h.restricted_share <= 0.0:
        quality = burn_quality(phi / fuelled, warm.temp_coolant) * dilution
        burns = min(fuel.fuel_flow * live / fuelled, charge_air * live)
        return quality, burns * quality * mixture_torque(phi / fuelled)
    # Cylinders behind a restricted injector run leaner than the mean, the others richer.
    lean = h.restricted_share
    mean = 1.0 - lean + lean * h.restricted_flow
    rich_phi = phi / fuelled / mean
    lean_phi = rich_phi * h.restricted_flow
    crank.phi_leanest = lean_phi
    rich_quality = burn_quality(rich_phi, warm.temp_coolant) * dilution
    lean_quality = burn_quality(lean_phi, warm.temp_coolant) * dilution
    crank.rich_torque = min(rich_phi, 1.0) * rich_quality * mixture_torque(rich_phi)
    crank.lean_torque = min(lean_phi, 1.0) * lean_quality * mixture_torque(lean_phi)
    burnt = (1.0 - lean) * crank.rich_torque + lean * crank.lean_torque
    return (1.0 - lean) * rich_quality + lean * lean_quality, burnt * charge_air * live
