"""Signing in, and confirming later that it is still the same person."""

from datetime import datetime, timedelta

from django.contrib.auth import authenticate
from django.contrib.auth.models import User
from django.http import HttpRequest

from fluctus.accounts.models import KnownElsewhere, SignedIn
from fluctus.accounts.record.log import AuditEvent, note_everywhere
from fluctus.accounts.second_step.services import take_code
from fluctus.accounts.tries import Purpose, tried
from fluctus.http.client_address import client_address
from fluctus.http.refusals import Issue, RefusalError

CONFIRMED = "confirmed"
CONFIRMED_FOR = timedelta(minutes=15)
HALF_IN = "half_in"
HALF_IN_FOR = timedelta(minutes=10)
"""How long the code is waited for after the password."""
CONFIRM = "confirm"
"""The field that a refusal names where a password is to be typed again."""


def sign_in(request: HttpRequest, name: str, password: str, now: datetime) -> User:
    """Return who has this name and password.

    Each try is noted before the password is looked at, so that any number of them
    at once are counted. Raises RefusalError for a wrong password (403), and
    without looking at it where tries come too fast (429).
    """
    address = client_address(request)
    known = SignedIn.objects.filter(person__username__iexact=name, address=address).exists()
    with tried(Purpose.SIGN_IN, name, address, now, known=known):
        person = authenticate(request, username=name, password=password)
        if not isinstance(person, User):
            account = User.objects.filter(username__iexact=name).first()
            if account is not None:
                wrong = "A wrong password was tried"
                note_everywhere(account, now, AuditEvent.SIGN_IN, wrong, address)
            raise RefusalError(
                "Name and password do not match.",
                Issue("Nobody has this name and password.", "Check both and try again."),
                status=403,
            )
    return person


def note_half_in(request: HttpRequest, person: User, now: datetime) -> None:
    """Note in the session that a password was right, and that a code is to follow."""
    request.session.cycle_key()
    request.session[HALF_IN] = [person.pk, now.timestamp(), person.get_session_auth_hash()]


def finish_sign_in(request: HttpRequest, code: str, now: datetime) -> User:
    """Return who has typed their password before, and now the code of their device.

    Each try is noted before the code is looked at. Raises RefusalError for a wrong code (403), one
    that comes too soon after others (429), and where the password was typed too long ago (409).
    """
    number, typed, of_password = request.session.get(HALF_IN) or (0, 0.0, "")
    person = User.objects.filter(pk=int(number), is_active=True).first()
    fresh = now.timestamp() - typed <= HALF_IN_FOR.total_seconds()
    # A password that was set anew meanwhile is another one.
    if person is None or not fresh or of_password != person.get_session_auth_hash():
        request.session.pop(HALF_IN, None)
        raise RefusalError(
            "Sign in again.",
            Issue("Your password was typed some time ago.", "Type name and password again."),
            status=409,
        )
    address = client_address(request)
    with tried(Purpose.CODE, str(person.pk), address, now):
        try:
            take_code(person, code, now)
        except RefusalError:
            note_everywhere(person, now, AuditEvent.SIGN_IN, "A wrong code was tried", address)
            raise
    del request.session[HALF_IN]
    return person


def confirm(request: HttpRequest, person: User, password: str, now: datetime) -> None:
    """Note that whoever asks has typed their password again; raises RefusalError as ``sign_in``."""
    with tried(Purpose.CONFIRM, str(person.pk), client_address(request), now):
        if not person.check_password(password):
            raise RefusalError(
                "This is not your password.",
                Issue("It does not match.", "Type the one you signed in with.", "password"),
                status=403,
            )
    note_confirmed(request, now)


def note_confirmed(request: HttpRequest, now: datetime) -> None:
    """Note in the session that a password was typed just now."""
    request.session[CONFIRMED] = now.timestamp()


def refuse_unconfirmed(request: HttpRequest, person: User, now: datetime) -> None:
    """Raise RefusalError (403) where the password was typed too long ago for what is asked.

    Who has none says it anew where they sign in; in the demo, there is nothing to say.
    """
    has_password = person.has_usable_password()
    if not has_password and not KnownElsewhere.objects.filter(person=person).exists():
        return
    typed = request.session.get(CONFIRMED)
    if typed is not None and now.timestamp() - typed <= CONFIRMED_FOR.total_seconds():
        return
    if has_password:
        raise RefusalError(
            "Confirm that it is you.",
            Issue("Your password was typed some time ago.", "Type it again to go on.", CONFIRM),
            status=403,
        )
    raise RefusalError(
        "Confirm that it is you.",
        Issue(
            "You signed in some time ago.",
            "Open Your account, say again who you are where you sign in, and come back.",
        ),
        status=403,
    )
