"""Supplies, grounds and wires between sensor and control unit."""

from typing import Any

from leitfaden_core.compiled import inlined
from leitfaden_core.engine.battery import (
    CAPACITY,
    CHARGE_KEPT,
    CHARGING_COOLS,
    CHARGING_VOLTS,
    FAN_AMPS,
    KEY_ON_AMPS,
    RUNNING_AMPS,
    USUAL_CHARGE,
    WARM,
    charging,
    inner_ohms,
    open_voltage,
    starter_amps,
)
from leitfaden_core.sensors.airflow import heater_current, meter_slope
from leitfaden_core.sensors.temperature import PTC_PULL_UP, believed_resistance, ptc_temperature
from leitfaden_core.simulate.lag import covered
from leitfaden_core.simulate.layout import FRAME
from leitfaden_core.simulate.limits import RELAY_HOLD, RPM
from leitfaden_core.wiring.node import (
    CIRCUIT_OPEN,
    CIRCUIT_REVERSED,
    CIRCUIT_SWAPPED,
    OPEN_SIEMENS,
    PRESSURE_OUTPUT,
    REFERENCE_VOLTS,
    SENSOR_OUTPUT,
    STRAY_OHMS,
    pin_line,
    pin_voltage,
    rails,
    reference_at_unit,
)

#: Numbers of supplies, and wires as lines.
WIRES = (
    "battery",
    "battery_charge",
    "battery_amps",
    "source",
    "inner",
    "eyelet",
    "starter_amps",
    "alternator_amps",
    "block_amps",
    "rail_5v",
    "rail_ground",
    "rail_seen",
    "block_lift",
    "maf_supply",
    "maf_wire",
    "maf_wire_base",
    "maf_undivided",
    "map_wire",
    "map_wire_base",
    "charge_wire",
    "charge_wire_base",
    "front_wire",
    "front_wire_base",
    "front2_wire",
    "front2_wire_base",
    "rear_wire",
    "rear_wire_base",
)

#: Numbers of voltages at the control unit.
PINS = (
    "map_pin",
    "charge_pin",
    "ambient_pin",
    "rail_pin",
    "dpf_pin",
    "egr_pin",
    "egr_dp_pin",
    "app_pin",
    "app2_pin",
    "tp_volts",
    "tp2_volts",
    "iat_volts",
    "ect_volts",
    "front_pin",
    "front2_pin",
    "rear_pin",
    "maf_pin",
    "pump_current",
)


@inlined
def supplies(
    p: Any,
    crank: Any,
    air: Any,
    warm: Any,
    raw: Any,
    wires: Any,
    unit: Any,
    h: Any,
    key: float,
    time_lapse: float,
    consumers: float,
) -> None:
    """Battery, shared reference and grounds, one frame."""
    # All that sits on the engine returns over one strap, and beside it over whatever else ties block and body together.
    strap = h.ohms_engine_ground + (1.0 / OPEN_SIEMENS if h.circuit_engine_ground == CIRCUIT_OPEN else 0.0)
    wires.eyelet = strap * STRAY_OHMS / (strap + STRAY_OHMS)
    load = p.ground_load_ohms if unit.running > 0.5 else 4.0 * p.ground_load_ohms
    meter_amps = heater_current(air.meter_flow, p.meter_full_scale) if p.meter_zero > 0.0 else 0.0
    block = wires.battery / load + meter_amps
    battery(p, crank, warm, wires, unit, h, key, block, consumers, FRAME * time_lapse)
    # The alternator draws its current out of the block, the starter and the rest send theirs into it.
    wires.block_amps = wires.starter_amps - wires.alternator_amps
    wires.block_lift = (block + wires.block_amps) * wires.eyelet
    if unit.off_time > RELAY_HOLD:
        wires.rail_5v = wires.rail_ground = wires.rail_seen = 0.0
        return
    thermistors = 1.0 / (p.ntc_pull_up + raw.iat_ohms) + 1.0 / (raw.ect_pull_up + raw.ect_ohms)
    if p.diesel > 0.5:
        thermistors += 1.0 / (PTC_PULL_UP + raw.egt_1_ohms) + 1.0 / (PTC_PULL_UP + raw.egt_2_ohms)
    wires.rail_5v, wires.rail_ground = rails(
        p.five_volt_sensors,
        p.sensor_ohms,
        thermistors,
        p.reference_ohms + h.ohms_reference,
        h.circuit_reference,
        h.reference_held,
        h.ohms_sensor_ground,
        h.circuit_sensor_ground,
    )
    wires.rail_seen = reference_at_unit(
        wires.rail_5v, p.reference_ohms, h.ohms_reference, h.circuit_reference, h.reference_held
    )


