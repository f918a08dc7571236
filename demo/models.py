"""What the simulated stand-ins of the demo keep."""

from django.db import models


class Letter(models.Model):
    """A letter in the simulated mailbox."""

    at = models.DateTimeField(auto_now_add=True)
    to = models.CharField(max_length=320)
    subject = models.CharField(max_length=200)
    text = models.TextField()
    workspaces = models.CharField(max_length=1000, blank=True)
    """The slugs of the workspaces whose business it is, with spaces between."""

    def __str__(self) -> str:
        return self.subject
