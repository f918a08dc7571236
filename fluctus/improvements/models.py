"""What is kept of an improvement."""

from django.conf import settings
from django.db import models

from fluctus.accounts.models import Workspace
from fluctus.core.judgment import ImprovementState
from fluctus.findings.models import Finding
from fluctus.http.rendering import NumberDecoder
from fluctus.kpis.models import Event, Kpi


class Wanted(models.TextChoices):
    """Which way a KPI is to move."""

    LOWER = "lower"
    HIGHER = "higher"


class Improvement(models.Model):
    """A change that somebody made on a day, to move KPIs.

    ``finding``, ``event`` or ``shift`` (the first period of one, as text) is what it was made
    from, where it was. ``version`` counts its changes by people; a write names the one it saw.
    One that is removed stays here, so that it can be brought back.
    """

    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE, related_name="improvements")
    name = models.CharField(max_length=120)
    text = models.CharField(max_length=2000, blank=True)
    owner = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, related_name="+"
    )
    began = models.DateField()
    finding = models.ForeignKey(Finding, on_delete=models.SET_NULL, null=True, related_name="+")
    event = models.ForeignKey(Event, on_delete=models.SET_NULL, null=True, related_name="+")
    shift = models.CharField(max_length=40, blank=True)
    version = models.PositiveIntegerField(default=1)
    made_at = models.DateTimeField(auto_now_add=True)
    removed_at = models.DateTimeField(null=True)

    class Meta:
        indexes = [models.Index(fields=["workspace", "-began"])]

    def __str__(self) -> str:
        return self.name


class Aim(models.Model):
    """A KPI that an improvement is to move: which way, and by how much by when, where that is said.

    ``worth`` is what a unit of the KPI in one period is worth. ``state`` and ``outcome``, which
    has its sentence and what it is drawn from, are computed by every write to the KPI;
    ``state_since`` is when the state became what it is.
    """

    improvement = models.ForeignKey(Improvement, on_delete=models.CASCADE, related_name="aims")
    kpi = models.ForeignKey(Kpi, on_delete=models.CASCADE, related_name="aims")
    wanted = models.CharField(max_length=10, choices=Wanted.choices)
    amount = models.FloatField(null=True)
    by = models.DateField(null=True)
    worth = models.FloatField(null=True)
    worth_unit = models.CharField(max_length=10, blank=True)
    state = models.CharField(
        max_length=15,
        choices=[(s.value, s.value) for s in ImprovementState],
        default=ImprovementState.TOO_EARLY,
    )
    state_since = models.DateTimeField(auto_now_add=True)
    outcome = models.JSONField(default=dict, decoder=NumberDecoder)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["improvement", "kpi"], name="one_aim_each_kpi")
        ]

    def __str__(self) -> str:
        return f"{self.improvement}: {self.kpi} {self.wanted}"


class ImprovementAct(models.Model):
    """Something that was done to an improvement, or came of it; ``author`` null: the data."""

    improvement = models.ForeignKey(Improvement, on_delete=models.CASCADE, related_name="acts")
    author = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, related_name="+"
    )
    at = models.DateTimeField(auto_now_add=True)
    text = models.CharField(max_length=500)

    def __str__(self) -> str:
        return self.text
