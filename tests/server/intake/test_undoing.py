"""What an import made and people have written to since: counted, named, asked about, kept."""

from typing import Any

from fluctus.accounts.models import Role
from fluctus.accounts.services import add_person
from fluctus.findings.models import Entry, Finding
from fluctus.kpis.models import Kpi, Observation
from tests.conftest import Api, csv_of, ok, revision

VALUES = [20.0, 22, 21, 23, 20, 22, 21, 45, 22, 21, 20, 22]
WORDS = "words that hold well"


def person(name: str, role: Role) -> Api:
    return Api(add_person(name, WORDS, "marrowick", role), "marrowick")


def made(api: Api) -> tuple[int, str]:
    done = ok(api.bring_in(csv_of(VALUES), {"name": "Ramp cycle"}, grain="week"))
    return int(done["id"]), str(done["parts"][0]["slug"])


def remark(api: Api, text: str) -> None:
    finding = Finding.objects.get()
    ok(api.send("POST", f"/findings/{finding.pk}/remarks", {"text": text}))


def test_what_people_have_written_to_a_kpi_is_named_before_it_goes(api: Api) -> None:
    rhona, calum = person("rhona", Role.EDITOR), person("calum", Role.CONTRIBUTOR)
    number, slug = made(rhona)
    remark(calum, "The seal was worn.")
    cause = {"state": "explained", "cause": "a seal"}
    finding = Finding.objects.get()
    ok(calum.send("PATCH", f"/findings/{finding.pk}", cause, finding.version))
    asked = rhona.send("POST", f"/imports/{number}/undo", {"later": None})
    assert asked.status_code == 409
    assert asked.json()["later_edits"] == [
        "1 decision and 1 remark on the findings of Ramp cycle, by calum."
    ]
    assert Kpi.objects.filter(slug=slug).exists()
    # What others have written goes only with an owner's word.
    refused = rhona.send("POST", f"/imports/{number}/undo", {"later": "discard"})
    assert refused.status_code == 403
    assert Entry.objects.filter(remark=True).count() == 1
    # Kept, the KPI and its findings stay, without the values.
    ok(rhona.send("POST", f"/imports/{number}/undo", {"later": "keep"}))
    assert Kpi.objects.filter(slug=slug).exists()
    assert not Observation.objects.exists()
    assert Entry.objects.filter(remark=True).count() == 1


def test_what_nobody_has_written_to_goes_with_whoever_made_it(api: Api) -> None:
    rhona = person("rhona", Role.EDITOR)
    number, slug = made(rhona)
    # Demoted since, they make no KPI and delete none.
    add_person("rhona", None, "marrowick", Role.CONTRIBUTOR)
    assert rhona.send("POST", f"/imports/{number}/undo", {"later": None}).status_code == 403
    assert Kpi.objects.filter(slug=slug).exists()
    add_person("rhona", None, "marrowick", Role.EDITOR)
    ok(rhona.send("POST", f"/imports/{number}/undo", {"later": None}))
    assert not Kpi.objects.exists()
    audit_events = [row["text"] for row in ok(api.get("/record"))["audit_events"]]
    assert "Deleted the KPI Ramp cycle by undoing the import of a paste" in audit_events


def test_a_contributor_replaces_only_what_they_have_written(api: Api) -> None:
    calum = person("calum", Role.CONTRIBUTOR)
    slug = api.add_kpi("Ramp cycle", VALUES)
    short = csv_of(VALUES[:3])

    def brought(by: Api, table: str, mode: str) -> Any:
        return by.bring_in(table, into=slug, mode=mode)

    refused = brought(calum, short, "replace")
    assert refused.status_code == 403
    assert refused.json()["title"].startswith("Replacing 9 values that others wrote is for editors")
    assert Observation.objects.count() == len(VALUES)
    gone = {"edits": [{"period": "2026-01-05", "remove": True, "seen": seen(api, slug)}]}
    removed = calum.send("POST", f"/kpis/{slug}/values", gone)
    assert removed.status_code == 403
    assert "Removing 1 value that others wrote" in removed.json()["title"]
    # What they added themselves they replace as well.
    ok(brought(calum, csv_of([30.0, 31, 32], "2026-06-01"), "update"))
    more = csv_of([*VALUES]) + "\n" + csv_of([33.0], "2026-06-01").partition("\n")[2]
    ok(brought(calum, more, "replace"))
    assert Observation.objects.count() == len(VALUES) + 1
    ok(brought(api, short, "replace"))
    assert Observation.objects.count() == 3
    assert revision(api, f"/kpis/{slug}") == 4


def seen(api: Api, slug: str) -> int:
    (row, *_) = ok(api.get(f"/kpis/{slug}/values"))["values"]
    return int(row["version"])
