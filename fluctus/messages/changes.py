"""Whether anything of a workspace has changed: asked by every screen that is open.

A handful of counts over indexed rows: a stamp is looked at every few seconds by each of them, and
what has changed is asked for only then.
"""

from hashlib import sha256

from django.db.models import Count, Max, Model, Sum
from django.db.models.expressions import Combinable

from fluctus.accounts.models import Workspace
from fluctus.feeds.models import Feed, Fetch
from fluctus.findings.models import Entry, Finding
from fluctus.improvements.models import Improvement
from fluctus.intake.models import Import
from fluctus.jobs.models import UNDER_WAY
from fluctus.kpis import stamps
from fluctus.kpis.models import Event, Kpi
from fluctus.messages.models import Happening
from fluctus.overview.models import Page

COUNTED: tuple[tuple[type[Model], str, tuple[Combinable, ...]], ...] = (
    (Kpi, "workspace", stamps.COUNTED),
    (Finding, "kpi__workspace", (Count("pk"), Sum("version"))),
    (Entry, "finding__kpi__workspace", (Max("pk"),)),
    (Event, "workspace", (Count("pk"), Sum("version"))),
    (Improvement, "workspace", (Count("pk"), Sum("version"))),
    (Page, "workspace", (Count("pk"), Sum("revision"))),
    (Import, "workspace", (Max("pk"),)),
    (Feed, "workspace", (Count("pk"), Sum("revision"))),
    (Fetch, "feed__workspace", (Max("pk"), Max("ended"))),
    (Happening, "workspace", (Max("pk"),)),
)


def stamp_of(workspace: Workspace) -> str:
    """Return what is another one as soon as something of a workspace has changed."""
    told = [
        list(stamps.counted(model._default_manager.filter(**{within: workspace}), what))
        for model, within, what in COUNTED
    ]
    under_way = Import.objects.filter(workspace=workspace, status__in=UNDER_WAY)
    told.append(list(under_way.values_list("pk", "status")))
    return sha256(repr(told).encode()).hexdigest()[:16]
