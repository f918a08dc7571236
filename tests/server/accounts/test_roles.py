"""Every role against every address of the API, and what only a part of an address needs."""

import json
from typing import Any

import pytest
from django.test import Client
from django.urls import resolve
from drf_spectacular.generators import SchemaGenerator

from fluctus.accounts.models import Membership, Role
from fluctus.accounts.services import add_person
from fluctus.site.roles import NEEDS, Open
from tests.conftest import Api, join, ok, revision, signed_in

METHODS = ("get", "post", "put", "patch", "delete")


def described_addresses() -> list[tuple[str, str]]:
    """List the method and path of everything that the API says it has."""
    schema = SchemaGenerator().get_schema(request=None, public=True)  # type: ignore[no-untyped-call]
    return [
        (method.upper(), path)
        for path, methods in schema["paths"].items()
        for method in methods
        if method in METHODS
    ]


def filled(path: str, kpi: str) -> str:
    """Put something in the place of each parameter: a KPI that is there, a number that is not."""
    named = {"workspace": "marrowick", "kpi": kpi, "secret": "s" * 43}
    while "{" in path:
        name = path[path.index("{") + 1 : path.index("}")]
        path = path.replace(f"{{{name}}}", named.get(name, "987654"))
    return path


def person(role: Role | None) -> Client:
    if role is None:
        return Client()
    return signed_in(add_person(f"a-{role}", "words that hold well", "marrowick", role))


def asked(client: Client, method: str, path: str) -> Any:
    return client.generic(method, path, "{}", "application/json", headers={"If-Match": '"1"'})


def test_every_address_is_in_the_table_and_the_table_has_no_other(db: None) -> None:
    described = {
        (resolve(filled(path, "ramp-cycle")).url_name, method)
        for method, path in described_addresses()
    }
    in_table = {(name, method) for name, row in NEEDS.items() for method in row}
    assert described == in_table - {("schema", "GET")}


@pytest.mark.parametrize("role", list(Role))
def test_a_role_may_what_the_table_says_and_nothing_else(api: Api, role: Role) -> None:
    api.add_kpi("Ramp cycle", [20, 22, 21, 23, 20])
    for method, path in described_addresses():
        needed = NEEDS[str(resolve(filled(path, "ramp-cycle")).url_name)][method]
        if isinstance(needed, Open) or needed == Role.OWNER == role:
            continue
        # Somebody new for each: leaving and the like would change what the next may.
        answer = asked(person(role), method, filled(path, "ramp-cycle"))
        where = f"{role}: {method} {path} {answer.content[:200]!r}"
        assert answer.status_code < 500, where
        if role.includes(needed):
            assert answer.status_code not in (401, 403), where
        else:
            assert answer.status_code == 403, where
            assert f"for {'owners' if needed == Role.OWNER else ''}" in answer.json()["title"]


def test_strangers_see_no_workspace_and_nobody_signed_out_gets_anything(api: Api) -> None:
    api.add_kpi("Ramp cycle", [20, 22, 21, 23, 20])
    stranger, nobody = Client(), Client()
    stranger.force_login(join("mallory", "elsewhere"))
    for method, path in described_addresses():
        if isinstance(NEEDS[str(resolve(filled(path, "ramp-cycle")).url_name)][method], Open):
            continue
        address = filled(path, "ramp-cycle")
        assert asked(stranger, method, address).status_code == 404, (method, path)
        assert asked(nobody, method, address).status_code == 401, (method, path)


