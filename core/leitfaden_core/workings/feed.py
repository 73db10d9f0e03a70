"""Numbers for a working from a run or a recording: the scan tool's values of one instant, or their mean over a steady
condition.
"""

import numpy as np

from leitfaden_core.channels import channel, rounded
from leitfaden_core.errors import LeitfadenError, OutOfRange
from leitfaden_core.recordings import Recording
from leitfaden_core.rigs import Rig, rig_channels
from leitfaden_core.scripts import condition as condition_of
from leitfaden_core.simulate import FRAME, Run
from leitfaden_core.words import inside, say
from leitfaden_core.workings.working import Values, Working


def from_run(working: Working, run: Run, condition: str) -> tuple[Values, dict[str, str]]:
    """Inputs that the run can give, and where each came from.

    In a steady condition they are means; in a full-load pull they are those of the instant of highest speed before the
    lift, all from one row, which is where the trade reads them. Readings carry the step of their display.
    """
    where = condition_of(condition)
    rows = run.rows(run.script.span(condition, "mean"))
    row = int(rows["rpm"].argmax())
    instant = None if where.steady else row
    values: Values = {}
    sources: dict[str, str] = {}
    for entry in working.inputs:
        fixed = _of_the_rig(run.rig, entry.symbol)
        if fixed is not None:
            values[entry.symbol], sources[entry.symbol] = fixed, run.rig.name
            continue
        if not entry.channel or entry.channel not in rig_channels(run.rig):
            continue
        column = rows[entry.channel]
        value = float(column.mean() if instant is None else column[instant])
        if value != value:
            continue
        values[entry.symbol] = rounded(value, channel(entry.channel).step)
        start = run.script.span(condition, "mean")[0]
        when = (
            "mean of the condition"
            if instant is None
            else say("at {start:.2f} s, highest speed before the lift", start=start + row * FRAME)
        )
        sources[entry.symbol] = say(
            "{reading}, {where}, {when}", reading=channel(entry.channel).label, where=inside(where.label), when=when
        )
    return _some(working, run.rig, values), sources


def from_recording(
    working: Working, recording: Recording, seconds: float | None = None
) -> tuple[Values, dict[str, str], float]:
    """Inputs that a recording gives, all of one instant, where each came from, and the instant. [s]

    Without a time it is the instant of the highest engine speed: that of a pull before the lift.

    Raises
    ------
    OutOfRange
        For a time outside the recording.
    LeitfadenError
        Where no speed was recorded and no time is told, or where it has none of the inputs.
    """
    time = recording.time
    if seconds is None:
        if "rpm" not in recording.channels:
            raise LeitfadenError(say("no engine speed was recorded: tell the time at which to read"))
        row = int(np.nanargmax(recording.column("rpm")))
    elif not time[0] <= seconds <= time[-1]:
        raise OutOfRange(say("time in the recording"), seconds, float(time[0]), float(time[-1]), "s")
    else:
        row = int(np.abs(time - seconds).argmin())
    at = float(time[row])
    values: Values = {}
    sources: dict[str, str] = {}
    for entry in working.inputs:
        fixed = _of_the_rig(recording.rig, entry.symbol)
        if fixed is not None:
            values[entry.symbol], sources[entry.symbol] = fixed, recording.rig.name
        elif entry.channel in recording.channels and not np.isnan(recording.column(entry.channel)[row]):
            values[entry.symbol] = rounded(float(recording.column(entry.channel)[row]), channel(entry.channel).step)
            sources[entry.symbol] = say(
                "{channel}, recorded at {at:.2f} s", channel=channel(entry.channel).label, at=at
            )
    return _some(working, recording.rig, values), sources, at


def _some(working: Working, rig: Rig, values: Values) -> Values:
    """The values, or an error where there are none."""
    if not values:
        raise LeitfadenError(
            say(
                "working {id}: a run of rig {id_2} has none of its inputs; give them by hand",
                id=working.id,
                id_2=rig.id,
            )
        )
    return values


def _of_the_rig(rig: Rig, symbol: str) -> float | None:
    known = {
        "L": rig.engine.displacement * 1000.0,
        "afr_stoich": rig.engine.afr_stoich,
        "R25": rig.thermistors.ntc_r25,
        "B": rig.thermistors.ntc_b,
        "R_pull": rig.thermistors.ntc_pull_up,
    }
    if rig.fuel_system is not None:
        known["t_dead"] = rig.fuel_system.injector_dead_time * 1000.0
        known["q_stat"] = rig.fuel_system.injector_flow * 1000.0
        known["openings"] = float(rig.fuel_system.injections_per_cycle)
    return known.get(symbol)
