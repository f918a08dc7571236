"""What made a value, over HTTP."""

from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fluctus.http import clock
from fluctus.http.problems import PROBLEMS
from fluctus.http.requests import Query, choices, person_of
from fluctus.http.shapes import schema_of
from fluctus.http.snapshots import one_snapshot
from fluctus.kpis.calendar import Grain
from fluctus.kpis.chart.queries import kpi_of
from fluctus.kpis.contributions import shapes
from fluctus.kpis.contributions.answers import Asked, contributions_answer


class ContributionsQuerySerializer(Query):
    """Which periods are looked at, and what they are held against."""

    first = serializers.CharField(max_length=40)
    last = serializers.CharField(required=False, max_length=40)
    against_first = serializers.CharField(
        required=False, max_length=40, help_text="Absent: what limits come from."
    )
    against_last = serializers.CharField(required=False, max_length=40)
    shift = serializers.BooleanField(
        default=False, help_text="Hold all from the first period on against what was before."
    )
    by = serializers.ChoiceField(choices(Grain), required=False)

    def validate(self, attrs: dict[str, Any]) -> dict[str, Any]:
        """Refuse one end of a stretch without the other."""
        if ("against_first" in attrs) is not ("against_last" in attrs):
            raise serializers.ValidationError({"against_last": "A stretch has two ends."})
        return attrs


class ContributionsView(APIView):
    """What made a value, a finding, a shift, or a difference between two dates."""

    @extend_schema(
        operation_id="contributions",
        parameters=[ContributionsQuerySerializer],
        responses={200: schema_of(shapes.Contributions), **PROBLEMS},
    )
    @one_snapshot()
    def get(self, request: Request, workspace: str, kpi: str) -> Response:
        """Share the difference out among parts, and among what the KPI is made from."""
        query = ContributionsQuerySerializer.of(request)
        row = kpi_of(person_of(request), workspace, kpi)
        against = (
            (query["against_first"], query["against_last"]) if "against_first" in query else None
        )
        asked = Asked(
            query["first"],
            query.get("last"),
            against,
            query["shift"],
            Grain(query["by"]) if "by" in query else None,
        )
        return Response(contributions_answer(row, clock.now(), asked))
