"""What has happened that somebody may want to know, who does, and what was sent to them."""

from django.conf import settings
from django.db import models

from fluctus.accounts.models import Workspace
from fluctus.kpis.models import Kpi
from fluctus.reports.models import Format, Report


class Topic(models.TextChoices):
    """What kind of thing has happened."""

    BEYOND_LIMITS = "beyond_limits"
    OTHER_SIGNALS = "other_signals"
    SHIFT = "shift"
    """A shift waits for a decision."""
    REACH = "reach"
    """A target is no longer within reach."""
    LATE = "late"
    FEED = "feed"
    YOURS = "yours"
    """Something names a person, or is assigned to them."""
    DUE = "due"


class How(models.TextChoices):
    """How a person is told."""

    NOT = "not"
    HERE = "here"
    """In Fluctus alone."""
    DIGEST = "digest"
    AT_ONCE = "at_once"


QUIET_DEFAULT: dict[str, str] = {
    topic.value: How.AT_ONCE if topic is Topic.YOURS else How.DIGEST for topic in Topic
}
"""Who has chosen nothing hears at once of what is theirs, and of all else on Monday."""


class Happening(models.Model):
    """Something that has happened, once however many values it has, until it is undone.

    ``key`` is what it is known by in its workspace. ``person`` is whom alone it concerns, null
    for everybody who wants to know. ``path`` is where it can be seen, below the workspace.
    """

    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE, related_name="happenings")
    topic = models.CharField(max_length=15, choices=Topic.choices)
    key = models.CharField(max_length=120)
    at = models.DateTimeField()
    kpi = models.ForeignKey(Kpi, on_delete=models.CASCADE, null=True, related_name="+")
    person = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.CASCADE, null=True, related_name="+"
    )
    text = models.CharField(max_length=500)
    path = models.CharField(max_length=200)
    gone = models.BooleanField(default=False)
    handed_on = models.BooleanField(default=False)
    """Whether those who want to know at once have been written to."""

    class Meta:
        constraints = [models.UniqueConstraint(fields=["workspace", "key"], name="happens_once")]
        indexes = [
            models.Index(fields=["workspace", "-id"]),
            models.Index(
                fields=["id"],
                condition=models.Q(handed_on=False, gone=False),
                name="still_to_be_handed_on",
            ),
        ]

    def __str__(self) -> str:
        return self.text


class Wish(models.Model):
    """What a person wants to hear of in a workspace: of a KPI, of a group, or of everything."""

    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE, related_name="+")
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="+")
    kpi = models.ForeignKey(Kpi, on_delete=models.CASCADE, null=True, related_name="+")
    group = models.CharField(max_length=60, blank=True)
    how = models.JSONField(default=dict)
    """How to be told, by topic; what is not there is as it is for what is around it."""
    quiet_until = models.DateTimeField(null=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["workspace", "person", "kpi", "group"],
                name="one_wish_each",
                nulls_distinct=False,
            )
        ]

    def __str__(self) -> str:
        return f"{self.person} of {self.kpi or self.group or 'everything'}"


class Digest(models.Model):
    """When a person gets the digest of a workspace, and up to where they have had it."""

    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE, related_name="+")
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="+")
    schedule = models.JSONField()
    time_zone = models.CharField(max_length=60, default="UTC")
    next_at = models.DateTimeField(db_index=True)
    since = models.DateTimeField()
    even_if_nothing = models.BooleanField(default=False)
    no_mail = models.BooleanField(default=False)
    """Whether they have asked for no mail at all, or none has reached them."""
    refused = models.CharField(max_length=200, blank=True)
    """What their mail server said when it refused their address for good."""

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["workspace", "person"], name="one_digest_each")
        ]

    def __str__(self) -> str:
        return f"{self.person} in {self.workspace}"


class Webhook(models.Model):
    """An address that is told of what happens in a workspace, signed with a secret of its own."""

    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE, related_name="webhooks")
    name = models.CharField(max_length=80)
    address = models.CharField(max_length=2_000)
    sealed = models.TextField()
    topics = models.JSONField(default=list)
    made_at = models.DateTimeField()
    ended = models.CharField(max_length=200, blank=True)
    """Why nothing is sent to it any more."""

    def __str__(self) -> str:
        return self.name


class ScheduledReport(models.Model):
    """A report that is made by itself at its times, and mailed to members or left in *Reports*.

    ``person`` owns it: it is made in their name, and rests once they have left.
    """

    workspace = models.ForeignKey(
        Workspace, on_delete=models.CASCADE, related_name="scheduled_reports"
    )
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="+")
    title = models.CharField(max_length=200)
    format = models.CharField(max_length=10, choices=Format.choices)
    asked = models.JSONField()
    schedule = models.JSONField()
    time_zone = models.CharField(max_length=60)
    to = models.ManyToManyField(settings.AUTH_USER_MODEL, related_name="+")
    next_at = models.DateTimeField(db_index=True)
    last_report = models.ForeignKey(Report, on_delete=models.SET_NULL, null=True, related_name="+")
    """The last one that was asked for."""
    mailed = models.BooleanField(default=True)
    """Whether that one has been written to whom it goes."""
    problem = models.CharField(max_length=300, blank=True)
    """Why it was not made the last time."""

    def __str__(self) -> str:
        return self.title


class Followed(models.Model):
    """An address by which a program of a person follows a workspace, and opens nothing else.

    Only a digest of its secret is kept.
    """

    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE, related_name="+")
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="+")
    digest = models.CharField(max_length=64, unique=True)
    made_at = models.DateTimeField()
    used_at = models.DateTimeField(null=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["workspace", "person"], name="one_address_each")
        ]

    def __str__(self) -> str:
        return f"{self.person} of {self.workspace}"


class DeliveryState(models.TextChoices):
    """How far a delivery is."""

    WAITING = "waiting"
    SENT = "sent"
    ABANDONED = "abandoned"


class Delivery(models.Model):
    """One message to one receiver, written with what it tells of, and sent until it arrives.

    ``key`` goes with it, by which a receiver can tell one that comes twice.
    """

    key = models.UUIDField(unique=True)
    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE, related_name="+")
    person = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.CASCADE, null=True, related_name="+"
    )
    webhook = models.ForeignKey(
        Webhook, on_delete=models.CASCADE, null=True, related_name="deliveries"
    )
    happenings = models.ManyToManyField(Happening, related_name="+")
    subject = models.CharField(max_length=200, blank=True)
    content = models.JSONField()
    """The text of mail as ``text`` and ``html``, or the event that a webhook gets."""
    at = models.DateTimeField()
    state = models.CharField(
        max_length=10, choices=DeliveryState.choices, default=DeliveryState.WAITING
    )
    tries = models.PositiveIntegerField(default=0)
    next_at = models.DateTimeField()
    sent_at = models.DateTimeField(null=True)
    answer = models.CharField(max_length=300, blank=True)
    """What the receiver said last."""

    class Meta:
        indexes = [
            models.Index(
                fields=["next_at"], condition=models.Q(state="waiting"), name="still_to_be_sent"
            )
        ]

    def __str__(self) -> str:
        return self.subject or str(self.key)
