"""Addresses: the API, and the one page that holds the application for everything else."""

from django.conf import settings
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.urls import path, re_path
from django.views.decorators.csrf import ensure_csrf_cookie

from api.main import api
from api.problems import problem


@ensure_csrf_cookie
def application_page(request: HttpRequest) -> HttpResponse:
    """The built page; the router in it knows the rest of the address."""
    page = settings.WEB_DIST / "index.html"
    if not page.is_file():
        return HttpResponse(
            "The web application is not built yet. Run: ./leitfaden start", status=503, content_type="text/plain"
        )
    response = HttpResponse(page.read_bytes(), content_type="text/html; charset=utf-8")
    response.headers["Cache-Control"] = "no-cache"
    return response


def health(request: HttpRequest) -> JsonResponse:
    """Whether this process answers; asks no database, so that a lost one does not end the web processes too."""
    return JsonResponse({"answers": True})


def no_such_endpoint(request: HttpRequest, rest: str) -> JsonResponse:
    """Addresses under api/ that are none."""
    return JsonResponse(problem("not_found", "There is nothing at this address."), status=404)


handler500 = "api.errors.server_error"
urlpatterns = [
    path("api/health", health),
    path("api/", api.urls),
    path("api/<path:rest>", no_such_endpoint),
    re_path(r"^(?!api/|static/).*$", application_page),
]
