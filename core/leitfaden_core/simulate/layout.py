"""The flat records that the compiled step works on, by name.

PARAMS is made from the rig document's numeric fields, so that a new number in a rig needs no second entry here. STATE
is everything that the engine and its control unit remember. HOOKS are the places where faults act; each has the value
of a sound engine. LANES is one recorded row.
"""

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.channels import CHANNELS
from leitfaden_core.rigs import Rig
from leitfaden_core.sensors.oxygen import PHI_STEPS, TEMP_STEPS

FRAME = 0.01  #: s, control unit's slow task, noise, recording
STEP = 0.002  #: s, physics: air, fuel, gas and fast sensors
STEPS_PER_FRAME = round(FRAME / STEP)
CRANK_STEPS = 2  # of the crankshaft in one of these: its power strokes pass within a few milliseconds
CRANK_STEP = STEP / CRANK_STEPS
TRANSPORT_SLOTS = round(4.096 / STEP)  #: steps of exhaust that may be on its way to the sensor
LTFT_CELLS = 4  # of one bank; the second bank's lie behind them

_F8 = "f8"

#: Numbers that a healthy individual engine has of its own, around those of its rig; what stands around it, and what its
#: driver has switched on, come with them.
INDIVIDUAL = {
    "meter_gain": 1.0,
    "injector_gain": 1.0,
    "breath_gain": 1.0,
    "friction_gain": 1.0,
    "fuel_blend": 1.0,
    "tank_energy": 1.0,
    "tank_density": 1.0,
    "ect_trim_k": 0.0,
    "iat_trim_k": 0.0,
    "cell_gain": 1.0,
    "wideband_gain": 1.0,
    "map_trim_pa": 0.0,
    "charge_trim_pa": 0.0,
    "ambient_trim_pa": 0.0,
    "sensor_age_s": 0.0,
    "charging_trim_v": 0.0,
    "noise_gain": 1.0,
    "ambient_temp": 293.15,
    "ambient_pressure": 101300.0,
    "charger_amps": 0.0,
}

#: Circuits whose wires can be broken, shorted or corroded; each has a state and an additional resistance among the
#: hooks.
CIRCUITS = (
    *(
        "maf",
        "map",
        "charge",
        "ambient",
        "tp",
        "iat",
        "ect",
        "egt_1",
        "egt_2",
        "front",
        "front2",
        "rear",
        "wideband",
        "rail",
        "dpf_dp",
        "egr",
        "egr_dp",
        "app",
    ),
    *(
        "reference",
        "sensor_ground",
        "engine_ground",
        "maf_supply",
        "front_heater",
        "rear_heater",
        "wideband_heater",
        "purge",
    ),
)

