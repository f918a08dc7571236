"""People, roles and invitations over HTTP."""

from dataclasses import dataclass
from datetime import datetime

from django.contrib.auth.models import User
from django.utils.decorators import method_decorator
from django.views.decorators.csrf import csrf_protect
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fluctus.accounts.models import Invitation, Membership, Role
from fluctus.accounts.own.browsers import sign_in_browser
from fluctus.accounts.people import services
from fluctus.accounts.queries import name_of, named, workspace_of
from fluctus.accounts.shapes import NamedPerson
from fluctus.http import clock
from fluctus.http.problems import PROBLEMS
from fluctus.http.requests import Plain, Query, checked, person_of
from fluctus.http.shapes import Shape, schema_of, schema_of_list
from fluctus.http.site_address import site_address


@dataclass(frozen=True, slots=True)
class PersonRow(Shape):
    """A person of a workspace."""

    id: int
    name: str
    username: str
    email: str
    role: Role
    you: bool


@dataclass(frozen=True, slots=True)
class InvitationRow(Shape):
    """An invitation that waits to be taken, or was not taken in time."""

    id: int
    email: str
    role: Role
    invited_by: str
    expires: datetime
    expired: bool


@dataclass(frozen=True, slots=True)
class People(Shape):
    """The people of a workspace, and who is invited."""

    people: list[PersonRow]
    invitations: list[InvitationRow]


@dataclass(frozen=True, slots=True)
class Invited(Shape):
    """An invitation that was just made; its address is told this once."""

    invitation: InvitationRow
    address: str


@dataclass(frozen=True, slots=True)
class InvitationLetter(Shape):
    """What an invitation offers, and to whom."""

    workspace: str
    slug: str
    email: str
    role: Role
    invited_by: str
    expires: datetime
    has_account: bool
    """Whether there is an account with this mail address, to sign in with."""


@dataclass(frozen=True, slots=True)
class Joined(Shape):
    """The workspace that was joined."""

    slug: str


class RoleSerializer(Plain):
    """A role to give."""

    role = serializers.ChoiceField(choices=Role.choices)


class InviteSerializer(RoleSerializer):
    """Whom to invite, as what."""

    email = serializers.EmailField(max_length=254)


class EndWorkspaceSerializer(Query):
    """The name of the workspace, typed."""

    name = serializers.CharField(max_length=120)


class SecretSerializer(Plain):
    """The part of an invitation's address after the #."""

    secret = serializers.CharField(max_length=100)


class JoinSerializer(SecretSerializer):
    """A new account for somebody who was invited; left out by who is signed in."""

    username = serializers.CharField(max_length=150, default="", allow_blank=True)
    name = serializers.CharField(max_length=120, default="", allow_blank=True)
    password = serializers.CharField(
        max_length=200, default="", allow_blank=True, trim_whitespace=False
    )


class PeopleView(APIView):
    """The people of a workspace."""

    @extend_schema(operation_id="people", responses={200: schema_of(People), **PROBLEMS})
    def get(self, request: Request, workspace: str) -> Response:
        """List them, owners first, and the invitations that wait."""
        person, now = person_of(request), clock.now()
        workspace_row = workspace_of(person, workspace)
        members = Membership.objects.filter(workspace=workspace_row).select_related("person")
        order = list(Role)[::-1]
        rows = sorted(members, key=lambda row: (order.index(Role(row.role)), name_of(row.person)))
        waiting = Invitation.objects.filter(workspace=workspace_row, used_at=None)
        return Response(
            People(
                [
                    PersonRow(
                        row.person_id,
                        name_of(row.person),
                        row.person.username,
                        row.person.email,
                        Role(row.role),
                        row.person_id == person.pk,
                    )
                    for row in rows
                ],
                [
                    _invitation(row, now)
                    for row in waiting.select_related("invited_by").order_by("pk")
                ],
            )
        )


class MembersView(APIView):
    """Who can be named in a workspace."""

    @extend_schema(operation_id="members", responses={200: schema_of_list(NamedPerson), **PROBLEMS})
    def get(self, request: Request, workspace: str) -> Response:
        """List them by name."""
        members = workspace_of(person_of(request), workspace).members.all()
        rows = [named(person) for person in members]
        return Response(sorted(rows, key=lambda row: row.name.casefold()))


