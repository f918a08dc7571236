"""How the description of the API names what Django calls otherwise."""

from django.conf import settings
from drf_spectacular.extensions import OpenApiAuthenticationExtension
from drf_spectacular.openapi import AutoSchema


class CookieSessionScheme(OpenApiAuthenticationExtension):  # type: ignore[no-untyped-call]
    """The session cookie."""

    target_class = "fluctus.site.authentication.CookieSession"
    name = "session"

    def get_security_definition(self, auto_schema: AutoSchema) -> dict[str, str]:
        """Describe the cookie."""
        return {"type": "apiKey", "in": "cookie", "name": settings.SESSION_COOKIE_NAME}


class BearerTokenScheme(OpenApiAuthenticationExtension):  # type: ignore[no-untyped-call]
    """The token of a program."""

    target_class = "fluctus.site.authentication.BearerToken"
    name = "token"

    def get_security_definition(self, auto_schema: AutoSchema) -> dict[str, str]:
        """Describe the header."""
        return {"type": "http", "scheme": "bearer"}
