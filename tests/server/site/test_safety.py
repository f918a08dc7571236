"""Nothing lost, no one let in: concurrency, faults half way, every address, any settings."""

import csv
import io
import json
import re
import threading
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest
from django.db import connection, connections
from django.db.models import Model
from django.test import Client
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from fluctus.core import Rule, Series, Settings, analyse
from fluctus.findings.models import Finding
from fluctus.http import clock
from fluctus.http.refusals import StaleError
from fluctus.intake.models import Import, Upload
from fluctus.kpis.actor import Actor
from fluctus.kpis.chart import keeping, services
from fluctus.kpis.models import (
    ChartChange,
    DataChange,
    Event,
    Kpi,
    Observation,
    PastValue,
    Segment,
)
from tests.conftest import Api, csv_of, golden, join

VALUES = golden("shift recalculated")["values"]


def everything() -> list[list[dict[str, Any]]]:
    """All rows, to compare before and after."""
    models: tuple[type[Model], ...] = (
        Kpi,
        Segment,
        Observation,
        ChartChange,
        DataChange,
        PastValue,
        Import,
        Event,
    )
    return [list(model._default_manager.order_by("pk").values()) for model in models]


@pytest.mark.django_db(transaction=True)
def test_of_two_at_once_one_wins_and_the_other_is_told() -> None:
    person = join("isla", "marrowick")
    api = Api(person, "marrowick")
    slug = api.add_kpi("Ramp cycle", VALUES)
    kpi = Kpi.objects.get(slug=slug)
    actor = Actor(person, clock.now())
    together = threading.Barrier(4)
    outcomes: list[str] = []

    def act(target: float) -> None:
        try:
            together.wait()
            services.change_chart(kpi, 1, {"target": target}, actor)
            outcomes.append("kept")
        except StaleError:
            outcomes.append("stale")
        finally:
            connections.close_all()

    people = [threading.Thread(target=act, args=(float(n),)) for n in range(4)]
    for one in people:
        one.start()
    for one in people:
        one.join()
    assert sorted(outcomes) == ["kept", "stale", "stale", "stale"]
    kpi.refresh_from_db()
    assert kpi.revision == 2
    assert ChartChange.objects.get().after["target"] == kpi.target


@pytest.mark.django_db(transaction=True)
def test_two_kpis_of_one_name_at_once_are_one_kpi() -> None:
    person = join("isla", "marrowick")
    together = threading.Barrier(3)
    statuses: list[int] = []

    def act() -> None:
        try:
            api = Api(person, "marrowick")
            together.wait()
            statuses.append(api.bring_in(csv_of(VALUES), {"name": "Ramp"}).status_code)
        finally:
            connections.close_all()

    people = [threading.Thread(target=act) for _ in range(3)]
    for one in people:
        one.start()
    for one in people:
        one.join()
    assert sorted(statuses) == [201, 422, 422]
    assert Observation.objects.count() == len(VALUES)


def test_a_fault_half_way_leaves_nothing(api: Api, monkeypatch: pytest.MonkeyPatch) -> None:
    def broken(*args: Any) -> None:
        raise RuntimeError("the disk is full")

    api.add_kpi("Ramp cycle", VALUES)
    before = everything()
    api.client.raise_request_exception = False
    monkeypatch.setattr(keeping, "digest_of", broken)
    # The digest comes last: by then the KPI, its segments and values have been written.
    failed = api.bring_in(csv_of(VALUES), {"name": "Another"})
    assert failed.status_code == 500
    assert failed["Content-Type"] == "application/problem+json"
    assert "nothing was saved" in failed.json()["title"]
    changed = api.send("PATCH", "/kpis/ramp-cycle", {"target": 3}, revision=1)
    assert changed.status_code == 500
    assert everything() == before


BODIES = {
    "remarks": '{"text": "Seen"}',
    "lane": '{"title": "Gale", "first": "2026-01-05"}',
    "read": '{"mapping": {}}',
    "import": '{"mapping": {}}',
    "aside": '{"period": "2026-01-05", "reason": "Gale"}',
    "order": '{"slug": "ramp-cycle", "next_to": "ramp-cycle"}',
    "places": '{"text": "name,latitude,longitude"}',
    "pages": '{"title": "Monday"}',
    "panels": '{"kind": "text", "text": "Monday"}',
    "values": '{"edits": [{"period": "2026-01-05", "value": 3}]}',
}
"""What an address takes, where that is more than nothing."""


QUERY = (
    "name=x&period=2026-01-05&first=2026-01-05&last=2026-02-02&version=1"
    "&spans=2026-01-05/2026-02-02&x=ramp-cycle&y=ramp-cycle&kpi=ramp-cycle"
)


