"""KPIs made from others, over HTTP."""

from typing import Any

import numpy as np
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fluctus.core import MadeFrom
from fluctus.http.problems import PROBLEMS
from fluctus.http.requests import FiniteFloatField, Plain, checked, choices, person_of
from fluctus.http.shapes import schema_of
from fluctus.http.snapshots import one_snapshot
from fluctus.kpis.actor import actor_of
from fluctus.kpis.chart.kpi_shapes import Derived, DerivedPreview
from fluctus.kpis.chart.queries import kpi_of
from fluctus.kpis.derived.services import derive, proposed
from fluctus.kpis.models import Kpi


class MadeFromSerializer(Plain):
    """How a KPI is made from this one and another."""

    made_by = serializers.ChoiceField(choices(MadeFrom))
    second = serializers.SlugField(
        max_length=80, allow_null=True, default=None, help_text="The denominator of a ratio."
    )
    times = FiniteFloatField(
        allow_null=True, default=None, help_text="Null: 100 of a share, 1 of other ratios."
    )


class NewDerivedSerializer(MadeFromSerializer):
    """What the new KPI is called; empty: after those it is made from."""

    name = serializers.CharField(max_length=120, allow_blank=True, default="")


def _sources(request: Request, workspace: str, kpi: str, asked: dict[str, Any]) -> list[Kpi]:
    slugs = [kpi] if asked["second"] is None else [kpi, asked["second"]]
    return [kpi_of(person_of(request), workspace, slug) for slug in slugs]


class DerivedView(APIView):
    """KPIs made from this one."""

    @extend_schema(
        operation_id="derive",
        request=NewDerivedSerializer,
        responses={201: schema_of(Derived), **PROBLEMS},
    )
    def post(self, request: Request, workspace: str, kpi: str) -> Response:
        """Make a KPI from this one, or from this and another, which follows them."""
        asked = checked(NewDerivedSerializer, request.data)
        sources = _sources(request, workspace, kpi, asked)
        made_by = MadeFrom(asked["made_by"])
        made, left_out = derive(made_by, sources, asked["name"], asked["times"], actor_of(request))
        return Response(Derived(made.slug, made.name, list(left_out)), status=201)


class DerivedPreviewView(APIView):
    """What a KPI would be that is made from this one."""

    @extend_schema(
        operation_id="preview_derived",
        request=MadeFromSerializer,
        responses={200: schema_of(DerivedPreview), **PROBLEMS},
    )
    @one_snapshot()
    def post(self, request: Request, workspace: str, kpi: str) -> Response:
        """Make it without keeping it."""
        asked = checked(MadeFromSerializer, request.data)
        sources = _sources(request, workspace, kpi, asked)
        kind, proposal = proposed(MadeFrom(asked["made_by"]), sources, asked["times"])
        made = kind.make(sources, proposal.grain, proposal.times)
        frame = made.frame
        last = frame.filter(frame["period"] == frame["period"].max())
        ratio = bool(len(last) and last["denominator"].is_not_null().all())
        above, below = (float(last[name].sum()) for name in ("numerator", "denominator"))
        value = above / below if ratio and below else float(last["value"].sum() or 0)
        return Response(
            DerivedPreview(
                name=proposal.state.name,
                unit=proposal.state.unit,
                times=proposal.times,
                grain=proposal.grain,
                count=frame["period"].n_unique(),
                parts=sorted(set(frame["breakdown"]) - {""}),
                newest=None if not len(last) or not np.isfinite(value) else value,
                newest_of=[above / proposal.times, below] if ratio and below else None,
                left_out=list(made.left_out),
            )
        )
