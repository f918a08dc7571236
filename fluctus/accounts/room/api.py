"""What people of a workspace are told of its room."""

from dataclasses import dataclass

from django.conf import settings
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fluctus.accounts.queries import workspace_of
from fluctus.accounts.room.kinds import Kind
from fluctus.accounts.room.services import bounds_of
from fluctus.http.problems import PROBLEMS
from fluctus.http.requests import person_of
from fluctus.http.shapes import Shape, schema_of


@dataclass(frozen=True, slots=True)
class Bounded(Shape):
    """Something of which a workspace may hold so much, and how much there is."""

    kind: Kind
    things: str
    there: int
    most: int
    near: bool
    """Whether there is little room left, or none."""


@dataclass(frozen=True, slots=True)
class RoomLeft(Shape):
    """What is bounded in a workspace; ``ask`` names who can give more room."""

    bounded: list[Bounded]
    ask: str


class RoomView(APIView):
    """The room of a workspace."""

    @extend_schema(operation_id="room", responses={200: schema_of(RoomLeft), **PROBLEMS})
    def get(self, request: Request, workspace: str) -> Response:
        """Say how much there is of what is bounded."""
        (bounds,) = bounds_of([workspace_of(person_of(request), workspace)])
        bounded = [
            Bounded(one.kind, one.things, one.there, one.most, one.near)
            for one in bounds
            if one.there is not None and one.most is not None
        ]
        return Response(RoomLeft(bounded, settings.OPERATOR))