def test_every_address_asks_who_is_there(api: Api) -> None:
    api.add_kpi("Ramp cycle", VALUES)
    upload = api.upload(csv_of(VALUES)).json()["id"]
    (number,) = Import.objects.values_list("pk", flat=True)
    before = everything()
    description = json.loads((Path("web") / "openapi.json").read_text())
    stranger = Api(join("mallory", "elsewhere"), "marrowick")
    nobody = Client()
    asked = 0
    for template, methods in description["paths"].items():
        if "{workspace}" not in template:
            continue
        path = template.replace("{workspace}", "marrowick").replace("{kpi}", "ramp-cycle")
        path = path.replace("{upload}", str(upload)).replace("{number}", str(number))
        path = path.replace("{page}", "1")
        multipart = path.endswith(("/uploads", "/events/read", "/events/imports", "/areas"))
        kind = "application/json" if not multipart else "multipart/form-data; boundary=x"
        body = (
            "{}"
            if not multipart
            else (
                '--x\r\nContent-Disposition: form-data; name="text"\r\n\r\n'
                "Week,x\n2026-01-05,1\r\n--x--\r\n"
            )
        )
        body = BODIES.get(path.rsplit("/", 1)[-1], body)
        for method in methods:
            if method == "parameters":
                continue
            headers = {"If-Match": '"1"'}
            asked += 1
            for client, status in ((nobody, 401), (stranger.client, 404)):
                answer = client.generic(
                    method.upper(), f"{path}?{QUERY}", body, kind, headers=headers
                )
                assert answer.status_code == status, (method, path, answer.content)
                assert answer["Content-Type"] == "application/problem+json"
                assert "Ramp cycle" not in answer.content.decode()
    assert asked >= 18
    assert Upload.objects.count() == 1
    assert everything() == before


SETTINGS = st.fixed_dictionaries(
    {},
    optional={
        "floor": st.one_of(st.none(), st.floats(allow_nan=False), st.integers()),
        "ceiling": st.one_of(st.none(), st.floats(-1e3, 1e3)),
        "target": st.one_of(st.none(), st.floats(-1e3, 1e3), st.text(max_size=3)),
        "decimals": st.integers(-1, 8),
        "direction": st.sampled_from(["higher", "lower", "neither", "sideways"]),
        "rules": st.lists(st.sampled_from([*map(str, Rule), "none"]), max_size=4),
        "run_length": st.integers(6, 10),
        "name": st.text(max_size=90),
        "segments": st.lists(
            st.fixed_dictionaries(
                {
                    "start": st.one_of(
                        st.none(), st.sampled_from(["2026-02-02", "2026-03-30", "2026-12-28", "x"])
                    )
                },
                optional={
                    "name": st.text(max_size=5),
                    "centre": st.sampled_from(["mean", "median", "mode"]),
                    "spread": st.sampled_from(["mean_range", "median_range"]),
                    "window": st.one_of(
                        st.none(),
                        st.lists(
                            st.sampled_from(["2026-01-05", "2026-02-16", "2026-04-06"]),
                            min_size=1,
                            max_size=3,
                        ),
                    ),
                },
            ),
            max_size=4,
        ),
    },
)


@given(changes=SETTINGS)
@settings(max_examples=150, suppress_health_check=[HealthCheck.function_scoped_fixture])
def test_any_settings_are_drawn_or_refused_and_preview_agrees_with_keeping(
    api: Api, changes: dict[str, Any]
) -> None:
    if not Kpi.objects.exists():
        api.add_kpi("Ramp cycle", VALUES)
    kpi = Kpi.objects.get()
    path = f"/kpis/{kpi.slug}"
    preview = api.send("POST", f"{path}/preview", changes)
    before = everything()
    kept = api.send("PATCH", path, changes, revision=kpi.revision)
    assert kept.status_code == preview.status_code
    assert kept.status_code in (200, 400, 422), kept.content
    if kept.status_code == 200:
        for part in ("points", "segments", "signals", "comparison"):
            assert kept.json()[part] == preview.json()[part]
        # What is proposed, and what is on record, belongs to what is kept alone.
        assert kept.json()["sentence"]["headline"] == preview.json()["sentence"]["headline"]
    else:
        assert kept.json()["issues"] == preview.json()["issues"]
        assert everything() == before


