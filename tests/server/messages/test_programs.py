"""Programs that hear of what happens: webhooks, and addresses to follow."""

import json
from datetime import timedelta
from typing import Any

from django.utils import timezone
from lxml import etree

from demo.booking_office.office import Office
from fluctus.messages import outbox
from fluctus.messages.models import (
    Delivery,
    DeliveryState,
)
from tests.conftest import Api, ok
from tests.server.messages.conftest import STEADY, write


def hook_of(api: Api, office: tuple[Office, str]) -> tuple[dict[str, Any], str]:
    form = {"name": "Ours", "address": f"{office[1]}/hook", "topics": ["beyond_limits", "late"]}
    made = ok(api.send("POST", "/webhooks", form))
    return made["webhook"], made["secret"]


def test_a_webhook_is_signed_retried_and_sent_once_by_key(
    api: Api, office: tuple[Office, str]
) -> None:
    it, _ = office
    slug = api.add_kpi("Turnaround", STEADY)
    hook, secret = hook_of(api, office)
    write(api, slug, "2026-03-30", 60.0)
    now = timezone.now()
    it.answers = 503
    outbox.hand_on(now)
    waits, at = [], now
    for _ in range(20):
        outbox.send_due(at)
        row = Delivery.objects.get()
        if row.state != DeliveryState.WAITING:
            break
        waits.append(row.next_at - at)
        at = row.next_at
    assert row.state == DeliveryState.ABANDONED
    assert waits == sorted(waits)
    assert timedelta(hours=20) < at - now < timedelta(hours=30)
    it.answers = 200
    (told,) = ok(api.get("/webhooks"))
    ok_again = api.send("POST", f"/deliveries/{told['deliveries'][0]['id']}/again")
    assert ok_again.status_code == 202
    assert outbox.send_due(timezone.now()) == 1
    got = it.received[-1]
    event = json.loads(got["body"])
    assert (event["specversion"], event["type"]) == ("1.0", "fluctus.beyond-limits")
    assert event["data"]["kpi"] == {"slug": slug, "name": "Turnaround"}
    moment = got["headers"]["Fluctus-Time"]
    assert got["headers"]["Fluctus-Signature"] == outbox.signature(
        secret, moment, got["body"].encode()
    )
    assert len({json.loads(one["body"])["id"] for one in it.received}) == 1
    assert secret not in json.dumps(ok(api.get("/webhooks")))
    assert hook["ended"] == ""


def test_a_webhook_that_is_gone_ends_and_can_be_tried_again(
    api: Api, office: tuple[Office, str]
) -> None:
    it, _ = office
    hook, _ = hook_of(api, office)
    ok_try = api.send("POST", f"/webhooks/{hook['id']}/try")
    assert ok_try.status_code == 202
    it.answers = 410
    outbox.send_due(timezone.now())
    assert ok(api.get("/webhooks"))[0]["ended"] == "It said that it is gone (410)."
    write(api, api.add_kpi("Turnaround", STEADY), "2026-03-30", 60.0)
    outbox.hand_on(timezone.now())
    assert Delivery.objects.count() == 1


def test_a_webhook_reaches_nothing_inside(api: Api, settings: Any) -> None:
    settings.FEEDS_MAY_REACH = []
    form = {"name": "In", "address": "http://127.0.0.1:1/x", "topics": ["late"]}
    hook = ok(api.send("POST", "/webhooks", form))["webhook"]
    api.send("POST", f"/webhooks/{hook['id']}/try")
    outbox.send_due(timezone.now())
    assert "inside the network" in Delivery.objects.get().answer
    assert api.send("POST", "/webhooks", form | {"address": "ftp://x"}).status_code == 400


def test_programs_follow_by_an_address_that_opens_nothing_else(
    api: Api, signal: str, client: Any
) -> None:
    event = {"title": "Fog & <rain>", "first": "2026-03-30", "last": "2026-03-30"}
    ok(api.send("POST", "/events", event | {"everywhere": True}))
    made = ok(api.send("POST", "/messages/address"))
    paths = {name: told.removeprefix("https://fluctus.example") for name, told in made.items()}
    atom = client.get(paths["findings"])
    assert atom["Content-Type"].startswith("application/atom+xml")
    feed = etree.fromstring(atom.content)
    space = "{http://www.w3.org/2005/Atom}"
    titles = [entry.findtext(f"{space}title") or "" for entry in feed.iter(f"{space}entry")]
    assert titles
    assert all(title.startswith("Turnaround: ") for title in titles)
    ids = [entry.findtext(f"{space}id") for entry in feed.iter(f"{space}entry")]
    assert len(set(ids)) == len(ids)
    calendar = client.get(paths["events"])
    assert b"Fog & <rain>" in calendar.content
    secret = paths["events"].split("/")[-2]
    for other in ("messages", "kpis", "findings"):
        answer = client.get(
            f"/api/v1/workspaces/marrowick/{other}", headers={"Authorization": f"Bearer {secret}"}
        )
        assert answer.status_code == 401
    again = ok(api.send("POST", "/messages/address"))
    assert client.get(paths["findings"]).status_code == 404
    path = again["findings"].removeprefix("https://fluctus.example")
    assert api.send("DELETE", "/messages/address").status_code == 204
    assert client.get(path).status_code == 404
