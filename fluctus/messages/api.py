"""Messages over HTTP: what one hears of, the digest before it is sent, webhooks."""

from datetime import datetime

from django.conf import settings
from django.contrib.auth.models import User
from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fluctus.accounts.models import Workspace
from fluctus.accounts.queries import name_of, workspace_of
from fluctus.http import clock
from fluctus.http.problems import PROBLEMS
from fluctus.http.requests import checked, person_of
from fluctus.http.shapes import schema_of, schema_of_list
from fluctus.jobs.schedule import Schedule, in_words
from fluctus.kpis.actor import actor_of
from fluctus.kpis.chart.queries import kpi_of
from fluctus.kpis.events.calendar_api import calendar_of
from fluctus.messages import following, requests, scheduled, services, shapes
from fluctus.messages.changes import stamp_of
from fluctus.messages.models import (
    QUIET_DEFAULT,
    DeliveryState,
    Digest,
    Followed,
    Happening,
    How,
    ScheduledReport,
    Topic,
    Webhook,
    Wish,
)
from fluctus.messages.outbox import digest_for, digest_letter
from fluctus.messages.wishes import concerns, wishes_of
from fluctus.reports.queries import report_of

TOLD = 50


def _messages(workspace: Workspace, person: User, now: datetime) -> shapes.Messages:
    wishes = wishes_of(workspace, [person])[person.pk]
    rows = Happening.objects.filter(workspace=workspace, gone=False).select_related("kpi")
    told = [
        row
        for row in rows.order_by("-id")[: TOLD * 4]
        if concerns(row, person) and wishes.how(row, now) is not How.NOT
    ]
    kept = Wish.objects.filter(workspace=workspace, person=person).select_related("kpi")
    return shapes.Messages(
        told=[
            shapes.Told(row.pk, Topic(row.topic), row.at, row.text, row.path) for row in told[:TOLD]
        ],
        default={topic: How(how) for topic, how in QUIET_DEFAULT.items()},
        wishes=[
            shapes.WishAnswer(
                wish.kpi.slug if wish.kpi else None,
                wish.kpi.name if wish.kpi else "",
                wish.group,
                {topic: How(how) for topic, how in wish.how.items()},
                wish.quiet_until,
            )
            for wish in kept.order_by("group", "kpi__name")
        ],
        digest=_digest(digest_for(workspace, person, now)),
        followed=Followed.objects.filter(workspace=workspace, person=person).exists(),
        mail=person.email if settings.SENDS_MAIL else "",
    )


def _digest(row: Digest) -> shapes.DigestAnswer:
    schedule = Schedule.from_json(row.schedule)
    return shapes.DigestAnswer(
        schedule,
        in_words(schedule),
        row.time_zone,
        row.next_at,
        row.even_if_nothing,
        row.no_mail,
        row.refused,
    )


class MessagesView(APIView):
    """What the person who asks hears of."""

    @extend_schema(operation_id="messages", responses={200: schema_of(shapes.Messages), **PROBLEMS})
    def get(self, request: Request, workspace: str) -> Response:
        """List what has happened lately, and how they are told."""
        person = person_of(request)
        return Response(_messages(workspace_of(person, workspace), person, clock.now()))


class WishView(APIView):
    """What a person wants to hear of."""

    @extend_schema(
        operation_id="keep_wish",
        request=requests.WishSerializer,
        responses={200: schema_of(shapes.Messages), **PROBLEMS},
    )
    def put(self, request: Request, workspace: str) -> Response:
        """Keep it for a KPI, a group, or everything."""
        person, form = person_of(request), checked(requests.WishSerializer, request.data)
        row = workspace_of(person, workspace)
        kpi = None if form["kpi"] is None else kpi_of(person, workspace, form["kpi"])
        services.keep_wish(row, person, kpi, "" if kpi else form["group"], form)
        return Response(_messages(row, person, clock.now()))


class DigestView(APIView):
    """When the digest comes."""

    @extend_schema(
        operation_id="keep_digest",
        request=requests.DigestSerializer,
        responses={200: schema_of(shapes.Messages), **PROBLEMS},
    )
    def put(self, request: Request, workspace: str) -> Response:
        """Keep it."""
        person, form = person_of(request), checked(requests.DigestSerializer, request.data)
        row, now = workspace_of(person, workspace), clock.now()
        services.keep_digest(row, person, form, now)
        return Response(_messages(row, person, now))


