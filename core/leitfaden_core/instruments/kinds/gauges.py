"""Mechanical gauges, thermometers, gas analyser, timing light: they read what is true, each with its own error."""

from collections.abc import Callable
from dataclasses import KW_ONLY, dataclass

import numpy as np

from leitfaden_core.constants import ZERO_CELSIUS
from leitfaden_core.engine.exhaust import exchanged_share, light_off
from leitfaden_core.instruments.gas import DryGas, dry_gas
from leitfaden_core.instruments.instrument import Instrument, Observation, Option, Shown, Use, instruments
from leitfaden_core.rigs import Rig
from leitfaden_core.simulate import FRAME, Run
from leitfaden_core.simulate.pins import hooks_at
from leitfaden_core.words import say

_HOT = "Exhaust parts are hot; run engines only with exhaust extraction."
_FUEL = "Relieve fuel pressure by the maker's procedure, catch leaks, protect eyes; never open a high-pressure line."
_MOVING = "Keep hands and leads away from belt and fan."


@dataclass(frozen=True)
class _Gauge:
    """A gauge: what it reads from a run, resolution and error in the kept unit, feature that the rig must have."""

    id: str
    label: str
    _: KW_ONLY
    purpose: str
    minutes: float
    place: str
    quantity: str
    reads: Callable[[Run, str], float]
    step: float
    error: float
    needs: str = ""
    cautions: tuple[str, ...] = ()


def _mean(name: str) -> Callable[[Run, str], float]:
    return lambda run, condition: run.statistic(condition, name, "mean")


def _vacuum(run: Run, condition: str) -> float:
    return run.statistic(condition, "baro_true", "mean") - run.statistic(condition, "map_true", "mean")


_GAUGES = (
    _Gauge(
        "fuel_gauge",
        "fuel pressure gauge",
        purpose="Pressure in the rail, against the surrounding air.",
        minutes=12.0,
        place="fuel rail",
        quantity="pressure_gauge",
        reads=_mean("fuel_pressure"),
        step=5.0,
        error=4.0,
        needs="petrol_rail",
        cautions=(_FUEL,),
    ),
    _Gauge(
        "backpressure_gauge",
        "back-pressure gauge",
        purpose="Pressure in the exhaust at the front oxygen sensor's bung.",
        minutes=15.0,
        place="bung of the front oxygen sensor",
        quantity="pressure_gauge",
        reads=_mean("exhaust_backpressure"),
        step=0.5,
        error=0.4,
        needs="",
        cautions=(_HOT,),
    ),
    _Gauge(
        "backpressure_gauge_rear",
        "back-pressure gauge behind the catalyst",
        purpose="Pressure between catalyst and silencer: which of them is blocked.",
        minutes=15.0,
        place="behind the catalyst",
        quantity="pressure_gauge",
        reads=_mean("pressure_behind_catalyst"),
        step=0.5,
        error=0.4,
        needs="catalyst",
        cautions=(_HOT,),
    ),
    _Gauge(
        "vacuum_gauge",
        "vacuum gauge",
        purpose="Vacuum in the manifold below the surrounding air.",
        minutes=5.0,
        place="manifold",
        quantity="vacuum",
        reads=_vacuum,
        step=1.0,
        error=0.7,
        needs="throttle",
        cautions=(_MOVING,),
    ),
    _Gauge(
        "boost_gauge",
        "boost gauge",
        purpose="Absolute pressure of the charge.",
        minutes=8.0,
        place="charge pipe",
        quantity="pressure_abs",
        reads=_mean("charge_true"),
        step=2.0,
        error=1.5,
        needs="turbo",
        cautions=(_MOVING,),
    ),
    _Gauge(
        "thermometer",
        "contact thermometer",
        purpose="Coolant outlet beside the sensor.",
        minutes=4.0,
        place="coolant outlet",
        quantity="temperature",
        reads=_mean("ect_true"),
        step=1.0,
        error=1.5,
        needs="",
        cautions=("Metal near the engine burns: test near the part first.",),
    ),
    _Gauge(
        "thermometer_intake",
        "thermometer in the intake air",
        purpose="Air at the place of the intake sensor.",
        minutes=5.0,
        place="intake duct",
        quantity="temperature",
        reads=_mean("iat_true"),
        step=1.0,
        error=1.0,
    ),
)


def _register(gauge: _Gauge) -> None:
    def use_it(use: Use) -> Observation:
        value = gauge.reads(use.vehicle.run(use.condition), use.condition)
        read = value + gauge.error * float(use.chance.standard_normal())
        shown = Shown(
            gauge.id,
            gauge.label,
            round(read / gauge.step) * gauge.step,
            quantity=gauge.quantity,
            text="",
            step=gauge.step,
            error=gauge.error,
        )
        return Observation(gauge.id, use.place, use.condition, shown=(shown,), minutes=gauge.minutes)

    def places(rig: Rig) -> list[str]:
        return [gauge.place] if gauge.needs in {"", *rig.features} else []

    instruments.register(
        Instrument(
            gauge.id,
            gauge.label,
            purpose=gauge.purpose,
            minutes=gauge.minutes,
            places=places,
            use=use_it,
            cautions=gauge.cautions,
        )
    )


for _gauge in _GAUGES:
    _register(_gauge)


#: Share of what is left of CO, HC and oxygen that a warm catalyst with surface enough lets react. [-]
CONVERTED = 0.97