#: Where faults act, and the value there of a sound engine.
HOOKS: dict[str, float] = {
    # air path
    "leak_manifold_area": 0.0,  # m² effective
    "leak_duct_area": 0.0,
    "filter_extra": 0.0,  # Pa s²/kg²
    "purge_least": 0.0,  # m² effective below which the purge valve does not close
    "purge_fuel": -1.0,  # fuel share of the purge gas by mass, when 0 or above
    "purge_shut": 0.0,
    "air_undiverted": 0.0,  # share of the air pump's flow that goes on into the exhaust when it should not
    "breath_lost": 0.0,  # share of filling lost at standstill by late valve timing; less at speed
    "boost_leak_area": 0.0,  # m² effective
    "boost_leak_opens": 0.0,  # Pa gauge
    "wastegate_stuck": -1.0,  # opening when 0 or above
    "wastegate_hose": 0.0,  # share of the actuator's pressure that leaks away
    "recirculation_shut": 0.0,
    "recirculation_torn": 0.0,
    "vanes_stuck": -1.0,  # 0 open to 1 closed, when 0 or above
    # what a tool holds through the control unit: share of the way when 0 or above
    "egr_held": -1.0,
    "purge_held": -1.0,
    "vanes_held": -1.0,
    "egr_least": 0.0,  # opening below which the valve does not close
    "egr_most": 1.0,  # opening beyond which it does not go
    "egr_blocked": 0.0,  # share of the passage that deposits take
    "egr_vacuum_lost": 0.0,  # share of the vacuum that does not reach the valve
    "egr_dp_hoses": 1.0,  # what the hoses make of the orifice's pressure drop: -1 swapped, 0 open
    # exhaust
    "exhaust_extra": 0.0,  # Pa s²/kg² on top of the pipe, behind the catalyst
    "catalyst_extra": 0.0,  # the same in the catalyst
    "catalyst_linear": 0.0,  # Pa s/kg in its channels
    "dpf_extra": 0.0,  # Pa s²/kg² on top of the particle filter
    "exhaust_leak_area": 0.0,
    "exhaust_leak_second": 0.0,  # the same in the second bank
    "catalyst_share": 1.0,
    # fuel, burning
    "rail_factor_idle": 1.0,
    "rail_factor_full": 1.0,
    "injector_leak": 0.0,  # kg/s
    "injector_leak_second": 0.0,  # of it in the second bank
    "coil_siemens": 0.0,  # conductance that a shorted injector coil has more than a sound one
    "injector_part": 1.0,  # flow of all injectors relative to the right part
    "restricted_share": 0.0,  # share of cylinders with a restricted injector
    "restricted_flow": 1.0,  # flow of a restricted injector, relative
    "fuel_afr": 1.0,  # stoichiometric air-fuel ratio of the fuel in the tank relative to the right one
    "fuel_energy": 1.0,
    "fuel_density": 1.0,
    "dead_spark": 0.0,  # share of cylinders whose mixture leaves unburnt
    "dead_fuel": 0.0,  # share of cylinders that get no fuel
    "dead_cylinders": 0.0,  # which ones give no torque, as a sum of 2**(number - 1)
    "lean_cylinders": 0.0,  # which ones a restricted injector feeds, the same way
    "dead_spark_second": 0.0,  # of these in the second bank, as a share of all
    "dead_fuel_second": 0.0,
    "spark_shift": 0.0,  # ° crankshaft earlier than the control unit believes
    "charging_lost": 0.0,
    "battery_drained": 0.0,  # share of its capacity that it has given without being charged
    "thermostat_stuck": 0.0,
    "thermostat_most": 1.0,
    "fan_works": 1.0,  # share of its power that a weak fan has left
    "coolant_lost": 0.0,  # share
    # airflow meter
    "meter_gain_idle": 1.0,
    "meter_gain_full": 1.0,
    "meter_shift": 0.0,  # kg/s
    "burnoff_dead": 0.0,
    # pressure sensors: part gain, zero shift
    "map_hose_share": 0.0,  # share of ambient pressure that the MAP sensor sees
    "map_hose_lag": 0.0,  # s
    "map_stuck": -1.0,  # Pa when 0 or above
    "map_lowest": 0.0,  # Pa below which it does not go
    "map_part": 1.0,
    "map_shift": 0.0,  # Pa
    "charge_part": 1.0,
    "charge_shift": 0.0,
    "ambient_shift": 0.0,
    "rail_shift": 0.0,
    "dpf_dp_shift": 0.0,
    "dp_upstream": 1.0,  # share of the pressure before the filter that the upstream hose brings
    "dp_upstream_lag": 0.0,  # s
    "dp_swapped": 0.0,
    "tp_shift": 0.0,  # share of the supply, first track
    "app_shift": 0.0,  # share of the supply, first track
    # temperature sensors
    "iat_soak": 0.0,  # K at no flow
    "iat_hood": 1.0,  # what a shield or another place leaves of the heat that the IAT sensor takes from around it
    "iat_slow": 1.0,  # factor on the IAT sensor's lag
    "iat_table_flat": 0.0,  # how far the correction for intake air temperature is flattened
    "ect_offset": 0.0,  # K
    "iat_offset": 0.0,
    "ect_slope": 1.0,  # of the reading in °C
    "iat_slope": 1.0,
    "ect_resistance": 1.0,
    "iat_resistance": 1.0,
    "ect_dead_at": 0.0,  # K of the element around which it loses contact; 0: nowhere
    "iat_dead_at": 0.0,
    "ect_dead_width": 0.0,  # K
    "iat_dead_width": 0.0,
    "egt_1_offset": 0.0,  # K
    "egt_2_offset": 0.0,
    # oxygen sensors
    "front_lag": 0.0,  # s
    "front_offset": 0.0,  # V
    "front_ground": 0.0,  # V by which its ground lies above the control unit's, engine running
    "front_gain": 1.0,
    "front_stuck": -1.0,  # V when 0 or above
    "wideband_shift": 0.0,  # lambda
    "wideband_noise": 0.0,  # lambda
    "wideband_lag": 0.0,  # s
    # heating elements, 1: sound, 0: burnt through
    "element_front_heater": 1.0,
    "element_rear_heater": 1.0,
    "element_wideband_heater": 1.0,
    # wires
    "reference_held": -1.0,  # V when 0 or above
    **{f"circuit_{name}": 0.0 for name in CIRCUITS},
    **{f"ohms_{name}": 0.0 for name in CIRCUITS},
}
HOOK_NAMES = list(HOOKS)
HOOK_COUNT = len(HOOK_NAMES)

