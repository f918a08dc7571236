"""Who is told of what: once, as they wish, by mail and by webhook, and what goes wrong."""

import json
from datetime import datetime, timedelta
from email.mime.image import MIMEImage
from smtplib import SMTPRecipientsRefused
from typing import Any
from zoneinfo import ZoneInfo

import pytest
from django.contrib.auth.models import User
from django.core import mail
from django.core.mail import EmailMultiAlternatives
from django.utils import timezone
from lxml import etree

from demo.booking_office.office import Office
from fluctus.accounts.models import Workspace
from fluctus.findings.models import Finding
from fluctus.findings.services import change_finding
from fluctus.kpis.chart.renewal import renew_ended
from fluctus.messages import outbox, scheduled
from fluctus.messages.happening import note_time
from fluctus.messages.letters import Letter
from fluctus.messages.models import (
    Delivery,
    DeliveryState,
    Digest,
    Happening,
    ScheduledReport,
    Topic,
)
from fluctus.overview.models import KpiSummary
from fluctus.reports import jobs as report_jobs
from tests.conftest import Api, join, ok
from tests.server.feeds.conftest import office

__all__ = ["office"]
STEADY = [20.0, 21, 20, 22, 21, 20, 21, 22, 20, 21, 20, 22]


@pytest.fixture(autouse=True)
def sends(settings: Any) -> None:
    settings.SENDS_MAIL = True
    settings.EMAIL_BACKEND = "django.core.mail.backends.locmem.EmailBackend"
    settings.SITE_ADDRESS = "https://fluctus.example"


def person(name: str) -> User:
    row = User.objects.get(username=name)
    row.email = f"{name}@example.org"
    row.save()
    return row


def write(api: Api, slug: str, week: str, value: float) -> None:
    edits = {"edits": [{"period": week, "value": value}]}
    ok(api.send("POST", f"/kpis/{slug}/values", edits))


def wish(api: Api, how: dict[str, str], **of: Any) -> None:
    ok(api.send("PUT", "/messages/wish", {"how": how, **of}))


@pytest.fixture
def signal(api: Api) -> str:
    """A steady KPI that then has a value far beyond its limits."""
    slug = api.add_kpi("Turnaround", STEADY)
    outbox.ensure_digests(timezone.now())
    assert not Happening.objects.exists(), "what came with a chart is history"
    write(api, slug, "2026-03-30", 60.0)
    return slug


def test_one_happening_is_one_message(api: Api, signal: str) -> None:
    person("isla")
    wish(api, {"beyond_limits": "at_once", "other_signals": "at_once"})
    now = timezone.now()
    assert outbox.hand_on(now) == 1
    write(api, signal, "2026-04-06", 61.0)
    write(api, signal, "2026-04-13", 62.0)
    outbox.hand_on(now)
    outbox.send_due(now)
    beyond = [letter for letter in mail.outbox if "above" in letter.subject.lower()]
    assert len(beyond) == len({letter.subject for letter in beyond})
    letter = mail.outbox[0]
    assert letter.to == ["isla@example.org"]
    assert "https://fluctus.example/marrowick/charts/turnaround?finding=" in str(letter.body)
    assert outbox.send_due(now + timedelta(days=2)) == 0


def test_a_finding_that_goes_before_the_letter_is_not_told(api: Api, signal: str) -> None:
    person("isla")
    wish(api, {"beyond_limits": "at_once"})
    now = timezone.now()
    outbox.hand_on(now)
    value = ok(api.get(f"/kpis/{signal}/values"))["values"][-1]
    gone = {"period": "2026-03-30", "value": 21.0, "seen": value["version"]}
    ok(api.send("POST", f"/kpis/{signal}/values", {"edits": [gone]}))
    outbox.send_due(now)
    assert mail.outbox == []
    assert Delivery.objects.get().state == DeliveryState.ABANDONED
    assert ok(api.get("/messages"))["told"] == []


def test_the_default_is_quiet(api: Api, signal: str) -> None:
    isla, rhona = person("isla"), join("rhona", "marrowick")
    rhona.email = "rhona@example.org"
    rhona.save()
    now = timezone.now()
    outbox.ensure_digests(now)
    note_time(now)
    outbox.hand_on(now)
    outbox.send_due(now)
    assert mail.outbox == []
    finding = Finding.objects.first()
    assert finding is not None
    change_finding(finding, finding.version, {"person": "rhona"}, isla)
    note_time(now)
    outbox.hand_on(now)
    outbox.send_due(now)
    assert [letter.to for letter in mail.outbox] == [["rhona@example.org"]]
    assert "is yours to look into" in str(mail.outbox[0].body)


