"""The flat records that the compiled step works on, by name.

PARAMS is made from the rig document's numeric fields, so that a new number in a rig needs no second entry here. STATE is everything that
the engine and its control unit remember. HOOKS are the places where faults act; each has the value of a sound engine. LANES is one recorded row.
"""

import numpy as np

from leitfaden_core.channels import CHANNELS
from leitfaden_core.rigs import Rig

STEP = 0.001  #: s, physics
FRAME = 0.01  #: s, control unit's slow task, noise, recording
STEPS_PER_FRAME = 10
TRANSPORT_SLOTS = 4096  #: ms of exhaust that may be on its way to the sensor
LTFT_CELLS = 4

_F8 = "f8"

#: Numbers that a healthy individual engine has of its own, around those of its rig.
INDIVIDUAL = {
    "meter_gain": 1.0,
    "injector_gain": 1.0,
    "breath_gain": 1.0,
    "friction_gain": 1.0,
    "ect_trim_k": 0.0,
    "iat_trim_k": 0.0,
    "cell_gain": 1.0,
    "sensor_age_s": 0.0,
    "noise_gain": 1.0,
    "ambient_temp": 293.15,
    "ambient_pressure": 101300.0,
}

#: Where faults act, and the value there of a sound engine.
HOOKS: dict[str, float] = {
    "leak_manifold_area": 0.0,  # m² effective
    "leak_duct_area": 0.0,
    "filter_extra": 0.0,  # Pa s²/kg²
    "exhaust_extra": 0.0,  # Pa s²/kg² on top of the pipe
    "exhaust_leak_area": 0.0,
    "meter_gain_idle": 1.0,
    "meter_gain_full": 1.0,
    "maf_supply_open": 0.0,
    "maf_supply_ohms": 0.0,
    "dead_spark": 0.0,  # share of cylinders whose mixture leaves unburnt
    "dead_fuel": 0.0,  # share of cylinders that get no fuel
    "purge_area": 0.0,  # m² effective
    "purge_fuel": 0.0,  # fuel share of the purge gas by mass
    "map_hose_share": 0.0,  # share of ambient pressure that the MAP sensor sees
    "map_hose_lag": 0.0,  # s
    "map_stuck": -1.0,  # Pa when 0 or above
    "map_shift": 0.0,  # Pa
    "burnoff_dead": 0.0,
    "iat_soak": 0.0,  # K at no flow
    "rail_factor_idle": 1.0,
    "rail_factor_full": 1.0,
    "injector_leak": 0.0,  # kg/s
    "ect_offset": 0.0,  # K
    "iat_offset": 0.0,
    "thermostat_stuck": 0.0,
    "front_lag": 0.0,  # s
    "front_offset": 0.0,  # V
    "front_gain": 1.0,
    "front_stuck": -1.0,  # V when 0 or above
    "front_heater": 1.0,
    "rear_heater": 1.0,
    "catalyst_share": 1.0,
    "circuit_maf": 0.0,
    "circuit_iat": 0.0,
    "circuit_ect": 0.0,
    "circuit_front": 0.0,
    "circuit_rear": 0.0,
    "circuit_map": 0.0,
    "ohms_map": 0.0,
    "ohms_maf": 0.0,
    "ohms_iat": 0.0,
    "ohms_ect": 0.0,
    "ohms_front": 0.0,
}
HOOK_NAMES = list(HOOKS)

STATE_NAMES = [
    # engine
    *(
        "speed",
        "p_duct",
        "p_manifold",
        "p_exhaust",
        "temp_coolant",
        "temp_oil",
        "temp_hood",
        "temp_iat_body",
        "temp_ect_body",
        "temp_exhaust",
    ),
    *(
        "temp_catalyst",
        "temp_front",
        "temp_rear",
        "plate",
        "film",
        "burn",
        "fuel_flow",
        "air_flow",
        "phi_cylinder",
        "phi_exhaust",
        "misfire",
        "torque",
        "torque_wander",
    ),
    *(
        "meter_flow",
        "meter_volts",
        "phi_pipe",
        "phi_gas",
        "cell_front",
        "cell_front_slow",
        "store",
        "phi_behind",
        "cell_rear",
        "read_slot",
        "write_slot",
    ),
    # control unit
    *(
        "running",
        "run_time",
        "warm_time",
        "off_time",
        "burning_off",
        "sync_time",
        "map_gas",
        "map_pin",
        "map_believed",
        "noise_map",
        "purge_vapour",
        "maf_believed",
        "maf_smooth",
        "maf_bad_time",
        "maf_substituted",
        "ect_believed",
        "iat_believed",
        "baro_believed",
    ),
    *(
        "ect_bad_time",
        "iat_bad_time",
        "observer",
        "air_estimate",
        "pulse",
        "film_believed",
        "lambda_command",
        "closed_loop",
        "cut",
        "since_cut",
        "wot",
    ),
    *(
        "integral",
        "stft",
        "cell",
        "sensor_awake",
        "rear_slow",
        "rear_share",
        "load",
        "idle_integral",
        "idle_base",
        "idle_demand",
        "idle_error",
    ),
    *(
        "spark",
        "reference",
        "iat_volts",
        "ect_volts",
        "front_pin",
        "rear_pin",
        "maf_pin",
        "maf_supply",
        "tp_volts",
        "baro_volts",
        "noise_meter",
    ),
    # driver and roller bench
    *("pedal", "pedal_integral", "brake_torque", "snap_time", "snap_released", "clutch_torque"),
]

INPUT_NAMES = ["key", "foot", "target", "in_gear", "roller_speed", "vehicle_kmh", "time_lapse"]

FOOT_PEDAL, FOOT_SPEED, FOOT_TORQUE, FOOT_SNAP = 0, 1, 2, 3
KEY_OFF, KEY_ON, KEY_START = 0, 1, 2

STATE = np.dtype([(name, _F8) for name in STATE_NAMES])
HOOK = np.dtype([(name, _F8) for name in HOOK_NAMES])
INPUT = np.dtype([(name, _F8) for name in INPUT_NAMES])
#: What monitors read besides the channels: the state of the control unit, of the drive, and what it sees of heaters and firing.
STATUS = ("closed_loop", "fuel_cut", "running", "run_seconds", "kmh", "heater_front", "heater_rear", "misfire")
LANES = np.dtype([(name, "f4") for name in (*CHANNELS, *STATUS)])

#: How a fault's effect joins the hook's value.
OP_SET, OP_ADD, OP_MULTIPLY, OP_MAX = 0, 1, 2, 3
#: When a fault is there, beyond the random instants that the plan lays out.
GATE_ALWAYS, GATE_ABOVE_COOLANT, GATE_BELOW_COOLANT, GATE_ABOVE_TORQUE = 0, 1, 2, 3
EFFECT = np.dtype([("hook", "i8"), ("op", "i8"), ("value", _F8), ("gate", "i8"), ("gate_value", _F8), ("fault", "i8")])


def params_dtype(rig: Rig) -> np.dtype:
    """Record type for a rig's numbers and those of the individual engine."""
    return np.dtype([(name, _F8) for name in sorted(rig.numbers() | INDIVIDUAL)])
