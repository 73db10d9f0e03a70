"""Mechanical gauges, thermometers and the timing light."""

import math
from dataclasses import dataclass

from leitfaden_core.channels import channel
from leitfaden_core.diagnose.procedures.base import DiagnosticTest, Examined, Outcome, means
from leitfaden_core.expect import load_sheet
from leitfaden_core.instruments.instrument import instruments
from leitfaden_core.instruments.kinds.gauges import BASE_ADVANCE, exhaust_gas
from leitfaden_core.rigs import Rig, rig_channels
from leitfaden_core.scripts import condition
from leitfaden_core.words import inside, say


@dataclass(frozen=True)
class _Gauge:
    """A gauge read in some conditions: the channel of what is true, and the instrument's error in its unit."""

    tool: str
    conditions: tuple[str, ...]
    channel: str
    error: float
    after_a_night: bool = False


_GAUGES = (
    _Gauge("fuel_gauge", ("hot_idle", "wot_pull"), "fuel_pressure", 2.0),
    _Gauge("backpressure_gauge", ("no_load_2500", "wot_pull"), "exhaust_backpressure", 0.5),
    _Gauge("backpressure_gauge_rear", ("wot_pull",), "pressure_behind_catalyst", 0.5),
    _Gauge("vacuum_gauge", ("hot_idle",), "map_true", 1.0),
    _Gauge("boost_gauge", ("wot_pull",), "charge_true", 1.0),
    _Gauge("thermometer", ("koeo", "cruise_80"), "ect_true", 1.2, after_a_night=True),
    _Gauge("thermometer_intake", ("koeo", "hot_idle"), "iat_true", 1.2, after_a_night=True),
)


def gauge_tests(rig: Rig) -> list[DiagnosticTest]:
    bands, found = load_sheet(rig).bands, []
    for gauge in _GAUGES:
        entry, name = instruments.get(gauge.tool), gauge.channel
        known = [c for c in gauge.conditions if (c, name, "mean") in bands]
        if not entry.places(rig) or name not in rig_channels(rig) or not known:
            continue
        step, quantity = channel(name).step, channel(name).quantity
        outcomes = tuple(
            Outcome(
                say("{label}, {condition}", label=channel(name).label, condition=inside(condition(c).label)),
                quantity=quantity,
                spread=bands[c, name, "mean"].deviation,
                error=gauge.error,
                step=step,
            )
            for c in known
        )
        found.append(
            DiagnosticTest(
                f"gauge.{gauge.tool}",
                say(
                    "{instrument}: {conditions}",
                    instrument=entry.label.capitalize(),
                    conditions=say(" and ").join(inside(condition(c).label) for c in known),
                ),
                instrument=gauge.tool,
                place=entry.places(rig)[0],
                condition=known[-1],
                outcomes=outcomes,
                read=means(*((c, name) for c in known)),
                after_a_night=gauge.after_a_night,
            )
        )
    if "spark" in rig.features:
        found.append(
            DiagnosticTest(
                "gauge.timing_light",
                "Timing light: base timing after the set-timing step",
                instrument="timing_light",
                place="crankshaft pulley",
                condition="hot_idle",
                outcomes=(Outcome("base advance", quantity="angle", spread=0.5, error=0.5, step=1.0),),
                read=lambda car: [
                    BASE_ADVANCE
                    + car.day.statistic("hot_idle", "spark_true", "mean")
                    - car.day.statistic("hot_idle", "spark", "mean")
                ],
            )
        )
    if "petrol" in rig.features:
        found.append(_gas_test(rig))
    return found


def _gas_test(rig: Rig) -> DiagnosticTest:
    def read(car: Examined) -> list[float]:
        gas = exhaust_gas(car.vehicle.run("hot_idle"), "hot_idle", 0.0)
        return [gas.co, gas.co2, gas.o2, math.log10(max(gas.hc_ppm, 10.0))]

    outcomes = (
        Outcome("CO", quantity="percent", spread=0.12, error=0.03, step=0.01),
        Outcome("CO2", quantity="percent", spread=0.25, error=0.1, step=0.1),
        Outcome("O2", quantity="percent", spread=0.12, error=0.05, step=0.01),
        Outcome("HC, in ppm hexane", quantity="ratio", spread=0.08, error=0.03, step=0.01, logarithm=True),
    )
    label = "Five-gas analyser before the catalyst, idling"
    return DiagnosticTest(
        "gauge.gas",
        label,
        instrument="gas_analyser",
        place="before the catalyst",
        condition="hot_idle",
        outcomes=outcomes,
        read=read,
    )
