"""The driver's foot, or the hand at a governed engine's lever."""

from typing import Any

from leitfaden_core.compiled import inlined
from leitfaden_core.simulate.layout import FOOT_PEDAL, FOOT_SNAP, FOOT_SPEED, FOOT_TORQUE
from leitfaden_core.simulate.limits import RPM

#: Numbers of driver and lever.
HAND = (
    "pedal",
    "pedal_integral",
    "snap_time",
    "snap_released",
    "lever",
    "brake_applied",
)


@inlined
def driver(p: Any, crank: Any, hand: Any, row: Any, dt: float) -> None:
    """The driver's foot, or the hand at a governed engine's lever, one frame."""
    if row.foot == FOOT_PEDAL:
        hand.pedal = row.target
        hand.pedal_integral = 0.06
    elif p.governed > 0.5 and row.foot != FOOT_SNAP:
        hand.lever = (row.target if row.foot == FOOT_SPEED else row.roller_speed) * RPM
        hand.pedal = min(max((hand.lever - p.idle_target) / (p.governed_speed - p.idle_target), 0.0), 1.0)
    elif row.foot == FOOT_SPEED:
        error = (row.target - crank.speed) * RPM / 1000.0
        hand.pedal_integral = min(max(hand.pedal_integral + 0.030 * error * dt, 0.02), 0.9)
        # A diesel's pedal is torque: without the throttle's own damping the foot has to give it.
        hand.pedal = min(max(hand.pedal_integral + (0.12 if p.diesel > 0.5 else 0.035) * error, 0.011), 1.0)
    elif row.foot == FOOT_TORQUE:
        error = (row.target - crank.brake_torque) / p.rated_torque
        hand.pedal_integral = min(max(hand.pedal_integral + 0.5 * error * dt, 0.02), 1.0)
        hand.pedal = min(max(hand.pedal_integral + 0.04 * error, 0.011), 1.0)
    elif row.foot == FOOT_SNAP:
        hand.snap_time += dt
        if hand.snap_time > 0.5 and hand.snap_released < 0.5:
            if crank.speed * RPM > 0.8 * p.rated_speed or hand.snap_time > 1.5:
                hand.snap_released = 1.0
            hand.pedal = min(hand.pedal + dt / 0.15, 1.0)
        else:
            hand.pedal = max(hand.pedal - dt / 0.15, 0.0)
    if row.foot != FOOT_SNAP:
        hand.snap_time = 0.0
        hand.snap_released = 0.0
    if p.governed > 0.5:
        if row.foot == FOOT_PEDAL or row.foot == FOOT_SNAP:
            hand.lever = p.idle_target + hand.pedal * (p.governed_speed - p.idle_target)
        # The operator does not stall the engine: the brake comes on with speed.
        reached = min(max((crank.speed * RPM / max(hand.lever, 1.0) - 0.5) / 0.3, 0.0), 1.0)
        hand.brake_applied = (
            hand.brake_applied + dt / 1.0 * (row.target * reached - hand.brake_applied)
            if row.foot == FOOT_TORQUE
            else 0.0
        )
