"""Files that any host reads, whichever wrote them, in each kind of store."""

import socket
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import boto3
import pytest
from django.core.exceptions import ImproperlyConfigured
from django.core.files.base import ContentFile
from hypothesis import given
from hypothesis import settings as hypothesis_settings
from hypothesis import strategies as st
from hypothesis.extra.django import TestCase
from moto.server import ThreadedMotoServer

from fluctus.files import choice, store
from fluctus.files.choice import storage_of
from fluctus.files.database_storage import PIECE, DatabaseStorage
from fluctus.files.models import FilePiece
from fluctus.intake import jobs
from fluctus.intake.models import Import, Upload
from fluctus.kpis.models import Kpi, Observation
from tests.conftest import Api, join
from tests.jobs import no_jobs, work

TABLE = "Week,Delay (min)\n" + "\n".join(f"2025-W{n:02d},{20 + n % 7}" for n in range(1, 41))


@pytest.fixture(scope="session")
def s3_server() -> Iterator[ThreadedMotoServer]:
    server = ThreadedMotoServer(ip_address="127.0.0.1", port=0, verbose=False)
    server.start()
    yield server
    server.stop()


@pytest.fixture
def s3(s3_server: ThreadedMotoServer, monkeypatch: pytest.MonkeyPatch) -> dict[str, Any]:
    monkeypatch.setenv("AWS_ACCESS_KEY_ID", "made-up")
    monkeypatch.setenv("AWS_SECRET_ACCESS_KEY", "made-up")
    monkeypatch.setenv("AWS_DEFAULT_REGION", "us-east-1")
    monkeypatch.setenv("AWS_MAX_ATTEMPTS", "1")
    host, port = s3_server.get_host_and_port()
    endpoint = f"http://{host}:{port}"
    boto3.client("s3", endpoint_url=endpoint).create_bucket(Bucket="harbour")
    return storage_of("s3://harbour/fluctus", endpoint)


@pytest.fixture(params=["database", "s3"])
def hosts(
    request: pytest.FixtureRequest, settings: Any, tmp_path: Path, transactional_db: None
) -> Iterator[Callable[[str], None]]:
    """Let what follows happen on a host of a name, which shares its files by a store alone."""
    chosen = request.getfixturevalue("s3") if request.param == "s3" else storage_of("database")
    settings.STORAGES = {**settings.STORAGES, "uploads": chosen}

    def on(host: str) -> None:
        settings.UPLOADS = tmp_path / host
        settings.UPLOADS.mkdir(exist_ok=True)

    on("one")
    yield on
    no_jobs()


def left(settings: Any) -> list[Path]:
    return [path for path in settings.UPLOADS.rglob("*") if path.is_file()]


def test_a_table_sent_to_one_host_is_read_by_another_and_brought_in_by_a_third(
    hosts: Callable[[str], None], settings: Any
) -> None:
    settings.LONG_IMPORT_BYTES = 100
    api = Api(join("isla", "marrowick"), "marrowick")
    sent = api.upload_read(TABLE, None)
    assert sent.status_code == 201, sent.content
    number = sent.json()["id"]
    upload = Upload.objects.get()
    kept = upload.kept
    assert kept > upload.size
    hosts("two")
    seen = api.client.get(f"{api.base}/uploads/{number}")
    assert seen.status_code == 200, seen.content
    assert seen.json()["sheet_rows"] == sent.json()["sheet_rows"]
    # What the first host has read is not read again, but fetched.
    upload.refresh_from_db()
    assert upload.kept == kept
    answer = api.bring_in(TABLE, {"name": "Delay"})
    assert answer.status_code == 202, answer.content
    hosts("three")
    work()
    assert Observation.objects.filter(kpi__name="Delay").count() == 40
    api.client.delete(f"{api.base}/uploads/{number}")
    assert not Upload.objects.exists()
    assert not left(settings)
    assert not store.has(f"{upload.folder}/raw")


