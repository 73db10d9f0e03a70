"""A bench: an engine that runs under hands, its undisturbed twin beside it, and everything that was done to it."""

from leitfaden_core.live.bench import Beginning, Bench, Done, Portion
from leitfaden_core.live.doings import DOING, Doing, doing_of
from leitfaden_core.live.history import PICTURE_ROWS, Picture

__all__ = ["Beginning", "Bench", "DOING", "Doing", "Done", "PICTURE_ROWS", "Picture", "Portion", "doing_of"]
