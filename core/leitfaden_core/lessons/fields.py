"""What the fields of lessons and stations are called."""

from leitfaden_core.words import say

_CALLED = {
    "as_traces": "shown as traces",
    "answers": "answers of the tool a second",
    "causes": "causes",
    "cautions": "cautions",
    "channels": "lanes",
    "closed_book": "closed book",
    "complaint": "complaint",
    "condition": "condition",
    "count": "how many",
    "drawing": "drawing",
    "drives": "drives",
    "engines": "engines",
    "error_percent": "error of an engine of their own, %",
    "faults": "what is wrong",
    "faulty": "values of the faulty engine",
    "faulty_percent": "faulty engines, %",
    "focus": "condition to look at",
    "given": "values that are given",
    "given_if": "given if",
    "goal": "goal",
    "hands": "what learners may do",
    "id": "id",
    "instruments": "instruments",
    "kind": "kind",
    "level": "level",
    "minutes": "minutes",
    "myths": "statements",
    "or_else": "or else wrong",
    "overrides": "overruled keys",
    "own": "statements of one's own",
    "piece": "procedure",
    "pictures": "pictures",
    "place": "place",
    "plates": "traces",
    "pool": "readings to draw from",
    "reading": "reading",
    "readings": "readings",
    "rig": "engine",
    "schema_version": "version of the document's form",
    "script": "drive script",
    "show_formulas": "formulas shown",
    "show_good": "sound engine shown",
    "start": "how the engine stands at first",
    "stations": "stations",
    "tell_fault": "fault told",
    "tests": "tests",
    "text": "text",
    "title": "title",
    "together": "causes that act together",
    "tolerance_percent": "tolerance, %",
    "vehicle": "engine of its own",
    "wire": "wire",
    "words": "words asked for",
    "working": "working",
}


def field_name(field: str) -> str:
    """What a field is called.

    >>> field_name("closed_book")
    'closed book'
    """
    return say(_CALLED[field])
