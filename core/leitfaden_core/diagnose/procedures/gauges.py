"""Mechanical gauges, thermometers and the timing light."""

import math

from leitfaden_core.channels import channel
from leitfaden_core.diagnose.procedures.base import DiagnosticTest, Examined, Outcome, means
from leitfaden_core.expect import load_sheet
from leitfaden_core.instruments.instrument import instruments
from leitfaden_core.instruments.kinds.gauges import BASE_ADVANCE, exhaust_gas
from leitfaden_core.rigs import Rig, rig_channels
from leitfaden_core.words import say

#: Gauges: instrument, conditions, channel of what is true, spread among sound engines.
_GAUGES = (
    ("fuel_gauge", ("hot_idle", "wot_pull"), "fuel_pressure"),
    ("backpressure_gauge", ("no_load_2500", "wot_pull"), "exhaust_backpressure"),
    ("backpressure_gauge_rear", ("wot_pull",), "pressure_behind_catalyst"),
    ("vacuum_gauge", ("hot_idle",), "map_true"),
    ("boost_gauge", ("wot_pull",), "charge_true"),
    ("thermometer", ("koeo", "cruise_80"), "ect_true"),
    ("thermometer_intake", ("koeo", "hot_idle"), "iat_true"),
)


def gauge_tests(rig: Rig) -> list[DiagnosticTest]:
    bands, found = load_sheet(rig).bands, []
    for tool, conditions, name in _GAUGES:
        entry = instruments.get(tool)
        known = [c for c in conditions if (c, name, "mean") in bands]
        if not entry.places(rig) or name not in rig_channels(rig) or not known:
            continue
        step, quantity = channel(name).step, channel(name).quantity
        errors = {"pressure_gauge": 2.0, "pressure_abs": 1.0, "temperature": 1.2}
        outcomes = tuple(
            Outcome(
                say("{label}, {condition}", label=channel(name).label, condition=c.replace("_", " ")),
                quantity=quantity,
                spread=bands[c, name, "mean"].deviation,
                error=errors[quantity] * (0.25 if "backpressure" in tool else 1.0),
                step=step,
            )
            for c in known
        )
        found.append(
            DiagnosticTest(
                f"gauge.{tool}",
                say(
                    "{instrument}: {conditions}",
                    instrument=entry.label.capitalize(),
                    conditions=", ".join(c.replace("_", " ") for c in known),
                ),
                instrument=tool,
                place=entry.places(rig)[0],
                condition=known[-1],
                outcomes=outcomes,
                read=means(*((c, name) for c in known)),
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
        Outcome("CO [% vol]", quantity="percent", spread=0.12, error=0.03, step=0.01),
        Outcome("CO2 [% vol]", quantity="percent", spread=0.25, error=0.1, step=0.1),
        Outcome("O2 [% vol]", quantity="percent", spread=0.12, error=0.05, step=0.01),
        Outcome("HC [log ppm]", quantity="ratio", spread=0.08, error=0.03, step=0.01),
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
