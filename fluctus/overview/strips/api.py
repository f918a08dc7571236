"""The overview over HTTP."""

from django.http import HttpResponse
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fluctus.accounts.queries import workspace_of
from fluctus.findings.queries import look_of
from fluctus.http import clock
from fluctus.http.conditional import answer_once, tag_of
from fluctus.http.problems import PROBLEMS
from fluctus.http.requests import checked, person_of
from fluctus.http.shapes import schema_of
from fluctus.http.snapshots import one_snapshot
from fluctus.overview.strips import requests, services, shapes
from fluctus.overview.strips.answers import overview_answer
from fluctus.overview.strips.queries import (
    Listed,
    Order,
    Shows,
    Viewer,
    dates_in,
    span_of,
    stamp_of,
)
from fluctus.overview.strips.together import together_answer


def viewer_of(request: Request, workspace: str) -> Viewer:
    """Return who looks at a workspace, now; raises NotThereError for one of others."""
    person = person_of(request)
    workspace_row = workspace_of(person, workspace)
    look = look_of(person, workspace_row)
    return Viewer(person, workspace_row, clock.now(), look.at if look else None)


class OverviewView(APIView):
    """All KPIs of a workspace as strips."""

    @extend_schema(
        operation_id="overview",
        parameters=[requests.OverviewSerializer],
        responses={200: schema_of(shapes.Overview), **PROBLEMS},
    )
    @one_snapshot()
    def get(self, request: Request, workspace: str) -> HttpResponse:
        """Return a screen of those wanted, and how all of them stand."""
        query = requests.OverviewSerializer.of(request)
        viewer = viewer_of(request, workspace)
        wanted = Listed(
            Shows(query["shows"]), Order(query["order"]), query.get("group"), query["folded"]
        )
        tag = tag_of("overview", sorted(query.items()), stamp_of(viewer))
        return answer_once(
            request, tag, lambda: overview_answer(viewer, wanted, query, query["start"])
        )


class HandOrderView(APIView):
    """The order that a person puts the KPIs in."""

    @extend_schema(
        operation_id="order_by_hand",
        request=requests.MoveSerializer,
        responses={204: None, **PROBLEMS},
    )
    def put(self, request: Request, workspace: str) -> Response:
        """Move one next_to another, for this person alone."""
        form = checked(requests.MoveSerializer, request.data)
        services.move_in_order(
            viewer_of(request, workspace),
            form["slug"],
            form["next_to"],
            Order(form["order"]),
            after=form["after"],
        )
        return Response(status=204)


class GroupOrderView(APIView):
    """The order that a person puts the groups in."""

    @extend_schema(
        operation_id="order_groups",
        request=requests.MoveGroupSerializer,
        responses={204: None, **PROBLEMS},
    )
    def put(self, request: Request, workspace: str) -> Response:
        """Move one next to another, for this person alone."""
        form = checked(requests.MoveGroupSerializer, request.data)
        viewer = viewer_of(request, workspace)
        services.move_group(viewer, form["group"], form["next_to"], after=form["after"])
        return Response(status=204)


class TogetherView(APIView):
    """What fell together."""

    @extend_schema(
        operation_id="fell_together",
        parameters=[requests.TogetherSerializer],
        responses={200: schema_of(shapes.FellTogether), **PROBLEMS},
    )
    @one_snapshot()
    def get(self, request: Request, workspace: str) -> Response:
        """Find where findings and shifts of several KPIs lie within some days."""
        query = requests.TogetherSerializer.of(request)
        workspace_row = workspace_of(person_of(request), workspace)
        dates = dates_in(span_of(workspace_row), query)
        return Response(together_answer(workspace_row, dates, query["within"]))
