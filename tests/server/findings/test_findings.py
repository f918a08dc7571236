"""Findings: what the data makes of them, and what people do."""

from typing import Any

from django.core.management import call_command
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from fluctus.findings.models import Entry, Finding
from fluctus.http import clock
from fluctus.kpis.chart.renewal import catch_up
from fluctus.kpis.models import Event, Kpi
from tests.conftest import Api, csv_of, join
from tests.server.findings.log import LOW, STEADY, change, detail, log, one, one_of, said


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
    assert api.get("/kpis").json()["kpis"][0]["unexplained"] == found["count"]


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
    assert why["With no change"].startswith(
        "Where nothing changes, this rule alone would show a signal once in some 3"
    )
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
