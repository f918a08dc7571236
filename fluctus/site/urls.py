"""Where things are: the API under /api/v1/, the web application everywhere else."""

from django.conf import settings
from django.http import HttpRequest, HttpResponse, HttpResponseRedirect
from django.urls import include, path, re_path
from drf_spectacular.views import SpectacularAPIView

from demo.mailbox.api import LettersView
from fluctus.findings.api import NewsView
from fluctus.http import clock, problems
from fluctus.kpis.vocabulary import VocabularyView
from fluctus.links.framing import origins_for
from fluctus.site import schema  # noqa: F401 - importing it is what registers it
from fluctus.site.condition.api import ConditionView, GiveRoomView, JobAgainView
from fluctus.site.first_page import first_page


def web_application(request: HttpRequest) -> HttpResponse:
    """Serve the page that the web application starts from, whatever the address."""
    nonce = str(request.csp_nonce)  # type: ignore[attr-defined]
    try:
        text = first_page(settings.WEB_DIST, request.path, nonce)
    except FileNotFoundError:
        return HttpResponse("The web application is not built: run script/start.", status=503)
    response = HttpResponse(text, content_type="text/html; charset=utf-8")
    response["Cache-Control"] = "no-cache"
    return response


def no_such_help(request: HttpRequest, path: str | None = None) -> HttpResponse:
    """Lead to the manual's own page that says so, or to its first."""
    if path in (None, "", "/"):
        return HttpResponseRedirect("/help/index.html")
    page = settings.WEB_DIST / "help" / "404.html"
    if not page.exists():
        return HttpResponse("The manual is not built: run script/start.", status=404)
    return HttpResponse(page.read_text(), status=404, content_type="text/html; charset=utf-8")


def shared_page(request: HttpRequest, secret: str) -> HttpResponse:
    """Serve the same page for a link, which listed sites may show in a frame."""
    response = web_application(request)
    origins = origins_for(secret, clock.now())
    if origins:
        # What the middleware adds otherwise, and keeps frames out.
        response.xframe_options_exempt = True
        response._csp_replace = {"frame-ancestors": origins}  # type: ignore[attr-defined]
    return response


urlpatterns = [
    path("api/v1/", include("fluctus.accounts.urls")),
    path("api/v1/workspaces/<slug:workspace>/", include("fluctus.kpis.urls")),
    path("api/v1/workspaces/<slug:workspace>/", include("fluctus.intake.urls")),
    path("api/v1/workspaces/<slug:workspace>/", include("fluctus.feeds.urls")),
    path("api/v1/workspaces/<slug:workspace>/", include("fluctus.filling.urls")),
    path("api/v1/workspaces/<slug:workspace>/", include("fluctus.findings.urls")),
    path("api/v1/workspaces/<slug:workspace>/", include("fluctus.improvements.urls")),
    path("api/v1/workspaces/<slug:workspace>/", include("fluctus.overview.urls")),
    path("api/v1/workspaces/<slug:workspace>/", include("fluctus.reports.urls")),
    path("api/v1/", include("fluctus.links.urls")),
    path("api/v1/", include("fluctus.messages.urls")),
    path("api/v1/demo/letters", LettersView.as_view(), name="letters"),
    path("api/v1/installation", ConditionView.as_view(), name="condition"),
    path(
        "api/v1/installation/jobs/<str:kind>/<int:number>", JobAgainView.as_view(), name="job-again"
    ),
    path("api/v1/installation/rooms/<slug:slug>", GiveRoomView.as_view(), name="give-room"),
    path("api/v1/news", NewsView.as_view(), name="news"),
    path("api/v1/vocabulary", VocabularyView.as_view(), name="vocabulary"),
    path("api/v1/schema", SpectacularAPIView.as_view(), name="schema"),
    re_path(r"^api/", problems.no_such_address),
    # Its pages are files; what is none of them was one, or is mistyped.
    re_path(r"^help(/.*)?$", no_such_help),
    path("l/<str:secret>", shared_page),
    re_path(r"^(?!assets/).*$", web_application),
]

handler400 = problems.bad_request
handler500 = problems.failure
