"""A workspace owns everything; a person belongs to workspaces."""

from django.conf import settings
from django.db import models


class Workspace(models.Model):
    """One operation's KPIs and the people who follow them."""

    slug = models.SlugField(unique=True)
    name = models.CharField(max_length=120)
    members = models.ManyToManyField(
        settings.AUTH_USER_MODEL, through="Membership", related_name="workspaces"
    )

    def __str__(self) -> str:
        return self.name


class SignInTry(models.Model):
    """A password that was tried, kept until it no longer counts.

    In the database, since guesses may come to any process, and go on after a restart.
    """

    name = models.CharField(max_length=150)
    """As it was typed, in small letters; there need be nobody of that name."""
    address = models.CharField(max_length=64)
    at = models.DateTimeField()

    class Meta:
        indexes = [models.Index(fields=["name", "at"]), models.Index(fields=["address", "at"])]

    def __str__(self) -> str:
        return f"{self.name} from {self.address}"


class Membership(models.Model):
    """A person in a workspace."""

    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE)
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["workspace", "person"], name="one_membership_each")
        ]

    def __str__(self) -> str:
        return f"{self.person} in {self.workspace}"
