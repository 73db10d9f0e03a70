"""The rig document: every number about an engine, its sensors and its control unit, with unit and allowed range.

The six shipped rigs are data files beside this module. All numbers in them are engineering choices made for the Hollerbach school's
invented engines; none is a real vehicle's. Field names are unique over all sections, since the simulator reads them from one record.
"""

from functools import cache
from importlib import resources
from typing import Annotated, Literal

import yaml
from pydantic import BaseModel, ConfigDict, Field, ValidationError, model_validator

from leitfaden_core.channels import CHANNELS
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
    idle_air_area: Positive  # m², effective, idle valve fully open
    filter_drop_full: Positive  # Pa over a clean filter at full_flow
    full_flow: Positive  # kg/s, rated air flow
    ve_const: Positive
    ve_lin: float  # per 1000 rev/min
    ve_quad: float
    ve_cub: float
    overlap_residual: NotNegative  # backflow through valve overlap, per rev/s⁻¹ of engine speed
    charge_heating: Share  # share of the step to coolant temperature that the charge takes at standstill


class FuelSystem(Section):
    """Rail, injectors and the film on the port walls."""

    injector_flow: Positive  # kg/s, one injector, held open at the nominal pressure difference
    injector_dead_time: NotNegative  # s at 14 V
    rail_drop: Positive  # Pa, nominal pressure difference over the injectors
    rail_referenced: bool  # True: the regulator follows manifold pressure
    injections_per_cycle: Annotated[int, Field(ge=1, le=2)]  # 2: bank-fired, half the fuel in each of two openings
    film_share: Share
    film_time: Positive  # s


class Exhaust(Section):
    """Pipe, catalyst and their temperatures."""

    exhaust_volume: Positive  # m³ from the valves to the front sensor
    exhaust_resistance: Positive  # Pa s²/(kg² K)
    exhaust_temp_base: Positive  # K
    exhaust_temp_rise: Positive  # K at exhaust_flow_ref
    exhaust_flow_ref: Positive  # kg/s
    catalyst_volume: Positive  # m³ of gas in catalyst and pipe up to the rear sensor
    catalyst_exchange: Positive  # kg/s at which a sound catalyst lets 1/e of an excess of oxygen through
    oxygen_store: Positive  # kg of oxygen in a sound catalyst
    mixture_spread: Annotated[float, Field(ge=0.001, le=0.05)]  # standard deviation of phi among cylinders and cycles


class Thermal(Section):
    """Heat of the engine and under the bonnet."""

    coolant_capacity: Positive  # J/K
    oil_capacity: Positive  # J/K
    radiator: Positive  # W/K at rest with the thermostat open
    thermostat_opens: Positive  # K


class AirflowMeter(Section):
    """Hot element: V² = zero² + slope·sqrt(flow) (King 1914), 4.7 V at full scale."""

    meter_zero: Positive  # V at no flow
    meter_full_scale: Positive  # kg/s at 4.7 V
    meter_lag: Positive  # s
    burn_off: bool  # whether the wire is glowed clean after key-off


class MapSensor(Section):
    """Manifold pressure sensor, ratiometric to the 5 V reference."""

    map_offset: Annotated[float, Field(ge=0, lt=0.5)]  # share of the reference at vacuum
    map_gain: Positive  # share of the reference per kPa
    map_lag: Positive  # s, hose and port


class OxygenSensors(Section):
    """Zirconia switching sensors before and behind the catalyst."""

    gas_lag: Positive  # s, protective cap and electrode
    cell_lag: Positive  # s
    heater_rise: NotNegative  # K of element temperature by the heater at rest; 0: unheated
    rear_sensor: bool  # whether there is one behind the catalyst
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
    iat_half_flow: Positive  # kg/s at which air flow and surroundings count alike


class Control(Section):
    """Calibration of the control unit."""

    idle_target: Positive  # rev/min, hot
    idle_cold_raise: NotNegative  # rev/min per K below 80 °C
    idle_air_base: Share  # share of the idle valve that a new unit starts from
    idle_ki: Positive  # 1/s per rev/min
    idle_kp: NotNegative  # per rev/min
    relay_step: Positive  # jump of the correction at a crossing
    relay_slope: Positive  # 1/s
    switch_voltage: Positive  # V
    rear_target: Positive  # V behind the catalyst
    wot_lambda: Annotated[float, Field(gt=0.7, le=1)]
    fuel_cut: bool  # whether fuel is cut on overrun
    cut_above: Positive  # rev/min, fuel cut on overrun
    cut_resume: Positive  # rev/min
    speed_limit: Positive  # rev/min


class Vehicle(Section):
    """How the vehicle is geared; it is driven on the roller bench."""

    cruise_speed: Positive  # rev/min at 80 km/h in the usual gear
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
    fuelling: Literal["airflow_metered", "speed_density"]
    trim_scale: Literal["percent", "count"] = "percent"
    engine: Engine
    air_path: AirPath
    fuel_system: FuelSystem
    exhaust: Exhaust
    thermal: Thermal
    airflow_meter: AirflowMeter | None = None
    map_sensor: MapSensor | None = None
    oxygen_sensors: OxygenSensors
    thermistors: Thermistors
    control: Control
    vehicle: Vehicle
    sensors: list[SensorPlace]

    @model_validator(mode="after")
    def _hangs_together(self) -> "Rig":
        if self.control.cut_resume >= self.control.cut_above:
            raise ValueError(
                f"control.cut_resume ({self.control.cut_resume:g} 1/min) must lie below control.cut_above ({self.control.cut_above:g} 1/min)"
            )
        if self.control.idle_target >= self.control.cut_resume:
            raise ValueError(
                f"control.idle_target ({self.control.idle_target:g} 1/min) must lie below control.cut_resume ({self.control.cut_resume:g} 1/min)"
            )
        if self.fuelling == "airflow_metered" and self.airflow_meter is None:
            raise ValueError("fuelling 'airflow_metered' needs the section airflow_meter")
        if self.fuelling == "speed_density" and self.map_sensor is None:
            raise ValueError("fuelling 'speed_density' needs the section map_sensor")
        if self.airflow_meter is not None and self.airflow_meter.meter_full_scale < self.air_path.full_flow:
            raise ValueError("airflow_meter.meter_full_scale must not lie below air_path.full_flow")
        if self.oxygen_sensors.heater_rise == 0 and any(sensor.id.endswith("_heater") for sensor in self.sensors):
            raise ValueError("sensors: a heater circuit is listed, but oxygen_sensors.heater_rise is 0")
        return self

    def numbers(self) -> dict[str, float]:
        """All numeric fields of all sections under their own names, for the simulator's parameter record."""
        found: dict[str, float] = {name: 0.0 for part in (AirflowMeter, MapSensor) for name in part.model_fields}
        # Filters need a time and a scale also where there is nothing to filter.
        found |= {"meter_lag": 0.025, "meter_full_scale": 1.0, "map_lag": 0.005, "map_gain": 0.0085}
        found["speed_density"] = float(self.fuelling == "speed_density")
        for section in type(self).model_fields:
            part = getattr(self, section)
            if isinstance(part, Section) and not isinstance(part, Vehicle):
                found |= {name: float(value) for name, value in part if isinstance(value, (int, float))}
        return found


def rig_channels(rig: Rig) -> list[str]:
    """Channels that exist on a rig: those that need no sensor, and those whose sensor it has."""
    there = {sensor.id for sensor in rig.sensors}
    return [channel.id for channel in CHANNELS.values() if not channel.needs or channel.needs in there]


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
