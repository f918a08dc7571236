"""The demo workspace for tests: loaded once in a run, then copied as a whole.

Loading it reads its files and analyses every chart, which takes seconds; copying a
database takes a few hundredths of one.
"""

import os
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import timedelta
from typing import Any

import psycopg
from django.contrib.auth import BACKEND_SESSION_KEY, HASH_SESSION_KEY, SESSION_KEY
from django.contrib.auth.models import User
from django.contrib.sessions.backends.db import SessionStore
from django.contrib.sessions.models import Session
from django.core.management import call_command
from django.db import connection, connections
from django.utils import timezone

from fluctus.accounts.services import DEMO_PERSON
from fluctus.kpis.chart.queries import forget

SIGNED_IN = "demoisignedinforthetests00000000"
"""The key of a session of the demo person, so that a browser need not sign in."""
BUILDING = 1876
"""The advisory lock of the worker that makes the template; the others wait for it."""


def template_name() -> str:
    """Name the template of this run, which all its workers share."""
    return f"fluctus_demo_{os.environ.get('PYTEST_XDIST_TESTRUNUID', 'alone')}"


def ensure_template() -> None:
    """Load the demo into a template, unless a worker of this run has done so.

    Works through the test database of the caller, which is empty before and after.
    """
    with outside_the_database() as cursor:
        cursor.execute("SELECT pg_advisory_lock(%s)", [BUILDING])
        try:
            cursor.execute("SELECT FROM pg_database WHERE datname = %s", [template_name()])
            if cursor.fetchone() is None:
                call_command("load_demo", verbosity=0)
                _sign_in()
                _copy(cursor, connection.settings_dict["NAME"], template_name())
                call_command("flush", verbosity=0, interactive=False)
        finally:
            cursor.execute("SELECT pg_advisory_unlock(%s)", [BUILDING])


def fill() -> None:
    """Make the test database a copy of the template."""
    with outside_the_database() as cursor:
        _copy(cursor, template_name(), connection.settings_dict["NAME"])
    forget()


def drop_template() -> None:
    """Remove the template, at the end of a run."""
    with outside_the_database() as cursor:
        cursor.execute(f'DROP DATABASE IF EXISTS "{template_name()}" WITH (FORCE)')


def _copy(cursor: Any, source: str, target: str) -> None:
    connections.close_all()
    # Only PostgreSQL's has one.
    connection.close_pool()  # type: ignore[attr-defined]
    cursor.execute(f'DROP DATABASE IF EXISTS "{target}" WITH (FORCE)')
    cursor.execute(f'CREATE DATABASE "{target}" TEMPLATE "{source}" STRATEGY file_copy')


@contextmanager
def outside_the_database() -> Iterator[Any]:
    """Yield a cursor that is in no test database, so that these can be made and dropped."""
    known = connection.settings_dict
    with (
        psycopg.connect(
            host=known["HOST"],
            port=known["PORT"],
            user=known["USER"],
            password=known["PASSWORD"],
            dbname="postgres",
            autocommit=True,
        ) as own,
        own.cursor() as cursor,
    ):
        yield cursor


def _sign_in() -> None:
    person = User.objects.get(username=DEMO_PERSON)
    content = {
        SESSION_KEY: str(person.pk),
        BACKEND_SESSION_KEY: "django.contrib.auth.backends.ModelBackend",
        HASH_SESSION_KEY: person.get_session_auth_hash(),
    }
    Session.objects.create(
        session_key=SIGNED_IN,
        session_data=SessionStore().encode(content),
        expire_date=timezone.now() + timedelta(days=1),
    )
