"""A question to a database: one statement that reads, through SQLAlchemy."""

import csv
import io
import math
import re
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any, Final

import sqlalchemy
import sqlparse
from rest_framework import serializers
from sqlalchemy import Connection, Engine, event, text
from sqlalchemy.engine import URL
from sqlalchemy.exc import DBAPIError, SQLAlchemyError
from sqlalchemy.pool import NullPool

from fluctus.feeds.sources.folder import allowed
from fluctus.feeds.sources.source import Arrived, Asked, SourceKind, with_password
from fluctus.http.guard import checked_addresses
from fluctus.http.refusals import Issue, RefusalError
from fluctus.http.requests import Plain

MOST_ROWS: Final = 1_000_000
MOST_SECONDS: Final = 300
CONNECT_SECONDS: Final = 10
AT_ONCE: Final = 2_000
NOT_ASKED: Final = "The database could not be asked."
PORTS: Final = {"postgresql": 5432, "mysql": 3306}
WRITES_FILES: Final = re.compile(r"\binto\s+(?:outfile|dumpfile|@)|\bload_file\s*\(", re.IGNORECASE)
RUN_COMMENTS: Final = re.compile(r"/\*M?!", re.IGNORECASE)
"""Begins what is a comment for everybody but MySQL and MariaDB, which carry it out."""
READS: Final = ("SELECT", "WITH", "VALUES", "TABLE")
SQLITE_MAY: Final = frozenset({20, 21, 31, 33})
"""READ, SELECT, FUNCTION and RECURSIVE: what SQLite lets a statement do here."""
SQLITE_UNSAFE: Final = frozenset({"load_extension", "writefile", "readfile", "edit"})


class DatabaseSerializer(Plain):
    """Where a database is, and what it is asked."""

    system = serializers.ChoiceField(
        [("postgresql", "postgresql"), ("mysql", "mysql"), ("sqlite", "sqlite")]
    )
    host = serializers.CharField(max_length=250, allow_blank=True, default="")
    port = serializers.IntegerField(min_value=1, max_value=65_535, allow_null=True, default=None)
    database = serializers.CharField(
        max_length=500, help_text="Its name; of SQLite, the file of the server."
    )
    user = serializers.CharField(max_length=200, allow_blank=True, default="")
    password = serializers.CharField(
        max_length=1_000,
        allow_blank=True,
        allow_null=True,
        default=None,
        trim_whitespace=False,
        help_text="null keeps the one that is there.",
    )
    query = serializers.CharField(max_length=20_000)

    def validate_query(self, value: str) -> str:
        """Refuse what is more than one statement, or does something else than read."""
        statements = [part for part in sqlparse.split(value) if part.strip(" ;\n\t")]
        if len(statements) != 1:
            raise serializers.ValidationError("Write one statement.")
        parsed = sqlparse.parse(statements[0])[0]
        first = parsed.token_first(skip_cm=True)  # type: ignore[no-untyped-call]
        if first is None or first.normalized.upper() not in READS:
            raise serializers.ValidationError("Write a statement that reads: SELECT …")
        if RUN_COMMENTS.search(value):
            raise serializers.ValidationError("Write no comment that the database would carry out.")
        bare = sqlparse.format(statements[0], strip_comments=True)
        if WRITES_FILES.search(bare):
            raise serializers.ValidationError("A statement here writes and reads no files.")
        return statements[0].rstrip(" ;\n\t")

    def validate(self, attrs: dict[str, Any]) -> dict[str, Any]:
        """Ask for the host, which SQLite has none of."""
        if attrs["system"] != "sqlite" and not attrs["host"]:
            raise serializers.ValidationError({"host": "Say where the database is."})
        return attrs


def _fetch(asked: Asked) -> Arrived | None:
    name = f"{Path(asked.options['database']).stem}.csv"
    return Arrived(name, _blocks(asked))


def _blocks(asked: Asked) -> Iterator[bytes]:
    """Yield what a statement gives as CSV."""
    engine = _engine(asked)
    try:
        with engine.connect() as connection:
            _only_reads(connection, asked)
            rows = connection.execution_options(stream_results=True, yield_per=AT_ONCE).execute(
                text(_escaped(asked.options["query"]))
            )
            if not rows.returns_rows:
                raise _refused("It gives no rows.", "Write a statement that reads: SELECT …")
            written = io.StringIO()
            writer = csv.writer(written)
            writer.writerow(rows.keys())
            count = 0
            for part in rows.partitions():
                count += len(part)
                if count > MOST_ROWS:
                    raise _refused(
                        f"There are more than {MOST_ROWS:,} rows.", "Ask for fewer of them."
                    )
                if time.monotonic() > asked.until:
                    raise _refused("It took longer than it may.", "Ask for fewer rows.")
                writer.writerows([["" if cell is None else cell for cell in row] for row in part])
                yield _taken(written)
            yield _taken(written)
    except SQLAlchemyError as error:
        raise _in_words(error) from error
    finally:
        engine.dispose()


