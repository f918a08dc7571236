"""The room of a workspace: held to wherever something is added, and told before it is met."""

from collections.abc import Iterator
from typing import Any

import pytest
from django.core.cache import cache

from fluctus.accounts.models import Workspace
from fluctus.accounts.room.kinds import Kind
from fluctus.accounts.room.services import give_room
from fluctus.kpis.models import Kpi
from tests.conftest import Api, csv_of, join, ok

AS_IT_IS: dict[Kind, int | None] = dict.fromkeys(Kind)


@pytest.fixture(autouse=True)
def asked_of_somebody(settings: Any) -> Iterator[None]:
    settings.OPERATOR = "Morag (ops@marrowick.example)"
    yield
    # How many requests a workspace may make is remembered for a minute.
    cache.clear()


def room(api: Api, **most: int) -> None:
    row = Workspace.objects.get(slug=api.base.rsplit("/", 1)[1])
    give_room(row, AS_IT_IS | {Kind(kind): number for kind, number in most.items()})


def refused(answer: Any, most: str) -> None:
    assert answer.status_code == 409, answer.content
    body = answer.json()
    assert body["title"] == f"This workspace has room for {most}."
    assert "ask Morag (ops@marrowick.example)" in body["issues"][0]["remedy"]


def written(api: Api, slug: str, number: int = 0) -> int:
    """Return the version of a value that is there, by its place among them."""
    return int(ok(api.get(f"/kpis/{slug}/values"))["values"][number]["version"])


def stored(api: Api) -> dict[str, int]:
    """Return the counted values by KPI, having seen that they are what is stored."""
    counted = {}
    for kpi in Kpi.objects.filter(workspace__slug=api.base.rsplit("/", 1)[1]):
        assert kpi.stored == kpi.observations.count()
        counted[kpi.slug] = kpi.stored
    return counted


def test_values_beyond_the_room_are_refused_whole_and_less_is_always_possible(api: Api) -> None:
    slug = api.add_kpi("Ramp cycle", [20.0, 21.0, 22.0])
    room(api, values=4)
    more = [{"period": f"2026-0{month}-02", "value": 1.0} for month in (3, 4)]
    refused(api.send("POST", f"/kpis/{slug}/values", {"edits": more}), "4 values")
    refused(api.bring_in(csv_of([1.0, 2.0]), {"name": "Boarding"}), "4 values")
    refused(api.bring_in(csv_of([0.0] * 5), into=slug), "4 values")
    assert stored(api) == {slug: 3}
    # As many as there is room for, and what is there can be corrected when it is full.
    ok(api.send("POST", f"/kpis/{slug}/values", {"edits": more[:1]}))
    room(api, values=2)
    assert stored(api) == {slug: 4}
    corrected = {"edits": [{"period": "2026-01-05", "value": 19.0, "seen": written(api, slug)}]}
    ok(api.send("POST", f"/kpis/{slug}/values", corrected))
    gone = more[0] | {"remove": True, "seen": written(api, slug, -1)}
    ok(api.send("POST", f"/kpis/{slug}/values", {"edits": [gone]}))
    assert stored(api) == {slug: 3}
    # What was taken away comes back by undo, whatever the room: nothing is lost by a bound.
    at = api.get(f"/kpis/{slug}/analysis").json()["kpi"]["revision"]
    ok(api.send("POST", f"/kpis/{slug}/undo", revision=at))
    assert stored(api) == {slug: 4}


def test_kpis_are_bounded_in_their_workspace_alone(api: Api) -> None:
    api.add_kpi("Ramp cycle", [20.0, 21.0])
    room(api, kpis=1)
    refused(api.bring_in(csv_of([1.0]), {"name": "Boarding"}), "1 KPIs")
    other = Api(join("mallory", "elsewhere"), "elsewhere")
    other.add_kpi("Boarding", [1.0, 2.0])
    room(api)
    api.add_kpi("Boarding", [1.0, 2.0])


def test_little_room_is_told_to_members_with_whom_to_ask(api: Api, settings: Any) -> None:
    api.add_kpi("Ramp cycle", [20.0] * 7 + [21.0])
    settings.ROOM = settings.ROOM | {"kpis": 100}
    room(api, values=10)
    told = ok(api.get("/room"))
    assert told["ask"] == "Morag (ops@marrowick.example)"
    bounded = {one["kind"]: (one["there"], one["most"], one["near"]) for one in told["bounded"]}
    assert bounded["values"] == (8, 10, True)
    # As the installation has it, where nobody has given the workspace its own.
    assert bounded["kpis"] == (1, 100, False)
    assert "feeds" not in bounded
    assert Api(join("mallory", "elsewhere"), "marrowick").get("/room").status_code == 404


def test_requests_of_all_in_a_workspace_are_bounded_and_those_of_strangers_count_for_nothing(
    api: Api,
) -> None:
    room(api, requests_a_minute=60)
    stranger = Api(join("mallory", "elsewhere"), "marrowick")
    for _ in range(80):
        assert stranger.get("/kpis").status_code == 404
    answers = [api.get("/kpis").status_code for _ in range(75)]
    # A minute may have ended meanwhile.
    assert answers[:40] == [200] * 40
    assert answers.count(429) >= 1 or answers.count(200) == 75
    assert Api(join("isla", "elsewhere"), "elsewhere").get("/kpis").status_code == 200