class LetterView(APIView):
    """The digest as it would be sent now."""

    @extend_schema(
        operation_id="digest_letter", responses={200: schema_of(shapes.LetterAnswer), **PROBLEMS}
    )
    def get(self, request: Request, workspace: str) -> Response:
        """Return it, as text and as HTML."""
        person, now = person_of(request), clock.now()
        digest = digest_for(workspace_of(person, workspace), person, now)
        letter, told = digest_letter(digest, now)
        sends = bool(told) or digest.even_if_nothing
        return Response(shapes.LetterAnswer(letter.subject, letter.text, letter.html, sends))


class UnsubscribeView(APIView):
    """The end of mail, from the mail itself (RFC 8058)."""

    authentication_classes = []
    parser_classes: list[type] = []

    @extend_schema(operation_id="unsubscribe", request=None, responses={204: None, **PROBLEMS})
    def post(self, request: Request, secret: str) -> Response:
        """End it, without signing in."""
        services.unsubscribe(secret, clock.now())
        return Response(status=204)


class FollowView(APIView):
    """The address by which a program of a person follows."""

    @extend_schema(
        operation_id="make_address",
        request=None,
        responses={201: schema_of(shapes.NewAddress), **PROBLEMS},
    )
    def post(self, request: Request, workspace: str) -> Response:
        """Make it; the one before opens nothing any more."""
        person = person_of(request)
        secret = following.make_address(workspace_of(person, workspace), person, clock.now())
        base = f"{settings.SITE_ADDRESS}/api/v1/followed/{secret}"
        return Response(
            shapes.NewAddress(f"{base}/findings.atom", f"{base}/events.ics"), status=201
        )

    @extend_schema(operation_id="revoke_address", responses={204: None, **PROBLEMS})
    def delete(self, request: Request, workspace: str) -> Response:
        """Revoke it."""
        person = person_of(request)
        following.revoke_address(workspace_of(person, workspace), person)
        return Response(status=204)


class FollowedFindingsView(APIView):
    """Findings for a feed reader."""

    @extend_schema(
        operation_id="followed_findings",
        responses={(200, "application/atom+xml"): OpenApiTypes.STR, **PROBLEMS},
    )
    def get(self, request: Request, secret: str) -> HttpResponse:
        """Return them as Atom."""
        content = following.findings_as_atom(following.followed_by(secret, clock.now()))
        return HttpResponse(content, content_type="application/atom+xml; charset=utf-8")


class FollowedEventsView(APIView):
    """Events for a calendar."""

    @extend_schema(
        operation_id="followed_events",
        responses={(200, "text/calendar"): OpenApiTypes.STR, **PROBLEMS},
    )
    def get(self, request: Request, secret: str) -> HttpResponse:
        """Return them as iCalendar."""
        now = clock.now()
        content = calendar_of(following.followed_by(secret, now), now)
        return HttpResponse(content, content_type="text/calendar; charset=utf-8")


def _scheduled(row: ScheduledReport) -> shapes.ScheduledRow:
    names = sorted(name_of(person) for person in row.to.all())
    to = f", to {', '.join(names)}" if names else ""
    return shapes.ScheduledRow(
        row.pk,
        row.title,
        f"{in_words(Schedule.from_json(row.schedule))}{to}",
        row.next_at,
        row.last_report_id,
        row.problem,
    )


class ScheduledReportsView(APIView):
    """The reports of a workspace that are made by themselves."""

    @extend_schema(
        operation_id="scheduled_reports",
        responses={200: schema_of_list(shapes.ScheduledRow), **PROBLEMS},
    )
    def get(self, request: Request, workspace: str) -> Response:
        """List them by title."""
        row = workspace_of(person_of(request), workspace)
        rows = row.scheduled_reports.prefetch_related("to").order_by("title", "pk")
        return Response([_scheduled(one) for one in rows])


