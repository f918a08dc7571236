"""Charts that are answered again from what was answered before: the same as made anew, always."""

import json
from collections.abc import Callable, Iterator
from datetime import datetime, timedelta
from typing import Any

import pytest
from django.db import connection
from django.test.utils import CaptureQueriesContext

from fluctus.findings.models import Finding
from fluctus.http import clock
from fluctus.http.conditional import forget_answers
from fluctus.kpis.chart import responses
from fluctus.kpis.chart.queries import forget
from fluctus.kpis.chart.renewal import renew_ended
from fluctus.kpis.models import KeptAnswer, Kpi
from tests.conftest import Api, join, ok

VALUES = [20.0, 22, 21, 23, 20, 22, 21, 23, 21, 20, 22, 21, 40, 22, 21]
LOOKS: list[dict[str, Any]] = [{}, {"by": "month"}, {"first": "2026-02-02"}, {"width": 120}]
OF_VALUES = ("kpis_observation", "kpis_block", "kpis_segment")


@pytest.fixture(autouse=True)
def nothing_in_memory() -> Iterator[None]:
    forget()
    yield
    forget()


def analysis(api: Api, kpi: str, **query: Any) -> Any:
    answer = api.get(f"/kpis/{kpi}/analysis", **query)
    assert answer.status_code == 200, answer.content
    return answer


def made_anew(api: Api, kpi: str, **query: Any) -> Any:
    forget()
    KeptAnswer.objects.all().delete()
    return analysis(api, kpi, **query)


def test_another_process_reads_no_value_of_what_was_answered(api: Api) -> None:
    kpi = api.add_kpi("Ramp cycle", VALUES)
    first = analysis(api, kpi)
    forget()
    with CaptureQueriesContext(connection) as queries:
        again = analysis(api, kpi)
    assert again.content == first.content
    assert again["ETag"] == first["ETag"]
    assert not [q["sql"] for q in queries if any(table in q["sql"] for table in OF_VALUES)]
    # And a third time without asking for what is kept.
    forget_answers()
    KeptAnswer.objects.all().delete()
    assert analysis(api, kpi).content == first.content


def test_who_has_it_is_told_so_and_nobody_else(api: Api) -> None:
    kpi = api.add_kpi("Ramp cycle", VALUES)
    path, tag = f"{api.base}/kpis/{kpi}/analysis", analysis(api, kpi)["ETag"]
    has_it = {"If-None-Match": tag}
    forget()
    with CaptureQueriesContext(connection) as queries:
        nothing_new = api.client.get(path, headers=has_it)
    assert (nothing_new.status_code, nothing_new.content, nothing_new["ETag"]) == (304, b"", tag)
    assert nothing_new["Cache-Control"] == "no-store"
    assert not [q["sql"] for q in queries if any(table in q["sql"] for table in OF_VALUES)]
    assert api.client.get(path, {"by": "month"}, headers=has_it).status_code == 200
    # It is a revision for whoever writes, whether the answer came compressed or not.
    compressed = api.client.get(path, headers={"Accept-Encoding": "gzip"})
    weak = compressed["ETag"]
    assert (compressed["Content-Encoding"], weak) == ("gzip", f"W/{tag}")
    assert api.client.get(path, headers={"If-None-Match": weak}).status_code == 304
    body, chart = json.dumps({"target": 25.0}), path.removesuffix("/analysis")
    changed = api.client.patch(chart, body, "application/json", headers={"If-Match": weak})
    assert changed.status_code == 200
    stale = api.client.patch(chart, body, "application/json", headers={"If-Match": tag})
    assert stale.status_code == 412
    assert api.client.get(path, headers=has_it).status_code == 200
    assert api.client.get(path, headers={"If-None-Match": changed["ETag"]}).status_code == 304
    other = Api(join("ewan", "corran-line"), "corran-line")
    assert other.client.get(path, headers=has_it).status_code == 404


