"""The size of a fault follows the learner: three found in a row make it smaller, one missed makes it larger.

The rule settles where a fault is found with a chance of 0.5^(1/3), 79 %: in four of five (Levitt 1971, J. Acoust. Soc.
Am. 49, 467). Steps are ratios of the size; they are halved after two turns.
"""

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

#: Found in a row before the fault becomes smaller.
IN_A_ROW = 3
#: Ratio of one step, before and after the second turn.
COARSE, FINE = 2.0**0.5, 2.0**0.25
#: Sizes, as shares of the size that an entry names.
SMALLEST, LARGEST = 0.05, 1.5
#: Turns from which on a threshold is told, and how many of the last ones it is taken from.
TURNS_NEEDED, TURNS_TAKEN = 4, 6


class Staircase(BaseModel):
    """Where a learner stands with a kind of fault: the share of its size that comes next, how many were found in a row,
    the way it went last (-1: smaller, 1: larger, 0: nowhere yet), and the shares at which the way turned.
    """

    model_config = ConfigDict(frozen=True)

    share: Annotated[float, Field(ge=SMALLEST, le=LARGEST)] = 1.0
    row: int = 0
    way: int = 0
    turns: tuple[float, ...] = ()

    def after(self, found: bool) -> "Staircase":
        """The state after a faulty engine was found, or missed."""
        if found and self.row + 1 < IN_A_ROW:
            return self.model_copy(update={"row": self.row + 1})
        way = -1 if found else 1
        turns = (*self.turns, self.share) if self.way not in (0, way) else self.turns
        ratio = COARSE if len(turns) < 2 else FINE
        share = self.share / ratio if found else self.share * ratio
        return Staircase(share=min(max(share, SMALLEST), LARGEST), row=0, way=way, turns=turns)

    @property
    def threshold(self) -> float | None:
        """The share that is found in four of five: the geometric mean of the last turns, an even number of them; None
        before there are enough.
        """
        if len(self.turns) < TURNS_NEEDED:
            return None
        taken = self.turns[-min(TURNS_TAKEN, len(self.turns) // 2 * 2) :]
        product = 1.0
        for share in taken:
            product *= share
        return float(product ** (1.0 / len(taken)))
