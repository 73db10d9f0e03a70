"""Stations that understand, know good, predict, look and judge."""

from typing import Any

from leitfaden_core.atlas import myths, page_on
from leitfaden_core.channels import Layer, channel
from leitfaden_core.faults import FaultSpec
from leitfaden_core.judge import Departure
from leitfaden_core.lessons.proposal.material import Material, different
from leitfaden_core.lessons.proposal.plan import TELLS, seen_on
from leitfaden_core.rigs import rig_channels
from leitfaden_core.words import inside, say


class Understanding(Material):
    """From how the device works to verdicts on readings."""

    def explain(self) -> dict[str, Any]:
        return {
            "kind": "explain",
            "id": "how-it-works",
            "title": say("How it works: {device}", device=inside(self.page.title)),
            "text": f"{self.page.summary}\n\n{self.page.inside}",
            "drawing": self.page.drawings[0],
        }

    def myth(self) -> dict[str, Any] | None:
        """What is said about it: the aim's own statements, and common misconceptions about the device and its kin."""
        own = [{"text": claim.says, "right": "false", "reason": claim.feedback} for claim in self.plan.claims]
        mine = [myth.id for myth in myths().values() if self.page.id in myth.pages]
        near = [m.id for m in myths().values() if m.id not in mine and set(m.pages) & self._family()]
        chosen = list(dict.fromkeys([*self.plan.myths, *mine, *near]))[: 6 - len(own)]
        if len(chosen) + len(own) < 2:
            return None
        return {
            "kind": "myth",
            "id": "true-or-not",
            "title": say("True, or only said?"),
            "text": say("Call each statement true or not. Some of them are common and wrong."),
            "myths": chosen,
            "own": own,
            "count": min(4, len(chosen) + len(own)),
        }

    def show_good(self) -> dict[str, Any]:
        return {
            "kind": "show",
            "id": "what-good-looks-like",
            "title": say("What good looks like"),
            "text": say(
                "A sound engine along the drive. Hatched: what healthy engines show. Step from condition to condition."
            ),
            "channels": self._lanes(),
            "show_good": True,
            "focus": self._usual_condition(),
            "vehicle": {"faults": []},
        }

    def predict(self) -> dict[str, Any] | None:
        """With another fault of the device: to name the lesson's own here would answer the stations behind."""
        other, seen = self._another()
        if other is None:
            return None
        moved = [(d.condition, d.channel) for d in seen if abs(d.deviations) >= TELLS]
        chosen = different(moved, 3)
        stays = self._steady({name for _condition, name in chosen}, {(d.condition, d.channel) for d in seen})
        places = [*chosen, *stays[:2]]
        if not chosen or len(places) < 2:
            return None
        return {
            "kind": "predict",
            "id": "what-will-it-do",
            "title": say("What will it do?"),
            "text": say("Before you look: which way will each reading go?"),
            "readings": [{"condition": where, "channel": name} for where, name in places],
            "vehicle": {"faults": [other.model_dump(mode="json")]},
        }

    def _another(self) -> tuple[FaultSpec | None, list[Departure]]:
        """Another fault of the device that shows plainly, and what it shows; a usual cause where there is none."""
        mine = {fault.kind for fault in self.plan.faults}
        examples = [line.example for line in page_on(self.page, self.rig).faults if line.kind not in mine]
        for fault in (*self.plan.others, *examples, *self._usual_causes()):
            if fault.kind in mine:
                continue
            seen = seen_on(self.rig, [fault], self.plan.script)
            if any(abs(d.deviations) >= TELLS for d in seen):
                return fault, seen
        return None, []

    def show_faulty(self) -> dict[str, Any]:
        return {
            "kind": "show",
            "id": "watch-it-run",
            "title": say("Watch it run"),
            "text": say(
                "Thin line: a sound engine of the same type. Strong line: this one. Where do they part, and "
                "in which condition?"
            ),
            "channels": self._lanes(),
            "show_good": True,
            "focus": self.seen[0].condition,
        }

    def measure(self) -> dict[str, Any]:
        best = next((d for d in self.seen if not channel(d.channel).swings), self.seen[0])
        return {
            "kind": "measure",
            "id": "read-it",
            "title": say("Read {channel}", channel=channel(best.channel).label),
            "text": say("Place the cursor in the middle of the condition and read the value, with its unit."),
            "reading": {"condition": best.condition, "channel": best.channel},
            "tolerance_percent": 10.0,
        }

    def sheet(self) -> dict[str, Any] | None:
        """Lists of several engines: what tells the fault, and what it leaves alone."""
        telling = different([(d.condition, d.channel) for d in self.seen if abs(d.deviations) >= TELLS], 3)
        beside = self._steady({name for _condition, name in telling}, {(d.condition, d.channel) for d in self.seen})
        places = [*telling, *beside]
        if not telling or len(places) < 3:
            return None
        return {
            "kind": "sheet",
            "id": "sound-or-not",
            "title": say("Sound or not?"),
            "text": say("Lists of several engines of this type. Which are sound, and which reading tells it?"),
            "readings": [{"condition": where, "channel": name} for where, name in places],
            "engines": 3,
        }

    def judge(self) -> dict[str, Any]:
        """Readings that show the fault, readings that do not, and some that decide nothing."""
        telling = [*self.plan.shapes, *self.seen]
        far = [(d.condition, d.channel, d.stat) for d in telling if abs(d.deviations) >= TELLS / 2]
        places = list({(name, stat): (where, name, stat) for where, name, stat in reversed(far)}.values())[::-1][:6]
        usual = [
            (where, name, "mean")
            for where in ("hot_idle", "cruise_80", "koeo", "no_load_2500", "wot_pull", *self.conditions)
            for name in dict.fromkeys([*self.plan.lanes, *self.page.channels, "rpm", "ect", "total_trim"])
            if where in self.conditions
            and name in rig_channels(self.rig)
            and channel(name).layer == Layer.SCAN
            and (where, name, "mean") in self.bands
        ]
        pool = list(dict.fromkeys([*places, *usual]))[:14]
        return {
            "kind": "judge",
            "id": "judge-these",
            "title": say("Judge these readings"),
            "text": say(
                "Some are from this engine, some from a sound one of the same type. Good, suspect, faulty, "
                "or not decidable here?"
            ),
            "pool": [{"condition": where, "channel": name, "stat": stat} for where, name, stat in pool],
            "count": min(6, len(pool)),
        }
