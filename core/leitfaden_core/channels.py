"""The catalogue of channels: every quantity that can be drawn, read or judged, with its layer.

Three layers are always kept apart: ``truth`` is in the engine, ``pin`` is the voltage at the control unit's pin,
``scan`` is what the control unit believes and a scan tool shows. ``measurand`` ties the layers of one thing together.
``step`` is the resolution of SAE J1979 for scan values and of a workshop meter for pins. What is special about a channel
stands here and nowhere else.
"""

from dataclasses import dataclass
from enum import StrEnum
from typing import Any, Literal

from leitfaden_core.errors import UnknownName


class Layer(StrEnum):
    """Where a value lives."""

    TRUTH = "truth"
    PIN = "pin"
    SCAN = "scan"


#: What must hold for a reading to mean something.
Ask = Literal["running", "closed_loop", "sensor_awake", "soaked", "loads_off"]
#: Data lists of a scan tool that offer a channel: what SAE J1979 names, and the maker's own list with its gaps.
GENERIC, ENHANCED, BOTH = ("generic",), ("enhanced",), ("generic", "enhanced")


@dataclass(frozen=True, kw_only=True)
class Channel:
    """One channel: id, what it means, its quantity (see quantities), layer, family (colour and grouping) and display
    resolution.

    ``swings``: a signal that is never at its mean; it switches at SWITCHES_AT, or the control unit swings it a little
    on purpose. ``imposed``: where a hand or the rollers hold it, it says nothing. ``slow``: means something while the
    engine warms up. ``stands_in``: the status that tells when the control unit shows a value of its own making, since
    it has lost the sensor.
    """

    id: str
    label: str
    quantity: str
    layer: Layer
    family: str
    measurand: str
    step: float
    meaning: str
    needs: str = ""  # sensor or feature that a rig must have for this channel to exist (see Rig.features)
    swings: Literal["", "switching", "forced"] = ""
    asks: tuple[Ask, ...] = ()
    imposed: bool = False
    slow: bool = False
    menus: tuple[str, ...] = ()
    stands_in: str = ""

    @property
    def is_trim(self) -> bool:
        """Judged by the school's rule, since its limits are convention."""
        return self.quantity == "trim"


#: Voltage at which a switching oxygen sensor crosses from lean to rich. [V]
SWITCHES_AT = 0.45


_ROW = ("id", "label", "quantity", "family", "measurand", "step", "meaning")


def _scan(*row: Any, **traits: Any) -> Channel:
    return Channel(layer=Layer.SCAN, **dict(zip(_ROW, row, strict=True)), **({"menus": ENHANCED} | traits))


def _truth(*row: Any, **traits: Any) -> Channel:
    return Channel(layer=Layer.TRUTH, **dict(zip(_ROW, row, strict=True)), **traits)


def _pin(id: str, label: str, family: str, measurand: str, meaning: str, **traits: Any) -> Channel:
    row = (id, label, traits.pop("quantity", "voltage"), family, measurand, traits.pop("step", 0.01), meaning)
    return Channel(layer=Layer.PIN, **dict(zip(_ROW, row, strict=True)), **traits)


