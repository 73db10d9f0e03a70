"""Errors as structured answers: always a code and a sentence, never a traceback."""

import logging
import math
import sys
from typing import Any

from django.core.exceptions import RequestDataTooBig
from django.db import InterfaceError, OperationalError
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from ninja import NinjaAPI
from ninja.errors import HttpError, ValidationError

from api.problems import Refused, problem
from leitfaden_core.errors import LeitfadenError
from leitfaden_core.validation import explained

_log = logging.getLogger("leitfaden")
UNEXPECTED = "Something went wrong on the server. What you have entered is still on your screen; try again."
NO_DATABASE = (
    "The database does not answer at the moment. Nothing that was acknowledged is lost; what you have just "
    "entered is kept on this page and can be sent again in a few seconds."
)
NO_SPACE = (
    "The server's disk is full, so nothing can be stored now. Nothing that was acknowledged is lost; what you "
    "have just entered is kept on this page."
)
#: Seconds after which a database that was lost is usually back.
DATABASE_BACK = 3


def install_error_handlers(api: NinjaAPI) -> None:
    """Register an answer for everything that can go wrong."""

    def answer(request: HttpRequest, status: int, code: str, message: str, **parts: Any) -> HttpResponse:
        return api.create_response(request, problem(code, message, **parts), status=status)

    @api.exception_handler(Refused)
    def _refused(request: HttpRequest, error: Refused) -> HttpResponse:
        response = answer(request, error.status, error.code, error.message, **error.parts())
        if error.retry_after is not None:
            response.headers["Retry-After"] = str(max(math.ceil(error.retry_after), 1))
        return response

    @api.exception_handler(LeitfadenError)
    def _core(request: HttpRequest, error: LeitfadenError) -> HttpResponse:
        return answer(request, 422, error.code, error.message, place=str(error.parts.get("place", "")))

    @api.exception_handler(ValidationError)
    def _validation(request: HttpRequest, error: ValidationError) -> HttpResponse:
        first = error.errors[0] if error.errors else {"loc": (), "type": "json_invalid"}
        place = ".".join(str(part) for part in first["loc"] if part not in {"body", "payload"})
        return answer(
            request,
            422,
            "bad_request",
            f"{place or 'request'}: {explained(first)}",
            place=place,
        )

    @api.exception_handler(HttpError)
    def _http(request: HttpRequest, error: HttpError) -> HttpResponse:
        if isinstance(error.__cause__, Refused):  # the parser's own words
            return _refused(request, error.__cause__)
        return answer(request, error.status_code, "bad_request", str(error.message))

    @api.exception_handler(Http404)
    def _missing(request: HttpRequest, error: Http404) -> HttpResponse:
        return answer(request, 404, "not_found", "There is nothing at this address.")

    @api.exception_handler(RequestDataTooBig)
    def _too_big(request: HttpRequest, error: RequestDataTooBig) -> HttpResponse:
        return answer(request, 413, "too_big", "The request is larger than 12 MB.")

    @api.exception_handler(Exception)
    def _unexpected(request: HttpRequest, error: Exception) -> HttpResponse:
        return problem_of(request, error)


def problem_of(request: HttpRequest, error: BaseException | None) -> HttpResponse:
    """The answer to an error that nobody expected; a lost database is named as such, since it comes back."""
    if isinstance(error, (OperationalError, InterfaceError)):
        _log.warning("database: %s", str(error).splitlines()[0] if str(error) else type(error).__name__)
        full = "No space left" in str(error) or type(error.__cause__).__name__ == "DiskFull"
        told = problem("no_space", NO_SPACE) if full else problem("no_database", NO_DATABASE)
        answer = JsonResponse(told, status=503)
        answer.headers["Retry-After"] = str(DATABASE_BACK)
        return answer
    _log.error("unexpected error at %s", request.path, exc_info=error)
    return JsonResponse(problem("unexpected", UNEXPECTED), status=500)


def server_error(request: HttpRequest) -> HttpResponse:
    """Django's answer to an error outside the API's views, such as in the sessions' middleware."""
    return problem_of(request, sys.exc_info()[1])