@inlined
def battery(
    p: Any,
    crank: Any,
    warm: Any,
    wires: Any,
    unit: Any,
    h: Any,
    key: float,
    block: float,
    consumers: float,
    elapsed: float,
) -> None:
    """Voltage and charge of the battery, one frame in which this much time goes by [s]; ``block`` is the current of
    what returns over the engine, ``consumers`` that of what the driver has switched on. [A]
    """
    left = max(wires.battery_charge - h.battery_drained, 0.0)
    source, inner = open_voltage(left), inner_ohms(left, p.ambient_temp, p.starter_torque)
    wires.starter_amps = wires.alternator_amps = 0.0
    if unit.running > 0.5:
        held = CHARGING_VOLTS + p.charging_trim_v - CHARGING_COOLS * (warm.temp_hood - WARM)
        house = RUNNING_AMPS + FAN_AMPS * warm.fan + consumers
        volts, wires.alternator_amps = charging(
            source, inner, wires.eyelet, 0.0 if h.charging_lost > 0.5 else held, house, block, crank.speed * RPM
        )
        drawn = house + block - wires.alternator_amps
        wires.battery += FRAME / 0.3 * (volts - wires.battery)
    else:
        drawn = KEY_ON_AMPS + consumers if key > 0.5 or unit.off_time < RELAY_HOLD else 0.0
        drawn -= p.charger_amps
        wires.source, wires.inner = source - inner * drawn, inner
        if key > 1.5:
            wires.starter_amps = starter_amps(
                wires.source, inner, wires.eyelet, p.starter_torque, crank.speed / p.starter_speed
            )
            drawn += wires.starter_amps
            wires.battery = source - inner * drawn
        else:
            wires.battery += FRAME / 0.5 * (source - inner * drawn - wires.battery)
    wires.battery_amps = drawn
    # What flows in is stored but for what gasses, until the battery is as full as it usually is.
    moved = drawn * (CHARGE_KEPT if drawn < 0.0 else 1.0) * elapsed / (3600.0 * CAPACITY)
    full = max(wires.battery_charge, USUAL_CHARGE)
    wires.battery_charge = min(max(wires.battery_charge - moved, 0.0), full)


@inlined
def thermistor_pin(p: Any, wires: Any, unit: Any, element: float, pull_up: float, circuit: float, ohms: float) -> float:
    """Voltage at the pin of a thermistor input: pulled up in the control unit, ``element`` ohms to the shared sensor
    ground. [V]
    """
    if unit.off_time > RELAY_HOLD:
        return 0.0
    # Without its ground wire the current finds its way only through the other sensors: no more than the pull-up is
    # left.
    return pin_voltage(wires.rail_ground, element, REFERENCE_VOLTS, pull_up, circuit, ohms, wires.battery)


@inlined
def five_volt_pin(p: Any, wires: Any, share: float, circuit: float, ohms: float) -> float:
    """Voltage at the pin of a ratiometric 5 V sensor that gives ``share`` of its own supply above its own ground.

    [V]
    """
    slope, base = five_volt_line(p, wires, circuit, ohms)
    return slope * min(max(share, 0.0), 1.0) + base


@inlined
def five_volt_line(p: Any, wires: Any, circuit: float, ohms: float) -> tuple[float, float]:
    """That voltage as a line in the share, which holds as long as supplies and wires stay as they are. [V], [V]"""
    if circuit == CIRCUIT_SWAPPED:
        # The signal wire hangs on the sensor's ground pin, and its supply current finds no other way out.
        return 0.0, pin_voltage(
            wires.rail_5v, p.sensor_ohms, p.pull_to, p.signal_pull_ohms, circuit, ohms, wires.battery
        )
    slope, base = pin_line(PRESSURE_OUTPUT, p.pull_to, p.signal_pull_ohms, circuit, ohms, wires.battery)
    if circuit == CIRCUIT_REVERSED:
        return slope * (wires.rail_ground - wires.rail_5v), base + slope * wires.rail_5v
    return slope * (wires.rail_5v - wires.rail_ground), base + slope * wires.rail_ground


@inlined
def exhaust_thermometer(wires: Any, element: float, circuit: float, ohms: float) -> float:
    """What the control unit reads from a resistance thermometer in the exhaust. [K]"""
    volts = pin_voltage(wires.rail_ground, element, REFERENCE_VOLTS, PTC_PULL_UP, circuit, ohms, wires.battery)
    return ptc_temperature(believed_resistance(min(volts, 4.999), PTC_PULL_UP, REFERENCE_VOLTS))


@inlined
def fast_wires(p: Any, cells: Any, raw: Any, wires: Any, h: Any, front_ohms: float, rear_ohms: float) -> None:
    """Lags and wires of the sensors that are read at every step, as they are in this frame."""
    if p.speed_density > 0.5 or p.map_helps > 0.5:
        raw.share_map = covered(p.map_lag + h.map_hose_lag)
        wires.map_wire, wires.map_wire_base = five_volt_line(p, wires, h.circuit_map, h.ohms_map)
    if p.speed_density < 0.5:
        raw.share_meter = covered(p.meter_lag)
        raw.meter_slope = meter_slope(p.meter_zero, p.meter_full_scale)
        wires.maf_wire, wires.maf_wire_base = pin_line(
            SENSOR_OUTPUT, p.pull_to, p.signal_pull_ohms, h.circuit_maf, h.ohms_maf, wires.battery
        )
        # The control unit knows what its own pull-down takes from a sound sensor's voltage.
        wires.maf_undivided = 1.0 + SENSOR_OUTPUT / p.signal_pull_ohms
    if p.charged > 0.5:
        wires.charge_wire, wires.charge_wire_base = five_volt_line(p, wires, h.circuit_charge, h.ohms_charge)
    cells.front_ohms = front_ohms if h.front_stuck < 0.0 else 100.0
    cells.rear_ohms = rear_ohms
    wires.front_wire, wires.front_wire_base = pin_line(
        cells.front_ohms, p.bias_voltage, p.bias_resistance, h.circuit_front, h.ohms_front, wires.battery
    )
    wires.front2_wire, wires.front2_wire_base = pin_line(
        front_ohms, p.bias_voltage, p.bias_resistance, h.circuit_front2, h.ohms_front2, wires.battery
    )
    wires.rear_wire, wires.rear_wire_base = pin_line(
        cells.rear_ohms, p.bias_voltage, p.bias_resistance, h.circuit_rear, h.ohms_rear, wires.battery
    )
