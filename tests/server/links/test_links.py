"""Links: what they show, to whom, for how long; and whoever tries to get more out of them."""

import json
from datetime import timedelta
from importlib import import_module
from typing import Any

import pytest
from django.test import Client

from fluctus.accounts.models import Role
from fluctus.accounts.services import add_person
from fluctus.http import clock
from fluctus.kpis.models import Kpi
from fluctus.links.models import Link
from tests.conftest import Api, join, ok, revision

VALUES = [20, 22, 21, 23, 20, 22, 21, 45, 22, 21, 20, 22]


@pytest.fixture
def ramp(api: Api) -> str:
    return api.add_kpi("Ramp cycle", VALUES)


def make(api: Api, **what: Any) -> str:
    """Make a link; returns its secret."""
    made = ok(api.send("POST", "/links", what))
    return str(made["address"].rpartition("/l/")[2])


def shared(secret: str, **headers: str) -> Any:
    return Client(headers=headers).get(f"/api/v1/shared/{secret}")


def later(monkeypatch: pytest.MonkeyPatch, **by: float) -> None:
    now = clock.now() + timedelta(**by)
    monkeypatch.setattr(clock, "now", lambda: now)


def test_a_link_shows_a_chart_and_nothing_else(api: Api, ramp: str) -> None:
    other = api.add_kpi("Fuel", [1, 2, 3, 2, 1])
    event = {"title": "Seal", "first": "2026-02-23", "last": "2026-02-23"}
    ok(api.send("POST", f"/kpis/{ramp}/lane", event, revision(api, f"/kpis/{ramp}")))
    secret = make(api, kind="chart", kpi=ramp)
    (content,) = ok(shared(secret))["things"]
    thing = content["answer"]
    assert content["title"] == thing["chart"]["sentence"]["headline"]
    assert thing["chart"]["kpi"]["name"] == "Ramp cycle"
    assert [pin["events"][0]["title"] for pin in thing["pins"]] == ["Seal"]
    # Of people and of other KPIs there is nothing in it, nor does it open anything else.
    text = shared(secret).content.decode()
    assert "isla" not in text.lower()
    assert "Fuel" not in text
    for path in (f"/kpis/{ramp}/analysis", f"/kpis/{other}/analysis", "/kpis", "/people"):
        assert Client().get(api.base + path).status_code == 401
    link = Link.objects.get()
    assert (link.opened, secret in str(Link.objects.values())) == (2, False)
    assert ok(api.get("/links"))["links"][0]["opened"] == 2


@pytest.mark.parametrize("change", ["cut", "longer", "other case", "digest", "empty", "path"])
def test_a_guess_opens_nothing(api: Api, ramp: str, change: str) -> None:
    secret = make(api, kind="chart", kpi=ramp)
    guess = {
        "cut": secret[:-1],
        "longer": f"{secret}A",
        "other case": secret.swapcase(),
        "digest": Link.objects.get().digest,
        "empty": " ",
        "path": "..%2f..",
    }[change]
    assert shared(guess).status_code == 404
    assert Link.objects.get().opened == 0


def test_a_link_ends(api: Api, ramp: str, monkeypatch: pytest.MonkeyPatch) -> None:
    revoked = make(api, kind="chart", kpi=ramp, frozen=True)
    number = Link.objects.get().pk
    assert api.send("DELETE", f"/links/{number}").status_code == 204
    answer = shared(revoked)
    assert (answer.status_code, answer.json()["issues"][0]["detail"]) == (410, "It was revoked.")
    assert Link.objects.get().frozen is None
    short, lasting = (
        make(api, kind="chart", kpi=ramp, days=1),
        make(api, kind="chart", kpi=ramp, days=None),
    )
    later(monkeypatch, days=1, minutes=1)
    assert shared(short).status_code == 410
    assert shared(lasting).status_code == 200
    Kpi.objects.get(slug=ramp).delete()
    gone = shared(lasting)
    assert (gone.status_code, gone.json()["title"]) == (410, "What this link showed is gone.")
    assert {row["status"] for row in ok(api.get("/links"))["links"]} == {
        "revoked",
        "expired",
        "gone",
    }


