"""What every answer carries."""

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse, JsonResponse
from ninja.utils import check_csrf


class ContentSecurityPolicy:
    """Only the application's own files run. Formulas and lanes need style attributes; scripts never do."""

    policy = (
        "default-src 'self'; script-src 'self'; style-src 'self'; style-src-attr 'unsafe-inline'; img-src 'self' data:; "
        "object-src 'none'; base-uri 'none'; frame-ancestors 'none'"
    )

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        response = self.get_response(request)
        response.headers["Content-Security-Policy"] = self.policy
        return response


class ApiCsrf:
    """A change through the API needs the token of this site's own page: sessions are cookies, and cookies travel with any site's requests.

    Stands in for Django's check, from which the API framework exempts its views; the refusal is a structured answer like any other.
    """

    safe = frozenset({"GET", "HEAD", "OPTIONS", "TRACE"})

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        if request.path.startswith("/api/") and request.method not in self.safe and check_csrf(request) is not None:
            message = "This request did not come from the application's own page. Load the page again; what you have entered is kept."
            return JsonResponse({"code": "csrf", "message": message}, status=403)
        return self.get_response(request)
