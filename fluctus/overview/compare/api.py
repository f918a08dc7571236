"""Comparisons over HTTP."""

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fluctus.accounts.queries import workspace_of
from fluctus.http import clock
from fluctus.http.conditional import answer_once, tag_of
from fluctus.http.problems import PROBLEMS
from fluctus.http.refusals import Issue, RefusalError
from fluctus.http.requests import checked, person_of
from fluctus.http.shapes import schema_of
from fluctus.http.snapshots import one_snapshot
from fluctus.kpis.calendar import Grain
from fluctus.kpis.chart.queries import View, chart_of, kpi_of
from fluctus.kpis.models import Kpi
from fluctus.kpis.stamps import stamp_of_kpis
from fluctus.overview.compare import requests, services, shapes
from fluctus.overview.compare.dates import dates_asked
from fluctus.overview.compare.goal import goal_answer
from fluctus.overview.compare.measures import MEASURES
from fluctus.overview.compare.pair import pair_answer
from fluctus.overview.compare.parts import PartOrder, parts_answer
from fluctus.overview.compare.places import parts_named, places_answer
from fluctus.overview.compare.shares import shares_answer
from fluctus.overview.compare.suggestions import suggestions_answer
from fluctus.overview.models import AreaMap
from fluctus.tables.area_file import read_areas, refuse_size
from fluctus.tables.grid import TableError
from fluctus.tables.isolation import TooMuchError, TooSlowError, run_isolated
from fluctus.tables.place_table import read_places

BROKEN_TOLD = 30
PLACES_NOT_KEPT = "The places were not kept."
AREAS_NOT_KEPT = "The areas were not kept."


class PartsView(APIView):
    """One KPI by its parts."""

    @extend_schema(
        operation_id="parts",
        parameters=[requests.OrderedPartsSerializer],
        responses={200: schema_of(shapes.Parts), **PROBLEMS},
    )
    @one_snapshot()
    def get(self, request: Request, workspace: str, kpi: str) -> Response:
        """Hold them side by side, and say whether they differ."""
        query = requests.OrderedPartsSerializer.of(request)
        row, now = kpi_of(person_of(request), workspace, kpi), clock.now()
        by = Grain(query["by"]) if query.get("by") else None
        dates = dates_asked([chart_of(row, now, View(by))], query)
        order = PartOrder(query["order"])
        return Response(parts_answer(row, now, query["part"], by, dates, order))


class SharesView(APIView):
    """Shares of a total."""

    @extend_schema(
        operation_id="shares",
        parameters=[requests.PartsSerializer],
        responses={200: schema_of(shapes.Shares), **PROBLEMS},
    )
    @one_snapshot()
    def get(self, request: Request, workspace: str, kpi: str) -> Response:
        """Return what each part adds to it, in all and period by period."""
        query = requests.PartsSerializer.of(request)
        row = kpi_of(person_of(request), workspace, kpi)
        return Response(shares_answer(row, clock.now(), query))


class PlacesView(APIView):
    """The parts of a KPI by place."""

    @extend_schema(
        operation_id="by_place",
        parameters=[requests.PlacedPartsSerializer],
        responses={200: schema_of(shapes.PlacedParts), **PROBLEMS},
    )
    @one_snapshot()
    def get(self, request: Request, workspace: str, kpi: str) -> Response:
        """Return where each is, with a measure of it."""
        query = requests.PlacedPartsSerializer.of(request)
        row = kpi_of(person_of(request), workspace, kpi)
        return Response(places_answer(row, clock.now(), MEASURES[query["measure"]], query))


class GoalView(APIView):
    """Several KPIs against a goal."""

    @extend_schema(
        operation_id="against_goal",
        parameters=[requests.GoalSerializer],
        responses={200: schema_of(shapes.AgainstGoal), **PROBLEMS},
    )
    @one_snapshot()
    def get(self, request: Request, workspace: str) -> Response:
        """Put those of one unit on one plot."""
        query = requests.GoalSerializer.of(request)
        workspace_row = workspace_of(person_of(request), workspace)
        slugs = list(dict.fromkeys(query["kpi"]))
        found = {
            kpi.slug: kpi for kpi in Kpi.objects.filter(workspace=workspace_row, slug__in=slugs)
        }
        kpis = [found[slug] for slug in slugs if slug in found]
        gone = [slug for slug in slugs if slug not in found]
        return Response(goal_answer(kpis, gone, clock.now(), query))


