"""Findings: what the data makes of them, what people do, and the log across KPIs."""

import csv
import io
from datetime import timedelta
from typing import Any

import pytest
from django.core.management import call_command
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from fluctus.findings.models import Entry, Finding
from fluctus.http import clock
from fluctus.kpis.chart.renewal import catch_up
from fluctus.kpis.models import Event, Kpi
from tests.conftest import Api, csv_of, join

STEADY = [20.0, 21.0, 19.0, 20.0, 21.0, 20.0, 19.0, 20.0, 21.0, 19.0, 20.0, 21.0, 20.0, 19.0]
LOW = [15.0, 16.0, 14.0, 15.0, 16.0, 14.0, 15.0, 16.0, 15.0]


@pytest.fixture
def ramp(api: Api) -> str:
    return api.add_kpi("Ramp cycle", [*STEADY[:7], 35.0, *STEADY[7:]], direction="lower")


def log(api: Api, **query: Any) -> dict[str, Any]:
    answer = api.get("/findings", **query)
    assert answer.status_code == 200, answer.content
    return dict(answer.json())


def one(api: Api, rule: str = "outside_limits") -> dict[str, Any]:
    """The one finding of a rule; of two runs, the one below."""
    found = log(api, rule=rule, gone="true")["findings"]
    (wanted,) = (one for one in found if rule != "run" or one["side"] == -1)
    return dict(wanted)


def detail(api: Api, finding: dict[str, Any], within: int = 3) -> dict[str, Any]:
    return dict(api.get(f"/findings/{finding['id']}", within=within).json())


def change(api: Api, finding: dict[str, Any], **changes: Any) -> Any:
    return api.send("PATCH", f"/findings/{finding['id']}", changes, finding["version"])


def said(finding: dict[str, Any], api: Api) -> list[str]:
    return [entry["text"] for entry in detail(api, finding)["entries"]]


def test_signals_that_say_the_same_are_a_finding_without_a_cause(api: Api, ramp: str) -> None:
    chart = api.get(f"/kpis/{ramp}/analysis").json()
    found = log(api)
    # A spike with its two ranges is one of them.
    assert [(f["title"], [e["title"] for e in f["evidence"]]) for f in found["findings"]] == [
        ("Above the upper limit", ["2 ranges above limit"])
    ]
    assert [(h["title"], h["evidence"]) for h in chart["happenings"]] == [
        ("Above the upper limit", ["2 ranges above limit"])
    ]
    assert found["counts"]["open"] == found["count"] == chart["finding_count"] == 1
    flagged = one(api)
    assert (flagged["first"], flagged["kpi"], flagged["favorable"]) == (
        "2026-02-23",
        "ramp-cycle",
        False,
    )
    assert "One finding without a cause" in chart["sentence"]["detail"]
    assert api.get("/kpis").json()[0]["unexplained"] == found["count"]


def test_a_person_gives_it_a_cause_and_the_sentence_knows(api: Api, ramp: str) -> None:
    for finding in log(api)["findings"]:
        answer = change(api, finding, state="explained", cause="Gale, ramp closed")
        assert answer.status_code == 200, answer.content
    detail_text = api.get(f"/kpis/{ramp}/analysis").json()["sentence"]["detail"]
    assert "One finding, its cause on record" in detail_text
    assert log(api)["counts"]["open"] == 0
    assert log(api, state="explained")["count"] == log(api)["count"]
    assert log(api, state="open")["findings"] == []


def test_a_run_that_is_split_goes_on_as_the_part_that_shares_most_points(api: Api) -> None:
    low = [12.0, 13.0, 12.0, 13.0, 12.0, 13.0, 12.0, 13.0, 12.0, 13.0]
    slug = api.add_kpi("Berthing", [*STEADY, *low, *low, *STEADY], run_length=8)
    assert api.send("PATCH", f"/kpis/{slug}", {"rules": ["run"]}, 1).status_code == 200
    (before,) = (f for f in log(api, rule="run")["findings"] if f["side"] == -1)
    assert before["points"] == 20
    api.send("POST", f"/findings/{before['id']}/remarks", {"text": "Asked the crew"})
    # One value above, after the eighth: a run of 8 and one of 11 are left.
    value = api.get(f"/kpis/{slug}/values").json()["values"][len(STEADY) + 8]
    edit = {"period": value["period"], "value": 30.0, "seen": value["version"]}
    assert api.send("POST", f"/kpis/{slug}/values", {"edits": [edit]}).status_code == 200
    after = {f["id"]: f["points"] for f in log(api, rule="run")["findings"] if f["side"] == -1}
    assert after.pop(before["id"]) == 11
    assert list(after.values()) == [8]


