"""Where feeds fetch from: databases, folders, and addresses with secrets."""

import sqlite3
from datetime import timedelta
from io import StringIO
from pathlib import Path
from typing import Any

import pytest
from django.core.management import call_command
from django.db import connection

from demo.booking_office.office import Office
from fluctus.feeds import running
from fluctus.feeds.models import Feed
from tests.server.feeds.conftest import Feeds, problem_of

Place = tuple[Office, str]


def test_a_database_is_asked_and_cannot_be_written(
    office: Place, feeds: Feeds, settings: Any, tmp_path: Path
) -> None:
    it, _ = office
    file = tmp_path / "shared" / "office.sqlite"
    file.parent.mkdir()
    it.write_database(file)
    settings.FEEDS_FOLDERS = [str(file.parent)]
    asked = {"system": "sqlite", "database": str(file), "query": "SELECT * FROM no_shows_by_week"}
    number = feeds.set_up({"database": asked})
    assert feeds.get(number)["feed"]["kpis"]
    it.set_clock(0, it.now() + timedelta(weeks=1))
    it.write_database(file)
    assert feeds.fetch(number).counts["new"] > 0
    for query in (
        "DELETE FROM sailings",
        "SELECT 1; DELETE FROM sailings",
        "WITH gone AS (SELECT 1) DELETE FROM sailings",
        "INSERT INTO sailings VALUES ('2026-01-01', 'x', 1, 2)",
        "ATTACH DATABASE '/tmp/other.sqlite' AS other",
        "PRAGMA writable_schema = 1",
        "SELECT load_extension('x')",
        "UPDATE sailings SET bookings = 0",
        "SELECT * FROM nowhere",
        "SELECT * FROM no_shows_by_week INTO OUTFILE '/tmp/x'",
        "SELECT load_file /* */ ('/etc/passwd')",
        "SELECT /*!50000 load_file*/('/etc/passwd')",
        "SELECT /*M!100100 load_file*/('/etc/passwd')",
    ):
        refused = feeds.look({"database": asked | {"query": query}})
        assert refused.status_code in (400, 422), query
    with sqlite3.connect(file) as database:
        ((rows,),) = database.execute("SELECT count(*) FROM sailings")
    assert rows == 48
    outside = tmp_path / "other.sqlite"
    it.write_database(outside)
    (file.parent / "linked.sqlite").symlink_to(outside)
    for where in (outside, file.parent / ".." / "other.sqlite", file.parent / "linked.sqlite"):
        refused = feeds.look({"database": asked | {"database": str(where)}})
        assert refused.status_code == 422, where


def test_postgresql_is_asked_in_a_transaction_that_cannot_write(
    feeds: Feeds, settings: Any, transactional_db: None
) -> None:
    settings.FEEDS_MAY_REACH = ["127.0.0.1/32"]
    own = settings.DATABASES["default"]
    asked = {
        "system": "postgresql",
        "host": "127.0.0.1",
        "port": int(own["PORT"]),
        "database": own["NAME"],
        "user": own["USER"],
        "password": own["PASSWORD"] or "none",
        "query": 'SELECT day::date AS "Day", 5 + extract(doy FROM day) AS "Calls" '
        "FROM generate_series('2026-01-01'::date, '2026-03-01', '1 day') AS day",
    }
    seen = feeds.look({"database": asked})
    assert seen.status_code == 201, seen.content
    for query in (
        "WITH gone AS (DELETE FROM accounts_workspace RETURNING *) SELECT * FROM gone",
        "SELECT set_config('transaction_read_only', 'off', false), "
        "nextval('accounts_workspace_id_seq')",
        "SELECT pg_sleep(0) FROM (SELECT nextval('accounts_workspace_id_seq')) AS n",
    ):
        refused = feeds.look({"database": asked | {"query": query}})
        assert refused.status_code == 422, query
        assert str(own["PASSWORD"] or "none at all") not in refused.content.decode()
    # What a transaction that only reads may do all the same is taken back with it.
    feeds.look({"database": asked | {"query": "SELECT lo_create(0) AS made"}})
    with connection.cursor() as cursor:
        cursor.execute("SELECT count(*) FROM pg_largeobject_metadata")
        assert cursor.fetchone() == (0,)


def test_a_folder_gives_its_files_one_by_one_and_each_once(
    feeds: Feeds, settings: Any, tmp_path: Path
) -> None:
    folder = tmp_path / "tables"
    folder.mkdir()
    settings.FEEDS_FOLDERS = [str(folder)]
    tables = [
        f"Week,Calls\n2026-0{n}-05,{n}\n2026-0{n}-12,{n + 1}\n2026-0{n}-19,4" for n in range(1, 5)
    ]
    (folder / "1.csv").write_text(tables[0])
    number = feeds.set_up({"folder": {"folder": str(folder), "files": "*.csv"}})
    for n, table in enumerate(tables[1:], start=2):
        (folder / f"{n}.csv").write_text(table)
    (folder / "notes.txt").write_text("not a table")
    # The first one was looked at, and is taken for brought in when it comes again.
    outcomes = [feeds.fetch(number).outcome for _ in range(5)]
    assert outcomes == ["same", "brought", "brought", "brought", "same"]
    assert len(feeds.values("calls")) == 12
    assert sorted(file.name for file in (folder / "done").iterdir()) == [
        f"{n}.csv" for n in range(1, 5)
    ]
    (folder / "4.csv").write_text(tables[3] + "\n2026-05-04,9")
    assert feeds.fetch(number).outcome == "brought"
    assert (folder / "done" / "4 2.csv").exists()
    for outside in (str(tmp_path), str(folder / ".."), "/etc"):
        assert feeds.look({"folder": {"folder": outside}}).status_code == 422


def test_secrets_are_sealed_never_shown_and_typed_again_for_another_host(
    office: Place, feeds: Feeds, settings: Any
) -> None:
    _, address = office
    where = feeds.of_address(
        f"{address}/weekly.csv",
        sign_in="bearer",
        password="a-very-secret-word",
        headers=[{"name": "X-Key", "value": "another-secret", "secret": True}],
    )
    number = feeds.set_up(where)
    row = Feed.objects.get(pk=number)
    kept = repr([row.options, row.sealed, feeds.get(number)])
    assert "secret-word" not in kept
    assert "another-secret" not in kept
    settings.SECRETS_KEYS = ["a new key", *settings.SECRETS_KEYS]
    assert running.asked_of(row).secrets["password"] == "a-very-secret-word"
    call_command("renew_secrets", stdout=StringIO())
    settings.SECRETS_KEYS = ["a new key"]
    row.refresh_from_db()
    assert running.asked_of(row).secrets["password"] == "a-very-secret-word"
    settings.SECRETS_KEYS = ["another key"]
    fetch = feeds.fetch(number)
    assert problem_of(fetch)["title"] == "The password of this cannot be read any more."
    # Nobody gets at a secret by pointing the feed elsewhere.
    other = where["address"] | {"address": "http://localhost:1/x.csv", "password": None}
    with pytest.MonkeyPatch.context() as patch:
        asked: list[Any] = []

        def nothing(*given: Any) -> None:
            asked.append(given)

        patch.setattr("fluctus.feeds.services.fetched", nothing)
        feeds.look({"address": other}, feed=number)
    assert asked[0][2].secrets["password"] == ""
