"""The values of a KPI as they are stored: now, before, and the acts that wrote them."""

from django.conf import settings
from django.db import models
from django.utils import timezone

from fluctus.kpis.models.kpi import Kpi


class DataChange(models.Model):
    """One act on the values of a KPI, and how many it touched.

    An act of writing can be taken back; ``undoes`` then names it, and
    ``undone_by`` there names the act that took it back, while that holds.
    """

    kpi = models.ForeignKey(Kpi, on_delete=models.CASCADE, related_name="data_changes")
    author = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True)
    at = models.DateTimeField(default=timezone.now)
    summary = models.CharField(max_length=200)
    added = models.PositiveIntegerField(default=0)
    changed = models.PositiveIntegerField(default=0)
    removed = models.PositiveIntegerField(default=0)
    newest = models.DateTimeField(null=True)
    """The newest period that it added a value of, by which tells how soon values come."""
    undoes = models.ForeignKey("self", on_delete=models.CASCADE, null=True, related_name="+")
    later_too = models.BooleanField(default=False)
    """Of an act that takes back: whether what was written later went as well."""
    undone_by = models.ForeignKey("self", on_delete=models.SET_NULL, null=True, related_name="+")

    def __str__(self) -> str:
        return self.summary


class Value(models.Model):
    """The value of one period, for one breakdown ("" where there is none).

    ``rows`` is how many rows of the source it stands for. A missing period has
    no row here. ``written_by`` is the act that made it; without a constraint in
    the database, which would be checked for each of a million rows.
    """

    period = models.DateTimeField()
    breakdown = models.CharField(max_length=120, blank=True)
    value = models.FloatField()
    numerator = models.FloatField(null=True)
    denominator = models.FloatField(null=True)
    target = models.FloatField(null=True)
    target_high = models.FloatField(null=True)
    """The high side, where the target is a range; ``target`` is then its low side."""
    rows = models.PositiveIntegerField(default=1)
    note = models.CharField(max_length=500, blank=True)
    set_aside = models.BooleanField(default=False)
    reason = models.CharField(max_length=200, blank=True)
    typed = models.BooleanField(default=False, db_default=False)
    """Whether a person typed it: a feed leaves it then."""
    written_by = models.ForeignKey(
        DataChange,
        on_delete=models.DO_NOTHING,
        db_constraint=False,
        db_index=False,
        related_name="+",
    )

    class Meta:
        abstract = True

    def __str__(self) -> str:
        return f"{self.period:%Y-%m-%d %H:%M} {self.breakdown}: {self.value}"


class Observation(Value):
    """A value as it is now.

    Every write holds its KPI's lock, so the database need not look the KPI up
    again for each of a million rows.
    """

    kpi = models.ForeignKey(
        Kpi,
        on_delete=models.CASCADE,
        related_name="observations",
        db_index=False,
        db_constraint=False,
    )

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["kpi", "period", "breakdown"], name="one_value_per_period"
            )
        ]


class Block(models.Model):
    """The numbers of some thousand observations that follow each other, packed as Arrow.

    It has all of them from ``first`` up to, but not including, ``until``, in seconds since 1970.
    A column that has one number throughout is in ``constants``, and so are periods that come in
    equal steps: the first, and the step. The places of parts are those in ``breakdowns``, from 1.
    """

    kpi = models.ForeignKey(Kpi, on_delete=models.CASCADE, related_name="blocks", db_index=False)
    first = models.FloatField()
    until = models.FloatField()
    breakdowns = models.JSONField(default=list)
    constants = models.JSONField(default=dict)
    packed = models.BinaryField()
    checksum = models.BigIntegerField()
    """CRC-32 of ``packed``."""

    class Meta:
        constraints = [models.UniqueConstraint(fields=["kpi", "first"], name="one_block_from")]

    def __str__(self) -> str:
        return f"{self.kpi_id} from {self.first}"


class PastValue(Value):
    """A value that was replaced or removed, and the act that did it."""

    kpi = models.ForeignKey(Kpi, on_delete=models.CASCADE, related_name="past_values")
    replaced_by = models.ForeignKey(
        DataChange, on_delete=models.CASCADE, related_name="replaced_values"
    )

    class Meta:
        indexes = [models.Index(fields=["kpi", "period", "breakdown"])]
