"""Feeds over HTTP."""

from zoneinfo import ZoneInfo

from django.db import transaction
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fluctus.accounts.queries import workspace_of
from fluctus.feeds import requests, services, shapes
from fluctus.feeds.answers import feed_answer, fetch_answer
from fluctus.feeds.jobs import leave_to_worker
from fluctus.feeds.models import FeedState
from fluctus.feeds.queries import feed_with, feeds_of, fetches_of
from fluctus.feeds.running import begin_fetch
from fluctus.http import clock
from fluctus.http.problems import PROBLEMS
from fluctus.http.refusals import Issue, NotThereError, RefusalError
from fluctus.http.requests import checked, person_of
from fluctus.http.revisions import IF_MATCH, seen_revision
from fluctus.http.shapes import schema_of, schema_of_list
from fluctus.intake.jobs import begin
from fluctus.intake.readings import is_long
from fluctus.intake.requests import plain_mapping
from fluctus.intake.shapes import Uploaded
from fluctus.intake.understanding.mapping import Mapping
from fluctus.intake.uploaded import mapping_of, uploaded_answer
from fluctus.intake.uploads import opened, upload_of
from fluctus.jobs.life import cancel
from fluctus.jobs.models import UNDER_WAY
from fluctus.jobs.schedule import Schedule, in_words, next_times, refuse_unfit
from fluctus.kpis.actor import actor_of
from fluctus.kpis.chart.queries import kpi_of
from fluctus.kpis.values.services import ImportMode


class FeedsView(APIView):
    """The feeds of a workspace."""

    @extend_schema(
        operation_id="feeds", responses={200: schema_of_list(shapes.FeedRow), **PROBLEMS}
    )
    def get(self, request: Request, workspace: str) -> Response:
        """List them by name."""
        row, now = workspace_of(person_of(request), workspace), clock.now()
        return Response([feed_answer(feed, now) for feed in feeds_of(row)])


class LookAtFeedView(APIView):
    """A source to be looked at before it is set up as a feed."""

    @extend_schema(
        operation_id="look_at_feed",
        request=requests.LookSerializer,
        responses={201: schema_of(shapes.LookedAtFeed), **PROBLEMS},
    )
    def post(self, request: Request, workspace: str) -> Response:
        """Fetch its table, and keep it as an upload is kept."""
        form = checked(requests.LookSerializer, request.data)
        row = workspace_of(person_of(request), workspace)
        feed = None if form["feed"] is None else services.feed_of(row, form["feed"])
        source = form["where"]
        draft, upload = services.look(
            row, actor_of(request), source["kind"], source["options"], feed
        )
        uploaded = uploaded_answer(upload, opened(upload, None), None)
        return Response(shapes.LookedAtFeed(draft.pk, draft.name, uploaded), status=201)


class SetUpFeedView(APIView):
    """A feed that was looked at."""

    @extend_schema(
        operation_id="set_up_feed",
        request=requests.SetUpSerializer,
        responses={201: schema_of(shapes.SetUpFeed), 202: schema_of(shapes.SetUpFeed), **PROBLEMS},
    )
    @transaction.atomic
    def post(self, request: Request, workspace: str, number: int) -> Response:
        """Bring its first table in, and let it fetch from then on."""
        form, person = checked(requests.SetUpSerializer, request.data), person_of(request)
        row, actor = workspace_of(person, workspace), actor_of(request)
        draft = services.feed_of(row, number, lock=True)
        if draft.state != FeedState.DRAFT:
            raise NotThereError("draft")
        upload = upload_of(person, workspace, form["upload"])
        into = None if form["into"] is None else kpi_of(person, workspace, form["into"])
        mapping = mapping_of(form["mapping"], upload, into)
        schedule = Schedule.from_json(dict(form["schedule"]))
        services.plan(draft, row, form["name"], schedule, form["time_zone"], actor)
        brought = begin(
            upload, actor, mapping, ImportMode.UPDATE, into, services.is_first_of(draft)
        )
        long = is_long(upload)
        answer = shapes.SetUpFeed(draft.pk, brought, long)
        return Response(answer, status=202 if long else 201)


class FeedView(APIView):
    """One feed."""

    @extend_schema(operation_id="feed", responses={200: schema_of(shapes.FeedDetails), **PROBLEMS})
    def get(self, request: Request, workspace: str, number: int) -> Response:
        """Describe it, with its last fetches."""
        feed = feed_with(workspace_of(person_of(request), workspace), number)
        schedule = Schedule.from_json(feed.schedule)
        return Response(
            shapes.FeedDetails(
                feed=feed_answer(feed, clock.now()),
                options=feed.options,
                schedule=schedule,
                time_zone=feed.time_zone,
                when=in_words(schedule),
                fetches=[fetch_answer(fetch) for fetch in fetches_of(feed)],
            )
        )

    @extend_schema(
        operation_id="change_feed",
        parameters=[IF_MATCH],
        request=requests.FeedChangeSerializer,
        responses={200: schema_of(shapes.FeedRow), **PROBLEMS},
    )
    def patch(self, request: Request, workspace: str, number: int) -> Response:
        """Change it, switch it on or off, or take it over."""
        row = workspace_of(person_of(request), workspace)
        changes = checked(requests.FeedChangeSerializer, request.data)
        services.change(row, number, seen_revision(request), changes, actor_of(request))
        return Response(feed_answer(feed_with(row, number), clock.now()))

    @extend_schema(operation_id="remove_feed", responses={204: None, **PROBLEMS})
    def delete(self, request: Request, workspace: str, number: int) -> Response:
        """Remove it; what it has brought stays."""
        row = workspace_of(person_of(request), workspace)
        services.remove(row, number, actor_of(request))
        return Response(status=204)


