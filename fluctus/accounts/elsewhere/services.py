"""Whom a provider's people are here: connected by themselves, never guessed by a mail address."""

from datetime import datetime

from django.contrib.auth.models import User
from django.db import IntegrityError, transaction

from fluctus.accounts.elsewhere.provider import Somebody, provider_name
from fluctus.accounts.mail import tell_by_mail
from fluctus.accounts.models import KnownElsewhere, Workspace
from fluctus.accounts.people.services import join_as, join_known_elsewhere
from fluctus.accounts.record.log import AuditEvent, note_everywhere
from fluctus.http.refusals import Issue, RefusalError


def known_as(person: User) -> KnownElsewhere | None:
    """Return whom the provider knows a person as; None where it does not."""
    return KnownElsewhere.objects.filter(person=person).first()


def person_who_is(somebody: Somebody) -> User | None:
    """Return whom somebody is here; None where nobody has said so."""
    row = (
        KnownElsewhere.objects.filter(issuer=somebody.issuer, subject=somebody.subject)
        .select_related("person")
        .first()
    )
    return row.person if row is not None and row.person.is_active else None


@transaction.atomic
def connect(person: User, somebody: Somebody, now: datetime) -> None:
    """Let a person sign in as who they are elsewhere; raises RefusalError (409) where it cannot be.

    What they were connected with before is so no more.
    """
    try:
        with transaction.atomic():
            KnownElsewhere.objects.update_or_create(
                person=person,
                defaults={
                    "issuer": somebody.issuer,
                    "subject": somebody.subject,
                    "called": somebody.called,
                    "since": now,
                },
            )
    except IntegrityError as error:
        raise RefusalError(
            "This was not connected.",
            Issue(
                "Somebody else here signs in with it.",
                "Choose another account there, or let them disconnect it first.",
            ),
            status=409,
        ) from error
    through = f"{provider_name()}{f', as {somebody.called}' if somebody.called else ''}"
    note_everywhere(person, now, AuditEvent.PASSWORD, f"May sign in through {through}")
    tell_by_mail(
        person,
        "You can sign in another way",
        f"your Fluctus account can be signed in to through {through} from now on. If it was not "
        "you who connected this, disconnect it under Your account and set your password anew.",
    )


@transaction.atomic
def disconnect(person: User, now: datetime) -> None:
    """Let a person sign in with the password alone; raises RefusalError (409) for who has none."""
    if not person.has_usable_password():
        raise RefusalError(
            "This was not disconnected.",
            Issue(
                "You have no password, and could not sign in any more.",
                "Let the letter for who has forgotten theirs be sent to you, and set one first.",
            ),
            status=409,
        )
    _, gone = KnownElsewhere.objects.filter(person=person).delete()
    if gone:
        note_everywhere(
            person, now, AuditEvent.PASSWORD, f"Signs in through {provider_name()} no more"
        )


@transaction.atomic
def join_as_somebody(secret: str, somebody: Somebody, now: datetime) -> tuple[User, Workspace]:
    """Let somebody take an invitation: as whom they are here, or with an account that is new."""
    person = person_who_is(somebody)
    if person is not None:
        return person, join_as(person, secret, now)
    person, workspace = join_known_elsewhere(secret, somebody.called, somebody.name, now)
    connect(person, somebody, now)
    return person, workspace