@pytest.mark.parametrize(
    ("near", "heard"),
    [
        ({"how": {"beyond_limits": "not"}, "kpi": "turnaround"}, False),
        ({"how": {"beyond_limits": "not"}, "group": "Elsewhere"}, True),
        ({"how": {"late": "not"}, "kpi": "turnaround"}, True),
        ({"how": {}, "kpi": "turnaround", "quiet_until": "2100-01-01T00:00:00Z"}, False),
        ({"how": {}, "kpi": "turnaround", "quiet_until": "2001-01-01T00:00:00Z"}, True),
    ],
)
def test_the_nearest_wish_counts(api: Api, near: dict[str, Any], heard: bool) -> None:
    slug = api.add_kpi("Turnaround", STEADY)
    person("isla")
    wish(api, {"beyond_limits": "at_once"})
    ok(api.send("PUT", "/messages/wish", near))
    write(api, slug, "2026-03-30", 60.0)
    assert outbox.hand_on(timezone.now()) == int(heard)


def test_many_findings_at_once_are_one_message_that_says_how_many(api: Api) -> None:
    slug = api.add_kpi("Turnaround", STEADY)
    person("isla")
    wish(api, {"beyond_limits": "at_once", "other_signals": "at_once"})
    values = [n % 2 * 40.0 + (n % 7) * 30 for n in range(80)]
    rows = "\n".join(
        f"{datetime(2026, 3, 30) + timedelta(weeks=n * 3):%Y-%m-%d},{value}"
        for n, value in enumerate(values)
    )
    ok(api.bring_in(f"Week,Turnaround (s)\n{rows}", into=slug))
    new = Happening.objects.filter(topic__in=[Topic.BEYOND_LIMITS, Topic.OTHER_SIGNALS])
    assert new.count() <= 5 or "new findings" in new.get().text
    assert outbox.hand_on(timezone.now()) <= 1


def test_late_is_raised_once_at_its_minute(api: Api) -> None:
    slug = api.add_kpi("Turnaround", STEADY)
    outbox.ensure_digests(timezone.now())
    Happening.objects.create(
        workspace=Workspace.objects.get(slug="marrowick"),
        topic=Topic.FEED,
        key="looked at before",
        at=timezone.now(),
        text="",
        path="",
    )
    late_from = ok(api.get("/overview"))["rows"][0]
    assert late_from["slug"] == slug
    due = KpiSummary.objects.get(kpi__slug=slug).late_from
    assert due is not None
    late = Happening.objects.filter(topic=Topic.LATE)
    note_time(due - timedelta(minutes=1))
    assert not late.exists()
    for later in (0, 1, 60 * 24 * 40):
        note_time(due + timedelta(minutes=later))
    assert late.get().at == due
    # The next value comes, and the one after it is late in its turn.
    write(api, slug, "2026-03-30", 21.0)
    renew_ended(due + timedelta(days=100))
    note_time(due + timedelta(days=100))
    assert late.count() == 2


def test_values_that_always_come_late_are_late_later(api: Api) -> None:
    def late_after_end(lag: timedelta) -> timedelta:
        slug = api.add_kpi(f"Turnaround {lag.days}", STEADY)
        for week in range(4):
            monday = datetime(2026, 3, 30, tzinfo=ZoneInfo("UTC")) + timedelta(weeks=week)
            with pytest.MonkeyPatch.context() as patch:
                at = monday + timedelta(weeks=1) + lag
                patch.setattr("django.utils.timezone.now", lambda at=at: at)
                write(api, slug, f"{monday:%Y-%m-%d}", 21.0)
        due = KpiSummary.objects.get(kpi__slug=slug).late_from
        assert due is not None
        return due - datetime(2026, 5, 4, tzinfo=ZoneInfo("UTC"))

    assert late_after_end(timedelta(days=1)) == timedelta(days=1 + 7 / 4)
    assert late_after_end(timedelta(days=9)) == timedelta(days=9 + 7 / 4)


