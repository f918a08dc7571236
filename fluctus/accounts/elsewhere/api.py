"""Signing in through a provider: the way there, and the way back."""

from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any, Final

from django.contrib.auth.models import User
from django.http import HttpRequest, HttpResponse, HttpResponseRedirect
from django.utils.decorators import method_decorator
from django.utils.http import url_has_allowed_host_and_scheme
from django.views.decorators.csrf import csrf_protect
from django.views.decorators.http import require_GET
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fluctus.accounts.elsewhere.provider import (
    Somebody,
    address_at_provider,
    provider_name,
    who_came_back,
)
from fluctus.accounts.elsewhere.services import (
    connect,
    disconnect,
    join_as_somebody,
    known_as,
    person_who_is,
)
from fluctus.accounts.own.browsers import sign_in_browser
from fluctus.accounts.sign_in import note_confirmed
from fluctus.http import clock
from fluctus.http.problems import PROBLEMS
from fluctus.http.refusals import Issue, RefusalError
from fluctus.http.requests import Plain, checked, person_of
from fluctus.http.shapes import Shape, schema_of
from fluctus.http.site_address import site_address

GONE: Final = "gone_elsewhere"
"""Where the session keeps what somebody went to a provider for."""
SAID: Final = "said_elsewhere"
"""Where it keeps why it came to nothing."""
GONE_FOR: Final = timedelta(minutes=15)


@dataclass(frozen=True, slots=True)
class Way(Shape):
    """The address of the provider that a browser is to go to."""

    address: str


@dataclass(frozen=True, slots=True)
class Elsewhere(Shape):
    """How who asks may sign in: through a provider, and with a password."""

    provider: str
    """What it is called; "" where there is none."""
    called: str
    """What the person is called there."""
    since: datetime | None
    """Since when it is connected; null where it is not."""
    has_password: bool


class ConnectSerializer(Plain):
    """Where a browser is to come back to."""

    to = serializers.CharField(max_length=2000, default="/")


class GoSerializer(ConnectSerializer):
    """Where a browser is to come back to, and the invitation that is to be taken."""

    secret = serializers.CharField(max_length=200, default="", allow_blank=True)


@method_decorator(csrf_protect, name="dispatch")
class SessionElsewhereView(APIView):
    """A session that is begun through a provider."""

    @extend_schema(
        operation_id="go_elsewhere",
        request=GoSerializer,
        responses={200: schema_of(Way), **PROBLEMS},
    )
    def post(self, request: Request) -> Response:
        """Begin to sign in there, to take an invitation so, or to say again who one is."""
        form = checked(GoSerializer, request.data)
        return Response(Way(_gone(request, form["to"], secret=form["secret"])))


class ElsewhereView(APIView):
    """Whether who asks may sign in through a provider."""

    @extend_schema(operation_id="elsewhere", responses={200: schema_of(Elsewhere), **PROBLEMS})
    def get(self, request: Request) -> Response:
        """Say whom it knows them as."""
        person = person_of(request)
        row = known_as(person)
        return Response(
            Elsewhere(
                provider_name(),
                row.called if row else "",
                row.since if row else None,
                person.has_usable_password(),
            )
        )

    @extend_schema(
        operation_id="connect_elsewhere",
        request=ConnectSerializer,
        responses={200: schema_of(Way), **PROBLEMS},
    )
    def post(self, request: Request) -> Response:
        """Begin to connect the account with who one is there."""
        to = checked(ConnectSerializer, request.data)["to"]
        return Response(Way(_gone(request, to, connects=True)))

    @extend_schema(
        operation_id="disconnect_elsewhere", request=None, responses={204: None, **PROBLEMS}
    )
    def delete(self, request: Request) -> Response:
        """Sign in with the password alone."""
        disconnect(person_of(request), clock.now())
        return Response(status=204)


def _gone(request: Request, to: str, *, secret: str = "", connects: bool = False) -> str:
    person = request.user if isinstance(request.user, User) else None
    session = request._request.session
    session.pop(SAID, None)
    address = address_at_provider(request._request, anew=person is not None)
    # Nowhere but here: an address of another site would lead people who trust this one there.
    safe = url_has_allowed_host_and_scheme(to, allowed_hosts=None) and to.startswith("/")
    session[GONE] = {
        "to": to if safe else "/",
        "secret": secret,
        "person": None if person is None else person.pk,
        "connects": connects,
        "at": clock.now().timestamp(),
    }
    return address


@require_GET
def back_from_elsewhere(request: HttpRequest) -> HttpResponse:
    """Go on with what somebody went to the provider for; what does not work is said on the page."""
    gone: dict[str, Any] = request.session.pop(GONE, None) or {}
    to = str(gone.get("to", "/"))
    try:
        to = _go_on(request, gone, clock.now()) or to
    except RefusalError as refusal:
        issue = refusal.issues[0]
        request.session[SAID] = f"{refusal.title} {issue.detail} {issue.remedy}".strip()
    return HttpResponseRedirect(f"{site_address()}{to}")


def _go_on(request: HttpRequest, gone: dict[str, Any], now: datetime) -> str | None:
    """Return where to go on, if it is not where somebody came from."""
    somebody = who_came_back(request)
    person = request.user if isinstance(request.user, User) else None
    fresh = bool(gone) and now.timestamp() - gone["at"] <= GONE_FOR.total_seconds()
    if not fresh or gone["person"] != (None if person is None else person.pk):
        raise RefusalError(
            "You were not signed in.",
            Issue("You went there some time ago, or as somebody else.", "Begin again from here."),
            status=409,
        )
    if person is not None:
        _be_confirmed(person, somebody, now, connects=gone["connects"])
        note_confirmed(request, now)
        return None
    if gone["secret"]:
        joined, workspace = join_as_somebody(gone["secret"], somebody, now)
        sign_in_browser(request, joined, now)
        return f"/{workspace.slug}"
    known = person_who_is(somebody)
    if known is None:
        called = f"{somebody.called} of " if somebody.called else ""
        raise RefusalError(
            "You were not signed in.",
            Issue(
                f"Nobody here signs in as {called}{provider_name()}.",
                "Open your invitation and join through it, or sign in with your password and "
                "connect it under Your account.",
            ),
            status=403,
        )
    sign_in_browser(request, known, now)
    return None


def _be_confirmed(person: User, somebody: Somebody, now: datetime, *, connects: bool) -> None:
    """Connect who is signed in with who they are there, or see that they are the same still."""
    if connects:
        connect(person, somebody, now)
    elif person_who_is(somebody) != person:
        raise RefusalError(
            "This does not confirm that it is you.",
            Issue(f"You are somebody else at {provider_name()}.", "Choose the account of yours."),
            status=403,
        )
