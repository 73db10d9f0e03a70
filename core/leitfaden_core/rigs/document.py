"""The rig document: every number about an engine, its sensors and its control unit, with unit and allowed range.

The six shipped rigs are data files beside this module. All numbers in them are engineering choices made for the Hollerbach school's
invented engines; none is a real vehicle's. Field names are unique over all sections, since the simulator reads them from one record.
"""

from collections.abc import Iterator
from functools import cache
from importlib import resources
from typing import Annotated, Literal

import yaml
from pydantic import BaseModel, ConfigDict, Field, ValidationError, model_validator

from leitfaden_core.channels import CHANNELS, channel
from leitfaden_core.errors import BadDocument, UnknownName

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
    injection_window: Annotated[float, Field(gt=90, le=720)]  # ° crankshaft in which an injection must end; direct injection has few
    film_share: Share
    film_time: Positive  # s


class DieselFuel(Section):
    """Common rail and what the control unit asks of it: fuel by torque demand, limited by smoke."""

    fuel_full: Positive  # kg per stroke at full pedal
    smoke_lambda: Annotated[float, Field(gt=1, lt=2)]  # fuel is limited so that the believed air is at least this share of its need
    rail_low: Positive  # Pa gauge, set value at no load and standstill
    rail_high: Positive  # Pa gauge, set value at full load and rated speed
    governor_kp: Positive  # share of full fuel per rev/min of idle error
    governor_ki: Positive  # share of full fuel per s and rev/min
    exhaust_heat_share: Share  # share of the fuel's energy that leaves with the exhaust


class Egr(Section):
    """Cooled exhaust recirculation into the manifold; the control unit moves the valve until the fresh air is what it wants."""

    egr_area: Positive  # m², effective, valve fully open
    egr_cooler: Share  # effectiveness of its cooler
    egr_lag: Positive  # s of the valve
    egr_gain: Positive  # 1/s of valve travel per share of full charge
    egr_air_base: Share  # wanted fresh air at no load, share of the full charge
    egr_air_rise: NotNegative  # rise of that with the share of full fuel
    egr_load_limit: Share  # share of full fuel above which the valve stays shut


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
    meter_own_ground: bool  # True: the signal has a ground wire of its own; False: it is measured against the power ground


class MapSensor(Section):
    """Manifold pressure sensor, ratiometric to the 5 V reference."""

    map_offset: Annotated[float, Field(ge=0, lt=0.5)]  # share of the reference at vacuum
    map_gain: Positive  # share of the reference per kPa
    map_lag: Positive  # s, hose and port


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
    bias_voltage: Annotated[float, Field(ge=0, le=1)]  # V that the control unit puts on the line
    bias_resistance: Positive  # ohm


class Thermistors(Section):
    """NTC elements: R = R25·exp(B·(1/T − 1/298.15)), pulled up to 5 V in the control unit."""

    ntc_r25: Positive  # ohm
    ntc_b: Positive  # K
    ntc_pull_up: Positive  # ohm
    ect_lag: Positive  # s in flowing coolant
    iat_lag: Positive  # s in plenty of flow
    iat_half_flow: Positive  # kg/s at which air flow and surroundings count alike


class Wiring(Section):
    """What all 5 V sensors share, and the inputs of the control unit."""

    reference_ohms: Positive  # of the 5 V regulator and its wire
    sensor_ohms: Positive  # that a 5 V sensor's supply current amounts to
    signal_pull: Literal["down", "up"]  # whether the control unit pulls its signal inputs to ground or to 5 V
    signal_pull_ohms: Positive
    ground_load_ohms: (
        Positive  # other small consumers on the engine ground eyelet, running (starter and ignition have a strap of their own)
    )


class Control(Section):
    """Speeds that the control unit holds and watches."""

    idle_target: Positive  # rev/min, hot
    idle_cold_raise: NotNegative  # rev/min per K below 80 °C
    electronic_throttle: bool  # True: the plate follows the control unit and gives the idle air too; False: a cable and an idle valve
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
    relay_slope: Positive  # 1/s (switching); share per second and volt (target_voltage) or per second and lambda (wideband)
    switch_voltage: Positive  # V of the crossing, or the target
    base_lambda: Annotated[float, Field(gt=0.9, le=1)]  # that the open loop aims at
    rear_target: Positive  # V behind the catalyst
    wot_lambda: Annotated[float, Field(gt=0.7, le=1)]


