"""Who gets in and who is kept out: guesses, letters, sessions, tokens, and what is on record."""

import json
from datetime import UTC, datetime, timedelta
from typing import Any

import pytest
from django.contrib.auth.models import User
from django.core import mail
from django.db import DatabaseError, transaction
from django.test import Client, RequestFactory
from hypothesis import given
from hypothesis import strategies as st
from procrastinate.contrib.django.models import ProcrastinateJob

from fluctus.accounts.models import ApiToken, GuessedTry, RecordEntry, Role, Workspace
from fluctus.accounts.own.passwords import send_reset
from fluctus.accounts.record.keeping import SOMEBODY, clear_record
from fluctus.accounts.services import add_person
from fluctus.accounts.sign_in import CONFIRMED
from fluctus.accounts.tokens.services import make_token, token_of
from fluctus.accounts.tries import PAUSE, Counted, Purpose, wait_for
from fluctus.http import clock
from fluctus.http.client_address import client_address
from fluctus.http.logs import formatter, without_secrets
from tests.conftest import Api, join, ok, revision, signed_in

NOW = datetime(2026, 11, 2, 12, tzinfo=UTC)
WORDS = "words that hold well"


@pytest.mark.parametrize(
    ("proxies", "said", "expected"),
    [
        (0, None, "10.9.9.9"),
        (0, "1.2.3.4", "10.9.9.9"),
        (0, "1.2.3.4, 10.9.9.9", "10.9.9.9"),
        (1, None, "10.9.9.9"),
        (1, "1.2.3.4", "1.2.3.4"),
        (1, "6.6.6.6, 1.2.3.4", "1.2.3.4"),
        (1, "nonsense", "10.9.9.9"),
        (1, "2001:DB8::0001", "2001:db8::1"),
        (2, "1.2.3.4", "10.9.9.9"),
        (2, "1.2.3.4, 10.0.0.1", "1.2.3.4"),
        (2, "6.6.6.6, 1.2.3.4, 10.0.0.1", "1.2.3.4"),
        (2, " , ", "10.9.9.9"),
    ],
)
def test_the_address_of_a_client_is_decided_by_the_proxies_there_are(
    settings: Any, proxies: int, said: str | None, expected: str
) -> None:
    settings.TRUSTED_PROXIES = proxies
    headers = {} if said is None else {"X-Forwarded-For": said}
    request = RequestFactory().get("/", headers=headers, REMOTE_ADDR="10.9.9.9")
    assert client_address(request) == expected


@given(
    st.lists(st.integers(0, 900), max_size=60),
    st.lists(st.integers(0, 900), max_size=200),
    st.integers(0, 60),
    st.booleans(),
)
def test_a_lock_slows_and_never_shuts(
    mine: list[int], others: list[int], shared: int, known: bool
) -> None:
    from django.conf import settings  # noqa: PLC0415

    free = settings.SIGN_IN_TRIES
    times = [NOW - timedelta(seconds=ago) for ago in mine]
    all_of_key = times + [NOW - timedelta(seconds=ago) for ago in others]
    counted = Counted(times, all_of_key, times + [NOW] * shared)
    wait = wait_for(counted, NOW, known=known)
    assert timedelta() <= wait <= PAUSE
    if len(times) < free and known:
        # Whoever has been here before is let in, whatever is tried in their name elsewhere.
        assert wait == timedelta()
    if len(times) < free and len(all_of_key) < free * 10 and len(times) + shared < free * 3:
        assert wait == timedelta()


def post(client: Client, path: str, **body: Any) -> Any:
    return client.post(f"/api/v1/{path}", json.dumps(body), "application/json")


def test_nobody_is_locked_out_by_what_others_do_in_their_name(api: Api, settings: Any) -> None:
    settings.SIGN_IN_TRIES = 3
    for _ in range(30):
        post(Client(REMOTE_ADDR="6.6.6.6"), "session", name="isla", password="guess")
        post(Client(REMOTE_ADDR="6.6.6.6"), "password/letter", name="isla")
    own = {"name": "isla", "password": "isla's own words"}
    answer = post(Client(REMOTE_ADDR="10.1.1.1"), "session", **own)
    assert answer.status_code == 200
    # A link and a name have nothing to do with each other, whatever is typed.
    link = ok(
        api.send(
            "POST",
            "/links",
            {"kind": "chart", "kpi": api.add_kpi("R", [1, 2, 3]), "password": "low tide"},
        )
    )
    number, secret = link["link"]["id"], link["address"].rpartition("/")[2]
    for _ in range(12):
        post(Client(), "session", name=f"link {number}", password="x")
    for _ in range(12):
        # Right ones count as none.
        assert post(Client(), f"shared/{secret}/key", password="low tide").status_code == 200
    assert not GuessedTry.objects.filter(purpose=Purpose.LINK).exists()


