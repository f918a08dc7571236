"""The second step of who asks: how it is, and its setting up."""

from dataclasses import dataclass
from datetime import datetime

import segno
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fluctus.accounts.second_step.services import address_of, begin, set_up, step_of, switch_off
from fluctus.accounts.tries import Purpose, tried
from fluctus.http import clock
from fluctus.http.client_address import client_address
from fluctus.http.problems import PROBLEMS
from fluctus.http.requests import Plain, checked, person_of
from fluctus.http.shapes import Shape, schema_of


@dataclass(frozen=True, slots=True)
class StepState(Shape):
    """Since when there is a second step (null: there is none), and the recovery codes left."""

    since: datetime | None
    recovery_left: int


@dataclass(frozen=True, slots=True)
class Begun(Shape):
    """What a device is set up with: the secret, and a picture of it to be read (SVG, as data)."""

    secret: str
    picture: str


@dataclass(frozen=True, slots=True)
class SetUp(Shape):
    """Codes for when the device is not at hand, shown once."""

    recovery: list[str]


class CodeSerializer(Plain):
    """A code of the device, or at signing in a recovery code."""

    code = serializers.CharField(max_length=40)


class SecondStepView(APIView):
    """The second step of who asks."""

    @extend_schema(operation_id="second_step", responses={200: schema_of(StepState), **PROBLEMS})
    def get(self, request: Request) -> Response:
        """Say whether it is on."""
        row = step_of(person_of(request))
        return Response(
            StepState(None, 0) if row is None else StepState(row.since, len(row.recovery))
        )

    @extend_schema(
        operation_id="begin_second_step",
        request=None,
        responses={200: schema_of(Begun), **PROBLEMS},
    )
    def post(self, request: Request) -> Response:
        """Draw the secret of a device; nothing changes until it has told a first code."""
        person = person_of(request)
        secret = begin(person, clock.now())
        picture = segno.make(address_of(person, secret), error="m").svg_data_uri(
            scale=5, light="#ffffff"
        )
        return Response(Begun(secret, picture))

    @extend_schema(
        operation_id="set_up_second_step",
        request=CodeSerializer,
        responses={200: schema_of(SetUp), **PROBLEMS},
    )
    def put(self, request: Request) -> Response:
        """Switch it on by the first code."""
        person, code = person_of(request), checked(CodeSerializer, request.data)["code"]
        with tried(Purpose.CODE, str(person.pk), client_address(request._request), clock.now()):
            recovery = set_up(person, code, clock.now())
        return Response(SetUp(recovery))

    @extend_schema(operation_id="end_second_step", responses={204: None, **PROBLEMS})
    def delete(self, request: Request) -> Response:
        """Switch it off."""
        switch_off(person_of(request), clock.now())
        return Response(status=204)
