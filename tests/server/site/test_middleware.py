"""The edges: what cannot be is refused as a problem, whoever sends it and however."""

import asyncio
import threading
from collections.abc import Sequence
from datetime import timedelta
from typing import Any

import orjson
import psycopg
import pytest
from django.contrib.sessions.backends.db import SessionStore
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import OperationalError, connection, connections
from django.test import Client

from fluctus.accounts.models import GuessedTry
from fluctus.http import clock
from fluctus.http.csv_cells import as_text
from fluctus.kpis.models import Event, Kpi
from fluctus.site.limits import SMALL, limited
from tests.conftest import Api, golden, join, ok
from tests.loops import in_a_loop

VALUES = golden("shift recalculated")["values"]


@pytest.fixture
def ramp(api: Api) -> str:
    return f"/kpis/{api.add_kpi('Ramp cycle', VALUES)}"


def is_problem(answer: Any, status: int) -> Any:
    assert answer.status_code == status, answer.content
    assert answer["Content-Type"] == "application/problem+json"
    return answer.json()


@pytest.mark.parametrize(
    ("body", "field"),
    [
        ('{"name": "a\\u0000b"}', "name"),
        ('{"name": "\\ud800"}', ""),
        ('{"a\\u0000b": 1}', ""),
        ('{"target": NaN}', ""),
        ('{"target": 1e400}', ""),
        ('{"target": 1e31}', "target"),
        ('{"target": true}', "target"),
        ('{"decimals": 9007199254740993}', "decimals"),
        ('{"decimals": ' + "9" * 5000 + "}", "decimals"),
        ('{"segments": ' + "[" * 40 + "]" * 40 + "}", "segments" + ".0" * 23),
        ("[" * 200_000, ""),
        ('{"segments": [{"start": null}, {"start": "99999-01-01"}]}', "segments.1.start"),
        ('{"segments": [{"start": null}, {"start": "9999-12-31"}]}', "segments.1.start"),
        ('{"time_zone": "../etc/passwd"}', "time_zone"),
    ],
)
def test_what_json_can_carry_and_the_program_cannot_is_refused_by_its_field(
    api: Api, ramp: str, body: str, field: str
) -> None:
    answer = api.client.generic(
        "PATCH", api.base + ramp, body.encode(), "application/json", headers={"If-Match": '"1"'}
    )
    problem = is_problem(answer, 422 if "-01-01" in body or "-12-31" in body else 400)
    assert [issue["field"] for issue in problem["issues"]] in ([field], [])
    assert Kpi.objects.get().revision == 1


def test_bodies_that_are_no_requests_are_problems_and_never_pages(api: Api) -> None:
    post = api.client.post
    text = post(f"{api.base}/uploads", "Week,x", "text/csv")
    is_problem(text, 415)
    broken = post(f"{api.base}/uploads", b"--x\r\nbroken", "multipart/form-data; boundary=y")
    is_problem(broken, 422)
    no_boundary = post(f"{api.base}/uploads", b"", "multipart/form-data")
    is_problem(no_boundary, 422)
    fields = {f"f{n}": "x" for n in range(2000)}
    is_problem(post(f"{api.base}/uploads", fields), 400)
    named = SimpleUploadedFile("a\0b.csv", b"Week,x\n2026-01-05,3\n")
    assert post(f"{api.base}/uploads", {"file": named}).status_code in (201, 400)
    is_problem(api.client.get(f"{api.base}/events", {"search": "a\0b"}), 400)
    is_problem(api.client.get(f"{api.base}/events", {"start": "9" * 30}), 400)
    is_problem(api.client.get(f"{api.base}/findings", {"since": "9999-01-01"}), 400)
    for number in ("9" * 30, "0"):
        is_problem(api.client.get(f"{api.base}/imports/{number}"), 404)
    seen = api.client.generic(
        "PATCH", f"{api.base}/kpis/x", "{}", "application/json", headers={"If-Match": "9" * 5000}
    )
    assert seen.status_code in (404, 428)


def test_numbers_and_days_that_are_stored_beyond_the_bounds_are_shown(api: Api, ramp: str) -> None:
    ok(api.send("PATCH", ramp, {"ceiling": 3e19}, 1))
    ok(api.send("POST", f"{ramp}/undo", revision=2))
    values = ok(api.get(f"{ramp}/values"))["values"]
    edit = {"period": values[3]["period"], "value": 2e19, "seen": values[3]["version"]}
    ok(api.send("POST", f"{ramp}/values", {"edits": [edit]}))
    assert ok(api.get("/kpis"))["kpis"][0]["name"] == "Ramp cycle"
    assert ok(api.get(f"{ramp}/analysis"))["points"]["value"][3] == 2e19
    workspace = Kpi.objects.get().workspace
    Event.objects.create(
        workspace=workspace, uid="1", title="Gale", first="9999-12-31", last="9999-12-31"
    )
    assert api.get("/events/file").status_code == 200
    body = {"title": "Gale", "first": "9999-01-01"}
    assert is_problem(api.send("POST", "/events", body), 400)["issues"][0]["field"] == "first"


