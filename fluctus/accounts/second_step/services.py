"""The second step of a person: set up, held to at signing in, and ended.

Codes are those of RFC 6238 (TOTP: 30 seconds, six digits, SHA-1, which every authenticator reads).
Each is taken once, so that whoever looks over a shoulder gains nothing. Recovery codes are taken
once as well; only their digests are kept.
"""

import hmac
import secrets
from datetime import datetime, timedelta
from typing import Final

import pyotp
from django.contrib.auth.models import User
from django.db import transaction

from fluctus.accounts.mail import tell_by_mail
from fluctus.accounts.models import SecondStep
from fluctus.accounts.record.log import AuditEvent, note_everywhere
from fluctus.accounts.sealing import opened, sealed
from fluctus.accounts.secrets import digest_of
from fluctus.http.refusals import Issue, RefusalError

ISSUER: Final = "Fluctus"
PERIOD: Final = 30
DRIFT: Final = 1
"""Periods before and after by which the clock of a device may be off."""
RECOVERY_CODES: Final = 10
RECOVERY_ALPHABET: Final = "23456789abcdefghjkmnpqrstuvwxyz"
"""Nothing that is read as something else."""
RECOVERY_LENGTH: Final = 12
"""59 bits: none is guessed, whatever a digest is compared with."""
BEGUN_FOR: Final = timedelta(minutes=30)
"""How long the code of a device that is being set up is waited for."""


def step_of(person: User) -> SecondStep | None:
    """Return the second step of a person; None where there is none, or it is not set up yet."""
    return SecondStep.objects.filter(person=person, since__isnull=False).first()


@transaction.atomic
def begin(person: User, now: datetime) -> str:
    """Draw the secret of a device that is to be set up; returns it. Raises RefusalError (409)."""
    # One after the other: what has been switched on meanwhile keeps its secret.
    User.objects.select_for_update(no_key=True).get(pk=person.pk)
    if step_of(person) is not None:
        raise RefusalError(
            "The second step is on already.",
            Issue("A device is set up.", "Switch it off first, to set up another."),
            status=409,
        )
    secret = pyotp.random_base32()
    SecondStep.objects.update_or_create(
        person=person, defaults={"sealed": sealed({"secret": secret}), "begun": now, "recovery": []}
    )
    return secret


def address_of(person: User, secret: str) -> str:
    """Return the address that an authenticator reads from a picture."""
    return pyotp.TOTP(secret).provisioning_uri(name=person.username, issuer_name=ISSUER)


@transaction.atomic
def set_up(person: User, code: str, now: datetime) -> list[str]:
    """Switch the second step on by a first code; returns the recovery codes, shown once.

    Raises RefusalError for a wrong code (403), and where nothing was begun (409).
    """
    User.objects.select_for_update(no_key=True).get(pk=person.pk)
    row = SecondStep.objects.filter(person=person, since=None).first()
    if row is None or now - row.begun > BEGUN_FOR:
        raise RefusalError(
            "The second step was not switched on.",
            Issue("It was begun too long ago, or not at all.", "Begin again."),
            status=409,
        )
    period = _period_of(row, code, now)
    if period is None:
        raise wrong_code()
    codes = [_recovery_code() for _ in range(RECOVERY_CODES)]
    row.since, row.last_period = now, period
    row.recovery = [digest_of(_plain(each)) for each in codes]
    row.save()
    note_everywhere(person, now, AuditEvent.PASSWORD, "Switched on a second step at signing in")
    tell_by_mail(
        person,
        "A second step was switched on",
        "signing in to Fluctus takes a code of your device from now on. If it was not you who "
        "switched this on, set your password anew and ask an owner for help.",
    )
    return codes


@transaction.atomic
def take_code(person: User, code: str, now: datetime) -> None:
    """Take a code of the device, or a recovery code, once; raises RefusalError (403) otherwise.

    Of who has switched the second step off meanwhile none is asked.
    """
    row = SecondStep.objects.select_for_update().filter(person=person, since__isnull=False).first()
    if row is None:
        return
    period = _period_of(row, code, now)
    if period is not None:
        row.last_period = period
        row.save(update_fields=["last_period"])
        return
    digest = digest_of(_plain(code))
    left = [kept for kept in row.recovery if not hmac.compare_digest(kept, digest)]
    if len(left) == len(row.recovery):
        raise wrong_code()
    row.recovery = left
    row.save(update_fields=["recovery"])
    tell_by_mail(
        person,
        "A recovery code was used",
        f"somebody signed in with a recovery code of yours; {len(left)} are left. If it was not "
        "you, set your password anew.",
    )


@transaction.atomic
def switch_off(person: User, now: datetime) -> None:
    """Let a person sign in with the password alone."""
    _, gone = SecondStep.objects.filter(person=person).delete()
    if gone:
        note_everywhere(
            person, now, AuditEvent.PASSWORD, "Switched off the second step at signing in"
        )
        tell_by_mail(
            person,
            "The second step was switched off",
            "signing in to Fluctus takes your password alone from now on. If it was not you who "
            "switched this off, set your password anew.",
        )


def wrong_code() -> RefusalError:
    """Return what is said of a code that is none, is over, or was used."""
    return RefusalError(
        "This is not the code.",
        Issue(
            "It does not match, is over, or was used.",
            "Type the one that the device shows now, or a recovery code that was not used yet.",
            "code",
        ),
        status=403,
    )


def _period_of(row: SecondStep, code: str, now: datetime) -> int | None:
    """Return the period that a code is of; None where it is of none that may still be used."""
    digits = "".join(code.split())
    totp = pyotp.TOTP(opened(row.sealed)["secret"], interval=PERIOD)
    here = int(now.timestamp()) // PERIOD
    for period in range(here - DRIFT, here + DRIFT + 1):
        if period > row.last_period and hmac.compare_digest(
            totp.generate_otp(period).encode(), digits.encode()
        ):
            return period
    return None


def _recovery_code() -> str:
    drawn = "".join(secrets.choice(RECOVERY_ALPHABET) for _ in range(RECOVERY_LENGTH))
    return "-".join(drawn[at : at + 4] for at in range(0, RECOVERY_LENGTH, 4))


def _plain(code: str) -> str:
    """Return a recovery code as it is compared, however it was typed."""
    return "".join(sign for sign in code.lower() if sign.isalnum())
