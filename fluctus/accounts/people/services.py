"""Writes of memberships and invitations, each one transaction."""

from datetime import datetime, timedelta

from django.contrib.auth.models import User
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.db import transaction

from fluctus.accounts.mail import send_mail_to, tell_by_mail
from fluctus.accounts.models import Invitation, Membership, Role, Workspace
from fluctus.accounts.queries import name_of
from fluctus.accounts.record.log import AuditEvent, note
from fluctus.accounts.secrets import digest_of, draw_secret
from fluctus.http.refusals import Issue, NotThereError, RefusalError

VALID_FOR = timedelta(days=7)
MOST_OPEN = 200
"""Invitations of a workspace that wait at one time."""


@transaction.atomic
def give_role(workspace: Workspace, number: int, role: Role, owner: User, now: datetime) -> None:
    """Give a member another role; raises RefusalError (409) for the last owner."""
    member = _members(workspace).get(number)
    if member is None:
        raise NotThereError("person")
    if member.role == role:
        return
    if member.role == Role.OWNER:
        _refuse_last_owner(workspace, f"{name_of(member.person)} is its last owner.")
    before, member.role = member.role, role
    member.save(update_fields=["role"])
    text = f"Made {name_of(member.person)} {role} (was {before})"
    note(workspace, owner, now, AuditEvent.ROLE, text)
    tell_by_mail(
        member.person,
        f"Your role in {workspace.name} was changed",
        f"{name_of(owner)} made you {role} of {workspace.name}; you were {before}.",
    )


@transaction.atomic
def remove_member(workspace: Workspace, number: int, by: User, now: datetime) -> None:
    """Take a person out of a workspace, or let them leave; their words stay.

    Raises RefusalError (409) for the last owner. Tokens of theirs for it end with it.
    """
    member = _members(workspace).get(number)
    if member is None:
        raise NotThereError("person")
    if member.role == Role.OWNER:
        leaving = member.person_id == by.pk
        _refuse_last_owner(
            workspace,
            "You are its last owner."
            if leaving
            else f"{name_of(member.person)} is its last owner.",
        )
    member.person.tokens.filter(workspace=workspace).delete()
    member.delete()
    left = member.person_id == by.pk
    text = "Left" if left else f"Removed {name_of(member.person)}"
    note(workspace, by, now, AuditEvent.ROLE, text)
    if not left:
        tell_by_mail(
            member.person,
            f"You are no longer in {workspace.name}",
            f"{name_of(by)} took you out of {workspace.name}.",
        )


@transaction.atomic
def end_workspace(workspace: Workspace, name: str, owner: User, now: datetime) -> None:
    """End a workspace with all that is in it; who did what stays on record, as a setting says.

    Raises RefusalError where ``name`` is not its name. Its people are told by mail.
    """
    row = Workspace.objects.select_for_update().get(pk=workspace.pk)
    if name.strip() != row.name:
        raise RefusalError(
            "The workspace was not ended.",
            Issue("The name typed is not its name.", f"Type {row.name} to end it.", "name"),
        )
    note(row, owner, now, AuditEvent.DELETION, f"Ended the workspace {row.name}")
    for member in row.members.exclude(pk=owner.pk):
        tell_by_mail(
            member,
            f"{row.name} has ended",
            f"{name_of(owner)} ended the workspace {row.name}, with all that was in it.",
        )
    row.delete()


def _members(workspace: Workspace) -> dict[int, Membership]:
    # All of them are held, so that two owners who leave at once cannot both be the last but one.
    rows = Membership.objects.select_for_update(of=("self",)).filter(workspace=workspace)
    return {row.person_id: row for row in rows.select_related("person").order_by("pk")}


def _refuse_last_owner(workspace: Workspace, detail: str) -> None:
    if Membership.objects.filter(workspace=workspace, role=Role.OWNER).count() < 2:
        raise RefusalError(
            "A workspace needs an owner; nothing was changed.",
            Issue(detail, "Make somebody else an owner first."),
            status=409,
        )


@transaction.atomic
def invite(
    workspace: Workspace, email: str, role: Role, owner: User, now: datetime, site: str
) -> tuple[Invitation, str]:
    """Invite somebody by mail; returns the invitation and its address.

    One that waits already for the same mail address is replaced. ``site`` is where
    Fluctus is reached. Raises RefusalError (409) for somebody who is a member.
    """
    Workspace.objects.select_for_update().get(pk=workspace.pk)
    if workspace.members.filter(email__iexact=email).exists():
        raise RefusalError(
            "This person is a member already.",
            Issue(f"{email} is in {workspace.name}.", "Change their role in the list instead."),
            status=409,
        )
    open_ones = Invitation.objects.filter(workspace=workspace, used_at=None)
    open_ones.filter(email__iexact=email).delete()
    open_ones.filter(expires__lt=now).delete()
    if open_ones.count() >= MOST_OPEN:
        raise RefusalError(
            "Too many invitations wait to be taken.",
            Issue(f"{MOST_OPEN} are open.", "Withdraw some of them first."),
            status=409,
        )
    secret = draw_secret()
    invitation = Invitation.objects.create(
        workspace=workspace,
        email=email,
        role=role,
        digest=digest_of(secret),
        invited_by=owner,
        at=now,
        expires=now + VALID_FOR,
    )
    # After the # it is sent to no server and stands in no log.
    address = f"{site}/join#{secret}"
    note(workspace, owner, now, AuditEvent.INVITATION, f"Invited {email} as {role}")
    send_mail_to(
        email,
        f"{name_of(owner)} invites you to {workspace.name}",
        f"{name_of(owner)} invites you to follow the KPIs of {workspace.name} as {role}.\n\n"
        f"Open this address to join; it works once, until "
        f"{invitation.expires:%-d %B %Y}:\n\n{address}\n\n"
        "If you did not expect this, there is nothing you need to do.",
        [workspace.slug],
    )
    return invitation, address