def test_what_people_make_of_it_is_checked_and_its_history_is_kept(api: Api, ramp: str) -> None:
    join("iris", "marrowick")
    join("mallory", "elsewhere")
    finding = one(api)
    unsaid = change(api, finding, state="explained")
    assert (unsaid.status_code, unsaid.json()["issues"][0]["field"]) == (422, "cause")
    assert change(api, finding, state="shift").status_code == 422
    assert change(api, finding, person="mallory").json()["issues"][0]["field"] == "person"
    assert said(finding, api) == []
    given = change(api, finding, state="looking", person="iris", due="2026-12-01")
    assert given.status_code == 200
    now = one(api)
    assert (now["state"], now["person"], now["due"], now["version"]) == (
        "looking",
        "iris",
        "2026-12-01",
        2,
    )
    stale = change(api, finding, state="explained", cause="A guess")
    assert stale.status_code == 412
    assert "isla: Now being looked into; Given to iris" in stale.json()["issues"][0]["detail"]
    assert one(api)["cause"] == ""
    remark = api.send("POST", f"/findings/{now['id']}/remarks", {"text": "Asked the crew"})
    assert remark.status_code == 201
    entries = detail(api, now)["entries"]
    assert [(entry["remark"], entry["author"]) for entry in entries] == [
        (False, "isla"),
        (True, "isla"),
    ]
    # Nothing changed is nothing said.
    assert change(api, now, state="looking").status_code == 200
    assert len(detail(api, now)["entries"]) == 2


def test_setting_its_point_aside_sets_it_aside_and_undo_brings_its_state_back(
    api: Api, ramp: str
) -> None:
    change(api, one(api), state="looking", cause="Gale")
    aside = {"period": "2026-02-23", "reason": "Gale, ramp closed"}
    assert api.send("POST", f"/kpis/{ramp}/aside", aside, 1).status_code == 200
    gone = one(api)
    assert (gone["state"], gone["presence"], gone["cause"]) == ("aside", "gone", "Gale")
    assert "Its points were set aside (Set 23 Feb 2026 aside: Gale, ramp closed)" in said(gone, api)
    # It stays in sight, since people decided on it.
    assert gone["id"] in [finding["id"] for finding in log(api)["findings"]]
    assert api.send("POST", f"/kpis/{ramp}/undo", revision=2).status_code == 200
    back = one(api)
    assert (back["id"], back["state"], back["presence"]) == (gone["id"], "looking", "present")
    assert "Its points signal again" in said(back, api)[-1]


def test_a_run_becomes_a_shift_and_grows_with_new_data(api: Api) -> None:
    slug = api.add_kpi("Ramp cycle", [*STEADY, *STEADY, *LOW[:8]])
    first = one(api, "run")
    assert (first["points"], first["state"]) == (8, "open")
    longer = csv_of([*STEADY, *STEADY, *LOW])
    assert api.bring_in(longer, into=slug).status_code == 201
    grown = one(api, "run")
    assert (grown["id"], grown["points"]) == (first["id"], 9)
    assert "It grew from 8 to 9 points, 20 Jul to 14 Sep" in said(grown, api)[0]
    segments = [{"start": None}, {"start": "2026-07-20"}]
    assert api.send("PATCH", f"/kpis/{slug}", {"segments": segments}, 2).status_code == 200
    shifted = one(api, "run")
    assert (shifted["state"], shifted["presence"]) == ("shift", "gone")
    assert said(shifted, api)[-1] == "It became a shift (Put a shift at 20 Jul 2026)"


def test_one_that_only_vanishes_says_so_and_leaves_the_log(api: Api, ramp: str) -> None:
    finding = one(api)
    rules = ["run", "near_limit"]
    assert api.send("PATCH", f"/kpis/{ramp}", {"rules": rules}, 1).status_code == 200
    assert log(api)["count"] == 0
    gone = one(api)
    assert (gone["id"], gone["state"], gone["presence"]) == (finding["id"], "open", "gone")
    assert said(gone, api) == ["Its points signal no more (Changed the rules)"]
    of_kpi = api.get(f"/kpis/{ramp}/findings").json()
    assert {one["presence"] for one in of_kpi} == {"gone"}


