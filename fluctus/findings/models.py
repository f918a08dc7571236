"""What is kept of a finding."""

from django.conf import settings
from django.db import models

from fluctus.accounts.models import Workspace
from fluctus.core import Rule
from fluctus.http import clock
from fluctus.kpis.models import Kpi


class FindingState(models.TextChoices):
    """Where a finding stands with people."""

    OPEN = "open"
    LOOKING = "looking"
    EXPLAINED = "explained"
    ASIDE = "aside"
    SHIFT = "shift"


class FindingPresence(models.TextChoices):
    """Where a finding stands with the data."""

    PRESENT = "present"
    GONE = "gone"


class Finding(models.Model):
    """A happening and what people make of it.

    It covers the periods from ``first`` to ``last`` and flags ``points`` of them. ``rule``
    and ``side`` are those of its weightiest signal; ``title`` and ``text`` say what that was
    when it was last seen, in numbers, and ``evidence`` (rule, title, text) names the others.
    ``segment_start`` is when its segment begins, null for the first one.
    ``version`` counts its changes, by people and by data; a write names the one it saw.
    """

    kpi = models.ForeignKey(Kpi, on_delete=models.CASCADE, related_name="findings")
    rule = models.CharField(max_length=40, choices=[(rule.value, rule.value) for rule in Rule])
    side = models.SmallIntegerField()
    first = models.DateTimeField()
    last = models.DateTimeField()
    points = models.PositiveIntegerField()
    segment_start = models.DateTimeField(null=True)
    in_last_segment = models.BooleanField()
    favorable = models.BooleanField(null=True)
    title = models.CharField(max_length=120)
    text = models.CharField(max_length=400)
    evidence = models.JSONField(default=list)
    label = models.CharField(max_length=60)
    """Its first period, named for people."""
    state = models.CharField(max_length=10, choices=FindingState.choices, default=FindingState.OPEN)
    state_before = models.CharField(max_length=10, choices=FindingState.choices, blank=True)
    """The state that people gave it, where the data has given it another since."""
    presence = models.CharField(
        max_length=10, choices=FindingPresence.choices, default=FindingPresence.PRESENT
    )
    cause = models.CharField(max_length=500, blank=True)
    action = models.CharField(max_length=500, blank=True)
    person = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, related_name="+"
    )
    due = models.DateField(null=True)
    version = models.PositiveIntegerField(default=1)
    found_at = models.DateTimeField(auto_now_add=True)
    knowable_at = models.DateTimeField(default=clock.now)
    """When it could first be known: before it was found, where nothing looked for a while."""

    class Meta:
        indexes = [
            models.Index(fields=["kpi", "first"]),
            models.Index(fields=["first", "id"]),
        ]

    def __str__(self) -> str:
        return f"{self.title}, {self.label}"


class Look(models.Model):
    """When a person last looked through the findings of a workspace.

    ``since`` is when they had done so before: what was found after it is new to them
    while they look.
    """

    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="+")
    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE, related_name="+")
    since = models.DateTimeField()
    at = models.DateTimeField()

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["person", "workspace"], name="one_look_each")
        ]

    def __str__(self) -> str:
        return f"{self.person} in {self.workspace}"


class Entry(models.Model):
    """A remark on a finding, or something that happened to it; ``author`` null: the data."""

    finding = models.ForeignKey(Finding, on_delete=models.CASCADE, related_name="entries")
    author = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True)
    at = models.DateTimeField(auto_now_add=True)
    remark = models.BooleanField(default=False)
    text = models.CharField(max_length=2000)

    def __str__(self) -> str:
        return self.text
