"""Who is asking: Django's session cookie, or the token of a program."""

from django.contrib.auth import logout
from django.contrib.auth.models import User
from rest_framework.authentication import BaseAuthentication, SessionAuthentication
from rest_framework.exceptions import AuthenticationFailed
from rest_framework.request import Request

from fluctus.accounts.models import ApiToken
from fluctus.accounts.own.browsers import is_over, note_seen
from fluctus.accounts.tokens.services import token_of
from fluctus.http import clock

SCHEME = "Bearer"


class BearerToken(BaseAuthentication):
    """A token in the header ``Authorization: Bearer …``; such a request needs no CSRF token."""

    def authenticate(self, request: Request) -> tuple[User, ApiToken] | None:
        """Return the person that a token acts for, and the token; None without one."""
        scheme, _, secret = request.headers.get("Authorization", "").partition(" ")
        if scheme.lower() != SCHEME.lower():
            return None
        token = token_of(secret.strip(), clock.now())
        if token is None:
            raise AuthenticationFailed("This token is not valid: it was revoked, or is not whole.")
        return token.person, token

    def authenticate_header(self, request: Request) -> str:
        """Name the scheme, which is what makes a refusal a 401 rather than a 403."""
        return SCHEME


class CookieSession(SessionAuthentication):
    """Session authentication that notes which browsers are still used."""

    def authenticate(self, request: Request) -> tuple[User, None] | None:
        """Return who is signed in."""
        found = super().authenticate(request)
        if found is None:
            return None
        now = clock.now()
        if is_over(request._request, now):
            logout(request._request)
            return None
        note_seen(request._request, now)
        return found