def test_the_export_is_the_analysis(api: Api) -> None:
    """Read back from the file, the numbers are the core's own to the last digit."""
    case = golden("drawn 11")
    values = [value for value in case["values"] if value is not None]
    slug = api.add_kpi("Exact", values, floor=0)
    chart = analyse(Series(values), Settings(floor=0))
    text = api.get(f"/kpis/{slug}/analysis.csv").content.decode("utf-8-sig")
    rows = list(csv.DictReader(io.StringIO(text)))
    assert [float(row["value"]) for row in rows] == values
    assert [float(row["moving_range"]) for row in rows[1:]] == chart.moving_ranges[1:].tolist()
    (segment,) = chart.segments
    for name in ("average", "lower_limit", "upper_limit", "range_limit"):
        own = {"lower_limit": "lower", "upper_limit": "upper"}.get(name, name)
        assert {float(row[name]) for row in rows} == {getattr(segment, own)}
    flagged = {
        rule: [n for n, row in enumerate(rows) if rule in row["signals"].split()]
        for rule in map(str, Rule)
    }
    assert flagged == {str(rule): chart.signals.flagged(rule).tolist() for rule in Rule}


@pytest.mark.parametrize("start", ["=1+1", "+1", "-1", "@x", "\t=1", "\r=1", "  =1"])
def test_no_text_of_an_export_begins_like_a_formula(api: Api, start: str) -> None:
    slug = api.add_kpi("Exact", VALUES)
    Observation.objects.filter(kpi__slug=slug).update(set_aside=True, reason=start)
    Segment.objects.filter(kpi__slug=slug).update(name=start)
    text = api.get(f"/kpis/{slug}/analysis.csv").content.decode("utf-8-sig")
    for row in csv.DictReader(io.StringIO(text, newline="")):
        for name in ("segment", "reason"):
            assert re.match(r"'\s*[=+\-@]|'\s", row[name]), row[name]


def test_points_are_kept_in_one_copy_and_the_schema_holds_the_rules(api: Api) -> None:
    api.add_kpi("Ramp cycle", VALUES)
    with connection.cursor() as cursor:
        cursor.execute("SELECT conname FROM pg_constraint WHERE contype IN ('u', 'f')")
        names = {row[0] for row in cursor.fetchall()}
    assert {"one_value_per_period", "one_shift_per_period", "kpi_slug_once"} <= names


@pytest.mark.django_db(transaction=True)
def test_people_at_work_on_what_they_share_never_stand_in_each_others_way() -> None:
    """Charts, their findings, and an event told with both: each act is kept or told it is stale."""
    person = join("isla", "marrowick")
    api = Api(person, "marrowick")
    api.client.raise_request_exception = False
    values = [*VALUES, 99.0]
    ramp, fuel = (f"/kpis/{api.add_kpi(name, values)}" for name in ("Ramp", "Fuel"))
    event = {"title": "Gale", "first": "2026-02-10", "kpis": ["ramp", "fuel"]}
    number = api.send("POST", "/events", event).json()["id"]
    finding = api.get("/findings", rule="outside_limits").json()["findings"][0]["id"]
    together = threading.Barrier(5, timeout=30)
    seen: list[tuple[str, int]] = []

    def event_as(who: str, n: int) -> dict[str, Any]:
        """Told with one of them and then with both: links come and go."""
        return {"title": f"{who} {n}", "kpis": ["ramp", "fuel"] if n % 2 else ["fuel"]}

    def version() -> int:
        return Event.objects.values_list("version", flat=True).get(pk=number)

    def revision(path: str) -> int:
        return Kpi.objects.values_list("revision", flat=True).get(slug=path.rsplit("/", 1)[-1])

    def lane(path: str, n: int) -> Any:
        address = f"{path}/lane/{number}?version={version()}"
        return api.send("PATCH", address, event_as(path, n), revision(path))

    acts: dict[str, Callable[[int], Any]] = {
        "on one chart": lambda n: lane(ramp, n),
        "on the other": lambda n: lane(fuel, n + 1),
        "in the list": lambda n: api.send(
            "PATCH", f"/events/{number}?version={version()}", event_as("list", n)
        ),
        "settings": lambda n: api.send("PATCH", ramp, {"target": n}, revision(ramp)),
        "a finding": lambda n: api.send(
            "PATCH",
            f"/findings/{finding}",
            {"cause": f"Gale {n}"},
            Finding.objects.values_list("version", flat=True).get(pk=finding),
        ),
    }

    def work(name: str) -> None:
        try:
            for n in range(8):
                together.wait()
                seen.append((name, acts[name](n).status_code))
        finally:
            connections.close_all()

    people = [threading.Thread(target=work, args=(name,)) for name in acts]
    for one in people:
        one.start()
    for one in people:
        one.join()
    assert {status for _, status in seen} <= {200, 412}, seen
    assert len(seen) == 8 * len(acts)
    assert [status for name, status in seen if name == "a finding"] == [200] * 8
    kept = sum(status == 200 for name, status in seen if name in list(acts)[:3])
    assert Event.objects.get(pk=number).version == 1 + kept
