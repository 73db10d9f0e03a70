"""The oscilloscope: up to four signals drawn from the recorded states by closed formulas, sampled as the chosen time
base samples them.

Between the recorded hundredths of a second stand the engine's own rhythms: intake pulsation at firing frequency
n·N/120, pulse-width modulation, injector current i = U/R·(1 − exp(−t·R/L)). Amplitudes of pulsation are engineering
estimates; King's law acts after the ripple, as in the element itself.
"""

import math
from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.channels import Layer, channel
from leitfaden_core.engine.fuel import INJECTOR_HENRY, INJECTOR_OHMS
from leitfaden_core.errors import LeitfadenError, UnknownName
from leitfaden_core.instruments.instrument import Instrument, Observation, Option, Shown, Trace, Use, instruments
from leitfaden_core.instruments.kinds.electrical import injectors_together
from leitfaden_core.rigs import Rig, rig_channels
from leitfaden_core.sensors.airflow import meter_flow, meter_slope, meter_voltage
from leitfaden_core.simulate import FRAME, Run
from leitfaden_core.words import say

Signal = NDArray[np.float64]
#: Divisions across the screen, samples that are kept of it, bits of the converter.
DIVISIONS, SAMPLES, BITS = 10, 2000, 10
CHANNELS_AT_MOST = 4
#: Heater and wastegate drive [Hz]; saturation and clamp voltage of a driver [V].
HEATER_HZ, WASTEGATE_HZ, DRIVEN_VOLTS, KICK_VOLTS = 10.0, 30.0, 0.3, 65.0


def _lane(run: Run, name: str, times: Signal) -> Signal:
    """A recorded lane between its hundredths of a second."""
    return np.asarray(np.interp(times, (np.arange(len(run.lanes)) + 1) * FRAME, run.lanes[name].astype(float)))


def _crank(run: Run, times: Signal) -> Signal:
    """Crank angle over time, from the speed. [rad]"""
    fine = np.arange(len(run.lanes)) * FRAME
    angle = np.concatenate([[0.0], np.cumsum(run.lanes["rpm_true"].astype(float) * 2 * math.pi / 60 * FRAME)[:-1]])
    return np.asarray(np.interp(times, fine, angle))


def pulsation(rig: Rig, run: Run, times: Signal) -> Signal:
    """Intake ripple, -1 to 1, at firing frequency; unequal intervals of a V-twin add their half order."""
    angle = _crank(run, times) * rig.engine.cylinders / 2.0
    wave = np.sin(angle)
    if rig.engine.cylinders == 2:
        wave = 0.7 * wave + 0.3 * np.sin(angle / 2.0)
    # Nothing pulses in an engine that stands.
    return np.asarray(np.where(_lane(run, "rpm_true", times) > 50.0, wave, 0.0))


def _maf(rig: Rig, run: Run, times: Signal) -> Signal:
    meter = rig.airflow_meter
    assert meter is not None
    volts = _lane(run, "maf_volts", times)
    slope = meter_slope.py_func(meter.meter_zero, meter.meter_full_scale)  # type: ignore[attr-defined]
    flow = np.array([meter_flow.py_func(v, meter.meter_zero, slope) for v in volts])  # type: ignore[attr-defined]
    load = (
        np.clip(_lane(run, "map_true", times) / 100.0, 0.2, 1.0)
        if rig.fuelling == "airflow_metered"
        else np.full(len(times), 0.5)
    )
    # Ripple from a fifth at idle to more than the mean at full load and low speed; the element's lag takes most of the
    # fast part.
    speed = np.maximum(_lane(run, "rpm_true", times), 1.0)
    ripple = 0.15 + 0.75 * (load - 0.3).clip(0.0) * np.clip(2500.0 / speed, 0.3, 1.2)
    omega = speed * rig.engine.cylinders / 120.0 * 2 * math.pi
    ripple = ripple / np.sqrt(1.0 + (omega * meter.meter_lag * 0.25) ** 2)
    pulsing = np.abs(flow * (1.0 + ripple * pulsation(rig, run, times)))
    return np.array([meter_voltage.py_func(f, meter.meter_zero, slope) for f in pulsing])  # type: ignore[attr-defined]


