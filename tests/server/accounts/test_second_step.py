"""A second step at signing in: codes of a device, each taken once, and no way around them."""

import json
from datetime import datetime, timedelta
from io import StringIO
from typing import Any

import pyotp
import pytest
from django.contrib.auth.models import User
from django.core.management import call_command
from django.test import Client

from fluctus.accounts.models import SecondStep
from fluctus.accounts.second_step.services import RECOVERY_CODES
from fluctus.http import clock
from tests.conftest import join, ok, signed_in

PASSWORD = "isla's own words"
STEP = "/api/v1/second-step"
SESSION = "/api/v1/session"


@pytest.fixture
def now(monkeypatch: pytest.MonkeyPatch) -> list[datetime]:
    """A clock that tests move on, in its only place."""
    time = [clock.now()]
    monkeypatch.setattr(clock, "now", lambda: time[0])
    return time


@pytest.fixture
def isla(db: None) -> User:
    return join("isla", "marrowick")


def send(client: Client, method: str, path: str, **body: Any) -> Any:
    return client.generic(method, path, json.dumps(body), "application/json")


def device(isla: User, now: list[datetime]) -> tuple[pyotp.TOTP, list[str]]:
    """Set up a device; returns what tells its codes, and the recovery codes."""
    client = signed_in(isla)
    totp = pyotp.TOTP(ok(client.post(STEP))["secret"])
    return totp, ok(send(client, "PUT", STEP, code=totp.at(now[0])))["recovery"]


def half_in(password: str = PASSWORD) -> Client:
    client = Client()
    told = ok(send(client, "POST", SESSION, name="isla", password=password))
    assert (told["person"], told["asks_code"]) == (None, True)
    # A password alone opens nothing.
    assert client.get("/api/v1/browsers").status_code in (401, 403)
    assert client.get("/api/v1/workspaces/marrowick/kpis").status_code in (401, 403)
    return client


def finish(client: Client, code: str) -> int:
    return int(send(client, "POST", f"{SESSION}/code", code=code).status_code)


def test_a_code_is_taken_once_in_its_time_and_from_a_clock_that_is_a_little_off(
    isla: User, now: list[datetime]
) -> None:
    totp, _ = device(isla, now)
    # The one that set it up is used.
    assert finish(half_in(), totp.at(now[0])) == 403
    for off in (timedelta(seconds=30), timedelta(seconds=60)):
        at = now[0] + off
        client = half_in()
        assert finish(client, "000000" if totp.at(at) != "000000" else "111111") == 403
        code = totp.at(at)
        now[0] = at - timedelta(seconds=25)
        assert finish(client, f" {code[:3]} {code[3:]} ") == 200
        assert ok(client.get(SESSION))["person"] == "isla"
        assert finish(half_in(), code) == 403
    now[0] += timedelta(minutes=5)
    assert finish(half_in(), totp.at(now[0] - timedelta(minutes=2))) == 403
    assert finish(half_in(), totp.at(now[0] + timedelta(minutes=2))) == 403


def test_recovery_codes_are_taken_once_each_and_kept_as_digests(
    isla: User, now: list[datetime]
) -> None:
    totp, recovery = device(isla, now)
    assert len(set(recovery)) == RECOVERY_CODES
    kept = SecondStep.objects.get()
    assert totp.secret not in kept.sealed
    assert not set(recovery) & set(kept.recovery)
    assert finish(half_in(), recovery[3].replace("-", " ").upper()) == 200
    assert finish(half_in(), recovery[3]) == 403
    client = half_in()
    assert finish(client, recovery[4]) == 200
    told = ok(client.get(STEP))
    assert told["since"] is not None
    assert told["recovery_left"] == RECOVERY_CODES - 2
    # Neither secret nor codes are ever told again.
    everything = client.get("/api/v1/account/data").content.decode()
    assert totp.secret not in everything
    assert recovery[0] not in everything


def test_the_half_that_was_typed_ends_with_time_and_with_the_password(
    isla: User, now: list[datetime]
) -> None:
    totp, _ = device(isla, now)
    client = half_in()
    now[0] += timedelta(minutes=11)
    assert finish(client, totp.at(now[0])) == 409
    assert not ok(client.get(SESSION))["asks_code"]
    assert finish(client, totp.at(now[0])) == 409
    assert finish(Client(), totp.at(now[0])) == 409
    client = half_in()
    isla.set_password("another long password")
    isla.save()
    assert finish(client, totp.at(now[0])) == 409
    client = half_in("another long password")
    client.delete(SESSION)
    assert finish(client, totp.at(now[0])) == 409


def test_who_guesses_codes_is_slowed_however_many_sessions_they_begin(
    isla: User, now: list[datetime], settings: Any
) -> None:
    settings.SIGN_IN_TRIES = 5
    totp, _ = device(isla, now)
    now[0] += timedelta(minutes=2)
    wrong = "123456" if totp.at(now[0]) != "123456" else "654321"
    answers = [finish(half_in(), wrong) for _ in range(7)]
    assert answers == [403] * 5 + [429] * 2
    now[0] += timedelta(seconds=31)
    assert finish(half_in(), totp.at(now[0])) == 200


def test_nothing_is_on_before_a_first_code_and_switching_off_takes_the_password(
    isla: User, now: list[datetime]
) -> None:
    client = signed_in(isla)
    begun = ok(client.post(STEP))
    assert begun["picture"].startswith("data:image/svg+xml")
    assert ok(client.get(STEP)) == {"since": None, "recovery_left": 0}
    totp = pyotp.TOTP(begun["secret"])
    assert send(client, "PUT", STEP, code="no code").status_code == 403
    assert ok(send(Client(), "POST", SESSION, name="isla", password=PASSWORD))["person"] == "isla"
    now[0] += timedelta(minutes=31)
    assert send(client, "PUT", STEP, code=totp.at(now[0])).status_code == 409
    again = signed_in(isla)
    totp = pyotp.TOTP(ok(again.post(STEP))["secret"])
    ok(send(again, "PUT", STEP, code=totp.at(now[0])))
    assert again.post(STEP).status_code == 409
    # A session that is left open somewhere neither ends it nor reads it out.
    now[0] += timedelta(minutes=16)
    assert again.delete(STEP).json()["title"] == "Confirm that it is you."
    ok_again = send(again, "POST", f"{SESSION}/confirm", password=PASSWORD)
    assert ok_again.status_code == 204
    assert again.delete(STEP).status_code == 204
    assert ok(send(Client(), "POST", SESSION, name="isla", password=PASSWORD))["person"] == "isla"


def test_the_operator_ends_it_for_who_has_lost_device_and_codes(
    isla: User, now: list[datetime]
) -> None:
    device(isla, now)
    call_command("add_person", "isla", "marrowick", "--no-second-step", stdout=StringIO())
    assert ok(send(Client(), "POST", SESSION, name="isla", password=PASSWORD))["person"] == "isla"
