"""The application's addresses, the floor (an endpoint with one query), and one that forgets."""

from django.http import HttpRequest, HttpResponse, JsonResponse
from django.urls import include, path

from fluctus.kpis.chart.queries import forget
from fluctus.kpis.models import KeptAnswer, Kpi


def bare(request: HttpRequest) -> JsonResponse:
    """Answer with one row."""
    return JsonResponse({"name": Kpi.objects.values_list("name", flat=True)[0]})


def forget_all(request: HttpRequest) -> HttpResponse:
    """Drop what the process holds in memory, so that the next answer is made from the database."""
    forget()
    return HttpResponse()


def drop_kept(request: HttpRequest) -> HttpResponse:
    """Drop what is held in memory and what was answered before, so that all is made anew."""
    KeptAnswer.objects.all().delete()
    return forget_all(request)


urlpatterns = [
    path("bare", bare),
    path("forget", forget_all),
    path("drop-kept", drop_kept),
    path("", include("fluctus.site.urls")),
]
