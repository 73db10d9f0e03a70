"""What drills ask of the model, in workers."""

from typing import Any

from jobs.kinds import HEAVY, Tell, computation
from leitfaden_core.drills import Ask, from_kinds, from_lesson, make_item
from leitfaden_core.lessons import parse_lesson
from leitfaden_core.quantities import UnitSystem
from leitfaden_core.rigs import load_rig
from simulations.sheets import fetch_sheet


@computation("drill_item", limit_s=60.0, priority=3)
def item(wish: Any, tell: Tell) -> dict[str, Any]:
    """One item with its key."""
    ask = Ask.model_validate(wish["ask"])
    fetch_sheet(load_rig(ask.rig))
    made = make_item(ask, UnitSystem(wish["units"]))
    return {"view": made.view.model_dump(mode="json"), "key": made.key.model_dump(mode="json")}


@computation("drill_entries", queue=HEAVY, limit_s=240.0)
def entries(wish: Any, tell: Tell) -> list[dict[str, Any]]:
    """What a drill is made of, tried on all engines."""
    tell(0.1, "it is tried which engines show these faults")
    made = from_lesson(parse_lesson(wish["document"])) if wish["document"] else from_kinds(wish["kinds"])
    return [entry.model_dump(mode="json") for entry in made]