@transaction.atomic
def withdraw(workspace: Workspace, number: int, owner: User, now: datetime) -> None:
    """Withdraw an invitation; its address works no more."""
    row = Invitation.objects.filter(workspace=workspace, pk=number, used_at=None).first()
    if row is None:
        raise NotThereError("invitation")
    row.delete()
    note(workspace, owner, now, AuditEvent.INVITATION, f"Withdrew the invitation of {row.email}")


def invitation_of(secret: str, now: datetime) -> Invitation:
    """Return the invitation that a secret opens.

    Raises RefusalError (410) for one that was used, has expired or was withdrawn; which of
    them is said, since whoever knows the secret was invited.
    """
    rows = Invitation.objects.select_related("workspace", "invited_by")
    row = rows.filter(digest=digest_of(secret)).first()
    if row is None:
        raise _spent("It was withdrawn, replaced by a newer one, or is not whole.")
    if row.used_at is not None:
        raise _spent(f"It was used on {row.used_at:%-d %B %Y}.")
    if row.expires <= now:
        raise _spent(f"It was valid until {row.expires:%-d %B %Y}.")
    return row


def _spent(detail: str) -> RefusalError:
    return RefusalError(
        "This invitation is not valid any more.",
        Issue(detail, "Ask whoever invited you for another."),
        status=410,
    )


@transaction.atomic
def join_as(person: User, secret: str, now: datetime) -> Workspace:
    """Let somebody who is signed in join.

    Raises RefusalError (409) for another person than the one who was invited.
    """
    row = _held(secret, now)
    if person.email.lower() != row.email.lower():
        raise RefusalError(
            "This invitation is for somebody else.",
            Issue(
                f"You are signed in as {name_of(person)}; it was sent to {row.email}.",
                "Sign out first, then open it again.",
            ),
            status=409,
        )
    return _take(row, person, now)


@transaction.atomic
def join_anew(secret: str, username: str, full_name: str, password: str, now: datetime) -> User:
    """Make an account for somebody who was invited, and let them join.

    Raises RefusalError where there is an account with this mail address (409), or for a
    name that is taken, or a password that would not hold (422).
    """
    row = _held(secret, now)
    person = _account_for(row, username, full_name, password)
    _take(row, person, now)
    return person


@transaction.atomic
def join_known_elsewhere(
    secret: str, called: str, full_name: str, now: datetime
) -> tuple[User, Workspace]:
    """Make an account without a password for somebody who was invited, and let them join.

    They sign in as whom they are elsewhere: ``called`` so, with a ``full_name`` where it is known.
    Raises RefusalError (409) where there is an account with this mail address.
    """
    row = _held(secret, now)
    person = _account_for(row, _free_name(called or row.email), full_name, password=None)
    return person, _take(row, person, now)


def _account_for(row: Invitation, username: str, full_name: str, password: str | None) -> User:
    """Make the account of who was invited, with a password or none; raises RefusalError."""
    if User.objects.filter(email__iexact=row.email).exists():
        raise RefusalError(
            "You have an account already.",
            Issue(f"There is one for {row.email}.", "Sign in with it, then open this again."),
            status=409,
        )
    first, _, last = full_name.strip().partition(" ")
    person = User(username=username, email=row.email, first_name=first, last_name=last.strip())
    try:
        if password is not None:
            validate_password(password, person)
        # None makes one that nothing matches.
        person.set_password(password)
        person.full_clean()
    except ValidationError as error:
        raise refusal_of(error, "The account was not made.") from None
    person.save()
    return person


def _free_name(wanted: str) -> str:
    """Return a name to sign in with that nobody has yet, like ``wanted``."""
    kept = "".join(sign for sign in wanted.strip() if sign.isalnum() or sign in "@.+-_")[:140]
    name, number = kept or "person", 1
    while User.objects.filter(username__iexact=name).exists():
        number += 1
        name = f"{kept or 'person'}-{number}"
    return name


def refusal_of(error: ValidationError, title: str) -> RefusalError:
    """Say what Django's validation says, by field; its bare messages are about the password."""
    fields = error.message_dict if hasattr(error, "error_dict") else {"password": error.messages}
    return RefusalError(
        title,
        *(
            Issue(message, "Choose another.", "" if field == "__all__" else field)
            for field, messages in fields.items()
            for message in messages
        ),
    )


def _held(secret: str, now: datetime) -> Invitation:
    """Return the invitation, held until the end of the transaction: it works once."""
    Invitation.objects.select_for_update().filter(digest=digest_of(secret)).first()
    return invitation_of(secret, now)


def _take(row: Invitation, person: User, now: datetime) -> Workspace:
    row.used_at = now
    row.save(update_fields=["used_at"])
    Membership.objects.get_or_create(
        workspace=row.workspace, person=person, defaults={"role": row.role}
    )
    note(row.workspace, person, now, AuditEvent.INVITATION, f"Joined as {row.role}")
    return row.workspace
