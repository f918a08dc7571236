"""What a backup says of itself: its version, and what of each workspace is in it."""

from collections import deque
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cache
from typing import Any, Final

from django.apps import apps
from django.db import connection
from django.db.migrations.loader import MigrationLoader
from django.db.models import Count, DecimalField, F, ForeignKey, Func, Model, Sum
from pydantic import TypeAdapter

from fluctus.accounts.models import Workspace
from fluctus.site.backups.refusals import BackupError, NoBackupError

FORMAT: Final = 1
WIDE: Final[Any] = DecimalField(max_digits=40, decimal_places=0)
OF_NOBODY: Final = ""
"""What stands for rows that are of no workspace, such as people."""


@dataclass(frozen=True, slots=True)
class Told:
    """Rows of a table that are of one workspace: how many, and a hash over all of them."""

    count: int
    hash: str


Contents = dict[str, dict[str, Told]]
"""What is there of each workspace, by its slug and the table."""


@dataclass(frozen=True, slots=True)
class Manifest:
    """What a backup holds; ``parts`` are its files with the SHA-256 of each."""

    made_at: str
    migrations: list[tuple[str, str]]
    contents: Contents
    parts: dict[str, str]
    format: int = FORMAT

    def to_bytes(self) -> bytes:
        """Write it as JSON."""
        return _MANIFEST.dump_json(self, indent=1)

    @staticmethod
    def of_bytes(written: bytes) -> "Manifest":
        """Read it; raises BackupError where it is none, or of a newer version."""
        try:
            read = _MANIFEST.validate_json(written)
        except ValueError as error:
            raise NoBackupError from error
        known = set(MigrationLoader(None).disk_migrations)
        newer = [name for name in read.migrations if tuple(name) not in known]
        if read.format > FORMAT or newer:
            raise BackupError(
                "This backup was made by a newer version of Fluctus.",
                "Restore it by that version, or by one after it.",
            )
        return read


_MANIFEST = TypeAdapter(Manifest)


def contents() -> Contents:
    """Count and hash the rows of every table, by workspace, as they are at this moment.

    The hash is a sum over those of the rows, so that it needs no order and no memory.
    """
    with connection.cursor() as cursor:
        # How a row is written depends on these.
        cursor.execute(
            "SET LOCAL timezone = 'UTC'; SET LOCAL extra_float_digits = 3; "
            "SET LOCAL bytea_output = 'hex'; SET LOCAL statement_timeout = 0"
        )
    found: Contents = {}
    for model in _tables():
        path = path_to_workspace(model)
        for slug, told in _of_table(model, path):
            found.setdefault(slug, {})[model._meta.db_table] = told
    return found


def difference(expected: Contents, found: Contents) -> list[str]:
    """Say where two differ, in words; nothing where they are the same."""
    said = []
    for slug in sorted({*expected, *found}):
        before, after = expected.get(slug, {}), found.get(slug, {})
        for table in sorted({*before, *after}):
            one, other = before.get(table), after.get(table)
            if one == other:
                continue
            whose = f"workspace {slug}" if slug else "no workspace"
            counts = f"{one.count if one else 0} rows, {other.count if other else 0} are there"
            same = one and other and one.count == other.count
            said.append(f"{table} of {whose}: " + ("other rows" if same else f"expected {counts}"))
    return said


def _tables() -> Iterator[type[Model]]:
    for model in apps.get_models(include_auto_created=True):
        if model._meta.managed and not model._meta.proxy:
            yield model


@cache
def path_to_workspace(model: type[Model]) -> str | None:
    """Return by which relations the workspace of a row is found; the shortest way, or None."""
    if model is Workspace:
        return ""
    waiting: deque[tuple[type[Model], str]] = deque([(model, "")])
    seen = {model}
    while waiting:
        now, path = waiting.popleft()
        for relation in now._meta.get_fields():
            if not isinstance(relation, ForeignKey):
                continue
            goal = relation.related_model
            longer = f"{path}{relation.name}"
            if goal is Workspace:
                return longer
            if goal not in seen and isinstance(goal, type):
                seen.add(goal)
                waiting.append((goal, f"{longer}__"))
    return None


def _of_table(model: type[Model], path: str | None) -> Iterator[tuple[str, Told]]:
    slug = F("slug") if path == "" else F(f"{path}__slug") if path else None
    table = connection.ops.quote_name(model._meta.db_table)
    hashed = Sum(Func(template=f"hashtextextended({table}::text, 0)::numeric", output_field=WIDE))
    rows = model._base_manager.all()
    if slug is None:
        told = rows.aggregate(count=Count("pk"), hash=hashed)
        if told["count"]:
            yield OF_NOBODY, Told(told["count"], str(told["hash"]))
        return
    grouped = rows.annotate(whose=slug).values("whose")
    for row in grouped.annotate(count=Count("pk"), hash=hashed).order_by():
        yield row["whose"] or OF_NOBODY, Told(row["count"], str(row["hash"]))
