"""Findings as they were when each signal was one: they become happenings, and lose nothing."""

import json
from pathlib import Path

from django.contrib.auth.models import User
from django.core.management import call_command

from fluctus.core.judgment import happenings_of
from fluctus.findings.models import Entry, Finding, FindingPresence
from fluctus.http import clock
from fluctus.kpis.chart.queries import chart_of
from fluctus.kpis.models import Kpi

STORED = json.loads((Path(__file__).parent / "signals_each.json").read_text())
"""The findings of the demo, one for each signal, with what its people made of them."""


def restore() -> None:
    """Put what an older version had stored in the place of the findings."""
    Finding.objects.all().delete()
    kpis = {kpi.slug: kpi for kpi in Kpi.objects.all()}
    people = {person.username: person for person in User.objects.all()}
    for stored in STORED:
        row = dict(stored)
        entries = row.pop("entries")
        finding = Finding.objects.create(
            **row | {"kpi": kpis[row["kpi"]], "person": people.get(row["person"] or "")}
        )
        for entry in entries:
            author = people.get(entry["author"] or "")
            Entry.objects.create(finding=finding, **entry | {"author": author})
    for kpi in kpis.values():
        digest = {name: value for name, value in kpi.digest.items() if name != "format"}
        Kpi.objects.filter(pk=kpi.pk).update(digest=digest)


def test_findings_of_signals_become_findings_of_happenings(filled_with_demo: None) -> None:
    restore()
    slugs = {stored["kpi"] for stored in STORED}
    before = Finding.objects.count()
    causes = set(Finding.objects.exclude(cause="").values_list("cause", flat=True))
    remarks = set(Entry.objects.values_list("pk", flat=True))
    given = set(Finding.objects.exclude(person=None).values_list("person__username", flat=True))
    call_command("renew_charts", verbosity=0)
    assert Finding.objects.filter(kpi__slug__in=slugs).count() < before
    for kpi in Kpi.objects.filter(slug__in=slugs):
        chart = chart_of(kpi, clock.now())
        present = Finding.objects.filter(kpi=kpi, presence=FindingPresence.PRESENT)
        every = happenings_of(chart.analysis)
        assert present.count() == int(every.raised_by(chart.raising).sum()), kpi.slug
    # Every cause, remark and act of history is there, and with those that people had worked on.
    told = " ".join(Entry.objects.values_list("text", flat=True))
    kept = set(Finding.objects.exclude(cause="").values_list("cause", flat=True))
    assert all(cause in kept or cause in told for cause in causes)
    assert set(Entry.objects.values_list("pk", flat=True)) >= remarks
    assert (
        set(Finding.objects.exclude(person=None).values_list("person__username", flat=True))
        >= given
    )
    (meter,) = Finding.objects.filter(kpi__slug="engine-hours", rule="outside_limits")
    assert (meter.state, meter.cause) == ("explained", "Meter replaced; the new one starts at 0.")
    assert [entry["rule"] for entry in meter.evidence] == ["range_outside_limit"]
