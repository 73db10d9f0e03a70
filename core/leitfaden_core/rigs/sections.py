"""The sections of a rig document: every number about an engine, its sensors and its control unit, with unit and allowed
range.

Field names are unique over all sections, since the simulator reads them from one record.
"""

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

Positive = Annotated[float, Field(gt=0)]
NotNegative = Annotated[float, Field(ge=0)]
Share = Annotated[float, Field(ge=0, le=1)]


class Section(BaseModel):
    """A part of a document: unknown fields are refused, so that a typing slip cannot pass as a default."""

    model_config = ConfigDict(extra="forbid", frozen=True)


class Engine(Section):
    """Geometry, friction and torque."""

    displacement: Positive  # m³
    cylinders: Annotated[int, Field(ge=1, le=12)]
    compression_ratio: Annotated[float, Field(gt=5, lt=25)]
    inertia: Positive  # kg m²
    lower_heating_value: Positive  # J/kg
    afr_stoich: Annotated[float, Field(gt=5, lt=20)]  # kg air per kg fuel
    indicated_efficiency: Annotated[float, Field(gt=0.1, lt=0.6)]
    friction_const: NotNegative  # Pa, friction mean effective pressure
    friction_lin: NotNegative  # Pa per 1000 rev/min
    friction_quad: NotNegative  # Pa per (1000 rev/min)²
    accessory_torque: NotNegative  # Nm
    rated_speed: Positive  # rev/min
    rated_torque: Positive  # Nm, about; scales the driver's foot
    torque_noise: NotNegative  # cycle-to-cycle standard deviation of torque, share
    starter_torque: Positive  # Nm at standstill
    starter_speed: Positive  # rad/s without load


class AirPath(Section):
    """From the inlet to the intake valves."""

    manifold_volume: Positive  # m³
    duct_volume: Positive  # m³ between meter and throttle
    throttle_area: Positive  # m², effective, fully open
    throttle_leak: NotNegative  # m², effective, plate closed
    filter_drop_full: Positive  # Pa over a clean filter at full_flow
    full_flow: Positive  # kg/s, rated air flow
    ve_const: Positive
    ve_lin: float  # per 1000 rev/min
    ve_quad: float
    ve_cub: float
    overlap_residual: NotNegative  # backflow through valve overlap, per rev/s⁻¹ of engine speed
    charge_heating: Share  # share of the step to coolant temperature that the charge takes at standstill


class FuelSystem(Section):
    """Petrol: rail, injectors and the film on the walls."""

    injector_flow: Positive  # kg/s, one injector, held open at the nominal pressure difference
    injector_dead_time: NotNegative  # s at 14 V
    rail_drop: Positive  # Pa, nominal pressure difference over the injectors
    rail_referenced: bool  # True: the regulator follows manifold pressure
    injections_per_cycle: Annotated[int, Field(ge=1, le=2)]  # 2: bank-fired, half the fuel in each of two openings
    injection_window: Annotated[
        float, Field(gt=90, le=720)
    ]  # ° crankshaft in which an injection must end; direct injection has few
    film_share: Share
    film_time: Positive  # s


class DieselFuel(Section):
    """Common rail and what the control unit asks of it: fuel by torque demand, limited by smoke."""

    fuel_full: Positive  # kg per stroke at full pedal
    smoke_lambda: Annotated[
        float, Field(gt=1, lt=2)
    ]  # fuel is limited so that the believed air is at least this share of its need
    rail_low: Positive  # Pa gauge, set value at no load and standstill
    rail_high: Positive  # Pa gauge, set value at full load and rated speed
    governor_kp: Positive  # share of full fuel per rev/min of idle error
    governor_ki: Positive  # share of full fuel per s and rev/min
    exhaust_heat_share: Share  # share of the fuel's energy that leaves with the exhaust


class Egr(Section):
    """Exhaust recirculation into the manifold: passage and valve."""

    egr_area: Positive  # m², effective, valve fully open
    egr_cooler: Share  # effectiveness of its cooler
    egr_lag: Positive  # s of the valve


class EgrByAir(Section):
    """Diesel: the control unit moves the valve until the fresh air is what it wants."""

    egr_gain: Positive  # 1/s of valve travel per share of full charge
    egr_air_base: Share  # wanted fresh air at no load, share of the full charge
    egr_air_rise: NotNegative  # rise of that with the share of full fuel
    egr_load_limit: Share  # share of full fuel above which the valve stays shut


class EgrByLoad(Section):
    """Petrol: recirculation warm and at part load.

    ``egr_drive`` says what moves the valve and what the control unit sees of it.
    """

    egr_drive: Literal[
        "electric", "ported_vacuum", "positive_back_pressure", "negative_back_pressure", "pressure_feedback"
    ]
    egr_wanted: Share  # share of the charge
    egr_load_low: Share  # calculated load from which it is wanted
    egr_load_high: Share  # and up to which
    egr_spring: NotNegative  # Pa of vacuum at which the diaphragm begins to lift
    egr_span: Positive  # Pa of vacuum from there to fully open
    egr_bleed: Positive  # Pa gauge in the exhaust at which half of the vacuum gets past the transducer's bleed
    egr_orifice: NotNegative  # m², effective, of the metering orifice (pressure_feedback)


