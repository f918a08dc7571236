"""Links over HTTP: for the people who make them, and for whoever has one."""

import re
from datetime import datetime
from typing import Any

from django.http import HttpResponse
from django.utils.decorators import method_decorator
from django.views.decorators.csrf import csrf_exempt
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fluctus.accounts.access import role_of
from fluctus.accounts.models import Role
from fluctus.accounts.queries import name_of, workspace_of
from fluctus.http import clock
from fluctus.http.problems import PROBLEMS
from fluctus.http.requests import IdField, Plain, checked, person_of
from fluctus.http.shapes import schema_of
from fluctus.http.site_address import site_address
from fluctus.kpis.chart.queries import kpi_of
from fluctus.links import services, shapes
from fluctus.links.models import Extra, Frames, Link, LinkKind
from fluctus.links.showing import gone, things_of
from fluctus.overview.pages.queries import page_of
from fluctus.reports.api import BYTES, TAKEN, file_response, page_response
from fluctus.reports.models import Report
from fluctus.reports.outputs.registry import output_of
from fluctus.reports.queries import report_of

KEY_HEADER = "X-Link-Key"
KEY = OpenApiParameter(
    KEY_HEADER,
    OpenApiTypes.STR,
    OpenApiParameter.HEADER,
    description="What opens a link with a password.",
)
ORIGIN = re.compile(r"^https?://[A-Za-z0-9.-]{1,200}(:\d{1,5})?$")


class NewLinkSerializer(Plain):
    """A link to make."""

    kind = serializers.ChoiceField(choices=LinkKind.choices)
    kpi = serializers.SlugField(max_length=80, default="", allow_blank=True)
    view = serializers.CharField(max_length=80, default="", allow_blank=True)
    page = IdField(default=None, allow_null=True)
    report = IdField(default=None, allow_null=True)
    days = serializers.IntegerField(default=30, allow_null=True, min_value=1, max_value=3_650)
    """For how long it opens; null: until it is revoked."""
    password = serializers.CharField(
        max_length=200, default="", allow_blank=True, trim_whitespace=False
    )
    frozen = serializers.BooleanField(default=False)
    embeddable = serializers.BooleanField(default=False)
    names = serializers.BooleanField(default=False)
    shows = serializers.MultipleChoiceField(
        choices=Extra.choices,
        default=lambda: {"notes", "reasons", "events"},
        help_text="What is told beside values and limits.",
    )


class FramesSerializer(Plain):
    """The sites that may show links in a frame, each as https://intranet.example."""

    origins = serializers.ListField(
        child=serializers.RegexField(
            ORIGIN, error_messages={"invalid": "Write it as https://intranet.example."}
        ),
        max_length=20,
    )


class LinkPasswordSerializer(Plain):
    """The password of a link."""

    password = serializers.CharField(max_length=200, trim_whitespace=False)


class LinksView(APIView):
    """The links of a workspace."""

    @extend_schema(operation_id="links", responses={200: schema_of(shapes.Links), **PROBLEMS})
    def get(self, request: Request, workspace: str) -> Response:
        """List them, newest first."""
        workspace_row, now = workspace_of(person_of(request), workspace), clock.now()
        rows = Link.objects.filter(workspace=workspace_row).select_related("person", "report")
        frames = Frames.objects.filter(workspace=workspace_row).first()
        return Response(
            shapes.Links(
                [_row(link, now) for link in rows.order_by("-pk").defer("frozen")[:1000]],
                list(frames.origins) if frames else [],
            )
        )

    @extend_schema(
        operation_id="make_link",
        request=NewLinkSerializer,
        responses={201: schema_of(shapes.NewLink), **PROBLEMS},
    )
    def post(self, request: Request, workspace: str) -> Response:
        """Make one; its address is told this once."""
        person, now = person_of(request), clock.now()
        form = checked(NewLinkSerializer, request.data)
        link, secret = services.make_link(
            workspace_of(person, workspace),
            person,
            now,
            _named(request, workspace, form),
            form["days"],
            form["password"],
            frozen=form["frozen"],
            embeddable=form["embeddable"],
            names=form["names"],
            shows=sorted(form["shows"]),
        )
        address = f"{site_address()}/l/{secret}"
        return Response(shapes.NewLink(_row(link, now), address), status=201)


class LinkView(APIView):
    """One link."""

    @extend_schema(operation_id="revoke_link", responses={204: None, **PROBLEMS})
    def delete(self, request: Request, workspace: str, number: int) -> Response:
        """Revoke it: one's own; for an owner, anybody's."""
        person = person_of(request)
        services.revoke_link(
            workspace_of(person, workspace),
            person,
            number,
            clock.now(),
            of_all=role_of(request) == Role.OWNER,
        )
        return Response(status=204)


