"""The scan tool: few channels update fast, many slowly; two menus with real gaps; codes; actuator tests.

Encodings and steps are those of SAE J1979; how many answers a second a control unit gives is a property of its bus and
of the tool.
"""

import re
from dataclasses import replace

import numpy as np

from leitfaden_core.channels import CHANNELS, channel, rounded
from leitfaden_core.errors import LeitfadenError, UnknownName
from leitfaden_core.instruments.instrument import Instrument, Observation, Option, Shown, Trace, Use, instruments
from leitfaden_core.instruments.vehicle import WATCHED, Vehicle
from leitfaden_core.monitors import code, flash_number, trouble_report
from leitfaden_core.rigs import Rig, rig_channels, shown_quantity
from leitfaden_core.scripts import CONDITIONS, script_with
from leitfaden_core.simulate import FRAME, actuators_on, injector_of, simulate
from leitfaden_core.words import inside, say

#: Answers per second: tool -> on a fast and on an old bus.
ANSWERS = {"full": (30.0, 10.0), "basic": (12.0, 8.0)}
BASIC_CHANNELS = 6


def menu_of(rig: Rig, menu: str) -> list[str]:
    """Channels that a menu offers on a rig."""
    offered = [name for name in rig_channels(rig) if channel(name).menus]
    if rig.trim_scale == "count":
        # Trims in counts belong to a time before the standard: such a control unit has its own list only, whole.
        return offered if menu == "enhanced" else []
    return [name for name in offered if menu in channel(name).menus]


def answer_rate(rig: Rig, tool: str) -> float:
    """Answers per second that the tool gets from this rig's control unit."""
    fast, old = ANSWERS[tool]
    return old if rig.trim_scale == "count" else fast


def _data_list(use: Use) -> Observation:
    vehicle, names = use.vehicle, [name.strip() for name in use.place.split(",") if name.strip()]
    offered = menu_of(vehicle.rig, use.options["menu"])
    if not offered:
        raise LeitfadenError(
            say(
                "rig {id} answers no generic menu: its control unit is older than the standard; use menu=enhanced",
                id=vehicle.rig.id,
            )
        )
    for name in names:
        if name not in offered:
            raise UnknownName(
                "channel",
                name,
                offered,
                where=say("in the {menu} menu of rig {id}", menu=use.options["menu"], id=vehicle.rig.id),
            )
    if use.options["tool"] == "basic" and len(names) > BASIC_CHANNELS:
        raise LeitfadenError(
            say(
                "the basic tool shows {basic_channels} channels at once, not {count}",
                basic_channels=BASIC_CHANNELS,
                count=len(names),
            )
        )
    run = vehicle.run(use.condition)
    rate = answer_rate(vehicle.rig, use.options["tool"]) / len(names)
    rows = run.rows(run.script.span(use.condition))
    shown: list[Shown] = []
    traces: dict[str, Trace] = {}
    for k, name in enumerate(names):
        # One channel after the other: values of one line are not of one instant.
        first = use.chance.uniform(0.0, 1.0) / rate + k / (rate * len(names))
        times = np.arange(min(first, len(rows) * FRAME / 2.0), len(rows) * FRAME, 1.0 / rate)
        values = rows[name][(times / FRAME).astype(int)].astype(float)
        step, quantity = channel(name).step, shown_quantity(vehicle.rig, name)
        values = np.array([rounded(value, step) for value in values[~np.isnan(values)]])
        if values.size == 0:
            shown.append(Shown(name, channel(name).label, None, quantity=quantity, text="no value here", step=step))
            continue
        shown.append(
            Shown(
                name,
                channel(name).label,
                float(values.mean()),
                quantity=quantity,
                text=say("{min:g} to {max:g}", min=values.min(), max=values.max()),
                step=step,
                error=step / 3.5,
            )
        )
        traces[name] = Trace(name, channel(name).label, quantity, tuple(times[: len(values)].round(3)), tuple(values))
    notes = [say("{rate:.1f} values a second of each channel; shorter events fall between them.", rate=rate)]
    if use.options["trigger"]:
        traces, note = _around_event(use.options["trigger"], names, traces)
        notes.append(note)
    if any(name in {"ho2s_b1s1_v", "ho2s_b2s1_v"} for name in names) and rate < 4.0:
        notes.append("A switching oxygen sensor needs at least 4 values a second: choose fewer channels.")
    return Observation(
        "scan_tool",
        use.place,
        use.condition,
        shown=tuple(shown),
        traces=tuple(traces.values()),
        minutes=3.0,
        notes=tuple(notes),
    )


