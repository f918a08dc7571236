"""The application's addresses, the floor (an endpoint with one query), and one that forgets."""

from django.http import HttpRequest, HttpResponse, JsonResponse
from django.urls import include, path

from fluctus.kpis.chart.queries import forget
from fluctus.kpis.models import Kpi


def bare(request: HttpRequest) -> JsonResponse:
    """Answer with one row."""
    return JsonResponse({"name": Kpi.objects.values_list("name", flat=True)[0]})


def forget_all(request: HttpRequest) -> HttpResponse:
    """Drop what the process holds in memory, so that the next answer is made from the database."""
    forget()
    return HttpResponse()


urlpatterns = [
    path("bare", bare),
    path("forget", forget_all),
    path("", include("fluctus.site.urls")),
]
