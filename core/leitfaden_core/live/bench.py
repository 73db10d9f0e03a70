"""An engine on a bench: it goes on frame by frame, is acted on, and can be brought back from what was done to it."""

from dataclasses import dataclass, field
from typing import Annotated, Any, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field

from leitfaden_core.errors import LeitfadenError
from leitfaden_core.faults import FaultSpec
from leitfaden_core.live.doings import perform, reaches_twin
from leitfaden_core.live.history import History
from leitfaden_core.live.recent import AT_HAND, Recent
from leitfaden_core.monitors import OnBoardDiagnosis, Report
from leitfaden_core.rigs import Rig, load_rig
from leitfaden_core.scripts.document import Surroundings
from leitfaden_core.simulate import FRAME, Machine, actions
from leitfaden_core.simulate.layout import blank_rows
from leitfaden_core.simulate.naming import Naming
from leitfaden_core.simulate.run import settle_memory
from leitfaden_core.words import say

#: Rows that wait for the naming of conditions, and for the monitors: both answer in any portions, and few large ones
#: cost less than many small ones. [frames]
NAMED, LISTENED = 100, 200
#: Rows of a moment, and of a part in which a long portion goes by. [frames]
MOMENT, PART = 100, 500
#: A bench that has run for so long is opened anew. [s]
LONGEST = 4.0 * 3600.0


