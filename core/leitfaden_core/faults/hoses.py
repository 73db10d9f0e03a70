"""Hoses and pipes of an engine: one name for each, and what follows when one is closed off."""

from dataclasses import dataclass

from leitfaden_core.faults.catalogue import Effect
from leitfaden_core.rigs import Rig


@dataclass(frozen=True)
class Hose:
    """A hose or pipe that can be closed off. ``closed``: what closing it does to any engine, besides ending what flows
    through it by a fault. ``condition``: where the effect is watched.
    """

    name: str
    needs: str = ""  # feature that a rig must have
    closed: tuple[Effect, ...] = ()
    condition: str = "hot_idle"


HOSES = {
    hose.name: hose
    for hose in (
        Hose("small vacuum hoses"),
        Hose("air duct"),
        Hose("brake servo hose", "petrol"),
        Hose("breather hose", "petrol"),
        Hose("purge hose", "petrol", (Effect("purge_shut", "set", 1.0),)),
        Hose("EGR pipe", "egr", (Effect("egr_most", "set", 0.0),)),
        Hose("air pump hose", "secondary_air"),
        Hose("charge pipe", "turbo", condition="wot_pull"),
        Hose("recirculation hose", "recirculation_valve", (Effect("recirculation_shut", "set", 1.0),), "wot_pull"),
    )
}


def hoses_of(rig: Rig) -> list[str]:
    """Hoses and pipes that can be closed off on a rig, whether or not they leak."""
    return sorted(hose.name for hose in HOSES.values() if hose.needs in {"", *rig.features})
