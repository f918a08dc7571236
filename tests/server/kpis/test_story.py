"""Events on the lane and calendar files."""

from typing import Any

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from fluctus.kpis.models import ChartChange, Event, EventImport, Kpi
from tests.conftest import Api, golden, join, ok, revision

VALUES = golden("shift recalculated")["values"]
GALE = {"title": "Gale, ramp closed", "first": "2026-02-10"}


@pytest.fixture
def ramp(api: Api) -> str:
    return f"/kpis/{api.add_kpi('Ramp cycle', VALUES, unit='s', direction='lower', target=19)}"


def pins(api: Api, path: str, first: str = "2026-01-01", last: str = "2026-12-31") -> Any:
    return ok(api.get(f"{path}/lane", first=first, last=last))


def add(api: Api, path: str, **event: Any) -> Any:
    return api.send("POST", f"{path}/lane", GALE | event, revision(api, path))


def only(api: Api, path: str) -> dict[str, Any]:
    (pin,) = pins(api, path)
    (event,) = pin["events"]
    return dict(event)


def write(api: Api, path: str, event: dict[str, Any], method: str = "PATCH", **changes: Any) -> Any:
    address = f"{path}/lane/{event['id']}?version={event['version']}"
    return api.send(method, address, changes, revision(api, path))


# --- events -------------------------------------------------------------------------


def test_an_event_is_added_changed_and_removed_and_each_can_be_undone(api: Api, ramp: str) -> None:
    ok(add(api, ramp, kind="incident"))
    event = only(api, ramp)
    assert (event["first"], event["last"], event["kpis"]) == (
        "2026-02-10",
        "2026-02-10",
        ["ramp-cycle"],
    )
    ok(write(api, ramp, event, first="2026-02-12", last="2026-02-14"))
    moved = only(api, ramp)
    assert (moved["first"], moved["last"], moved["version"]) == ("2026-02-12", "2026-02-14", 2)
    ok(write(api, ramp, moved, "DELETE"))
    assert pins(api, ramp) == []
    summaries = ChartChange.objects.order_by("id").values_list("summary", flat=True)
    assert list(summaries) == [
        "Added the event Gale, ramp closed",
        "Moved the event Gale, ramp closed to 12 Feb 2026",
        "Removed the event Gale, ramp closed",
    ]
    for first in ("2026-02-12", "2026-02-10", None):
        ok(api.send("POST", f"{ramp}/undo", revision=revision(api, ramp)))
        assert [pin["first"] for pin in pins(api, ramp)] == ([first] if first else [])
    for first in ("2026-02-10", "2026-02-12", None):
        ok(api.send("POST", f"{ramp}/redo", revision=revision(api, ramp)))
        assert [pin["first"] for pin in pins(api, ramp)] == ([first] if first else [])


def test_an_event_is_told_with_the_kpis_it_names_or_with_all(api: Api, ramp: str) -> None:
    other = f"/kpis/{api.add_kpi('Fuel', VALUES)}"
    ok(add(api, ramp))
    assert pins(api, other) == []
    ok(write(api, ramp, only(api, ramp), kpis=["ramp-cycle", "fuel"]))
    assert only(api, other)["title"] == GALE["title"]
    ok(write(api, other, only(api, other), everywhere=True, kpis=[]))
    third = f"/kpis/{api.add_kpi('Waste', VALUES)}"
    assert only(api, third)["everywhere"] is True


@pytest.mark.parametrize(
    ("changes", "field"),
    [
        ({"last": "2026-02-01"}, "last"),
        ({"kpis": []}, "kpis"),
        ({"kpis": ["no-such-kpi"]}, "kpis"),
        ({"first": "soon"}, "first"),
        ({"title": ""}, "title"),
        ({"kind": "party"}, "kind"),
    ],
)
def test_an_event_that_cannot_be_is_refused(
    api: Api, ramp: str, changes: dict[str, Any], field: str
) -> None:
    answer = add(api, ramp, **changes)
    assert answer.status_code in (400, 422)
    assert answer.json()["issues"][0]["field"].startswith(field)
    assert Event.objects.count() == 0


def test_a_stale_event_is_not_overwritten_on_another_chart(api: Api, ramp: str) -> None:
    other = f"/kpis/{api.add_kpi('Fuel', VALUES)}"
    ok(add(api, ramp, kpis=["ramp-cycle", "fuel"]))
    seen = only(api, other)
    ok(write(api, ramp, seen, title="Gale, two days"))
    refused = write(api, other, seen, title="Storm")
    assert refused.status_code == 412
    assert "Gale, two days" in refused.json()["issues"][0]["detail"]
    # Nor is it undone where somebody has changed it since, on another chart.
    ok(write(api, other, only(api, other), title="Storm"))
    undone = api.send("POST", f"{ramp}/undo", revision=revision(api, ramp))
    assert undone.status_code == 409
    assert only(api, ramp)["title"] == "Storm"


