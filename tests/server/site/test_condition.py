"""How the installation is: told to who sees to it, and to nobody else."""

import json
from datetime import timedelta
from pathlib import Path
from typing import Any

import pytest
from django.contrib.auth.models import User
from django.core.management import call_command
from django.db import connection
from django.test import Client
from procrastinate.contrib.django.models import ProcrastinateJob

from fluctus.accounts.mail import send_later
from fluctus.accounts.models import Room
from fluctus.accounts.services import add_person
from fluctus.http import clock
from fluctus.intake import jobs
from fluctus.jobs.models import JobStatus
from fluctus.site.models import MadeBackup
from tests.conftest import Api, join, signed_in
from tests.jobs import no_jobs, work

PATH = "/api/v1/installation"


@pytest.fixture
def operator(db: None) -> Client:
    person = add_person("morag", "a long enough password", "harbour", operates=True)
    return signed_in(person)


def how(operator: Client, **query: str) -> dict[str, Any]:
    answer = operator.get(PATH, query)
    assert answer.status_code == 200, answer.content
    return dict(answer.json())


def test_nobody_else_is_told_that_there_is_such_an_address(api: Api, operator: Client) -> None:
    room = {"values": 1, "kpis": None, "feeds": None, "file_bytes": None}
    body = json.dumps(room | {"requests_a_minute": None})
    for client in (api.client, Client()):
        for answer in (
            client.get(PATH),
            client.post(f"{PATH}/jobs/import/1"),
            client.put(f"{PATH}/rooms/marrowick", body, "application/json"),
        ):
            assert answer.status_code in (401, 403, 404)
    assert not Room.objects.exists()
    token = api.send("POST", "/tokens", {"name": "Ramp meter", "role": "viewer"}).json()["token"]
    User.objects.update(is_staff=True)
    bearer = {"Authorization": f"Bearer {token}"}
    assert Client().get(PATH, headers=bearer).status_code in (401, 403)
    assert api.client.get("/api/v1/session").json()["operates"]


def test_workspaces_stand_by_what_they_hold_without_a_word_of_what_it_is(
    api: Api, operator: Client
) -> None:
    api.add_kpi("Ramp cycle", [20.0, 21.0, 22.0, 23.0])
    Api(join("mallory", "elsewhere"), "elsewhere").add_kpi("Secret figure", [1.0])
    told = how(operator)
    rows = [(row["slug"], row["kpis"], row["values"]) for row in told["holders"]]
    assert rows == [("marrowick", 1, 4), ("elsewhere", 1, 1), ("harbour", 0, 0)]
    first, second, _ = (row["bytes"] for row in told["holders"])
    assert first == pytest.approx(4 * second, rel=0.01)
    assert 0 < first < told["value_bytes"]
    assert "Secret figure" not in json.dumps(told)
    assert "Ramp cycle" not in json.dumps(told)
    assert [row["slug"] for row in how(operator, named="ELSE")["holders"]] == ["elsewhere"]
    assert told["versions"]["migrations"] == 0


def test_room_is_given_and_taken_back_by_who_sees_to_it(api: Api, operator: Client) -> None:
    slug = api.add_kpi("Ramp cycle", [20.0, 21.0])
    room = {"values": 2, "kpis": None, "feeds": 0, "file_bytes": None, "requests_a_minute": None}

    def give(**changed: Any) -> int:
        body = json.dumps(room | changed)
        sent = operator.put(f"{PATH}/rooms/marrowick", body, "application/json")
        return int(sent.status_code)

    edit = {"edits": [{"period": "2026-03-02", "value": 1.0}]}
    assert give() == 204
    assert api.send("POST", f"/kpis/{slug}/values", edit).status_code == 409
    (row,) = how(operator, named="marrowick")["holders"]
    near = [bound["kind"] for bound in row["bounds"] if bound["near"]]
    assert near == ["values", "feeds"]
    assert give(values=None) == 204
    assert api.send("POST", f"/kpis/{slug}/values", edit).status_code == 200
    for wrong in (-1, 1.5, "many", 10**16):
        assert give(values=wrong) == 400
    missing = operator.put(f"{PATH}/rooms/nowhere", json.dumps(room), "application/json")
    assert missing.status_code == 404


@pytest.mark.django_db(transaction=True)
def test_work_that_failed_is_told_and_done_again(
    settings: Any, monkeypatch: pytest.MonkeyPatch, operator: Client
) -> None:
    no_jobs()
    settings.LONG_IMPORT_BYTES = 10
    api = Api(join("isla", "marrowick"), "marrowick")
    with monkeypatch.context() as broken:
        begun = api.bring_in("Week,Delay\n2026-01-05,3\n2026-01-12,4", {"name": "Delay"}).json()
        broken.setattr(jobs, "carry_out", lambda *args: 1 / 0)
        work()
        send_later.defer(to="a@b.example", subject="Hush", text="hush", workspaces=[])
        ProcrastinateJob.objects.filter(task_name="send_mail_to").update(status="failed")
    told = how(operator)
    assert "Hush" not in json.dumps(told)
    assert "table.csv" not in json.dumps(told)
    kinds = {row["kind"]: row for row in told["failed"]}
    assert set(kinds) == {"import", "letter"}
    failed = kinds["import"]
    assert (failed["id"], failed["workspace"]) == (begun["id"], "Marrowick")
    assert failed["problem"] == "Something went wrong; nothing was saved."
    assert failed["can_begin_again"]
    (queue,) = (row for row in told["queues"] if row["queue"] == "letters")
    assert queue["failed"] == 1
    for row in kinds.values():
        assert operator.post(f"{PATH}/jobs/{row['kind']}/{row['id']}").status_code == 204
    assert ProcrastinateJob.objects.get(task_name="send_mail_to").status == "todo"
    work()
    assert api.get(f"/imports/{begun['id']}").json()["status"] == JobStatus.DONE
    assert how(operator)["failed"] == []
    # Once it is done there is nothing to do again.
    assert operator.post(f"{PATH}/jobs/import/{begun['id']}").status_code == 409
    for kind in ("letter", "report", "anything"):
        assert operator.post(f"{PATH}/jobs/{kind}/999999").status_code == 404


def test_the_last_backup_is_told_and_an_old_one_as_such(
    operator: Client, monkeypatch: pytest.MonkeyPatch, tmp_path: Path
) -> None:
    assert how(operator)["backup"] is None
    made = tmp_path / "fluctus.backup"
    made.write_bytes(b"a backup")
    where = "fluctus.site.management.commands.backup.make_backup"
    monkeypatch.setattr(where, lambda folder, now, key, say: made)
    call_command("backup", str(tmp_path))
    backup = how(operator)["backup"]
    assert (backup["bytes"], backup["encrypted"], backup["old"]) == (8, False, False)
    MadeBackup.objects.update(at=clock.now() - timedelta(hours=27))
    assert how(operator)["backup"]["old"]


def test_statements_are_told_without_what_was_asked_with(api: Api, operator: Client) -> None:
    assert how(operator)["statements"] is None
    with connection.cursor() as cursor:
        cursor.execute("CREATE SCHEMA statements")
        cursor.execute("CREATE EXTENSION pg_stat_statements SCHEMA statements")
        cursor.execute("SELECT statements.pg_stat_statements_reset()")
        cursor.execute("SELECT pg_sleep(0.2), 'a harbour secret'")
    slowest, *_ = how(operator)["statements"]
    assert slowest["text"] == "SELECT pg_sleep($1), $2"
    assert slowest["calls"] == 1
    assert slowest["mean_milliseconds"] >= 200
