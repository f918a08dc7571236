"""What panels show: answered alike for a page, a link, a meeting and a report."""

import logging
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date
from functools import reduce
from operator import or_
from typing import TYPE_CHECKING, Annotated, Any, TypeAlias

from django.db import DatabaseError, InterfaceError
from pydantic import WithJsonSchema

from fluctus.http.refusals import RefusalError
from fluctus.http.shapes import Shape
from fluctus.kpis.chart.queries import MovedOnError
from fluctus.kpis.models import Kpi
from fluctus.overview.panels.kind import Content, Look
from fluctus.overview.panels.panel import Panel
from fluctus.overview.panels.registry import KINDS

log = logging.getLogger(__name__)

if TYPE_CHECKING:
    PanelAnswer: TypeAlias = Shape
else:
    PanelAnswer = reduce(or_, (kind.answers for kind in KINDS.values()))
KindName: TypeAlias = Annotated[str, WithJsonSchema({"type": "string", "enum": list(KINDS)})]


@dataclass(frozen=True, slots=True)
class Nothing:
    """Why a panel has nothing to show: in a few words, and what there is to say of it."""

    title: str
    problem: str


@dataclass(frozen=True, slots=True)
class PanelContent(Shape):
    """What a panel shows: ``answer`` is that of its kind, null where there is a ``problem``."""

    key: str
    kind: KindName
    title: str
    detail: str
    problem: str
    answer: PanelAnswer | None


def contents_of(panels: Sequence[Panel], look: Look) -> list[PanelContent]:
    """Return what panels show, each over its own dates or those looked at.

    One that has nothing to show says why; the others are shown all the same.
    """
    kpis = _kpis_of(panels, look)
    return [as_answered(panel, content_of(panel, look, kpis)) for panel in panels]


def content_of(panel: Panel, look: Look, kpis: dict[str, Kpi] | None = None) -> Content | Nothing:
    """Return what a panel shows, or why it has nothing to show.

    ``kpis`` are those of several panels, by slug, where they have been read already.
    """
    kind = KINDS[panel.kind]
    if not kind.takes(len(panel.kpis)):
        return Nothing(
            "This panel cannot be shown", f"One of this kind shows {kind.kpis_in_words}."
        )
    if kpis is None:
        kpis = _kpis_of([panel], look)
    there = [kpis[slug] for slug in panel.kpis if slug in kpis]
    gone = [name for slug, name in named_kpis(panel) if slug not in kpis]
    if gone and not (kind.does_without and there):
        title = f"{' and '.join(gone)} {'is' if len(gone) == 1 else 'are'} gone"
        return Nothing(title, "It has been deleted. The panel can be removed, or stay as it is.")
    try:
        own = look if panel.dates is None else replace(look, dates=days_kept(panel.dates))
        return kind.answer(panel, there, own)
    except (MovedOnError, DatabaseError, InterfaceError):
        raise
    except RefusalError as error:
        told = [text for issue in error.issues for text in (issue.detail, issue.remedy) if text]
        return Nothing(error.title.rstrip("."), " ".join(told))
    except Exception:
        # One that cannot be computed is no reason to show none of the others.
        log.exception("A panel of kind %s cannot be computed", panel.kind)
        title = f"{_what(panel)} cannot be computed"
        return Nothing(title, "Look at its values, or undo the last import.")


def named_kpis(panel: Panel) -> list[tuple[str, str]]:
    """Return the KPIs of a panel: the slug of each and what it was called, or else its slug."""
    names = [*panel.names, *panel.kpis[len(panel.names) :]]
    return list(zip(panel.kpis, names, strict=False))


def _kpis_of(panels: Sequence[Panel], look: Look) -> dict[str, Kpi]:
    slugs = {slug for panel in panels for slug in panel.kpis}
    return {kpi.slug: kpi for kpi in Kpi.objects.filter(workspace=look.workspace, slug__in=slugs)}


def as_answered(panel: Panel, content: Content | Nothing) -> PanelContent:
    """Return what a panel shows as the API answers with it."""
    key, kind, title = panel.key, panel.kind, content.title
    if isinstance(content, Nothing):
        return PanelContent(key, kind, title, "", content.problem or title, None)
    return PanelContent(key, kind, title, content.detail, "", content.answer)


def _what(panel: Panel) -> str:
    return " and ".join(name for _, name in named_kpis(panel)) or panel.group or "This panel"


def days_kept(dates: dict[str, Any]) -> dict[str, Any]:
    """Return dates as a look has them: days that are kept as texts are read."""
    return {
        name: date.fromisoformat(value) if isinstance(value, str) else value
        for name, value in dates.items()
        if value is not None
    }