class NewScheduledView(APIView):
    """A report that was made, to be made again by itself."""

    @extend_schema(
        operation_id="keep_scheduled",
        request=requests.ScheduledSerializer,
        responses={201: schema_of(shapes.ScheduledRow), **PROBLEMS},
    )
    def post(self, request: Request, workspace: str, number: int) -> Response:
        """Keep when, and to whom it goes."""
        person, form = person_of(request), checked(requests.ScheduledSerializer, request.data)
        row = scheduled.keep_scheduled(
            report_of(person, workspace, number),
            person,
            Schedule.from_json(dict(form["schedule"])),
            form["time_zone"],
            form["to"],
            clock.now(),
        )
        return Response(_scheduled(row), status=201)


class ScheduledReportView(APIView):
    """One of them."""

    @extend_schema(operation_id="remove_scheduled", responses={204: None, **PROBLEMS})
    def delete(self, request: Request, workspace: str, number: int) -> Response:
        """Let it be made no more; those that were made stay."""
        scheduled.remove_scheduled(workspace_of(person_of(request), workspace), number)
        return Response(status=204)


class ChangesView(APIView):
    """Whether anything has changed."""

    @extend_schema(operation_id="changes", responses={200: schema_of(shapes.Changes), **PROBLEMS})
    def get(self, request: Request, workspace: str) -> Response:
        """Return a stamp that is another one as soon as something has."""
        row = workspace_of(person_of(request), workspace)
        return Response(shapes.Changes(stamp_of(row)))


def _webhook(hook: Webhook) -> shapes.WebhookRow:
    rows = hook.deliveries.order_by("-id")[: services.KEPT_DELIVERIES]
    return shapes.WebhookRow(
        hook.pk,
        hook.name,
        hook.address,
        [Topic(topic) for topic in hook.topics],
        hook.ended,
        [
            shapes.DeliveryRow(
                row.pk,
                row.at,
                row.content["data"]["text"],
                DeliveryState(row.state),
                row.tries,
                row.sent_at,
                row.answer,
            )
            for row in rows
        ],
    )


class WebhooksView(APIView):
    """The webhooks of a workspace."""

    @extend_schema(
        operation_id="webhooks", responses={200: schema_of_list(shapes.WebhookRow), **PROBLEMS}
    )
    def get(self, request: Request, workspace: str) -> Response:
        """List them, with their last deliveries."""
        row = workspace_of(person_of(request), workspace)
        return Response([_webhook(hook) for hook in row.webhooks.order_by("name", "pk")])

    @extend_schema(
        operation_id="make_webhook",
        request=requests.WebhookSerializer,
        responses={201: schema_of(shapes.NewWebhook), **PROBLEMS},
    )
    def post(self, request: Request, workspace: str) -> Response:
        """Make one; its secret is told now and never again."""
        row = workspace_of(person_of(request), workspace)
        form = checked(requests.WebhookSerializer, request.data)
        hook, secret = services.make_webhook(row, form, actor_of(request))
        return Response(shapes.NewWebhook(_webhook(hook), secret), status=201)


class WebhookView(APIView):
    """One webhook."""

    @extend_schema(operation_id="remove_webhook", responses={204: None, **PROBLEMS})
    def delete(self, request: Request, workspace: str, number: int) -> Response:
        """Remove it."""
        row = workspace_of(person_of(request), workspace)
        services.remove_webhook(row, number, actor_of(request))
        return Response(status=204)


class TryWebhookView(APIView):
    """A webhook that is tried."""

    @extend_schema(
        operation_id="try_webhook",
        request=None,
        responses={202: schema_of(shapes.WebhookRow), **PROBLEMS},
    )
    def post(self, request: Request, workspace: str, number: int) -> Response:
        """Send it an event that says that it is a test."""
        row = workspace_of(person_of(request), workspace)
        return Response(_webhook(services.try_webhook(row, number, clock.now())), status=202)


class SendAgainView(APIView):
    """A delivery that is sent once more."""

    @extend_schema(
        operation_id="send_again",
        request=None,
        responses={202: schema_of(shapes.WebhookRow), **PROBLEMS},
    )
    def post(self, request: Request, workspace: str, number: int) -> Response:
        """Send it, with the key that it had."""
        row = workspace_of(person_of(request), workspace)
        return Response(_webhook(services.send_again(row, number, clock.now())), status=202)
