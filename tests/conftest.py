"""What tests of more than one kind share: people, workspaces and a KPI with a known chart."""

import json
from collections.abc import Iterator, Sequence
from contextlib import suppress
from datetime import date, timedelta
from pathlib import Path
from typing import Any

import pytest
from django.contrib.auth.models import User
from django.core.files.uploadedfile import SimpleUploadedFile
from django.core.management import CommandError
from django.test import Client, TransactionTestCase
from hypothesis import settings as hypothesis_settings
from pytest_django.plugin import DjangoDbBlocker

from fluctus.accounts.services import add_person
from fluctus.accounts.sign_in import CONFIRMED
from fluctus.http import clock
from tests import demo_database

# How long an example takes depends on the machine, and is the benchmarks' business.
hypothesis_settings.register_profile("untimed", deadline=None)
hypothesis_settings.load_profile("untimed")

GOLDEN = Path(__file__).parent / "core" / "golden.json"


def golden(name: str) -> dict[str, Any]:
    """Return one worked case by name."""
    cases = json.loads(GOLDEN.read_text())["cases"]
    return next(case for case in cases if case["name"] == name)


def csv_of(values: Sequence[float | None], start: str = "2026-01-05") -> str:
    """Write weekly values as a table; None leaves the cell empty."""
    first = date.fromisoformat(start)
    rows = [f"{first + timedelta(weeks=n)},{'' if v is None else v}" for n, v in enumerate(values)]
    return "\n".join(["Week,Ramp cycle (s)", *rows])


def join(name: str, workspace: str) -> User:
    """Make a person in a workspace, making that too."""
    return add_person(name, f"{name}'s own words", workspace)


def signed_in(person: User) -> Client:
    """Return a browser of somebody who has just typed their password."""
    client = Client()
    client.force_login(person)
    session = client.session
    session[CONFIRMED] = clock.now().timestamp()
    session.save()
    return client


class Api:
    """A person at the API of one workspace."""

    def __init__(self, person: User, workspace: str) -> None:
        self.client = signed_in(person)
        self.base = f"/api/v1/workspaces/{workspace}"

    def get(self, path: str, **query: Any) -> Any:
        return self.client.get(self.base + path, query)

    def send(self, method: str, path: str, data: Any = None, revision: int | None = None) -> Any:
        headers = {} if revision is None else {"If-Match": f'"{revision}"'}
        return self.client.generic(
            method, self.base + path, json.dumps(data or {}), "application/json", headers=headers
        )

    def upload(self, table: str | bytes, into: str | None = None, name: str = "table.csv") -> Any:
        """Send a table, as a paste or as a file."""
        query = "" if into is None else f"?into={into}"
        body = {"text": table} if isinstance(table, str) else {"file": file_of(table, name)}
        return self.client.post(f"{self.base}/uploads{query}", body)

    def upload_read(self, table: str | bytes, into: str | None) -> Any:
        """Send a table that is read at once: again where a busy machine put it off for later."""
        answers = (self.upload(table, into) for _ in range(4))
        return next(sent for sent in answers if sent.status_code != 202)

    def read(
        self, table: str | bytes, into: str | None = None, shown: str | None = None, **mapping: Any
    ) -> Any:
        """Send a table and ask what is understood of it."""
        sent = self.upload_read(table, into)
        if sent.status_code != 201:
            return sent
        body = {"mapping": mapping, "into": into, "shown": shown}
        return self.send("POST", f"/uploads/{sent.json()['id']}/read", body)

    def bring_in(
        self,
        table: str | bytes,
        details: dict[str, Any] | None = None,
        into: str | None = None,
        mode: str = "update",
        **mapping: Any,
    ) -> Any:
        """Send a table and bring it in; ``details`` are those of its first KPI."""
        sent = self.upload_read(table, into)
        if sent.status_code != 201:
            return sent
        path = f"/uploads/{sent.json()['id']}"
        if details is not None:
            read = self.send("POST", f"{path}/read", {"mapping": mapping, "into": into})
            if read.status_code != 200:
                return read
            key = read.json()["kpis"][0]["key"]
            mapping = mapping | {"kpis": {key: {"details": details}}}
        body = {"mapping": mapping, "into": into, "mode": mode}
        return self.send("POST", f"{path}/import", body)

    def add_kpi(self, name: str, values: Sequence[float | None], **details: Any) -> str:
        """Make a weekly KPI from 5 January 2026 on; returns its slug."""
        answer = self.bring_in(csv_of(values), {"name": name} | details, grain="week")
        assert answer.status_code == 201, answer.content
        return str(answer.json()["parts"][0]["slug"])


def ok(answer: Any) -> Any:
    """Return the body of an answer that has to be a good one."""
    assert answer.status_code in (200, 201), answer.content
    return answer.json()


def revision(api: Api, path: str) -> int:
    """Return the revision that a chart is at."""
    return int(api.get(f"{path}/analysis").json()["kpi"]["revision"])


def file_of(content: bytes, name: str) -> SimpleUploadedFile:
    return SimpleUploadedFile(name, content)


@pytest.fixture(autouse=True, scope="session")
def empty_again_after_a_deadlock() -> Iterator[None]:
    """Empty the database once more where a request that a page has left behind was in the way.

    Such a request ends by itself; the server of browser tests knows of no page that is closed.
    """
    teardown = TransactionTestCase._fixture_teardown  # type: ignore[attr-defined]

    def again(case: TransactionTestCase) -> None:
        for _ in range(3):
            with suppress(CommandError):
                teardown(case)
                return
        teardown(case)

    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(TransactionTestCase, "_fixture_teardown", again)
        yield


@pytest.fixture
def api(db: None) -> Api:
    return Api(join("isla", "marrowick"), "marrowick")


@pytest.fixture(scope="session")
def demo_template(django_db_setup: None, django_db_blocker: DjangoDbBlocker) -> None:
    with django_db_blocker.unblock():
        demo_database.ensure_template()


@pytest.fixture
def filled_with_demo(demo_template: None, transactional_db: None) -> None:
    """The demo workspace in the test database, as it is when it has just been loaded."""
    demo_database.fill()


def pytest_sessionfinish(session: pytest.Session) -> None:
    """Remove what the workers of the run have shared."""
    if not hasattr(session.config, "workerinput"):
        demo_database.drop_template()