def _map(rig: Rig, run: Run, times: Signal) -> Signal:
    part = rig.map_sensor
    assert part is not None
    mean = _lane(run, "map_volts", times)
    cylinder, manifold = rig.engine.displacement / rig.engine.cylinders, rig.air_path.manifold_volume
    pressure = _lane(run, "map_true", times)
    # What one cylinder takes out of the manifold before the throttle has put it back: the more the longer the gap to
    # the next one's stroke. Half of it on either side of the mean.
    taken = pressure * (0.6 + 0.25 * pressure / 100.0) * cylinder / manifold
    gap = max(1.0 - rig.engine.cylinders / 4.0, 0.05 * 8.0 / rig.engine.cylinders)
    omega = np.maximum(_lane(run, "rpm_true", times), 1.0) * rig.engine.cylinders / 120.0 * 2 * math.pi
    damped = 0.5 * gap * taken / np.sqrt(1.0 + (omega * part.map_lag) ** 2)
    stuck = float(np.std(run.lanes["map_volts"])) < 0.02
    return mean if stuck else mean + 5.0 * part.map_gain * damped * pulsation(rig, run, times)


def _narrowband(name: str) -> Callable[[Rig, Run, Signal], Signal]:
    def signal(rig: Rig, run: Run, times: Signal) -> Signal:
        mean = _lane(run, name, times)
        # Cylinders differ: on the steep part that shows as hash at firing order.
        steep = np.exp(-(((mean - 0.5) / 0.22) ** 2))
        return mean + 0.02 * steep * pulsation(rig, run, times)

    return signal


def _pwm(duty: Signal, times: Signal, hertz: float, battery: Signal) -> Signal:
    """A low-side driver: battery voltage while off, its saturation while on."""
    on = np.mod(times * hertz, 1.0) < np.clip(duty, 0.0, 1.0)
    return np.where(on, DRIVEN_VOLTS, battery)


def _heater(rig: Rig, run: Run, times: Signal) -> Signal:
    rows = run.lanes
    duty = (
        _lane(run, "heater_duty", times) / 100.0
        if "wideband" in rig.features
        else np.where(_lane(run, "run_seconds", times) > 30.0, 0.5, 1.0)
    )
    running, battery = _lane(run, "running", times) > 0.5, _lane(run, "battery_true", times)
    state = float(np.max(rows["heater_front_state"]))
    feed = float(np.max(rows["heater_front"]))
    if state == 4.0:
        return battery
    if feed < 0.02:
        return np.zeros(len(times))
    return np.where(running, _pwm(duty, times, HEATER_HZ, battery), battery)


def _wastegate(rig: Rig, run: Run, times: Signal) -> Signal:
    return _pwm(_lane(run, "boost_duty", times), times, WASTEGATE_HZ, _lane(run, "battery_true", times))


def _since_opening(rig: Rig, run: Run, times: Signal) -> tuple[Signal, Signal]:
    """Time since the injector of cylinder 1 opened, and its opening time. [s]"""
    period = 120.0 / np.maximum(_lane(run, "rpm_true", times), 30.0)
    assert rig.fuel_system is not None
    period = period / rig.fuel_system.injections_per_cycle
    phase = np.mod(_crank(run, times) / (4 * math.pi) * rig.fuel_system.injections_per_cycle, 1.0)
    return phase * period, _lane(run, "injector_ms", times) / 1000.0


