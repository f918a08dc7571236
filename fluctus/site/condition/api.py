"""How the installation is: read, failed work begun again, and room given."""

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fluctus.accounts.models import Workspace
from fluctus.accounts.room.kinds import Kind
from fluctus.accounts.room.services import give_room
from fluctus.http import clock
from fluctus.http.problems import PROBLEMS
from fluctus.http.refusals import NotThereError
from fluctus.http.requests import Plain, Query, checked
from fluctus.http.shapes import schema_of
from fluctus.site.condition.failed import begin_job_again
from fluctus.site.condition.queries import Condition, condition

MOST_ROOM = 10**15


class NamedSerializer(Query):
    """Which workspaces are asked for."""

    named = serializers.CharField(max_length=120, default="", allow_blank=True)


class RoomSerializer(Plain):
    """How much a workspace may hold; null for what the installation has it at."""

    kpis = serializers.IntegerField(min_value=0, max_value=MOST_ROOM, allow_null=True)
    values = serializers.IntegerField(min_value=0, max_value=MOST_ROOM, allow_null=True)
    feeds = serializers.IntegerField(min_value=0, max_value=MOST_ROOM, allow_null=True)
    file_bytes = serializers.IntegerField(min_value=0, max_value=MOST_ROOM, allow_null=True)
    requests_a_minute = serializers.IntegerField(min_value=60, max_value=MOST_ROOM, allow_null=True)


class ConditionView(APIView):
    """How the installation is."""

    @extend_schema(
        operation_id="condition",
        parameters=[NamedSerializer],
        responses={200: schema_of(Condition), **PROBLEMS},
    )
    def get(self, request: Request) -> Response:
        """Say how it is."""
        return Response(condition(clock.now(), NamedSerializer.of(request)["named"]))


class JobAgainView(APIView):
    """Work that failed."""

    @extend_schema(operation_id="begin_job_again", request=None, responses={204: None, **PROBLEMS})
    def post(self, request: Request, kind: str, number: int) -> Response:
        """Have it done again."""
        begin_job_again(kind, number)
        return Response(status=204)


class GiveRoomView(APIView):
    """The room of a workspace."""

    @extend_schema(
        operation_id="give_room", request=RoomSerializer, responses={204: None, **PROBLEMS}
    )
    def put(self, request: Request, slug: str) -> Response:
        """Let it hold so much of each; nothing that is there is removed."""
        form = checked(RoomSerializer, request.data)
        row = Workspace.objects.filter(slug=slug).first()
        if row is None:
            raise NotThereError("workspace")
        give_room(row, {kind: form[kind] for kind in Kind})
        return Response(status=204)
