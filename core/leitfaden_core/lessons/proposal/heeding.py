"""What the checks of fairness complain about is taken out of a proposed lesson, or exchanged: the first remedy of each
warning is made; a station without one goes.
"""

from leitfaden_core.lessons.checks import check_lesson, remedied
from leitfaden_core.lessons.document import Lesson
from leitfaden_core.lessons.kind import FairnessWarning, taking_out

#: Rounds of mending; what still warns then is dropped.
ROUNDS = 6


def heeded(lesson: Lesson) -> Lesson:
    """The lesson without what the checks of fairness complain about."""
    for left in range(ROUNDS, -1, -1):
        warnings = check_lesson(lesson)
        if not warnings:
            return lesson
        first: dict[str, FairnessWarning] = {}
        for warning in warnings:
            first.setdefault(warning.station, warning)
        for warning in first.values():
            own = [remedy for remedy in warning.remedies if not remedy.lesson]  # the lesson's fault stays
            lesson = remedied(lesson, warning.station, own[0] if left and own else taking_out())
    return lesson