class ParticleFilter(Section):
    """Diesel particulate filter: dp = linear·m·T + quadratic·m²·T."""

    filter_linear: Positive  # Pa s/(kg K)
    filter_quadratic: NotNegative  # Pa s²/(kg² K)


class Turbocharger(Section):
    """Compressor, turbine, shaft, charge cooler and what controls them."""

    wheel_radius: Positive  # m, compressor
    head_max: Positive  # isentropic head over half the tip speed squared, at no flow
    flow_max: Positive  # flow over inlet density, disc area and tip speed, at no head
    compressor_efficiency: Share
    passage_area: Positive  # m², effective, of the standing compressor
    shaft_inertia: Positive  # kg m²
    shaft_friction: NotNegative  # W s²
    turbine_area: Positive  # m², effective; with vanes: fully open
    turbine_area_shut: Positive  # m², vanes closed; same as turbine_area without vanes
    turbine_efficiency: Share
    turbine_volume: Positive  # m³ between valves and turbine
    wastegate_area: NotNegative  # m², effective, fully open; 0: none
    wastegate_spring: Positive  # Pa gauge in the actuator at which the gate begins to open
    wastegate_span: Positive  # Pa from there to fully open
    cooler_effectiveness: Share
    recirculation_area: NotNegative  # m², effective, of the compressor recirculation valve; 0: none
    recirculation_opens: Positive  # Pa over the throttle
    boost_target: Positive  # Pa absolute at full load
    boost_gain: Positive  # 1/s of duty or vane per bar of error


class Governor(Section):
    """Speed governor on the throttle; the driver's lever sets the speed."""

    governed_speed: Positive  # rev/min at full lever
    throttle_kp: Positive  # plate travel per rev/min
    throttle_ki: Positive  # plate travel per s and rev/min


class ExhaustHeat(Section):
    """Petrol: temperature of the exhaust at the manifold, base + rise·sqrt(flow/ref)."""

    exhaust_temp_base: Positive  # K
    exhaust_temp_rise: Positive  # K at exhaust_flow_ref
    exhaust_flow_ref: Positive  # kg/s


class Purge(Section):
    """Canister purge: the valve between canister and manifold, and what an ordinary canister gives."""

    purge_area: Positive  # m², effective, valve fully open
    purge_vapour: Share  # fuel share by mass of the gas


class SecondaryAir(Section):
    """A belt-driven pump that blows air into the exhaust ports while the engine is cold; then a valve diverts it."""

    pump_volume: Positive  # m³ of air per revolution of the crankshaft
    pump_until: Positive  # K of believed coolant at which the valve diverts the air


class Exhaust(Section):
    """The pipe, and how far the cylinders' gases differ in it."""

    exhaust_volume: Positive  # m³ from the valves to the front sensor
    exhaust_resistance: Positive  # Pa s²/(kg² K)
    mixture_spread: Annotated[float, Field(ge=0.001, le=0.05)]  # standard deviation of phi among cylinders and cycles


class Catalyst(Section):
    """Three-way catalyst with its oxygen store."""

    catalyst_volume: Positive  # m³ of gas in catalyst and pipe up to the rear sensor
    catalyst_exchange: Positive  # kg/s at which a sound catalyst lets 1/e of an excess of oxygen through
    oxygen_store: Positive  # kg of oxygen in a sound catalyst


class Thermal(Section):
    """Heat of the engine and under the bonnet."""

    coolant_capacity: Positive  # J/K
    oil_capacity: Positive  # J/K
    radiator: Positive  # W/K with the thermostat open; what part of it works depends on the air that passes
    fan_share: Share  # part of it that an engine-driven fan serves, with its speed; 0: driving wind and electric fan
    thermostat_opens: Positive  # K; air-cooled: of the air vane


class AirflowMeter(Section):
    """Hot element: V² = zero² + slope·sqrt(flow) (King 1914), 4.7 V at full scale."""

    meter_zero: Positive  # V at no flow
    meter_full_scale: Positive  # kg/s at 4.7 V
    meter_lag: Positive  # s
    burn_off: bool  # whether the wire is glowed clean after key-off
    meter_element: Literal["hot_element", "vane"] = "hot_element"
    meter_output: Literal["voltage", "frequency"] = "voltage"
    meter_own_ground: (
        bool  # True: the signal has a ground wire of its own; False: it is measured against the power ground
    )


class MapSensor(Section):
    """Manifold pressure sensor, ratiometric to the 5 V reference."""

    map_offset: Annotated[float, Field(ge=0, lt=0.5)]  # share of the reference at vacuum
    map_gain: Positive  # share of the reference per kPa
    map_lag: Positive  # s, hose and port
    map_changeover: bool = False  # True: a valve lets the sensor sample the surrounding air now and then