def test_why_it_is_flagged_is_said_in_numbers(api: Api, ramp: str) -> None:
    why = {one["name"]: one["text"] for one in detail(api, one(api))["why"]}
    assert why["The rule"] == "A value is beyond a natural process limit."
    assert why["Values"] == "35.0\u00a0s."
    chart = api.get(f"/kpis/{ramp}/analysis").json()
    (signal,) = (s for s in chart["signals"] if s["rule"] == "outside_limits")
    assert why["The limit"] == f"{signal['level']:.1f}\u00a0s."
    assert f"{signal['sigmas']:.1f} sigma above the central line" in why["Distance"]
    assert why["With no change"].startswith("This rule alone would show a signal once in about 3")
    api.send("PATCH", f"/kpis/{ramp}", {"run_length": 9}, 1)
    low = api.add_kpi("Low", [*STEADY, *STEADY, *LOW])
    api.send("PATCH", f"/kpis/{low}", {"run_length": 9}, 1)
    api.send("PATCH", f"/kpis/{low}", {"rules": ["run"]}, 2)
    run = {one["name"]: one["text"] for one in detail(api, one(api, "run"))["why"]}
    assert run["The rule"].startswith("9 or more successive values")


def test_what_else_was_going_on_is_found_near_it(api: Api, ramp: str) -> None:
    api.add_kpi("Turnaround", [*STEADY[:8], 40.0, *STEADY[8:]])
    kpi = Kpi.objects.get(slug=ramp)
    for title, kind, first, last in (
        ("Gale", "state", "2026-02-24", "2026-02-26"),
        ("Drill", "change", "2026-02-09", "2026-02-09"),
        ("Long ago", "note", "2025-11-03", "2025-11-03"),
    ):
        Event.objects.create(
            workspace=kpi.workspace,
            uid=title,
            title=title,
            kind=kind,
            first=first,
            last=last,
            everywhere=True,
        )
    near = detail(api, one_of(api, ramp))["surroundings"]
    assert [(e["title"], e["when"]) for e in near["events"]] == [("Drill", "2 weeks before")]
    assert [(e["title"], e["when"]) for e in near["states"]] == [("Gale", "at the same time")]
    others = {(f["kpi"], f["title"], f["when"]) for f in near["findings"]}
    assert ("turnaround", "Above the upper limit", "at the same time") in others
    assert all(kpi == "turnaround" for kpi, _, _ in others)
    only = detail(api, one_of(api, ramp), within=0)["surroundings"]
    assert [e["title"] for e in only["events"]] == []
    # Data that came in on the day of the finding counts; these came in today.
    assert near["imports"] == []


def one_of(api: Api, slug: str) -> dict[str, Any]:
    (found,) = log(api, kpi=slug, rule="outside_limits")["findings"]
    return dict(found)


def test_the_log_is_filtered_counted_and_exported(api: Api, ramp: str) -> None:
    other = api.add_kpi("=Waste", [*STEADY[:3], 40.0, *STEADY[3:], 41.0], direction="higher")
    change(api, one_of(api, ramp), cause="=1+1", person="isla")
    everything = log(api)
    assert {f["kpi"] for f in everything["findings"]} == {ramp, other}
    firsts = [f["first"] for f in everything["findings"]]
    assert firsts == sorted(firsts, reverse=True)
    assert {f["kpi"] for f in log(api, kpi=other)["findings"]} == {other}
    assert [f["kpi"] for f in log(api, person="isla")["findings"]] == [ramp]
    assert log(api, person="")["count"] == everything["count"] - 1
    assert {f["favorable"] for f in log(api, favorable="true")["findings"]} == {True}
    late = log(api, since="2026-04-01")["findings"]
    assert late
    assert all(f["last"] >= "2026-03-30" for f in late)
    assert log(api, until="2025-12-01")["count"] == 0
    assert api.get("/findings", since="soon").status_code == 400
    file = api.get("/findings.csv", kpi=ramp)
    rows = list(csv.DictReader(io.StringIO(file.content.decode("utf-8-sig"))))
    assert len(rows) == log(api, kpi=ramp)["count"]
    assert "'=1+1" in {row["cause"] for row in rows}
    every = api.get("/findings.csv").content.decode()
    assert "\n=" not in every
    assert ",=" not in every


