"""Backups: what comes back is what was there; what cannot come back says so, changing nothing."""

import json
import os
import subprocess
import tarfile
from collections.abc import Iterator
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

import psycopg
import pytest
from django.db import connection, transaction

from fluctus.accounts.models import Workspace
from fluctus.kpis.models import Kpi, Observation
from fluctus.site.backups.making import drop_older, make_backup
from fluctus.site.backups.manifest import contents, difference
from fluctus.site.backups.reading import opened_backup
from fluctus.site.backups.refusals import BackupError
from fluctus.site.backups.restoring import restore_backup
from tests.conftest import Api, join
from tests.server.address import address_of_database

ROOT = Path(__file__).parents[3]
NOW = datetime(2026, 11, 30, 2, 15, tzinfo=UTC)
WEEKS = [20.0 + number % 7 for number in range(40)]

pytestmark = pytest.mark.django_db(transaction=True)


@pytest.fixture(autouse=True)
def programs(monkeypatch: pytest.MonkeyPatch) -> None:
    bins = sorted(Path("/usr/lib/postgresql").glob("*/bin"))
    monkeypatch.setenv("PATH", f"{bins[-1]}:{os.environ['PATH']}" if bins else os.environ["PATH"])


@pytest.fixture
def kept(settings: Any, tmp_path: Path) -> Api:
    """Return a workspace with values, and with a table on its way; a second one beside it."""
    settings.UPLOADS = tmp_path / "uploads"
    api = Api(join("isla", "marrowick"), "marrowick")
    api.add_kpi("Crossing time", WEEKS)
    Api(join("ewan", "harbour"), "harbour").add_kpi("Berths free", WEEKS[:12])
    api.upload("Week,Delay\n2026-01-05,3\n2026-01-12,4\n")
    return api


@pytest.fixture
def elsewhere() -> Iterator[str]:
    """Return the address of an empty database beside that of the test."""
    address = f"{address_of_database().rsplit('/', 1)[0]}/elsewhere"
    with psycopg.connect(address_of_database(), autocommit=True) as beside:
        beside.execute("DROP DATABASE IF EXISTS elsewhere")
        beside.execute("CREATE DATABASE elsewhere")
    yield address
    with psycopg.connect(address_of_database(), autocommit=True) as beside:
        beside.execute("DROP DATABASE elsewhere WITH (FORCE)")


def restored(file: Path, address: str, *more: str, **environment: str) -> str:
    """Restore by the command into another database; returns what it says."""
    done = subprocess.run(
        ["python", "-m", "django", "restore", str(file), *more],
        env=os.environ
        | {"DATABASE_URL": address, "DJANGO_SETTINGS_MODULE": "fluctus.site.settings"}
        | environment,
        cwd=ROOT,
        capture_output=True,
        text=True,
        check=False,
    )
    return done.stderr + done.stdout


def asked(address: str, statement: str) -> Any:
    with psycopg.connect(address) as beside:
        return beside.execute(statement).fetchone()[0]  # type: ignore[index]


@pytest.fixture
def counting() -> Iterator[None]:
    """The owner of the cluster has it count statements, in a schema beside the application's."""
    with connection.cursor() as cursor:
        cursor.execute("CREATE SCHEMA statements")
        cursor.execute("CREATE EXTENSION pg_stat_statements SCHEMA statements")
    yield
    with connection.cursor() as cursor:
        cursor.execute("DROP SCHEMA statements CASCADE")


def test_a_backup_comes_back_elsewhere_with_its_files(
    kept: Api, counting: None, elsewhere: str, tmp_path: Path
) -> None:
    key = tmp_path / "key"
    key.write_text("the tide turns at four")
    file = make_backup(tmp_path / "backups", NOW, key, lambda text: None)
    assert b"Crossing time" not in file.read_bytes()
    # What is written after it is not in it.
    kept.add_kpi("Later", WEEKS)
    more = ["--key", str(key)]
    told = restored(file, elsewhere, *more, UPLOADS=str(tmp_path / "there"))
    assert "Everything is as it was at 2026-11-30T02:15" in told, told
    assert asked(elsewhere, "SELECT count(*) FROM kpis_kpi") == 2
    # What belongs to the cluster is made by its owner, and by no restore.
    assert asked(elsewhere, "SELECT to_regnamespace('statements')") is None
    assert asked(elsewhere, "SELECT count(*) FROM pg_extension") == 1
    assert asked(elsewhere, "SELECT sum(value) FROM kpis_observation") == sum(WEEKS) + sum(
        WEEKS[:12]
    )
    (raw,) = (tmp_path / "there").rglob("raw")
    assert raw.read_bytes().startswith(b"Week,Delay")
    # A second time, data are in the way, unless they are named.
    again = restored(file, elsewhere, *more, UPLOADS=str(tmp_path / "there"))
    assert "is not empty" in again
    with psycopg.connect(elsewhere) as beside:
        beside.execute("DELETE FROM kpis_observation")
        beside.commit()
        named = restored(file, elsewhere, *more, "--replace", "elsewhere")
        assert "Stop every part of Fluctus first" in named
    assert asked(elsewhere, "SELECT count(*) FROM kpis_observation") == 0
    named = restored(file, elsewhere, *more, "--replace", "elsewhere", UPLOADS=str(tmp_path / "t"))
    assert "Everything is as it was" in named
    assert asked(elsewhere, "SELECT count(*) FROM kpis_observation") == 52


