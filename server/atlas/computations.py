"""What of the atlas takes an engine to run. Each function runs in a worker and gets plain data."""

from dataclasses import asdict
from typing import Any

from jobs.kinds import Tell, computation
from leitfaden_core.atlas import outcomes
from leitfaden_core.atlas.documents import school_called
from leitfaden_core.atlas.page import circuit_on
from leitfaden_core.explore import drawings, showing
from leitfaden_core.rigs import load_rig


@computation("drawing", limit_s=30.0)
def drawing(wish: Any, tell: Tell) -> dict[str, Any]:
    """A drawing whose traces an engine makes."""
    return asdict(showing(drawings.get(wish["drawing"]), wish["hands"]))


@computation("atlas_circuit", limit_s=30.0)
def atlas_circuit(wish: Any, tell: Tell) -> list[dict[str, Any]]:
    """The wires of a sound device in its four states."""
    return [asdict(state) for state in circuit_on(load_rig(wish["rig"]), wish["wire"])]


@computation("school_outcomes", limit_s=60.0)
def school_outcomes(wish: Any, tell: Tell) -> dict[str, Any]:
    """The values behind a card's switch."""
    switch = school_called(wish["card"]).runs
    assert switch is not None
    return {"statistic": switch.statistic, "rows": [asdict(outcome) for outcome in outcomes(switch)]}
