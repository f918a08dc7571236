"""Invitations, passwords, browsers, tokens and the record, as their users and as attackers."""

import re
from datetime import timedelta
from typing import Any

import pytest
from django.contrib.auth.models import User
from django.core import mail
from django.db import Error, transaction
from django.test import Client

from demo.mailbox.backend import KEPT, MailboxBackend
from demo.models import Letter
from fluctus.accounts.models import ApiToken, Invitation, RecordEntry
from fluctus.accounts.own.jobs import send_password_mail
from fluctus.accounts.own.passwords import send_reset
from fluctus.accounts.services import add_person, open_demo_workspace
from fluctus.http import clock
from tests.conftest import Api, join, ok, revision

NEW = {"username": "mairi", "name": "Mairi Sloan", "password": "ferry in the fog"}


def post(client: Client, path: str, **body: Any) -> Any:
    return client.post(f"/api/v1/{path}", body, "application/json")


def secret_in(letter: Any) -> str:
    found = re.search(r"#(\S+)", str(letter.body))
    assert found is not None
    return found[1]


def invite(api: Api, role: str = "viewer", email: str = "mairi@marrowick.example") -> str:
    ok(api.send("POST", "/invitations", {"email": email, "role": role}))
    return secret_in(mail.outbox[-1])


def later(monkeypatch: pytest.MonkeyPatch, **by: float) -> None:
    now = clock.now() + timedelta(**by)
    monkeypatch.setattr(clock, "now", lambda: now)


def test_an_invitation_works_once_and_makes_an_account(api: Api) -> None:
    secret = invite(api, "contributor")
    assert mail.outbox[0].to == ["mairi@marrowick.example"]
    client = Client()
    offer = ok(post(client, "invitation", secret=secret))
    assert (offer["workspace"], offer["role"], offer["has_account"]) == (
        "Marrowick",
        "contributor",
        False,
    )
    weak = post(client, "invitation/join", secret=secret, **(NEW | {"password": "mairi"}))
    assert weak.status_code == 422
    assert {issue["field"] for issue in weak.json()["issues"]} == {"password"}
    taken = post(client, "invitation/join", secret=secret, **(NEW | {"username": "isla"}))
    assert taken.json()["issues"][0]["field"] == "username"
    assert User.objects.count() == 1
    assert ok(post(client, "invitation/join", secret=secret, **NEW)) == {"slug": "marrowick"}
    session = ok(client.get("/api/v1/session"))
    assert (session["person"], session["workspaces"][0]["role"]) == ("Mairi Sloan", "contributor")
    again = post(Client(), "invitation/join", secret=secret, **(NEW | {"username": "other"}))
    assert again.status_code == 410
    assert "It was used on" in again.json()["issues"][0]["detail"]
    assert User.objects.count() == 2


def test_an_invitation_is_for_whom_it_was_sent_to(api: Api) -> None:
    rhona = join("rhona", "elsewhere")
    client = Client()
    client.force_login(rhona)
    secret = invite(api)
    wrong = post(client, "invitation/join", secret=secret)
    assert wrong.status_code == 409
    assert wrong.json()["issues"][0]["detail"] == (
        "You are signed in as rhona; it was sent to mairi@marrowick.example."
    )
    rhona.email = "Mairi@marrowick.example"
    rhona.save()
    assert post(Client(), "invitation/join", secret=secret, **NEW).status_code == 409
    ok(post(client, "invitation/join", secret=secret))
    assert Api(rhona, "marrowick").get("/kpis").status_code == 200
    twice = api.send("POST", "/invitations", {"email": rhona.email, "role": "viewer"})
    assert twice.status_code == 409
    assert "is in Marrowick" in twice.json()["issues"][0]["detail"]


def test_an_invitation_ends(api: Api, monkeypatch: pytest.MonkeyPatch) -> None:
    first = invite(api)
    second = invite(api)
    assert post(Client(), "invitation", secret=first).status_code == 410
    assert post(Client(), "invitation", secret=second[:-1]).status_code == 410
    (waiting,) = ok(api.get("/people"))["invitations"]
    later(monkeypatch, days=7, minutes=1)
    late = post(Client(), "invitation", secret=second)
    assert "It was valid until" in late.json()["issues"][0]["detail"]
    assert ok(api.get("/people"))["invitations"][0]["expired"]
    assert api.send("DELETE", f"/invitations/{waiting['id']}").status_code == 204
    assert api.send("DELETE", f"/invitations/{waiting['id']}").status_code == 404
    assert not Invitation.objects.exists()


