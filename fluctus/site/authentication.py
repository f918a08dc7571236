"""Who is asking: Django's session cookie, with a proper 401 for nobody."""

from rest_framework.authentication import SessionAuthentication
from rest_framework.request import Request


class CookieSession(SessionAuthentication):
    """Session authentication that says 401, not 403, to someone who is not signed in."""

    def authenticate_header(self, request: Request) -> str:
        """Name the scheme, which is what turns the 403 into a 401."""
        return "Session"
