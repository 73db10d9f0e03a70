"""What is asked of the model about a bench beside its running: what can be reached, and what an instrument shows."""

from dataclasses import asdict
from typing import Any

from jobs.kinds import Tell, computation
from leitfaden_core.instruments import instruments, measure
from leitfaden_core.live import Beginning, Done, doing_of, reach_of, vehicle_after
from leitfaden_core.quantities import QUANTITIES
from leitfaden_core.rigs import load_rig


@computation("reach", limit_s=30.0)
def reach(wish: Any, tell: Tell) -> dict[str, Any]:
    """What hands can reach on an engine."""
    found = reach_of(load_rig(wish["rig"]))
    return {
        "plugs": [asdict(plug) for plug in found.plugs],
        "hoses": found.hoses,
        "parts": [{"name": name, "sensor": sensor} for name, sensor in found.parts.items()],
        "actuators": found.actuators,
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
            }
            for fits in found.instruments
        ],
    }


@computation("bench_measure", limit_s=60.0)
def bench_measure(wish: Any, tell: Tell) -> dict[str, Any]:
    """What an instrument shows on the vehicle as hands have left it."""
    journal = [Done(0, doing_of(raw)) for raw in wish["journal"]]
    vehicle = vehicle_after(Beginning.model_validate(wish["beginning"]), journal)
    seen = measure(
        instruments.get(wish["instrument"]), vehicle, wish["place"], wish["condition"], wish["options"], wish["seed"]
    )
    told = asdict(seen)
    for shown in told["shown"]:
        shown["unit"] = QUANTITIES[shown["quantity"]].kept if shown["quantity"] in QUANTITIES else ""
    return told
