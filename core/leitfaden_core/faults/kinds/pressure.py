"""Faults of pressure sensors and their hoses."""

from leitfaden_core.faults.catalogue import Effect, FaultKind, Parameter, fault_kinds

_HOSE = "Ease vacuum hoses off by twisting, never with pliers."

fault_kinds.register(
    FaultKind(
        "map_stuck",
        "MAP sensor stuck",
        "pressure_sensor",
        "The sensor's output is frozen at one pressure.",
        "map",
        (Parameter("kPa", "absolute pressure shown", "kPa", 10.0, 110.0, (60.0, 90.0, 101.0)),),
        lambda values, rig: [Effect("map_stuck", "set", float(values["kPa"]) * 1000.0)],
        "Renew the sensor after supply, ground and hose have been proven.",
        (_HOSE,),
        "A hand pump on the port: the reading does not follow.",
        needs="map",
    )
)
fault_kinds.register(
    FaultKind(
        "map_hose_leak",
        "Hose to the MAP sensor leaks",
        "pressure_sensor",
        "The sensor sees a pressure between manifold and ambient; as an air leak the hole is too small to matter.",
        "map",
        (Parameter("fraction", "share of ambient pressure seen", "-", 0.01, 1.0, (0.05, 0.10, 0.25)),),
        lambda values, rig: [Effect("map_hose_share", "set", float(values["fraction"]))],
        "Renew hose or seal.",
        (_HOSE,),
        "Reads right with the engine off and at full load, high at idle; a pump on the hose does not hold.",
        needs="map",
    )
)
fault_kinds.register(
    FaultKind(
        "map_hose_blocked",
        "Hose or port of the MAP sensor narrowed",
        "pressure_sensor",
        "Oil, ice or a kink delays the pressure at the sensor.",
        "map",
        (Parameter("tau_s", "lag", "s", 0.02, 20.0, (0.1, 0.4, 1.5)),),
        lambda values, rig: [Effect("map_hose_lag", "set", float(values["tau_s"]))],
        "Clear port and hose, find where the oil comes from.",
        (_HOSE,),
        "Steady values right, snap throttle late.",
        needs="map",
    )
)
fault_kinds.register(
    FaultKind(
        "pressure_offset",
        "Zero point of a pressure sensor shifted",
        "pressure_sensor",
        "The same pressure is added to every reading.",
        "map",
        (Parameter("sensor", "sensor", choices=("map",)), Parameter("kPa", "added to the reading", "kPa", -40.0, 40.0, (4.0, 8.0, 15.0))),
        lambda values, rig: [Effect("map_shift", "add", float(values["kPa"]) * 1000.0)],
        "Renew the sensor.",
        (_HOSE,),
        "Key on, engine off: the reading differs from the barometer.",
        needs="map",
    )
)