def test_a_name_that_folds_to_another_is_taken(api: Api) -> None:
    api.add_kpi("Kelvin", VALUES)
    slug = api.add_kpi("Ramp", VALUES)
    kelvin = api.send("PATCH", f"/kpis/{slug}", {"name": "\N{KELVIN SIGN}elvin"}, 1)
    assert "named" in is_problem(kelvin, 422)["issues"][0]["detail"]
    # Its own name in other letters is no other's.
    assert ok(api.send("PATCH", f"/kpis/{slug}", {"name": "RAMP"}, 1))["kpi"]["name"] == "RAMP"


@pytest.mark.django_db(transaction=True)
def test_two_renames_to_one_name_at_once_are_one() -> None:
    person = join("isla", "marrowick")
    slugs = [Api(person, "marrowick").add_kpi(name, VALUES) for name in ("One", "Two", "Three")]
    together = threading.Barrier(3)
    statuses: list[int] = []

    def rename(slug: str) -> None:
        try:
            api = Api(person, "marrowick")
            together.wait()
            statuses.append(api.send("PATCH", f"/kpis/{slug}", {"name": "Same"}, 1).status_code)
        finally:
            connections.close_all()

    threads = [threading.Thread(target=rename, args=(slug,)) for slug in slugs]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert sorted(statuses) == [200, 422, 422]