def test_asking_for_a_letter_is_the_same_work_for_anybody(api: Api) -> None:
    User.objects.filter(username="isla").update(email="isla@marrowick.example")
    counts = []
    for name in ("isla", "isla@marrowick.example", "nobody", "nobody@nowhere.example"):
        before = ProcrastinateJob.objects.count()
        assert post(Client(), "password/letter", name=name).status_code == 204
        counts.append(ProcrastinateJob.objects.count() - before)
    assert counts == [1, 1, 1, 1]
    assert mail.outbox == []


def test_a_letter_leads_to_this_installation_and_ends_tokens_if_asked(
    api: Api, settings: Any
) -> None:
    settings.SITE_ADDRESS = "https://fluctus.marrowick.example"
    isla = User.objects.get(username="isla")
    isla.email = "isla@marrowick.example"
    isla.save()
    place = Workspace.objects.get(slug="marrowick")
    for ends in (False, True):
        make_token(place, isla, "meter", Role.VIEWER, Role.OWNER, clock.now())
        mail.outbox.clear()
        send_reset("isla")
        text = str(mail.outbox[0].body)
        assert "https://fluctus.marrowick.example/reset#" in text
        secret = text.partition("/reset#")[2].split()[0]
        words = {"secret": secret, "password": f"ferry in the fog {ends}", "end_tokens": ends}
        assert post(Client(), "password/reset", **words).status_code == 204
        assert ApiToken.objects.filter(person=isla).exists() is not ends


def test_a_short_or_common_password_does_not_hold(api: Api) -> None:
    for password in ("elevenchars", "password1234", "1234567890123", "isla-marrowick1"):
        form = {"old": "isla's own words", "password": password}
        answer = api.client.post("/api/v1/password", json.dumps(form), "application/json")
        if password != "isla-marrowick1":
            assert answer.status_code == 422, password


def test_roles_tokens_and_deletions_ask_for_the_password_again(api: Api) -> None:
    slug = api.add_kpi("Ramp cycle", [20, 22, 21, 23, 20])
    page = ok(api.send("POST", "/pages", {"title": "Mondays"}))["id"]
    rhona = join("rhona", "marrowick")
    session = api.client.session
    session[CONFIRMED] = (clock.now() - timedelta(minutes=16)).timestamp()
    session.save()
    acts = [
        ("PATCH", f"/people/{rhona.pk}", {"role": "viewer"}, None),
        ("DELETE", f"/people/{rhona.pk}", None, None),
        ("POST", "/tokens", {"name": "x", "role": "viewer"}, None),
        ("POST", "/invitations", {"email": "x@marrowick.example", "role": "viewer"}, None),
        ("DELETE", f"/kpis/{slug}?name=Ramp%20cycle", None, 1),
        ("DELETE", f"/pages/{page}", None, 1),
        ("DELETE", "?name=Marrowick", None, None),
    ]
    for method, path, body, seen in acts:
        refused = api.send(method, path, body, seen)
        assert refused.status_code == 403, path
        assert refused.json()["issues"][0]["field"] == "confirm"
    wrong = post(api.client, "session/confirm", password="guess")
    assert wrong.status_code == 403
    assert post(api.client, "session/confirm", password="isla's own words").status_code == 204
    assert api.send(*acts[0][:3]).status_code == 204
    assert api.send("DELETE", acts[4][1], None, 1).status_code == 204


def test_sessions_and_tokens_end_in_all_and_unused(
    api: Api, monkeypatch: pytest.MonkeyPatch, settings: Any
) -> None:
    settings.SESSION_DAYS, settings.SESSION_IDLE_DAYS = 10, 3
    settings.TOKEN_DAYS, settings.TOKEN_IDLE_DAYS = 10, 3
    began = clock.now()

    def at(days: float) -> None:
        monkeypatch.setattr(clock, "now", lambda: began + timedelta(days=days))

    client = signed_in(User.objects.get(username="isla"))
    assert client.get(f"{api.base}/kpis").status_code == 200
    for day in (2, 4, 6, 8, 9.9):
        at(day)
        assert client.get(f"{api.base}/kpis").status_code == 200, day
    at(10.1)
    assert client.get(f"{api.base}/kpis").status_code == 401
    at(0)
    idle = signed_in(User.objects.get(username="isla"))
    assert idle.get(f"{api.base}/kpis").status_code == 200
    at(3.1)
    assert idle.get(f"{api.base}/kpis").status_code == 401
    isla, place = User.objects.get(username="isla"), Workspace.objects.get(slug="marrowick")
    for days, alive in (
        ((2.9, 5.8, 8.7, 9.9), True),
        ((2.9, 5.8, 8.7, 10.1), False),
        ((3.1,), False),
    ):
        at(0)
        _, secret = make_token(place, isla, "meter", Role.VIEWER, Role.OWNER, began)
        for day in days:
            found = token_of(secret, began + timedelta(days=day))
        assert (found is not None) is alive, days