def test_nobody_waits_for_a_long_chart_that_was_written_elsewhere(
    api: Api, monkeypatch: pytest.MonkeyPatch, django_capture_on_commit_callbacks: Any
) -> None:
    monkeypatch.setattr(responses, "LONG", len(VALUES))
    with django_capture_on_commit_callbacks(execute=True):
        kpi = api.add_kpi("Ramp cycle", VALUES)
        short = api.add_kpi("Crossings", VALUES[:9])
    # As in a process that brings tables in, from which nothing is seen here but what is stored.
    forget()
    assert {row.kpi.slug for row in KeptAnswer.objects.select_related("kpi")} == {kpi}
    for slug, asks in ((kpi, False), (short, True)):
        with CaptureQueriesContext(connection) as queries:
            analysis(api, slug)
        asked = [q for q in queries if any(table in q["sql"] for table in OF_VALUES)]
        assert bool(asked) is asks
    with django_capture_on_commit_callbacks(execute=True):
        renamed = api.send("PATCH", f"/kpis/{kpi}", {"name": "Ramp"}, revision=1)
    assert renamed.content == made_anew(api, kpi).content


def acts(api: Api, kpi: str) -> dict[str, Callable[[], Any]]:
    """Return what people do that an answer shows."""
    path = f"/kpis/{kpi}"

    def at() -> int:
        return int(analysis(api, kpi)["ETag"].strip('"').partition(".")[0])

    def settings(**changes: Any) -> Callable[[], Any]:
        return lambda: ok(api.send("PATCH", path, changes, revision=at()))

    def step(way: str) -> Callable[[], Any]:
        return lambda: ok(api.send("POST", f"{path}/{way}", revision=at()))

    def explain() -> None:
        for finding in Finding.objects.filter(kpi__slug=kpi):
            cause = f"/findings/{finding.pk}", {"cause": "Fog"}
            ok(api.send("PATCH", *cause, revision=finding.version))

    def event(title: str) -> Callable[[], Any]:
        new = {"first": "2026-02-02", "title": title}
        return lambda: ok(api.send("POST", f"{path}/lane", new, revision=at()))

    def value(period: str, number: float) -> Callable[[], Any]:
        edit = {"period": period, "value": number, "seen": None}
        return lambda: ok(api.send("POST", f"{path}/values", {"edits": [edit]}))

    return {
        "a cause": explain,
        "a name": settings(name="Ramp cycle, both"),
        "a group": settings(group="Quays", dots=False),
        "a view": settings(views=[{"name": "By month", "by": "month", "hidden": ["mean"]}]),
        "a shift": settings(segments=[{"start": None}, {"start": "2026-03-02"}]),
        "lines": settings(lines=[{"key": "top", "made": "maximum"}]),
        "a quiet rule": settings(raises="nothing"),
        "an event": event("Fog all week"),
        "undone": step("undo"),
        "brought back": step("redo"),
        "a value": value("2026-04-20", 21.0),
        "a gap": value("2026-05-11", 21.5),
    }


def test_a_list_tells_what_rises_here_and_falls_there(api: Api) -> None:
    first, second = api.add_kpi("Ramp cycle", VALUES), api.add_kpi("Crossings", VALUES)

    def say(kpi: str, cause: str) -> None:
        for finding in Finding.objects.filter(kpi__slug=kpi):
            change = {"cause": cause, "state": "explained" if cause else "open"}
            path = f"/findings/{finding.pk}"
            ok(api.send("PATCH", path, change, revision=finding.version))

    def unexplained() -> dict[str, int]:
        rows = ok(api.get("/kpis"))["kpis"]
        return {row["slug"]: row["unexplained"] for row in rows}

    say(first, "Fog")
    before, tags = unexplained(), [api.get(path)["ETag"] for path in ("/kpis", "/overview")]
    assert before[first] == 0 < before[second]
    say(first, "")
    say(second, "Fog")
    # As many in all, with no other revision.
    assert unexplained() == {first: before[second], second: 0}
    assert all(api.get(path)["ETag"] not in tags for path in ("/kpis", "/overview"))


