"""Data packages: what comes in elsewhere is what went out, whatever it was; and broken ones."""

import io
import json
from datetime import datetime, timedelta
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any
from zipfile import ZIP_DEFLATED, ZipFile
from zoneinfo import ZoneInfo

import numpy as np
import pytest
from django.contrib.auth.models import User
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import transaction
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from fluctus.accounts.models import Workspace
from fluctus.core import Rule
from fluctus.http import clock
from fluctus.jobs.life import Progress
from fluctus.kpis.actor import Actor
from fluctus.kpis.calendar import Grain, to_text
from fluctus.kpis.chart.queries import chart_of, state_of_kpi
from fluctus.kpis.chart.services import create_kpi
from fluctus.kpis.lines import LineState
from fluctus.kpis.models import Event, Kpi
from fluctus.kpis.observations.frame import frame_of
from fluctus.kpis.observations.reading import read_frame
from fluctus.kpis.state import ChartState, SegmentState
from fluctus.reports.package.reading import read_package
from fluctus.reports.package.services import bring_package
from fluctus.reports.package.writing import as_package
from fluctus.tables.package_file import MOST_BYTES
from tests.conftest import Api, join, ok, revision
from tests.jobs import work

ZONES = ["UTC", "Europe/London", "America/St_Johns", "Pacific/Apia"]
TEXTS = st.sampled_from(["", "=1+1", "@SUM(A1)", "'=quoted", "a;=b", "ends, “so”\nwith more", "—"])


@pytest.fixture
def api(working_api: Api) -> Api:
    return working_api


def packed(*slugs: str) -> bytes:
    now = clock.now()
    kpis = [Kpi.objects.get(workspace__slug="marrowick", slug=slug) for slug in slugs]
    charts = [(kpi, chart_of(kpi, now)) for kpi in kpis]
    place = Workspace.objects.get(slug="marrowick")
    return as_package(place, charts, "A package", now, Progress(), names=True)


