"""What every answer carries."""

from collections.abc import Callable

from django.db import connection
from django.http import HttpRequest, HttpResponse, JsonResponse
from ninja.utils import check_csrf

from api.problems import problem

Next = Callable[[HttpRequest], HttpResponse]


class ReturnConnection:
    """The database connection goes back to the pool as soon as the answer is known, not when a slow line has taken
    it.
    """

    def __init__(self, get_response: Next) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        try:
            return self.get_response(request)
        finally:
            if not connection.in_atomic_block:
                connection.close()


class Headers:
    """Only the application's own files run; nothing of the API is kept by caches; devices of the machine are none of
    our business.
    """

    content = (
        "default-src 'self'; script-src 'self'; style-src 'self'; style-src-attr 'unsafe-inline'; img-src "
        "'self' data:; "
        "object-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'"
    )
    devices = (
        "accelerometer=(), camera=(), display-capture=(), geolocation=(), gyroscope=(), microphone=(), "
        "payment=(), usb=()"
    )

    def __init__(self, get_response: Next) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        response = self.get_response(request)
        response.headers["Content-Security-Policy"] = self.content
        response.headers["Permissions-Policy"] = self.devices
        if request.path.startswith("/api/"):
            response.headers.setdefault("Cache-Control", "no-store")  # a picture never changes under its id
        return response


class ApiCsrf:
    """A change through the API needs the token of this site's own page: sessions are cookies, and cookies travel with
    any site's requests.

    Stands in for Django's check, from which the API framework exempts its views; the refusal is a structured answer
    like any other.
    """

    safe = frozenset({"GET", "HEAD", "OPTIONS", "TRACE"})

    def __init__(self, get_response: Next) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        if request.path.startswith("/api/") and request.method not in self.safe and check_csrf(request) is not None:
            message = (
                "This request did not come from the application's own page. Load the page again; what you have "
                "entered is kept."
            )
            return JsonResponse(problem("csrf", message), status=403)
        return self.get_response(request)