def test_what_is_secret_is_kept_nowhere(api: Api) -> None:
    secret = invite(api)
    token = ok(api.send("POST", "/tokens", {"name": "meter", "role": "viewer"}))["secret"]
    rows = [*Invitation.objects.values(), *ApiToken.objects.values(), *RecordEntry.objects.values()]
    assert secret not in str(rows)
    assert token not in str(rows)


def test_a_password_is_changed_and_other_browsers_are_signed_out(api: Api) -> None:
    here, there = Client(), Client()
    for client in (here, there):
        ok(post(client, "session", name="isla", password="isla's own words"))
    assert [row["this"] for row in ok(here.get("/api/v1/browsers"))] == [False, True]
    wrong = post(here, "password", old="guess", password="ferry in the fog")
    assert wrong.status_code == 403
    changed = post(here, "password", old="isla's own words", password="ferry in the fog")
    assert changed.status_code == 204
    assert ok(here.get("/api/v1/session"))["person"] == "isla"
    assert ok(there.get("/api/v1/session"))["person"] is None
    (row,) = ok(here.get("/api/v1/browsers"))
    assert row["this"]
    ok(post(there, "session", name="isla", password="ferry in the fog"))
    other = next(row for row in ok(here.get("/api/v1/browsers")) if not row["this"])
    assert here.delete(f"/api/v1/browsers/{other['id']}").status_code == 204
    assert ok(there.get("/api/v1/session"))["person"] is None


def test_nobody_ends_the_browser_of_another(api: Api) -> None:
    ok(post(Client(), "session", name="isla", password="isla's own words"))
    mallory = Client()
    mallory.force_login(join("mallory", "marrowick"))
    isla = User.objects.get(username="isla")
    number = isla.signed_in.get().pk
    assert mallory.delete(f"/api/v1/browsers/{number}").status_code == 404
    assert isla.signed_in.exists()


def test_a_forgotten_password_is_set_anew_once(api: Api, monkeypatch: pytest.MonkeyPatch) -> None:
    isla = User.objects.get(username="isla")
    isla.email = "isla@marrowick.example"
    isla.save()
    # What a worker does, done here at once.
    monkeypatch.setattr(send_password_mail, "defer", lambda name, **carried: send_reset(name))
    # Whether there is such a person is told to nobody.
    assert post(Client(), "password/letter", name="nobody@marrowick.example").status_code == 204
    assert mail.outbox == []
    assert post(Client(), "password/letter", name="isla").status_code == 204
    secret = secret_in(mail.outbox[0])
    words = {"password": "ferry in the fog"}
    assert post(Client(), "password/reset", secret=f"{secret}x", **words).status_code == 410
    assert post(Client(), "password/reset", secret="!!.é", **words).status_code == 410
    weak = post(Client(), "password/reset", secret=secret, password="12345678")
    assert weak.status_code == 422
    assert post(Client(), "password/reset", secret=secret, **words).status_code == 204
    assert post(Client(), "password/reset", secret=secret, **words).status_code == 410
    ok(post(Client(), "session", name="isla", **words))
    # After many letters one has to wait.
    monkeypatch.setattr("django.conf.settings.SIGN_IN_TRIES", 2)
    codes = [post(Client(), "password/letter", name="isla").status_code for _ in range(3)]
    assert codes[-1] == 429


def bearer(secret: str) -> Client:
    return Client(headers={"Authorization": f"Bearer {secret}"}, enforce_csrf_checks=True)


def test_a_token_adds_values_and_reads_and_does_nothing_else(api: Api) -> None:
    add_person("isla", None, "elsewhere")
    ramp = f"/kpis/{api.add_kpi('Ramp cycle', [20, 22, 21, 23, 20, 22])}"
    made = ok(api.send("POST", "/tokens", {"name": "meter", "role": "contributor"}))
    program, base = bearer(made["secret"]), api.base
    assert ok(program.get(f"{base}{ramp}/analysis"))["kpi"]["name"] == "Ramp cycle"
    sent = program.post(
        f"{base}{ramp}/values",
        {"edits": [{"period": "2026-02-16", "value": 24.5}]},
        "application/json",
        headers={"If-Match": f'"{revision(api, ramp)}"'},
    )
    assert sent.status_code == 200, sent.content
    assert program.patch(f"{base}{ramp}", {}, "application/json").status_code == 403
    for path in ("/people", "/record"):
        assert program.get(base + path).status_code == 403
    assert program.get(f"{base}/tokens").status_code == 404
    assert program.get("/api/v1/browsers").status_code == 403
    assert program.get("/api/v1/workspaces/elsewhere/kpis").status_code == 404
    (row,) = ok(api.get("/tokens"))
    assert row["used"] is not None
    assert made["secret"].startswith(row["hint"])
    assert api.send("DELETE", f"/tokens/{row['id']}").status_code == 204
    assert program.get(f"{base}{ramp}/analysis").status_code == 401