#: What a recording keeps before and after its event. [s]
KEPT_BEFORE, KEPT_AFTER = 2.0, 3.0


def _around_event(trigger: str, names: list[str], traces: dict[str, Trace]) -> tuple[dict[str, Trace], str]:
    """The recording cut to the first moment at which a channel, as the tool saw it, crosses a level: ``maf<1.2``."""
    match = re.fullmatch(r"\s*([a-z0-9_]+)\s*([<>])\s*(-?[0-9.]+)\s*", trigger)
    if match is None or match.group(1) not in names:
        raise LeitfadenError(
            say(
                "a trigger names one of the recorded channels and a level, such as {names}<1.2, not '{trigger}'",
                names=names[0],
                trigger=trigger,
            )
        )
    name, side, level = match.group(1), match.group(2), float(match.group(3))
    watched = traces.get(name)
    hits = (
        []
        if watched is None
        else [
            t for t, v in zip(watched.seconds, watched.values, strict=True) if (v < level if side == "<" else v > level)
        ]
    )
    if not hits:
        return traces, say(
            "The event {trigger} was not seen at this rate: the whole recording is kept.", trigger=trigger.strip()
        )
    start, end = hits[0] - KEPT_BEFORE, hits[0] + KEPT_AFTER
    cut = {}
    for recorded, trace in traces.items():
        rows = [(t, v) for t, v in zip(trace.seconds, trace.values, strict=True) if start <= t <= end]
        cut[recorded] = replace(trace, seconds=tuple(t for t, _v in rows), values=tuple(v for _t, v in rows))
    return (
        cut,
        say(
            (
                "Event {trigger} at {hits:.2f} s of the recording; {kept_before:g} s before and {kept_after:g} s "
                "after it are kept."
            ),
            trigger=trigger.strip(),
            hits=hits[0],
            kept_before=KEPT_BEFORE,
            kept_after=KEPT_AFTER,
        ),
    )


instruments.register(
    Instrument(
        "scan_tool",
        "scan tool, data list",
        purpose="What the control unit believes.",
        minutes=3.0,
        places=lambda rig: [],
        use=_data_list,
        options=(
            Option("tool", "tool", choices=("full", "basic"), default="full"),
            Option("menu", "menu", choices=("enhanced", "generic"), default="enhanced"),
            Option("trigger", "event trigger, such as maf<1.2"),
        ),
        cautions=("On the road a helper works the tool, never the driver.",),
        free_places="channels with commas, such as rpm,map,stft",
    )
)