def _escaped(query: str) -> str:
    """Return a statement in which a colon begins no parameter."""
    return re.sub(r"(?<!\\):(?=\w)", r"\\:", query)


def _taken(written: io.StringIO) -> bytes:
    content = written.getvalue().encode()
    written.seek(0)
    written.truncate()
    return content


def _engine(asked: Asked) -> Engine:
    options = asked.options
    if options["system"] == "sqlite":
        return _sqlite(Path(options["database"]), asked.until)
    port = options["port"] or PORTS[options["system"]]
    address = checked_addresses(options["host"], port)[0]
    seconds = _seconds_left(asked)
    if options["system"] == "postgresql":
        driver = "postgresql+psycopg"
        # The address that was checked is connected to; the name is for its certificate.
        connect: dict[str, Any] = {
            "hostaddr": address,
            "connect_timeout": CONNECT_SECONDS,
            "options": (
                f"-c default_transaction_read_only=on -c statement_timeout={seconds * 1000} "
                f"-c idle_in_transaction_session_timeout={seconds * 1000}"
            ),
        }
        host = options["host"]
    else:
        driver, host = "mysql+pymysql", address
        connect = {
            "connect_timeout": CONNECT_SECONDS,
            "read_timeout": seconds,
            "local_infile": False,
            "charset": "utf8mb4",
        }
    url = URL.create(
        driver, options["user"], asked.secrets.get("password", ""), host, port, options["database"]
    )
    return sqlalchemy.create_engine(url, poolclass=NullPool, connect_args=connect)


def _sqlite(file: Path, until: float) -> Engine:
    real = allowed(file, "database")
    if not real.is_file():
        raise _refused("There is no such file.", "Check its name.", "database")
    url = URL.create(
        "sqlite", database=f"file:{real.as_posix()}", query={"mode": "ro", "uri": "true"}
    )
    engine = sqlalchemy.create_engine(url, poolclass=NullPool)

    @event.listens_for(engine, "connect")
    def held_to_reading(connection: Any, _: Any) -> None:
        def may(action: int, first: str | None, second: str | None, *_: Any) -> int:
            unsafe = action == 31 and (second or first or "").lower() in SQLITE_UNSAFE
            return 0 if action in SQLITE_MAY and not unsafe else 1

        connection.set_authorizer(may)
        connection.set_progress_handler(lambda: int(time.monotonic() > until), 100_000)

    return engine


def _seconds_left(asked: Asked) -> int:
    """Return how long a statement may take: somebody who looks waits less than a worker."""
    return min(MOST_SECONDS, max(1, math.ceil(asked.until - time.monotonic())))


def _only_reads(connection: Connection, asked: Asked) -> None:
    """Begin a transaction that cannot write, whatever the statement is, and ends in time."""
    system = asked.options["system"]
    if system == "postgresql":
        connection.exec_driver_sql("SET TRANSACTION READ ONLY")
    elif system == "mysql":
        seconds = _seconds_left(asked)
        limit = (
            f"max_statement_time = {seconds}"
            if getattr(connection.dialect, "is_mariadb", False)
            else f"max_execution_time = {seconds * 1000}"
        )
        connection.exec_driver_sql(f"SET SESSION {limit}")
        connection.exec_driver_sql("SET SESSION TRANSACTION READ ONLY")
        connection.rollback()


def _in_words(error: SQLAlchemyError) -> RefusalError:
    """Say what a database says, which does not hold the password."""
    said = str(error.orig) if isinstance(error, DBAPIError) and error.orig else ""
    line = " ".join(said.split())[:300] or type(error).__name__
    return _refused(f"It says: {line}", "Check the statement, and what the user may read.", "query")


def _refused(detail: str, remedy: str, field: str = "query") -> RefusalError:
    return RefusalError(NOT_ASKED, Issue(detail, remedy, field))


def _where(options: dict[str, Any]) -> tuple[Any, ...]:
    return tuple(options[name] for name in ("system", "host", "port", "user"))


def _says(options: dict[str, Any]) -> str:
    return f"the database {Path(options['database']).stem}"


DATABASE = SourceKind("database", DatabaseSerializer, with_password, _where, _says, _fetch)
