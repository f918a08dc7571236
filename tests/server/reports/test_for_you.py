"""What waits for a person: assigned, due, named by others, made by others."""

import json
from typing import Any

from fluctus.accounts.services import add_person
from fluctus.http import clock
from fluctus.jobs.models import JobStatus
from fluctus.reports.models import Report
from tests.conftest import Api, join, ok, revision

VALUES = [20, 22, 21, 23, 20, 22, 21, 45, 22, 21, 20, 22]


def change(api: Api, finding: dict[str, Any], **changes: Any) -> Any:
    return api.client.patch(
        f"{api.base}/findings/{finding['id']}",
        json.dumps(changes),
        "application/json",
        headers={"If-Match": f'"{finding["version"]}"'},
    )


def test_what_waits_for_a_person(api: Api) -> None:
    rhona = add_person("rhona", "words that hold well", "marrowick")
    rhona.first_name, rhona.last_name = "Rhona", "Baird"
    rhona.save()
    hers = Api(rhona, "marrowick")
    join("rhona-b", "marrowick")
    slug = api.add_kpi("Ramp cycle", VALUES)
    path = f"/kpis/{slug}"
    nothing = ok(hers.get("/for-you"))
    assert nothing == {"assigned": [], "overdue": 0, "faded": [], "named": [], "shared": []}
    (finding, *_) = ok(api.get(f"{path}/findings"))
    assert change(api, finding, person="rhona", due="2026-01-31").status_code == 200
    for text in ("Ask @Rhona Baird, please", "not for @rhona-b alone", "mail rhona@rhona.example"):
        ok(api.send("POST", f"/findings/{finding['id']}/remarks", {"text": text}))
    ok(hers.send("POST", f"/findings/{finding['id']}/remarks", {"text": "I am @rhona"}))
    event = {"title": "Seal", "text": "@RHONA knows", "first": "2026-02-20", "last": "2026-02-20"}
    ok(api.send("POST", f"{path}/lane", event, revision(api, path)))
    shift = [{"start": None}, {"start": "2026-02-23", "what_changed": "Drill by @rhona"}]
    ok(api.send("PATCH", path, {"segments": shift}, revision(api, path)))
    Report.objects.create(
        workspace_id=rhona.workspaces.get().pk,
        person_id=None,
        at=clock.now(),
        title="Quays",
        format="pdf",
        status=JobStatus.DONE,
        asked={"scope": "all", "kpis": [], "paper": "A4"},
    )
    waits = ok(hers.get("/for-you"))
    assert [row["person_name"] for row in waits["assigned"]] == ["Rhona Baird"]
    assert waits["overdue"] == 1
    assert [(row["kind"], row["text"]) for row in waits["named"]] == [
        ("remark", "Ask @Rhona Baird, please"),
        ("shift", "Drill by @rhona"),
        ("event", "@RHONA knows"),
    ]
    assert [row["title"] for row in waits["shared"]] == ["Quays"]
    # An undo takes the name back with the words.
    ok(api.send("POST", f"{path}/undo", None, revision(api, path)))
    assert [row["kind"] for row in ok(hers.get("/for-you"))["named"]] == ["remark", "event"]
    assert ok(api.get("/for-you"))["named"] == []
    assert [row["name"] for row in ok(api.get("/members"))] == ["isla", "Rhona Baird", "rhona-b"]
