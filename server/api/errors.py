"""Errors as structured answers: always a code and a sentence, never a traceback."""

import logging
from typing import Any

from django.core.exceptions import RequestDataTooBig
from django.http import Http404, HttpRequest, HttpResponse
from ninja import NinjaAPI
from ninja.errors import HttpError, ValidationError

from api.problems import Refused
from leitfaden_core.errors import LeitfadenError

_log = logging.getLogger("leitfaden")


def install_error_handlers(api: NinjaAPI) -> None:
    """Register an answer for everything that can go wrong."""

    def answer(request: HttpRequest, status: int, code: str, message: str, **parts: Any) -> HttpResponse:
        return api.create_response(request, {"code": code, "message": message, **parts}, status=status)

    @api.exception_handler(Refused)
    def _refused(request: HttpRequest, error: Refused) -> HttpResponse:
        return answer(request, error.status, error.code, error.message)

    @api.exception_handler(LeitfadenError)
    def _core(request: HttpRequest, error: LeitfadenError) -> HttpResponse:
        return answer(request, 422, error.code, error.message, place=str(error.parts.get("place", "")))

    @api.exception_handler(ValidationError)
    def _validation(request: HttpRequest, error: ValidationError) -> HttpResponse:
        first = error.errors[0] if error.errors else {"loc": (), "msg": "the request cannot be read"}
        place = ".".join(str(part) for part in first["loc"] if part not in {"body", "payload"})
        return answer(request, 422, "bad_request", f"{place or 'request'}: {str(first['msg']).removeprefix('Value error, ')}", place=place)

    @api.exception_handler(HttpError)
    def _http(request: HttpRequest, error: HttpError) -> HttpResponse:
        return answer(request, error.status_code, "bad_request", str(error.message))

    @api.exception_handler(Http404)
    def _missing(request: HttpRequest, error: Http404) -> HttpResponse:
        return answer(request, 404, "not_found", "There is nothing at this address.")

    @api.exception_handler(RequestDataTooBig)
    def _too_big(request: HttpRequest, error: RequestDataTooBig) -> HttpResponse:
        return answer(request, 413, "too_big", "The request is larger than 2 MB.")

    @api.exception_handler(Exception)
    def _unexpected(request: HttpRequest, error: Exception) -> HttpResponse:
        _log.exception("unexpected error at %s", request.path)
        return answer(
            request, 500, "unexpected", "Something went wrong on the server. What you have entered is still on your screen; try again."
        )