CHANNELS: dict[str, Channel] = {
    channel.id: channel
    for channel in (
        _scan(
            "rpm",
            "Engine speed",
            "speed",
            "position",
            "speed",
            0.25,
            "engine speed",
            asks=("loads_off",),
            imposed=True,
            menus=BOTH,
        ),
        _truth("rpm_true", "Engine speed", "speed", "position", "speed", 0.25, "speed of the crankshaft", imposed=True),
        _scan(
            "throttle",
            "Throttle position",
            "percent",
            "position",
            "throttle",
            0.4,
            "throttle plate position, 0 closed, 100 fully open",
            needs="tp",
            menus=BOTH,
        ),
        _pin("tp_volts", "TP signal", "position", "throttle", "throttle position signal", needs="tp", menus=ENHANCED),
        _pin(
            "tp2_volts",
            "TP second track",
            "position",
            "throttle",
            "second track of the throttle position sensor, falling",
            needs="two_tracks",
            menus=ENHANCED,
        ),
        _truth(
            "throttle_true",
            "Throttle plate",
            "percent",
            "position",
            "throttle",
            0.1,
            "true position of the throttle plate",
            needs="throttle",
        ),
        _scan(
            "baro",
            "BARO",
            "pressure_abs",
            "pressure",
            "baro",
            1.0,
            "barometric pressure as believed",
            slow=True,
            menus=GENERIC,
            stands_in="baro_substituted",
        ),
        _pin(
            "baro_volts",
            "BARO signal",
            "pressure",
            "baro",
            "signal of the barometric pressure sensor",
            needs="baro",
            menus=ENHANCED,
        ),
        _truth(
            "baro_true",
            "Barometric pressure",
            "pressure_abs",
            "pressure",
            "baro",
            0.1,
            "pressure of the surrounding air",
            slow=True,
        ),
        _scan(
            "map",
            "MAP",
            "pressure_abs",
            "pressure",
            "map",
            1.0,
            "manifold absolute pressure as believed",
            needs="map",
            asks=("loads_off",),
            menus=BOTH,
            stands_in="map_substituted",
        ),
        _pin("map_volts", "MAP signal", "pressure", "map", "MAP signal", needs="map", menus=ENHANCED),
        _truth(
            "map_true",
            "Manifold pressure",
            "pressure_abs",
            "pressure",
            "map",
            0.1,
            "manifold absolute pressure",
            needs="throttle",
        ),
        _truth(
            "inlet_true",
            "Clean-air pipe",
            "pressure_abs",
            "pressure",
            "baro",
            0.1,
            "pressure behind the air filter",
            needs="turbo",
        ),
        _scan(
            "charge_pressure",
            "Charge pressure",
            "pressure_abs",
            "pressure",
            "charge",
            1.0,
            "absolute pressure of the charge as believed",
            needs="charge",
            menus=BOTH,
        ),
        _pin(
            "charge_volts",
            "Charge pressure signal",
            "pressure",
            "charge",
            "charge pressure signal",
            needs="charge",
            menus=ENHANCED,
        ),
        _truth(
            "charge_true",
            "Charge pressure",
            "pressure_abs",
            "pressure",
            "charge",
            0.1,
            "pressure at the charge sensor",
            needs="charge",
        ),
        _scan(
            "wastegate_duty",
            "Wastegate duty",
            "percent",
            "pressure",
            "boost_control",
            0.4,
            "duty of the wastegate solenoid, more = more charge",
            needs="wastegate",
        ),
        _scan(
            "app",
            "Accelerator pedal",
            "percent",
            "position",
            "app",
            0.4,
            "accelerator pedal position as believed",
            needs="app",
            menus=BOTH,
            stands_in="app_substituted",
        ),
        _pin(
            "app_volts",
            "APP first track",
            "position",
            "app",
            "first track of the accelerator pedal sensor",
            needs="app",
            menus=ENHANCED,
        ),
        _pin(
            "app2_volts",
            "APP second track",
            "position",
            "app",
            "second track, always half of the first",
            needs="app",
            menus=ENHANCED,
        ),
        _truth(
            "pedal_true",
            "Pedal",
            "percent",
            "position",
            "app",
            0.1,
            "true position of the accelerator pedal",
            needs="app",
        ),
        _scan(
            "egr_position",
            "EGR position",
            "percent",
            "airflow",
            "egr",
            0.4,
            "EGR valve position, 0 closed",
            needs="egr_sensor",
        ),
        _pin(
            "egr_volts",
            "EGR position signal",
            "airflow",
            "egr",
            "EGR position signal",
            needs="egr_sensor",
            menus=ENHANCED,
        ),
        _scan(
            "egr_dp",
            "EGR pressure drop",
            "pressure_diff",
            "airflow",
            "egr_dp",
            0.1,
            "pressure drop over the metering orifice as believed",
            needs="egr_dp",
        ),
        _pin(
            "egr_dp_volts",
            "EGR pressure drop signal",
            "airflow",
            "egr_dp",
            "EGR differential pressure signal",
            needs="egr_dp",
            menus=ENHANCED,
        ),
        _truth(
            "egr_share_true",
            "EGR share",
            "percent",
            "airflow",
            "egr_share",
            0.1,
            "share of exhaust in the charge",
            needs="egr",
        ),
        _truth(
            "egr_true", "EGR valve", "percent", "airflow", "egr", 0.1, "true position of the EGR valve", needs="egr"
        ),
        _scan(
            "rail_pressure",
            "Rail pressure",
            "pressure_rail",
            "fuelling",
            "rail",
            0.01,
            "fuel rail gauge pressure as believed",
            needs="rail",
            menus=BOTH,
            stands_in="rail_substituted",
        ),
        _pin(
            "rail_volts",
            "Rail pressure signal",
            "fuelling",
            "rail",
            "fuel rail pressure signal",
            needs="rail",
            menus=ENHANCED,
        ),
        _truth(
            "rail_true",
            "Fuel in the rail",
            "pressure_rail",
            "fuelling",
            "rail",
            0.01,
            "true gauge pressure in the fuel rail",
            needs="rail",
        ),
        _scan(
            "dpf_dp",
            "Filter pressure drop",
            "pressure_diff",
            "pressure",
            "dpf_dp",
            0.1,
            "differential pressure over the particulate filter as believed",
            needs="dpf_dp",
            menus=BOTH,
        ),
        _pin(
            "dpf_dp_volts",
            "Filter pressure drop signal",
            "pressure",
            "dpf_dp",
            "differential pressure signal",
            needs="dpf_dp",
            menus=ENHANCED,
        ),
        _truth(
            "dpf_dp_true",
            "Drop over the filter",
            "pressure_diff",
            "pressure",
            "dpf_dp",
            0.1,
            "true drop over the particulate filter",
            needs="dpf_dp",
        ),
        _scan(
            "egt_1",
            "EGT 1",
            "temperature",
            "temperature",
            "egt_1",
            1.0,
            "exhaust temperature before the turbine as believed",
            needs="egt_1",
            asks=("soaked",),
            menus=BOTH,
        ),
        _truth(
            "egt_1_true",
            "Exhaust before the turbine",
            "temperature",
            "temperature",
            "egt_1",
            1.0,
            "exhaust gas before the turbine",
            needs="egt_1",
        ),
        _scan(
            "egt_2",
            "EGT 2",
            "temperature",
            "temperature",
            "egt_2",
            1.0,
            "exhaust temperature before the particulate filter as believed",
            needs="egt_2",
            asks=("soaked",),
            menus=BOTH,
        ),
        _truth(
            "egt_2_true",
            "Exhaust before the filter",
            "temperature",
            "temperature",
            "egt_2",
            1.0,
            "exhaust gas before the particulate filter",
            needs="egt_2",
        ),
        _scan(
            "lambda_wideband",
            "Lambda 1/1",
            "lambda",
            "oxygen",
            "wideband",
            0.001,
            "lambda as believed from the wideband sensor",
            needs="wideband",
            swings="forced",
            asks=(
                "closed_loop",
                "sensor_awake",
            ),
            menus=BOTH,
        ),
        _pin(
            "pump_current",
            "Pump current 1/1",
            "oxygen",
            "wideband",
            "wideband pump current; 0 at lambda 1, positive when lean",
            quantity="current_ma",
            needs="wideband",
            swings="forced",
            asks=("sensor_awake",),
        ),
        _scan(
            "equivalence",
            "Equivalence ratio 1/1",
            "ratio",
            "oxygen",
            "equivalence",
            0.001,
            "1 over lambda",
            needs="wideband",
            swings="forced",
            menus=GENERIC,
        ),
        _scan(
            "lambda_volts_a",
            "Lambda 1/1 as volts, rising",
            "voltage",
            "oxygen",
            "lambda_volts_a",
            0.01,
            "volts computed from lambda for display: 2.5 V at lambda 1, rising towards lean; no pin carries them",
            needs="wideband",
            swings="forced",
        ),
        _scan(
            "lambda_volts_b",
            "Lambda 1/1 as volts, falling",
            "voltage",
            "oxygen",
            "lambda_volts_b",
            0.01,
            "volts computed from lambda for display: 1.95 V at lambda 1, falling towards lean; no pin carries them",
            needs="wideband",
            swings="forced",
        ),
        _scan(
            "heater_duty",
            "Heater duty 1/1",
            "percent",
            "oxygen",
            "heater",
            0.4,
            "share of the time in which the heater is on",
            needs="wideband",
        ),
        _scan(
            "battery_v",
            "Control module voltage",
            "voltage",
            "fuelling",
            "battery",
            0.01,
            "battery voltage at the control unit",
            menus=BOTH,
        ),
        _scan(
            "maf",
            "MAF",
            "mass_flow",
            "airflow",
            "maf",
            0.01,
            "mass airflow as believed",
            needs="maf",
            asks=("loads_off",),
            menus=BOTH,
        ),
        _pin("maf_volts", "MAF signal", "airflow", "maf", "airflow meter signal", needs="maf", menus=ENHANCED),
        _pin(
            "maf_hz",
            "MAF frequency",
            "airflow",
            "maf_hz",
            "frequency of a digital meter's signal",
            quantity="frequency",
            step=1.0,
            needs="meter_frequency",
        ),
        _pin(
            "maf_supply_v",
            "MAF supply",
            "airflow",
            "maf_supply",
            "voltage between supply pin and power ground pin at the airflow meter, plugged in",
            needs="maf",
        ),
        _truth(
            "maf_meter_true",
            "Air through the meter",
            "mass_flow",
            "airflow",
            "maf",
            0.01,
            "air that passes the airflow meter",
            needs="maf",
        ),
        _truth(
            "maf_true",
            "Air into the cylinders",
            "mass_flow",
            "airflow",
            "air",
            0.01,
            "fresh air that enters the cylinders",
        ),
        _scan(
            "iat",
            "IAT",
            "temperature",
            "temperature",
            "iat",
            1.0,
            "intake air temperature as believed",
            asks=("soaked",),
            slow=True,
            menus=BOTH,
            stands_in="iat_substituted",
        ),
        _pin("iat_volts", "IAT signal", "temperature", "iat", "IAT signal", menus=ENHANCED),
        _truth(
            "iat_true",
            "Intake air",
            "temperature",
            "temperature",
            "iat",
            0.1,
            "air temperature at the place of the IAT sensor",
            slow=True,
        ),
        _scan(
            "ect",
            "ECT",
            "temperature",
            "temperature",
            "ect",
            1.0,
            "coolant temperature as believed",
            asks=("soaked",),
            slow=True,
            menus=BOTH,
            stands_in="ect_substituted",
        ),
        _pin("ect_volts", "ECT signal", "temperature", "ect", "ECT signal", menus=ENHANCED),
        _truth("ect_true", "Coolant", "temperature", "temperature", "ect", 0.1, "coolant temperature", slow=True),
        _scan(
            "stft",
            "STFT",
            "trim",
            "fuelling",
            "stft",
            0.78,
            "short-term fuel trim",
            needs="trims",
            asks=(
                "closed_loop",
                "sensor_awake",
            ),
            menus=GENERIC,
        ),
        _scan(
            "ltft",
            "LTFT",
            "trim",
            "fuelling",
            "ltft",
            0.78,
            "long-term fuel trim of the cell in use",
            needs="trims",
            asks=(
                "closed_loop",
                "sensor_awake",
            ),
            menus=BOTH,
        ),
        _scan(
            "total_trim",
            "Total trim",
            "trim",
            "fuelling",
            "total_trim",
            0.78,
            "short-term plus long-term fuel trim",
            needs="trims",
            asks=(
                "closed_loop",
                "sensor_awake",
            ),
            menus=(),
        ),
        _scan(
            "stft_2",
            "STFT bank 2",
            "trim",
            "fuelling",
            "stft_2",
            0.78,
            "short-term fuel trim, bank 2",
            needs="two_banks",
            asks=(
                "closed_loop",
                "sensor_awake",
            ),
            menus=GENERIC,
        ),
        _scan(
            "ltft_2",
            "LTFT bank 2",
            "trim",
            "fuelling",
            "ltft_2",
            0.78,
            "long-term fuel trim of the cell in use, bank 2",
            needs="two_banks",
            asks=(
                "closed_loop",
                "sensor_awake",
            ),
            menus=BOTH,
        ),
        _scan(
            "total_trim_2",
            "Total trim bank 2",
            "trim",
            "fuelling",
            "total_trim_2",
            0.78,
            "short-term plus long-term fuel trim, bank 2",
            needs="two_banks",
            asks=(
                "closed_loop",
                "sensor_awake",
            ),
            menus=(),
        ),
        _scan(
            "ho2s_b2s1_v",
            "HO2S 2/1",
            "voltage",
            "oxygen",
            "ho2s_b2s1",
            0.005,
            "oxygen sensor of the second bank",
            needs="ho2s_b2s1",
            swings="switching",
            asks=(
                "closed_loop",
                "sensor_awake",
            ),
            menus=BOTH,
        ),
        _pin(
            "ho2s_b2s1_pin_v",
            "HO2S 2/1 signal",
            "oxygen",
            "ho2s_b2s1",
            "voltage at the control unit's pin of the second bank's oxygen sensor",
            needs="ho2s_b2s1",
            swings="switching",
            asks=(
                "closed_loop",
                "sensor_awake",
            ),
        ),
        _truth(
            "lambda_bank_1",
            "Lambda of bank 1",
            "lambda",
            "fuelling",
            "lambda",
            0.001,
            "cylinders of the first bank",
            needs="two_banks",
        ),
        _truth(
            "lambda_bank_2",
            "Lambda of bank 2",
            "lambda",
            "fuelling",
            "lambda",
            0.001,
            "cylinders of the second bank",
            needs="two_banks",
        ),
        _scan(
            "ho2s_b1s1_v",
            "HO2S 1/1",
            "voltage",
            "oxygen",
            "ho2s_b1s1",
            0.005,
            "oxygen sensor before the catalyst",
            needs="ho2s_b1s1",
            swings="switching",
            asks=(
                "closed_loop",
                "sensor_awake",
            ),
            menus=BOTH,
        ),
        _pin(
            "ho2s_b1s1_pin_v",
            "HO2S 1/1 signal",
            "oxygen",
            "ho2s_b1s1",
            "voltage at the control unit's pin of the front oxygen sensor",
            needs="ho2s_b1s1",
            swings="switching",
            asks=(
                "closed_loop",
                "sensor_awake",
            ),
        ),
        _truth(
            "lambda_sensed",
            "Lambda at sensor 1/1",
            "lambda",
            "oxygen",
            "ho2s_b1s1",
            0.001,
            "lambda of the gas at the front sensor",
            needs="trims",
            asks=("running",),
        ),
        _scan(
            "ho2s_b1s2_v",
            "HO2S 1/2",
            "voltage",
            "oxygen",
            "ho2s_b1s2",
            0.005,
            "oxygen sensor behind the catalyst",
            needs="ho2s_b1s2",
            swings="switching",
            asks=(
                "closed_loop",
                "sensor_awake",
            ),
            menus=BOTH,
        ),
        _pin(
            "ho2s_b1s2_pin_v",
            "HO2S 1/2 signal",
            "oxygen",
            "ho2s_b1s2",
            "voltage at the control unit's pin of the rear oxygen sensor",
            needs="ho2s_b1s2",
            swings="switching",
            asks=(
                "closed_loop",
                "sensor_awake",
            ),
        ),
        _truth(
            "lambda_rear",
            "Lambda at sensor 1/2",
            "lambda",
            "oxygen",
            "ho2s_b1s2",
            0.001,
            "lambda of the gas behind the catalyst",
            needs="ho2s_b1s2",
            asks=("running",),
        ),
        _truth(
            "lambda_true",
            "Lambda of the cylinders",
            "lambda",
            "fuelling",
            "lambda",
            0.001,
            "all cylinders' fresh air over their fuel; not defined while the fuel is cut",
        ),
        _scan(
            "purge_duty",
            "Commanded purge",
            "percent",
            "fuelling",
            "purge",
            0.4,
            "canister purge as commanded",
            needs="purge",
        ),
        _truth(
            "secondary_air_true",
            "Air into the exhaust",
            "mass_flow",
            "fuelling",
            "secondary_air",
            0.01,
            "what the air pump blows before the oxygen sensor",
            needs="secondary_air",
        ),
        _truth(
            "purge_true",
            "Purge flow",
            "mass_flow",
            "fuelling",
            "purge",
            0.01,
            "air and vapour from the canister",
            needs="purge",
        ),
        _scan(
            "load",
            "Calculated load",
            "percent",
            "airflow",
            "load",
            0.4,
            "air per stroke as a share of what full load would take at this speed",
            asks=(
                "loads_off",
                "running",
            ),
            menus=BOTH,
        ),
        _scan(
            "ve",
            "Volumetric efficiency",
            "percent",
            "airflow",
            "ve",
            0.1,
            "worked out from the MAF reading, referred to the surrounding air",
            needs="maf",
            asks=("running",),
            menus=(),
        ),
        _scan(
            "injector_ms",
            "Injection time",
            "time_ms",
            "fuelling",
            "injector",
            0.01,
            "injection time per opening, 0 while the fuel is cut",
            needs="petrol",
            asks=(
                "loads_off",
                "running",
            ),
        ),
        _scan(
            "fuel_mass",
            "Injected fuel",
            "fuel_mass",
            "fuelling",
            "injector",
            0.1,
            "fuel per stroke as commanded",
            needs="diesel",
        ),
        _scan(
            "spark",
            "Ignition advance",
            "angle",
            "fuelling",
            "spark",
            0.5,
            "ignition advance before top dead centre",
            needs="spark",
            asks=(
                "loads_off",
                "running",
            ),
            menus=BOTH,
        ),
        _truth(
            "spark_true",
            "True ignition advance",
            "angle",
            "fuelling",
            "spark",
            0.5,
            "ignition advance as a timing light shows it",
            needs="spark",
        ),
        _scan(
            "idle_air",
            "Idle air",
            "percent",
            "airflow",
            "idle_air",
            0.4,
            "idle air demanded by the idle control",
            needs="idle_valve",
            asks=(
                "loads_off",
                "running",
            ),
        ),
        _pin("vref_v", "5 V reference", "pressure", "vref", "reference voltage at the sensors, against battery minus"),
        _pin(
            "sensor_ground_v",
            "Sensor ground",
            "pressure",
            "vref",
            "potential of the sensors' common ground, against battery minus",
        ),
        _truth("torque_true", "Brake torque", "torque", "position", "torque", 0.1, "torque at the crankshaft's end"),
        _truth(
            "exhaust_backpressure",
            "Exhaust back pressure",
            "pressure_gauge",
            "pressure",
            "backpressure",
            0.1,
            "gauge pressure at the front oxygen sensor",
        ),
        _truth(
            "pressure_behind_catalyst",
            "Pressure behind the catalyst",
            "pressure_gauge",
            "pressure",
            "backpressure",
            0.1,
            "gauge pressure between catalyst and silencer",
        ),
        _truth(
            "fuel_pressure",
            "Fuel pressure",
            "pressure_gauge",
            "fuelling",
            "fuel_pressure",
            1.0,
            "gauge pressure in the fuel rail as a mechanical gauge shows it",
            needs="petrol_rail",
        ),
    )
}


def channel(name: str) -> Channel:
    """A channel by its id, or UnknownName with the known ones."""
    try:
        return CHANNELS[name]
    except KeyError:
        raise UnknownName("channel", name, CHANNELS) from None


def rounded(value: float, step: float) -> float:
    """A value rounded to the nearest whole step of its display.

    >>> rounded(1.8372, 0.01)
    1.84
    """
    return round(round(value / step) * step, 6)
