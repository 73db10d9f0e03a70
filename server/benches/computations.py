"""What is asked of the model about a bench beside its running: what can be reached, and what an instrument shows."""

import base64
import contextlib
import io
from dataclasses import asdict
from typing import Any

from benches import library
from benches.models import Recording
from jobs.kinds import HEAVY, Tell, computation
from leitfaden_core.cautions import CAUTIONS
from leitfaden_core.diagnose import table
from leitfaden_core.errors import BadDocument
from leitfaden_core.expect import MissingSheet
from leitfaden_core.judge import RuleBook
from leitfaden_core.live import (
    Beginning,
    BenchReading,
    Done,
    doing_of,
    judge_kept,
    judge_together,
    reach_of,
    stretch_of,
)
from leitfaden_core.quantities import UnitSystem
from leitfaden_core.recordings import read_csv, read_mdf, write_csv, write_mdf
from leitfaden_core.rigs import load_rig
from leitfaden_core.words import say
from leitfaden_core.workings import from_recording, workings
from people.models import User
from simulations.sheets import fetch_sheet
from simulations.wishes import rules_and_units
from simulations.workings import with_units


@computation("reach", limit_s=30.0)
def reach(wish: Any, tell: Tell) -> dict[str, Any]:
    """What hands can reach on an engine."""
    found = reach_of(load_rig(wish["rig"]))
    return {
        "plugs": [asdict(plug) for plug in found.plugs],
        "hoses": found.hoses,
        "parts": [{"name": name, "sensor": sensor} for name, sensor in found.parts.items()],
        "actuators": found.actuators,
        "way": asdict(found.way),
        "cautions": [asdict(caution) for caution in CAUTIONS.values()],
        "instruments": [
            {
                "id": fits.instrument.id,
                "label": fits.instrument.label,
                "purpose": fits.instrument.purpose,
                "minutes": fits.instrument.minutes,
                "cautions": fits.instrument.cautions,
                "conditions": fits.instrument.conditions,
                "options": [asdict(option) for option in fits.instrument.options],
                "places": fits.places,
                "several": fits.several,
                "words": fits.words,
            }
            for fits in found.instruments
        ],
    }


@computation("kept_reading", limit_s=60.0)
def kept_reading(wish: Any, tell: Tell) -> dict[str, Any]:
    """The verdict on something that an instrument showed."""
    rig = load_rig(wish["rig"])
    with contextlib.suppress(MissingSheet):  # it is judged without, then
        fetch_sheet(rig)
    verdict = judge_kept(rig, BenchReading.model_validate(wish["reading"]), *rules_and_units(wish))
    return {"verdict": str(verdict.kind), "reason": verdict.reason}


@computation("all_causes", queue=HEAVY, limit_s=1800.0, background=True)
def all_causes(wish: Any, tell: Tell) -> dict[str, Any]:
    """What every cause shows on an engine that does not ship: simulated once, and in the store from then on."""
    rig = load_rig(wish["rig"])
    fetch_sheet(rig)
    found = table(
        rig,
        workers=1,
        progress=lambda done, of: tell(done / of, say("{done} of {of} faulty engines", done=done, of=of)),
    )
    return {"causes": len(found.candidates)}


@computation("kept_together", limit_s=240.0)
def kept_together(wish: Any, tell: Tell) -> dict[str, Any]:
    """Whether readings that must agree do, and, where its causes are known, which test would tell most after them."""
    rig = load_rig(wish["rig"])
    with contextlib.suppress(MissingSheet):  # no relation needs more than the rig, then
        fetch_sheet(rig)
    readings = [BenchReading.model_validate(reading) for reading in wish["readings"]]
    book = RuleBook.model_validate(wish["rules"])
    found = judge_together(
        rig,
        readings,
        book.of_relations(),
        UnitSystem(wish["units"]),
        rank=wish["known"] >= 1.0,
        victims=book.victims / 100.0,
    )
    return {
        "relations": [
            {
                "condition": entry.condition,
                "label": entry.verdict.relation,
                "verdict": str(entry.verdict.kind),
                "reason": entry.verdict.reason,
            }
            for entry in found.relations
        ],
        "advice": found.advice,
        "tests": [{"label": test.label, "minutes": test.minutes} for test in found.tests],
        "known": wish["known"],
    }


#: Points of a recording that is laid over a bench.
LAID_OVER = 4000


@computation("bench_record", limit_s=120.0)
def bench_record(wish: Any, tell: Tell) -> dict[str, Any]:
    """A stretch of a bench into a person's library; the same wish is the same recording."""
    journal = [Done(frame, doing_of(raw)) for frame, raw in wish["journal"]]
    tell(0.2, "the stretch is computed again")
    capture = stretch_of(
        Beginning.model_validate(wish["beginning"]), journal, wish["first"], wish["last"], wish["channels"]
    )
    return library.row(library.keep(User.objects.get(pk=wish["person"]), wish["name"], capture))


@computation("recording_read", limit_s=120.0)
def recording_read(wish: Any, tell: Tell) -> dict[str, Any]:
    """A file from elsewhere into a person's library."""
    content, rig = base64.b64decode(wish["content"]), load_rig(wish["rig"])
    if content[:3] == b"MDF":
        capture = read_mdf(content, rig)
    else:
        try:
            capture = read_csv(io.StringIO(content.decode("utf-8-sig")), rig)
        except UnicodeDecodeError:
            raise BadDocument("this file is neither a table in UTF-8 nor a measurement file") from None
    return library.row(library.keep(User.objects.get(pk=wish["person"]), wish["name"], capture))


@computation("recording_file", limit_s=120.0)
def recording_file(wish: Any, tell: Tell) -> dict[str, Any]:
    """A recording as a file."""
    capture = library.capture_of(Recording.objects.get(pk=wish["recording"]))
    if wish["format"] == "mf4":
        content = write_mdf(capture)
    else:
        table = io.StringIO()
        write_csv(capture, table)
        content = table.getvalue().encode()
    return {"content": base64.b64encode(content).decode()}


@computation("recording_lanes", limit_s=60.0)
def recording_lanes(wish: Any, tell: Tell) -> dict[str, Any]:
    """Values of a recording's channels in some thousand points."""
    capture = library.capture_of(Recording.objects.get(pk=wish["recording"]))
    each = max(len(capture.time) * 2 // LAID_OVER, 1)
    return {
        "time": capture.time[::each],
        "lanes": {name: capture.column(name)[::each] for name in wish["channels"] if name in capture.columns},
    }


@computation("recording_feed", limit_s=30.0)
def recording_feed(wish: Any, tell: Tell) -> dict[str, Any]:
    """An instant of a recording as the inputs of a calculation."""
    working = workings.get(wish["working"])
    capture = library.capture_of(Recording.objects.get(pk=wish["recording"]))
    values, sources, at = from_recording(working, capture, wish["at"])
    return {"given": with_units(working, values), "sources": sources, "at": at}