def test_what_is_half_or_changed_or_locked_is_refused_with_nothing_changed(
    kept: Api, tmp_path: Path
) -> None:
    key, other = tmp_path / "key", tmp_path / "other"
    key.write_text("the tide turns at four")
    other.write_text("the tide turns at five")
    plain = make_backup(tmp_path / "plain", NOW, None, lambda text: None)
    locked = make_backup(tmp_path / "locked", NOW, key, lambda text: None)
    whole, secret = plain.read_bytes(), locked.read_bytes()

    def cut(name: str, content: bytes) -> Path:
        made = tmp_path / name
        made.write_bytes(content)
        return made

    flipped = bytearray(whole)
    flipped[len(whole) // 2] ^= 1
    cases: list[tuple[Path, Path | None, str]] = [
        (cut("half.backup", whole[: len(whole) // 2]), None, "missing or damaged"),
        (cut("flipped.backup", bytes(flipped)), None, "missing or damaged"),
        (cut("empty.backup", b""), None, "missing or damaged"),
        (cut("picture.backup", b"\x89PNG" * 400), None, "missing or damaged"),
        (cut("half.backup.gpg", secret[: len(secret) // 2]), key, "could not be decrypted"),
        (locked, other, "could not be decrypted"),
        (locked, tmp_path / "nowhere", "could not be decrypted"),
        (locked, None, "Give its key"),
        (tmp_path / "nowhere.backup", None, "There is no"),
    ]
    for file, by, expected in cases:
        with pytest.raises(BackupError, match=expected):
            restore_backup(file, by, connection.settings_dict["NAME"], lambda text: None)
    assert Observation.objects.count() == 52


def test_a_backup_of_a_newer_version_is_refused(kept: Api, tmp_path: Path) -> None:
    file = make_backup(tmp_path, NOW, None, lambda text: None)
    parts = tmp_path / "parts"
    with tarfile.open(file) as archive:
        archive.extractall(parts, filter="data")
    told = json.loads((parts / "manifest.json").read_text())
    told["migrations"].append(["kpis", "0999_next_year"])
    (parts / "manifest.json").write_text(json.dumps(told))
    newer = tmp_path / "newer.backup"
    with tarfile.open(newer, "w") as archive:
        archive.add(parts, "")
    with pytest.raises(BackupError, match="newer version of Fluctus"):
        restore_backup(newer, None, "", lambda text: None)
    assert Kpi.objects.count() == 2


def test_each_row_that_is_changed_moved_or_gone_is_told(kept: Api) -> None:
    with transaction.atomic():
        before = contents()
    assert before["marrowick"]["kpis_observation"].count == 40
    assert before["harbour"]["kpis_observation"].count == 12
    value = Observation.objects.filter(kpi__workspace__slug="harbour").earliest("pk")
    Observation.objects.filter(pk=value.pk).update(value=value.value + 1e-9)
    with transaction.atomic():
        assert difference(before, contents()) == [
            "kpis_observation of workspace harbour: other rows"
        ]
    value.delete()
    with transaction.atomic():
        (said,) = difference(before, contents())
    assert said.endswith("expected 12 rows, 11 are there")
    Workspace.objects.filter(slug="harbour").update(slug="quay")
    with transaction.atomic():
        assert any("workspace quay" in said for said in difference(before, contents()))


def test_a_disk_that_is_full_leaves_no_half_of_a_backup(
    kept: Api, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    def full(*args: Any, **kwargs: Any) -> Any:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(tarfile.TarFile, "add", full)
    with pytest.raises(BackupError, match="No space left on device"):
        make_backup(tmp_path / "backups", NOW, None, lambda text: None)
    assert not list((tmp_path / "backups").iterdir())


def test_the_newest_are_kept(kept: Api, tmp_path: Path) -> None:
    made = [
        make_backup(tmp_path, NOW.replace(hour=hour), None, lambda text: None) for hour in (1, 3, 2)
    ]
    gone = drop_older(tmp_path, keep=2)
    assert gone == [made[0]]
    with opened_backup(made[1], None) as opened:
        assert opened.manifest.contents["marrowick"]["kpis_kpi"].count == 1
    assert connection.in_atomic_block is False
