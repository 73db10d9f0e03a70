"""A bench: an engine that runs under hands, its undisturbed twin beside it, and everything that was done to it."""

from leitfaden_core.live.bench import Beginning, Bench, Done, Portion
from leitfaden_core.live.circuit import circuit_of
from leitfaden_core.live.compared import BenchReading, KeptReading, TwinShown, judge_kept
from leitfaden_core.live.cover import HANDS, Cover, Hand, to_be_seen
from leitfaden_core.live.doings import DOING, Doing, doing_of
from leitfaden_core.live.history import PICTURE_ROWS, Picture
from leitfaden_core.live.judging import judged
from leitfaden_core.live.layers import parted
from leitfaden_core.live.present import Present, present, undisturbed
from leitfaden_core.live.reach import Reach, reach_of
from leitfaden_core.live.scripting import Driven, script_of
from leitfaden_core.live.stretch import stretch_of
from leitfaden_core.live.together import Together, judge_together
from leitfaden_core.live.told import told

__all__ = [
    "Beginning",
    "Bench",
    "BenchReading",
    "Cover",
    "DOING",
    "Doing",
    "Done",
    "Driven",
    "HANDS",
    "Hand",
    "KeptReading",
    "PICTURE_ROWS",
    "Picture",
    "Portion",
    "Present",
    "Reach",
    "Together",
    "TwinShown",
    "circuit_of",
    "doing_of",
    "judge_kept",
    "judge_together",
    "judged",
    "parted",
    "present",
    "reach_of",
    "script_of",
    "stretch_of",
    "to_be_seen",
    "told",
    "undisturbed",
]
