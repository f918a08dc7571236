"""What an operator sees of requests and jobs, and what nobody is to see in a log."""

import io
import json
import logging
import os
import secrets
import subprocess
import sys
from collections.abc import Iterator
from typing import Any
from urllib.request import urlopen

import pytest
from django.db import IntegrityError, OperationalError
from procrastinate.contrib.django.models import ProcrastinateJob
from prometheus_client import CollectorRegistry, generate_latest

from fluctus.http.logs import formatter
from fluctus.http.metrics import REQUESTS, serve_metrics
from fluctus.intake import jobs
from fluctus.kpis.values import services
from fluctus.site.waiting import Waiting
from tests.conftest import Api, join
from tests.jobs import no_jobs, work
from tests.server.address import free_port

SECRET = "tide-table-of-the-harbour-master"


@pytest.fixture
def lines() -> Iterator[io.StringIO]:
    """Return what is written to the log, as JSON."""
    stream = io.StringIO()
    handler = logging.StreamHandler(stream)
    handler.setFormatter(formatter("json"))
    requests = logging.getLogger("fluctus.requests")
    requests.setLevel(logging.INFO)
    logging.getLogger().addHandler(handler)
    yield stream
    logging.getLogger().removeHandler(handler)
    requests.setLevel(logging.WARNING)


def told(lines: io.StringIO) -> list[dict[str, Any]]:
    return [json.loads(line) for line in lines.getvalue().splitlines()]


@pytest.mark.django_db(transaction=True)
def test_a_request_has_one_number_in_its_answer_the_log_and_its_jobs(
    lines: io.StringIO, settings: Any, monkeypatch: pytest.MonkeyPatch
) -> None:
    no_jobs()
    settings.LONG_IMPORT_BYTES = 10
    api = Api(join("isla", "marrowick"), "marrowick")
    begun = api.bring_in("Week,Delay\n2026-01-05,3\n2026-01-12,4", {"name": "Delay"})
    assert begun.status_code == 202
    number = begun.headers["X-Request-Id"]
    line = told(lines)[-1]
    assert (line["request"], line["operation"], line["status"]) == (number, "bring-in", 202)
    assert line["milliseconds"] > 0
    (job,) = ProcrastinateJob.objects.all()
    assert job.args["asked_in"] == number
    monkeypatch.setattr(jobs, "carry_out", lambda *args: 1 / 0)
    work()
    failed = next(line for line in told(lines) if line["event"].endswith("has failed"))
    assert (failed["request"], failed["job"]) == (number, "bring_in")
    assert "ZeroDivisionError" in failed["exception"]
    # In what a person is told, so that they can name it to who looks.
    refused = api.get("/kpis/nowhere")
    assert refused.json()["request"] == refused.headers["X-Request-Id"] != number
    # What comes from outside is taken from a proxy that is trusted, and from nobody else.
    given = {"X-Request-Id": "of-the-proxy"}
    assert (
        api.client.get("/api/v1/session", headers=given).headers["X-Request-Id"] != "of-the-proxy"
    )
    settings.TRUSTED_PROXIES = 1
    assert (
        api.client.get("/api/v1/session", headers=given).headers["X-Request-Id"] == "of-the-proxy"
    )
    odd = {"X-Request-Id": 'a"b' * 50}
    assert api.client.get("/api/v1/session", headers=odd).headers["X-Request-Id"].isalnum()
    no_jobs()