def test_undo_passes_over_an_event_that_others_have_changed(api: Api, ramp: str) -> None:
    ok(api.send("PATCH", ramp, {"target": 21}, 1))
    ok(add(api, ramp))
    event = only(api, ramp)
    address = f"/events/{event['id']}?version={event['version']}"
    ok(api.send("PATCH", address, {"title": "Storm"}))
    refused = api.send("POST", f"{ramp}/undo", revision=3)
    assert refused.status_code == 409
    assert "passed over" in refused.json()["issues"][0]["remedy"]
    chart = api.get(f"{ramp}/analysis").json()
    assert chart["history"] == {"undo": "Changed the target to 21 s", "redo": None}
    assert ok(api.send("POST", f"{ramp}/undo", revision=3))["kpi"]["target"] == 19
    assert [one["state"] for one in ok(api.get(f"{ramp}/history"))["acts"]] == [
        "passed",
        "undone",
    ]
    assert only(api, ramp)["title"] == "Storm"
    # So does redo.
    ok(api.send("POST", f"{ramp}/redo", revision=4))
    event = only(api, ramp)
    ok(write(api, ramp, event, title="Gale"))
    ok(api.send("POST", f"{ramp}/undo", revision=6))
    ok(api.send("PATCH", f"/events/{event['id']}?version=4", {"text": "All day"}))
    assert api.send("POST", f"{ramp}/redo", revision=7).status_code == 409
    assert api.get(f"{ramp}/analysis").json()["history"]["redo"] is None


def test_events_are_written_beside_charts_and_conflicts_are_told(api: Api, ramp: str) -> None:
    fuel = f"/kpis/{api.add_kpi('Fuel', VALUES)}"
    new = {"title": "Strike", "first": "2026-03-02", "kind": "incident"}
    nowhere = api.send("POST", "/events", new)
    assert (nowhere.status_code, nowhere.json()["issues"][0]["field"]) == (422, "kpis")
    made = ok(api.send("POST", "/events", new | {"kpis": ["fuel"]}))
    assert [pin["events"] for pin in pins(api, fuel)] == [[made]]
    assert pins(api, ramp) == []
    one = f"/events/{made['id']}"
    changed = ok(api.send("PATCH", f"{one}?version=1", {"everywhere": True, "last": "2026-03-04"}))
    assert (changed["version"], changed["last"]) == (2, "2026-03-04")
    assert len(pins(api, ramp)) == 1
    same = ok(api.send("PATCH", f"{one}?version=2", {"everywhere": True}))
    assert same["version"] == 2
    for method in ("PATCH", "DELETE"):
        stale = api.send(method, f"{one}?version=1", {"title": "Storm"})
        assert stale.status_code == 412
        assert "It is now Strike, 2 Mar 2026 to 4 Mar 2026." in stale.json()["detail"]
    assert api.send("DELETE", f"{one}?version=2").status_code == 204
    assert api.send("DELETE", f"{one}?version=2").status_code == 404
    # It was an act of no chart.
    assert not ChartChange.objects.exists()


def test_crowded_events_share_a_pin_with_their_count(
    api: Api, ramp: str, django_assert_num_queries: Any
) -> None:
    workspace = Kpi.objects.get().workspace
    Event.objects.bulk_create(
        Event(
            workspace=workspace,
            uid=str(n),
            title=f"E{n}",
            first=f"2026-03-{n % 28 + 1:02d}",
            last=f"2026-03-{n % 28 + 1:02d}",
            everywhere=True,
        )
        for n in range(2000)
    )
    with django_assert_num_queries(6):
        found = ok(
            api.get(f"{ramp}/lane", first="2026-01-01", last="2026-12-31", by="day", width=1000)
        )
    assert sum(pin["count"] for pin in found) == 2000
    assert len(found) < 8
    assert all(len(pin["events"]) <= 8 for pin in found)
    near = ok(api.get(f"{ramp}/lane", first="2026-03-01", last="2026-03-07", by="day", width=1000))
    assert [pin["first"] for pin in near] == [f"2026-03-0{n}" for n in range(1, 8)]


# --- calendar files -----------------------------------------------------------------


def ics(*events: str) -> bytes:
    blocks = [f"BEGIN:VEVENT\n{body}\nEND:VEVENT" for body in events]
    return "\n".join(["BEGIN:VCALENDAR", *blocks, "END:VCALENDAR"]).encode()


def send_file(api: Api, path: str, content: bytes, **more: Any) -> Any:
    file = SimpleUploadedFile("gales.ics", content)
    return api.client.post(f"{api.base}/events/{path}", {"file": file} | more)