def test_a_store_that_is_away_refuses_an_upload_and_is_tried_again_by_a_job(
    hosts: Callable[[str], None], settings: Any, monkeypatch: pytest.MonkeyPatch
) -> None:
    settings.LONG_IMPORT_BYTES = 100
    api = Api(join("isla", "marrowick"), "marrowick")
    answer = api.bring_in(TABLE, {"name": "Delay"})
    assert answer.status_code == 202
    hosts("two")
    kind = type(store.store())
    with monkeypatch.context() as away:

        def nothing(*args: Any, **kwargs: Any) -> Any:
            raise ConnectionError("no route to host")

        for name in ("open", "save", "exists", "listdir"):
            away.setattr(kind, name, nothing)
        refused = api.upload(TABLE.replace("Delay", "Wait"))
        assert refused.status_code == 503, refused.content
        assert "store of files" in refused.json()["issues"][0]["detail"]
        with pytest.raises(store.StoreAwayError):
            jobs.bring_in(Import.objects.get().pk)
    assert not Kpi.objects.exists()
    # It is under way still, and is done once the store is back.
    assert Import.objects.get().status == "running"
    work()
    assert Import.objects.get().status == "done"
    assert Kpi.objects.get().name == "Delay"


def test_an_s3_that_does_not_answer_is_a_store_that_is_away(
    s3: dict[str, Any], settings: Any, tmp_path: Path
) -> None:
    gone = {**s3, "OPTIONS": s3["OPTIONS"] | {"endpoint_url": "http://127.0.0.1:9"}}
    settings.STORAGES = {**settings.STORAGES, "uploads": gone}
    settings.UPLOADS = tmp_path
    with pytest.raises(store.StoreAwayError):
        store.fetched("somewhere/raw")
    missing = storage_of("s3://no-such-bucket", s3["OPTIONS"]["endpoint_url"])
    settings.STORAGES = {**settings.STORAGES, "uploads": missing}
    fresh = tmp_path / "fresh"
    fresh.write_bytes(b"1,2")
    with pytest.raises(store.StoreAwayError):
        store.keep("somewhere/raw", fresh)
    settings.STORAGES = {**settings.STORAGES, "uploads": s3}
    with pytest.raises(FileNotFoundError):
        store.fetched("somewhere/raw")


def test_an_s3_that_takes_connections_and_says_nothing_is_away_soon(
    monkeypatch: pytest.MonkeyPatch, settings: Any, tmp_path: Path
) -> None:
    monkeypatch.setenv("AWS_ACCESS_KEY_ID", "harbour")
    monkeypatch.setenv("AWS_SECRET_ACCESS_KEY", "harbour")
    monkeypatch.setitem(choice.SOON, "read_timeout", 0.2)
    settings.UPLOADS = tmp_path
    with socket.create_server(("127.0.0.1", 0)) as silent:
        away = storage_of("s3://harbour", f"http://127.0.0.1:{silent.getsockname()[1]}")
        settings.STORAGES = {**settings.STORAGES, "uploads": away}
        with pytest.raises(store.StoreAwayError):
            store.fetched("somewhere/raw")


def test_copies_of_a_host_are_dropped_and_fetched_again(
    hosts: Callable[[str], None], settings: Any
) -> None:
    fresh = store.here("a/raw").with_suffix(".coming")
    fresh.write_bytes(b"1,2,3")
    store.keep("a/raw", fresh)
    store.drop_copies(older_than=3600)
    assert left(settings)
    store.drop_copies(older_than=-1)
    assert not left(settings)
    assert store.fetched("a/raw").read_bytes() == b"1,2,3"
    store.remove("a")
    assert not store.has("a/raw")


class DatabaseFiles(TestCase):
    @given(
        st.lists(st.sampled_from([0, 1, PIECE - 1, PIECE, PIECE + 1, 3 * PIECE]), min_size=1),
    )
    @hypothesis_settings(max_examples=12, deadline=None)
    def test_the_last_that_was_saved_is_what_is_read(self, sizes: list[int]) -> None:
        kept = DatabaseStorage()
        for number, size in enumerate(sizes):
            content = bytes([number % 256]) * size
            assert kept.save("folder/raw", ContentFile(content)) == "folder/raw"
            with kept.open("folder/raw") as file:
                assert file.read() == content
            assert kept.size("folder/raw") == size
        assert FilePiece.objects.count() == max(1, -(-sizes[-1] // PIECE))
        kept.save("folder/deeper/other", ContentFile(b"1"))
        assert kept.listdir("folder") == (["deeper"], ["raw"])
        kept.delete("folder/raw")
        assert not kept.exists("folder/raw")
        with pytest.raises(FileNotFoundError):
            kept.open("folder/raw")
        with pytest.raises(FileNotFoundError):
            kept.size("folder/raw")


@pytest.mark.parametrize("files", ["", "s3", "s3://", "ftp://somewhere/else", "/var/lib/files"])
def test_what_is_no_store_is_refused_at_the_start(files: str) -> None:
    with pytest.raises(ImproperlyConfigured, match="give folder, database or s3"):
        storage_of(files)
