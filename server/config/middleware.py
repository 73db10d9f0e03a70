"""What every answer carries."""

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse


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