class PersonView(APIView):
    """One person of a workspace."""

    @extend_schema(
        operation_id="give_role", request=RoleSerializer, responses={204: None, **PROBLEMS}
    )
    def patch(self, request: Request, workspace: str, number: int) -> Response:
        """Give them another role."""
        owner = person_of(request)
        role = Role(checked(RoleSerializer, request.data)["role"])
        services.give_role(workspace_of(owner, workspace), number, role, owner, clock.now())
        return Response(status=204)

    @extend_schema(operation_id="remove_person", responses={204: None, **PROBLEMS})
    def delete(self, request: Request, workspace: str, number: int) -> Response:
        """Take them out of the workspace; what they said and did stays."""
        owner = person_of(request)
        services.remove_member(workspace_of(owner, workspace), number, owner, clock.now())
        return Response(status=204)


class WorkspaceView(APIView):
    """A workspace as a whole."""

    @extend_schema(
        operation_id="end_workspace",
        parameters=[EndWorkspaceSerializer],
        responses={204: None, **PROBLEMS},
    )
    def delete(self, request: Request, workspace: str) -> Response:
        """End it, with all that is in it; its name is typed as confirmation."""
        owner, name = person_of(request), EndWorkspaceSerializer.of(request)["name"]
        services.end_workspace(workspace_of(owner, workspace), name, owner, clock.now())
        return Response(status=204)


class LeaveView(APIView):
    """The membership of the person who asks."""

    @extend_schema(operation_id="leave", request=None, responses={204: None, **PROBLEMS})
    def post(self, request: Request, workspace: str) -> Response:
        """Leave the workspace."""
        person = person_of(request)
        services.remove_member(workspace_of(person, workspace), person.pk, person, clock.now())
        return Response(status=204)


class InvitationsView(APIView):
    """Invitations to a workspace."""

    @extend_schema(
        operation_id="invite",
        request=InviteSerializer,
        responses={201: schema_of(Invited), **PROBLEMS},
    )
    def post(self, request: Request, workspace: str) -> Response:
        """Invite somebody; the letter is sent, and its address told this once."""
        owner, now = person_of(request), clock.now()
        form = checked(InviteSerializer, request.data)
        invitation, address = services.invite(
            workspace_of(owner, workspace),
            form["email"],
            Role(form["role"]),
            owner,
            now,
            site_address(),
        )
        return Response(Invited(_invitation(invitation, now), address), status=201)


class InvitationView(APIView):
    """One invitation."""

    @extend_schema(operation_id="withdraw_invitation", responses={204: None, **PROBLEMS})
    def delete(self, request: Request, workspace: str, number: int) -> Response:
        """Withdraw it; its address works no more."""
        owner = person_of(request)
        services.withdraw(workspace_of(owner, workspace), number, owner, clock.now())
        return Response(status=204)


@method_decorator(csrf_protect, name="dispatch")
class OpenInvitationView(APIView):
    """An invitation in the hand of whoever was invited."""

    @extend_schema(
        operation_id="open_invitation",
        request=SecretSerializer,
        responses={200: schema_of(InvitationLetter), **PROBLEMS},
    )
    def post(self, request: Request) -> Response:
        """Return what it offers."""
        secret = checked(SecretSerializer, request.data)["secret"]
        row = services.invitation_of(secret, clock.now())
        return Response(
            InvitationLetter(
                row.workspace.name,
                row.workspace.slug,
                row.email,
                Role(row.role),
                name_of(row.invited_by),
                row.expires,
                User.objects.filter(email__iexact=row.email).exists(),
            )
        )


@method_decorator(csrf_protect, name="dispatch")
class JoinView(APIView):
    """An invitation to be taken."""

    @extend_schema(
        operation_id="join", request=JoinSerializer, responses={200: schema_of(Joined), **PROBLEMS}
    )
    def post(self, request: Request) -> Response:
        """Join: as who is signed in, or with a new account, which is signed in then."""
        form, now = checked(JoinSerializer, request.data), clock.now()
        if isinstance(request.user, User):
            return Response(Joined(services.join_as(request.user, form["secret"], now).slug))
        slug = services.invitation_of(form["secret"], now).workspace.slug
        person = services.join_anew(
            form["secret"], form["username"], form["name"], form["password"], now
        )
        sign_in_browser(request._request, person, now)
        return Response(Joined(slug))


def _invitation(row: Invitation, now: datetime) -> InvitationRow:
    return InvitationRow(
        row.pk, row.email, Role(row.role), name_of(row.invited_by), row.expires, row.expires <= now
    )