class FetchNowView(APIView):
    """A feed that fetches now."""

    @extend_schema(
        operation_id="fetch_now",
        request=None,
        responses={202: schema_of(shapes.FeedRow), **PROBLEMS},
    )
    def post(self, request: Request, workspace: str, number: int) -> Response:
        """Fetch, whatever its schedule is; one that fetches already goes on."""
        row = workspace_of(person_of(request), workspace)
        feed = feed_with(row, number)
        if feed.held_id is not None:
            raise RefusalError(
                "This feed waits for a decision.",
                Issue("A table that came does not fit.", "Decide what becomes of it first."),
                status=409,
            )
        begin_fetch(feed, clock.now(), leave_to_worker, by_hand=True)
        return Response(feed_answer(feed_with(row, number), clock.now()), status=202)


class StopFetchView(APIView):
    """A fetch that is under way."""

    @extend_schema(
        operation_id="stop_fetch",
        request=None,
        responses={200: schema_of(shapes.FeedRow), **PROBLEMS},
    )
    def post(self, request: Request, workspace: str, number: int) -> Response:
        """Ask it to stop; nothing of it is saved then."""
        row = workspace_of(person_of(request), workspace)
        fetch = feed_with(row, number).fetches.filter(status__in=UNDER_WAY).first()
        if fetch is None:
            raise NotThereError("fetch under way")
        cancel(fetch, "fetch", "Undo what it brought in instead.")
        return Response(feed_answer(feed_with(row, number), clock.now()))


class DecideView(APIView):
    """A table that came and does not fit."""

    @extend_schema(
        operation_id="decide_on_feed",
        request=requests.DecisionSerializer,
        responses={200: schema_of(shapes.FeedRow), **PROBLEMS},
    )
    def post(self, request: Request, workspace: str, number: int) -> Response:
        """Bring it in as before, or leave it out; the feed goes on."""
        row, actor = workspace_of(person_of(request), workspace), actor_of(request)
        act = checked(requests.DecisionSerializer, request.data)["act"]
        decide = services.decide_as_before if act == "as_before" else services.leave_out
        decide(row, number, actor)
        return Response(feed_answer(feed_with(row, number), clock.now()))


class HeldView(APIView):
    """The table that waits for a decision."""

    @extend_schema(
        operation_id="take_held_table_up",
        request=None,
        responses={200: schema_of(Uploaded), **PROBLEMS},
    )
    def post(self, request: Request, workspace: str, number: int) -> Response:
        """Look at it as at any upload, to say how it is to be read."""
        person = person_of(request)
        row = workspace_of(person, workspace)
        upload = services.take_up(row, number, person)
        feed = services.feed_of(row, number)
        return Response(
            uploaded_answer(
                upload, opened(upload, None), None, Mapping.from_json(feed.mapping), feed.differs
            )
        )


class LearnView(APIView):
    """Another shape of the table of a feed."""

    @extend_schema(
        operation_id="learn_shape",
        request=requests.LearnSerializer,
        responses={200: schema_of(shapes.FeedRow), **PROBLEMS},
    )
    def post(self, request: Request, workspace: str, number: int) -> Response:
        """Bring the table that waits in by this reading, and those that come after it."""
        form, person = checked(requests.LearnSerializer, request.data), person_of(request)
        row = workspace_of(person, workspace)
        upload = upload_of(person, workspace, form["upload"])
        mapping = Mapping.from_json(plain_mapping(form["mapping"]))
        services.learn(row, number, upload, mapping, actor_of(request))
        return Response(feed_answer(feed_with(row, number), clock.now()))


class WhenView(APIView):
    """A schedule, said in words."""

    @extend_schema(
        operation_id="when",
        request=requests.WhenSerializer,
        responses={200: schema_of(shapes.When), **PROBLEMS},
    )
    def post(self, request: Request, workspace: str) -> Response:
        """Say when it is, and its next three times."""
        workspace_of(person_of(request), workspace)
        form, now = checked(requests.WhenSerializer, request.data), clock.now()
        zone, schedule = ZoneInfo(form["time_zone"]), Schedule.from_json(dict(form["schedule"]))
        refuse_unfit(schedule, now, zone)
        return Response(shapes.When(in_words(schedule), next_times(schedule, now, zone)))
