"""Monitors that check airflow and pressures against each other."""

import numpy as np

from leitfaden_core.engine.air_path import breathing, cylinder_flow, volumetric_efficiency
from leitfaden_core.monitors.logic import After, Flags, Held, Stretch, Test, Values, monitor
from leitfaden_core.rigs import Rig
from leitfaden_core.simulate import FRAME
from leitfaden_core.simulate.limits import RPM


@monitor("P0101", "components", "diesel")
def _meter_implausible(rig: Rig) -> Test:
    """With the recirculation valve shut, airflow must fit charge pressure, temperature and speed within 30 %."""

    def apart(drive: Stretch) -> Flags:
        mass = _mass_by_density(drive, _breathing(drive), drive["charge_pressure"])
        return np.asarray(np.abs(drive["maf"] / np.maximum(mass, 1.0) - 1.0) > 0.30)

    def shut(drive: Stretch) -> Flags:
        return np.asarray(
            drive.running & (drive["egr_command"] < 1.0) & (drive["egr_position"] < 5.0) & (drive["kmh"] > 20.0)
        )

    return Held(apart, 3.0, shut)


@monitor("P0068", "components", "meter_and_map")
def _air_and_pressure(rig: Rig) -> Test:
    """Warm and in closed loop, airflow must fit manifold pressure, temperature and speed within 30 %: false air splits
    them as a bad sensor does.
    """

    def apart(drive: Stretch) -> Flags:
        inside, outside = np.maximum(drive["map"], 5.0) * 1e3, drive["baro_true"] * 1e3
        # As in the engine's own filling: residual gas and valve overlap count at low pressure.
        filling = np.vectorize(volumetric_efficiency, otypes=[float])(
            inside,
            outside,
            drive["rpm"] / RPM,
            _breathing(drive),
            rig.engine.compression_ratio,
            rig.air_path.overlap_residual,
        )
        mass = _mass_by_density(drive, filling, drive["map"])
        return np.asarray(np.abs(drive.smooth("air ratio", drive["maf"] / np.maximum(mass, 0.5), 1.0) - 1.0) > 0.30)

    return Held(
        apart, 8.0, lambda drive: np.asarray(drive.running & (drive["closed_loop"] > 0.5) & (drive["ect"] > 70.0))
    )


def _breathing(drive: Stretch) -> Values:
    """Volumetric efficiency without residual gas at each row's engine speed. [-]"""
    path, krpm = drive.rig.air_path, drive["rpm"] / 1000.0
    return np.asarray(
        breathing.py_func(  # type: ignore[attr-defined]
            krpm, path.ve_const, path.ve_lin, path.ve_quad, path.ve_cub
        )
    )


def _mass_by_density(drive: Stretch, filling: Values, pressure: Values) -> Values:
    """Airflow that volumetric efficiency [-], pressure [kPa], temperature and speed ask for; the charge is 12 K warmer
    than IAT. [g/s]
    """
    flow = cylinder_flow.py_func(  # type: ignore[attr-defined]
        filling, 1e3 * pressure, drive["iat"] + 285.0, drive.rig.engine.displacement, drive["rpm"] * np.pi / 30.0
    )
    return np.asarray(1e3 * flow)


@monitor("P0106", "components", "map_alone")
def _no_air_pressure(rig: Rig) -> Test:
    """Where no other sensor tells a pressure: before anything turns it must be one that the air can have."""
    low, high = AIR_PRESSURES
    return Held(
        lambda drive: np.asarray((drive["map"] < low) | (drive["map"] > high)),
        1.0,
        lambda drive: np.asarray(drive.powered & (drive["rpm"] < 5.0)),
    )


@monitor("P0106", "components", "map_alone")
def _pressure_rests(rig: Rig) -> Test:
    """Where no other sensor tells a pressure: from key on to the first moments of idle it must fall."""

    def stands(before: dict[str, Values], after: dict[str, Values]) -> bool | None:
        still = before["map"][before["rpm"] < 5.0]
        if not still.size or after["pedal_seen"].max() > 0.01 or after["rpm"].min() < 300.0:
            return None
        return bool(np.median(still) - after["map"][-round(0.2 / FRAME) :].mean() < LEAST_FALL)

    # A governor opens its throttle for the start and shuts it when the speed is reached.
    seconds = 0.7 if rig.governor is None else 4.0
    return After(lambda drive: drive.running, 4.0, seconds, ("map", "rpm", "pedal_seen"), stands)


#: Pressures that the air can have on the roads of the world [kPa], and by how much manifold pressure falls at least
#: from standstill to idle [kPa].
AIR_PRESSURES, LEAST_FALL = (55.0, 108.0), 20.0
