"""What a person keeps at hand, over HTTP."""

from dataclasses import dataclass

from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fluctus.accounts.queries import workspace_of
from fluctus.http.problems import PROBLEMS
from fluctus.http.requests import person_of
from fluctus.http.shapes import Shape, schema_of
from fluctus.kpis.chart.queries import kpi_of
from fluctus.overview.favorites.services import favorites_of, keep_at_hand, let_go


@dataclass(frozen=True, slots=True)
class Favorites(Shape):
    """KPIs that a person keeps at hand, by slug, in the order they took them there."""

    slugs: list[str]


class FavoritesView(APIView):
    """What a person keeps at hand in a workspace."""

    @extend_schema(operation_id="favorites", responses={200: schema_of(Favorites), **PROBLEMS})
    def get(self, request: Request, workspace: str) -> Response:
        """Return the KPIs that the person asking keeps at hand."""
        person = person_of(request)
        return Response(Favorites(favorites_of(person, workspace_of(person, workspace))))


class FavoriteView(APIView):
    """Whether a person keeps one KPI at hand."""

    @extend_schema(
        operation_id="keep_at_hand",
        request=None,
        responses={200: schema_of(Favorites), **PROBLEMS},
    )
    def put(self, request: Request, workspace: str, kpi: str) -> Response:
        """Keep it at hand; once more changes nothing."""
        person = person_of(request)
        return Response(Favorites(keep_at_hand(person, kpi_of(person, workspace, kpi))))

    @extend_schema(operation_id="let_go", responses={200: schema_of(Favorites), **PROBLEMS})
    def delete(self, request: Request, workspace: str, kpi: str) -> Response:
        """Let go of it; once more changes nothing."""
        person = person_of(request)
        return Response(Favorites(let_go(person, kpi_of(person, workspace, kpi))))
