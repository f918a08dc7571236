"""What is told of an installation: parts, queues, slow statements, and who takes room."""

import platform
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Final

import django
from django.db import DatabaseError, connection, transaction
from django.db.migrations.executor import MigrationExecutor
from django.db.models import Count, Sum
from django.db.models.functions import Coalesce
from procrastinate.contrib.django.models import ProcrastinateWorker

from fluctus.accounts.models import Workspace
from fluctus.accounts.room.kinds import Kind
from fluctus.accounts.room.services import Bound, bounds_of
from fluctus.http.edition import edition
from fluctus.http.middleware import SEEN_WITHIN
from fluctus.http.shapes import Shape
from fluctus.kpis.models import Block, Observation
from fluctus.site.condition.failed import FailedJob, failed_jobs
from fluctus.site.models import MadeBackup
from fluctus.site.queues import QueueState, queue_states

SLOWEST: Final = 10
SHOWN: Final = 50
"""Workspaces in one answer, those with most values first."""
LONGEST_STATEMENT: Final = 400
BACKUP_IS_OLD: Final = timedelta(hours=26)


@dataclass(frozen=True, slots=True)
class Versions(Shape):
    """What runs; ``migrations`` counts those that the database waits for."""

    fluctus: str
    python: str
    django: str
    postgresql: str
    migrations: int


@dataclass(frozen=True, slots=True)
class Backup(Shape):
    """The last whole backup that was made here; old where a day has gone by without one."""

    at: datetime
    bytes: int
    encrypted: bool
    old: bool


@dataclass(frozen=True, slots=True)
class Statement(Shape):
    """A statement of the database and what it has taken in all, its parameters left out."""

    text: str
    calls: int
    mean_milliseconds: float
    seconds: float


@dataclass(frozen=True, slots=True)
class Holder(Shape):
    """A workspace and what it takes; ``bytes`` is its share of what values take, about."""

    slug: str
    name: str
    people: int
    kpis: int
    values: int
    bytes: int
    bounds: list[Bound]


@dataclass(frozen=True, slots=True)
class Condition(Shape):
    """How the installation is; ``statements`` null where the database does not count them."""

    versions: Versions
    workers: int
    database_bytes: int
    value_bytes: int
    queues: list[QueueState]
    failed: list[FailedJob]
    statements: list[Statement] | None
    backup: Backup | None
    workspaces: int
    holders: list[Holder]


def condition(now: datetime, named: str) -> Condition:
    """Ask for all of it; of the workspaces those whose name has ``named`` in it."""
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT pg_database_size(current_database()), current_setting('server_version')"
        )
        database_bytes, version = cursor.fetchone()
        value_bytes = 0
        for model in (Observation, Block):
            cursor.execute("SELECT pg_total_relation_size(%s::regclass)", [model._meta.db_table])
            value_bytes += cursor.fetchone()[0]
    seen = now - timedelta(seconds=SEEN_WITHIN)
    return Condition(
        versions=Versions(
            edition(), platform.python_version(), django.__version__, version, _waiting_migrations()
        ),
        workers=ProcrastinateWorker.objects.filter(last_heartbeat__gt=seen).count(),
        database_bytes=database_bytes,
        value_bytes=value_bytes,
        queues=queue_states(now),
        failed=failed_jobs(),
        statements=_statements(),
        backup=_backup(now),
        workspaces=Workspace.objects.count(),
        holders=holders(value_bytes, named),
    )


def _waiting_migrations() -> int:
    executor = MigrationExecutor(connection)
    return len(executor.migration_plan(executor.loader.graph.leaf_nodes()))


def _backup(now: datetime) -> Backup | None:
    row = MadeBackup.objects.last()
    if row is None:
        return None
    return Backup(row.at, row.size, row.encrypted, now - row.at > BACKUP_IS_OLD)


def _statements() -> list[Statement] | None:
    """Return what took most in all, as pg_stat_statements has it; None where it is not there."""
    try:
        with transaction.atomic(), connection.cursor() as cursor:
            cursor.execute(
                """
                SELECT left(regexp_replace(query, '\\s+', ' ', 'g'), %s), calls,
                       mean_exec_time, total_exec_time / 1000
                FROM statements.pg_stat_statements
                WHERE dbid = (SELECT oid FROM pg_database WHERE datname = current_database())
                ORDER BY total_exec_time DESC LIMIT %s
                """,
                [LONGEST_STATEMENT, SLOWEST],
            )
            return [Statement(*row) for row in cursor.fetchall()]
    except DatabaseError:
        return None


def holders(value_bytes: int, named: str) -> list[Holder]:
    """Return the workspaces with most values, of those whose name has ``named`` in it."""
    rows = Workspace.objects.filter(name__icontains=named).select_related("room")
    rows = rows.annotate(values=Coalesce(Sum("kpis__stored"), 0))
    found = list(rows.order_by("-values", "name")[:SHOWN])
    people = dict(
        Workspace.objects.filter(pk__in=[row.pk for row in found])
        .annotate(people=Count("members"))
        .values_list("pk", "people")
    )
    all_values = int(Workspace.objects.aggregate(all=Sum("kpis__stored"))["all"] or 0)
    return [
        Holder(
            slug=row.slug,
            name=row.name,
            people=people[row.pk],
            kpis=next(one.there or 0 for one in bounds if one.kind is Kind.KPIS),
            values=row.values,
            bytes=round(value_bytes * row.values / all_values) if all_values else 0,
            bounds=bounds,
        )
        for row, bounds in zip(found, bounds_of(found), strict=True)
    ]
