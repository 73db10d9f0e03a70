"""The rig document: an engine, its sensors and its control unit, made of :mod:`leitfaden_core.rigs.sections`.

The six shipped rigs are data files beside this module, and so are training variants of them, which say only what is
different. All numbers in them are engineering choices made for the Hollerbach school's invented engines; none is a real
vehicle's.
"""

import hashlib
from collections.abc import Iterator
from functools import cache, cached_property
from importlib import resources
from typing import Annotated, Any, Literal

import yaml
from pydantic import Field, ValidationError, model_validator

from leitfaden_core.channels import CHANNELS, channel
from leitfaden_core.errors import BadDocument, UnknownName
from leitfaden_core.rigs.sections import (
    AirflowMeter,
    AirPath,
    AmbientSensor,
    Catalyst,
    ChargeSensor,
    Control,
    DieselFuel,
    Egr,
    EgrByAir,
    EgrByLoad,
    Engine,
    Exhaust,
    ExhaustHeat,
    FuelSystem,
    Governor,
    Idle,
    MapSensor,
    Mixture,
    OxygenSensors,
    ParticleFilter,
    Purge,
    SecondaryAir,
    Section,
    SensorPlace,
    Thermal,
    Thermistors,
    Turbocharger,
    Vehicle,
    Wiring,
)
from leitfaden_core.validation import first_wrong
from leitfaden_core.words import say


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
    egr_by_air: EgrByAir | None = None
    egr_by_load: EgrByLoad | None = None
    particle_filter: ParticleFilter | None = None
    turbocharger: Turbocharger | None = None
    purge: Purge | None = None
    secondary_air: SecondaryAir | None = None
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
    code_meanings: dict[
        Annotated[str, Field(pattern=r"^[PUBC][0-9A-F]{4}$")], str
    ] = {}  # where this control unit means its own by a number
    sensors: list[SensorPlace]

    @cached_property
    def digest(self) -> str:
        """A name for exactly these numbers: what is computed for a rig is kept under it."""
        return hashlib.sha256(self.model_dump_json().encode()).hexdigest()[:16]

    def __hash__(self) -> int:
        return hash(self.digest)

    @cached_property
    def features(self) -> frozenset[str]:
        """What channels and faults may ask for: ids of the sensors, and properties of the engine."""
        there = {sensor.id for sensor in self.sensors}
        present = {
            "trims": self.mixture is not None,
            "water_cooled": self.thermal.fan_share < 1.0,
            "two_tracks": self.control.electronic_throttle,
            "spark": self.idle is not None or self.governor is not None,
            "throttle": self.fuelling != "torque_demand",
            "idle_valve": self.idle is not None and not self.control.electronic_throttle,
            "petrol_rail": self.fuel_system is not None and self.turbocharger is None,
            "petrol": self.fuel_system is not None,
            **{
                f"petrol_cylinder_{number}": self.fuel_system is not None and number <= self.engine.cylinders
                for number in range(1, 9)
            },
            "diesel": self.diesel_fuel is not None,
            "turbo": self.turbocharger is not None,
            "wastegate": self.turbocharger is not None and self.turbocharger.wastegate_area > 0,
            "vanes": self.turbocharger is not None
            and self.turbocharger.turbine_area_shut < self.turbocharger.turbine_area,
            "recirculation_valve": self.turbocharger is not None and self.turbocharger.recirculation_area > 0,
            "purge": self.purge is not None,
            "secondary_air": self.secondary_air is not None,
            "governor": self.governor is not None,
            "egr": self.egr is not None,
            "egr_sensor": "egr" in there,
            "egr_by_air": self.egr_by_air is not None,
            "egr_vacuum": self.egr_by_load is not None
            and self.egr_by_load.egr_drive not in {"electric", "pressure_feedback"},
            "two_banks": "ho2s_b2s1" in there,
            "distributor": self.control.distributor,
            "egr_and_map": {"egr", "map"} <= there,
            "meter_and_map": {"maf", "map"} <= there,
            "map_alone": "map" in there and not {"maf", "charge"} & there,
            "changeover": self.map_sensor is not None and self.map_sensor.map_changeover,
            "meter_frequency": self.airflow_meter is not None and self.airflow_meter.meter_output == "frequency",
            "dpf": self.particle_filter is not None,
            "catalyst": self.catalyst is not None,
            "burn_off": self.airflow_meter is not None and self.airflow_meter.burn_off,
            "fuel_cut": self.control.fuel_cut,
            "front_oxygen": bool({"ho2s_b1s1", "wideband"} & there),
            "heated_front": self.oxygen_sensors is not None
            and self.oxygen_sensors.heater_rise > 0
            and "ho2s_b1s1" in there,
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

        Every rig has the same names, so that one compiled step serves all: what a rig lacks is 0, or a number that does
        nothing.
        """
        found = dict.fromkeys(_OPTIONAL_FIELDS, 0.0) | _HARMLESS
        found["speed_density"] = float(self.fuelling == "speed_density")
        found["map_helps"] = float(self.fuelling != "speed_density" and self.map_sensor is not None)
        found["diesel"] = float(self.diesel_fuel is not None)
        found["charged"] = float(self.turbocharger is not None)
        found["governed"] = float(self.governor is not None)
        found["wideband"] = float("wideband" in self.features)
        found["two_banks"] = float("two_banks" in self.features)
        found["narrow_front"] = float("ho2s_b1s1" in self.features)
        found["rear_sensor"] = float("ho2s_b1s2" in self.features)
        found["has_egr"] = float(self.egr is not None)
        found["egr_sensor"] = float("egr" in self.features)
        found["egr_drive"] = (
            float(EGR_DRIVES.index(self.egr_by_load.egr_drive)) if self.egr_by_load is not None else -1.0
        )
        found["pedal_sensor"] = float("app" in self.features)
        found["meter_vane"] = float(self.airflow_meter is not None and self.airflow_meter.meter_element == "vane")
        found["meter_frequency"] = float("meter_frequency" in self.features)
        found["has_catalyst"] = float(self.catalyst is not None)
        found["target_loop"] = float(self.mixture is not None and self.mixture.loop == "target_voltage")
        found["charge_in_pipe"] = float(
            self.charge_sensor is not None and self.charge_sensor.charge_place == "charge_pipe"
        )
        found["ambient_in_pipe"] = float(
            self.ambient_sensor is not None and self.ambient_sensor.ambient_place == "clean_air_pipe"
        )
        found["ambient_on_reference"] = float(
            self.ambient_sensor is not None and self.ambient_sensor.ambient_place != "control_unit"
        )
        five_volt = FIVE_VOLT - (set() if found["ambient_on_reference"] else {"baro"})
        found["five_volt_sensors"] = float(len(five_volt & {sensor.id for sensor in self.sensors}))
        found["pull_to"] = 5.0 if self.wiring.signal_pull == "up" else 0.0
        found["has_ambient"] = float(self.ambient_sensor is not None)
        for section in type(self).model_fields:
            part = getattr(self, section)
            if isinstance(part, Section) and not isinstance(part, Vehicle):
                found |= {name: float(value) for name, value in part if isinstance(value, (int, float))}
        return found


#: Sensors that the 5 V reference supplies; a barometric one only where it is not inside the control unit.
FIVE_VOLT = frozenset({"map", "charge", "baro", "tp", "app", "rail", "dpf_dp", "egr", "egr_dp"})
#: What may move a petrol engine's EGR valve; the simulator knows them by their number.
EGR_DRIVES = ("electric", "ported_vacuum", "positive_back_pressure", "negative_back_pressure", "pressure_feedback")

#: Sections that not every rig has, and the numbers that stand in for them where a formula still divides by one.
_OPTIONAL: tuple[type[Section], ...] = (
    *(
        FuelSystem,
        DieselFuel,
        ExhaustHeat,
        Egr,
        EgrByAir,
        EgrByLoad,
        ParticleFilter,
        Turbocharger,
        Purge,
        SecondaryAir,
        Governor,
        Catalyst,
        AirflowMeter,
        MapSensor,
        ChargeSensor,
    ),
    *(AmbientSensor, OxygenSensors, Idle, Mixture),
)
_OPTIONAL_FIELDS = [
    name
    for part in _OPTIONAL
    for name, entry in part.model_fields.items()
    if name not in {"loop", "charge_place", "ambient_place", "egr_drive", "meter_element", "meter_output"}
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
    "egr_span": 1e4,
    "egr_bleed": 1e3,
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
        yield say(
            "control.cut_resume ({cut_resume:g} 1/min) must lie below control.cut_above ({cut_above:g} 1/min)",
            cut_resume=control.cut_resume,
            cut_above=control.cut_above,
        )
    if control.fuel_cut and control.idle_target >= control.cut_resume:
        yield say(
            "control.idle_target ({idle_target:g} 1/min) must lie below control.cut_resume ({cut_resume:g} 1/min)",
            idle_target=control.idle_target,
            cut_resume=control.cut_resume,
        )
    diesel = rig.fuelling == "torque_demand"
    for name, needed in (
        ("diesel_fuel", diesel),
        ("fuel_system", not diesel),
        ("mixture", not diesel),
        ("exhaust_heat", not diesel),
    ):
        if (getattr(rig, name) is not None) != needed:
            yield say(
                "fuelling '{fuelling}' {value} the section {name}",
                fuelling=rig.fuelling,
                value="needs" if needed else "has no use for",
                name=name,
            )
    if (rig.idle is None) == (rig.governor is None) and not diesel:
        yield "a petrol engine needs exactly one of the sections idle and governor"
    if rig.fuelling != "speed_density" and rig.airflow_meter is None:
        yield say("fuelling '{fuelling}' needs the section airflow_meter", fuelling=rig.fuelling)
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
    if "ho2s_b2s1" in there and ("ho2s_b1s1" not in there or rig.mixture is None or rig.mixture.loop != "switching"):
        yield "sensors: 'ho2s_b2s1' needs 'ho2s_b1s1' and mixture.loop 'switching'"
    if "ho2s_b1s2" in there and rig.catalyst is None:
        yield "sensors: an oxygen sensor behind the catalyst needs the section catalyst"
    if rig.turbocharger is not None and rig.turbocharger.turbine_area_shut > rig.turbocharger.turbine_area:
        yield "turbocharger.turbine_area_shut must not lie above turbocharger.turbine_area"
    if rig.secondary_air is not None and rig.mixture is None:
        yield "section secondary_air needs closed-loop mixture control: there is no sensor before which it could blow"
    if rig.purge is not None and (rig.mixture is None or rig.governor is not None):
        yield "section purge needs closed-loop mixture control and an idle of its own (no governor)"
    yield from _recirculation_contradictions(rig, there)
    for section, sensor in (
        ("airflow_meter", "maf"),
        ("map_sensor", "map"),
        ("charge_sensor", "charge"),
        ("particle_filter", "dpf_dp"),
    ):
        if (getattr(rig, section) is not None) != (sensor in there):
            yield say("section {section} and sensor '{sensor}' belong together", section=section, sensor=sensor)
    if rig.oxygen_sensors is not None and rig.oxygen_sensors.heater_rise == 0 and "wideband" in there:
        yield "oxygen_sensors.heater_rise is 0, but a wideband sensor works only with its heater"
    for place in rig.sensors:
        for channel_id in place.channels:
            if channel_id not in CHANNELS:
                yield say(
                    "sensors: '{id}' shows the unknown channel '{channel_id}'", id=place.id, channel_id=channel_id
                )


def _recirculation_contradictions(rig: Rig, there: set[str]) -> Iterator[str]:
    if (rig.egr is not None) != (rig.egr_by_air is not None or rig.egr_by_load is not None):
        yield "section egr needs one of the sections egr_by_air (diesel) and egr_by_load (petrol), and they need it"
    if rig.egr_by_air is not None and (rig.fuelling != "torque_demand" or "egr" not in there):
        yield "section egr_by_air belongs to fuelling 'torque_demand' and a sensor 'egr' for the position of the valve"
    if rig.egr_by_load is not None and rig.fuelling == "torque_demand":
        yield "section egr_by_load belongs to a petrol engine"
    drive = rig.egr_by_load.egr_drive if rig.egr_by_load is not None else ""
    if (drive == "electric" or rig.egr_by_air is not None) != ("egr" in there):
        yield "sensors: a position sensor 'egr' belongs to an electric EGR valve, and only to it"
    if (drive == "pressure_feedback") != ("egr_dp" in there):
        yield "egr_by_load.egr_drive 'pressure_feedback' and a sensor 'egr_dp' belong together"
    if rig.egr_by_load is not None and drive == "pressure_feedback" and rig.egr_by_load.egr_orifice == 0:
        yield "egr_by_load.egr_orifice must be above 0 for 'pressure_feedback'"


def rig_channels(rig: Rig) -> list[str]:
    """Channels that exist on a rig: those that need no sensor, and those whose sensor it has."""
    return [entry.id for entry in CHANNELS.values() if not entry.needs or entry.needs in rig.features]


def parse_rig(text: str, source: str = "rig document") -> Rig:
    """A rig from YAML text; BadDocument names the first wrong field."""
    try:
        return Rig.model_validate(yaml.load(text, yaml.CSafeLoader))
    except yaml.YAMLError as error:
        raise BadDocument(
            say("{source} is not readable as YAML: {splitlines}", source=source, splitlines=str(error).splitlines()[0])
        ) from error
    except ValidationError as error:
        place, sentence = first_wrong(error)
        raise BadDocument(f"{source}, {place or 'document'}: {sentence}", place=place or "document") from error


def shown_quantity(rig: Rig, channel_id: str) -> str:
    """The quantity in which a rig's tool shows a channel: trims of an older control unit stand around 128 counts."""
    quantity = channel(channel_id).quantity
    return "trim_count" if quantity == "trim" and rig.trim_scale == "count" else quantity


def rig_ids() -> list[str]:
    """Ids of the rigs that ship with the product."""
    return list(_ids_in("data"))


def variant_ids() -> list[str]:
    """Ids of the training variants: a shipped rig with other equipment."""
    return list(_ids_in("variants"))


@cache
def _ids_in(folder: str) -> tuple[str, ...]:
    files = resources.files(__package__).joinpath(folder).iterdir()
    return tuple(sorted(file.name.removesuffix(".yaml") for file in files if file.name.endswith(".yaml")))


def is_shipped(rig: Rig) -> bool:
    """Whether a rig is exactly one that ships, so that what ships for it holds."""
    return rig.id in rig_ids() and rig.digest == load_rig(rig.id).digest


@cache
def load_rig(rig_id: str) -> Rig:
    """A shipped rig or a variant of one by its id."""
    if rig_id in variant_ids():
        return _variant(rig_id)
    if rig_id not in rig_ids():
        raise UnknownName("rig", rig_id, [*rig_ids(), *variant_ids()])
    path = resources.files(__package__).joinpath("data", f"{rig_id}.yaml")
    return parse_rig(path.read_text(encoding="utf-8"), source=say("rig {rig_id}", rig_id=rig_id))


def base_of(rig_id: str) -> str:
    """The rig that a variant extends; any other is its own base."""
    return str(_changes(rig_id)["extends"]) if rig_id in variant_ids() else rig_id


@cache
def _changes(rig_id: str) -> dict[str, Any]:
    """What a variant says of itself."""
    text = resources.files(__package__).joinpath("variants", f"{rig_id}.yaml").read_text(encoding="utf-8")
    return dict(yaml.load(text, yaml.CSafeLoader))


def _variant(rig_id: str) -> Rig:
    """A variant: the rig that it extends, with some sections changed, sensors left out and sensors put in behind
    another one.
    """
    told = _changes(rig_id)
    document = load_rig(told["extends"]).model_dump()
    document |= {name: told[name] for name in ("id", "name", "description", "fuelling") if name in told}
    for section, fields in told.get("change", {}).items():
        document[section] = (document[section] or {}) | fields
    sensors = [sensor for sensor in document["sensors"] if sensor["id"] not in told.get("without_sensors", [])]
    for sensor in told.get("sensors", []):
        at = [known["id"] for known in sensors].index(sensor["behind"]) + 1
        sensors.insert(at, {name: value for name, value in sensor.items() if name != "behind"})
    return parse_rig(yaml.safe_dump(document | {"sensors": sensors}), source=say("variant {rig_id}", rig_id=rig_id))