GOOD = "UID:1\nSUMMARY:Gale\nCATEGORIES:state\nDTSTART;VALUE=DATE:20260210"
WEEKLY = "UID:2\nSUMMARY:Drill\nDTSTART;VALUE=DATE:20260302\nRRULE:FREQ=WEEKLY;COUNT=3"
BROKEN = "UID:3\nSUMMARY:Odd\nDTSTART;VALUE=DATE:2026xx05"


def test_a_calendar_is_read_first_then_brought_in_and_taken_back(api: Api, ramp: str) -> None:
    read = ok(send_file(api, "read", ics(GOOD, WEEKLY, BROKEN)))
    assert (read["new"], read["changed"], read["same"], read["repeated"]) == (4, 0, 0, 3)
    assert (read["broken_count"], read["broken"][0]["line"]) == (1, 14)
    assert Event.objects.count() == 0
    refused = send_file(api, "imports", ics(GOOD, WEEKLY, BROKEN))
    assert refused.status_code == 422
    assert refused.json()["issues"][0]["row"] == 14
    assert Event.objects.count() == 0
    done = ok(send_file(api, "imports", ics(GOOD, WEEKLY, BROKEN), skip_broken="true"))
    assert (done["added"], done["changed"]) == (4, 0)
    assert Event.objects.filter(everywhere=True).count() == 4
    # Again, it is all there already; a changed one is changed, by its uid.
    again = ok(send_file(api, "read", ics(GOOD.replace("Gale", "Storm"), WEEKLY)))
    assert (again["new"], again["changed"], again["same"]) == (0, 1, 3)
    changed = ok(send_file(api, "imports", ics(GOOD.replace("Gale", "Storm"), WEEKLY)))
    assert (changed["added"], changed["changed"]) == (0, 1)
    assert Event.objects.get(uid="1").title == "Storm"
    gone = api.client.delete(f"{api.base}/events/imports/{done['id']}")
    assert gone.status_code == 204
    # What somebody has changed since stays.
    assert list(Event.objects.values_list("title", flat=True)) == ["Storm"]


def test_events_are_told_with_the_kpis_that_are_chosen_or_named(api: Api, ramp: str) -> None:
    api.add_kpi("Fuel", VALUES)
    named = GOOD + "\nX-FLUCTUS-KPI:fuel"
    ok(send_file(api, "imports", ics(named, WEEKLY), kpis=["ramp-cycle"]))
    assert [e["title"] for pin in pins(api, "/kpis/fuel") for e in pin["events"]] == ["Gale"]
    assert {e["title"] for pin in pins(api, ramp) for e in pin["events"]} == {"Drill"}
    file = api.get("/events/file")
    assert file["Content-Type"].startswith("text/calendar")
    back = ok(send_file(api, "read", file.content))
    assert (back["new"], back["changed"], back["same"]) == (0, 0, 4)
    listed = ok(api.get("/events", search="dri"))
    assert listed["count"] == 3
    assert [event["first"] for event in listed["events"]] == [
        "2026-03-16",
        "2026-03-09",
        "2026-03-02",
    ]


def test_ten_thousand_events_come_in_at_once(api: Api, ramp: str) -> None:
    bodies = [
        f"UID:{n}\nSUMMARY:E{n}\nDTSTART;VALUE=DATE:2026{n % 12 + 1:02d}01" for n in range(10_000)
    ]
    done = ok(send_file(api, "imports", ics(*bodies)))
    assert done["added"] == Event.objects.count() == 10_000
    assert sum(pin["count"] for pin in pins(api, ramp)) == 10_000


def test_what_is_no_calendar_is_refused(api: Api) -> None:
    answer = send_file(api, "read", b"Week,Ramp\n2026-01-05,3")
    assert answer.status_code == 422
    (issue,) = answer.json()["issues"]
    assert "numbers, not states" in issue["detail"]
    assert "a calendar (.ics)" in issue["remedy"]
    assert api.client.post(f"{api.base}/events/read", {}).status_code == 400


def test_events_of_another_workspace_are_out_of_reach(api: Api, ramp: str) -> None:
    ok(add(api, ramp))
    event = only(api, ramp)
    done = ok(send_file(api, "imports", ics(WEEKLY)))
    other = Api(join("mallory", "elsewhere"), "elsewhere")
    other.add_kpi("Ramp cycle", VALUES)
    assert write(other, ramp, event, title="Mine").status_code == 404
    own = f"/events/{event['id']}?version={event['version']}"
    assert other.send("PATCH", own, {"title": "Mine"}).status_code == 404
    assert other.send("DELETE", own).status_code == 404
    assert pins(other, ramp) == []
    assert other.get("/events").json()["count"] == 0
    assert other.client.delete(f"{other.base}/events/imports/{done['id']}").status_code == 404
    # The same uid there is another event.
    assert ok(send_file(other, "imports", ics(WEEKLY)))["added"] == 3
    assert EventImport.objects.count() == 2
    told = add(other, ramp, kpis=["ramp-cycle"])
    assert told.status_code == 200
