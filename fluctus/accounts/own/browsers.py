"""The browsers that a person is signed in with: noted at signing in, listed, ended."""

from datetime import datetime, timedelta

from django.conf import settings
from django.contrib.auth import login
from django.contrib.auth.models import User
from django.contrib.sessions.backends.db import SessionStore
from django.contrib.sessions.models import Session
from django.db import transaction
from django.http import HttpRequest

from fluctus.accounts.models import SignedIn
from fluctus.accounts.record.log import AuditEvent, note_everywhere
from fluctus.accounts.sign_in import note_confirmed
from fluctus.http.client_address import client_address
from fluctus.http.refusals import NotThereError

SEEN, BEGAN = "seen", "began"
SEEN_EVERY = timedelta(minutes=10)
"""A browser that asks again within this time is not noted again: reading writes nothing."""


def sign_in_browser(request: HttpRequest, person: User, now: datetime) -> None:
    """Sign a person in with the browser that asks, and note which it is."""
    login(request, person)
    session = request.session
    session[SEEN] = session[BEGAN] = now.timestamp()
    note_confirmed(request, now)
    if session.session_key is None:
        session.save()
    address = client_address(request)
    SignedIn.objects.update_or_create(
        session_key=session.session_key,
        defaults={
            "person": person,
            "began": now,
            "seen": now,
            "address": address,
            "browser": request.headers.get("User-Agent", "")[:200],
        },
    )
    note_everywhere(person, now, AuditEvent.SIGN_IN, "Signed in", address)


def is_over(request: HttpRequest, now: datetime) -> bool:
    """Tell whether a session has lasted, or gone unused, for longer than the settings allow."""
    session = request.session
    began, seen = session.get(BEGAN), session.get(SEEN)
    if began is None or seen is None:
        # Of a version that did not note it: it begins now.
        session[BEGAN] = session[SEEN] = now.timestamp()
        return False
    age, unused = (timedelta(seconds=now.timestamp() - at) for at in (began, seen))
    return age > timedelta(days=settings.SESSION_DAYS) or (
        unused > timedelta(days=settings.SESSION_IDLE_DAYS)
    )


def note_seen(request: HttpRequest, now: datetime) -> None:
    """Note that a browser is still used; when it was last is in its session."""
    session = request.session
    last = session.get(SEEN)
    if last is not None and now.timestamp() - last > SEEN_EVERY.total_seconds():
        session[SEEN] = now.timestamp()
        SignedIn.objects.filter(session_key=session.session_key).update(seen=now)


def browsers_of(person: User, now: datetime) -> list[SignedIn]:
    """List the browsers that a person is signed in with, the one used last first."""
    alive = Session.objects.filter(expire_date__gt=now).values("session_key")
    return list(SignedIn.objects.filter(person=person, session_key__in=alive).order_by("-seen"))


@transaction.atomic
def end_browser(person: User, number: int) -> str:
    """Sign one browser of a person out; returns the key that its session had."""
    row = SignedIn.objects.filter(person=person, pk=number).first()
    if row is None:
        raise NotThereError("browser")
    SessionStore(row.session_key).delete()
    row.delete()
    return row.session_key


@transaction.atomic
def end_browsers(person: User, but: str | None) -> None:
    """Sign every browser of a person out, but the one whose session has this key."""
    for row in SignedIn.objects.filter(person=person).exclude(session_key=but or ""):
        SessionStore(row.session_key).delete()
        row.delete()


def note_new_key(person: User, old: str | None, new: str | None) -> None:
    """Note that the session of a browser has another key."""
    if old is not None and new is not None:
        SignedIn.objects.filter(person=person, session_key=old).update(session_key=new)