#: What the sensors give before any wire: shares of their supply, resistances, voltages, and the inner resistance of
#: oxygen cells.
ELEMENTS = (
    *(
        "map_share",
        "charge_share",
        "ambient_share",
        "tp_share",
        "rail_share",
        "dpf_dp_share",
        "egr_pin_share",
        "egr_dp_share",
        "app_share",
    ),
    *(
        "iat_ohms",
        "ect_ohms",
        "egt_1_ohms",
        "egt_2_ohms",
        "ect_pull_up",
        "meter_output",
        "front_source",
        "front_ohms",
        "front2_source",
        "rear_source",
        "rear_ohms",
    ),
)

INPUT_NAMES = [
    *("key", "foot", "target", "in_gear", "roller_speed", "vehicle_kmh", "time_lapse"),
    *("consumer_amps", "compressor_torque"),
]

FOOT_PEDAL, FOOT_SPEED, FOOT_TORQUE, FOOT_SNAP = 0, 1, 2, 3
KEY_OFF, KEY_ON, KEY_START = 0, 1, 2

HOOK = np.dtype([(name, _F8) for name in HOOK_NAMES])
INPUT = np.dtype([(name, _F8) for name in INPUT_NAMES])
#: Wanted values and commands of the control unit, which monitors compare with what came of them.
_ASKED = (
    "boost_wanted",
    "boost_duty",
    "egr_command",
    "egr_air_wanted",
    "egr_dp_wanted",
    "rail_wanted",
    "demand",
    "wideband_lost",
    "battery_true",
    "air_stroke",
    "powered",
)
#: Where the control unit shows a value of its own making for a sensor that it has lost.
SUBSTITUTED = tuple(sorted({entry.stands_in for entry in CHANNELS.values() if entry.stands_in}))
#: What monitors read besides the channels: the state of the control unit, of the drive, and what it sees of heaters and
#: firing.
STATUS = (
    "closed_loop",
    "fuel_cut",
    "running",
    "run_seconds",
    "kmh",
    "in_gear",
    "soak_seconds",
    "time_lapse",
    "heater_front",
    "heater_rear",
    "heater_front_state",
    "heater_rear_state",
    "purge_state",
    "misfire",
    "weak_cylinder",
    "block_lift",
    "block_amps",
    "starter_amps",
    "pedal_seen",
    "reference_seen",
    "since_hot_restart",
    *_ASKED,
    *SUBSTITUTED,
    *ELEMENTS,
)
LANES = np.dtype([(name, "f4") for name in (*CHANNELS, *STATUS)])
#: Numbers of a row.
LANE_COUNT = len(LANES.names or ())

#: How a fault's effect joins the hook's value.
OP_SET, OP_ADD, OP_MULTIPLY, OP_MAX = 0, 1, 2, 3
#: When a fault is there, beyond the random instants that the plan lays out.
GATE_ALWAYS, GATE_ABOVE_COOLANT, GATE_BELOW_COOLANT, GATE_ABOVE_TORQUE, GATE_AFTER_SOAK = 0, 1, 2, 3, 4
EFFECT = np.dtype([("hook", "i8"), ("op", "i8"), ("value", _F8), ("gate", "i8"), ("gate_value", _F8), ("fault", "i8")])


def blank_rows(frames: int) -> NDArray[np.void]:
    """Rows to be filled, shape (frames,), with anything in them before. To lay them out field by field, or empty them,
    would take longer than to step an engine.
    """
    return np.empty(frames * LANE_COUNT, dtype=np.float32).view(LANES)


def flat(rows: NDArray[np.void]) -> NDArray[np.float32]:
    """The same rows as numbers, shape (rows, LANE_COUNT)."""
    return rows.view(np.float32).reshape(len(rows), LANE_COUNT)


def params_dtype(rig: Rig) -> np.dtype:
    """Record type for a rig's numbers, those of the individual engine, and its oxygen cells' voltage by mixture and
    temperature, before and behind the catalyst.
    """
    return np.dtype(
        [
            *((name, _F8) for name in sorted(rig.numbers() | INDIVIDUAL)),
            ("cell_table", _F8, (PHI_STEPS + 1, TEMP_STEPS + 1)),
            ("rear_cell_table", _F8, (PHI_STEPS + 1, TEMP_STEPS + 1)),
        ]
    )
