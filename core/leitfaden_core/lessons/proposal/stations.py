"""The stations of a proposed lesson, in the order of the work: what its fault shows decides what each asks."""

from typing import Any

from leitfaden_core.atlas import myths, page_on, pages, plate_groups
from leitfaden_core.cautions import CAUTIONS
from leitfaden_core.channels import Layer, channel
from leitfaden_core.diagnose import look_alikes, table
from leitfaden_core.diagnose.candidates import candidate_of
from leitfaden_core.diagnose.procedures import tests_of
from leitfaden_core.expect import load_sheet
from leitfaden_core.faults import FaultSpec, offered_on
from leitfaden_core.judge import Departure
from leitfaden_core.judge.verdict import no_meaning
from leitfaden_core.lessons.document import Lesson, parse_lesson
from leitfaden_core.lessons.kinds import kind_called
from leitfaden_core.lessons.proposal.plan import TELLS, Plan, in_words, possible, seen_on
from leitfaden_core.live import to_be_seen
from leitfaden_core.live.circuit import plug_of
from leitfaden_core.rigs import rig_channels
from leitfaden_core.scripts import condition, load_script
from leitfaden_core.simulate import stored_statistics
from leitfaden_core.wiring.circuits import CIRCUITS, circuits_of
from leitfaden_core.words import say
from leitfaden_core.workings import workings

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

#: Conditions that somebody brings about beside the vehicle, without rollers.
STANDING = ("hot_idle", "long_idle", "no_load_1500", "no_load_2500", "koeo")
#: Plates that lie beside each other; causes besides the fault from which a station concludes.
MOST_PLATES, MOST_OTHERS = 6, 4


