"""Tokens over HTTP."""

from dataclasses import dataclass
from datetime import datetime

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fluctus.accounts.access import role_of
from fluctus.accounts.models import ApiToken, Role
from fluctus.accounts.queries import name_of, workspace_of
from fluctus.accounts.tokens import services
from fluctus.http import clock
from fluctus.http.problems import PROBLEMS
from fluctus.http.requests import Plain, checked, person_of
from fluctus.http.shapes import Shape, schema_of, schema_of_list


@dataclass(frozen=True, slots=True)
class TokenRow(Shape):
    """A token; its secret is told once, when it is made."""

    id: int
    name: str
    role: Role
    hint: str
    """Its first characters."""
    person: str
    yours: bool
    made_at: datetime
    used: datetime | None
    """When it was used last, to the minute."""
    expires: datetime | None


@dataclass(frozen=True, slots=True)
class NewToken(Shape):
    """A token that was just made, with its secret."""

    token: TokenRow
    secret: str


class NewTokenSerializer(Plain):
    """What a token is for."""

    name = serializers.CharField(max_length=80)
    role = serializers.ChoiceField(choices=Role.choices)


class TokensView(APIView):
    """The tokens of a workspace."""

    @extend_schema(operation_id="tokens", responses={200: schema_of_list(TokenRow), **PROBLEMS})
    def get(self, request: Request, workspace: str) -> Response:
        """List one's own; for an owner, everybody's."""
        person = person_of(request)
        rows = ApiToken.objects.filter(workspace=workspace_of(person, workspace))
        if role_of(request) != Role.OWNER:
            rows = rows.filter(person=person)
        return Response(
            [_row(token, person.pk) for token in rows.select_related("person").order_by("-pk")]
        )

    @extend_schema(
        operation_id="make_token",
        request=NewTokenSerializer,
        responses={201: schema_of(NewToken), **PROBLEMS},
    )
    def post(self, request: Request, workspace: str) -> Response:
        """Make one."""
        person, form = person_of(request), checked(NewTokenSerializer, request.data)
        token, secret = services.make_token(
            workspace_of(person, workspace),
            person,
            form["name"],
            Role(form["role"]),
            role_of(request),
            clock.now(),
        )
        return Response(NewToken(_row(token, person.pk), secret), status=201)


class TokenView(APIView):
    """One token."""

    @extend_schema(operation_id="revoke_token", responses={204: None, **PROBLEMS})
    def delete(self, request: Request, workspace: str, number: int) -> Response:
        """Revoke it: programs that have it are refused from now on."""
        person = person_of(request)
        services.revoke_token(
            workspace_of(person, workspace),
            person,
            number,
            role_of(request) == Role.OWNER,
            clock.now(),
        )
        return Response(status=204)


def _row(token: ApiToken, person: int) -> TokenRow:
    return TokenRow(
        token.pk,
        token.name,
        Role(token.role),
        token.hint,
        name_of(token.person),
        token.person_id == person,
        token.made_at,
        token.used_at,
        token.expires,
    )
