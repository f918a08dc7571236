"""What a person keeps at hand is theirs alone, in each workspace."""

from typing import Any

import pytest

from fluctus.accounts.models import Membership
from fluctus.kpis.models import Kpi
from fluctus.overview.favorites import services
from tests.conftest import Api, join, ok


def slugs(answer: Any) -> list[str]:
    return list(ok(answer)["slugs"])


def test_each_keeps_their_own_in_the_order_they_took_them(api: Api) -> None:
    first, second = (api.add_kpi(name, [20.0, 21, 22]) for name in ("Ramp seals", "Crossings"))
    assert slugs(api.get("/favorites")) == []
    assert slugs(api.send("PUT", f"/kpis/{second}/favorite")) == [second]
    assert slugs(api.send("PUT", f"/kpis/{first}/favorite")) == [second, first]
    assert slugs(api.send("PUT", f"/kpis/{first}/favorite")) == [second, first]
    person = join("rhona", "marrowick")
    rhona = Api(person, "marrowick")
    assert slugs(rhona.get("/favorites")) == []
    assert slugs(rhona.send("PUT", f"/kpis/{first}/favorite")) == [first]
    assert slugs(api.send("DELETE", f"/kpis/{second}/favorite")) == [first]
    assert slugs(api.send("DELETE", f"/kpis/{second}/favorite")) == [first]
    # Who has gone from a workspace is told of nothing in it.
    Membership.objects.filter(person=person).delete()
    assert rhona.get("/favorites").status_code == 404
    assert rhona.send("PUT", f"/kpis/{second}/favorite").status_code == 404
    Kpi.objects.get(slug=first).delete()
    assert slugs(api.get("/favorites")) == []


def test_kpis_of_other_workspaces_are_not_there(api: Api) -> None:
    elsewhere = Api(join("mallory", "elsewhere"), "elsewhere")
    theirs = elsewhere.add_kpi("Theirs", [20.0, 21, 22])
    assert api.send("PUT", f"/kpis/{theirs}/favorite").status_code == 404
    assert slugs(api.get("/favorites")) == []


def test_as_many_as_a_hand_holds(api: Api, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(services, "MOST", 2)
    made = [api.add_kpi(f"Quay {n}", [20.0, 21, 22]) for n in range(3)]
    for slug in made[:2]:
        api.send("PUT", f"/kpis/{slug}/favorite")
    refused = api.send("PUT", f"/kpis/{made[2]}/favorite")
    assert refused.status_code == 409
    assert "Let go of another one first." in refused.content.decode()
    assert slugs(api.send("PUT", f"/kpis/{made[0]}/favorite")) == made[:2]