class Making:
    """Stations in the making: what the fault shows decides what each of them asks."""

    def __init__(self, plan: Plan) -> None:
        self.plan, self.page, self.rig, self.fault, self.seen = plan, plan.page, plan.rig, plan.fault, plan.seen
        self.bands = load_sheet(plan.rig).bands
        self.conditions = load_script(plan.script).conditions()

    def lesson(self, stations: list[dict[str, Any]]) -> Lesson:
        """The lesson with these stations."""
        made = parse_lesson(
            {
                "title": self.plan.title,
                "goal": self.plan.goal,
                "rig": self.rig.id,
                "script": self.plan.script,
                "faults": [fault.model_dump(mode="json") for fault in self.plan.faults],
                "stations": stations,
            }
        )
        asked = [name for station in made.stations for name in kind_called(station.kind).cautions(station)]
        told = [name for way in self.page.tests for name in way.cautions]
        cautions = [
            say("A running engine gives off carbon monoxide: exhaust extraction on."),
            *[CAUTIONS[name].words for name in dict.fromkeys([*asked, *told[:5]])],
            say("Local codes, the maker's service information and licensed practice go first."),
        ]
        return made.model_copy(update={"cautions": cautions})

    def stations(self) -> list[dict[str, Any]]:
        """All of them, in the order of the work."""
        # What several of them look at, at once on all cores instead of one after the other.
        looked_at = [[], *([cause] for cause in self._other_causes()[:MOST_OTHERS])]
        stored_statistics(self.rig, load_script(self.plan.script), looked_at)
        made = [
            self.explain(),
            self.myth(),
            self.show_good(),
            self.predict(),
            self.show_faulty(),
            self.measure(),
            self.sheet(),
            self.judge(),
            self.plates(),
            self.pins(),
            self.live(),
            self.calculate(),
            self.conclude(),
            self.separate(),  # it names the cause, so it comes behind
            self.order(),
            self.verify(),
            self.reflect(),
        ]
        return [station for station in made if station is not None]

    def reasons(self) -> tuple[str, ...]:
        """Why it is as it is, for the trainer."""
        best = self.seen[0]
        told = say(
            "{fault}: {channel} at {condition} lies {away:.0f} standard deviations from healthy engines.",
            fault=in_words(self.plan.faults),
            channel=channel(best.channel).label,
            condition=condition(best.condition).label.lower(),
            away=min(abs(best.deviations), 99.0),
        )
        hidden = [channel(name).label for name in self._hidden() if name in rig_channels(self.rig)]
        because = self.plan.hidden_because or say("It tells the fault at once.")
        return (
            told,
            say(
                "Not among the lanes of the first look: {channels}. {because}",
                channels=", ".join(hidden),
                because=because,
            ),
        )

    def _hidden(self) -> tuple[str, ...]:
        """Lanes that would give the fault away before it is looked for."""
        return self.plan.hidden or (self.seen[0].channel,)

    # Understand.

    def explain(self) -> dict[str, Any]:
        return {
            "kind": "explain",
            "id": "how-it-works",
            "title": say("How it works: {device}", device=self.page.title.lower()),
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

    def _family(self) -> set[str]:
        return {page.id for page in pages().values() if page.family == self.page.family}

    # Know good, then watch.

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

    def predict(self) -> dict[str, Any] | None:
        """With another fault of the device: to name the lesson's own here would answer the stations behind."""
        other, seen = self._another()
        if other is None:
            return None
        moved = [(d.condition, d.channel) for d in seen if abs(d.deviations) >= TELLS]
        chosen = _different(moved, 3)
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
        return _different(found, 2)

    def _calm(self) -> list[str]:
        """Conditions of the drive in which an engine runs steadily, or else all."""
        steady: tuple[str, ...] = ("hot_idle", "cruise_80", "long_idle", "no_load_1500")
        return [where for where in steady if where in self.conditions] or list(self.conditions)

    def _usual_condition(self) -> str:
        return self._calm()[0]

    def show_faulty(self) -> dict[str, Any]:
        return {
            "kind": "show",
            "id": "watch-it-run",
            "title": say("Watch it run"),
            "text": say(
                "Thin line: a sound engine of the same type. Strong line: this one. Where do they part, and in which condition?"
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
        telling = _different([(d.condition, d.channel) for d in self.seen if abs(d.deviations) >= TELLS], 3)
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
                "Some are from this engine, some from a sound one of the same type. Good, suspect, faulty, or not decidable here?"
            ),
            "pool": [{"condition": where, "channel": name, "stat": stat} for where, name, stat in pool],
            "count": min(6, len(pool)),
        }

    # Look, prove the circuit, stimulate.

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
        plugs = [plug_of(circuit) for circuit in there]
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
        places = _different([(d.condition, d.channel) for d in self.seen if d.condition in STANDING], 2)
        lanes = to_be_seen(self._lanes())
        if not places or not lanes:
            return None
        return {
            "kind": "live",
            "id": "run-it-yourself",
            "title": say("Run it yourself"),
            "text": say(
                "The engine stands there and keeps its secret. Start it, bring it into the condition, read, and try what moves the reading and what does not."
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
                    "title": say("Work it out: {working}", working=working.label.lower()),
                    "text": say(
                        "With the numbers of your own engine. Each line with its unit; a slip is carried forward and counted once."
                    ),
                    "working": name,
                    "condition": self._condition_of(name),
                    "show_formulas": False,
                }
        return None

    def _condition_of(self, working: str) -> str:
        pull = working in {"volumetric_efficiency", "full_load_airflow"} and "wot_pull" in self.conditions
        return "wot_pull" if pull else self._usual_condition()

    # Separate and conclude.

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
        label = next((a.separated_by for a in alike if a.candidate == other.id), "")
        telling = [test.id for test in tests_of(self.rig) if test.label == label]
        mine = [self.fault.kind, second.kind]
        near = [test.id for test in tests_of(self.rig) if any(kind.split("_")[0] in test.id for kind in mine)]
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

    def conclude(self) -> dict[str, Any] | None:
        own = _different([(d.condition, d.channel) for d in self.seen], 5)
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
        best = next((d for d in self.seen if not d.channel.startswith(("stft", "ltft"))), self.seen[0])
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


def _different(places: list[tuple[str, str]], most: int) -> list[tuple[str, str]]:
    """The first places of so many, each channel once."""
    found: dict[str, tuple[str, str]] = {}
    for where, name in places:
        found.setdefault(name, (where, name))
    return list(found.values())[:most]
