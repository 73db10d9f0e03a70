"""JSON in and out, strictly: what comes in is bounded and made of plain values; what goes out has no NaN."""

from typing import Any

import orjson
from django.http import HttpRequest
from ninja.parser import Parser
from ninja.renderers import BaseRenderer

from api.problems import Refused
from leitfaden_core.words import say

#: Deeper or longer than any document that people write.
DEEPEST, MOST_VALUES, LONGEST_TEXT = 24, 50_000, 100_000


class StrictParser(Parser):
    """No NaN, no lone surrogates, no NUL; depth, number of values and length of texts are bounded."""

    def parse_body(self, request: HttpRequest) -> Any:
        """The body as plain values; Refused says what is wrong with it."""
        try:
            data = orjson.loads(request.body)
        except orjson.JSONDecodeError as error:
            raise BadRequest(
                say(
                    "The request is not JSON: {reason} (line {line}, column {column}).",
                    reason=error.msg,
                    line=error.lineno,
                    column=error.colno,
                )
            ) from error
        check_plain(data)
        return data


class BadRequest(Refused):
    status = 400
    code = "bad_request"


def check_plain(data: Any) -> None:
    """Refuse what no later view could show or no database could keep."""
    left, stack = MOST_VALUES, [(data, 0)]
    while stack:
        value, depth = stack.pop()
        left -= 1
        if depth > DEEPEST or left < 0:
            raise BadRequest(
                say(
                    "The request is nested deeper than {deepest} levels or holds more than {most} values.",
                    deepest=DEEPEST,
                    most=MOST_VALUES,
                )
            )
        if isinstance(value, str):
            _check_text(value)
        elif isinstance(value, dict):
            for name in value:
                _check_text(name)
            stack += [(part, depth + 1) for part in value.values()]
        elif isinstance(value, list):
            stack += [(part, depth + 1) for part in value]


def _check_text(text: str) -> None:
    if len(text) > LONGEST_TEXT:
        raise BadRequest(say("A text of the request is longer than {most} characters.", most=LONGEST_TEXT))
    if "\0" in text:
        raise BadRequest("A text of the request holds the character NUL, which cannot be kept.")


class StrictRenderer(BaseRenderer):
    """Strict JSON: what is not a number becomes null."""

    media_type = "application/json"

    def render(self, request: HttpRequest, data: Any, *, response_status: int) -> bytes:
        """The answer as bytes."""
        return orjson.dumps(data, option=orjson.OPT_SERIALIZE_NUMPY | orjson.OPT_NON_STR_KEYS)
