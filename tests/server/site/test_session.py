"""Signing in and out, the demo, and the edges of the API."""

import pytest
from django.contrib.auth.models import User
from django.core.exceptions import ValidationError
from django.core.management import CommandError, call_command
from django.test import Client

from demo.scenario import KPIS
from fluctus.accounts.management.commands import add_person as add_person_command
from fluctus.accounts.queries import workspaces_of
from fluctus.accounts.services import add_person, open_demo_workspace
from tests.conftest import Api, join


def test_signing_in_and_out(db: None) -> None:
    join("isla", "marrowick")
    client = Client()
    assert client.get("/api/v1/session").json()["person"] is None
    wrong = client.post(
        "/api/v1/session", {"name": "isla", "password": "guess"}, "application/json"
    )
    assert wrong.status_code == 403
    right = client.post(
        "/api/v1/session", {"name": "isla", "password": "isla's own words"}, "application/json"
    )
    assert right.json() == {
        "person": "isla",
        "username": "isla",
        "workspaces": [{"slug": "marrowick", "name": "Marrowick", "role": "owner"}],
        "demo": True,
        "sends_mail": True,
        "operates": False,
        "asks_code": False,
        "elsewhere": "",
        "said": "",
    }
    assert client.delete("/api/v1/session").status_code == 204
    assert client.get("/api/v1/session").json()["person"] is None


def test_people_are_added_with_passwords_that_hold(db: None) -> None:
    with pytest.raises(ValidationError, match="too short"):
        add_person("isla", "short", "marrowick")
    with pytest.raises(ValidationError, match="similar"):
        add_person("isla.corrie", "isla.corrie1", "marrowick")
    with pytest.raises(ValidationError, match="slug"):
        add_person("isla", "long enough to hold", "not a slug")
    assert not User.objects.exists()
    add_person("isla", "long enough to hold", "marrowick")
    add_person("isla", "another that holds", "ainsey")
    person = User.objects.get()
    assert person.check_password("another that holds")
    assert [row.slug for row in workspaces_of(person)] == ["ainsey", "marrowick"]


def test_writes_need_the_csrf_token(db: None) -> None:
    person = join("isla", "marrowick")
    client = Client(enforce_csrf_checks=True)
    names = {"name": "isla", "password": "isla's own words"}
    refused = client.post("/api/v1/session", names, "application/json")
    assert refused.status_code == 403
    assert "Reload the page" in refused.json()["issues"][0]["remedy"]
    assert client.post("/api/v1/session/demo").status_code == 403
    client.force_login(person)
    answer = client.post("/api/v1/workspaces/marrowick/kpis/x/preview", {}, "application/json")
    assert answer.status_code == 403
    assert "CSRF" in answer.json()["title"]


def test_the_demo_opens_with_its_stories(filled_with_demo: None) -> None:
    call_command("load_demo", verbosity=0)  # a second start changes nothing
    client = Client()
    assert client.post("/api/v1/session/demo").json()["person"] == "Isla Corrie"
    rows = client.get("/api/v1/workspaces/marrowick/kpis").json()["kpis"]
    assert [row["name"] for row in rows] == [kpi.name for kpi in KPIS]
    base = "/api/v1/workspaces/marrowick/kpis"
    turnaround = client.get(f"{base}/turnaround-at-quay/analysis").json()
    assert turnaround["segments"][1]["name"] == "New ramp drill"
    assert turnaround["set_aside"] == [{"position": 13, "reason": "Gale, ramp closed"}]
    stops = client.get(f"{base}/unplanned-stops/analysis").json()
    assert "Nine weeks in a row sit above the average" in stops["sentence"]["headline"]


def test_without_demo_mode_the_demo_account_is_closed(db: None, settings: object) -> None:
    open_demo_workspace()
    settings.DEMO = False  # type: ignore[attr-defined]
    client = Client()
    assert client.post("/api/v1/session/demo").status_code == 404
    tried = {"name": "demo", "password": ""}
    assert client.post("/api/v1/session", tried, "application/json").status_code == 400
    assert client.get("/api/v1/session").json() == {
        "person": None,
        "username": None,
        "workspaces": [],
        "demo": False,
        "sends_mail": True,
        "operates": False,
        "asks_code": False,
        "elsewhere": "",
        "said": "",
    }


def test_pages_carry_secure_headers_and_the_api_never_answers_with_a_page(api: Api) -> None:
    missing = api.client.get("/api/v1/nothing")
    assert missing.status_code == 404
    assert missing["Content-Type"] == "application/problem+json"
    page = api.client.get("/marrowick/turnaround-at-quay")
    assert page.status_code == 200
    assert "default-src 'self'" in page["Content-Security-Policy"]
    assert page["X-Frame-Options"] == "DENY"


@pytest.mark.parametrize("method", ["PUT", "OPTIONS"])
def test_errors_of_the_framework_are_problem_documents_too(api: Api, method: str) -> None:
    answer = api.send(method, "/kpis")
    assert answer.status_code in (200, 405)
    if answer.status_code == 405:
        assert answer.json()["status"] == 405


def test_a_person_is_given_an_account_from_the_command_line(
    db: None, monkeypatch: pytest.MonkeyPatch
) -> None:
    two, lane = "Two hands on the linkspan", "Cars called by lane"
    answers = iter(["short", two, lane, lane])
    monkeypatch.setattr(add_person_command, "getpass", lambda prompt: next(answers))
    with pytest.raises(CommandError, match="too short"):
        call_command("add_person", "isla", "marrowick")
    assert not User.objects.exists()
    call_command("add_person", "isla", "marrowick", verbosity=0)
    client = Client()
    tried = {"name": "isla", "password": two}
    assert client.post("/api/v1/session", tried, "application/json").status_code == 200
    assert [one["slug"] for one in client.get("/api/v1/session").json()["workspaces"]] == [
        "marrowick"
    ]
    # Again, for another workspace and with another password: the same person.
    call_command("add_person", "isla", "ainsey", "--replace-password", verbosity=0)
    assert User.objects.count() == 1
    assert Client().post("/api/v1/session", tried, "application/json").status_code == 403
    again = tried | {"password": lane}
    body = Client().post("/api/v1/session", again, "application/json").json()
    assert [one["slug"] for one in body["workspaces"]] == ["ainsey", "marrowick"]
    # Without being told to, it asks for no password and replaces none.
    call_command("add_person", "isla", "north", verbosity=0)
    assert Client().post("/api/v1/session", again, "application/json").status_code == 200
    with pytest.raises(CommandError):
        call_command("add_person", "isla", "not a slug", verbosity=0)
