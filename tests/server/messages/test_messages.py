"""Who is told of what: once, as they wish, by mail and by webhook, and what goes wrong."""

from datetime import datetime, timedelta
from email.mime.image import MIMEImage
from smtplib import SMTPRecipientsRefused
from typing import Any
from zoneinfo import ZoneInfo

import pytest
from django.core import mail
from django.core.mail import EmailMultiAlternatives
from django.utils import timezone

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
from tests.server.messages.conftest import STEADY, person, wish, write


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
