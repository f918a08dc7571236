"""Writes of improvements, each one transaction."""

from collections.abc import Callable, Iterable
from dataclasses import dataclass, fields
from datetime import date
from typing import Any

from django.contrib.auth.models import User
from django.db import transaction

from fluctus.accounts.models import Workspace
from fluctus.accounts.queries import name_of
from fluctus.findings.models import Finding
from fluctus.http.refusals import Issue, NotThereError, RefusalError
from fluctus.improvements.following import keep_outcome
from fluctus.improvements.models import Aim, Improvement, ImprovementAct, Wanted
from fluctus.improvements.queries import MOST, improvements_in
from fluctus.kpis.actor import Actor
from fluctus.kpis.chart.analysis.chart import Chart
from fluctus.kpis.chart.queries import chart_of
from fluctus.kpis.models import Event, Kpi

NOT_SAVED = "The improvement was not saved."


@dataclass(frozen=True, slots=True)
class AimState:
    """What an improvement is to do to one KPI."""

    kpi: str
    wanted: str
    amount: float | None = None
    by: date | None = None
    worth: float | None = None
    worth_unit: str = ""


KEPT = [each.name for each in fields(AimState) if each.name != "kpi"]
"""What an aim keeps as it is said."""


@transaction.atomic
def create_improvement(
    workspace: Workspace, form: dict[str, Any], aims: list[AimState], actor: Actor
) -> Improvement:
    """Save an improvement; raises RefusalError for what cannot be, naming the field."""
    if improvements_in(workspace).count() >= MOST:
        issue = Issue(f"There are {MOST}.", "Remove those that nobody asks about.")
        raise RefusalError(NOT_SAVED, issue, status=409)
    kpis = _locked_kpis(workspace, aims)
    row = Improvement(workspace=workspace)
    _set(row, form)
    row.save()
    _keep_aims(row, aims, kpis, actor)
    ImprovementAct.objects.create(improvement=row, author=actor.person, text="Written down")
    return row


@transaction.atomic
def change_improvement(
    improvement: Improvement,
    version: int,
    form: dict[str, Any],
    aims: list[AimState] | None,
    actor: Actor,
) -> Improvement:
    """Change an improvement; raises RefusalError (412) where somebody else has meanwhile."""
    workspace = improvement.workspace
    # The KPIs first, as every write to a chart does, so that two never wait for each other.
    own = Kpi.objects.filter(aims__improvement=improvement).values_list("slug", flat=True)
    kpis = _locked_kpis(workspace, aims or [], own)
    row = _locked(improvement, version)
    told = _set(row, form)
    if aims is not None:
        told += _keep_aims(row, aims, kpis, actor)
    elif told:
        for aim in row.aims.select_related("kpi", "improvement"):
            aim.improvement = row
            keep_outcome(aim, chart_of(kpis[aim.kpi.slug], actor.now), noted=False)
    if told:
        row.version += 1
        row.save()
        text = "; ".join(told)[:500]
        ImprovementAct.objects.create(improvement=row, author=actor.person, text=text)
    return row


@transaction.atomic
def remove_improvement(improvement: Improvement, version: int, actor: Actor) -> None:
    """Remove an improvement; it can be brought back."""
    row = _locked(improvement, version)
    row.removed_at = actor.now
    row.version += 1
    row.save()
    ImprovementAct.objects.create(improvement=row, author=actor.person, text="Removed")


@transaction.atomic
def bring_back(improvement: Improvement, actor: Actor) -> Improvement:
    """Bring a removed improvement back."""
    row = _locked(improvement, None)
    if row.removed_at is not None:
        row.removed_at = None
        row.version += 1
        row.save()
        ImprovementAct.objects.create(improvement=row, author=actor.person, text="Brought back")
    return row


def _locked(improvement: Improvement, version: int | None) -> Improvement:
    rows = Improvement.objects.select_for_update(of=("self",), no_key=True)
    row = rows.select_related("workspace", "owner").filter(pk=improvement.pk).first()
    if row is None:
        raise NotThereError("improvement")
    if version is not None and row.version != version:
        last = row.acts.exclude(author=None).order_by("-pk").first()
        told = f"Meanwhile: {name_of(last.author)}: {last.text}." if last else ""
        raise RefusalError(
            "This improvement has changed since you opened it.",
            Issue(told, "Nothing was changed. Look at it as it is now, then change it again."),
            status=412,
            revision=row.version,
        )
    return row


def _locked_kpis(
    workspace: Workspace, aims: list[AimState], more: Iterable[str] = ()
) -> dict[str, Kpi]:
    """Lock the KPIs of some aims, in the order that all who write do."""
    wanted = {aim.kpi for aim in aims} | set(more)
    rows = Kpi.objects.select_for_update(of=("self",), no_key=True).filter(
        workspace=workspace, slug__in=wanted
    )
    kpis = {kpi.slug: kpi for kpi in rows.order_by("pk")}
    for number, aim in enumerate(aims):
        if aim.kpi not in kpis:
            raise _refused("There is no such KPI.", "Choose another.", f"aims.{number}.kpi")
    return kpis


