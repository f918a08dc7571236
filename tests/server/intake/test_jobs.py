"""Long imports in the background: there whole or not at all, whatever happens to whom."""

import asyncio
import os
import signal
import subprocess
import sys
from collections.abc import Iterator
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

import psycopg
import pytest
from django.db import OperationalError, connection, transaction
from procrastinate.contrib.django.models import ProcrastinateJob
from procrastinate.jobs import Job as QueuedJob
from procrastinate.tasks import Task

from fluctus.feeds.jobs import fetch_feed
from fluctus.http.refusals import RefusalError
from fluctus.intake import jobs, services
from fluctus.intake.models import Import, Upload
from fluctus.jobs import life
from fluctus.jobs.models import JobStatus
from fluctus.kpis.chart.services import create_kpi
from fluctus.kpis.models import Kpi, Observation
from fluctus.reports.jobs import make_report
from fluctus.site.management.commands.run_jobs import app_of_worker
from fluctus.tables.isolation import SECONDS, TooSlowError, run_isolated
from tests.conftest import Api, join
from tests.interleaving import alone
from tests.jobs import gates, no_jobs, wait_for, work
from tests.server.address import address_of_database

HOURS, GATES = 3_000, 20
TABLE = gates(HOURS)

pytestmark = pytest.mark.django_db(transaction=True)


@pytest.fixture
def api(settings: Any, transactional_db: None) -> Iterator[Api]:
    settings.LONG_IMPORT_BYTES = 1000
    yield Api(join("isla", "marrowick"), "marrowick")
    no_jobs()


def begin(api: Api, table: str = TABLE, **mapping: Any) -> int:
    answer = api.bring_in(table, {"name": "Gate cycle"}, **mapping)
    assert answer.status_code == 202, answer.content
    assert answer.json()["status"] == "waiting"
    return int(answer.json()["id"])


def look(api: Api, number: int) -> Any:
    return api.get(f"/imports/{number}").json()


def test_a_long_import_is_done_by_a_worker(api: Api) -> None:
    number = begin(api)
    assert not Kpi.objects.exists()
    work()
    done = look(api, number)
    assert (done["status"], done["progress"]) == ("done", 1)
    assert Observation.objects.count() == HOURS * GATES
    assert not Upload.objects.exists()
    work()  # a job that is delivered twice does nothing the second time
    jobs.bring_in(number)
    assert Observation.objects.count() == HOURS * GATES


def test_a_cancelled_import_leaves_nothing_whenever_it_is_cancelled(
    api: Api, monkeypatch: pytest.MonkeyPatch
) -> None:
    waiting = begin(api)
    assert api.send("POST", f"/imports/{waiting}/cancel").json()["status"] == "cancelled"
    work()
    assert look(api, waiting)["status"] == "cancelled"

    real = create_kpi

    def cancelled_meanwhile(*args: Any) -> Any:
        made = real(*args)
        # From another connection, as a person's request comes.
        with psycopg.connect(address_of_database(), autocommit=True) as other:
            other.execute("UPDATE intake_import SET status = 'cancelled'")
        return made

    monkeypatch.setattr(services, "create_kpi", cancelled_meanwhile)
    running = begin(api)
    work()
    assert look(api, running)["status"] == "cancelled"
    assert Kpi.objects.count() == Observation.objects.count() == 0
    again = api.send("POST", f"/imports/{running}/cancel")
    assert again.status_code == 409


def test_an_import_that_fails_says_why_and_leaves_nothing(
    api: Api, monkeypatch: pytest.MonkeyPatch
) -> None:
    number = begin(api, TABLE + "\nsoon,Gate 1,3")
    work()
    failed = look(api, number)
    assert failed["status"] == "failed"
    assert failed["problem"]["issues"][0]["found"] == "soon"
    assert Kpi.objects.count() == 0

    def broken(*args: Any) -> Any:
        raise RuntimeError("the disk is full")

    monkeypatch.setattr(services, "create_kpi", broken)
    number = begin(api)
    work()
    assert "nothing was saved" in look(api, number)["problem"]["title"]


