"""Signing in through a provider: by who somebody is there for good, and by nothing else."""

import base64
import json
from collections.abc import Callable
from datetime import timedelta
from typing import Any
from urllib.parse import urlsplit

import httpx
import pytest
from django.contrib.auth.models import User
from django.test import Client
from joserfc import jwt
from joserfc.jwk import OctKey, RSAKey

from demo.staff_directory.directory import Directory
from fluctus.accounts.models import KnownElsewhere, Membership, SignedIn
from fluctus.http import clock
from fluctus.http.site_address import site_address
from tests.conftest import Api, join, ok, signed_in
from tests.directory import directory
from tests.server.accounts.test_people import invite

__all__ = ["directory"]
SESSION = "/api/v1/session"
ELSEWHERE = "/api/v1/elsewhere"
GO = f"{SESSION}/elsewhere"
Claims = dict[str, Any]


def went(client: Client, path: str = GO, **body: Any) -> str:
    """Begin in a browser; returns the address of the directory."""
    return str(ok(client.post(path, json.dumps(body), "application/json"))["address"])


def say(address: str, who: str) -> str:
    """Say there who somebody is; returns the address that leads back."""
    back = httpx.get(f"{address}&as={who}").headers["Location"]
    assert back.startswith(f"{site_address()}{GO}/back?")
    return str(back.removeprefix(site_address()))


def came(client: Client, back: str) -> str:
    """Come back; returns where the browser is led."""
    answer = client.get(back)
    assert answer.status_code == 302
    return str(answer["Location"].removeprefix(site_address()))


def through(client: Client, who: str, path: str = GO, **body: Any) -> str:
    return came(client, say(went(client, path, **body), who))


def session(client: Client) -> Any:
    return ok(client.get(SESSION))


@pytest.fixture
def ewan(directory: Directory, db: None) -> User:
    """Somebody who has connected her account with who she is in the directory."""
    person = join("ewan", "marrowick")
    assert through(signed_in(person), "ewan", ELSEWHERE, to="/account") == "/account"
    return person


def test_who_has_connected_signs_in_and_nobody_else(ewan: User, directory: Directory) -> None:
    client = Client()
    assert session(client)["elsewhere"] == "the Marrowick staff directory"
    assert through(client, "ewan", to="/marrowick/log?state=open") == "/marrowick/log?state=open"
    assert session(client)["person"] == "ewan"
    assert SignedIn.objects.filter(person=ewan).exists()
    # Rhona has an account of the same name as there, which says nothing.
    join("rhona", "marrowick")
    stranger = Client()
    assert through(stranger, "rhona") == "/"
    told = session(stranger)
    assert told["person"] is None
    assert "Nobody here signs in as rhona@marrowick.example" in told["said"]
    went(stranger)
    assert session(stranger)["said"] == ""


def test_whoever_is_not_active_or_disconnected_signs_in_no_more(ewan: User) -> None:
    known = ok(signed_in(ewan).get(ELSEWHERE))
    assert (known["called"], known["has_password"]) == ("ewan@marrowick.example", True)
    User.objects.filter(pk=ewan.pk).update(is_active=False)
    client = Client()
    through(client, "ewan")
    assert session(client)["person"] is None
    User.objects.filter(pk=ewan.pk).update(is_active=True)
    assert signed_in(ewan).delete(ELSEWHERE).status_code == 204
    through(client, "ewan")
    assert session(client)["person"] is None


def test_one_there_is_one_here(ewan: User) -> None:
    other = signed_in(join("calum", "marrowick"))
    through(other, "ewan", ELSEWHERE, to="/account")
    assert "Somebody else here signs in with it" in session(other)["said"]
    assert KnownElsewhere.objects.get().person == ewan


def test_connecting_asks_for_the_password_and_is_for_who_began_it(
    directory: Directory, db: None
) -> None:
    ewan, calum = join("ewan", "marrowick"), join("calum", "marrowick")
    client = Client()
    client.force_login(ewan)
    assert client.post(ELSEWHERE).status_code == 403
    client = signed_in(ewan)
    back = say(went(client, ELSEWHERE), "ewan")
    client.force_login(calum)
    came(client, back)
    assert not KnownElsewhere.objects.exists()