def _codes(use: Use) -> Observation:
    vehicle = use.vehicle
    day = vehicle.drive(script_with("hot_idle"))
    plugged = Vehicle(vehicle.rig, vehicle.faults, vehicle.seed, vehicle.individual).drive(script_with("hot_idle"))
    report = trouble_report([day, day], [plugged, plugged])
    if use.options["action"] == "clear":
        saved = use.options["baseline"] == "saved"
        notes = (
            ()
            if saved
            else ("Codes, freeze frame and readiness are gone, and nobody wrote them down: store a baseline first.",)
        )
        return Observation(
            "codes",
            use.place,
            use.condition,
            shown=(Shown("codes", "codes after clearing", 0.0, quantity="", text="none"),),
            minutes=1.0,
            notes=notes,
            changes=("codes and freeze frame erased", "readiness starts anew", "learned trims may be lost"),
        )
    old = vehicle.rig.trim_scale == "count"
    shown = [
        # A control unit from before the standard stores two digits, and tells neither state nor readiness.
        Shown(
            stored.code,
            say("code {number}", number=flash_number(stored.code)),
            None,
            quantity="",
            text=code(stored.code, vehicle.rig).meaning,
        )
        if old
        else Shown(
            stored.code,
            stored.code,
            None,
            quantity="",
            text=say(
                "{meaning} ({status}; {origin})",
                meaning=code(stored.code, vehicle.rig).meaning,
                status=stored.status,
                origin=stored.origin,
            ),
        )
        for stored in report.codes
    ] or [Shown("codes", "codes", None, quantity="", text="none stored")]
    return Observation(
        "codes",
        use.place,
        use.condition,
        shown=tuple(shown),
        minutes=2.0,
        notes=("A code names a relationship or a circuit, not a part.",),
    )


instruments.register(
    Instrument(
        "codes",
        "scan tool, codes",
        purpose="What the control unit has complained about.",
        minutes=2.0,
        places=lambda rig: ["control unit"],
        use=_codes,
        options=(
            Option("action", "action", choices=("read", "clear"), default="read"),
            Option("baseline", "baseline", choices=("not saved", "saved"), default="not saved"),
        ),
    )
)

#: Actuator tests: name -> actuator, share of its way, channels worth watching.
_MOVED: dict[str, tuple[str, float, tuple[str, ...]]] = {
    "EGR valve half open": ("EGR valve", 0.5, ("egr_position", "rpm", "map_true", "maf")),
    "purge valve open": ("purge valve", 1.0, ("purge_true", "rpm", "stft", "idle_air")),
    "vanes shut": ("vanes", 1.0, ("charge_pressure", "maf")),
    "vanes open": ("vanes", 0.0, ("charge_pressure", "maf")),
}
RESET_TRIMS = "reset learned trims"


def actuators_of(rig: Rig) -> list[str]:
    """Actuator tests that a rig's control unit offers."""
    tests = [name for name, (actuator, _share, _watch) in _MOVED.items() if actuator in actuators_on(rig)]
    if "trims" in rig.features:
        tests.append(RESET_TRIMS)
    if "wideband" in rig.features:
        tests.append("wideband self-check")
    if "petrol" in rig.features or "diesel" in rig.features:
        tests += _shut_offs(rig)
    return tests


def _shut_offs(rig: Rig) -> dict[str, str]:
    """Tests that shut one injector off, with the injectors."""
    injectors = (injector_of(number) for number in range(1, rig.engine.cylinders + 1))
    return {f"{injector} off": injector for injector in injectors}


def _actuator(use: Use) -> Observation:
    vehicle, test = use.vehicle, use.place
    if test == RESET_TRIMS:
        return _reset(use)
    if test == "wideband self-check":
        return _self_check(use)
    shut_offs = _shut_offs(vehicle.rig)
    if test in shut_offs:
        return _shut_off(use, shut_offs[test])
    actuator, share, watched = _MOVED[test]
    before, during = (held.watched(use.condition) for held in (vehicle, vehicle.with_held(actuator, share)))
    shown = []
    for name in (name for name in watched if name in rig_channels(vehicle.rig)):
        step, quantity = channel(name).step, CHANNELS[name].quantity
        first, second = (rounded(run.statistic(use.condition, name, "mean"), step) for run in (before, during))
        shown.append(
            Shown(
                name,
                channel(name).label,
                second,
                quantity=quantity,
                text=say("{first:g} before", first=first),
                step=step,
                error=step / 3.5,
            )
        )
    return Observation(
        "actuator_test",
        test,
        use.condition,
        shown=tuple(shown),
        minutes=4.0,
        changes=("the actuator is held while the test lasts",),
    )


