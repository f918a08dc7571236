"""Slowing down whoever guesses: so many tries are free, then one at a time.

Each purpose is counted by itself, and what is tried by a key that nobody types. A lock slows and
never shuts: who guesses in somebody's name keeps neither them nor others out for longer than a
moment, since each address has tries of its own, and where somebody has been known before they
are let in whatever others do.
"""

import hashlib
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import datetime, timedelta

from django.conf import settings
from django.db import connection, models, transaction
from django.db.models import Q

from fluctus.accounts.models import GuessedTry
from fluctus.http.refusals import Issue, RefusalError

COUNTED_FOR = timedelta(minutes=15)
PAUSE = timedelta(seconds=30)
"""Between tries, once those that are free are used up."""
ADDRESS_SHARED_BY = 3
"""An address may be that of several people: it has so many times the tries of one."""
TRIED_FROM = 10
"""From so many times as many addresses together something may be tried before all are slowed."""


class Purpose(models.TextChoices):
    """What tries are for."""

    SIGN_IN = "sign_in"
    LETTER = "letter"
    LINK = "link"
    CONFIRM = "confirm"
    CODE = "code"


@dataclass(frozen=True, slots=True)
class Counted:
    """Tries that count, by when they were: of this key from this address, of either."""

    mine: Sequence[datetime]
    of_key: Sequence[datetime]
    of_address: Sequence[datetime]


def wait_for(counted: Counted, now: datetime, *, known: bool) -> timedelta:
    """Return how long to wait before the next try is looked at; 0 for not at all.

    ``known`` tells that whoever tries from this address has been let in from there before.
    """
    free = settings.SIGN_IN_TRIES
    waits = [_pause_after(counted.mine, free, now)]
    if not known:
        waits.append(_pause_after(counted.of_address, free * ADDRESS_SHARED_BY, now))
        waits.append(_pause_after(counted.of_key, free * TRIED_FROM, now))
    return max(waits)


def _pause_after(times: Sequence[datetime], free: int, now: datetime) -> timedelta:
    if len(times) < free:
        return timedelta()
    return max(timedelta(), max(times) + PAUSE - now)


@transaction.atomic
def count_try(
    purpose: Purpose, key: str, address: str, now: datetime, *, known: bool = False
) -> None:
    """Count a try before it is looked at, so that any number of them at once are counted.

    Raises RefusalError (429) for one that comes too soon after others, which is not counted.
    """
    key = key.lower()[:150]
    with connection.cursor() as cursor:
        # One after the other, for this key.
        cursor.execute("SELECT pg_advisory_xact_lock(%s)", [_lock_number(purpose, key)])
    tries = GuessedTry.objects.filter(purpose=purpose)
    tries.filter(at__lt=now - COUNTED_FOR).delete()
    rows = list(tries.filter(Q(key=key) | Q(address=address)).values_list("key", "address", "at"))
    counted = Counted(
        mine=[at for tried, came_from, at in rows if (tried, came_from) == (key, address)],
        of_key=[at for tried, _, at in rows if tried == key],
        of_address=[at for _, came_from, at in rows if came_from == address],
    )
    wait = wait_for(counted, now, known=known)
    if wait:
        seconds = max(1, -(-int(wait.total_seconds() * 1000) // 1000))
        raise RefusalError(
            "Too many tries.",
            Issue("It was not looked at: too many were wrong before.", _remedy(purpose, seconds)),
            status=429,
            retry_after=seconds,
        )
    GuessedTry.objects.create(purpose=purpose, key=key, address=address, at=now)


@contextmanager
def tried(
    purpose: Purpose, key: str, address: str, now: datetime, *, known: bool = False
) -> Iterator[None]:
    """Look at a try within a block, once it has been counted as ``count_try`` does.

    Where the block raises nothing it was right, and those of this address before it are forgotten.
    """
    count_try(purpose, key, address, now, known=known)
    yield
    clear_tries(purpose, key, address)


def clear_tries(purpose: Purpose, key: str, address: str | None = None) -> None:
    """Forget the tries of a key that was right in the end: from an address, or from anywhere."""
    tries = GuessedTry.objects.filter(purpose=purpose, key=key.lower()[:150])
    (tries if address is None else tries.filter(address=address)).delete()


def _remedy(purpose: Purpose, seconds: int) -> str:
    wait = f"Wait {seconds} second{'' if seconds == 1 else 's'}, then try again."
    if purpose == Purpose.SIGN_IN:
        return f"{wait} Or have a letter sent, and set the password anew."
    return wait


def _lock_number(purpose: Purpose, key: str) -> int:
    digest = hashlib.sha256(f"{purpose} {key}".encode()).digest()
    return int.from_bytes(digest[:8], signed=True)
