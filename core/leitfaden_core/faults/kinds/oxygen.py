"""Faults of oxygen sensors, of the gas they sense, and of the catalyst."""

from leitfaden_core.engine.air_path import HOLE_COEFFICIENT
from leitfaden_core.faults.catalogue import Effect, FaultKind, Parameter, Values, fault_kinds
from leitfaden_core.rigs import Rig

_HOT = "Exhaust and sensor are hot; work on them when they have cooled down."


def _heater(values: Values, rig: Rig) -> list[Effect]:
    return [Effect("front_heater" if values["sensor"] == "b1s1" else "rear_heater", "set", 0.0)]


fault_kinds.register(
    FaultKind(
        "ho2s_slow",
        "Front oxygen sensor slow",
        "oxygen",
        "Aged or sooted element: an additional lag in both directions.",
        "ho2s_b1s1",
        (Parameter("tau_s", "additional lag", "s", 0.05, 3.0, (0.2, 0.5, 1.2)),),
        lambda values, rig: [Effect("front_lag", "set", float(values["tau_s"]))],
        "Renew the sensor; find out what sooted or poisoned it.",
        (_HOT,),
        "Crossings per second at 2500 rpm too few, edges too slow, trims and mixture right on average.",
    )
)
fault_kinds.register(
    FaultKind(
        "ho2s_stuck",
        "Front oxygen sensor signal stuck",
        "oxygen",
        "The sensor gives one voltage whatever the gas is: dead cell, fouled element.",
        "ho2s_b1s1",
        (Parameter("volts", "signal", "V", 0.0, 1.0, (0.3, 0.1, 0.85)),),
        lambda values, rig: [Effect("front_stuck", "set", float(values["volts"]))],
        "Renew the sensor after its circuit has been proven.",
        (_HOT,),
        "Force the mixture rich and lean: a sound sensor answers within a second, this one does not.",
    )
)
fault_kinds.register(
    FaultKind(
        "ho2s_heater_open",
        "Oxygen sensor heater open",
        "oxygen",
        "The heater circuit is interrupted: the sensor wakes late and may fall asleep at long idle.",
        "ho2s_b1s1",
        (Parameter("sensor", "sensor", choices=("b1s1", "b1s2")),),
        _heater,
        "Restore fuse, wiring or renew the sensor.",
        (_HOT,),
        "Heater resistance and supply at the plug.",
    )
)
fault_kinds.register(
    FaultKind(
        "ho2s_ground_loose",
        "Signal ground of the front oxygen sensor lifted",
        "oxygen",
        "The sensor's ground lies above the control unit's: the reading is too high by that voltage.",
        "ho2s_b1s1",
        (Parameter("volts", "lift", "V", 0.02, 0.6, (0.1, 0.2, 0.35)),),
        lambda values, rig: [Effect("front_offset", "add", float(values["volts"]))],
        "Clean and tighten the ground.",
        (_HOT,),
        "Voltage drop from the sensor's ground to battery minus with the engine running.",
    )
)
fault_kinds.register(
    FaultKind(
        "ho2s_ref_air_polluted",
        "Reference air of the front oxygen sensor polluted",
        "oxygen",
        "Exhaust or water on the reference side lowers the output, below zero at worst.",
        "ho2s_b1s1",
        (Parameter("volts", "lowered by", "V", 0.02, 1.0, (0.1, 0.25, 0.5)),),
        lambda values, rig: [Effect("front_offset", "add", -float(values["volts"]))],
        "Renew the sensor, keep its breathing path clear.",
        (_HOT,),
        "A negative voltage on a sound circuit.",
    )
)
fault_kinds.register(
    FaultKind(
        "exhaust_leak_before_sensor",
        "Exhaust leak before the front oxygen sensor",
        "oxygen",
        "Outside air is drawn in between pulses at low flow: the sensor sees oxygen that the cylinders did not leave.",
        "ho2s_b1s1",
        (Parameter("area_mm2", "opening", "mm²", 0.5, 30.0, (2.0, 5.0, 10.0)),),
        lambda values, rig: [Effect("exhaust_leak_area", "add", float(values["area_mm2"]) * 1e-6 * HOLE_COEFFICIENT)],
        "Renew gasket or manifold.",
        (_HOT, "Exhaust gas is poisonous: run engines only with exhaust extraction."),
        "Trims high at idle only, and soot or sound at the leak.",
    )
)
fault_kinds.register(
    FaultKind(
        "catalyst_worn",
        "Catalyst worn",
        "oxygen",
        "The catalyst has lost oxygen storage: the rear sensor begins to follow the front one.",
        "ho2s_b1s2",
        (Parameter("storage_ratio", "storage relative to a sound catalyst", "-", 0.0, 0.9, (0.4, 0.15, 0.03)),),
        lambda values, rig: [Effect("catalyst_share", "multiply", max(float(values["storage_ratio"]), 0.001))],
        "Renew the catalyst after the cause (misfire, oil, rich running) has been cured.",
        (_HOT,),
        "Rear sensor switches with the front one at steady cruise, with a tight exhaust.",
        needs="ho2s_b1s2",
    )
)