def test_a_token_is_no_more_than_its_person(api: Api) -> None:
    ramp = f"/kpis/{api.add_kpi('Ramp cycle', [20, 22, 21, 23, 20, 22])}"
    calum = join("calum", "marrowick")
    his = Api(calum, "marrowick")
    refused = his.send("POST", "/tokens", {"name": "x", "role": "editor"})
    assert refused.status_code == 403
    secret = ok(his.send("POST", "/tokens", {"name": "x", "role": "contributor"}))["secret"]
    program = bearer(secret)
    api.send("PATCH", f"/people/{calum.pk}", {"role": "viewer"})
    body = {"edits": [{"period": "2026-02-16", "value": 24.5}]}
    answer = program.post(f"{api.base}{ramp}/values", body, "application/json")
    assert answer.status_code == 403
    assert "You are a viewer here." in answer.json()["issues"][0]["detail"]
    api.send("DELETE", f"/people/{calum.pk}")
    assert program.get(f"{api.base}{ramp}/analysis").status_code == 401


def test_a_token_in_an_address_is_refused_unread(api: Api) -> None:
    secret = ok(api.send("POST", "/tokens", {"name": "x", "role": "viewer"}))["secret"]
    answer = Client().get(f"{api.base}/kpis?token={secret}")
    assert answer.status_code == 400
    assert "does not belong into an address" in answer.json()["title"]
    assert secret not in answer.content.decode()
    for wrong in ("", "fluctus_", secret[:-1], f"{secret}x", "x' OR 1=1 --"):
        assert bearer(wrong).get(f"{api.base}/kpis").status_code == 401


def test_the_record_is_only_ever_added_to(api: Api) -> None:
    ok(post(Client(), "session", name="isla", password="isla's own words"))
    assert post(Client(), "session", name="isla", password="guess").status_code == 403
    audit_events = ok(api.get("/record"))["audit_events"]
    assert [row["text"] for row in audit_events] == ["A wrong password was tried", "Signed in"]
    for change in (RecordEntry.objects.all().delete, lambda: RecordEntry.objects.update(text="")):
        with pytest.raises(Error, match="only ever added"), transaction.atomic():
            change()
    assert RecordEntry.objects.count() == 2


def test_exports_are_on_the_record(api: Api) -> None:
    slug = api.add_kpi("Ramp cycle", [20, 22, 21, 23, 20, 22])
    for path in (f"/kpis/{slug}/analysis.csv", "/findings.csv", "/events/file"):
        assert api.get(path).status_code == 200
    texts = [row["text"] for row in ok(api.get("/record"))["audit_events"]]
    assert texts == [
        "Took the calendar of events",
        "Took the log of findings",
        "Took the analysis of Ramp cycle",
    ]


def test_the_mailbox_shows_the_demo_s_letters_and_no_others(
    api: Api, settings: Any, monkeypatch: pytest.MonkeyPatch
) -> None:
    open_demo_workspace()
    settings.EMAIL_BACKEND = "demo.mailbox.backend.MailboxBackend"
    demo = Client()
    post(demo, "session/demo")
    real = Api(join("owner", "yard"), "yard")
    ok(real.send("POST", "/invitations", {"email": "a@yard.example", "role": "owner"}))
    ok(api.send("POST", "/invitations", {"email": "b@marrowick.example", "role": "owner"}))
    assert Letter.objects.count() == 2
    assert [row["to"] for row in ok(demo.get("/api/v1/demo/letters"))] == ["b@marrowick.example"]
    assert Client().get("/api/v1/demo/letters").status_code == 401
    monkeypatch.setattr("demo.mailbox.backend.KEPT", 1)
    ok(api.send("POST", "/invitations", {"email": "c@marrowick.example", "role": "owner"}))
    assert [row["to"] for row in ok(demo.get("/api/v1/demo/letters"))] == ["c@marrowick.example"]
    assert KEPT > 1
    assert MailboxBackend().send_messages([]) == 0
    settings.DEMO = False
    assert demo.get("/api/v1/demo/letters").status_code == 404
