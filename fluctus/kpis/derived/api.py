"""KPIs made from others, over HTTP."""

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fluctus.http.problems import PROBLEMS
from fluctus.http.requests import Plain, checked, person_of
from fluctus.http.shapes import schema_of
from fluctus.kpis.actor import actor_of
from fluctus.kpis.chart.kpi_shapes import Derived
from fluctus.kpis.chart.queries import kpi_of
from fluctus.kpis.derived.time_between import derive_time_between


class TimeBetweenSerializer(Plain):
    """What the new KPI is called; empty: after the one it is made from."""

    name = serializers.CharField(max_length=120, allow_blank=True, default="")


class TimeBetweenView(APIView):
    """The time between the events that a KPI counts."""

    @extend_schema(
        operation_id="time_between",
        request=TimeBetweenSerializer,
        responses={201: schema_of(Derived), **PROBLEMS},
    )
    def post(self, request: Request, workspace: str, kpi: str) -> Response:
        """Make a KPI of it, which follows this one."""
        source = kpi_of(person_of(request), workspace, kpi)
        name = checked(TimeBetweenSerializer, request.data)["name"]
        made = derive_time_between(source, name, actor_of(request))
        return Response(Derived(made.slug, made.name), status=201)
