"""How many requests of the API anybody may make: so many a minute, counted by each process."""

from typing import TYPE_CHECKING

from django.conf import settings
from django.contrib.auth.models import User
from django.core.cache import cache
from rest_framework.request import Request
from rest_framework.throttling import BaseThrottle

from fluctus.accounts.access import most_requests_of
from fluctus.accounts.models import ApiToken
from fluctus.http import clock

if TYPE_CHECKING:
    from rest_framework.views import APIView

MINUTE = 60


class _ByMinute(BaseThrottle):
    """Counts requests in the minute that runs."""

    def wait(self) -> float:
        """Return the seconds until the next minute."""
        return MINUTE - clock.now().timestamp() % MINUTE


def _counted(who: str) -> int:
    key = f"requests-{who}-{int(clock.now().timestamp()) // MINUTE}"
    cache.add(key, 0, MINUTE)
    return int(cache.incr(key))


class ByWorkspace(_ByMinute):
    """Counts the requests of all people and tokens of a workspace, where it has such a bound."""

    def allow_request(self, request: Request, view: "APIView") -> bool:
        """Tell whether there is room for one more; who may not see it has been refused before."""
        slug, given = view.kwargs.get("workspace"), most_requests_of(request)
        most = settings.ROOM["requests_a_minute"] if given is None else given
        return slug is None or most is None or _counted(f"workspace-{slug}") <= most


class ByWhoAsks(_ByMinute):
    """Counts the requests of each person and of each token in the minute that runs."""

    def allow_request(self, request: Request, view: "APIView") -> bool:
        """Tell whether there is room for one more; who is not signed in is bounded elsewhere."""
        if isinstance(request.auth, ApiToken):
            who, most = f"token-{request.auth.pk}", settings.TOKEN_REQUESTS_A_MINUTE
        elif isinstance(request.user, User):
            who, most = f"person-{request.user.pk}", settings.REQUESTS_A_MINUTE
        else:
            return True
        return bool(_counted(who) <= most)