def test_the_digest_comes_at_its_hour_in_its_zone_and_tells_once(api: Api, signal: str) -> None:
    isla = person("isla")
    schedule = {"every": "week", "weekday": 0, "minute": 7 * 60}
    form = {"schedule": schedule, "time_zone": "Europe/Berlin"}
    ok(api.send("PUT", "/messages/digest", form))
    digest = Digest.objects.get(person=isla)
    assert digest.next_at.astimezone(ZoneInfo("Europe/Berlin")).strftime("%A %H:%M") == (
        "Monday 07:00"
    )
    Digest.objects.update(since=timezone.now() - timedelta(days=1))
    seen = ok(api.get("/messages/letter"))
    assert seen["sends"]
    assert outbox.write_digests(digest.next_at - timedelta(seconds=1)) == 0
    assert outbox.write_digests(digest.next_at) == 1
    assert outbox.write_digests(digest.next_at) == 0
    outbox.send_due(digest.next_at)
    (letter,) = mail.outbox
    body = str(letter.body)
    assert "Turnaround" in body
    assert "Beyond the limits" in body
    assert isinstance(letter, EmailMultiAlternatives)
    html = str(letter.alternatives[0][0])
    pictures = [part for part in letter.attachments if isinstance(part, MIMEImage)]
    assert [picture["Content-ID"] for picture in pictures] == [f"<{signal}@chart>"]
    assert bytes(pictures[0].get_payload(decode=True)).startswith(b"\x89PNG")
    assert f"cid:{signal}@chart" in html
    assert "How they stand" in body
    assert all(line.strip("- ") in html for line in body.splitlines() if line.startswith("- "))
    # A week later there is nothing to tell, and so no letter; unless one is wished.
    week = digest.next_at + timedelta(weeks=1)
    assert outbox.write_digests(week) == 0
    ok(api.send("PUT", "/messages/digest", form | {"even_if_nothing": True}))
    Digest.objects.update(next_at=week, since=week - timedelta(hours=1))
    assert outbox.write_digests(week) == 1


def test_one_click_ends_all_mail_of_a_workspace(api: Api, signal: str, client: Any) -> None:
    person("isla")
    wish(api, {"beyond_limits": "at_once"})
    now = timezone.now()
    outbox.hand_on(now)
    outbox.send_due(now)
    headers = mail.outbox[0].extra_headers
    assert headers["List-Unsubscribe-Post"] == "List-Unsubscribe=One-Click"
    path = headers["List-Unsubscribe"].strip("<>").removeprefix("https://fluctus.example")
    form = "application/x-www-form-urlencoded"
    assert client.post(path[:-3] + "xxx", "", form).status_code == 404
    answer = client.post(path, "List-Unsubscribe=One-Click", form)
    assert answer.status_code == 204, answer.content
    assert ok(api.get("/messages"))["digest"]["no_mail"]
    write(api, api.add_kpi("Other", STEADY), "2026-03-30", 60.0)
    assert outbox.hand_on(now) == 0


def sent() -> list[str]:
    """Let a worker look once; returns the letters that this sends, with whom they went to."""
    mail.outbox.clear()
    note_time(timezone.now())
    outbox.hand_on(timezone.now())
    outbox.send_due(timezone.now())
    return [f"{letter.to[0]}: {letter.body}" for letter in mail.outbox]


def test_who_is_named_is_told_by_mail_once_and_not_by_themselves(api: Api, signal: str) -> None:
    join("edith", "marrowick")
    for name in ("isla", "edith"):
        person(name)
    finding = ok(api.get("/findings"))["findings"][0]
    sent()
    remark = {"text": "@edith and @isla, was it the pump? @edithson knows nothing of it."}
    ok(api.send("POST", f"/findings/{finding['id']}/remarks", remark))
    (letter,) = sent()
    assert letter.startswith("edith@example.org: ")
    assert "was it the pump?" in letter
    assert f"/charts/{signal}?finding={finding['id']}" in letter
    assert sent() == []


def test_a_name_in_an_event_is_told_unless_it_is_taken_out_before(api: Api) -> None:
    join("edith", "marrowick")
    person("edith")
    event = {"title": "New pump", "first": "2026-10-05", "last": "2026-10-05", "everywhere": True}
    made = ok(api.send("POST", "/events", event | {"text": "Ask @edith"}))
    path = f"/events/{made['id']}?version="
    ok(api.send("PATCH", f"{path}{made['version']}", {"text": "Ask nobody"}))
    assert sent() == []
    ok(api.send("PATCH", f"{path}{made['version'] + 1}", {"text": "@Edith!"}))
    (letter,) = sent()
    assert "the event New pump" in letter


def test_a_letter_that_cannot_be_sent_holds_up_no_other(
    api: Api, monkeypatch: pytest.MonkeyPatch
) -> None:
    workspace = Workspace.objects.get(slug="marrowick")
    isla = person("isla")
    for subject in ("broken", "Two\r\nBcc: rhona@example.org"):
        letter = Letter(subject, "Opening", (), "Closing")
        outbox.write_letter(workspace, letter, timezone.now(), isla)
    real = EmailMultiAlternatives.send

    def send(letter: EmailMultiAlternatives) -> int:
        if letter.subject == "broken":
            raise ZeroDivisionError
        return real(letter)

    monkeypatch.setattr(EmailMultiAlternatives, "send", send)
    assert len(sent()) == 1
    assert mail.outbox[0].subject == "Two Bcc: rhona@example.org"
    assert Delivery.objects.get(subject="broken").state == DeliveryState.WAITING