def test_an_import_whose_job_is_gone_is_ended_and_can_be_started_again(api: Api) -> None:
    number = begin(api)
    assert jobs.sweep() == 0
    no_jobs()
    assert jobs.sweep() == 1
    ended = look(api, number)
    assert (ended["status"], ended["can_begin_again"]) == ("failed", True)
    assert "Start it again" in ended["problem"]["issues"][0]["remedy"]
    again = api.send("POST", f"/imports/{number}/again")
    assert (again.status_code, again.json()["status"]) == (202, "waiting")
    work()
    done = look(api, number)
    assert (done["status"], done["can_begin_again"]) == ("done", False)
    assert api.send("POST", f"/imports/{number}/again").status_code == 409
    assert Observation.objects.count() == HOURS * GATES


def test_a_database_that_was_away_is_a_reason_to_try_again(
    api: Api, monkeypatch: pytest.MonkeyPatch
) -> None:
    real, failures = create_kpi, iter([OperationalError("terminating connection")])

    def away_once(*args: Any) -> Any:
        for failure in failures:
            raise failure
        return real(*args)

    monkeypatch.setattr(services, "create_kpi", away_once)
    number = begin(api)
    work()
    assert look(api, number)["status"] == "running"
    with connection.cursor() as cursor:
        cursor.execute("UPDATE procrastinate_jobs SET scheduled_at = NULL")
    work()
    assert look(api, number)["status"] == "done"


def test_an_import_ends_once(api: Api) -> None:
    number = begin(api)
    work()
    done = Import.objects.get(pk=number)
    # A second worker, which took the first for dead, comes to its end later.
    life.note_failure(done, RefusalError("Too late"))
    with pytest.raises(RefusalError, match="cannot be cancelled"):
        life.cancel(done, "import", "Undo it instead.")
    assert look(api, number)["status"] == "done"
    undone = api.send("POST", f"/imports/{number}/undo", {"later": None})
    assert undone.json()["status"] == "undone"


def test_uploads_take_no_more_room_than_a_workspace_has_and_are_dropped(
    api: Api, settings: Any
) -> None:
    settings.ROOM = {**settings.ROOM, "file_bytes": 3 * len(TABLE)}
    first = api.upload(TABLE.encode())
    assert first.status_code == 201
    refused = api.upload(TABLE.encode())
    assert refused.status_code == 413
    assert "Bring them in or drop them" in refused.json()["issues"][0]["remedy"]
    assert api.send("DELETE", f"/uploads/{first.json()['id']}").status_code == 204
    assert not Upload.objects.exists()
    assert api.upload(TABLE.encode()).status_code == 201
    stranger = Api(join("mallory", "elsewhere"), "marrowick")
    number = Upload.objects.get().pk
    assert stranger.send("DELETE", f"/uploads/{number}").status_code == 404


def test_a_table_that_takes_long_to_read_is_read_in_the_background(
    api: Api, monkeypatch: pytest.MonkeyPatch
) -> None:
    def slow_at_first(*args: Any, seconds: float) -> Any:
        if seconds == SECONDS:
            raise TooSlowError
        return run_isolated(*args, seconds=seconds)

    monkeypatch.setattr("fluctus.intake.uploads.run_isolated", slow_at_first)
    sent = api.upload(TABLE.encode())
    assert (sent.status_code, sent.json()["being_read"]) == (202, True)
    path = f"/uploads/{sent.json()['id']}"
    assert api.get(path).status_code == 202
    work()
    uploaded = api.get(path)
    assert (uploaded.status_code, uploaded.json()["being_read"]) == (200, False)
    # Its first rows are seen soon, all of them then.
    head = api.send("POST", f"{path}/read", {"mapping": {}}).json()
    assert (head["of_head"], head["whole"] > head["row_count"]) == (True, True)
    whole = api.send("POST", f"{path}/read", {"mapping": {}, "whole": True}).json()
    assert (whole["of_head"], whole["row_count"]) == (False, HOURS * GATES)
    # One that is no table says so when it is asked for, and is gone then.
    words = api.upload(b"\x89PNG\r\n").json()["id"]
    work()
    refused = api.get(f"/uploads/{words}")
    assert (refused.status_code, "PNG" in refused.json()["detail"]) == (422, True)
    assert api.get(f"/uploads/{words}").status_code == 404


