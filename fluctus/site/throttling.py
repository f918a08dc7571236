"""How many requests of the API anybody may make: so many a minute, counted by each process."""

from typing import TYPE_CHECKING

from django.conf import settings
from django.contrib.auth.models import User
from django.core.cache import cache
from rest_framework.request import Request
from rest_framework.throttling import BaseThrottle

from fluctus.accounts.models import ApiToken, Workspace
from fluctus.accounts.room.kinds import Kind
from fluctus.accounts.room.services import most_of
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
        slug = view.kwargs.get("workspace")
        if slug is None or request.user is None:
            return True
        most = cache.get(key := f"requests-of-{slug}")
        if most is None:
            most = _most_of(slug)
            cache.set(key, most, MINUTE)
        return bool(most < 0) or _counted(f"workspace-{slug}") <= most


def _most_of(slug: str) -> int:
    """Return how many a workspace may make; -1 for as many as it likes."""
    row = Workspace.objects.filter(slug=slug).first()
    most = None if row is None else most_of(row, Kind.REQUESTS_A_MINUTE)
    return -1 if most is None else most


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
