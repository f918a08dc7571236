"""Pages over HTTP."""

from django.http import HttpResponse
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fluctus.accounts.queries import workspace_of
from fluctus.http import clock
from fluctus.http.conditional import answer_once, tag_of
from fluctus.http.problems import PROBLEMS
from fluctus.http.requests import LIST_PAGE, checked, person_of
from fluctus.http.revisions import IF_MATCH, seen_revision
from fluctus.http.shapes import schema_of, schema_of_list
from fluctus.http.snapshots import one_snapshot
from fluctus.kpis.actor import actor_of
from fluctus.overview.pages import requests, services, shapes
from fluctus.overview.pages.answers import act_answer, page_answer, row_answer
from fluctus.overview.pages.queries import history_of, names_on, page_of, pages_of
from fluctus.overview.panels.contents import PanelContent, contents_of, days_kept
from fluctus.overview.panels.kind import Look
from fluctus.overview.panels.panel import Panel


class PagesView(APIView):
    """The pages of a workspace."""

    @extend_schema(
        operation_id="pages",
        parameters=[requests.PagesSerializer],
        responses={200: schema_of(shapes.Pages), **PROBLEMS},
    )
    @one_snapshot()
    def get(self, request: Request, workspace: str) -> Response:
        """Return a stretch of them, those changed last first."""
        start = requests.PagesSerializer.of(request)["start"]
        rows = pages_of(workspace_of(person_of(request), workspace))
        found = [row_answer(page) for page in rows[start : start + LIST_PAGE]]
        return Response(shapes.Pages(rows.count(), start, found))

    @extend_schema(
        operation_id="create_page",
        request=requests.NewPageSerializer,
        responses={201: schema_of(shapes.PageDetail), **PROBLEMS},
    )
    def post(self, request: Request, workspace: str) -> Response:
        """Make one, empty or with panels."""
        workspace_row = workspace_of(person_of(request), workspace)
        form = checked(requests.NewPageSerializer, request.data)
        page = services.create_page(workspace_row, form["title"], form["panels"])
        return Response(page_answer(page), status=201)


class PageView(APIView):
    """One page."""

    @extend_schema(operation_id="page", responses={200: schema_of(shapes.PageDetail), **PROBLEMS})
    @one_snapshot()
    def get(self, request: Request, workspace: str, number: int) -> HttpResponse:
        """Return it with its panels."""
        page = page_of(person_of(request), workspace, number)
        tag = tag_of("page", page.pk, sorted(names_on(page).items()), revision=page.revision)
        return answer_once(request, tag, lambda: page_answer(page))

    @extend_schema(
        operation_id="change_page",
        parameters=[IF_MATCH],
        request=requests.PageChangesSerializer,
        responses={200: schema_of(shapes.PageDetail), **PROBLEMS},
    )
    def patch(self, request: Request, workspace: str, number: int) -> Response:
        """Change its title, its dates, or its panels."""
        page = page_of(person_of(request), workspace, number)
        changes = checked(requests.PageChangesSerializer, request.data)
        changed = services.change_page(page, seen_revision(request), changes, actor_of(request))
        return Response(page_answer(changed))

    @extend_schema(
        operation_id="delete_page",
        parameters=[IF_MATCH],
        request=None,
        responses={204: None, **PROBLEMS},
    )
    def delete(self, request: Request, workspace: str, number: int) -> Response:
        """Delete it."""
        page = page_of(person_of(request), workspace, number)
        services.delete_page(page, seen_revision(request), actor_of(request))
        return Response(status=204)


class ShownPanelsView(APIView):
    """What panels show."""

    @extend_schema(
        operation_id="show_panels",
        request=requests.ShownPanelsSerializer,
        responses={200: schema_of_list(PanelContent), **PROBLEMS},
    )
    @one_snapshot()
    def post(self, request: Request, workspace: str) -> Response:
        """Return it of all panels of a page at once, or of one that is on none; saves nothing."""
        form = checked(requests.ShownPanelsSerializer, request.data)
        look = Look(
            workspace_of(person_of(request), workspace),
            clock.now(),
            days_kept(form["dates"]),
            form["width"],
        )
        return Response(contents_of([Panel(**panel) for panel in form["panels"]], look))


class PanelsView(APIView):
    """The panels of a page."""

    @extend_schema(
        operation_id="add_panel",
        request=requests.NewPanelSerializer,
        responses={201: schema_of(shapes.PageDetail), **PROBLEMS},
    )
    def post(self, request: Request, workspace: str, number: int) -> Response:
        """Put one below the others, whatever else has changed meanwhile."""
        page = page_of(person_of(request), workspace, number)
        panel = checked(requests.NewPanelSerializer, request.data)
        changed = services.add_panel(page, panel, actor_of(request))
        return Response(page_answer(changed), status=201)


class PageHistoryView(APIView):
    """What was done to a page."""

    @extend_schema(
        operation_id="page_history", responses={200: schema_of_list(shapes.PageAct), **PROBLEMS}
    )
    @one_snapshot()
    def get(self, request: Request, workspace: str, number: int) -> Response:
        """Return the newest acts on it."""
        page = page_of(person_of(request), workspace, number)
        return Response([act_answer(act) for act in history_of(page)])


class UndoPageView(APIView):
    """Taking back the latest act on a page."""

    @extend_schema(
        operation_id="undo_page",
        parameters=[IF_MATCH],
        request=None,
        responses={200: schema_of(shapes.PageDetail), **PROBLEMS},
    )
    def post(self, request: Request, workspace: str, number: int) -> Response:
        """Undo."""
        page = page_of(person_of(request), workspace, number)
        return Response(page_answer(services.turn(page, seen_revision(request), back=True)))


class RedoPageView(APIView):
    """Bringing back what was undone last."""

    @extend_schema(
        operation_id="redo_page",
        parameters=[IF_MATCH],
        request=None,
        responses={200: schema_of(shapes.PageDetail), **PROBLEMS},
    )
    def post(self, request: Request, workspace: str, number: int) -> Response:
        """Redo."""
        page = page_of(person_of(request), workspace, number)
        return Response(page_answer(services.turn(page, seen_revision(request), back=False)))
