"""The stations of a proposed lesson, in the order of the work: what its fault shows decides what each asks."""

from typing import Any

from leitfaden_core.cautions import CAUTIONS
from leitfaden_core.channels import channel
from leitfaden_core.lessons.document import Lesson, parse_lesson
from leitfaden_core.lessons.kinds import kind_called
from leitfaden_core.lessons.proposal.material import MOST_OTHERS
from leitfaden_core.lessons.proposal.plan import in_words
from leitfaden_core.lessons.proposal.proving import Proving
from leitfaden_core.lessons.proposal.understanding import Understanding
from leitfaden_core.rigs import rig_channels
from leitfaden_core.scripts import condition, load_script
from leitfaden_core.simulate import stored_statistics
from leitfaden_core.words import inside, say


class Making(Understanding, Proving):
    """Stations in the making: what the fault shows decides what each of them asks."""

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
            condition=inside(condition(best.condition).label),
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
