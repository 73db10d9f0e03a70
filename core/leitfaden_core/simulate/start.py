"""The state in which a run begins."""

from typing import Literal

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.engine.battery import KEY_ON_AMPS, USUAL_CHARGE, terminal_voltage
from leitfaden_core.engine.exhaust import balanced_fill
from leitfaden_core.sensors.airflow import meter_slope, meter_voltage, vane_voltage
from leitfaden_core.sensors.oxygen import PHI_MAX, PHI_STEPS, TEMP_MAX, TEMP_MIN, TEMP_STEPS
from leitfaden_core.simulate.layout import TRANSPORT_SLOTS
from leitfaden_core.simulate.limits import BATTERY_CHARGED
from leitfaden_core.simulate.state import PART_OF, STATE

#: Coolant of an idling engine above its thermostat's opening, where the electric fan holds it. [K]
IDLES_ABOVE = 4.0
#: Exhaust gas of an idling petrol engine. [K]
IDLE_GAS = 720.0
#: Part of the fuel behind the catalyst that the store gives, in the long run of the loop; the rest is what of the
#: loop's rich halves passes it. [-]
HELD_BY_STORE = 0.6
#: What has the temperature and the pressure of the surroundings after a night.
_COLD = (
    *(
        "temp_coolant",
        "temp_metal",
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
        "temp_pipe",
        "temp_duct",
        "temp_charge",
        "temp_compressed",
        "egt_1_body",
        "egt_2_body",
        "ect_read",
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
        _put(state, name, p["ambient_temp"])
    for name in _AT_REST:
        _put(state, name, p["ambient_pressure"])
    state["wires"]["rail_5v"] = 5.0
    state["wires"]["battery"] = terminal_voltage(USUAL_CHARGE, KEY_ON_AMPS)
    state["wires"]["battery_charge"] = USUAL_CHARGE
    state["unit"]["tp_rest"] = -1.0
    for name in ("iat_ohms", "ect_ohms", "egt_1_ohms", "egt_2_ohms"):
        _put(state, name, 1000.0)
    state["unit"]["idle_base"] = p["idle_air_base"]
    state["unit"]["idle_integral"] = p["idle_air_base"]
    state["gas"]["store"] = balanced_fill(1.0 + HELD_BY_STORE * (_held_behind(p) - 1.0))
    state["cells"]["cell_front"] = state["pins"]["front_pin"] = state["pins"]["rear_pin"] = state["cells"][
        "cell_rear"
    ] = p["bias_voltage"]
    state["raw"]["meter_volts"] = p["meter_zero"]
    state["unit"]["lambda_command"] = 1.0
    state["known"]["lambda_believed"] = 1.0
    state["pins"]["map_pin"] = state["pins"]["charge_pin"] = state["pins"]["ambient_pin"] = state["pins"][
        "rail_pin"
    ] = 1.0
    state["unit"]["soak_time"] = 8.0 * 3600.0
    state["gas"]["write_slot"] = float(TRANSPORT_SLOTS)
    state["gas"]["read_slot"] = float(TRANSPORT_SLOTS) - 1.0
    if start == "hot":
        _make_hot(state, p)
    return state


def _held_behind(p: np.void) -> float:
    """Equivalence ratio behind the catalyst at which the loop has held it: there the rear sensor shows its target.
    [-]
    """
    if p["rear_sensor"] < 0.5:
        return 1.0
    temps, phis = np.linspace(TEMP_MIN, TEMP_MAX, TEMP_STEPS + 1), np.linspace(0.0, PHI_MAX, PHI_STEPS + 1)
    step = int(np.argmin(np.abs(temps - _rear_element(p))))
    return float(np.interp(p["rear_target"] / p["cell_gain"], p["rear_cell_table"][:, step], phis))


def _rear_element(p: np.void) -> float:
    """Temperature of the rear sensor's element behind an idling engine's catalyst, with its heater on. [K]"""
    behind = IDLE_GAS - 40.0
    return float(behind - 60.0 + p["heater_rise"] * (1.0 - behind / 1500.0))


def _put(state: NDArray[np.void], name: str, value: float) -> None:
    """Set a number of whichever part has it."""
    state[PART_OF[name]][name] = value


def _make_hot(state: NDArray[np.void], p: np.void) -> None:
    """An engine that has idled for ten minutes after a drive. What is only about right here settles within seconds."""
    ambient = p["ambient_temp"]
    for name in ("temp_coolant", "temp_metal", "temp_ect_body", "temp_oil", "ect_read", "ect_believed"):
        _put(state, name, p["thermostat_opens"] + IDLES_ABOVE)
    state["warm"]["temp_hood"] = ambient + 0.45 * (state["warm"]["temp_coolant"] - ambient)
    for name in ("temp_exhaust", "temp_pipe", "temp_catalyst", "temp_behind", "egt_1_body", "egt_2_body"):
        _put(state, name, IDLE_GAS if p["diesel"] < 0.5 else 520.0)
    state["warm"]["temp_front"] = 900.0 if p["heater_rise"] > 0.0 else 660.0
    state["warm"]["temp_rear"] = _rear_element(p)
    state["warm"]["temp_boss"] = 500.0
    state["gas"]["phis"] = 1.0
    state["crank"]["speed"] = p["idle_target"] * 2.0 * np.pi / 60.0
    state["wires"]["battery"] = BATTERY_CHARGED
    state["unit"]["running"] = 1.0
    state["unit"]["run_time"] = state["unit"]["warm_time"] = 600.0
    state["unit"]["soak_time"] = 0.0
    state["unit"]["since_cut"] = 60.0
    state["unit"]["sync_turns"] = 10.0
    state["mix"]["sensor_awake"] = 1.0
    if p["diesel"] < 0.5:
        state["air"]["p_manifold"] = state["unit"]["observer"] = state["raw"]["map_gas"] = state["known"][
            "map_believed"
        ] = 30e3
        state["pins"]["map_pin"] = 5.0 * (p["map_offset"] + p["map_gain"] * 30.0)
    # An idling engine of this size: about 1.1 g/s per litre at 700 rev/min.
    litres = float(p["displacement"]) * 1e3
    air = 1.1e-3 * litres * float(p["idle_target"]) / 700.0 * (1.0 if p["diesel"] < 0.5 else 3.0)
    state["air"]["air_flow"] = state["air"]["charge_flow"] = state["air"]["meter_flow"] = state["unit"][
        "air_estimate"
    ] = air
    # So little air hardly cools a thermometer that the engine warms.
    by_flow = air / (air + float(p["iat_half_flow"]))
    _put(state, "temp_iat_body", ambient + (1.0 - by_flow) * (float(state["warm"]["temp_hood"][0]) - ambient))
    _put(state, "iat_believed", float(state["warm"]["temp_iat_body"][0]))
    zero, full = float(p["meter_zero"]), float(p["meter_full_scale"])
    state["raw"]["meter_volts"] = (
        vane_voltage(air, float(p["ambient_pressure"]), float(p["ambient_temp"]), zero, full)
        if p["meter_vane"] > 0.5
        else meter_voltage(air, zero, meter_slope(zero, full))
    )
    state["known"]["maf_believed"] = state["unit"]["maf_smooth"] = air
    state["gas"]["phi_pipe_2"] = state["gas"]["phi_gas_2"] = state["mix"]["bank_fuel"] = 1.0
    state["gas"]["phi_pipe"] = state["gas"]["phi_gas"] = state["gas"]["phi_wide"] = 1.0
    state["gas"]["phi_behind"] = _held_behind(p)
    if p["rear_sensor"] > 0.5:
        state["cells"]["cell_rear"] = state["pins"]["rear_pin"] = p["rear_target"]
    state["fuel"]["film"] = state["unit"]["film_believed"] = 1.25e-5 * litres * float(p["film_time"]) / 0.22
    state["crank"]["burn"] = 7e-5 * litres
    state["turbo"]["turbo_speed"] = 1500.0
    state["fuel"]["rail_true"] = state["unit"]["rail_wanted"] = p["rail_low"]
    state["crank"]["burnt_share"] = 1.0 if p["diesel"] < 0.5 else 0.25
    state["unit"]["governor_integral"] = state["unit"]["plate_command"] = state["air"]["plate"] = (
        0.06 if p["governed"] > 0.5 else 0.0
    )
    state["hand"]["lever"] = p["idle_target"]
    state["unit"]["idle_integral"] = p["idle_air_base"] if p["diesel"] < 0.5 else 0.1
