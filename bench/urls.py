"""The application's addresses, and the floor: an endpoint with one query and nothing else."""

from django.http import HttpRequest, JsonResponse
from django.urls import include, path

from fluctus.kpis.models import Kpi


def bare(request: HttpRequest) -> JsonResponse:
    """Answer with one row."""
    return JsonResponse({"name": Kpi.objects.values_list("name", flat=True)[0]})


urlpatterns = [path("bare", bare), path("", include("fluctus.site.urls"))]
