"""Who acts, and when: handed to every write, which reads no clock of its own."""

from dataclasses import dataclass
from datetime import datetime

from django.contrib.auth.models import User
from rest_framework.request import Request

from fluctus.http import clock
from fluctus.http.requests import person_of


@dataclass(frozen=True, slots=True)
class Actor:
    """A person, or None for the program itself, and the time at which they act."""

    person: User | None
    now: datetime


def actor_of(request: Request) -> Actor:
    """Return who asks, now."""
    return Actor(person_of(request), clock.now())
