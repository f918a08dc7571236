"""What all processes of an installation share."""

from django.db import models


class Installation(models.Model):
    """The one row of an installation: made by whichever process comes first."""

    secret = models.CharField(max_length=200)
    """What sessions and links are signed with, where the operator gives nothing else."""

    class Meta:
        constraints = [models.CheckConstraint(condition=models.Q(pk=1), name="one_installation")]

    def __str__(self) -> str:
        return "this installation"


class MadeBackup(models.Model):
    """A backup that was made of this installation, and read back."""

    at = models.DateTimeField()
    """The moment that it holds."""
    size = models.BigIntegerField()
    encrypted = models.BooleanField()

    class Meta:
        get_latest_by = "pk"

    def __str__(self) -> str:
        return f"the backup of {self.at:%Y-%m-%d %H:%M}"
