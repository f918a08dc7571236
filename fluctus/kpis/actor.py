"""Who acts, and when: handed to every write, which reads no clock of its own."""

from dataclasses import dataclass
from datetime import datetime

from django.contrib.auth.models import User
from rest_framework.request import Request

from fluctus.accounts.access import not_allowed, role_of
from fluctus.accounts.models import Role
from fluctus.http import clock
from fluctus.http.requests import person_of


@dataclass(frozen=True, slots=True)
class Actor:
    """A person, or None for the program itself, the time at which they act, and their role."""

    person: User | None
    now: datetime
    role: Role = Role.OWNER

    def refuse_below(self, needed: Role, what: str) -> None:
        """Raise RefusalError (403) where the role does not include ``needed``."""
        if not self.role.includes(needed):
            raise not_allowed(self.role, needed, what)


def actor_of(request: Request) -> Actor:
    """Return who asks, now."""
    return Actor(person_of(request), clock.now(), role_of(request))
