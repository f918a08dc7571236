"""The stories that are built into the demo are what its charts say."""

from typing import Any

import pytest
from django.contrib.auth.models import User
from django.core.management import call_command
from django.test import Client

from fluctus.accounts.services import DEMO_PEOPLE
from fluctus.kpis.models import Kpi, Observation

BASE = "/api/v1/workspaces/marrowick/kpis"


@pytest.fixture
def client(filled_with_demo: None) -> Client:
    client = Client()
    client.post("/api/v1/session/demo")
    return client


def chart(client: Client, slug: str) -> Any:
    return client.get(f"{BASE}/{slug}/analysis").json()


def test_each_chart_says_its_story(client: Client) -> None:
    stories = {
        "turnaround-at-quay": "since New ramp drill on 18 May, 2.1 min less than before.",
        "fuel-per-crossing": "since Hull cleaned on 2 Mar, 23 L less than before.",
        "gate-cycle": "since Ticket reader on 7 Apr 2025 05:00, 1.1 s less than before.",
        "unplanned-stops": "Something changed around 14 Sep.",
        "departures-on-time": "Departures on time: 94.2% on average.",
        "galley-waste": "Galley waste: 40.5 kg on average.",
    }
    for slug, story in stories.items():
        headline = chart(client, slug)["sentence"]["headline"].replace("\xa0", " ")
        assert headline.endswith(story), headline


def test_turnaround_has_one_value_set_aside_and_one_unexplained(client: Client) -> None:
    body = chart(client, "turnaround-at-quay")
    points = body["points"]
    assert points["value"][13] == 29.4
    assert [s["title"] for s in body["signals"]] == [
        "Above the upper limit",
        "2 ranges above limit",
    ]
    assert {s["label"] for s in body["signals"]} == {"31 Aug"}
    assert body["comparison"]["before"] == "Before"
    assert "20 of 26 weeks met the target" in body["sentence"]["detail"]


def test_a_steady_process_that_cannot_meet_its_target_says_so(client: Client) -> None:
    detail = chart(client, "departures-on-time")["sentence"]["detail"].replace("\xa0", " ")
    assert "Five of 58 weeks met the target of 96.0%." in detail
    assert chart(client, "galley-waste")["signals"] == []


def test_three_years_by_the_hour_arrive_thinned(client: Client) -> None:
    body = chart(client, "gate-cycle")
    assert body["count"] == 19_782
    assert len(body["points"]["value"]) < 8_000
    assert body["points"]["period"][0] == "2023-11-13T05:00+00:00"
    assert body["segments"][1]["start"] == "2025-04-07T05:00+01:00"


def test_the_strike_is_set_aside_and_the_season_is_seen(client: Client) -> None:
    body = chart(client, "passengers-a-day")
    assert [one["reason"] for one in body["set_aside"]] == ["Strike, no sailings after noon"]
    assert body["finding_count"] > 5  # a season charted as if there were none


def test_what_a_person_changed_survives_the_next_start(client: Client) -> None:
    Kpi.objects.filter(slug="berth-fee").delete()
    Kpi.objects.filter(slug="galley-waste").update(target=30)
    rows = Observation.objects.count()
    call_command("load_demo", verbosity=0)
    assert not Kpi.objects.filter(slug="berth-fee").exists()
    assert Kpi.objects.get(slug="galley-waste").target == 30
    assert Observation.objects.count() == rows


def test_its_people_have_decided_on_some_of_it_and_said_why(client: Client) -> None:
    acts = client.get(f"{BASE}/turnaround-at-quay/history").json()["acts"]
    assert [(act["author"], act["summary"]) for act in acts] == [
        (
            "Isla Corrie",
            "Put a shift at 18 May 2026: Two hands on the linkspan, cars called by lane.",
        ),
        ("Isla Corrie", "Set 5 Jan 2026 aside: Gale, ramp closed"),
    ]
    review = chart(client, "turnaround-at-quay")["segments"][1]["review"]
    assert set(review.values()) == {"yes"}
    counts = client.get("/api/v1/workspaces/marrowick/findings").json()["counts"]
    assert all(counts[state] for state in ("open", "looking", "explained", "aside", "shift"))
    stops = client.get(f"{BASE}/unplanned-stops/findings").json()
    assert [one["person_name"] for one in stops if one["state"] == "explained"] == ["Rhona Baird"]
    # The colleagues cannot be signed in as: only the visitor's account is open.
    assert set(User.objects.values_list("username", flat=True)) == set(DEMO_PEOPLE)
    assert not any(one.has_usable_password() for one in User.objects.all())