@pytest.mark.parametrize(("code", "stops"), [(550, True), (452, False)])
def test_mail_that_is_refused_for_good_stops_and_says_why(
    api: Api, signal: str, code: int, stops: bool, monkeypatch: pytest.MonkeyPatch
) -> None:
    address = person("isla").email
    wish(api, {"beyond_limits": "at_once"})

    def refuse(letter: EmailMultiAlternatives) -> int:
        raise SMTPRecipientsRefused({address: (code, b"No such mailbox")})

    monkeypatch.setattr(EmailMultiAlternatives, "send", refuse)
    assert sent() == []
    delivery = Delivery.objects.get(person__username="isla")
    assert delivery.state == (DeliveryState.ABANDONED if stops else DeliveryState.WAITING)
    digest = ok(api.get("/messages"))["digest"]
    assert digest["no_mail"] is stops
    assert digest["refused"] == ("550 No such mailbox" if stops else "")
    monkeypatch.undo()
    form = {name: digest[name] for name in ("schedule", "time_zone", "even_if_nothing")}
    again = ok(api.send("PUT", "/messages/digest", form | {"no_mail": False}))["digest"]
    assert (again["no_mail"], again["refused"]) == (False, "")


def test_a_letter_sent_twice_can_be_told(api: Api, signal: str, monkeypatch: Any) -> None:
    person("isla")
    wish(api, {"beyond_limits": "at_once"})
    now = timezone.now()
    outbox.hand_on(now)

    class Died(BaseException):
        """The sender is gone between sending and noting that."""

    def die(*given: Any) -> None:
        raise Died

    with monkeypatch.context() as patch:
        patch.setattr(outbox, "_note", die)
        with pytest.raises(Died):
            outbox.send_due(now)
    assert outbox.send_due(now) == 0, "it is held for the one that may still be at it"
    assert outbox.send_due(now + outbox.HELD) == 1
    first, second = mail.outbox
    assert first.extra_headers["Message-ID"] == second.extra_headers["Message-ID"]


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


def test_a_report_is_made_by_itself_and_mailed_once(
    api: Api, signal: str, monkeypatch: Any
) -> None:
    person("isla")
    monkeypatch.setattr(report_jobs.make_report, "defer", lambda **job: None)
    asked = {"title": "Monday's charts", "format": "pdf", "scope": "kpis", "kpis": [signal]}
    report = ok_202(api.send("POST", "/reports", asked))
    schedule = {"every": "week", "weekday": 0, "minute": 420}
    form = {"schedule": schedule, "time_zone": "Europe/Berlin", "to": ["isla"]}
    path = f"/reports/{report['id']}/scheduled"
    assert api.send("POST", path, form | {"to": ["nobody"]}).status_code == 422
    kept = ok(api.send("POST", path, form))
    assert kept["says"] == "Every Monday at 07:00, to isla"
    due = ScheduledReport.objects.get().next_at
    assert scheduled.ask_for_due(due - timedelta(seconds=1)) == 0
    assert scheduled.ask_for_due(due + timedelta(days=30)) == 1
    assert scheduled.ask_for_due(due + timedelta(days=30)) == 0
    assert scheduled.mail_made(due) == 0, "it is not made yet"
    made = ScheduledReport.objects.get().last_report
    assert made is not None
    report_jobs.make_report(job_id=made.pk)
    assert [scheduled.mail_made(due) for _ in range(2)] == [1, 0]
    outbox.send_due(due)
    ((name, content, kind),) = mail.outbox[-1].attachments
    assert (name, kind) == ("mondays-charts.pdf", "application/pdf")
    assert bytes(content).startswith(b"%PDF")
    # Where nothing is left to show, it says so, and nothing is sent.
    ScheduledReport.objects.update(asked=made.asked | {"kpis": ["gone"]})
    scheduled.ask_for_due(due + timedelta(days=60))
    assert ok(api.get("/scheduled-reports"))[0]["problem"]
    assert api.send("DELETE", f"/scheduled-reports/{kept['id']}").status_code == 204
    assert ok(api.get("/scheduled-reports")) == []


def ok_202(answer: Any) -> Any:
    assert answer.status_code == 202, answer.content
    return answer.json()


def test_what_one_hears_of_is_ones_own(api: Api, signal: str) -> None:
    other = Api(join("rhona", "marrowick"), "marrowick")
    wish(api, {"beyond_limits": "not", "other_signals": "not", "shift": "not"})
    assert ok(api.get("/messages"))["told"] == []
    assert ok(other.get("/messages"))["told"]
    assert other.get("/webhooks").status_code == 403
    stranger = Api(join("eve", "elsewhere"), "elsewhere")
    assert ok(stranger.get("/messages"))["told"] == []
    assert api.send("PUT", "/messages/wish", {"how": {"weather": "not"}}).status_code == 400