def test_a_page_of_the_log_costs_the_same_whatever_there_is(
    api: Api, ramp: str, django_assert_num_queries: Any
) -> None:
    def queries() -> None:
        with django_assert_num_queries(8):
            api.get("/findings")

    queries()
    first = Finding.objects.filter(kpi__slug=ramp).first()
    assert first is not None
    Finding.objects.bulk_create(
        Finding(
            kpi_id=first.kpi_id,
            rule=first.rule,
            side=first.side,
            first=first.first,
            last=first.last,
            points=1,
            in_last_segment=True,
            title="One more",
            text="",
            label="",
        )
        for _ in range(300)
    )
    queries()
    assert len(log(api)["findings"]) == 100
    assert log(api, start=300)["count"] == log(api)["count"]


PERIODS = st.sampled_from(["2026-02-16", "2026-02-23", "2026-03-02", "2026-03-23", "2026-04-06"])
ACTS = st.one_of(
    st.tuples(st.just("aside"), PERIODS),
    st.tuples(st.just("back"), PERIODS),
    st.tuples(st.just("shift"), PERIODS),
    st.tuples(st.just("rules"), st.sampled_from([["run"], ["outside_limits", "near_limit"]])),
    st.tuples(st.sampled_from(["unshift", "undo", "redo"]), st.none()),
)


def act(api: Api, path: str, kind: str, what: Any) -> None:
    """Do an act; one that is not possible at the moment is refused and changes nothing."""
    revision = Kpi.objects.get().revision
    if kind in ("undo", "redo"):
        api.send("POST", f"{path}/{kind}", revision=revision)
    elif kind in ("aside", "back"):
        reason = "Gale" if kind == "aside" else None
        api.send("POST", f"{path}/aside", {"period": what, "reason": reason}, revision)
    elif kind == "rules":
        api.send("PATCH", path, {"rules": what}, revision)
    else:
        later = [{"start": what}] if kind == "shift" else []
        api.send("PATCH", path, {"segments": [{"start": None}, *later]}, revision)


@given(st.lists(ACTS, min_size=1, max_size=8))
@settings(max_examples=25, suppress_health_check=[HealthCheck.function_scoped_fixture])
def test_whatever_is_done_the_findings_are_the_happenings_and_no_record_is_lost(
    api: Api, acts: list[tuple[str, Any]]
) -> None:
    Kpi.objects.all().delete()
    path = f"/kpis/{api.add_kpi('Ramp cycle', [*STEADY[:7], 35.0, *STEADY[7:], *LOW])}"
    known: set[int] = set()
    for kind, what in acts:
        act(api, path, kind, what)
        chart = api.get(f"{path}/analysis").json()
        happenings = sorted(
            (chart["signals"][h["signals"][0]]["rule"], h["first"], h["last"])
            for h in chart["happenings"]
        )
        rows = api.get(f"{path}/findings").json()
        present = [row for row in rows if row["presence"] == "present"]
        assert sorted((f["rule"], f["first"], f["last"]) for f in present) == happenings
        # None is present under a state that only the data gives to one that has gone.
        assert {f["state"] for f in present} <= {"open"}
        # Where two become one, the record of the part goes on with the whole.
        entries = set(Entry.objects.values_list("pk", flat=True))
        assert entries >= known
        known = entries


def test_charts_of_an_older_version_get_their_findings_once(api: Api, ramp: str) -> None:
    before = log(api)["count"]
    Finding.objects.all().delete()
    Kpi.objects.update(proposals={}, unexplained=0)
    call_command("renew_charts", verbosity=0)
    assert log(api)["count"] == before
    kpi = Kpi.objects.get(slug=ramp)
    assert (kpi.unexplained, kpi.revision) == (before, 1)
    assert not Entry.objects.exists()
    assert catch_up(clock.now()) == 0


def test_nobody_of_another_workspace_sees_or_changes_one(api: Api, ramp: str) -> None:
    finding = one(api)
    mallory = join("mallory", "elsewhere")
    stranger, elsewhere = Api(mallory, "marrowick"), Api(mallory, "elsewhere")
    for other in (stranger, elsewhere):
        assert other.get(f"/findings/{finding['id']}").status_code == 404
        assert change(other, finding, state="looking").status_code == 404
        remark = other.send("POST", f"/findings/{finding['id']}/remarks", {"text": "x"})
        assert remark.status_code == 404
    assert elsewhere.get("/findings").json()["count"] == 0
    assert stranger.get("/findings").status_code == 404
    assert Entry.objects.count() == 0


