"""The state in which a run begins."""

from typing import Literal

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.engine.battery import KEY_ON_AMPS, USUAL_CHARGE, terminal_voltage
from leitfaden_core.sensors.airflow import meter_slope, meter_voltage, vane_voltage
from leitfaden_core.simulate.layout import STATE, TRANSPORT_SLOTS
from leitfaden_core.simulate.limits import BATTERY_CHARGED

#: What has the temperature and the pressure of the surroundings after a night.
_COLD = (
    *(
        "temp_coolant",
        "temp_oil",
        "temp_hood",
        "temp_iat_body",
        "temp_ect_body",
        "temp_exhaust",
        "temp_catalyst",
        "temp_front",
    ),
    *(
        "temp_rear",
        "temp_behind",
        "temp_boss",
        "temp_duct",
        "temp_charge",
        "temp_compressed",
        "egt_1_body",
        "egt_2_body",
        "ect_believed",
        "iat_believed",
    ),
)
_AT_REST = (
    *(
        "p_duct",
        "p_manifold",
        "p_exhaust",
        "p_pipe",
        "p_tail",
        "p_inlet",
        "observer",
        "baro_believed",
        "baro_key_on",
        "map_gas",
        "map_believed",
    ),
    *("charge_gas", "charge_believed", "exhaust_model"),
)


def initial_state(p: np.void, start: Literal["cold", "hot"]) -> NDArray[np.void]:
    """State after a night's soak, or of a hot engine that idles."""
    state = np.zeros(1, dtype=STATE)
    for name in _COLD:
        state[name] = p["ambient_temp"]
    for name in _AT_REST:
        state[name] = p["ambient_pressure"]
    state["rail_5v"] = 5.0
    state["battery"] = terminal_voltage(USUAL_CHARGE, KEY_ON_AMPS)
    state["battery_charge"] = USUAL_CHARGE
    state["tp_rest"] = -1.0
    for name in ("iat_ohms", "ect_ohms", "egt_1_ohms", "egt_2_ohms"):
        state[name] = 1000.0
    state["idle_base"] = p["idle_air_base"]
    state["idle_integral"] = p["idle_air_base"]
    state["store"] = 0.6
    state["cell_front"] = state["front_pin"] = state["rear_pin"] = state["cell_rear"] = p["bias_voltage"]
    state["meter_volts"] = p["meter_zero"]
    state["lambda_command"] = 1.0
    state["lambda_believed"] = 1.0
    state["map_pin"] = state["charge_pin"] = state["ambient_pin"] = state["rail_pin"] = 1.0
    state["soak_time"] = 8.0 * 3600.0
    state["write_slot"] = float(TRANSPORT_SLOTS)
    state["read_slot"] = float(TRANSPORT_SLOTS) - 1.0
    if start == "hot":
        _make_hot(state, p)
    return state


def _make_hot(state: NDArray[np.void], p: np.void) -> None:
    """An engine that has idled for ten minutes after a drive. What is only about right here settles within seconds."""
    ambient = p["ambient_temp"]
    for name in ("temp_coolant", "temp_ect_body", "temp_oil", "ect_believed"):
        state[name] = p["thermostat_opens"] + 1.0
    state["temp_hood"] = ambient + 0.45 * (state["temp_coolant"] - ambient)
    for name in ("temp_exhaust", "temp_catalyst", "temp_behind", "egt_1_body", "egt_2_body"):
        state[name] = 720.0 if p["diesel"] < 0.5 else 520.0
    state["temp_front"] = 900.0 if p["heater_rise"] > 0.0 else 660.0
    state["temp_rear"] = 900.0
    state["temp_boss"] = 500.0
    state["phis"] = 1.0
    state["speed"] = p["idle_target"] * 2.0 * np.pi / 60.0
    state["battery"] = BATTERY_CHARGED
    state["running"] = 1.0
    state["run_time"] = state["warm_time"] = 600.0
    state["soak_time"] = 0.0
    state["since_cut"] = 60.0
    state["sync_time"] = 10.0
    state["sensor_awake"] = 1.0
    if p["diesel"] < 0.5:
        state["p_manifold"] = state["observer"] = state["map_gas"] = state["map_believed"] = 30e3
        state["map_pin"] = 5.0 * (p["map_offset"] + p["map_gain"] * 30.0)
    # An idling engine of this size: about 1.1 g/s per litre at 700 rev/min.
    litres = float(p["displacement"]) * 1e3
    air = 1.1e-3 * litres * float(p["idle_target"]) / 700.0 * (1.0 if p["diesel"] < 0.5 else 3.0)
    state["air_flow"] = state["charge_flow"] = state["meter_flow"] = state["air_estimate"] = air
    zero, full = float(p["meter_zero"]), float(p["meter_full_scale"])
    state["meter_volts"] = (
        vane_voltage(air, float(p["ambient_pressure"]), float(p["ambient_temp"]), zero, full)
        if p["meter_vane"] > 0.5
        else meter_voltage(air, zero, meter_slope(zero, full))
    )
    state["maf_believed"] = state["maf_smooth"] = air
    state["phi_pipe_2"] = state["phi_gas_2"] = state["bank_fuel"] = 1.0
    state["phi_pipe"] = state["phi_gas"] = state["phi_wide"] = state["phi_behind"] = 1.0
    state["film"] = state["film_believed"] = 1.25e-5 * litres * float(p["film_time"]) / 0.22
    state["burn"] = 7e-5 * litres
    state["turbo_speed"] = 1500.0
    state["rail_true"] = state["rail_wanted"] = p["rail_low"]
    state["burnt_share"] = 1.0 if p["diesel"] < 0.5 else 0.25
    state["governor_integral"] = state["plate_command"] = state["plate"] = 0.06 if p["governed"] > 0.5 else 0.0
    state["lever"] = p["idle_target"]
    state["idle_integral"] = p["idle_air_base"] if p["diesel"] < 0.5 else 0.1
