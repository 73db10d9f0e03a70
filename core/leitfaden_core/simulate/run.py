"""One run: initial state, learned memory, the compiled step, lanes and their statistics."""

from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.channels import channel
from leitfaden_core.compiled import uncollected
from leitfaden_core.engine.battery import KEY_ON_AMPS, USUAL_CHARGE, terminal_voltage
from leitfaden_core.faults import FaultSpec
from leitfaden_core.rigs import Rig, load_rig, rig_channels
from leitfaden_core.scripts import CONDITIONS, Script, load_script
from leitfaden_core.sensors.airflow import meter_slope, meter_voltage, vane_voltage
from leitfaden_core.simulate.layout import FRAME, HOOK, HOOKS, LANES, LTFT_CELLS, STATE, TRANSPORT_SLOTS
from leitfaden_core.simulate.limits import BATTERY_CHARGED
from leitfaden_core.simulate.plan import Plan, make_plan
from leitfaden_core.simulate.step import run_frames

#: Channels whose switching rate is of interest, with the voltage of the crossing.
SWITCHING = {f"ho2s_{place}_{layer}": 0.45 for place in ("b1s1", "b1s2", "b2s1") for layer in ("v", "pin_v")}
#: Dead band around the crossing, so that noise on a slow edge does not count.
CROSSING_BAND = 0.05
#: A learned memory has settled when another round of driving moves no cell by more than this.
SETTLED_WITHIN = 0.005
SETTLE_ROUNDS = 4


@dataclass(frozen=True)
class Run:
    """What a run recorded: one row of lanes every 10 ms, script and rig it came from, the learned memory at its start."""

    rig: Rig
    script: Script
    faults: tuple[FaultSpec, ...]
    seed: int
    lanes: NDArray[np.void]
    memory: NDArray[np.float64]

    @property
    def time(self) -> NDArray[np.float64]:
        """Time of each row. [s]"""
        return np.asarray((np.arange(len(self.lanes)) + 1) * FRAME, dtype=np.float64)

    def rows(self, span: tuple[float, float]) -> NDArray[np.void]:
        """Rows of lanes within a span of script time."""
        return self.lanes[round(span[0] / FRAME) : round(span[1] / FRAME)]

    def statistic(self, condition: str, channel_id: str, stat: str) -> float:
        """A statistic of a channel in a condition; NaN where the channel is not defined there."""
        rows = self.rows(self.script.span(condition, stat))
        return _statistic(rows[channel_id].astype(np.float64), channel_id, stat)

    def summary(self) -> dict[str, dict[str, dict[str, float | str | None]]]:
        """Per condition and channel: unit, layer, mean, min, max, std and, where it switches, freq."""
        table: dict[str, dict[str, dict[str, float | str | None]]] = {}
        for condition in self.script.conditions():
            table[condition] = {}
            for name in rig_channels(self.rig):
                entry = channel(name)
                stats = {stat: self.statistic(condition, name, stat) for stat in ("mean", "min", "max", "std")}
                frequency = self.statistic(condition, name, "freq") if name in SWITCHING else None
                values = {key: None if np.isnan(value) else round(value, 5) for key, value in stats.items()}
                table[condition][name] = {
                    "unit": _unit(entry.quantity),
                    "layer": str(entry.layer),
                    **values,
                    "freq": None if frequency is None else round(frequency, 4),
                }
        return table


def _unit(quantity: str) -> str:
    from leitfaden_core.quantities import QUANTITIES

    return QUANTITIES[quantity].kept


_MOMENTS: dict[str, Callable[[NDArray[np.float64]], Any]] = {"mean": np.mean, "min": np.min, "max": np.max, "std": np.std}


def _statistic(values: NDArray[np.float64], channel_id: str, stat: str) -> float:
    values = values[~np.isnan(values)]
    if values.size == 0:
        return float("nan")
    if stat == "freq":
        return rising_crossings(values, SWITCHING.get(channel_id, 0.45)) / (len(values) * FRAME)
    return float(_MOMENTS[stat](values))


def rising_crossings(values: NDArray[np.float64], level: float, band: float = CROSSING_BAND) -> int:
    """How often a signal rises through a level, counted with a dead band on either side of it."""
    state = np.zeros(len(values), dtype=np.int8)
    state[values > level + band] = 1
    state[values < level - band] = -1
    settled = state[state != 0]
    return int(np.count_nonzero((settled[1:] == 1) & (settled[:-1] == -1)))


