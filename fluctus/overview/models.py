"""What is kept of the overview, of places, and of pages."""

from django.conf import settings
from django.db import models

from fluctus.accounts.models import Workspace
from fluctus.core.context import MeetsTarget
from fluctus.core.words import Attention
from fluctus.http.rendering import NumberDecoder
from fluctus.kpis.models import ActState, Kpi


class KpiSummary(models.Model):
    """How a KPI stands: made anew by every write to its chart, so that a list reads no values.

    ``off_target`` is in sigmas; ``late_from`` is when the next value should have come.
    """

    kpi = models.OneToOneField(
        Kpi, on_delete=models.CASCADE, primary_key=True, related_name="summary"
    )
    attention = models.CharField(max_length=20, choices=[(s.value, s.value) for s in Attention])
    reach = models.CharField(max_length=10, choices=[(r.value, r.value) for r in MeetsTarget])
    off_target = models.FloatField(null=True)
    late_from = models.DateTimeField(null=True)
    oldest = models.DateTimeField(null=True)
    newest = models.DateTimeField(null=True)
    """The first and the last period that have values."""
    what = models.CharField(max_length=120)
    more = models.CharField(max_length=200, blank=True)
    mark = models.CharField(max_length=12, blank=True)
    strip = models.BinaryField(null=True)
    """Its small chart of all dates, as the API answers with it; null where there is none yet."""

    def __str__(self) -> str:
        return self.what


class HandOrder(models.Model):
    """The order that a person has put the KPIs of a workspace in, by slug, and its groups."""

    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="+")
    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE, related_name="+")
    slugs = models.JSONField(default=list)
    groups = models.JSONField(default=list)
    """The order of the groups, by name."""

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["person", "workspace"], name="one_order_each")
        ]

    def __str__(self) -> str:
        return f"{self.person} in {self.workspace}"


class Favorite(models.Model):
    """A KPI that a person keeps at hand."""

    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="+")
    kpi = models.ForeignKey(Kpi, on_delete=models.CASCADE, related_name="+")

    class Meta:
        constraints = [models.UniqueConstraint(fields=["person", "kpi"], name="one_favorite_each")]

    def __str__(self) -> str:
        return f"{self.kpi} of {self.person}"


class Place(models.Model):
    """Where a part is, such as a quay; parts of one name are in one place."""

    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE, related_name="places")
    name = models.CharField(max_length=120)
    latitude = models.FloatField()
    longitude = models.FloatField()

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["workspace", "name"], name="place_name_once")
        ]

    def __str__(self) -> str:
        return self.name


class AreaMap(models.Model):
    """Areas that somebody brought in a GeoJSON file; ``names`` are those of its features."""

    workspace = models.OneToOneField(
        Workspace, on_delete=models.CASCADE, related_name="areas", primary_key=True
    )
    file_name = models.CharField(max_length=200)
    author = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True)
    at = models.DateTimeField(auto_now=True)
    names = models.JSONField()
    features = models.JSONField(decoder=NumberDecoder)

    def __str__(self) -> str:
        return self.file_name


class Page(models.Model):
    """A titled sheet; ``panels``, dates and the rest are in ``state``."""

    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE, related_name="pages")
    title = models.CharField(max_length=120)
    state = models.JSONField(decoder=NumberDecoder)
    revision = models.PositiveIntegerField(default=1)
    changed_at = models.DateTimeField(auto_now=True)

    class Meta:
        indexes = [models.Index(fields=["workspace", "-changed_at"])]

    def __str__(self) -> str:
        return self.title


class PageChange(models.Model):
    """One act on a page: who, when, what, and the page before and after."""

    page = models.ForeignKey(Page, on_delete=models.CASCADE, related_name="changes")
    author = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True)
    at = models.DateTimeField(auto_now_add=True)
    summary = models.CharField(max_length=200)
    before = models.JSONField(decoder=NumberDecoder)
    after = models.JSONField(decoder=NumberDecoder)
    revision = models.PositiveIntegerField()
    state = models.CharField(max_length=10, choices=ActState.choices, default=ActState.KEPT)

    def __str__(self) -> str:
        return self.summary