class FramesView(APIView):
    """The sites that may show links in a frame."""

    @extend_schema(
        operation_id="list_frames", request=FramesSerializer, responses={204: None, **PROBLEMS}
    )
    def put(self, request: Request, workspace: str) -> Response:
        """List them."""
        owner, form = person_of(request), checked(FramesSerializer, request.data)
        services.list_frames(workspace_of(owner, workspace), form["origins"], owner, clock.now())
        return Response(status=204)


class SharedView(APIView):
    """What a link shows, for whoever has it."""

    @extend_schema(
        operation_id="shared",
        parameters=[KEY],
        responses={200: schema_of(shapes.Shared), **PROBLEMS},
    )
    def get(self, request: Request, secret: str) -> Response:
        """Return all that it shows."""
        now = clock.now()
        link = _opened(request, secret, now)
        things, report = things_of(link, now), link.report
        services.count_opening(link, now)
        return Response(
            {
                "kind": link.kind,
                "title": link.title,
                "workspace": link.workspace.name,
                "made_at": link.made_at if report is None else report.at,
                "by": name_of(link.person) if link.names else "",
                "frozen": link.frozen is not None or report is not None,
                "things": things,
                "pages": report.pages if report and output_of(report.format).previewed else 0,
                "file": output_of(report.format).suffix if report else "",
            }
        )


# Nobody is signed in by it, and it changes nothing.
@method_decorator(csrf_exempt, name="dispatch")
class SharedKeyView(APIView):
    """A link with a password."""

    @extend_schema(
        operation_id="open_shared",
        request=LinkPasswordSerializer,
        responses={200: schema_of(shapes.LinkKey), **PROBLEMS},
    )
    def post(self, request: Request, secret: str) -> Response:
        """Return a key for its password, which opens it for some hours."""
        link, now = services.link_of(secret, clock.now()), clock.now()
        password = checked(LinkPasswordSerializer, request.data)["password"]
        return Response(shapes.LinkKey(services.key_for(request._request, link, password, now)))


class SharedFileView(APIView):
    """The file of a report that a link shows."""

    @extend_schema(
        operation_id="shared_file",
        parameters=[KEY],
        responses=TAKEN | PROBLEMS,
    )
    def get(self, request: Request, secret: str) -> HttpResponse:
        """Return it."""
        return file_response(_report(_opened(request, secret, clock.now())))


class SharedPageView(APIView):
    """A page of a report that a link shows."""

    @extend_schema(
        operation_id="shared_page",
        parameters=[KEY],
        responses={(200, "image/png"): BYTES} | PROBLEMS,
    )
    def get(self, request: Request, secret: str, page: int) -> HttpResponse:
        """Return it as a picture."""
        return page_response(_report(_opened(request, secret, clock.now())), page)


def _opened(request: Request, secret: str, now: datetime) -> Link:
    link = services.link_of(secret, now)
    # In the header; for files, which a browser asks for by address, in that.
    key = request.headers.get(KEY_HEADER, "") or request.query_params.get("key", "")
    services.refuse_without_key(link, key)
    return link


def _report(link: Link) -> Report:
    if link.report is None:
        raise gone()
    return link.report


def _named(request: Request, workspace: str, form: dict[str, Any]) -> dict[str, Any]:
    """Return what a link names; raises NotThereError for what is not in the workspace."""
    person, kind = person_of(request), LinkKind(form["kind"])
    if kind == LinkKind.CHART:
        kpi = kpi_of(person, workspace, form["kpi"])
        title = f"{kpi.name}, {form['view']}" if form["view"] else kpi.name
        return {"kind": kind, "kpi": kpi, "view": form["view"], "title": title[:200]}
    if kind == LinkKind.PAGE:
        page = page_of(person, workspace, form["page"] or 0)
        return {"kind": kind, "page": page, "title": str(page)[:200]}
    report = report_of(person, workspace, form["report"] or 0)
    return {"kind": kind, "report": report, "title": report.title}


def _row(link: Link, now: datetime) -> shapes.LinkRow:
    there = {
        LinkKind.CHART: link.kpi_id,
        LinkKind.PAGE: link.page_id,
        LinkKind.REPORT: link.report_id,
    }[LinkKind(link.kind)]
    status = "open"
    if link.revoked_at is not None:
        status = "revoked"
    elif link.expires is not None and link.expires <= now:
        status = "expired"
    elif there is None:
        status = "gone"
    return shapes.LinkRow(
        link.pk,
        LinkKind(link.kind),
        link.title,
        name_of(link.person),
        link.made_at,
        link.expires,
        bool(link.password),
        link.embeddable,
        link.names,
        link.kind == LinkKind.REPORT or link.frozen is not None,
        link.opened,
        link.opened_at,
        status,
        [Extra(name) for name in link.shows],
    )