@pytest.mark.django_db(transaction=True)
def test_a_kpi_that_is_deleted_while_others_write_to_it_answers_all_of_them() -> None:
    person = join("isla", "marrowick")
    slug = Api(person, "marrowick").add_kpi("Ramp cycle", VALUES)
    together = threading.Barrier(5)
    statuses: list[int] = []

    def act(number: int) -> None:
        try:
            api = Api(person, "marrowick")
            together.wait()
            if number == 0:
                answer = api.send("DELETE", f"/kpis/{slug}?name=Ramp%20cycle", None, 1)
            else:
                edit = {"period": f"2025-0{number + 1}-06", "value": 3.0, "seen": None}
                answer = api.send("POST", f"/kpis/{slug}/values", {"edits": [edit]})
            statuses.append(answer.status_code)
        finally:
            connections.close_all()

    threads = [threading.Thread(target=act, args=(number,)) for number in range(5)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert len(statuses) == 5
    assert set(statuses) <= {200, 204, 404, 412}


@pytest.mark.django_db(transaction=True)
def test_whoever_waits_for_a_lock_too_long_is_told_to_try_again() -> None:
    api = Api(join("isla", "marrowick"), "marrowick")
    path = f"/kpis/{api.add_kpi('Ramp cycle', VALUES)}"
    own = connection.settings_dict
    address = (
        f"postgres://{own['USER']}:{own['PASSWORD']}@{own['HOST']}:{own['PORT']}/{own['NAME']}"
    )
    with psycopg.connect(address) as other:
        other.execute("SELECT 1 FROM kpis_kpi FOR UPDATE")
        with connection.cursor() as cursor:
            cursor.execute("SET lock_timeout = '200ms'")
        answer = api.send("PATCH", path, {"target": 3}, 1)
    problem = is_problem(answer, 503)
    assert "try again" in problem["issues"][0]["remedy"].lower()
    assert answer["Retry-After"]
    with connection.cursor() as cursor:
        cursor.execute("RESET lock_timeout")
    ok(api.send("PATCH", path, {"target": 3}, 1))


def test_without_its_database_it_lives_and_says_to_try_again(
    api: Api, monkeypatch: pytest.MonkeyPatch
) -> None:
    told = api.client.get("/health").json()
    parts = {"database": True, "workers": False}
    assert told == {"live": True, "ready": True, "parts": parts}

    def away(*args: Any) -> Any:
        raise OperationalError("connection refused")

    api.client.raise_request_exception = False
    with monkeypatch.context() as patch:
        patch.setattr("django.db.backends.utils.CursorWrapper.execute", away)
        assert api.client.get("/health/live").status_code == 200
        answers = [api.get("/kpis"), api.send("POST", "/events", {})]
    for answer in answers:
        assert "try again" in is_problem(answer, 503)["issues"][0]["remedy"].lower()


def test_every_answer_holds_to_its_hosts_and_api_answers_are_not_kept(api: Api) -> None:
    for path in ("/", "/marrowick/charts/x", "/api/v1/session", "/favicon.svg"):
        assert api.client.get(path, headers={"Host": "evil.example"}).status_code == 400
    assert api.client.get("/health/live", headers={"Host": "10.0.0.7"}).status_code == 200
    assert api.get("/kpis")["Cache-Control"] == "no-store"
    assert api.client.get("/api/v1/nothing")["Cache-Control"] == "no-store"


def try_password(password: str, name: str = "isla", **more: Any) -> Any:
    body = {"name": name, "password": password}
    return Client().post("/api/v1/session", body, "application/json", **more)


def test_guessing_is_slowed_for_a_name_and_an_address_and_says_until_when(
    db: None, settings: Any
) -> None:
    settings.SIGN_IN_TRIES = 5
    join("isla", "marrowick")
    # Made-up addresses in a header are nobody's.
    for n in range(5):
        headers = {"X-Forwarded-For": f"10.0.0.{n}"}
        assert try_password("guess", headers=headers).status_code == 403
    slowed = try_password("isla's own words")
    problem = is_problem(slowed, 429)
    assert problem["issues"][0]["remedy"].startswith("Wait 30 seconds, then try again.")
    assert slowed["Retry-After"] == "30"
    # Many names from one address.
    statuses = [try_password("guess", f"name{n}").status_code for n in range(12)]
    assert statuses == [403] * 10 + [429] * 2
    # Whoever guesses keeps nobody else out, and themselves no longer than a moment.
    elsewhere = try_password("isla's own words", REMOTE_ADDR="10.0.0.9")
    assert elsewhere.status_code == 200
    GuessedTry.objects.update(at=clock.now() - timedelta(seconds=31))
    assert try_password("guess").status_code == 403
    assert try_password("isla's own words").status_code == 429
    GuessedTry.objects.update(at=clock.now() - timedelta(seconds=31))
    assert try_password("isla's own words").status_code == 200
    # Whoever signs in begins anew.
    for _ in range(4):
        assert try_password("guess").status_code == 403


@pytest.mark.parametrize(
    ("cell", "safe"),
    [
        ("=1+1", "'=1+1"),
        ("\N{FULLWIDTH EQUALS SIGN}1+1", "'\N{FULLWIDTH EQUALS SIGN}1+1"),
        ("\N{ZERO WIDTH SPACE}@x", "'\N{ZERO WIDTH SPACE}@x"),
        ("\N{WORD JOINER} -1", "'\N{WORD JOINER} -1"),
        ("late;=1+1", "late;'=1+1"),
        ("late\n+1", "late\n'+1"),
        ("up, -5 minutes; fine", "up, -5 minutes; fine"),
        ("Ramp-cycle", "Ramp-cycle"),
    ],
)
def test_no_part_of_a_cell_can_run_as_a_formula(cell: str, safe: str) -> None:
    assert as_text(cell) == safe


# --- what is taken of a request before anything is believed of it --------------------


def send(
    parts: list[bytes], headers: Sequence[tuple[bytes, bytes]] = (), *, ends: bool = True
) -> tuple[int, int]:
    """Send a body in parts; returns the status, and how many bytes the application was given."""
    given = 0

    async def application(scope: Any, receive: Any, send: Any) -> None:
        nonlocal given
        more = True
        while more:
            message = await receive()
            given += len(message["body"])
            more = message["more_body"]
        await send({"type": "http.response.start", "status": 200, "headers": []})

    async def run() -> int:
        waiting = list(parts)
        sent: list[Any] = []

        async def receive() -> Any:
            if not waiting:
                await asyncio.sleep(3600)
            part = waiting.pop(0)
            return {"type": "http.request", "body": part, "more_body": bool(waiting) or not ends}

        async def keep(message: Any) -> None:
            sent.append(message)

        scope = {"type": "http", "headers": list(headers), "path": "/api/v1/session"}
        await limited(application)(scope, receive, keep)
        if sent[0]["status"] != 200:
            assert orjson.loads(sent[1]["body"])["title"]
        return int(sent[0]["status"])

    return in_a_loop(run), given


@pytest.mark.django_db(transaction=True)
def test_a_large_body_is_taken_only_of_who_is_signed_in(monkeypatch: pytest.MonkeyPatch) -> None:
    block = b"x" * SMALL
    assert send([b"{}"]) == (200, 2)
    announced = [(b"content-length", b"1000000000")]
    assert send([block], announced) == (413, 0)
    assert send([block, block, block]) == (413, SMALL)
    assert send([block] * 3, [(b"cookie", b"sessionid=made-up")]) == (413, SMALL)
    person = join("isla", "marrowick")
    client = Client()
    client.force_login(person)
    cookie = (b"cookie", f"sessionid={client.session.session_key}".encode())
    assert send([block] * 3, [cookie]) == (200, 3 * SMALL)
    assert SessionStore(client.session.session_key).load()
    assert send([block], [cookie, (b"content-length", b"1000000000")]) == (413, 0)
    # What stops in the middle is given up.
    monkeypatch.setattr("fluctus.site.limits.BETWEEN_PARTS", 0.05)
    assert send([b"{"], ends=False) == (408, 1)
