"""A writer and whoever meets it, stopped at each step that the other's work passes through."""

import itertools
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from functools import partial
from pathlib import Path
from typing import Any

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from procrastinate.contrib.django.models import ProcrastinateJob

from fluctus.findings.models import Finding
from fluctus.http import clock
from fluctus.http.snapshots import one_snapshot
from fluctus.intake import jobs as import_jobs
from fluctus.intake.models import Import, Upload
from fluctus.intake.uploads import opened, raw_of
from fluctus.jobs.models import JobStatus
from fluctus.kpis.chart import queries
from fluctus.kpis.chart.queries import chart_of, forget
from fluctus.kpis.models import ChartChange, DataChange, Kpi
from tests.conftest import Api, join, ok, revision
from tests.interleaving import Meanwhile, alone
from tests.jobs import no_jobs

pytestmark = pytest.mark.django_db(transaction=True)
VALUES = [20.0, 22, 21, 23, 20, 22, 21, 45, 22, 21, 20, 22]
READS = [
    "fluctus.kpis.chart.queries.state_of",
    "fluctus.kpis.chart.queries.read_stored",
    "fluctus.kpis.observations.reading.read_columns",
    "fluctus.kpis.observations.reading.told_by_period",
    "fluctus.kpis.chart.queries.observations_in",
    "fluctus.kpis.chart.queries.make_chart",
]
"""What a read of a chart passes through, in order."""


@pytest.fixture
def api(transactional_db: None) -> Any:
    forget()
    yield Api(join("isla", "marrowick"), "marrowick")
    no_jobs()


def add_value(api: Api, slug: str) -> None:
    edit = {"period": "2026-03-30", "value": 24.0, "set_aside": True, "reason": "so"}
    ok(api.send("POST", f"/kpis/{slug}/values", {"edits": [edit]}))


def put_shift(api: Api, slug: str) -> None:
    shift = {"segments": [{"start": None}, {"start": "2026-02-16", "what_changed": "a drill"}]}
    ok(api.send("PATCH", f"/kpis/{slug}", shift, revision(api, f"/kpis/{slug}")))


@pytest.mark.parametrize("write", [add_value, put_shift])
@pytest.mark.parametrize("at", READS)
def test_what_is_remembered_of_a_revision_is_of_that_revision(
    api: Api, monkeypatch: pytest.MonkeyPatch, write: Callable[[Api, str], None], at: str
) -> None:
    slug = api.add_kpi("Ramp cycle", VALUES)
    forget()
    kpi = Kpi.objects.get(slug=slug)
    meanwhile = Meanwhile(monkeypatch, at, lambda: write(Api(person, "marrowick"), slug))
    person = kpi.workspace.members.get()
    # Read as nobody should: without one snapshot, which is told rather than remembered.
    try:
        torn = chart_of(kpi, clock.now())
    except queries.MovedOnError:
        torn = None
    assert meanwhile.happened
    if torn is not None:
        assert (len(torn.observations), len(torn.state.segments)) == (12, 1)
    monkeypatch.undo()
    assert kpi.revision == 1
    assert (2, *SHAPES[write]) == seen(Kpi.objects.get(slug=slug))
    # What this process remembers of the first revision, if anything, is of the first revision.
    try:
        again = chart_of(kpi, clock.now())
    except queries.MovedOnError:
        return
    assert (len(again.observations), len(again.state.segments)) == (12, 1)


SHAPES: dict[Callable[[Api, str], None], tuple[int, int]] = {add_value: (13, 1), put_shift: (12, 2)}


def seen(kpi: Kpi) -> tuple[int, int, int]:
    chart = chart_of(kpi, clock.now())
    return kpi.revision, len(chart.observations), len(chart.state.segments)