def test_the_log_begins_with_what_is_new_to_the_person_who_looks(
    api: Api, ramp: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    iris = Api(join("iris", "marrowick"), "marrowick")
    for each in (api, iris):
        # To somebody who has not looked yet nothing is news.
        assert each.get("/findings/new").json() == {"new": 0, "open": 1}
        assert each.send("POST", "/findings/new").status_code == 204
    known = log(api)["findings"][0]["id"]
    old = api.add_kpi("Turnaround", [*STEADY[:6], 40.0, *STEADY[6:], *STEADY])
    assert api.get("/findings/new").json() == {"new": 1, "open": 2}
    later = clock.now() + timedelta(hours=1)
    monkeypatch.setattr("fluctus.findings.api.clock.now", lambda: later)
    assert api.send("POST", "/findings/new").status_code == 204
    seen = log(api)
    # Newer in time or not, what is new comes first, and stays so while the person looks.
    assert [(f["kpi"], f["is_new"]) for f in seen["findings"]] == [(old, True), (ramp, False)]
    assert (seen["new"], seen["since"] is not None) == (1, True)
    assert api.send("POST", "/findings/new").status_code == 204
    assert log(api)["new"] == 1
    assert api.get("/findings/new").json()["new"] == 0
    assert iris.get("/findings/new").json()["new"] == 1
    # What has a cause comes after what has none.
    (row,) = (f for f in log(api)["findings"] if f["id"] == known)
    change(api, row, state="explained", cause="Gale")
    monkeypatch.setattr("fluctus.findings.api.clock.now", lambda: later + timedelta(days=2))
    api.send("POST", "/findings/new")
    assert [f["kpi"] for f in log(api)["findings"]] == [old, ramp]


def test_several_get_one_cause_all_of_them_or_none(api: Api, ramp: str) -> None:
    api.add_kpi("Turnaround", [*STEADY[:3], 40.0, *STEADY[3:]])
    rows = log(api)["findings"]
    seen = [{"id": row["id"], "version": row["version"]} for row in rows]
    cause = {"state": "explained", "cause": "Gale on both days"}
    stale = [seen[0], seen[1] | {"version": 7}]
    refused = api.send("POST", "/findings/several", {"findings": stale, "changes": cause})
    assert refused.status_code == 412
    assert [issue["field"] for issue in refused.json()["issues"]] == ["findings.1"]
    assert rows[1]["title"] in refused.json()["issues"][0]["detail"]
    assert {row["cause"] for row in log(api)["findings"]} == {""}
    unsaid = {"findings": seen, "changes": {"state": "explained"}}
    assert api.send("POST", "/findings/several", unsaid).json()["issues"][0]["field"] == "cause"
    given = api.send("POST", "/findings/several", {"findings": seen, "changes": cause})
    assert given.status_code == 200
    assert {row["cause"] for row in log(api)["findings"]} == {"Gale on both days"}
    assert {kpi["unexplained"] for kpi in api.get("/kpis").json()} == {0}
    stranger = Api(join("mallory", "elsewhere"), "elsewhere")
    foreign = {"findings": seen, "changes": {"cause": "Mine"}}
    assert stranger.send("POST", "/findings/several", foreign).status_code == 412
    assert "Mine" not in {row["cause"] for row in log(api)["findings"]}


def test_a_kpi_can_raise_findings_beyond_its_limits_only_or_none(api: Api) -> None:
    path = f"/kpis/{api.add_kpi('Ramp cycle', [*STEADY, *STEADY, 45.0, *LOW[:8]])}"
    leads = {f["title"] for f in log(api)["findings"]}
    assert any("Run" in title for title in leads)
    assert api.send("PATCH", path, {"raises": "beyond_limits"}, 1).status_code == 200
    assert {f["rule"] for f in log(api)["findings"]} == {"outside_limits"}
    chart = api.get(f"{path}/analysis").json()
    # The signals are there all the same.
    assert {s["rule"] for s in chart["signals"]} > {"outside_limits"}
    assert chart["finding_count"] == log(api)["count"]
    assert api.send("PATCH", path, {"raises": "nothing"}, 2).status_code == 200
    assert log(api)["count"] == 0
