"""Signing in and out, and who is signed in."""

from dataclasses import dataclass

from django.conf import settings
from django.contrib.auth import logout
from django.contrib.auth.models import User
from django.middleware.csrf import get_token
from django.utils.decorators import method_decorator
from django.views.decorators.csrf import csrf_protect
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fluctus.accounts.elsewhere.api import SAID
from fluctus.accounts.elsewhere.provider import provider_name
from fluctus.accounts.models import Role
from fluctus.accounts.own.browsers import sign_in_browser
from fluctus.accounts.queries import memberships_of, name_of
from fluctus.accounts.second_step.api import CodeSerializer
from fluctus.accounts.second_step.services import step_of
from fluctus.accounts.services import DEMO_PERSON
from fluctus.accounts.sign_in import HALF_IN, finish_sign_in, note_half_in, sign_in
from fluctus.http import clock
from fluctus.http.problems import PROBLEMS
from fluctus.http.refusals import NotThereError
from fluctus.http.requests import Plain, checked
from fluctus.http.shapes import Shape, schema_of


@dataclass(frozen=True, slots=True)
class Workspace(Shape):
    """A workspace the person belongs to."""

    slug: str
    name: str
    role: Role


@dataclass(frozen=True, slots=True)
class Session(Shape):
    """Who is signed in; ``person`` is null for nobody."""

    person: str | None
    username: str | None
    workspaces: list[Workspace]
    demo: bool
    """Whether the demo account is offered."""
    sends_mail: bool
    """Whether a letter can be sent to who has forgotten their password."""
    operates: bool
    """Whether the person sees to the installation."""
    asks_code: bool
    """Whether the password was right, and the code of a device is to follow."""
    elsewhere: str
    """The provider through which people may sign in; "" where there is none."""
    said: str
    """Why signing in through it came to nothing, the last time; "" where it did not."""


class SignInSerializer(Plain):
    """What signing in takes."""

    name = serializers.CharField(max_length=150)
    password = serializers.CharField(max_length=200, trim_whitespace=False)


def _session(request: Request) -> Response:
    get_token(request._request)  # sets the CSRF cookie that writes need
    person = request.user if isinstance(request.user, User) else None
    rows = memberships_of(person) if person else []
    return Response(
        Session(
            person=name_of(person) or None,
            username=person.username if person else None,
            workspaces=[
                Workspace(row.workspace.slug, row.workspace.name, Role(row.role)) for row in rows
            ],
            demo=settings.DEMO,
            sends_mail=settings.SENDS_MAIL,
            operates=person is not None and person.is_staff,
            asks_code=person is None and HALF_IN in request._request.session,
            elsewhere=provider_name(),
            said=request._request.session.get(SAID, ""),
        )
    )


@method_decorator(csrf_protect, name="dispatch")
class SessionView(APIView):
    """The session of the browser that asks."""

    @extend_schema(operation_id="session", responses={200: schema_of(Session), **PROBLEMS})
    def get(self, request: Request) -> Response:
        """Return who is signed in."""
        return _session(request)

    @extend_schema(
        operation_id="sign_in",
        request=SignInSerializer,
        responses={200: schema_of(Session), **PROBLEMS},
    )
    def post(self, request: Request) -> Response:
        """Sign in."""
        form = checked(SignInSerializer, request.data)
        person = sign_in(request._request, form["name"], form["password"], clock.now())
        if step_of(person) is not None:
            note_half_in(request._request, person, clock.now())
            return _session(request)
        sign_in_browser(request._request, person, clock.now())
        request.user = person
        return _session(request)

    @extend_schema(operation_id="sign_out", request=None, responses={204: None, **PROBLEMS})
    def delete(self, request: Request) -> Response:
        """Sign out."""
        logout(request._request)
        return Response(status=204)


@method_decorator(csrf_protect, name="dispatch")
class SessionCodeView(APIView):
    """The second step of signing in."""

    @extend_schema(
        operation_id="finish_sign_in",
        request=CodeSerializer,
        responses={200: schema_of(Session), **PROBLEMS},
    )
    def post(self, request: Request) -> Response:
        """Sign in with the code of the device, after the password."""
        code = checked(CodeSerializer, request.data)["code"]
        person = finish_sign_in(request._request, code, clock.now())
        sign_in_browser(request._request, person, clock.now())
        request.user = person
        return _session(request)


@method_decorator(csrf_protect, name="dispatch")
class DemoSessionView(APIView):
    """The demo account, in demo mode."""

    @extend_schema(
        operation_id="enter_demo", request=None, responses={200: schema_of(Session), **PROBLEMS}
    )
    def post(self, request: Request) -> Response:
        """Sign in as the demo person."""
        person = User.objects.filter(username=DEMO_PERSON).first() if settings.DEMO else None
        if person is None:
            raise NotThereError("demo")
        sign_in_browser(request._request, person, clock.now())
        request.user = person
        return _session(request)
