"""People who hear of what happens, and a KPI of which there is something to hear."""

from typing import Any

import pytest
from django.contrib.auth.models import User
from django.utils import timezone

from fluctus.messages import outbox
from fluctus.messages.models import (
    Happening,
)
from tests.conftest import Api, ok
from tests.server.feeds.conftest import office

__all__ = ["office"]
STEADY = [20.0, 21, 20, 22, 21, 20, 21, 22, 20, 21, 20, 22]


@pytest.fixture(autouse=True)
def sends(settings: Any) -> None:
    settings.SENDS_MAIL = True
    settings.EMAIL_BACKEND = "django.core.mail.backends.locmem.EmailBackend"
    settings.SITE_ADDRESS = "https://fluctus.example"


def person(name: str) -> User:
    row = User.objects.get(username=name)
    row.email = f"{name}@example.org"
    row.save()
    return row


def write(api: Api, slug: str, week: str, value: float) -> None:
    edits = {"edits": [{"period": week, "value": value}]}
    ok(api.send("POST", f"/kpis/{slug}/values", edits))


def wish(api: Api, how: dict[str, str], **of: Any) -> None:
    ok(api.send("PUT", "/messages/wish", {"how": how, **of}))


@pytest.fixture
def signal(api: Api) -> str:
    """A steady KPI that then has a value far beyond its limits."""
    slug = api.add_kpi("Turnaround", STEADY)
    outbox.ensure_digests(timezone.now())
    assert not Happening.objects.exists(), "what came with a chart is history"
    write(api, slug, "2026-03-30", 60.0)
    return slug
