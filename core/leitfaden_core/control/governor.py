"""Speed governor: the lever sets a speed, the throttle holds it. Droop shows only when the plate is fully open."""

from typing import Any

from leitfaden_core.compiled import inlined

#: Plate with which the starter turns the engine, and at which its stop lies. [-]
START_PLATE, IDLE_STOP = 0.10, 0.05


@inlined
def govern(p: Any, unit: Any, wanted: float, rpm: float, dt: float) -> None:
    """One step of the throttle plate. Speeds in rev/min. When cold the engine idles faster, by its own control unit.

    References: PI; Heywood 1988, sec. 10 for what is governed.
    """
    if unit.running < 0.5:
        unit.governor_integral = START_PLATE
        unit.plate_command = START_PLATE
        return
    error = wanted - rpm
    proportional = p.throttle_kp * min(max(error, -1500.0), 1500.0)
    room_up, room_down = 1.0 - unit.governor_integral, -unit.governor_integral
    step = p.throttle_ki * min(max(error, -300.0), 300.0) * dt
    # Anti-windup: a plate at its stop learns nothing.
    if (
        0.0 < unit.governor_integral + proportional < 1.0
        or step * error < 0.0
        or (proportional > room_up) == (step < 0.0)
    ):
        unit.governor_integral += min(max(step, room_down), room_up)
    # A stop keeps the plate from shutting the engine off.
    unit.plate_command = min(max(unit.governor_integral + proportional, IDLE_STOP), 1.0)