def test_requests_are_bounded_for_each_person_and_token(api: Api, settings: Any) -> None:
    settings.REQUESTS_A_MINUTE = 5
    codes = [api.get("/kpis").status_code for _ in range(12)]
    assert codes[:5] == [200] * 5
    assert 429 in codes
    refused = next(
        answer for answer in (api.get("/kpis") for _ in range(12)) if answer.status_code == 429
    )
    assert int(refused["Retry-After"]) <= 60
    other = signed_in(join("una", "marrowick"))
    assert other.get(f"{api.base}/kpis").status_code == 200


def test_what_was_denied_is_on_record_once_in_a_while(api: Api) -> None:
    viewer = Api(add_person("mairi", WORDS, "marrowick", Role.VIEWER), "marrowick")
    stranger = Api(join("mallory", "elsewhere"), "marrowick")
    for _ in range(3):
        assert viewer.get("/people").status_code == 403
        assert stranger.get("/kpis").status_code == 404
    told = [(row["person"], row["kind"]) for row in ok(api.get("/record"))["audit_events"]]
    assert told == [("mallory", "denied"), ("mairi", "denied")]


def test_the_record_outlives_a_workspace_and_forgets_names_as_settings_say(
    api: Api, settings: Any
) -> None:
    place = Workspace.objects.get(slug="marrowick")
    mairi = add_person("mairi", WORDS, "marrowick", Role.VIEWER)
    Api(mairi, "marrowick").get("/people")
    with pytest.raises(DatabaseError), transaction.atomic():
        RecordEntry.objects.update(text="nothing happened")
    assert api.send("DELETE", f"/people/{mairi.pk}").status_code == 204
    now = clock.now()
    assert clear_record(now + timedelta(days=settings.RECORD_NAMES_DAYS - 1)) == (0, 0)
    clear_record(now + timedelta(days=settings.RECORD_NAMES_DAYS + 1))
    rows = list(RecordEntry.objects.filter(workspace=place).order_by("pk"))
    assert {row.person for row in rows} == {SOMEBODY, "isla"}
    assert all("mairi" not in row.text for row in rows)
    assert api.send("DELETE", "?name=Elsewhere").status_code == 422
    assert api.send("DELETE", "?name=Marrowick").status_code == 204
    assert not Workspace.objects.filter(slug="marrowick").exists()
    kept = RecordEntry.objects.filter(workspace_id=place.pk)
    assert kept.filter(text="Ended the workspace Marrowick").exists()
    gone, _ = clear_record(now + timedelta(days=settings.RECORD_DAYS + 1))
    assert gone >= 2
    assert not kept.exists()


def test_an_account_is_taken_along_and_ended(api: Api) -> None:
    slug = api.add_kpi("Ramp cycle", [20, 22, 21, 23, 20, 21])
    una = Api(add_person("una", WORDS, "marrowick", Role.EDITOR), "marrowick")
    ok(una.send("PATCH", f"/kpis/{slug}", {"target": 19.0}, 1))
    data = una.client.get("/api/v1/account/data").json()
    assert data["account"]["username"] == "una"
    assert [row["role"] for row in data["workspaces"]] == ["editor"]
    # The last owner stays, or ends the workspace first.
    assert api.client.delete("/api/v1/account").status_code == 409
    assert una.client.delete("/api/v1/account").status_code == 204
    assert una.client.get(f"{api.base}/kpis").status_code == 401
    assert not User.objects.filter(username="una").exists()
    (act,) = ok(api.get(f"/kpis/{slug}/history"))["acts"]
    assert act["author"] in ("", None)
    assert revision(api, f"/kpis/{slug}") == 2


def test_no_secret_of_an_address_is_logged(api: Api, caplog: pytest.LogCaptureFixture) -> None:
    line = without_secrets("Not Found: /api/v1/shared/s3cr3t-of-a-link/pages/1?key=abc&x=1")
    assert "s3cr3t" not in line
    assert "abc" not in line
    assert without_secrets("/api/v1/workspaces/marrowick/kpis") == "/api/v1/workspaces/…/kpis"
    plain = "/api/v1/session"
    assert without_secrets(plain) == plain
    # As the server itself would write it.
    caplog.set_level("WARNING", "django.request")
    Client().get("/api/v1/shared/s3cr3t-of-another")
    written = [
        formatter(kind).format(record) for kind in ("people", "json") for record in caplog.records
    ]
    assert caplog.records
    assert all("s3cr3t" not in line for line in written)
