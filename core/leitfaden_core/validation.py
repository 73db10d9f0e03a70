"""What is wrong with a document, in our own words: the validation library's messages are for programmers."""

from collections.abc import Callable, Container, Mapping
from typing import Any

from pydantic import ValidationError

from leitfaden_core.errors import LeitfadenError
from leitfaden_core.words import in_language, say

#: Kind of the library's error -> what would be right, from its details.
_SENTENCES: dict[str, Callable[[Mapping[str, Any]], str]] = {
    "missing": lambda told: "is missing",
    "extra_forbidden": lambda told: "is not known here",
    "string_type": lambda told: "must be text",
    "string_unicode": lambda told: "must be text",
    "int_type": lambda told: "must be a whole number",
    "int_parsing": lambda told: "must be a whole number",
    "int_from_float": lambda told: "must be a whole number",
    "float_type": lambda told: "must be a number",
    "float_parsing": lambda told: "must be a number",
    "finite_number": lambda told: "must be a finite number",
    "bool_type": lambda told: "must be true or false",
    "bool_parsing": lambda told: "must be true or false",
    "list_type": lambda told: "must be a list",
    "dict_type": lambda told: "must be a set of named values",
    "model_type": lambda told: "must be a set of named values",
    "model_attributes_type": lambda told: "must be a set of named values",
    "greater_than": lambda told: say("must be more than {gt:g}", gt=told["gt"]),
    "greater_than_equal": lambda told: say("must be {ge:g} at least", ge=told["ge"]),
    "less_than": lambda told: say("must be less than {lt:g}", lt=told["lt"]),
    "less_than_equal": lambda told: say("must be {le:g} at most", le=told["le"]),
    "string_too_short": lambda told: (
        "must not be empty"
        if told["min_length"] == 1
        else say("must have {min_length} characters at least", min_length=told["min_length"])
    ),
    "string_too_long": lambda told: say("may have {max_length} characters at most", max_length=told["max_length"]),
    "too_short": lambda told: (
        "must not be empty"
        if told["min_length"] == 1
        else say("must have {min_length} entries at least", min_length=told["min_length"])
    ),
    "too_long": lambda told: say("may have {max_length} entries at most", max_length=told["max_length"]),
    "literal_error": lambda told: say("must be one of {expected}", expected=told["expected"]),
    "enum": lambda told: say("must be one of {expected}", expected=told["expected"]),
    "union_tag_invalid": lambda told: say(
        "is of an unknown kind '{tag}'; known: {expected_tags}", tag=told["tag"], expected_tags=told["expected_tags"]
    ),
    "union_tag_not_found": lambda told: "does not say of which kind it is",
    "string_pattern_mismatch": lambda told: "is not written as it should be",
    "json_invalid": lambda told: "cannot be read",
    "none_required": lambda told: "must be left out",
}


def first_wrong(error: ValidationError, skip: Container[object] = ()) -> tuple[str, str]:
    """The place of the first thing that is wrong, such as «windows.2.end», empty for the document itself, and what
    would be right there. ``skip``: parts of places that readers do not know.
    """
    first = error.errors()[0]
    return ".".join(str(part) for part in first["loc"] if part not in skip), explained(first)


def explained(error: Mapping[str, Any]) -> str:
    """One entry of a validation error as the end of a sentence about its place, such as «must be a number».

    What our own checks have said stays as they said it.

    >>> explained({"type": "less_than_equal", "msg": "Input should be less than or equal to 40", "ctx": {"le": 40}})
    'must be 40 at most'
    """
    told = error.get("ctx") or {}
    cause = told.get("error")
    if isinstance(cause, LeitfadenError):
        return cause.message
    kind = str(error.get("type", ""))
    if kind == "value_error":
        return str(error.get("msg", "")).removeprefix("Value error, ")
    sentence = _SENTENCES.get(kind)
    return str(in_language(sentence(told) if sentence is not None else "cannot be understood"))