class ChargeSensor(Section):
    """Charge pressure sensor, ratiometric to the 5 V reference."""

    charge_offset: Annotated[float, Field(ge=0, lt=0.5)]  # share of the reference at vacuum
    charge_gain: Positive  # share of the reference per kPa
    charge_place: Literal["charge_pipe", "manifold"]


class AmbientSensor(Section):
    """Barometric pressure sensor, ratiometric to the 5 V reference."""

    ambient_offset: Annotated[float, Field(ge=0, lt=0.5)]  # share of the reference at vacuum
    ambient_gain: Positive  # share of the reference per kPa
    ambient_place: Literal["control_unit", "clean_air_pipe", "bonnet"]


class OxygenSensors(Section):
    """Zirconia sensors before and behind the catalyst: where they sit and how fast they are."""

    gas_lag: Positive  # s, protective cap and electrode
    cell_lag: Positive  # s
    heater_rise: NotNegative  # K of element temperature by the heater at rest; 0: unheated
    heated_time: Positive  # s, first-order
    unheated_time: Positive  # s
    heater_delay: NotNegative = 0.0  # s after the start, until condensed water has left the pipe
    heater_hold: NotNegative = 0.0  # K of the element that a modulated heater holds; 0: not modulated
    bias_voltage: Annotated[float, Field(ge=0, le=1)]  # V that the control unit puts on the line
    bias_resistance: Positive  # ohm


class Thermistors(Section):
    """NTC elements: R = R25·exp(B·(1/T − 1/298.15)), pulled up to 5 V in the control unit."""

    ntc_r25: Positive  # ohm
    ntc_b: Positive  # K
    ntc_pull_up: Positive  # ohm
    ntc_pull_up_hot: NotNegative = 0.0  # ohm, parallel to it for a warm coolant sensor (two-range input); 0: one range
    ntc_switch: Positive = 323.15  # K of the coolant at which the input changes its range
    ect_lag: Positive  # s in flowing coolant
    iat_lag: Positive  # s in plenty of flow
    iat_half_flow: Positive  # kg/s at which air flow and surroundings count alike


class Wiring(Section):
    """What all 5 V sensors share, and the inputs of the control unit."""

    reference_ohms: Positive  # of the 5 V regulator and its wire
    sensor_ohms: Positive  # that a 5 V sensor's supply current amounts to
    signal_pull: Literal["down", "up"]  # whether the control unit pulls its signal inputs to ground or to 5 V
    signal_pull_ohms: Positive
    # other small consumers on the engine ground eyelet, running (besides starter, alternator and airflow meter)
    ground_load_ohms: Positive


class Control(Section):
    """Speeds that the control unit holds and watches."""

    idle_target: Positive  # rev/min, hot
    idle_cold_raise: NotNegative  # rev/min per K below 80 °C
    distributor: bool = False  # True: base ignition timing is set by turning the distributor
    electronic_throttle: (
        bool  # True: the plate follows the control unit and gives the idle air too; False: a cable and an idle valve
    )
    fuel_cut: bool  # whether fuel is cut on overrun
    cut_above: Positive  # rev/min, fuel cut on overrun
    cut_resume: Positive  # rev/min
    speed_limit: Positive  # rev/min


class Idle(Section):
    """Idle control by air and spark."""

    idle_air_area: Positive  # m², effective, idle valve fully open (or that much more throttle)
    idle_air_base: Share  # share of it that a new unit starts from
    idle_ki: Positive  # 1/s per rev/min
    idle_kp: NotNegative  # per rev/min


class Mixture(Section):
    """Mixture control by the front oxygen sensor. ``loop`` says how it follows it."""

    loop: Literal["switching", "wideband", "target_voltage"]
    relay_step: NotNegative  # jump of the correction at a crossing (switching)
    relay_slope: (
        Positive  # 1/s (switching); share per second and volt (target_voltage) or per second and lambda (wideband)
    )
    switch_voltage: Positive  # V of the crossing, or the target
    base_lambda: Annotated[float, Field(gt=0.9, le=1)]  # that the open loop aims at
    rear_target: Positive  # V behind the catalyst
    wot_lambda: Annotated[float, Field(gt=0.7, le=1)]


class Vehicle(Section):
    """How the vehicle is geared; it is driven on the roller bench."""

    cruise_speed: Positive  # rev/min at 80 km/h in the usual gear, or the governed speed of working
    cruise_load: Share  # brake torque then, share of rated torque
    pull_ratio: Annotated[
        float, Field(gt=0, le=1)
    ]  # road speed of the pulling gear over that of the usual gear, at one engine speed


class SensorPlace(Section):
    """A sensor on this rig and where it sits along the way of the air."""

    id: str
    term: str  # SAE J1930
    name: str
    family: Literal["oxygen", "airflow", "pressure", "temperature", "position", "fuelling"]
    place: str
    channels: list[str]