def _injector_volts(rig: Rig, run: Run, times: Signal) -> Signal:
    since, opening = _since_opening(rig, run, times)
    battery = _lane(run, "battery_true", times)
    kick = np.where(
        (since > opening) & (since < opening + 0.0015),
        (KICK_VOLTS - battery) * np.exp(-(since - opening) / 0.0004),
        0.0,
    )
    return np.where((since < opening) & (opening > 0), DRIVEN_VOLTS, battery + np.where(opening > 0, kick, 0.0))


def _injector_amps(rig: Rig, run: Run, times: Signal) -> Signal:
    since, opening = _since_opening(rig, run, times)
    full = injectors_together(rig) * _lane(run, "battery_true", times) / INJECTOR_OHMS
    rise = full * (1.0 - np.exp(-since * INJECTOR_OHMS / INJECTOR_HENRY))
    # The needle's movement takes a little of the current about 1.3 ms after the start.
    rise *= 1.0 - 0.07 * np.exp(-(((since - 0.0013) / 0.0002) ** 2))
    return np.where((since < opening) & (opening > 0), rise, 0.0)


def _starter(rig: Rig, run: Run, times: Signal) -> Signal:
    """A clamp round the starter's cable: each compression slows the starter, and it draws more."""
    return np.maximum(_lane(run, "starter_amps", times), 0.0)


def _frequency(rig: Rig, run: Run, times: Signal) -> Signal:
    hertz = _lane(run, "maf_hz", times)
    phase = np.cumsum(np.concatenate([[0.0], hertz[:-1] * np.diff(times)]))
    return np.where(np.mod(phase, 1.0) < 0.5, 5.0, 0.0)


#: Signals that a probe or a clamp finds: name -> (feature, how it is drawn, quantity).
_SIGNALS: dict[str, tuple[str, Callable[[Rig, Run, Signal], Signal], str]] = {
    "maf_volts": ("maf", _maf, "voltage"),
    "maf_hz": ("meter_frequency", _frequency, "voltage"),
    "map_volts": ("map", _map, "voltage"),
    "ho2s_b1s1_pin_v": ("ho2s_b1s1", _narrowband("ho2s_b1s1_pin_v"), "voltage"),
    "ho2s_b1s2_pin_v": ("ho2s_b1s2", _narrowband("ho2s_b1s2_pin_v"), "voltage"),
    "heater control": ("front_heater", _heater, "voltage"),
    "wastegate control": ("wastegate", _wastegate, "voltage"),
    "injector 1": ("petrol_rail", _injector_volts, "voltage"),
    "injector current": ("petrol_rail", _injector_amps, "current"),
    "starter current": ("", _starter, "current"),
    "crank speed": ("", lambda rig, run, times: _lane(run, "rpm_true", times), "speed"),
    "battery": ("", lambda rig, run, times: _lane(run, "battery_true", times), "voltage"),
}
#: Largest current [A] or speed [1/min] that is shown of a signal, where it is not the usual one.
_TOPS = {"starter current": 1000.0, "crank speed": 4000.0}


def signals_of(rig: Rig) -> list[str]:
    """What can be shown on a rig: the drawn signals, and every other pin as it was recorded."""
    drawn = [name for name, (feature, _draw, _quantity) in _SIGNALS.items() if feature in {"", *rig.features}]
    pins = [
        name
        for name in rig_channels(rig)
        if channel(name).layer is Layer.PIN and channel(name).quantity == "voltage" and name not in drawn
    ]
    return drawn + pins


