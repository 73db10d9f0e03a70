"""The catalogue of channels: every quantity that can be drawn, read or judged, with its layer.

Three layers are always kept apart: ``truth`` is in the engine, ``pin`` is the voltage at the control unit's pin,
``scan`` is what the control unit believes and a scan tool shows. ``measurand`` ties the layers of one thing together.
``step`` is the resolution of SAE J1979 for scan values and of a workshop meter for pins; ``noise`` names nothing that
the model adds, it is in the rig.
"""

from dataclasses import dataclass
from enum import StrEnum

from leitfaden_core.errors import UnknownName


class Layer(StrEnum):
    """Where a value lives."""

    TRUTH = "truth"
    PIN = "pin"
    SCAN = "scan"


@dataclass(frozen=True)
class Channel:
    """One channel: id, what it means, its quantity (see quantities), layer, family (colour and grouping) and display
    resolution.
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


def _scan(
    id: str, label: str, quantity: str, family: str, measurand: str, step: float, meaning: str, needs: str = ""
) -> Channel:
    return Channel(id, label, quantity, Layer.SCAN, family, measurand, step, meaning, needs)


def _pin(id: str, label: str, family: str, measurand: str, meaning: str, needs: str = "") -> Channel:
    return Channel(id, label, "voltage", Layer.PIN, family, measurand, 0.01, meaning, needs)


def _pin_current(id: str, label: str, family: str, measurand: str, meaning: str, needs: str = "") -> Channel:
    return Channel(id, label, "current_ma", Layer.PIN, family, measurand, 0.01, meaning, needs)


def _truth(
    id: str, label: str, quantity: str, family: str, measurand: str, step: float, meaning: str, needs: str = ""
) -> Channel:
    return Channel(id, label, quantity, Layer.TRUTH, family, measurand, step, meaning, needs)


CHANNELS: dict[str, Channel] = {
    channel.id: channel
    for channel in (
        _scan("rpm", "Engine speed", "speed", "position", "speed", 0.25, "engine speed"),
        _truth("rpm_true", "Engine speed", "speed", "position", "speed", 0.25, "speed of the crankshaft"),
        _scan(
            "throttle",
            "Throttle position",
            "percent",
            "position",
            "throttle",
            0.4,
            "throttle plate position, 0 closed, 100 fully open",
            needs="tp",
        ),
        _pin("tp_volts", "TP signal", "position", "throttle", "throttle position signal", needs="tp"),
        _pin(
            "tp2_volts",
            "TP second track",
            "position",
            "throttle",
            "second track of the throttle position sensor, falling",
            needs="two_tracks",
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
        _scan("baro", "BARO", "pressure_abs", "pressure", "baro", 1.0, "barometric pressure as believed"),
        _pin("baro_volts", "BARO signal", "pressure", "baro", "signal of the barometric pressure sensor", needs="baro"),
        _truth(
            "baro_true",
            "Barometric pressure",
            "pressure_abs",
            "pressure",
            "baro",
            0.1,
            "pressure of the surrounding air",
        ),
        _scan(
            "map", "MAP", "pressure_abs", "pressure", "map", 1.0, "manifold absolute pressure as believed", needs="map"
        ),
        _pin("map_volts", "MAP signal", "pressure", "map", "MAP signal", needs="map"),
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
        ),
        _pin("charge_volts", "Charge pressure signal", "pressure", "charge", "charge pressure signal", needs="charge"),
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
        ),
        _pin(
            "app_volts",
            "APP first track",
            "position",
            "app",
            "first track of the accelerator pedal sensor",
            needs="app",
        ),
        _pin(
            "app2_volts", "APP second track", "position", "app", "second track, always half of the first", needs="app"
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
        _pin("egr_volts", "EGR position signal", "airflow", "egr", "EGR position signal", needs="egr_sensor"),
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
        ),
        _pin("rail_volts", "Rail pressure signal", "fuelling", "rail", "fuel rail pressure signal", needs="rail"),
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
        ),
        _pin(
            "dpf_dp_volts",
            "Filter pressure drop signal",
            "pressure",
            "dpf_dp",
            "differential pressure signal",
            needs="dpf_dp",
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
        ),
        _pin_current(
            "pump_current",
            "Pump current 1/1",
            "oxygen",
            "wideband",
            "wideband pump current; 0 at lambda 1, positive when lean",
            needs="wideband",
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
        ),
        _scan("maf", "MAF", "mass_flow", "airflow", "maf", 0.01, "mass airflow as believed", needs="maf"),
        _pin("maf_volts", "MAF signal", "airflow", "maf", "airflow meter signal", needs="maf"),
        Channel(
            "maf_hz",
            "MAF frequency",
            "frequency",
            Layer.PIN,
            "airflow",
            "maf_hz",
            1.0,
            "frequency of a digital meter's signal",
            "meter_frequency",
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
        _scan("iat", "IAT", "temperature", "temperature", "iat", 1.0, "intake air temperature as believed"),
        _pin("iat_volts", "IAT signal", "temperature", "iat", "IAT signal"),
        _truth(
            "iat_true",
            "Intake air",
            "temperature",
            "temperature",
            "iat",
            0.1,
            "air temperature at the place of the IAT sensor",
        ),
        _scan("ect", "ECT", "temperature", "temperature", "ect", 1.0, "coolant temperature as believed"),
        _pin("ect_volts", "ECT signal", "temperature", "ect", "ECT signal"),
        _truth("ect_true", "Coolant", "temperature", "temperature", "ect", 0.1, "coolant temperature"),
        _scan("stft", "STFT", "trim", "fuelling", "stft", 0.78, "short-term fuel trim", needs="trims"),
        _scan(
            "ltft", "LTFT", "trim", "fuelling", "ltft", 0.78, "long-term fuel trim of the cell in use", needs="trims"
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
        ),
        _pin(
            "ho2s_b2s1_pin_v",
            "HO2S 2/1 signal",
            "oxygen",
            "ho2s_b2s1",
            "voltage at the control unit's pin of the second bank's oxygen sensor",
            needs="ho2s_b2s1",
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
        ),
        _pin(
            "ho2s_b1s1_pin_v",
            "HO2S 1/1 signal",
            "oxygen",
            "ho2s_b1s1",
            "voltage at the control unit's pin of the front oxygen sensor",
            needs="ho2s_b1s1",
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
        ),
        _pin(
            "ho2s_b1s2_pin_v",
            "HO2S 1/2 signal",
            "oxygen",
            "ho2s_b1s2",
            "voltage at the control unit's pin of the rear oxygen sensor",
            needs="ho2s_b1s2",
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
