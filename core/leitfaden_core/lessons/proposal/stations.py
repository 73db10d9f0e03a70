"""The stations of a proposed lesson, in the order of the work: what its fault shows decides what each asks."""

from typing import Any

from leitfaden_core.atlas import Page, myths, page_on, pages
from leitfaden_core.cautions import CAUTIONS
from leitfaden_core.channels import Layer, channel
from leitfaden_core.diagnose import look_alikes, table
from leitfaden_core.diagnose.candidates import candidate_of
from leitfaden_core.diagnose.procedures import tests_of
from leitfaden_core.errors import LeitfadenError
from leitfaden_core.expect import load_sheet
from leitfaden_core.faults import FaultSpec, describe_fault, effects_on, offered_on
from leitfaden_core.judge import Departure
from leitfaden_core.judge.verdict import no_meaning
from leitfaden_core.lessons.document import Lesson, parse_lesson
from leitfaden_core.lessons.proposal.fault import SCRIPT, TELLS, seen_on
from leitfaden_core.rigs import Rig, rig_channels
from leitfaden_core.scripts import condition, load_script
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


class Making:
    """Stations in the making: what the fault shows decides what each of them asks."""

    def __init__(self, page: Page, rig: Rig, fault: FaultSpec, seen: list[Departure]) -> None:
        self.page, self.rig, self.fault, self.seen = page, rig, fault, seen
        self.bands = load_sheet(rig).bands
        self.conditions = load_script(SCRIPT).conditions()

    def lesson(self, stations: list[dict[str, Any]]) -> Lesson:
        """The lesson with these stations."""
        goal = say(
            "After this lesson, learners can say how a {device} works, tell its good values from faulty ones on the {rig}, and prove what is wrong.",
            device=self.page.title.lower(),
            rig=self.rig.name,
        )
        cautions = dict.fromkeys(name for way in self.page.tests for name in way.cautions)
        return parse_lesson(
            {
                "title": say("{device}, {rig}", device=self.page.title, rig=self.rig.name),
                "goal": goal,
                "rig": self.rig.id,
                "script": SCRIPT,
                "faults": [self.fault.model_dump(mode="json")],
                "cautions": [
                    say("A running engine gives off carbon monoxide: exhaust extraction on."),
                    *[CAUTIONS[name].words for name in cautions][:5],
                    say("Local codes, the maker's service information and licensed practice go first."),
                ],
                "stations": stations,
            }
        )

    def stations(self) -> list[dict[str, Any]]:
        """All of them, in the order of the work."""
        made = [
            self.explain(),
            self.myth(),
            self.show_good(),
            self.predict(),
            self.show_faulty(),
            self.measure(),
            self.judge(),
            self.calculate(),
            self.conclude(),
            self.separate(),  # it names the cause, so it comes behind
            self.reflect(),
        ]
        return [station for station in made if station is not None]

    def reasons(self) -> tuple[str, ...]:
        """Why it is as it is, for the trainer."""
        best = self.seen[0]
        return (
            say(
                "{fault}: {channel} at {condition} lies {away:.0f} standard deviations from healthy engines.",
                fault=describe_fault(self.fault),
                channel=channel(best.channel).label,
                condition=condition(best.condition).label.lower(),
                away=min(abs(best.deviations), 99.0),
            ),
            say(
                "{channel} tells it at once, so it is not among the lanes of the first look.",
                channel=channel(best.channel).label,
            ),
        )

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
        mine = [myth.id for myth in myths().values() if self.page.id in myth.pages]
        near = [m.id for m in myths().values() if m.id not in mine and set(m.pages) & self._family()]
        chosen = [*mine, *near][:6]
        if len(chosen) < 2:
            return None
        return {
            "kind": "myth",
            "id": "true-or-not",
            "title": say("True, or only said?"),
            "text": say("Call each statement true or not. Some of them are common and wrong."),
            "myths": chosen,
            "count": min(4, len(chosen)),
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
            "focus": "hot_idle",
            "vehicle": {"faults": []},
        }

    def _lanes(self) -> list[str]:
        """The device's own lanes and those of the mixture, without the one that gives the fault away."""
        hidden = self.seen[0].channel
        wanted = ["rpm", *self.page.channels, "total_trim", "stft", "maf", "map", "ect"]
        known = [
            name
            for name in dict.fromkeys(wanted)
            if name in rig_channels(self.rig) and channel(name).layer == Layer.SCAN and name != hidden
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
        examples = [line.example for line in page_on(self.page, self.rig).faults if line.kind != self.fault.kind]
        for fault in (*examples, *self._usual_causes()):
            seen = seen_on(self.rig, fault)
            if any(abs(d.deviations) >= TELLS for d in seen):
                return fault, seen
        return None, []

    def _steady(self, without: set[str], gone: set[tuple[str, str]]) -> list[tuple[str, str]]:
        """Displayed values that a fault leaves alone (it moves those ``gone``), of other channels than these."""
        found: list[tuple[str, str]] = [
            (where, name)
            for where in ("hot_idle", "cruise_80")
            for name in ("ect", "rpm", "battery_v", "iat", "total_trim", "maf", "map")
            if name in rig_channels(self.rig)
            and name not in without
            and (where, name, "mean") in self.bands
            and (where, name) not in gone
            and no_meaning(self.rig, where, name) is None
        ]
        return _different(found, 2)

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

    def judge(self) -> dict[str, Any]:
        """Readings that show the fault, readings that do not, and some that decide nothing."""
        telling = _different([(d.condition, d.channel) for d in self.seen if abs(d.deviations) >= TELLS / 2], 6)
        usual = [
            (where, name)
            for where in ("hot_idle", "cruise_80", "koeo", "no_load_2500", "wot_pull")
            for name in dict.fromkeys([*self.page.channels, "rpm", "ect", "total_trim"])
            if where in self.conditions
            and name in rig_channels(self.rig)
            and channel(name).layer == Layer.SCAN
            and (where, name, "mean") in self.bands
        ]
        pool = list(dict.fromkeys([*telling, *usual]))[:14]
        return {
            "kind": "judge",
            "id": "judge-these",
            "title": say("Judge these readings"),
            "text": say(
                "Some are from this engine, some from a sound one of the same type. Good, suspect, faulty, or not decidable here?"
            ),
            "pool": [{"condition": where, "channel": name} for where, name in pool],
            "count": min(6, len(pool)),
        }

    def calculate(self) -> dict[str, Any] | None:
        wanted = [*self.page.workings, "total_trim", "air_density", "three_rulers"]
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
                    "condition": "wot_pull" if name in {"volumetric_efficiency", "full_load_airflow"} else "hot_idle",
                    "show_formulas": False,
                }
        return None

    # Separate and conclude.

    def separate(self) -> dict[str, Any] | None:
        known = table(self.rig, workers=1)
        lists = [test.id for test in tests_of(self.rig) if test.instrument == "scan_tool"]
        alike = look_alikes(known, candidate_of(self.rig, self.fault).id, lists)
        by_id = {cause.id: cause for cause in known.candidates}
        other = next(
            (by_id[a.candidate] for a in alike if by_id[a.candidate].sizes and a.separation >= 3.0), None
        ) or next((candidate_of(self.rig, cause) for cause in self._usual_causes()), None)
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
        """What everybody thinks of first, as far as this engine can have it; none of the lesson's own kind."""
        offered = offered_on(self.rig)
        found = []
        for told in _USUAL_CAUSES:
            if told["kind"] in offered and told["kind"] != self.fault.kind:
                cause = FaultSpec.model_validate(told)
                try:
                    effects_on(cause, self.rig)
                except LeitfadenError:
                    continue
                found.append(cause)
        return found

    def conclude(self) -> dict[str, Any]:
        own = _different([(d.condition, d.channel) for d in self.seen], 5)
        causes = self._usual_causes()[:4]
        # What the other causes would move and this one leaves alone rules them out.
        against = []
        for cause in causes:
            moved = [(d.condition, d.channel) for d in seen_on(self.rig, cause) if abs(d.deviations) >= TELLS]
            against += [place for place in moved if place not in {(d.condition, d.channel) for d in self.seen}][:2]
        places = list(dict.fromkeys([*own, *against]))[:10]
        return {
            "kind": "conclude",
            "id": "one-cause",
            "title": say("Which cause explains all readings?"),
            "text": say("One cause has to explain every line, not only the one that caught your eye."),
            "readings": [{"condition": where, "channel": name} for where, name in places],
            "causes": [self.fault.model_dump(mode="json"), *(c.model_dump(mode="json") for c in causes), None],
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