def test_live_follows_and_frozen_stays(api: Api, ramp: str) -> None:
    live, frozen = (make(api, kind="chart", kpi=ramp, frozen=kept) for kept in (False, True))
    path = f"/kpis/{ramp}"
    ok(api.send("PATCH", path, {"name": "Ramp time"}, revision(api, path)))
    added = {"edits": [{"period": "2026-03-30", "value": 24.0}]}
    ok(api.send("POST", f"{path}/values", added, revision(api, path)))
    now, then = (ok(shared(secret))["things"][0]["answer"]["chart"] for secret in (live, frozen))
    assert (now["kpi"]["name"], now["count"]) == ("Ramp time", 13)
    assert (then["kpi"]["name"], then["count"]) == ("Ramp cycle", 12)
    Kpi.objects.get(slug=ramp).delete()
    assert ok(shared(frozen))["frozen"]


def test_a_password_is_asked_for_and_guesses_are_slowed(
    api: Api, ramp: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    secret = make(api, kind="chart", kpi=ramp, password="low water")
    assert shared(secret).status_code == 401
    assert Link.objects.get().opened == 0

    def key(password: str) -> Any:
        return Client().post(
            f"/api/v1/shared/{secret}/key", {"password": password}, "application/json"
        )

    assert key("high water").status_code == 403
    opened = ok(key("low water"))["key"]
    assert shared(secret, **{"X-Link-Key": opened}).status_code == 200
    assert shared(secret, **{"X-Link-Key": f"{opened}x"}).status_code == 401
    # A key opens the link that it was given for.
    other = make(api, kind="chart", kpi=ramp, password="low water")
    assert shared(other, **{"X-Link-Key": opened}).status_code == 401
    monkeypatch.setattr("django.conf.settings.SIGN_IN_TRIES", 2)
    assert [key("guess").status_code for _ in range(4)][-1] == 429


def test_links_stay_within_their_workspace_and_role(api: Api, ramp: str) -> None:
    make(api, kind="chart", kpi=ramp)
    mallory = Api(join("mallory", "elsewhere"), "elsewhere")
    assert mallory.send("POST", "/links", {"kind": "chart", "kpi": ramp}).status_code == 404
    number = Link.objects.get().pk
    assert mallory.send("DELETE", f"/links/{number}").status_code == 404
    rhona = Api(join("rhona", "marrowick"), "marrowick")
    assert rhona.send("DELETE", f"/links/{number}").status_code == 404
    viewer = add_person("mairi", "words that hold well", "marrowick", Role.VIEWER)
    assert Api(viewer, "marrowick").send("POST", "/links", {"kind": "chart"}).status_code == 403
    assert Link.objects.get().revoked_at is None


def test_frames_only_from_sites_that_an_owner_lists(api: Api, ramp: str) -> None:
    framed = make(api, kind="chart", kpi=ramp, embeddable=True)
    plain = make(api, kind="chart", kpi=ramp)

    def ancestors(path: str) -> tuple[str, str | None]:
        answer = Client().get(path)
        policy = answer["Content-Security-Policy"]
        (rule,) = [part for part in policy.split(";") if "frame-ancestors" in part]
        return rule.strip(), answer.get("X-Frame-Options")

    closed = ("frame-ancestors 'none'", "DENY")
    assert ancestors(f"/l/{framed}") == closed
    wrong = api.send("PUT", "/frames", {"origins": ["javascript:alert(1)"]})
    assert wrong.status_code == 400
    for origin in ("*", "https://a.example; script-src *", "https://a.example/path"):
        assert api.send("PUT", "/frames", {"origins": [origin]}).status_code == 400
    listed = {"origins": ["https://intranet.marrowick.example"]}
    rhona = Api(join("rhona", "marrowick"), "marrowick")
    assert rhona.send("PUT", "/frames", listed).status_code == 403
    assert api.send("PUT", "/frames", listed).status_code == 204
    assert ancestors(f"/l/{framed}") == (
        "frame-ancestors https://intranet.marrowick.example",
        None,
    )
    for path in (f"/l/{plain}", f"/l/{framed}x", "/marrowick"):
        assert ancestors(path) == closed
    api.send("DELETE", f"/links/{Link.objects.order_by('pk')[0].pk}")
    assert ancestors(f"/l/{framed}") == closed


def test_a_page_is_shared_with_its_charts_and_its_words(api: Api, ramp: str) -> None:
    page = ok(api.send("POST", "/pages", {"title": "Mondays"}))
    for panel in ({"kind": "text", "text": "# Ramps"}, {"kind": "chart", "kpis": [ramp]}):
        ok(api.send("POST", f"/pages/{page['id']}/panels", panel))
    secret = make(api, kind="page", page=page["id"], names=True)
    answer = ok(shared(secret))
    assert answer["by"] == "isla"
    words, chart = (thing["answer"] for thing in answer["things"])
    assert (words["text"], chart["chart"]["kpi"]["slug"]) == ("# Ramps", ramp)
    assert make(api, kind="page", page=page["id"]) != secret
    seen = ok(api.get(f"/pages/{page['id']}"))["revision"]
    assert api.send("DELETE", f"/pages/{page['id']}", None, seen).status_code == 204
    assert shared(secret).status_code == 410


def test_a_link_shows_beside_a_chart_what_was_chosen_and_names_no_other(api: Api) -> None:
    slug = api.add_kpi("Ramp cycle", [20, 22, 21, 23, 20, 22, 21, 45, 22, 21, 20, 22])
    other = api.add_kpi("Secret fee", [1, 2, 3, 4, 5, 6])
    path = f"/kpis/{slug}"
    kpis = [slug, other]
    own = {"title": "New seal", "first": "2026-02-02", "last": "2026-02-02", "kpis": kpis}
    everywhere = {
        "title": "Strike",
        "first": "2026-02-09",
        "last": "2026-02-09",
        "everywhere": True,
    }
    for event in (own, everywhere):
        ok(api.send("POST", f"{path}/lane", event, revision(api, path)))
    point = {"period": "2026-02-23", "reason": "a private reason"}
    ok(api.send("POST", f"{path}/aside", point, revision(api, path)))
    value = ok(api.get(f"{path}/values"))["values"][0]
    edit = {
        "period": value["period"],
        "value": value["value"],
        "note": "a private note",
        "seen": value["version"],
    }
    ok(api.send("POST", f"{path}/values", {"edits": [edit]}))
    said = {
        "events": "New seal",
        "everywhere": "Strike",
        "reasons": "a private reason",
        "notes": "a private note",
    }
    for count in range(len(said) + 1):
        shows = list(said)[:count]
        made = ok(api.send("POST", "/links", {"kind": "chart", "kpi": slug, "shows": shows}))
        secret = made["address"].rpartition("/")[2]
        text = Client().get(f"/api/v1/shared/{secret}").content.decode()
        assert [name for name, words in said.items() if words in text] == shows
        assert other not in text
        assert "Secret fee" not in text


def test_what_older_links_have_kept_is_shown_as_panels(api: Api, ramp: str) -> None:
    secret = make(api, kind="chart", kpi=ramp, frozen=True)
    link = Link.objects.get()
    (kept,) = link.frozen or []
    older = kept["answer"] | {"text": ""}
    words: dict[str, Any] = {
        "text": "# Ramps",
        "view": "",
        "chart": None,
        "pins": [],
        "hidden": None,
    }
    migration = import_module("fluctus.links.migrations.0003_frozen_panels")
    link.frozen = [migration.as_panel(n, thing) for n, thing in enumerate([older, words, kept])]
    link.save()
    chart, text, same = ok(shared(secret))["things"]
    assert (chart["title"], chart["answer"]) == (kept["title"], kept["answer"])
    assert (text["kind"], text["answer"]) == ("text", {"text": "# Ramps"})
    assert same == kept


def test_what_older_links_have_kept_has_the_names_of_today(api: Api, ramp: str) -> None:
    path, lines = f"/kpis/{ramp}", [{"key": "sum", "made": "sum"}]
    ok(api.send("PATCH", path, {"lines": lines}, revision(api, path)))
    make(api, kind="chart", kpi=ramp, frozen=True)
    (kept,) = Link.objects.get().frozen or []
    older = json.loads(
        json.dumps(kept)
        .replace('"other_scale"', '"apart"')
        .replace('"differences"', '"apart_from"')
        .replace('"derivation"', '"made"')
        .replace('"how"', '"made"')
    )
    assert older != kept
    migration = import_module("fluctus.links.migrations.0004_frozen_names")
    assert migration.renamed([older, kept]) == [kept, kept]
