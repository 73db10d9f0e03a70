"""Stations that look closely, prove the circuit, stimulate, calculate, conclude and look back."""

from typing import Any

from leitfaden_core.atlas import plate_groups
from leitfaden_core.channels import channel
from leitfaden_core.diagnose import look_alikes, proving_tests, table
from leitfaden_core.diagnose.candidates import candidate_of
from leitfaden_core.diagnose.procedures import tests_of
from leitfaden_core.lessons.proposal.material import MOST_OTHERS, Material, different
from leitfaden_core.lessons.proposal.plan import TELLS, seen_on
from leitfaden_core.live import to_be_seen
from leitfaden_core.rigs import rig_channels
from leitfaden_core.wiring.circuits import CIRCUITS, circuits_of
from leitfaden_core.words import inside, say
from leitfaden_core.workings import workings

#: Conditions that somebody brings about beside the vehicle, without rollers.
STANDING = ("hot_idle", "long_idle", "no_load_1500", "no_load_2500", "koeo")
#: Plates that lie beside each other.
MOST_PLATES = 6


class Proving(Material):
    """From what the eye sees to the repair that is verified."""

    def plates(self) -> dict[str, Any] | None:
        """What the eye sees of the device's faults, unless that would show the lesson's own."""
        mine = {fault.kind for fault in self.plan.faults}
        fitting = (group for group in plate_groups() if set(group.kinds) & set(self.page.faults))
        group = next((group for group in fitting if not mine & set(group.kinds)), None)
        if group is None:
            return None
        return {
            "kind": "plates",
            "id": "what-the-eye-sees",
            "title": say("What the eye sees"),
            "text": say("The first test costs nothing: look. What does each of these tell?"),
            "plates": [plate.id for plate in group.plates][:MOST_PLATES],
        }

    def pins(self) -> dict[str, Any] | None:
        """A plug of several wires, on a sound engine: of the fault's circuit or of the device."""
        there = [CIRCUITS[name] for name in circuits_of(self.rig)]
        own = [CIRCUITS[name].wire for fault in self.plan.faults if (name := fault.params.get("circuit")) in CIRCUITS]
        plugs = [circuit.plug for circuit in there]
        many = {
            plug for plug, circuit in zip(plugs, there, strict=True) if circuit.on_reference or plugs.count(plug) > 1
        }
        wire = next((name for name in [*own, *self.page.wires] if name in many), None)
        if wire is None:
            return None
        return {
            "kind": "pins",
            "id": "which-pin-is-which",
            "title": say("Which pin is which?"),
            "text": say("A plug without a drawing. What a meter shows at each pin tells what it is."),
            "wire": wire,
            "vehicle": {"faults": []},
        }

    def live(self) -> dict[str, Any] | None:
        """The engine itself, on the conditions that hands bring about in the workshop."""
        places = different([(d.condition, d.channel) for d in self.seen if d.condition in STANDING], 2)
        lanes = to_be_seen(self._lanes())
        if not places or not lanes:
            return None
        return {
            "kind": "live",
            "id": "run-it-yourself",
            "title": say("Run it yourself"),
            "text": say(
                "The engine stands there and keeps its secret. Start it, bring it into the condition, read, "
                "and try what moves the reading and what does not."
            ),
            "channels": lanes,
            "hands": ["hoses", "plugs"],
            "instruments": ["multimeter"],
            "readings": [{"condition": where, "channel": name} for where, name in places],
            "words": 8,
        }

    def calculate(self) -> dict[str, Any] | None:
        wanted = [*self.plan.workings, *self.page.workings, "total_trim", "air_density", "three_rulers"]
        known = rig_channels(self.rig)
        for name in dict.fromkeys(wanted):
            working = workings.get(name)
            if all(entry.default is not None or entry.channel in known for entry in working.inputs):
                return {
                    "kind": "calculate",
                    "id": "work-it-out",
                    "title": say("Work it out: {working}", working=inside(working.label)),
                    "text": say(
                        "With the numbers of your own engine. Each line with its unit; a slip is carried "
                        "forward and counted once."
                    ),
                    "working": name,
                    "condition": self._condition_of(name),
                    "show_formulas": False,
                }
        return None

    def _condition_of(self, working: str) -> str:
        pull = working in {"volumetric_efficiency", "full_load_airflow"} and "wot_pull" in self.conditions
        return "wot_pull" if pull else self._usual_condition()

    def separate(self) -> dict[str, Any] | None:
        known = table(self.rig, workers=1)
        lists = [test.id for test in tests_of(self.rig) if test.instrument == "scan_tool"]
        alike = look_alikes(known, candidate_of(self.rig, self.fault).id, lists)
        by_id = {cause.id: cause for cause in known.candidates}
        other = next(
            (by_id[a.candidate] for a in alike if by_id[a.candidate].sizes and a.separation >= 3.0), None
        ) or next((candidate_of(self.rig, cause) for cause in self._other_causes()), None)
        if other is None or not other.sizes:
            return None
        second = other.sizes[len(other.sizes) // 2]
        telling = [a.test for a in alike if a.candidate == other.id]
        both = (candidate_of(self.rig, self.fault).id, other.id)
        near = [test for cause in both if cause in by_id for test in proving_tests(known, cause)]
        others = [
            "scan.no_load_2500.trims",
            "scan.cruise_80.trims",
            "codes",
            "meter.grounds",
            "look.coolant and thermostat",
            "look.fuel",
        ]
        there = {test.id for test in tests_of(self.rig)}
        offered = [name for name in dict.fromkeys([*telling, *near[:2], *others]) if name in there][:5]
        return {
            "kind": "separate",
            "id": "which-test",
            "title": say("Which test tells them apart?"),
            "text": say("Both fit what you have seen. One test parts them; what does each cost?"),
            "causes": [self.fault.model_dump(mode="json"), second.model_dump(mode="json")],
            "tests": offered,
        }

    def conclude(self) -> dict[str, Any] | None:
        own = different([(d.condition, d.channel) for d in self.seen], 5)
        causes = self._other_causes()[:MOST_OTHERS]
        # What the other causes would move and this one leaves alone rules them out.
        here, against = {(d.condition, d.channel) for d in self.seen}, []
        for cause in causes:
            shown = seen_on(self.rig, [cause], self.plan.script)
            moved = [(d.condition, d.channel) for d in shown if abs(d.deviations) >= TELLS]
            against += [place for place in moved if place not in here][:2]
        places = list(dict.fromkeys([*own, *against]))[:10]
        return {
            "kind": "conclude",
            "id": "one-cause",
            "title": say("Which cause explains all readings?"),
            "text": say("One cause has to explain every line, not only the one that caught your eye."),
            "readings": [{"condition": where, "channel": name} for where, name in places],
            "causes": [*(c.model_dump(mode="json") for c in (*self.plan.faults, *causes)), None],
            "together": [[c.model_dump(mode="json") for c in self.plan.faults]] if len(self.plan.faults) > 1 else [],
        }

    def order(self) -> dict[str, Any] | None:
        """The aim's own tests for the causes that are in question."""
        causes = [self.fault, *self._other_causes()[:2]]
        there = {test.id for test in tests_of(self.rig)}
        tests = [name for name in self.plan.tests if name in there][:5]
        if len(tests) < 3 or len(causes) < 2:
            return None
        return {
            "kind": "order",
            "id": "in-which-order",
            "title": say("In which order would you test?"),
            "text": say(
                "Next time you do not know which of these it is. Several orders are right; what does each cost?"
            ),
            "causes": [cause.model_dump(mode="json") for cause in causes],
            "tests": tests,
        }

    def verify(self) -> dict[str, Any]:
        """In the condition that shows the fault best, and in others."""
        best = next((d for d in self.seen if not channel(d.channel).unlearns), self.seen[0])
        here = [d.channel for d in self.seen if d.condition == best.condition][:4]
        elsewhere = [(d.condition, d.channel) for d in self.seen if d.condition != best.condition][:2]
        places = [*((best.condition, name) for name in here), *elsewhere]
        return {
            "kind": "verify",
            "id": "is-it-mended",
            "title": say("Is it mended?"),
            "text": say("A colleague has worked on it. Before and after: what do the readings say?"),
            "complaint": best.condition,
            "readings": [{"condition": where, "channel": name} for where, name in places],
        }

    def reflect(self) -> dict[str, Any]:
        return {
            "kind": "reflect",
            "id": "look-back",
            "title": say("Look back"),
            "text": say("Which single reading convinced you, and what would you have believed without it?"),
            "words": 8,
        }