def test_a_sheet_chosen_later_that_takes_long_is_read_in_the_background(
    api: Api, monkeypatch: pytest.MonkeyPatch
) -> None:
    def slow_at_first(*args: Any, seconds: float) -> Any:
        if seconds == SECONDS and "Cover" in args:
            raise TooSlowError
        return run_isolated(*args, seconds=seconds)

    monkeypatch.setattr("fluctus.intake.uploads.run_isolated", slow_at_first)
    book = Path(__file__).parents[2] / "tables/books/left-behind.xlsx"
    path = f"/uploads/{api.upload(book.read_bytes()).json()['id']}/read"
    for _ in range(2):
        slow = api.send("POST", path, {"mapping": {"sheet": "Cover"}})
        assert slow.status_code == 503
        assert "half a minute" in slow.json()["issues"][0]["remedy"]
    assert ProcrastinateJob.objects.filter(status="todo").count() == 1
    work()
    # It has been read by now, and holds no table; the upload itself stays.
    assert api.send("POST", path, {"mapping": {"sheet": "Cover"}}).status_code == 422
    assert api.send("POST", path, {"mapping": {}}).json()["sheet"] == "Left behind"


def test_an_import_survives_the_death_of_its_worker(api: Api, settings: Any) -> None:
    def worker() -> subprocess.Popen[bytes]:
        environment = os.environ | {
            "DATABASE_URL": address_of_database(),
            "UPLOADS": str(settings.UPLOADS),
            "DJANGO_SETTINGS_MODULE": "fluctus.site.settings",
        }
        return subprocess.Popen([sys.executable, "-m", "django", "run_jobs"], env=environment)

    number = begin(api)
    first = worker()
    try:
        wait_for(lambda: look(api, number)["progress"] >= 0.45)
    finally:
        first.send_signal(signal.SIGKILL)
        first.wait()
    assert look(api, number)["status"] == "running"
    assert Kpi.objects.count() == Observation.objects.count() == 0
    second = worker()
    try:
        wait_for(lambda: look(api, number)["status"] == "done")
    finally:
        second.terminate()
        second.wait()
    assert Kpi.objects.count() == 1
    assert Observation.objects.count() == HOURS * GATES


def test_what_a_worker_leaves_for_later_is_there_with_its_transaction_and_not_before() -> None:
    """Else another takes the job before there is what it is about, and finds nothing to do."""

    async def jobs_there() -> int:
        async with app_of_worker().open_async() as worker_app:
            return len(list(await worker_app.job_manager.list_jobs_async(task=fetch_feed.name)))

    def seen_by_a_worker() -> int:
        # On a thread of its own: a browser of another test may have left a loop on this one.
        return int(alone(lambda: asyncio.run(jobs_there())))

    with transaction.atomic():
        fetch_feed.defer(job_id=1)
        assert seen_by_a_worker() == 0
    assert seen_by_a_worker() == 1
    no_jobs()


@pytest.mark.parametrize("task", [jobs.bring_in, make_report], ids=lambda task: task.name)
@pytest.mark.parametrize("attempts", [0, 3, 7, 15])
def test_what_survived_several_workers_is_tried_again_as_soon(
    task: Task[..., Any, ...], attempts: int
) -> None:
    """Each death of a worker counts as a try: a wait that doubles would keep it for minutes."""
    job = QueuedJob(id=1, queue="imports", lock=None, queueing_lock=None, task_name=task.name)
    strategy = task.retry_strategy
    assert strategy is not None
    decision = strategy.get_retry_decision(
        exception=OperationalError(), job=job.evolve(attempts=attempts)
    )
    assert decision is not None
    before = datetime.now(UTC)
    assert decision.retry_at is not None
    assert decision.retry_at <= before + timedelta(seconds=6)


def test_whoever_asks_for_little_is_not_behind_all_that_another_workspace_waits_for(
    api: Api, monkeypatch: pytest.MonkeyPatch
) -> None:
    other = Api(join("mairi", "elsewhere"), "elsewhere")
    table = gates(60)
    asked = [begin(api, table) for _ in range(4)] + [begin(other, table) for _ in range(2)]
    taken: list[int] = []

    def take(job: Import, act: Any) -> JobStatus:
        taken.append(job.pk)
        return JobStatus.DONE

    monkeypatch.setattr(life, "run", take)
    work()
    mine, theirs = asked[:4], asked[4:]
    # Theirs is never further back than it would be if both had asked in turn.
    order = [number for pair in zip(mine, theirs, strict=False) for number in pair]
    assert sorted(taken) == sorted(asked)
    for number in theirs:
        assert taken.index(number) <= order.index(number) + 1, taken