def test_a_new_name_and_an_event_read_no_value(api: Api) -> None:
    kpi = api.add_kpi("Ramp cycle", VALUES)
    analysis(api, kpi)
    path = f"/kpis/{kpi}"
    writes: list[tuple[str, str, dict[str, Any]]] = [
        ("PATCH", path, {"name": "Ramp"}),
        ("POST", f"{path}/lane", {"first": "2026-02-02", "title": "Fog"}),
        ("POST", f"{path}/undo", {}),
        ("POST", f"{path}/redo", {}),
        ("PATCH", path, {"views": [{"name": "By month", "by": "month"}]}),
    ]
    for revision, (method, address, body) in enumerate(writes, start=1):
        forget()
        with CaptureQueriesContext(connection) as queries:
            written = api.send(method, address, body, revision=revision)
        assert written.status_code in (200, 201), written.content
        assert not [q["sql"] for q in queries if "observation" in q["sql"] or "block" in q["sql"]]
        assert written.content == made_anew(api, kpi).content


def refuse_difference(api: Api, kpi: str, act: Callable[[], Any], what: str) -> None:
    """Hold all answers after an act against those that are made anew."""
    before = [analysis(api, kpi, **look) for look in LOOKS]
    act()
    changed = 0
    for look, old in zip(LOOKS, before, strict=True):
        after, anew = analysis(api, kpi, **look), made_anew(api, kpi, **look)
        assert (after.content, after["ETag"]) == (anew.content, anew["ETag"]), what
        # One tag never stands for two answers; two tags may for one.
        assert old["ETag"] != after["ETag"] or old.content == after.content, what
        changed += old.content != after.content
    # A cause shows in the log, and on the chart where its sentence counts findings.
    assert changed or what == "a cause", what


def test_whatever_is_done_the_answer_is_as_made_anew(api: Api) -> None:
    kpi = api.add_kpi("Ramp cycle", VALUES)
    for what, act in acts(api, kpi).items():
        refuse_difference(api, kpi, act, what)


def test_what_is_done_to_a_source_is_seen_on_what_follows_it(api: Api) -> None:
    first, second = api.add_kpi("Late", VALUES), api.add_kpi("Crossings", VALUES)
    asked = {"made_by": "difference", "second": second, "name": "On time"}
    made = ok(api.send("POST", f"/kpis/{first}/derivation", asked))["slug"]

    def rename() -> None:
        ok(api.send("PATCH", f"/kpis/{first}", {"name": "Delayed"}, revision=1))

    def add_a_value() -> None:
        edit = {"period": "2026-04-20", "value": 21.0, "seen": None}
        ok(api.send("POST", f"/kpis/{first}/values", {"edits": [edit]}))

    refuse_difference(api, made, rename, "the name of a source")
    refuse_difference(api, made, add_a_value, "a value that its other source has not")


def test_a_period_that_ends_makes_another_answer(api: Api, monkeypatch: pytest.MonkeyPatch) -> None:
    kpi = api.add_kpi("Ramp cycle", [*VALUES[:12], 90.0])
    row = Kpi.objects.get(slug=kpi)
    last = datetime.fromisoformat(row.digest["latest_period"] + "T12:00+00:00")

    def at(moment: datetime) -> Any:
        monkeypatch.setattr(clock, "now", lambda: moment)
        return analysis(api, kpi)

    monkeypatch.setattr(clock, "now", lambda: last)
    ok(api.send("PATCH", f"/kpis/{kpi}", {"target": 25.0}, revision=1))
    under_way = at(last)
    assert under_way.json()["incomplete"] is not None
    assert at(last + timedelta(days=1))["ETag"] == under_way["ETag"]
    over = last + timedelta(days=8)
    # Before it is renewed, it is shown as it is by now, and kept for no longer than that.
    assert at(over).json()["incomplete"] is None
    assert renew_ended(over) == 1
    renewed = at(over)
    assert renewed["ETag"] != under_way["ETag"]
    assert renewed.content == made_anew(api, kpi).content
