"""What was done on a bench, in few words: for marks under the lanes, kept recordings, and whoever looks on."""

from collections.abc import Callable, Iterable
from typing import Any

from leitfaden_core.faults import FaultSpec, describe_fault, describe_size
from leitfaden_core.live.bench import Beginning, Done, fault_name
from leitfaden_core.quantities import shown
from leitfaden_core.simulate import actions
from leitfaden_core.wiring.circuits import CIRCUITS
from leitfaden_core.words import in_language, say

_KEYS = {"off": "key off", "on": "key on", "start": "key: cranking"}
_GEARS = {
    "road": "rollers, usual gear",
    "pull": "rollers, gear of a full-load pull",
    "next": "rollers, next gear",
}


def _percent(share: float) -> int:
    return round(100 * share)


def _load(doing: actions.HoldLoad, _faults: object) -> str:
    if doing.share == "cruise":
        return say("torque as at cruise")
    return say("torque {percent} %", percent=_percent(doing.share))


def _weather(doing: actions.Surround, _faults: object) -> str:
    temperature = shown(doing.weather.temp_C, "temperature", 0.1)
    return f"{temperature}, {shown(doing.weather.baro_kPa, 'pressure_abs', 0.1)}"


def _consumers(doing: actions.SwitchConsumers, _faults: object) -> str:
    on = ([say("lights")] if doing.lights else []) + ([say("air conditioning")] if doing.air_conditioning else [])
    return say("consumers: {on}", on=" + ".join(on)) if on else say("consumers off")


def _plug(circuit: str) -> str:
    return CIRCUITS[circuit].label if circuit in CIRCUITS else circuit


#: Kind of a doing -> its words, from it and from the faults by their names, as it left them.
_WORDS: dict[str, Callable[[Any, dict[str, FaultSpec]], str]] = {
    "turn_key": lambda doing, _faults: in_language(_KEYS[doing.to]),
    "move_pedal": lambda doing, _faults: say("pedal {percent} %", percent=_percent(doing.to)),
    "hold_speed": lambda doing, _faults: say("hold {rpm:.0f} 1/min", rpm=doing.rpm),
    "hold_load": _load,
    "snap": lambda doing, _faults: say("snap throttle"),
    "drive": lambda doing, _faults: in_language(_GEARS[doing.gear]),
    "neutral": lambda doing, _faults: say("neutral"),
    "lapse_time": lambda doing, _faults: say("warmth ×{factor:g}", factor=doing.factor),
    "surround": _weather,
    "switch_consumers": _consumers,
    "connect_charger": lambda doing, _faults: say("charger on") if doing.on else say("charger off"),
    "move_plug": lambda doing, _faults: say("a plug is moved") if doing.place else say("the plug is let go"),
    "put_fault": lambda doing, faults: say("put in: {fault}", fault=describe_fault(faults[doing.name])),
    "size_fault": lambda doing, faults: say("now {size}", size=describe_size(faults[doing.name])),
    "take_fault": lambda doing, faults: say("taken out: {fault}", fault=describe_fault(faults[doing.name])),
    "pull_plug": lambda doing, _faults: say("plug off: {plug}", plug=_plug(doing.circuit)),
    "put_plug": lambda doing, _faults: say("plug on: {plug}", plug=_plug(doing.circuit)),
    "close_hose": lambda doing, _faults: say("clamped: {hose}", hose=doing.hose),
    "open_hose": lambda doing, _faults: say("opened: {hose}", hose=doing.hose),
    "fit_part": lambda doing, _faults: say("other part: {part}", part=doing.part),
    "put_part_back": lambda doing, _faults: say("old part: {part}", part=doing.part),
    "hold_actuator": lambda doing, _faults: say(
        "held at {percent} %: {actuator}", percent=_percent(doing.share), actuator=doing.actuator
    ),
    "let_actuator_go": lambda doing, _faults: say("let go: {actuator}", actuator=doing.actuator),
    "reset_learned": lambda doing, _faults: say("adaptations reset"),
    "clear_codes": lambda doing, _faults: say("codes cleared"),
    "disconnect_battery": lambda doing, _faults: say("battery off and on"),
    "pass_months": lambda doing, _faults: say("{months:g} months pass", months=doing.months),
    "stand": lambda doing, _faults: say("stands {hours:g} h", hours=doing.hours),
    "settle_memory": lambda doing, _faults: say("memory settles"),
    "mark": lambda doing, _faults: doing.words,
}


def told(beginning: Beginning, journal: Iterable[Done], first: int = 0) -> list[str]:
    """What was done from the thing number ``first`` on, each in few words; a fault by its name and size, by its size
    alone where only that was changed.

    >>> leak = FaultSpec(kind="manifold_vacuum_leak", params={"area_mm2": 3.0})
    >>> put = actions.PutFault(name="leak", fault=leak)
    >>> sized = actions.SizeFault(name="leak", params={"area_mm2": 4.5})
    >>> journal = [Done(100 * k, doing) for k, doing in enumerate([actions.HoldSpeed(rpm=2500), put, sized])]
    >>> told(Beginning(rig="R1"), journal)
    ['hold 2500 1/min', 'put in: Air leak behind the throttle (3 mm²)', 'now 4.5 mm²']
    """
    faults = {fault_name(k): fault for k, fault in enumerate(beginning.faults)}
    words = []
    for k, done in enumerate(journal):
        _keep_size(done.doing, faults)
        if k >= first:
            words.append(_WORDS[done.doing.do](done.doing, faults))
    return words


def _keep_size(doing: Any, faults: dict[str, FaultSpec]) -> None:
    if isinstance(doing, actions.PutFault):
        faults[doing.name] = doing.fault
    elif isinstance(doing, actions.SizeFault):
        before = faults[doing.name]
        faults[doing.name] = before.model_copy(update={"params": dict(before.params) | doing.params})
