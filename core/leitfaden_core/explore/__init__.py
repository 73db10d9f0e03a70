"""Drawings that can be taken in hand: each is a small registered class of its own whose numbers the model computes."""

from leitfaden_core.explore import kinds as _kinds  # registers the drawings
from leitfaden_core.explore.drawing import Curve, Drawing, Hand, Hands, Pose, Seen, Shown, Trace, drawings, showing

__all__ = ["Curve", "Drawing", "Hand", "Hands", "Pose", "Seen", "Shown", "Trace", "drawings", "showing"]

del _kinds