def steady_statistics(run: Run, channels: list[str]) -> dict[str, dict[str, dict[str, float]]]:
    """mean, min, max and freq of some channels in all conditions of a run, as plain numbers (NaN where not defined)."""
    return {
        condition: {
            name: {
                stat: run.statistic(condition, name, stat)
                for stat in (("mean", "min", "max", "freq") if name in SWITCHING else ("mean", "min", "max"))
            }
            for name in channels
        }
        for condition in run.script.conditions()
        if condition in CONDITIONS
    }


def simulate(
    rig: Rig,
    script: Script,
    faults: list[FaultSpec],
    seed: int = 0,
    individual: dict[str, float] | None = None,
    cold_memory: bool = False,
    learned_with: list[FaultSpec] | None = None,
) -> Run:
    """Run a rig with faults along a script.

    Parameters
    ----------
    faults : list of FaultSpec
        Checked here; LeitfadenError says what is wrong with one.
    seed : int
        Same seed, rig, script and faults give the same numbers.
    individual : dict, optional
        Deviations of this engine from its rig.
    cold_memory : bool
        True: start with unlearned trims instead of those that some days of driving with the faults have left.
    learned_with : list of FaultSpec, optional
        Start with the trims that other faults have left: the drive after a repair, in which they find back.
    """
    before = faults if learned_with is None else learned_with
    memory = np.zeros(2 * LTFT_CELLS) if cold_memory else settle_memory(rig, before, seed, individual)
    plan = make_plan(rig, script, faults, seed, individual)
    lanes = run_plan(plan, memory.copy())
    return Run(rig, script, tuple(faults), seed, lanes, memory)


def settle_memory(rig: Rig, faults: list[FaultSpec], seed: int, individual: dict[str, float] | None) -> NDArray[np.float64]:
    """Long-term trims after some days of driving with these faults, one per cell. [-]"""
    own = tuple(sorted((individual or {}).items()))
    return _settle(rig.model_dump_json(), tuple(fault.model_dump_json() for fault in faults), seed, own).copy()


@lru_cache(maxsize=256)
def _settle(document: str, faults: tuple[str, ...], seed: int, individual: tuple[tuple[str, float], ...]) -> NDArray[np.float64]:
    specs = [FaultSpec.model_validate_json(fault) for fault in faults]
    plan = make_plan(Rig.model_validate_json(document), load_script("settle_memory"), specs, seed, dict(individual))
    memory = np.zeros(2 * LTFT_CELLS)
    for _ in range(SETTLE_ROUNDS):
        before = memory.copy()
        run_plan(plan, memory)
        if np.max(np.abs(memory - before)) < SETTLED_WITHIN:
            break
    return memory


def run_plan(plan: Plan, memory: NDArray[np.float64]) -> NDArray[np.void]:
    """Run the compiled step over a plan; ``memory`` (the long-term trims) is changed in place."""
    hooks = np.array(list(HOOKS.values()))
    sound = hooks.copy()
    state = initial_state(plan)
    lanes = np.zeros(len(plan.inputs), dtype=LANES)
    state["ltft"] = memory
    run_frames(
        plan.params,
        state[0],
        hooks.view(HOOK)[0],
        hooks,
        sound,
        plan.effects,
        plan.present,
        plan.inputs,
        np.uint64(plan.seed),
        lanes,
    )
    memory[:] = state[0]["ltft"]
    return lanes


#: What has the temperature and the pressure of the surroundings after a night.
_COLD = (
    *("temp_coolant", "temp_oil", "temp_hood", "temp_iat_body", "temp_ect_body", "temp_exhaust", "temp_catalyst", "temp_front"),
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


def initial_state(plan: Plan) -> NDArray[np.void]:
    """State after a night's soak, or of a hot engine that idles."""
    p = plan.params
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
    if plan.script.start == "hot":
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


def warm_up_compiler() -> None:
    """Compile, or load from the cache, everything that a request would call: a short run of the first rig."""
    with uncollected():
        simulate(load_rig("R1"), load_script("settle_memory"), [], 0, cold_memory=True)


@lru_cache(maxsize=12)
def _cached(document: str, script: str, faults: tuple[str, ...], seed: int, individual: tuple[tuple[str, float], ...]) -> Run:
    specs = [FaultSpec.model_validate_json(fault) for fault in faults]
    return simulate(Rig.model_validate_json(document), Script.model_validate_json(script), specs, seed, dict(individual))


def cached_run(rig: Rig, script: Script, faults: list[FaultSpec], seed: int = 0, individual: dict[str, float] | None = None) -> Run:
    """:func:`simulate`, remembering the last runs: editors and players ask for the same one many times."""
    own = tuple(sorted((individual or {}).items()))
    return _cached(rig.model_dump_json(), script.model_dump_json(), tuple(fault.model_dump_json() for fault in faults), seed, own)