class Vehicle(Section):
    """How the vehicle is geared; it is driven on the roller bench."""

    cruise_speed: Positive  # rev/min at 80 km/h in the usual gear, or the governed speed of working
    cruise_load: Share  # brake torque then, share of rated torque
    pull_ratio: Annotated[float, Field(gt=0, le=1)]  # road speed of the pulling gear over that of the usual gear, at one engine speed


class SensorPlace(Section):
    """A sensor on this rig and where it sits along the way of the air."""

    id: str
    term: str  # SAE J1930
    name: str
    family: Literal["oxygen", "airflow", "pressure", "temperature", "position", "fuelling"]
    place: str
    channels: list[str]


class Rig(Section):
    """An engine as the simulator needs it. Contradictions are refused with the place that is wrong."""

    schema_version: Literal[1]
    id: Annotated[str, Field(pattern=r"^[A-Z][A-Z0-9_-]{0,15}$")]
    name: str
    description: str
    fuelling: Literal["airflow_metered", "speed_density", "torque_demand"]
    trim_scale: Literal["percent", "count"] | None = "percent"
    engine: Engine
    air_path: AirPath
    fuel_system: FuelSystem | None = None
    diesel_fuel: DieselFuel | None = None
    egr: Egr | None = None
    particle_filter: ParticleFilter | None = None
    turbocharger: Turbocharger | None = None
    governor: Governor | None = None
    exhaust: Exhaust
    exhaust_heat: ExhaustHeat | None = None
    catalyst: Catalyst | None = None
    thermal: Thermal
    airflow_meter: AirflowMeter | None = None
    map_sensor: MapSensor | None = None
    charge_sensor: ChargeSensor | None = None
    ambient_sensor: AmbientSensor | None = None
    oxygen_sensors: OxygenSensors | None = None
    thermistors: Thermistors
    wiring: Wiring
    control: Control
    idle: Idle | None = None
    mixture: Mixture | None = None
    vehicle: Vehicle
    sensors: list[SensorPlace]

    @property
    def features(self) -> frozenset[str]:
        """What channels and faults may ask for: ids of the sensors, and properties of the engine."""
        there = {sensor.id for sensor in self.sensors}
        present = {
            "trims": self.mixture is not None,
            "two_tracks": self.control.electronic_throttle,
            "spark": self.idle is not None or self.governor is not None,
            "throttle": self.fuelling != "torque_demand",
            "idle_valve": self.idle is not None and not self.control.electronic_throttle,
            "petrol_rail": self.fuel_system is not None and self.turbocharger is None,
            "petrol": self.fuel_system is not None,
            "diesel": self.diesel_fuel is not None,
            "turbo": self.turbocharger is not None,
            "wastegate": self.turbocharger is not None and self.turbocharger.wastegate_area > 0,
            "vanes": self.turbocharger is not None and self.turbocharger.turbine_area_shut < self.turbocharger.turbine_area,
            "recirculation_valve": self.turbocharger is not None and self.turbocharger.recirculation_area > 0,
            "egr": self.egr is not None,
            "dpf": self.particle_filter is not None,
            "catalyst": self.catalyst is not None,
            "burn_off": self.airflow_meter is not None and self.airflow_meter.burn_off,
            "fuel_cut": self.control.fuel_cut,
            "heated_front": self.oxygen_sensors is not None and self.oxygen_sensors.heater_rise > 0 and "ho2s_b1s1" in there,
            "unheated_front": self.oxygen_sensors is not None and self.oxygen_sensors.heater_rise == 0,
            "front_heater": self.oxygen_sensors is not None
            and self.oxygen_sensors.heater_rise > 0
            and bool({"ho2s_b1s1", "wideband"} & there),
            "switching_front": self.mixture is not None and self.mixture.loop == "switching",
            "three_pressures": {"map", "charge", "baro"} <= there,
            "two_pressures": {"charge", "baro"} <= there and "map" not in there,
            "ambient_wire": self.ambient_sensor is not None and self.ambient_sensor.ambient_place != "control_unit",
        }
        return frozenset(there | {name for name, is_there in present.items() if is_there})

    @model_validator(mode="after")
    def _hangs_together(self) -> "Rig":
        for problem in _contradictions(self):
            raise ValueError(problem)
        return self

    def numbers(self) -> dict[str, float]:
        """All numeric fields of all sections under their own names, for the simulator's parameter record.

        Every rig has the same names, so that one compiled step serves all: what a rig lacks is 0, or a number that does nothing.
        """
        found = dict.fromkeys(_OPTIONAL_FIELDS, 0.0) | _HARMLESS
        found["speed_density"] = float(self.fuelling == "speed_density")
        found["diesel"] = float(self.diesel_fuel is not None)
        found["charged"] = float(self.turbocharger is not None)
        found["governed"] = float(self.governor is not None)
        found["wideband"] = float("wideband" in self.features)
        found["narrow_front"] = float("ho2s_b1s1" in self.features)
        found["rear_sensor"] = float("ho2s_b1s2" in self.features)
        found["has_egr"] = float(self.egr is not None)
        found["has_catalyst"] = float(self.catalyst is not None)
        found["target_loop"] = float(self.mixture is not None and self.mixture.loop == "target_voltage")
        found["charge_in_pipe"] = float(self.charge_sensor is not None and self.charge_sensor.charge_place == "charge_pipe")
        found["ambient_in_pipe"] = float(self.ambient_sensor is not None and self.ambient_sensor.ambient_place == "clean_air_pipe")
        found["ambient_on_reference"] = float(self.ambient_sensor is not None and self.ambient_sensor.ambient_place != "control_unit")
        five_volt = {"map", "charge", "tp", "rail", "dpf_dp", "egr"} | ({"baro"} if found["ambient_on_reference"] else set())
        found["five_volt_sensors"] = float(len(five_volt & {sensor.id for sensor in self.sensors}))
        found["pull_to"] = 5.0 if self.wiring.signal_pull == "up" else 0.0
        found["has_ambient"] = float(self.ambient_sensor is not None)
        for section in type(self).model_fields:
            part = getattr(self, section)
            if isinstance(part, Section) and not isinstance(part, Vehicle):
                found |= {name: float(value) for name, value in part if isinstance(value, (int, float))}
        return found


