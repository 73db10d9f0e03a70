"""The monitor of the catalyst."""

import numpy as np

from leitfaden_core.monitors.logic import Once, Test, Values, monitor
from leitfaden_core.rigs import Rig
from leitfaden_core.simulate.shape import rising_crossings

#: How long a steady monitor reads. [s]
STEADY = 20.0


@monitor("P0420", "catalyst", "ho2s_b1s2")
def _catalyst(rig: Rig) -> Test:
    """The rear sensor swings nearly as often and wide as the front one, or as what the loop forces, at steady cruise,
    once per trip.
    """
    wide = "wideband" in rig.features
    column = "lambda_wideband" if wide else "ho2s_b1s1_v"

    def follows(values: dict[str, Values]) -> bool:
        front, rear = values[column], values["ho2s_b1s2_v"]
        swings = rising_crossings(front, 1.0, 0.003) if wide else rising_crossings(front, 0.45)
        wanted = FOLLOWING_SWING if wide else 0.5 * float(np.std(front))
        return (
            swings > 5 and rising_crossings(rear, float(np.median(rear))) > 0.7 * swings and bool(np.std(rear) > wanted)
        )

    return Once(lambda drive: drive.is_in("cruise_80"), STEADY, (column, "ho2s_b1s2_v"), follows)


#: Standard deviation of a rear sensor behind a catalyst that stores nothing, with the forced swing of a wideband loop.
#: [V]
FOLLOWING_SWING = 0.125