def _set(row: Improvement, form: dict[str, Any]) -> list[str]:
    """Set what is said of an improvement itself; returns what was changed, in words."""
    told = []
    found: dict[str, Callable[[Any], Any]] = {
        "owner": lambda name: _member(row.workspace, name),
        "finding": lambda pk: _only(
            Finding.objects.filter(pk=pk, kpi__workspace=row.workspace), "finding"
        ),
        "event": lambda pk: _only(Event.objects.filter(pk=pk, workspace=row.workspace), "event"),
    }
    for name, given in form.items():
        value = found[name](given) if name in found and given is not None else given
        if getattr(row, name) == value:
            continue
        setattr(row, name, value)
        told.append(_in_words(name, value))
    if not row.name.strip():
        raise _refused("A name is missing.", "Say what was done.", "name")
    return told


def _in_words(name: str, value: Any) -> str:
    if name == "name":
        return f"Named {value}"
    if name == "owner":
        return f"Given to {name_of(value)}" if value else "Given to nobody"
    if name == "began":
        return f"Began on {value:%-d %B %Y}"
    if name == "text":
        return "Text changed" if value else "Text removed"
    return "What it was made from changed"


def _only(rows: Any, name: str) -> Any:
    row = rows.first()
    if row is None:
        raise NotThereError(name)
    return row


def _member(workspace: Workspace, name: str | None) -> User | None:
    if not name:
        return None
    person = User.objects.filter(workspaces=workspace, username=name).first()
    if person is None:
        raise _refused(f"{name} is not in this workspace.", "Choose somebody who is.", "owner")
    return person


def _keep_aims(
    row: Improvement, aims: list[AimState], kpis: dict[str, Kpi], actor: Actor
) -> list[str]:
    """Make the aims of an improvement those given; returns what was changed, in words."""
    _refuse_twice(aims)
    there = {aim.kpi.slug: aim for aim in row.aims.select_related("kpi")}
    told = [f"No longer to move {aim.kpi.name}" for slug, aim in there.items() if slug not in kpis]
    row.aims.exclude(kpi__in=[kpis[aim.kpi] for aim in aims]).delete()
    for number, state in enumerate(aims):
        kpi = kpis[state.kpi]
        chart = chart_of(kpi, actor.now)
        _refuse(row, state, chart, f"aims.{number}")
        aim = there.get(state.kpi) or Aim(improvement=row, kpi=kpi)
        before = [getattr(aim, name) for name in KEPT]
        aim.improvement = row
        for name in KEPT:
            setattr(aim, name, getattr(state, name))
        aim.save()
        # What is said anew is no news of the data.
        keep_outcome(aim, chart, noted=False)
        if [getattr(aim, name) for name in KEPT] != before:
            told.append(f"To move {kpi.name} {Wanted(aim.wanted).value}")
    return told


def _refuse_twice(aims: list[AimState]) -> None:
    if not aims:
        raise _refused("It moves no KPI.", "Choose what it is to move.", "aims")
    slugs = [aim.kpi for aim in aims]
    for number, slug in enumerate(slugs):
        if slugs.index(slug) < number:
            raise _refused("This KPI is named twice.", "Keep one of them.", f"aims.{number}.kpi")


def _refuse(row: Improvement, aim: AimState, chart: Chart, field: str) -> None:
    """Raise RefusalError for an aim that nothing could ever come of."""
    state, data = chart.state, chart.observations
    name = state.name
    if state.direction not in ("neither", aim.wanted):
        raise _refused(
            f"Of {name}, {state.direction} is better.",
            f"Choose {state.direction}, or change the KPI's direction in its details.",
            f"{field}.wanted",
        )
    above_zero = "Write a number above 0, or leave it empty."
    if aim.amount is not None and aim.amount <= 0:
        effect = "An effect is how much, above 0: which way is chosen beside it."
        raise _refused(effect, above_zero, f"{field}.amount")
    if aim.worth is not None and aim.worth <= 0:
        worth = "Worth is what one for the better is worth, above 0."
        raise _refused(worth, above_zero, f"{field}.worth")
    if aim.by is not None and aim.by <= row.began:
        raise _refused("It is to show before it begins.", "Choose a later day.", f"{field}.by")
    if len(data) and row.began <= data.calendar.local(data.instants[:1]).dt.date()[0]:
        raise _refused(
            f"{name} has no value before {row.began:%-d %B %Y}: there is nothing to hold "
            "what came of it against.",
            f"Choose a day after {data.label(0)}, or bring earlier values in.",
            "began",
        )


def _refused(detail: str, remedy: str, field: str) -> RefusalError:
    return RefusalError(NOT_SAVED, Issue(detail, remedy, field))