def test_an_invitation_is_taken_without_a_password(
    api: Api, directory: Directory, monkeypatch: pytest.MonkeyPatch
) -> None:
    join("morag", "elsewhere")
    secret = invite(api, role="editor", email="morag@marrowick.example")
    client = Client()
    assert through(client, "morag", secret=secret) == f"/{api.base.rsplit('/', 1)[1]}"
    person = User.objects.get(email="morag@marrowick.example")
    assert person.username == "morag@marrowick.example"
    assert (person.get_full_name(), person.has_usable_password()) == ("Morag Sinclair", False)
    assert Membership.objects.get(person=person).role == "editor"
    # They cannot lock themselves out, and confirm what asks for a password by saying who they are.
    assert client.delete(ELSEWHERE).status_code == 409
    earlier, later = clock.now(), clock.now() + timedelta(minutes=20)
    monkeypatch.setattr(clock, "now", lambda: later)
    assert client.delete("/api/v1/account").status_code == 403
    through(client, "rhona")
    assert client.delete("/api/v1/account").status_code == 403
    through(client, "morag")
    assert client.delete("/api/v1/account").status_code == 204
    monkeypatch.setattr(clock, "now", lambda: earlier)
    # It works once, and never for who has an account by another way.
    again = Client()
    through(again, "calum", secret=secret)
    assert "not valid any more" in session(again)["said"]
    join("ann", "elsewhere")
    User.objects.filter(username="ann").update(email="ann@marrowick.example")
    secret = invite(api, email="ann@marrowick.example")
    through(again, "calum", secret=secret)
    assert "You have an account already" in session(again)["said"]
    assert not User.objects.filter(known_elsewhere__isnull=False).exists()


def test_a_way_back_works_once_and_in_the_browser_that_went(ewan: User) -> None:
    client, other = Client(), Client()
    back = say(went(client), "ewan")
    went(other)
    came(other, back)
    assert session(other)["person"] is None
    assert "another browser" in session(other)["said"]
    came(client, back)
    assert session(client)["person"] == "ewan"
    client.delete(SESSION)
    came(client, back)
    assert session(client)["person"] is None
    for query in ("", "?error=access_denied", "?code=x", "?code=x&state=y", "?state=&code="):
        came(client, f"{GO}/back{query}")
        assert session(client)["person"] is None


@pytest.mark.parametrize(
    "to", ["//evil.example/x", "https://evil.example", "/\\evil.example", "javascript:x", "x", ""]
)
def test_nobody_is_led_to_another_site(ewan: User, to: str) -> None:
    client = Client()
    answer = client.post(GO, json.dumps({"to": to}), "application/json")
    if answer.status_code == 200:
        assert came(client, say(answer.json()["address"], "ewan")) == "/"


def forged(change: Callable[[Claims], Claims], directory: Directory, key: Any = None) -> Any:
    """Return how the directory gives tokens that say something else, or are signed otherwise."""
    given = directory.token_for

    def token_for(form: dict[str, str], issuer: str) -> Claims | None:
        token = given(form, issuer)
        assert token is not None
        payload = token["id_token"].split(".")[1]
        claims = change(json.loads(base64.urlsafe_b64decode(payload + "==")))
        algorithm = "HS256" if isinstance(key, OctKey) else "RS256"
        header = {"alg": algorithm, "kid": directory.key.kid}
        return token | {"id_token": jwt.encode(header, claims, key or directory.key)}

    return token_for


@pytest.mark.parametrize(
    "change",
    [
        lambda claims: claims | {"iss": "https://evil.example"},
        lambda claims: claims | {"aud": "somebody else"},
        lambda claims: claims | {"nonce": "of another time"},
        lambda claims: claims | {"exp": claims["exp"] - 3600, "iat": claims["iat"] - 3600},
        lambda claims: {name: claim for name, claim in claims.items() if name != "sub"},
        lambda claims: {name: claim for name, claim in claims.items() if name != "nonce"},
        lambda claims: claims | {"sub": ["ewan"]},
        lambda claims: claims | {"sub": ""},
    ],
)
def test_a_token_that_says_anything_else_is_not_believed(
    ewan: User, directory: Directory, monkeypatch: pytest.MonkeyPatch, change: Any
) -> None:
    monkeypatch.setattr(directory, "token_for", forged(change, directory))
    client = Client()
    through(client, "ewan")
    assert session(client)["person"] is None
    assert "not signed in" in session(client)["said"]


@pytest.mark.parametrize("key", [RSAKey.generate_key(2048), OctKey.import_key("fluctus" * 6)])
def test_a_token_that_another_one_signed_is_not_believed(
    ewan: User, directory: Directory, monkeypatch: pytest.MonkeyPatch, key: Any
) -> None:
    monkeypatch.setattr(directory, "token_for", forged(lambda claims: claims, directory, key))
    client = Client()
    through(client, "ewan")
    assert session(client)["person"] is None


def test_a_provider_that_is_away_or_not_there_is_said(
    db: None, settings: Any, directory: Directory
) -> None:
    client = Client()
    back = say(went(client), "ewan")
    port = urlsplit(settings.OIDC_ISSUER).port
    settings.OIDC_ISSUER = "http://127.0.0.1:9"
    answer = client.post(GO, "{}", "application/json")
    assert answer.status_code == 502
    assert "no answer from the Marrowick staff directory" in answer.json()["issues"][0]["detail"]
    came(client, back)
    assert session(client)["person"] is None
    assert port != 9
    settings.OIDC_ISSUER = ""
    assert client.post(GO, "{}", "application/json").status_code == 404
    assert session(client)["elsewhere"] == ""