#: Sections that not every rig has, and the numbers that stand in for them where a formula still divides by one.
_OPTIONAL: tuple[type[Section], ...] = (
    *(FuelSystem, DieselFuel, ExhaustHeat, Egr, ParticleFilter, Turbocharger, Governor, Catalyst, AirflowMeter, MapSensor, ChargeSensor),
    *(AmbientSensor, OxygenSensors, Idle, Mixture),
)
_OPTIONAL_FIELDS = [
    name for part in _OPTIONAL for name, entry in part.model_fields.items() if name not in {"loop", "charge_place", "ambient_place"}
]
_HARMLESS = {
    "meter_lag": 0.025,
    "meter_full_scale": 1.0,
    "map_lag": 0.005,
    "map_gain": 0.0085,
    "charge_gain": 0.0028,
    "ambient_gain": 0.0085,
    "gas_lag": 0.06,
    "cell_lag": 0.025,
    "heated_time": 9.0,
    "unheated_time": 18.0,
    "bias_resistance": 1e5,
    "rail_drop": 3e5,
    "injector_flow": 1e-3,
    "injections_per_cycle": 1.0,
    "film_time": 0.2,
    "injection_window": 720.0,
    "egr_lag": 0.1,
    "shaft_inertia": 1e-5,
    "turbine_volume": 1e-3,
    "wastegate_span": 1e4,
    "base_lambda": 1.0,
    "exhaust_flow_ref": 0.1,
    "exhaust_temp_base": 640.0,
    "catalyst_volume": 1e-3,
    "catalyst_exchange": 0.1,
    "oxygen_store": 1e-3,
    "wot_lambda": 1.0,
}