class Beginning(BaseModel):
    """How a bench begins: which engine, after what, with which faults in it for days already."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    rig: Annotated[str, Field(max_length=20)]
    seed: Annotated[int, Field(ge=0, le=2**31 - 1)] = 0
    start: Literal["cold", "hot"] = "hot"
    weather: Surroundings | None = None
    faults: Annotated[tuple[FaultSpec, ...], Field(max_length=8)] = ()
    individual: dict[str, float] = {}


@dataclass(frozen=True)
class Done:
    """Something that was done, and in which frame of the bench."""

    frame: int
    doing: Any

    @property
    def seconds(self) -> float:
        """How long after the bench was put up. [s]"""
        return self.frame * FRAME


@dataclass(frozen=True)
class Portion:
    """Rows of ``layout.LANES`` from a frame on: of the engine, and of its undisturbed twin."""

    first: int
    rows: NDArray[np.void]
    twin: NDArray[np.void]


def fault_name(k: int) -> str:
    """What the fault number ``k`` of a beginning, from 0 on, is called on its bench."""
    return f"fault {k + 1}"


class Bench:
    """An engine under hands, with monitors that run along and an undisturbed twin.

    Frames of the bench count what was seen: what passed unseen, as a night does, takes none of them.
    """

    def __init__(self, beginning: Beginning) -> None:
        self.beginning, self.frame = beginning, 0
        self.rig: Rig = load_rig(beginning.rig)
        faults = list(beginning.faults)
        self.machine = self._engine(faults)
        self.twin = self._engine([])
        self.diagnosis = OnBoardDiagnosis(self.rig)
        self.machine.follow(_Cleared(self.diagnosis, self._listen))
        self.naming = Naming(self.rig)
        self.history = History(self.rig)
        self.journal: list[Done] = []
        self._recent = (Recent(), Recent())
        #: Frame up to which monitors have heard, and the naming of conditions.
        self.heard = self._named = 0
        self._named_since = 0

    def _engine(self, faults: list[FaultSpec]) -> Machine:
        wish = self.beginning
        learned = settle_memory(self.rig, faults, wish.seed, wish.individual)
        machine = Machine(self.rig, wish.seed, wish.individual, wish.start, learned, wish.weather)
        for k, fault in enumerate(faults):
            machine.act(actions.PutFault(name=fault_name(k), fault=fault))
        if wish.start == "cold":
            machine.act(actions.TurnKey(to="off"))
        return machine

    @classmethod
    def replayed(cls, beginning: Beginning, journal: list[Done], frame: int) -> "Bench":
        """A bench as it was in a frame, from what was done to it until then: the same bits."""
        bench = cls(beginning)
        for done in journal:
            bench.go_to(done.frame)
            bench.do(done.doing)
        bench.go_to(frame)
        return bench

    @property
    def seconds(self) -> float:
        """Time that was seen. [s]"""
        return self.frame * FRAME

    def do(self, doing: Any) -> Done:
        """Do something, from the next frame on.

        Raises
        ------
        LeitfadenError
            When it cannot be done; nothing has changed then.
        """
        self.history.before(self.frame, self.machine, self.twin)
        perform(doing, self.machine, self.beginning.individual)
        if reaches_twin(doing):
            perform(doing, self.twin, self.beginning.individual)
        done = Done(self.frame, doing)
        self.journal.append(done)
        self.history.done(done)
        return done

    def advance(self, frames: int) -> Portion:
        """Go on by some frames of 10 ms."""
        if self.seconds > LONGEST:
            raise LeitfadenError(
                say("this bench has run for four hours: keep what matters as a recording, and open a new one")
            )
        portion = Portion(self.frame, blank_rows(frames), blank_rows(frames))
        for first in range(0, frames, PART):
            part = slice(first, first + PART)
            self._go_on(portion.rows[part], portion.twin[part])
        return portion

    def _go_on(self, rows: NDArray[np.void], twin: NDArray[np.void]) -> None:
        self.history.before(self.frame, self.machine, self.twin)
        self.machine.advance(len(rows), rows)
        self.twin.advance(len(twin), twin)
        self.frame += len(rows)
        self.history.feed(rows, twin)
        self._recent[0].append(rows)
        self._recent[1].append(twin)
        if self.frame - self._named >= NAMED:
            self._name()
        if self.frame - self.heard >= LISTENED:
            self._listen()

    @property
    def moment(self) -> Portion | None:
        """Rows of about the last second; None before anything was."""
        return self._at_hand(MOMENT) if self.frame else None

    @property
    def spell(self) -> Portion | None:
        """Rows of the named condition that it is in, of the last ten seconds at most; None while it is in none."""
        if self.naming.now is None:
            return None
        return self._at_hand(min(self.frame - self._named_since, AT_HAND))

    def _at_hand(self, frames: int) -> Portion:
        """The last rows, as far as there are so many."""
        rows, twin = self._recent[0].last(frames), self._recent[1].last(frames)
        return Portion(self.frame - len(rows), rows, twin)

    def go_to(self, frame: int) -> None:
        """Go on until a frame that is to come, without keeping its rows."""
        while self.frame < frame:
            self.advance(min(frame - self.frame, PART))

    def _listen(self) -> None:
        """Monitors hear what they have not heard yet."""
        rows = self._recent[0].last(self.frame - self.heard)
        self.heard = self.frame
        if len(rows):
            self.diagnosis.feed(rows)

    def _name(self) -> None:
        rows = self._recent[0].last(self.frame - self._named)
        self._named = self.frame
        before = self.naming.now
        self.naming.feed(rows)
        if self.naming.now != before:
            self._named_since = self.frame

    @property
    def condition(self) -> str | None:
        """The named condition that it is in, from its state."""
        return self.naming.now

    @property
    def report(self) -> Report:
        """Codes, lamp and readiness as the control unit has them now."""
        self._listen()
        return self.diagnosis.report()

    def rows(self, first: int, last: int) -> Portion:
        """Rows of a stretch that has been, from ``first`` to before ``last``, computed again: the same bits."""
        return Portion(first, *self.history.rows(first, min(last, self.frame), self.beginning.individual))


@dataclass
class _Cleared:
    """Follows a machine only to hear that codes are cleared."""

    diagnosis: OnBoardDiagnosis
    listen: Any = field(repr=False)

    def feed(self, rows: NDArray[np.void]) -> None:
        """Rows come in larger portions, from the bench."""

    def clear(self) -> None:
        """Whatever was found until now is forgotten."""
        self.listen()
        self.diagnosis.clear()

    def __deepcopy__(self, memo: Any) -> "_Cleared":
        return self  # an instant of the machine is none of the monitors: a bench is brought back by replay