def conversion(run: Run, condition: str) -> float:
    """Share of CO, HC and oxygen that the catalyst lets react over a condition: by its warmth, and by the surface that
    is left of it for this flow. 0 without one. [-]

    References: Levenspiel 1999, ch. 5 (plug flow), as for its oxygen store.
    """
    part = run.rig.catalyst
    if part is None:
        return 0.0
    rows = run.rows(run.script.span(condition))
    flow = max(float(rows["maf_true"].mean()) / 1000.0, 1e-4)
    warm = light_off.py_func(float(rows["egt_2_true"].mean()) + ZERO_CELSIUS)  # type: ignore[attr-defined]
    surface = exchanged_share.py_func(part.catalyst_exchange * float(rows["catalyst_true"].mean()) / 100.0, flow)  # type: ignore[attr-defined]
    return float(CONVERTED * warm * surface)


def exhaust_gas(run: Run, condition: str, converted: float) -> DryGas:
    """Dry gas in the exhaust over a condition, with the share that a catalyst lets react, or 0 before it.

    Cylinders without spark let fuel and air out, those without fuel only air. Behind a catalyst its oxygen store has
    taken or given what it does.
    """
    rows = run.rows(run.script.span(condition))
    burning = rows["lambda_true"][~np.isnan(rows["lambda_true"])]
    if burning.size == 0:
        return dry_gas(0.0)
    hooks = hooks_at(run, min(int(sum(run.script.span(condition)) / 2.0 / FRAME), len(run.lanes) - 1))
    phi = 1.0 / max(float(burning.mean()), 0.3)
    if converted > 0.0:
        phi *= float(rows["lambda_sensed"].mean() / rows["lambda_rear"].mean())
    fuelled = 1.0 - hooks["dead_fuel"]
    gas = dry_gas(min(phi / fuelled, 1.6), float(hooks["dead_spark"]) / fuelled, converted)
    # Air that joins: from cylinders without fuel, through a leak before the sensor, from an air pump.
    behind = float(rows["lambda_sensed"].mean()) if "trims" in run.rig.features else 1.0 / phi
    joins = hooks["exhaust_leak_area"] > 0.0 or "secondary_air" in run.rig.features
    air = hooks["dead_fuel"] + max(behind * phi - 1.0, 0.0) * float(joins)
    return gas.diluted(air)


def _analyser(use: Use) -> Observation:
    """Five gases in the tailpipe, dry, in percent and ppm; behind the catalyst or before it."""
    run = use.vehicle.run(use.condition)
    gas = exhaust_gas(run, use.condition, conversion(run, use.condition) if use.place == "tailpipe" else 0.0)
    chance = use.chance.standard_normal(5)
    shown = (
        Shown(
            "co",
            "CO",
            round(max(gas.co + 0.03 * chance[0], 0.0), 2),
            quantity="percent",
            text="by volume",
            step=0.01,
            error=0.03,
        ),
        Shown(
            "co2", "CO2", round(gas.co2 + 0.1 * chance[1], 1), quantity="percent", text="by volume", step=0.1, error=0.1
        ),
        Shown(
            "o2",
            "O2",
            round(max(gas.o2 + 0.05 * chance[2], 0.0), 2),
            quantity="percent",
            text="by volume",
            step=0.01,
            error=0.05,
        ),
        Shown(
            "hc",
            "HC",
            round(max(gas.hc_ppm + 8.0 * chance[3], 0.0)),
            quantity="ratio",
            text="ppm hexane",
            step=1.0,
            error=8.0,
        ),
        Shown(
            "lambda",
            "lambda",
            round(gas.lam + 0.003 * chance[4], 3),
            quantity="lambda",
            text="Brettschneider",
            step=0.001,
            error=0.003,
        ),
    )
    return Observation(
        "gas_analyser",
        use.place,
        use.condition,
        shown=shown,
        minutes=8.0,
        notes=("Air that enters the exhaust before the probe shows as oxygen.",),
    )


instruments.register(
    Instrument(
        "gas_analyser",
        "five-gas analyser",
        purpose="CO, CO2, O2, HC and lambda worked out from them.",
        minutes=8.0,
        places=lambda rig: ["tailpipe", "before the catalyst"],
        use=_analyser,
        cautions=(_HOT,),
    )
)


#: Base advance that a control unit holds during the set-timing step. [°]
BASE_ADVANCE = 10.0


def _timing_light(use: Use) -> Observation:
    run = use.vehicle.run(use.condition)
    shift = run.statistic(use.condition, "spark_true", "mean") - run.statistic(use.condition, "spark", "mean")
    if use.options["set_timing"] == "done":
        value, notes = (
            BASE_ADVANCE + shift,
            (
                say(
                    (
                        "With the set-timing step done the control unit holds {base_advance:g}°: what differs "
                        "from that is the distributor."
                    ),
                    base_advance=BASE_ADVANCE,
                ),
            ),
        )
    else:
        value = run.statistic(use.condition, "spark_true", "mean")
        notes = (
            (
                "Without the set-timing step the control unit moves the spark as it likes: this number says "
                "nothing about the distributor."
            ),
        )
    read = round(value + 0.5 * float(use.chance.standard_normal()))
    return Observation(
        "timing_light",
        use.place,
        use.condition,
        shown=(
            Shown(
                "advance",
                "ignition advance",
                read,
                quantity="angle",
                text="before top dead centre",
                step=1.0,
                error=0.5,
            ),
        ),
        minutes=6.0,
        notes=notes,
    )


instruments.register(
    Instrument(
        "timing_light",
        "timing light",
        purpose="When the spark really comes.",
        minutes=6.0,
        places=lambda rig: ["crankshaft pulley"] if "spark" in rig.features else [],
        use=_timing_light,
        options=(Option("set_timing", "set-timing step", choices=("not done", "done"), default="not done"),),
        cautions=(_MOVING, "Ignition voltage is dangerous."),
    )
)
