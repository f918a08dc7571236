"""A person's own account over HTTP."""

from dataclasses import dataclass
from datetime import datetime

from django.contrib.auth import logout, update_session_auth_hash
from django.utils.decorators import method_decorator
from django.views.decorators.csrf import csrf_protect
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fluctus.accounts.own import browsers, passwords
from fluctus.accounts.own.account import data_of, end_account
from fluctus.accounts.own.jobs import send_password_mail
from fluctus.accounts.sign_in import confirm
from fluctus.accounts.tries import Purpose, count_try
from fluctus.http import clock
from fluctus.http.client_address import client_address
from fluctus.http.problems import PROBLEMS
from fluctus.http.requests import Plain, checked, person_of
from fluctus.http.shapes import Shape, schema_of_list
from fluctus.http.tracing import carried


@dataclass(frozen=True, slots=True)
class Browser(Shape):
    """A browser that a person is signed in with."""

    id: int
    browser: str
    """How it names itself."""
    address: str
    began: datetime
    seen: datetime
    this: bool
    """Whether it is the one that asks."""


class _Password(serializers.CharField):
    def __init__(self) -> None:
        super().__init__(max_length=200, trim_whitespace=False)


class ChangePasswordSerializer(Plain):
    """The password there is and the one to be."""

    old = _Password()
    password = _Password()


class ForgottenSerializer(Plain):
    """Who has forgotten theirs: the name they sign in with, or their mail address."""

    name = serializers.CharField(max_length=254)


class ResetSerializer(Plain):
    """The part of the letter's address after the #, and a new password."""

    secret = serializers.CharField(max_length=200)
    password = _Password()
    end_tokens = serializers.BooleanField(default=True)
    """Whether programs that act for the person are refused from now on."""


class PasswordView(APIView):
    """The password of who asks."""

    @extend_schema(
        operation_id="change_password",
        request=ChangePasswordSerializer,
        responses={204: None, **PROBLEMS},
    )
    def post(self, request: Request) -> Response:
        """Change it; other browsers are signed out."""
        form, person = checked(ChangePasswordSerializer, request.data), person_of(request)
        key = request._request.session.session_key
        passwords.change_password(person, form["old"], form["password"], key, clock.now())
        # Gives the session another key as well, under which this browser is known from now on.
        update_session_auth_hash(request._request, person)
        browsers.note_new_key(person, key, request._request.session.session_key)
        return Response(status=204)


@method_decorator(csrf_protect, name="dispatch")
class ForgottenPasswordView(APIView):
    """A password that was forgotten."""

    @extend_schema(
        operation_id="send_password_mail",
        request=ForgottenSerializer,
        responses={204: None, **PROBLEMS},
    )
    def post(self, request: Request) -> Response:
        """Send a letter to set it anew, if there is such a person; the answer is the same."""
        name = checked(ForgottenSerializer, request.data)["name"]
        count_try(Purpose.LETTER, name, client_address(request._request), clock.now())
        # The same for everybody: who there is, is looked at by a worker.
        send_password_mail.defer(name=name, **carried())
        return Response(status=204)


@method_decorator(csrf_protect, name="dispatch")
class ResetPasswordView(APIView):
    """A password to be set anew."""

    @extend_schema(
        operation_id="reset_password", request=ResetSerializer, responses={204: None, **PROBLEMS}
    )
    def post(self, request: Request) -> Response:
        """Set it by the secret of the letter; every browser of the person is signed out."""
        form = checked(ResetSerializer, request.data)
        passwords.reset_password(
            form["secret"], form["password"], clock.now(), end_tokens=form["end_tokens"]
        )
        return Response(status=204)


class BrowsersView(APIView):
    """The browsers that who asks is signed in with."""

    @extend_schema(operation_id="browsers", responses={200: schema_of_list(Browser), **PROBLEMS})
    def get(self, request: Request) -> Response:
        """List them, the one used last first."""
        key = request._request.session.session_key
        rows = browsers.browsers_of(person_of(request), clock.now())
        return Response(
            [
                Browser(
                    row.pk, row.browser, row.address, row.began, row.seen, row.session_key == key
                )
                for row in rows
            ]
        )

    @extend_schema(operation_id="end_browsers", responses={204: None, **PROBLEMS})
    def delete(self, request: Request) -> Response:
        """Sign all others out."""
        browsers.end_browsers(person_of(request), request._request.session.session_key)
        return Response(status=204)


class BrowserView(APIView):
    """One of them."""

    @extend_schema(operation_id="end_browser", responses={204: None, **PROBLEMS})
    def delete(self, request: Request, number: int) -> Response:
        """Sign it out."""
        browsers.end_browser(person_of(request), number)
        return Response(status=204)


class ConfirmSerializer(Plain):
    """The password of who asks, typed again."""

    password = _Password()


class ConfirmView(APIView):
    """Whoever asks, for what takes more than a session."""

    @extend_schema(
        operation_id="confirm", request=ConfirmSerializer, responses={204: None, **PROBLEMS}
    )
    def post(self, request: Request) -> Response:
        """Note that it is still them; it holds for some minutes."""
        password = checked(ConfirmSerializer, request.data)["password"]
        confirm(request._request, person_of(request), password, clock.now())
        return Response(status=204)


class AccountView(APIView):
    """The account of who asks."""

    @extend_schema(operation_id="end_account", responses={204: None, **PROBLEMS})
    def delete(self, request: Request) -> Response:
        """End it; what was written with it stays in its workspaces, without the name."""
        person = person_of(request)
        end_account(person, clock.now())
        logout(request._request)
        return Response(status=204)


class AccountDataView(APIView):
    """What is kept of who asks."""

    @extend_schema(operation_id="account_data", responses={200: OpenApiTypes.OBJECT, **PROBLEMS})
    def get(self, request: Request) -> Response:
        """Return all of it, to be saved."""
        headers = {"Content-Disposition": 'attachment; filename="fluctus-account.json"'}
        return Response(data_of(person_of(request)), headers=headers)
