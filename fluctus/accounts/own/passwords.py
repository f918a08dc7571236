"""A password changed, or set anew by a letter for somebody who has forgotten it."""

from datetime import datetime

from django.contrib.auth.models import User
from django.contrib.auth.password_validation import validate_password
from django.contrib.auth.tokens import default_token_generator
from django.core.exceptions import ValidationError
from django.db import transaction
from django.utils.encoding import force_str
from django.utils.http import urlsafe_base64_decode, urlsafe_base64_encode

from fluctus.accounts.mail import send_mail_to, tell_by_mail
from fluctus.accounts.own.browsers import end_browsers
from fluctus.accounts.people.services import refusal_of
from fluctus.accounts.queries import name_of, workspaces_of
from fluctus.accounts.record.log import AuditEvent, note_everywhere
from fluctus.accounts.tries import Purpose, clear_tries
from fluctus.http.refusals import Issue, RefusalError
from fluctus.http.site_address import site_address

NOT_CHANGED = "The password was not changed."


@transaction.atomic
def change_password(
    person: User, old: str, new: str, session_key: str | None, now: datetime
) -> None:
    """Change a password; every other browser of the person is signed out.

    Raises RefusalError for a wrong old one (403), and a new one that would not hold.
    """
    row = User.objects.select_for_update().get(pk=person.pk)
    if not row.check_password(old):
        raise RefusalError(
            NOT_CHANGED,
            Issue("This is not your password.", "Type the one you signed in with.", "old"),
            status=403,
        )
    _set(row, new, "Changed their password", now)
    end_browsers(row, but=session_key)
    person.password = row.password


def send_reset(name: str) -> None:
    """Send a letter with which a password is set anew, where there is such a person."""
    found = User.objects.filter(email__iexact=name) if "@" in name else None
    person = (found or User.objects.filter(username=name)).first()
    if person is None or not person.email or not person.is_active:
        return
    number = urlsafe_base64_encode(str(person.pk).encode())
    secret = f"{number}.{default_token_generator.make_token(person)}"
    send_mail_to(
        person.email,
        "Set a new password for Fluctus",
        f"{name_of(person)}, somebody asked to set your password anew. If it was you, open this "
        f"address within a day; it works once:\n\n{site_address()}/reset#{secret}\n\n"
        "If it was not, your password is as it was.",
        [workspace.slug for workspace in workspaces_of(person)],
    )


@transaction.atomic
def reset_password(secret: str, new: str, now: datetime, *, end_tokens: bool) -> User:
    """Set a password anew; every browser of the person is signed out, and tokens end if asked.

    Tries in their name are forgotten: whoever has the letter gets in, whatever others guess.

    Raises RefusalError (410) for a secret that was used or has expired.
    """
    number, _, token = secret.partition(".")
    try:
        key = int(force_str(urlsafe_base64_decode(number)))
        person = User.objects.select_for_update().filter(pk=key).first()
    except (ValueError, OverflowError):
        person = None
    if person is None or not default_token_generator.check_token(person, token):
        raise RefusalError(
            NOT_CHANGED,
            Issue("This address was used, or is older than a day.", "Ask for another letter."),
            status=410,
        )
    _set(person, new, "Set their password anew", now)
    end_browsers(person, but=None)
    if end_tokens:
        person.tokens.all().delete()
    clear_tries(Purpose.SIGN_IN, person.username)
    return person


def _set(person: User, new: str, event: str, now: datetime) -> None:
    try:
        validate_password(new, person)
    except ValidationError as error:
        raise refusal_of(error, NOT_CHANGED) from None
    person.set_password(new)
    person.save(update_fields=["password"])
    note_everywhere(person, now, AuditEvent.PASSWORD, event)
    tell_by_mail(
        person,
        "Your password for Fluctus was changed",
        "your password was changed just now. If it was not you, have a letter sent from the "
        "page for signing in and set it anew.",
    )