@pytest.mark.parametrize(("write", "at"), list(itertools.product([add_value, put_shift], READS)))
def test_a_read_in_one_snapshot_sees_a_write_whole_or_not_at_all(
    api: Api, monkeypatch: pytest.MonkeyPatch, write: Callable[[Api, str], None], at: str
) -> None:
    slug = api.add_kpi("Ramp cycle", VALUES)
    forget()
    person = Kpi.objects.get(slug=slug).workspace.members.get()
    meanwhile = Meanwhile(monkeypatch, at, lambda: write(Api(person, "marrowick"), slug))
    answer = ok(api.get(f"/kpis/{slug}/analysis"))
    assert meanwhile.happened
    shape = (answer["kpi"]["revision"], answer["count"], len(answer["segments"]))
    assert shape == (1, 12, 1)
    after = ok(api.get(f"/kpis/{slug}/analysis"))
    assert (after["kpi"]["revision"], after["count"], len(after["segments"])) == (
        2,
        *SHAPES[write],
    )


def test_within_one_snapshot_two_kpis_are_of_one_moment(api: Api) -> None:
    one, two = (api.add_kpi(name, VALUES) for name in ("One", "Two"))
    with one_snapshot():
        first = Kpi.objects.get(slug=one).revision
        for slug in (one, two):
            alone(partial(add_value, api, slug))
        assert (first, Kpi.objects.get(slug=two).revision) == (1, 1)
    assert Kpi.objects.get(slug=two).revision == 2


def test_a_sweep_ends_nothing_that_begins_while_it_looks(
    api: Api, monkeypatch: pytest.MonkeyPatch, settings: Any
) -> None:
    settings.LONG_IMPORT_BYTES = 10
    table = "Week,Ramp (s)\n2026-01-05,20\n2026-01-12,21\n2026-01-19,22"
    real, begun = ProcrastinateJob.objects.filter, list[int]()

    def stopped(*args: Any, **kwargs: Any) -> Any:
        # The rows have been read by now, and the queue has not.
        if not begun:
            begun.append(alone(lambda: api.bring_in(table, {"name": "Ramp"}).status_code))
        return real(*args, **kwargs)

    monkeypatch.setattr(ProcrastinateJob.objects, "filter", stopped)
    assert import_jobs.sweep() == 0
    assert begun == [202]
    assert Import.objects.get().status == JobStatus.WAITING
    # Nor one that ends meanwhile: its job has gone from the queue when that is looked at.
    ended = Import.objects.get()

    def ends(*args: Any, **kwargs: Any) -> Any:
        Import.objects.filter(pk=ended.pk).update(status=JobStatus.DONE)
        no_jobs()
        return real(*args, **kwargs)

    monkeypatch.setattr(ProcrastinateJob.objects, "filter", ends)
    import_jobs.sweep()
    ended.refresh_from_db()
    assert ended.status == JobStatus.DONE
    # One whose job is gone for good is told.
    monkeypatch.undo()
    Import.objects.update(status=JobStatus.RUNNING)
    assert import_jobs.sweep() == 1


def test_what_the_data_make_of_a_finding_is_not_saved_over(api: Api) -> None:
    slug = api.add_kpi("Ramp cycle", VALUES)
    (finding,) = Finding.objects.all()
    path = f"/kpis/{slug}"
    point = {"period": "2026-02-23", "reason": "a strike"}
    ok(api.send("POST", f"{path}/aside", point, revision(api, path)))
    # Somebody has had it open since before.
    late = api.send(
        "PATCH",
        f"/findings/{finding.pk}",
        {"state": "explained", "cause": "a seal"},
        finding.version,
    )
    assert late.status_code == 412
    finding.refresh_from_db()
    assert (finding.state, finding.cause) == ("aside", "")


def test_two_readers_of_one_upload_read_the_same(api: Api, monkeypatch: pytest.MonkeyPatch) -> None:
    book = Path(__file__).parents[1] / "tables/books/left-behind.xlsx"
    file = SimpleUploadedFile("book.xlsx", book.read_bytes())
    number = api.client.post(f"{api.base}/uploads", {"file": file}).json()["id"]
    upload = Upload.objects.get(pk=number)
    for kept in raw_of(upload).parent.glob("*.*"):
        kept.unlink()
    meanwhile = Meanwhile(
        monkeypatch, "fluctus.intake.uploads._keep_cells", lambda: opened(upload, None)
    )
    first = opened(upload, None)
    assert meanwhile.happened
    assert first.grid.cells.equals(meanwhile.came_of_it.grid.cells)
    assert opened(upload, first.sheet).grid.cells.equals(first.grid.cells)


