"""The one clock of the application: read where a request or a command begins, then handed in."""

from datetime import datetime

from django.utils import timezone


def now() -> datetime:
    """Return the time at which something is asked for."""
    return timezone.now()