class PairView(APIView):
    """Two KPIs against each other."""

    @extend_schema(
        operation_id="pair",
        parameters=[requests.PairSerializer],
        responses={200: schema_of(shapes.Pair), **PROBLEMS},
    )
    @one_snapshot()
    def get(self, request: Request, workspace: str) -> Response:
        """Pair the values of the same periods, and fit a line through them."""
        query = requests.PairSerializer.of(request)
        person = person_of(request)
        x, y = (kpi_of(person, workspace, query[name]) for name in ("x", "y"))
        return Response(pair_answer(x, y, clock.now(), query))


class SuggestionsView(APIView):
    """What is worth comparing."""

    @extend_schema(
        operation_id="compare_suggestions",
        responses={200: schema_of(shapes.Suggestions), **PROBLEMS},
    )
    @one_snapshot()
    def get(self, request: Request, workspace: str) -> HttpResponse:
        """Find parts that differ, pairs that go together, and KPIs of one unit with targets."""
        row, now = workspace_of(person_of(request), workspace), clock.now()
        # All charts are looked at: once, until one of them has changed.
        tag = tag_of("suggestions", row.pk, stamp_of_kpis(row), now.date())
        return answer_once(request, tag, lambda: suggestions_answer(row, now))


class PlacesTableView(APIView):
    """Where the parts of a workspace are."""

    @extend_schema(
        operation_id="keep_places",
        request=requests.PlacesTableSerializer,
        responses={200: schema_of(shapes.PlacesKept), **PROBLEMS},
    )
    def put(self, request: Request, workspace: str) -> Response:
        """Keep the places of a table: all, or none where a line cannot be read."""
        workspace_row = workspace_of(person_of(request), workspace)
        form = checked(requests.PlacesTableSerializer, request.data)
        try:
            read = run_isolated(read_places, form["text"].encode(), form["exchange"])
        except (TableError, TooSlowError, TooMuchError) as error:
            raise _unreadable(PLACES_NOT_KEPT, error) from error
        if read.broken:
            raise RefusalError(
                PLACES_NOT_KEPT,
                *(
                    Issue(part.detail, part.remedy, "text", row=part.line)
                    for part in read.broken[:BROKEN_TOLD]
                ),
            )
        return Response(shapes.PlacesKept(services.keep_places(workspace_row, read.places)))


class AreasView(APIView):
    """The areas of a workspace."""

    parser_classes = [MultiPartParser]

    @extend_schema(operation_id="areas", responses={200: OpenApiTypes.OBJECT, **PROBLEMS})
    @one_snapshot()
    def get(self, request: Request, workspace: str) -> Response:
        """Return them as GeoJSON."""
        workspace_row = workspace_of(person_of(request), workspace)
        areas = AreaMap.objects.filter(workspace=workspace_row).first()
        features = areas.features if areas else []
        return Response({"type": "FeatureCollection", "features": features})

    @extend_schema(
        operation_id="keep_areas",
        request={"multipart/form-data": requests.AreasFileSerializer},
        responses={200: schema_of(shapes.AreasKept), **PROBLEMS},
    )
    def post(self, request: Request, workspace: str) -> Response:
        """Keep the areas of a GeoJSON file in place of those that there were."""
        person = person_of(request)
        workspace_row = workspace_of(person, workspace)
        file = checked(requests.AreasFileSerializer, request.data)["file"]
        try:
            refuse_size(file.size)
            areas = run_isolated(read_areas, file.read())
        except (TableError, TooSlowError, TooMuchError) as error:
            raise _unreadable(AREAS_NOT_KEPT, error) from error
        kept = services.keep_areas(workspace_row, file.name or "areas", areas, person)
        return Response(shapes.AreasKept(kept.names, parts_named(workspace_row, kept.names)))

    @extend_schema(operation_id="remove_areas", request=None, responses={204: None, **PROBLEMS})
    def delete(self, request: Request, workspace: str) -> Response:
        """Remove them."""
        services.remove_areas(workspace_of(person_of(request), workspace))
        return Response(status=204)


def _unreadable(title: str, error: Exception) -> RefusalError:
    if isinstance(error, TableError):
        return RefusalError(title, Issue(error.what, error.remedy))
    return RefusalError(
        title, Issue("Reading it takes too long, or too much memory.", "Bring a smaller one.")
    )
