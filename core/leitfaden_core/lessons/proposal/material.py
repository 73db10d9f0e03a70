"""What the stations of a proposed lesson are made from: the plan, healthy bands, conditions, causes that come to
mind.
"""

from typing import Any

from leitfaden_core.atlas import pages
from leitfaden_core.channels import Layer, channel
from leitfaden_core.expect import load_sheet
from leitfaden_core.faults import FaultSpec, offered_on
from leitfaden_core.judge.verdict import no_meaning
from leitfaden_core.lessons.proposal.plan import Plan, possible
from leitfaden_core.rigs import rig_channels
from leitfaden_core.scripts import load_script

#: Causes that everybody thinks of first, offered where the engine can have them.
_USUAL_CAUSES: tuple[dict[str, Any], ...] = (
    {"kind": "manifold_vacuum_leak", "params": {"area_mm2": 2.0}},
    {"kind": "maf_under_read", "params": {"gain": 0.85}},
    {"kind": "fuel_pressure_low", "params": {"factor": 0.7, "factor_full": 0.7}},
    {"kind": "ect_offset", "params": {"K": -25.0}},
    {"kind": "exhaust_restricted", "params": {"dp_full_kPa": 60.0, "place": "silencer"}},
    {"kind": "air_filter_restricted", "params": {"dp_full_kPa": 12.0}},
    {"kind": "iat_offset", "params": {"K": 25.0}},
    {"kind": "egr_stuck_open", "params": {"opening_percent": 25.0}},
)

#: Causes besides the fault from which a station concludes.
MOST_OTHERS = 4


class Material:
    """A plan with what every station asks of it."""

    def __init__(self, plan: Plan) -> None:
        self.plan, self.page, self.rig, self.fault, self.seen = plan, plan.page, plan.rig, plan.fault, plan.seen
        self.bands = load_sheet(plan.rig).bands
        self.conditions = load_script(plan.script).conditions()

    def _hidden(self) -> tuple[str, ...]:
        """Lanes that would give the fault away before it is looked for."""
        return self.plan.hidden or (self.seen[0].channel,)

    def _family(self) -> set[str]:
        return {page.id for page in pages().values() if page.family == self.page.family}

    def _lanes(self) -> list[str]:
        """The aim's lanes, or the device's own and those of the mixture; without those that give the fault away."""
        if self.plan.lanes:
            return list(self.plan.lanes)[:6]
        wanted = ["rpm", *self.page.channels, "total_trim", "stft", "maf", "map", "ect"]
        known = [
            name
            for name in dict.fromkeys(wanted)
            if name in rig_channels(self.rig) and channel(name).layer == Layer.SCAN and name not in self._hidden()
        ]
        return known[:4]

    def _steady(self, without: set[str], gone: set[tuple[str, str]]) -> list[tuple[str, str]]:
        """Displayed values that a fault leaves alone (it moves those ``gone``), of other channels than these."""
        found: list[tuple[str, str]] = [
            (where, name)
            for where in self._calm()
            for name in ("ect", "rpm", "battery_v", "iat", "total_trim", "maf", "map")
            if name in rig_channels(self.rig)
            and name not in without
            and (where, name, "mean") in self.bands
            and (where, name) not in gone
            and no_meaning(self.rig, where, name) is None
        ]
        return different(found, 2)

    def _calm(self) -> list[str]:
        """Conditions of the drive in which an engine runs steadily, or else all."""
        steady: tuple[str, ...] = ("hot_idle", "cruise_80", "long_idle", "no_load_1500")
        return [where for where in steady if where in self.conditions] or list(self.conditions)

    def _usual_condition(self) -> str:
        return self._calm()[0]

    def _usual_causes(self) -> list[FaultSpec]:
        """What everybody thinks of first, as far as this engine can have it; none of the lesson's own kinds."""
        offered, mine = offered_on(self.rig), {fault.kind for fault in self.plan.faults}
        usual = [FaultSpec.model_validate(told) for told in _USUAL_CAUSES]
        return [
            cause for cause in usual if cause.kind in offered and cause.kind not in mine and possible(cause, self.rig)
        ]

    def _other_causes(self) -> list[FaultSpec]:
        """What the fault is mistaken for, then what everybody thinks of first; each kind once."""
        mine = {fault.kind for fault in self.plan.faults}
        kinds = {cause.kind: cause for cause in reversed([*self.plan.others, *self._usual_causes()])}
        return [cause for cause in reversed(kinds.values()) if cause.kind not in mine]


def different(places: list[tuple[str, str]], most: int) -> list[tuple[str, str]]:
    """The first places of so many, each channel once."""
    found: dict[str, tuple[str, str]] = {}
    for where, name in places:
        found.setdefault(name, (where, name))
    return list(found.values())[:most]