def test_a_contributor_adds_values_and_takes_back_only_their_own(api: Api) -> None:
    ramp = f"/kpis/{api.add_kpi('Ramp cycle', [20, 22, 21, 23, 20, 22])}"
    calum = Api(
        add_person("calum", "words that hold well", "marrowick", Role.CONTRIBUTOR), "marrowick"
    )
    # What the owner did is not theirs to take back.
    ok(api.send("PATCH", ramp, {"name": "Ramp time"}, revision(api, ramp)))
    refused = calum.send("POST", f"{ramp}/undo", None, revision(api, ramp))
    assert refused.status_code == 403
    assert "Undoing “Changed the name”" in refused.json()["title"]
    # Their own value is.
    added = {"edits": [{"period": "2026-02-16", "value": 24.0}]}
    ok(calum.send("POST", f"{ramp}/values", added, revision(api, ramp)))
    aside = {"edits": [{"period": "2026-02-23", "value": 24.0, "set_aside": True, "reason": "x"}]}
    assert calum.send("POST", f"{ramp}/values", aside, revision(api, ramp)).status_code == 403
    undone = ok(calum.send("POST", f"{ramp}/undo", None, revision(api, ramp)))
    assert undone["kpi"]["name"] == "Ramp time"
    ok(calum.send("POST", f"{ramp}/redo", None, revision(api, ramp)))
    # A table may go into a KPI that is there, and may make none.
    made = calum.bring_in("Week,Other\n2026-01-05,1\n2026-01-12,2\n2026-01-19,3")
    assert made.status_code == 403
    assert made.json()["title"] == "Making a KPI is for editors and owners of this workspace."
    assert api.get("/kpis").json()["count"] == 1
    into = ramp.rpartition("/")[2]
    table = "Week,Ramp cycle (s)\n2026-03-02,25\n2026-03-09,26"
    number = ok(calum.bring_in(table, into=into))["id"]
    owners = ok(api.bring_in("Week,Ramp cycle (s)\n2026-03-16,25", into=into))["id"]
    assert calum.send("POST", f"/imports/{owners}/undo", {}).status_code == 403
    ok(calum.send("POST", f"/imports/{number}/undo", {}))


def test_roles_change_at_once_and_an_owner_stays(api: Api) -> None:
    rhona = join("rhona", "marrowick")
    hers = Api(rhona, "marrowick")
    people = ok(api.get("/people"))["people"]
    assert [(row["name"], row["role"], row["you"]) for row in people] == [
        ("isla", "owner", True),
        ("rhona", "editor", False),
    ]
    isla = people[0]["id"]
    last = api.send("PATCH", f"/people/{isla}", {"role": "viewer"})
    assert last.status_code == 409
    assert last.json()["issues"][0]["detail"] == "isla is its last owner."
    assert api.send("POST", "/leave").status_code == 409
    assert api.send("PATCH", f"/people/{rhona.pk}", {"role": "king"}).status_code == 400
    assert api.send("PATCH", f"/people/{rhona.pk}", {"role": "owner"}).status_code == 204
    assert hers.send("PATCH", f"/people/{isla}", {"role": "viewer"}).status_code == 204
    assert api.get("/people").status_code == 403
    # What was done is on the record, which the database lets nobody change.
    audit_events = [(row["person"], row["text"]) for row in ok(hers.get("/record"))["audit_events"]]
    assert audit_events.pop(0) == ("isla", "Was not let: GET people")
    assert audit_events[0] == ("rhona", "Made isla viewer (was owner)")
    assert api.send("POST", "/leave").status_code == 204
    assert api.get("/kpis").status_code == 404
    assert Membership.objects.count() == 1


def test_deleting_is_an_owner_s_and_on_the_record(api: Api) -> None:
    ramp = f"/kpis/{api.add_kpi('Ramp cycle', [20, 22, 21, 23, 20])}"
    page = ok(api.send("POST", "/pages", {"title": "Mondays"}))["id"]
    rhona = Api(join("rhona", "marrowick"), "marrowick")
    named = f"{ramp}?name=Ramp%20cycle"
    assert rhona.send("DELETE", named, None, revision(api, ramp)).status_code == 403
    assert api.send("DELETE", named, None, revision(api, ramp)).status_code == 204
    assert api.send("DELETE", f"/pages/{page}", None, 1).status_code == 204
    texts = [row["text"] for row in ok(api.get("/record"))["audit_events"]]
    assert texts == [
        "Deleted the page Mondays",
        "Deleted the KPI Ramp cycle",
        "Was not let: DELETE kpi",
    ]


def test_the_session_says_what_one_may(api: Api) -> None:
    client = person(Role.VIEWER)
    (workspace,) = json.loads(client.get("/api/v1/session").content)["workspaces"]
    assert workspace["role"] == "viewer"