@st.composite
def kpis(draw: st.DrawFn) -> tuple[ChartState, Grain, Any]:
    """A KPI as people can make it: a zone, shifts, texts, values set aside, breakdowns."""
    zone_name, grain = draw(st.sampled_from(ZONES)), draw(st.sampled_from([Grain.DAY, Grain.WEEK]))
    zone = ZoneInfo(zone_name)
    first = datetime(2025, 3, 3, tzinfo=zone)
    length = timedelta(days=7 if grain is Grain.WEEK else 1)
    count = draw(st.integers(6, 24))
    values = draw(
        st.lists(
            st.floats(-1e9, 1e9, allow_nan=False, allow_subnormal=False),
            min_size=count,
            max_size=count,
        )
    )
    parts = draw(st.sampled_from([[""], ["=North", "South"]]))
    rows = []
    for n, value in enumerate(values):
        local = (first.replace(tzinfo=None) + n * length).replace(tzinfo=zone)
        for part in parts:
            aside = draw(st.booleans()) and n % 5 == 4
            rows.append(
                {
                    "period": local.timestamp(),
                    "breakdown": part,
                    "value": value,
                    "note": draw(TEXTS),
                    "set_aside": aside,
                    "reason": draw(TEXTS) or "so" if aside else "",
                    "target": draw(st.none() | st.just(3.5)),
                }
            )
    second = (first.replace(tzinfo=None) + (count // 2) * length).replace(tzinfo=zone)
    state = ChartState(
        name=draw(st.sampled_from(["Ramp", "=cmd()", "Überfahrten / Tag"])),
        unit="min",
        time_zone=zone_name,
        decimals=draw(st.integers(0, 4)),
        rules=tuple(rule.value for rule in Rule),
        segments=(
            SegmentState(name=draw(TEXTS)[:80]),
            SegmentState(start=to_text(second, grain, zone), what_changed=draw(TEXTS)),
        ),
        lines=(LineState(key="a", made="mean", name="=x"),),
    )
    return state, grain, frame_of(rows)


@settings(
    max_examples=25, suppress_health_check=[HealthCheck.function_scoped_fixture], deadline=None
)
@given(kpi=kpis())
def test_what_comes_in_is_what_went_out(db: None, kpi: tuple[ChartState, Grain, Any]) -> None:
    state, grain, frame = kpi
    with transaction.atomic():
        person, _ = User.objects.get_or_create(username="isla")
        here, _ = Workspace.objects.get_or_create(slug="marrowick")
        there, _ = Workspace.objects.get_or_create(slug="ainsey")
        actor = Actor(person, clock.now())
        made, _ = create_kpi(here, state, grain, frame, actor)
        with TemporaryDirectory() as folder:
            raw = Path(folder) / "raw"
            raw.write_bytes(packed(made.slug))
            package = read_package(raw, Path(folder))
            ((again, _),) = bring_package(there, package, actor, "a.zip", Progress()).kpis
        assert state_of_kpi(again) == state_of_kpi(made)
        assert (
            read_frame(again)
            .drop("written_by")
            .equals(read_frame(made).drop("written_by"), null_equal=True)
        )
        one, two = (chart_of(row, clock.now()) for row in (made, again))
        np.testing.assert_array_equal(one.analysis.moving_ranges, two.analysis.moving_ranges)
        assert one.analysis.segments == two.analysis.segments
        for rule in Rule:
            assert (
                one.analysis.signals.flagged(rule).tolist()
                == two.analysis.signals.flagged(rule).tolist()
            )
        transaction.set_rollback(True)


def test_events_causes_and_names_come_along(api: Api) -> None:
    values = [20, 22, 21, 23, 20, 22, 21, 45, 22, 21, 20, 22]
    slug = api.add_kpi("Ramp cycle", values)
    path = f"/kpis/{slug}"
    event = {"title": "=Seal", "kind": "incident", "first": "2026-02-20", "last": "2026-02-22"}
    ok(api.send("POST", f"{path}/lane", event, revision(api, path)))
    finding = ok(api.get(f"{path}/findings"))[0]
    cause = {"state": "explained", "cause": "@a seal"}
    answer = api.client.patch(
        f"{api.base}/findings/{finding['id']}",
        json.dumps(cause),
        "application/json",
        headers={"If-Match": f'"{finding["version"]}"'},
    )
    assert answer.status_code == 200
    content = packed(slug)
    for name in ZipFile(io.BytesIO(content)).namelist():
        text = ZipFile(io.BytesIO(content)).read(name).decode()
        if name.endswith(".csv"):
            assert not any(line.startswith(("=", "@")) for line in text.splitlines())
            assert ",=" not in text
            assert ",@" not in text
    other = Api(join("una", "holmsand"), "holmsand")
    for expected in ("Ramp cycle", "Ramp cycle (2)"):
        brought = bring(other, content)
        (made,) = brought["parts"]
        assert made["name"] == expected
        (there,) = ok(other.get(f"/kpis/{made['slug']}/findings"))
        assert (there["state"], there["cause"]) == ("explained", "@a seal")
    (lane,) = Event.objects.filter(workspace__slug="holmsand")
    assert (lane.title, lane.kpis.count()) == ("=Seal", 2)


def test_what_is_made_from_others_follows_these_in_its_new_place(api: Api) -> None:
    first = api.add_kpi("On time", [40.0, 38, 41], aggregation="sum")
    second = api.add_kpi("Departures", [42.0, 42, 42], aggregation="sum")
    asked = {"made_by": "ratio", "second": second, "name": "Share on time"}
    slug = ok(api.send("POST", f"/kpis/{first}/derivation", asked))["slug"]
    other = Api(join("una", "holmsand"), "holmsand")
    bring(other, packed(slug, first, second))
    made = ok(other.get(f"/kpis/{slug}/analysis"))
    assert [source["slug"] for source in made["kpi"]["derivation"]["sources"]] == [first, second]
    assert made["points"]["numerator"] == [40, 38, 41]
    row = ok(other.get(f"/kpis/{first}/values"))["values"][0]
    edit = {"period": row["period"], "value": 21.0, "seen": row["version"]}
    ok(other.send("POST", f"/kpis/{first}/values", {"edits": [edit]}))
    assert ok(other.get(f"/kpis/{slug}/analysis"))["points"]["value"][0] == 50
    # Without one of its sources it is a KPI of its own, with both of its numbers.
    third = Api(join("ivo", "ainsey"), "ainsey")
    bring(third, packed(slug, first))
    alone = ok(third.get(f"/kpis/{slug}/analysis"))
    assert alone["kpi"]["derivation"] is None
    assert alone["points"]["numerator"] == [40, 38, 41]


def test_improvements_come_along_and_are_computed_anew(api: Api) -> None:
    slug = api.add_kpi(
        "Gate wait", [20 + n % 3 for n in range(20)] + [15 + n % 3 for n in range(12)]
    )
    aim = {"kpi": slug, "wanted": "lower", "amount": 2.5, "worth": 4, "worth_unit": "€"}
    form = {"name": "=Lanes", "text": "Two of them.", "began": "2026-05-25", "aims": [aim]}
    made = ok(api.send("POST", "/improvements", form))
    other = Api(join("una", "holmsand"), "holmsand")
    content = packed(slug)
    bring(other, content)
    (there,) = ok(other.get("/improvements"))["improvements"]
    for name in ("name", "text", "began"):
        assert there[name] == made[name]
    here, come = made["aims"][0], there["aims"][0]
    assert come["state"] == "held"
    assert (come["amount"], come["brought"]) == (here["amount"], here["brought"])
    wrong = repacked(content, improvements=lambda text: text.replace("lower", "sideways"))
    failed = bring(Api(join("ivo", "ainsey"), "ainsey"), wrong)
    assert failed["status"] == "failed"
    (issue,) = failed["problem"]["issues"]
    assert (issue["row"], issue["column"]) == (2, "improvements.csv")


def bring(api: Api, content: bytes) -> dict[str, Any]:
    """Bring a package in, as a worker does; returns the import."""
    file = SimpleUploadedFile("package.zip", content)
    sent = api.client.post(f"{api.base}/packages", {"file": file})
    assert sent.status_code == 202, sent.content
    work()
    return dict(ok(api.get(f"/imports/{sent.json()['id']}")))


def repacked(content: bytes, **changes: Any) -> bytes:
    """Pack again with some files changed; None leaves one out."""
    made = io.BytesIO()
    with ZipFile(io.BytesIO(content)) as old, ZipFile(made, "w", ZIP_DEFLATED) as new:
        for name in old.namelist():
            text = changes.get(name.rpartition("/")[2].partition(".")[0], old.read(name))
            if callable(text):
                text = text(old.read(name).decode())
            if text is not None:
                new.writestr(name, text)
    return made.getvalue()


def descriptor(change: Any) -> Any:
    def changed(text: str) -> str:
        read = json.loads(text)
        change(read)
        return json.dumps(read)

    return changed


BROKEN: list[tuple[str, dict[str, Any], str]] = [
    ("a value is text", {"values": lambda t: t.replace(",20.0,", ",twenty,", 1)}, "twenty"),
    ("a value is missing", {"values": lambda t: t.replace(",20.0,", ",,", 1)}, "missing"),
    ("a period twice", {"values": lambda t: t + t.splitlines()[1] + "\n"}, "come twice"),
    ("no period", {"values": lambda t: t.replace("2026-01-05T", "2026-01-06T", 1)}, "start of a"),
    ("no values", {"values": None}, "not in the package"),
    ("no descriptor", {"datapackage": None}, "not in the package"),
    ("no json", {"datapackage": "]"}, "cannot be read"),
    (
        "a later format",
        {"datapackage": descriptor(lambda d: d["fluctus"].update(format=99))},
        "not made by this version",
    ),
    ("no KPI", {"datapackage": descriptor(lambda d: d.update(resources=[1, {}]))}, "no KPI"),
    (
        "a grain that is none",
        {
            "datapackage": descriptor(
                lambda d: d["resources"][0]["fluctus"].update(grain="fortnight")
            )
        },
        "settings",
    ),
    (
        "a rule that is none",
        {
            "datapackage": descriptor(
                lambda d: d["resources"][0]["fluctus"]["settings"].update(rules=["x"])
            )
        },
        "rules",
    ),
    (
        "a dot that is neither",
        {
            "datapackage": descriptor(
                lambda d: d["resources"][0]["fluctus"]["settings"].update(dots="x")
            )
        },
        "take it anew",
    ),
    (
        "a sign that no text has",
        {"values": lambda t: t.replace(',"",', ",\0,", 1)},
        "cannot be kept",
    ),
    ("a sign that no number has", {"values": lambda t: t.replace(",,", ",\0,", 1)}, "anew"),
    ("an event without a day", {"events": lambda t: t.replace("2026-02-20", "soon")}, "Date"),
]


@pytest.mark.parametrize(("what", "changes", "said"), BROKEN, ids=[row[0] for row in BROKEN])
def test_a_broken_package_is_refused_and_leaves_nothing(
    api: Api, what: str, changes: dict[str, Any], said: str
) -> None:
    slug = api.add_kpi("Ramp cycle", [20, 22, 21, 23, 20, 22])
    path = f"/kpis/{slug}"
    event = {"title": "Seal", "first": "2026-02-20", "last": "2026-02-20"}
    ok(api.send("POST", f"{path}/lane", event, revision(api, path)))
    Event.objects.update(first="2026-01-20", last="2026-01-20", everywhere=True)
    content = repacked(packed(slug), **changes)
    if what == "an event without a day":
        content = repacked(packed(slug), events=lambda t: t.replace("2026-01-20", "soon"))
    other = Api(join("una", "holmsand"), "holmsand")
    refused = bring(other, content)
    assert refused["status"] == "failed"
    assert said.lower() in json.dumps(refused["problem"], ensure_ascii=False).lower()
    assert not Kpi.objects.filter(workspace__slug="holmsand").exists()


def test_what_is_no_package_or_too_large_is_refused(api: Api) -> None:
    def said(content: bytes) -> str:
        return str(bring(api, content)["problem"]["issues"][0]["detail"])

    assert "no data package" in said(b"Week,Value\n")
    slug = api.add_kpi("Ramp cycle", [20, 22, 21, 23, 20, 22])
    content = packed(slug)
    line_ends = repacked(content, values="period\n" + "\n" * (MOST_BYTES + 1))
    assert len(line_ends) < 1_000_000
    assert "more than can be read" in said(line_ends)
    deep = "[" * 900 + "]" * 900
    nested = descriptor(lambda read: read["resources"][0].update(more=json.loads(deep)))
    assert "cannot be read" in said(repacked(content, datapackage=nested))
    wide = repacked(content, events=lambda text: text + "x" * 140_000 + ",1" * 7 + "\n")
    assert "events.csv" in json.dumps(bring(api, wide)["problem"])
    far = repacked(content, values=lambda text: text.replace("2026-01-05", "9999-01-05", 1))
    assert "1800 to 2200" in said(far)
    damaged = bytearray(content)
    damaged[60:70] = b"\0" * 10
    assert bring(api, bytes(damaged))["status"] == "failed"
    assert api.client.post(f"{api.base}/packages", {}).status_code == 400