def _reset(use: Use) -> Observation:
    """Learned trims back to zero: what the short-term trim has to do alone then, before the memory has learned
    again.
    """
    vehicle = use.vehicle
    script = WATCHED.get(use.condition, script_with(use.condition))
    before = vehicle.watched(use.condition)
    after = simulate(vehicle.rig, script, vehicle.acting(), vehicle.seed, dict(vehicle.individual), cold_memory=True)
    shown = []
    for name in ("ltft", "stft"):
        first, second = (
            rounded(run.statistic(use.condition, name, "mean"), channel(name).step) for run in (before, after)
        )
        shown.append(
            Shown(
                name,
                channel(name).label,
                second,
                quantity=shown_quantity(vehicle.rig, name),
                text=say("{first:g} % before", first=first),
                step=channel(name).step,
            )
        )
    return Observation(
        "actuator_test",
        use.place,
        use.condition,
        shown=tuple(shown),
        minutes=2.0,
        notes=("What a fault needs comes back within some driving; what an old fault had left does not.",),
        changes=("learned trims are zero; idle learning and readiness may be lost too",),
    )


def _shut_off(use: Use, injector: str) -> Observation:
    """Speed drop when one injector is shut off: a cylinder that does not work anyway takes nothing away."""
    before, during = (vehicle.watched(use.condition) for vehicle in (use.vehicle, use.vehicle.with_held(injector)))
    # The idle control makes good for the lost speed, so what it had to add is shown as well.
    shown = []
    for name in ("rpm", "load"):
        first, second = (run.statistic(use.condition, name, "mean") for run in (before, during))
        shown.append(
            Shown(
                name,
                say("change of {label}", label=inside(channel(name).label)),
                rounded(second - first, channel(name).step),
                quantity=channel(name).quantity,
            )
        )
    return Observation(
        "actuator_test",
        use.place,
        use.condition,
        shown=tuple(shown),
        minutes=2.0,
        notes=("A cylinder that works is missed; one that does not is not.",),
        cautions=("Unburnt fuel overheats the catalyst: keep the test short.",),
    )


#: Jump of the pump current from one hundredth of a second to the next that a sound loop does not make. [mA]
RESTLESS = 0.05


def _self_check(use: Use) -> Observation:
    """The control unit nudges the sensing cell by 20 mV and watches the pump current answer within 300 ms."""
    vehicle = use.vehicle
    run = vehicle.run(use.condition)
    rows = run.rows(run.script.span(use.condition))
    lost = float(rows["wideband_lost"].max()) > 0.0
    cold = float(rows["heater_front"].max()) < 0.02
    slow = vehicle.hooks(use.condition)["wideband_lag"]
    # Gas changes over many hundredths of a second, a loop that hunts from one to the next.
    restless = float(np.std(np.diff(rows["pump_current"].astype(float)))) > RESTLESS
    answer = 0.0 if lost or cold else 1.0 - float(np.exp(-0.3 / (0.05 + slow)))
    passed = answer > 0.9 and not restless
    why = (
        "wire" if lost else "cold element" if cold else "too slow" if answer <= 0.9 else "restless" if restless else ""
    )
    return Observation(
        "actuator_test",
        use.place,
        use.condition,
        shown=(
            Shown(
                "answer",
                "answer of the pump current after 300 ms",
                100.0 * answer,
                quantity="percent",
                text="",
                step=1.0,
            ),
            Shown("check", "self-check", None, quantity="", text="passed" if passed else say("failed: {why}", why=why)),
        ),
        minutes=2.0,
        notes=("A characteristic that is only shifted passes: the check tests the loop, not the scale.",),
    )


instruments.register(
    Instrument(
        "actuator_test",
        "scan tool, actuator test",
        purpose="Move one thing on command and see what follows.",
        minutes=4.0,
        places=actuators_of,
        use=_actuator,
        conditions=tuple(name for name, entry in CONDITIONS.items() if entry.running and entry.steady),
        cautions=("Moving parts and fans can start by themselves: hands and sleeves clear.",),
    )
)