def _scope(use: Use) -> Observation:
    names = [name.strip() for name in use.place.split(",") if name.strip()]
    if not 1 <= len(names) <= CHANNELS_AT_MOST:
        raise LeitfadenError(
            say(
                "the oscilloscope has {channels_at_most} inputs; {count} signals were named",
                channels_at_most=CHANNELS_AT_MOST,
                count=len(names),
            )
        )
    rig, known = use.vehicle.rig, signals_of(use.vehicle.rig)
    for name in names:
        if name not in known:
            raise UnknownName("signal", name, known, where=say("on rig {id}", id=rig.id))
    run = use.vehicle.run(use.condition)
    width = DIVISIONS * use.number("ms_per_div") / 1000.0
    start, end = _window(use, run, names[0], width)
    times = start + np.arange(SAMPLES) * width / SAMPLES
    times = times[times <= end]
    full = DIVISIONS * use.number("volts_per_div") * 0.8
    traces, shown = [], []
    for name in names:
        values, quantity = _draw(name, rig, run, times)
        top = full if quantity == "voltage" else _TOPS.get(name, 10.0)
        counts = np.round(np.clip(values, -top / 8.0, top) / top * 2**BITS) / 2**BITS * top
        traces.append(Trace(name, name, quantity, tuple((times - start).round(6)), tuple(counts.round(4))))
        shown.append(
            Shown(
                name,
                say("{name} mean", name=name),
                float(counts.mean().round(3)),
                quantity=quantity,
                text=say("{min:.2f} to {max:.2f}", min=counts.min(), max=counts.max()),
                step=top / 2**BITS,
            )
        )
    notes = [
        say(
            "{samples:,.0f} samples a second; what is faster than half of that looks like something else.",
            samples=SAMPLES / width,
        )
    ]
    if any(float(np.max(trace.values)) >= 0.995 * full for trace in traces if trace.quantity == "voltage"):
        notes.append("The trace touches the upper edge: choose more volts per division.")
    return Observation(
        "oscilloscope",
        use.place,
        use.condition,
        shown=tuple(shown),
        traces=tuple(traces),
        minutes=8.0,
        notes=tuple(notes),
    )


def _draw(name: str, rig: Rig, run: Run, times: Signal) -> tuple[Signal, str]:
    if name in _SIGNALS:
        _feature, draw, quantity = _SIGNALS[name]
        return np.asarray(draw(rig, run, times), dtype=np.float64), quantity
    return _lane(run, name, times), "voltage"


def _window(use: Use, run: Run, name: str, width: float) -> tuple[float, float]:
    """Start and end of the picture: at the trigger where there is one, else from the start of the condition. [s]"""
    low, high = run.script.span(use.condition)
    if use.options["after_key_off"] == "yes":
        off = np.flatnonzero((run.lanes["running"][1:] < 0.5) & (run.lanes["running"][:-1] > 0.5))
        low = float(off[-1] * FRAME) if off.size else low
        return low, min(low + width, run.script.seconds)
    level = use.number("trigger")
    if level > -1.0:
        times = np.arange(low, high, FRAME / 4.0)
        values, _quantity = _draw(name, use.vehicle.rig, run, times)
        rises = np.flatnonzero((values[1:] >= level) & (values[:-1] < level))
        if not rises.size:
            raise LeitfadenError(
                say(
                    "the trigger at {level:g} V never came; the signal lies between {min:.2f} and {max:.2f} V",
                    level=level,
                    min=values.min(),
                    max=values.max(),
                )
            )
        low = float(times[rises[0]]) - width / DIVISIONS
    return max(low, 0.0), min(low + width, run.script.seconds)


instruments.register(
    Instrument(
        "oscilloscope",
        "oscilloscope",
        purpose="Signals over time, up to four at once.",
        minutes=8.0,
        places=lambda rig: [],
        use=_scope,
        options=(
            Option("ms_per_div", "time base", choices=(), low=0.01, high=5000.0, unit="ms per division", default="200"),
            Option("volts_per_div", "scale", choices=(), low=0.02, high=20.0, unit="V per division", default="1"),
            Option(
                "trigger",
                "trigger level of the first signal (-1: none)",
                choices=(),
                low=-1.0,
                high=100.0,
                unit="V",
                default="-1",
            ),
            Option("after_key_off", "from key-off on", choices=("no", "yes"), default="no"),
        ),
        cautions=("Keep probes and hands clear of high tension, belt and fan.",),
        free_places="up to four signals with commas, such as maf_volts,injector 1",
    )
)