def test_what_cannot_be_shown_is_refused_before_it_is_written(api: Api) -> None:
    slug = api.add_kpi("Ramp cycle", VALUES)
    path = f"/kpis/{slug}"
    for query in ("by=hour", "breakdown=Nowhere", "first=soon", "last=9999-01-01"):
        answer = api.send("PATCH", f"{path}?{query}", {"target": 19.0}, 1)
        assert answer.status_code == 422, query
        assert revision(api, path) == 1


def test_undo_and_restore_go_by_order_and_not_by_the_clock(api: Api) -> None:
    slug = api.add_kpi("Ramp cycle", VALUES)
    path = f"/kpis/{slug}"
    ok(api.send("PATCH", path, {"target": 19.0}, 1))
    before = ok(api.get(f"{path}/history"))["acts"][0]["id"]
    point = {"period": "2026-02-23", "reason": "a strike"}
    ok(api.send("POST", f"{path}/aside", point, 2))
    # The clock of the machine has gone back meanwhile, or another machine's is behind.
    DataChange.objects.update(at="2020-01-01T00:00Z")
    ChartChange.objects.update(at="2020-01-01T00:00Z")
    answer = ok(api.send("POST", f"{path}/history", {"act": before}, 3))
    assert answer["set_aside"] == []
    assert answer["kpi"]["target"] == 19.0


def test_what_is_made_from_two_follows_both_whoever_writes_at_once(api: Api) -> None:
    """Each waits for the other at what is made of both, and reads what that one has written."""
    first = api.add_kpi("On time", [40.0] * 8, aggregation="sum")
    second = api.add_kpi("Sailings", [50.0] * 8, aggregation="sum")
    asked = {"made_by": "ratio", "second": second, "times": 1}
    ratio = ok(api.send("POST", f"/kpis/{first}/derivation", asked))["slug"]
    double = ok(api.send("POST", f"/kpis/{ratio}/derivation", {"made_by": "multiple", "times": 2}))[
        "slug"
    ]
    person = Kpi.objects.get(slug=first).workspace.members.get()

    def write(slug: str, base: float) -> None:
        one = Api(person, "marrowick")
        for n, row in enumerate(ok(one.get(f"/kpis/{slug}/values"))["values"]):
            edit = {"period": row["period"], "value": base + n, "seen": row["version"]}
            ok(one.send("POST", f"/kpis/{slug}/values", {"edits": [edit]}))

    with ThreadPoolExecutor(2) as both:
        begun = [
            both.submit(alone, partial(write, *each)) for each in ((first, 30.0), (second, 60.0))
        ]
        for one in begun:
            one.result()
    expected = [(30.0 + n) / (60.0 + n) for n in range(8)]
    for slug, times in ((ratio, 1), (double, 2)):
        points = ok(api.get(f"/kpis/{slug}/analysis"))["points"]["value"]
        assert points == pytest.approx([times * value for value in expected])


def test_who_makes_a_kpi_waits_for_nobody_who_makes_another(
    api: Api, monkeypatch: pytest.MonkeyPatch
) -> None:
    meanwhile = Meanwhile(
        monkeypatch, "fluctus.kpis.chart.services.add_values", lambda: api.add_kpi("Fuel", VALUES)
    )
    assert (api.add_kpi("Ramp cycle", VALUES), meanwhile.came_of_it) == ("ramp-cycle", "fuel")
    # One of the same slug has another one, one of the same name is refused.
    assert api.add_kpi("Ramp, cycle!", VALUES) == "ramp-cycle-2"
    refused = api.bring_in("Week,Min\n2026-01-05,3\n", {"name": "ramp CYCLE"})
    assert refused.status_code == 422
    assert "named ramp CYCLE already" in refused.json()["issues"][0]["detail"]
    assert Kpi.objects.count() == 3
