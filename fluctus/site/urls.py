"""Where things are: the API under /api/v1/, the web application everywhere else."""

from django.conf import settings
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.urls import include, path, re_path
from drf_spectacular.views import SpectacularAPIView

from fluctus.site import schema  # noqa: F401 - importing it is what registers it


def web_application(request: HttpRequest) -> HttpResponse:
    """Serve the page that the web application starts from, whatever the address."""
    page = settings.WEB_DIST / "index.html"
    if not page.exists():
        return HttpResponse("The web application is not built: run script/start.", status=503)
    response = HttpResponse(page.read_bytes(), content_type="text/html; charset=utf-8")
    response["Cache-Control"] = "no-cache"
    return response


def no_such_address(request: HttpRequest) -> HttpResponse:
    """Answer an API address that does not exist with a problem document, not a page."""
    return JsonResponse(
        {"type": "about:blank", "title": "There is no such address in the API.", "status": 404,
         "detail": "", "issues": []},
        status=404, content_type="application/problem+json",
    )  # fmt: skip


urlpatterns = [
    path("api/v1/", include("fluctus.accounts.urls")),
    path("api/v1/workspaces/<slug:workspace>/", include("fluctus.kpis.urls")),
    path("api/v1/workspaces/<slug:workspace>/", include("fluctus.intake.urls")),
    path("api/v1/schema", SpectacularAPIView.as_view(), name="schema"),
    re_path(r"^api/", no_such_address),
    re_path(r"^(?!assets/).*$", web_application),
]