def _contradictions(rig: Rig) -> Iterator[str]:
    """What does not fit together, in the order of the document."""
    control, there = rig.control, {sensor.id for sensor in rig.sensors}
    if control.cut_resume >= control.cut_above:
        yield f"control.cut_resume ({control.cut_resume:g} 1/min) must lie below control.cut_above ({control.cut_above:g} 1/min)"
    if control.fuel_cut and control.idle_target >= control.cut_resume:
        yield f"control.idle_target ({control.idle_target:g} 1/min) must lie below control.cut_resume ({control.cut_resume:g} 1/min)"
    diesel = rig.fuelling == "torque_demand"
    for name, needed in (("diesel_fuel", diesel), ("fuel_system", not diesel), ("mixture", not diesel), ("exhaust_heat", not diesel)):
        if (getattr(rig, name) is not None) != needed:
            yield f"fuelling '{rig.fuelling}' {'needs' if needed else 'has no use for'} the section {name}"
    if (rig.idle is None) == (rig.governor is None) and not diesel:
        yield "a petrol engine needs exactly one of the sections idle and governor"
    if rig.fuelling != "speed_density" and rig.airflow_meter is None:
        yield f"fuelling '{rig.fuelling}' needs the section airflow_meter"
    if rig.fuelling == "speed_density" and rig.map_sensor is None:
        yield "fuelling 'speed_density' needs the section map_sensor"
    if (rig.trim_scale is None) != (rig.mixture is None):
        yield "trim_scale belongs to an engine with closed-loop mixture control, and only to it"
    if rig.airflow_meter is not None and rig.airflow_meter.meter_full_scale < rig.air_path.full_flow:
        yield "airflow_meter.meter_full_scale must not lie below air_path.full_flow"
    if rig.mixture is not None and (rig.mixture.loop == "wideband") != ("wideband" in there):
        yield "mixture.loop 'wideband' and a sensor 'wideband' belong together"
    if rig.mixture is not None and not {"wideband", "ho2s_b1s1"} & there:
        yield "sensors: closed-loop mixture control needs a front oxygen sensor"
    if "ho2s_b1s2" in there and rig.catalyst is None:
        yield "sensors: an oxygen sensor behind the catalyst needs the section catalyst"
    if rig.turbocharger is not None and rig.turbocharger.turbine_area_shut > rig.turbocharger.turbine_area:
        yield "turbocharger.turbine_area_shut must not lie above turbocharger.turbine_area"
    if rig.egr is not None and "egr" not in there:
        yield "section egr needs a sensor 'egr' for the position of its valve"
    for section, sensor in (("airflow_meter", "maf"), ("map_sensor", "map"), ("charge_sensor", "charge"), ("particle_filter", "dpf_dp")):
        if (getattr(rig, section) is not None) != (sensor in there):
            yield f"section {section} and sensor '{sensor}' belong together"
    if rig.oxygen_sensors is not None and rig.oxygen_sensors.heater_rise == 0 and "wideband" in there:
        yield "oxygen_sensors.heater_rise is 0, but a wideband sensor works only with its heater"
    for place in rig.sensors:
        for channel_id in place.channels:
            if channel_id not in CHANNELS:
                yield f"sensors: '{place.id}' shows the unknown channel '{channel_id}'"


def rig_channels(rig: Rig) -> list[str]:
    """Channels that exist on a rig: those that need no sensor, and those whose sensor it has."""
    return [entry.id for entry in CHANNELS.values() if not entry.needs or entry.needs in rig.features]


def parse_rig(text: str, source: str = "rig document") -> Rig:
    """A rig from YAML text; BadDocument names the first wrong field."""
    try:
        return Rig.model_validate(yaml.safe_load(text))
    except yaml.YAMLError as error:
        raise BadDocument(f"{source} is not readable as YAML: {str(error).splitlines()[0]}") from error
    except ValidationError as error:
        first = error.errors()[0]
        place = ".".join(str(part) for part in first["loc"]) or "document"
        raise BadDocument(f"{source}, {place}: {first['msg']}", place=place) from error


def shown_quantity(rig: Rig, channel_id: str) -> str:
    """The quantity in which a rig's tool shows a channel: trims of an older control unit stand around 128 counts."""
    quantity = channel(channel_id).quantity
    return "trim_count" if quantity == "trim" and rig.trim_scale == "count" else quantity


def rig_ids() -> list[str]:
    """Ids of the rigs that ship with the product."""
    return sorted(
        path.name.removesuffix(".yaml") for path in resources.files(__package__).joinpath("data").iterdir() if path.name.endswith(".yaml")
    )


@cache
def load_rig(rig_id: str) -> Rig:
    """A shipped rig by its id."""
    if rig_id not in rig_ids():
        raise UnknownName("rig", rig_id, rig_ids())
    path = resources.files(__package__).joinpath("data", f"{rig_id}.yaml")
    return parse_rig(path.read_text(encoding="utf-8"), source=f"rig {rig_id}")