@pytest.mark.django_db
def test_nothing_that_somebody_sends_is_logged(
    api: Api, lines: io.StringIO, monkeypatch: pytest.MonkeyPatch
) -> None:
    api.client.raise_request_exception = False
    slug = api.add_kpi("Crossing time", [20.0, 21.0])
    body = {"name": SECRET, "unit": SECRET, "group": SECRET, "time_zone": SECRET}
    api.send("PATCH", f"/kpis/{slug}", body, 1)
    api.send("POST", "/events", {"title": SECRET, "start": SECRET, "note": SECRET})
    api.get(f"/kpis/{SECRET}", breakdown=SECRET, token=SECRET)
    api.get(f"/pages/{SECRET}")
    api.client.post("/api/v1/session", {"name": SECRET, "password": SECRET}, "application/json")
    api.client.get(f"/api/v1/shared/{SECRET}")
    api.client.get("/api/v1/session", headers={"Authorization": f"Bearer {SECRET}"})
    api.upload(f"Week,{SECRET}\n{SECRET},{SECRET}", name=f"{SECRET}.csv")
    edits = {"edits": [{"period": "2026-01-05", "value": 3.0, "note": SECRET, "seen": None}]}

    def refused(*args: Any, **kwargs: Any) -> Any:
        found = SECRET
        detail = f"duplicate key\nDETAIL:  Key (name)=({found}) already exists."
        raise RuntimeError("it fell over") from IntegrityError(detail)

    monkeypatch.setattr(services, "locked", refused)
    answer = api.send("POST", f"/kpis/{slug}/values", edits)
    assert answer.status_code == 500
    written = lines.getvalue()
    assert "it fell over" in written
    assert SECRET not in written
    assert slug not in written
    assert len(told(lines)) >= 10


@pytest.mark.django_db
def test_requests_are_counted_by_operation_and_served_to_who_watches(api: Api) -> None:
    def counted() -> float:
        return float(REQUESTS.labels("kpis", "GET", 200)._value.get())

    before = counted()
    for _ in range(3):
        assert api.get("/kpis").status_code == 200
    assert counted() == before + 3
    port = free_port()
    server, thread = serve_metrics(f"127.0.0.1:{port}")
    try:
        with urlopen(f"http://127.0.0.1:{port}/metrics") as answer:
            text = answer.read().decode()
    finally:
        server.shutdown()
        thread.join()
    assert 'fluctus_requests_total{method="GET",operation="kpis",status="200"}' in text
    assert 'fluctus_request_seconds_bucket{le="0.1",operation="kpis"}' in text
    # However much is kept, there are so many series.
    assert "marrowick" not in text


@pytest.mark.django_db(transaction=True)
def test_what_waits_is_told_and_a_database_that_is_away(
    settings: Any, monkeypatch: pytest.MonkeyPatch
) -> None:
    registry = CollectorRegistry()
    registry.register(Waiting())
    no_jobs()
    settings.LONG_IMPORT_BYTES = 10
    api = Api(join("isla", "marrowick"), "marrowick")
    api.bring_in("Week,Delay\n2026-01-05,3\n2026-01-12,4", {"name": "Delay"})
    text = generate_latest(registry).decode()
    assert 'fluctus_jobs{queue="imports",status="todo"} 1.0' in text
    assert "fluctus_database_answers 1.0" in text
    waited = registry.get_sample_value("fluctus_oldest_job_seconds", {"queue": "imports"})
    assert waited is not None
    assert 0 <= waited < 60
    work()
    assert registry.get_sample_value("fluctus_jobs", {"queue": "imports", "status": "todo"}) == 0

    def away(*args: Any) -> Any:
        raise OperationalError("connection refused")

    monkeypatch.setattr("django.db.backends.utils.CursorWrapper.execute", away)
    assert generate_latest(registry).decode().count("fluctus_database_answers 0.0") == 1
    monkeypatch.undo()
    no_jobs()


def test_django_finds_nothing_to_say_of_an_installation_behind_tls() -> None:
    told = {
        "HTTPS": "yes",
        "DEMO": "no",
        "ALLOWED_HOSTS": "fluctus.marrowick.example",
        "SECRET_KEY": secrets.token_urlsafe(50),
        "DJANGO_SETTINGS_MODULE": "fluctus.site.settings",
    }
    done = subprocess.run(
        [sys.executable, "-m", "django", "check", "--deploy", "--fail-level", "WARNING"],
        env={name: value for name, value in os.environ.items() if "ASYNC" not in name} | told,
        capture_output=True,
        text=True,
        check=False,
    )
    assert done.returncode == 0, done.stderr
