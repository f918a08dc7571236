"""Signing in, and slowing down whoever guesses passwords."""

from datetime import datetime, timedelta

from django.conf import settings
from django.contrib.auth import authenticate
from django.contrib.auth.models import User
from django.db.models import Q
from django.http import HttpRequest

from fluctus.accounts.models import SignInTry
from fluctus.accounts.record.log import Deed, note_everywhere
from fluctus.http.refusals import Issue, RefusalError

COUNTED_FOR = timedelta(minutes=15)
NAMES_AN_ADDRESS = 3
"""An address may be that of several people: it has so many times the tries of a name."""


def sign_in(request: HttpRequest, name: str, password: str, now: datetime) -> User:
    """Return who has this name and password.

    Each try is noted before the password is looked at, so that any number of them
    at once are counted. Raises RefusalError for a wrong password (403), and
    without looking at it after too many for the name or from the address (429).
    """
    typed, address = count_try(request, name, now)
    person = authenticate(request, username=name, password=password)
    if not isinstance(person, User):
        known = User.objects.filter(username__iexact=name).first()
        if known is not None:
            note_everywhere(known, now, Deed.SIGN_IN, "A wrong password was tried", address)
        raise RefusalError(
            "Name and password do not match.",
            Issue("Nobody has this name and password.", "Check both and try again."),
            status=403,
        )
    SignInTry.objects.filter(name=typed, address=address).delete()
    return person


def count_try(request: HttpRequest, name: str, now: datetime) -> tuple[str, str]:
    """Count a try for a name and from an address, which are returned as they are counted.

    Raises RefusalError (429) after too many.
    """
    typed, address = name.lower()[:150], address_of(request)
    SignInTry.objects.filter(at__lt=now - COUNTED_FOR).delete()
    SignInTry.objects.create(name=typed, address=address, at=now)
    _refuse_too_many(typed, address, now)
    return typed, address


def address_of(request: HttpRequest) -> str:
    """Return the address that asks, as the nearest proxy that is trusted says."""
    said = [part.strip() for part in request.headers.get("X-Forwarded-For", "").split(",") if part]
    proxies = settings.TRUSTED_PROXIES
    if proxies and len(said) >= proxies:
        return str(said[-proxies])[:64]
    return str(request.META.get("REMOTE_ADDR", ""))[:64]


def _refuse_too_many(name: str, address: str, now: datetime) -> None:
    tries = SignInTry.objects.filter(Q(name=name) | Q(address=address)).order_by("at")
    rows = list(tries.values_list("name", "address", "at"))
    most = settings.SIGN_IN_TRIES
    of_name = [at for tried, _, at in rows if tried == name]
    of_address = [at for _, came_from, at in rows if came_from == address]
    for times, allowed in ((of_name, most), (of_address, most * NAMES_AN_ADDRESS)):
        if len(times) > allowed:
            # When the newest try that may be left has been forgotten.
            free = times[len(times) - allowed - 1] + COUNTED_FOR
            minutes = max(1, -(-int((free - now).total_seconds()) // 60))
            raise RefusalError(
                "Too many tries.",
                Issue(
                    "The password was not looked at: too many were wrong before.",
                    f"Try again in {minutes} minute{'' if minutes == 1 else 's'}.",
                ),
                status=429,
                retry_after=minutes * 60,
            )
