"""A workspace owns everything; a person belongs to workspaces, in each with a role."""

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


class Room(models.Model):
    """How much a workspace may hold of each kind; null where it is as the installation has it."""

    workspace = models.OneToOneField(
        Workspace, on_delete=models.CASCADE, primary_key=True, related_name="room"
    )
    kpis = models.PositiveBigIntegerField(null=True)
    values = models.PositiveBigIntegerField(null=True)
    feeds = models.PositiveBigIntegerField(null=True)
    file_bytes = models.PositiveBigIntegerField(null=True)
    """Of tables that wait to be brought in."""
    requests_a_minute = models.PositiveBigIntegerField(null=True)
    """Of all its people and programs, for each server process."""

    def __str__(self) -> str:
        return f"the room of {self.workspace}"


class GuessedTry(models.Model):
    """Something that can be guessed and was tried, kept until it no longer counts.

    In the database, since guesses may come to any process, and go on after a restart. ``key``
    is what was tried, by its ``purpose``: a name in small letters, of which there need be
    nobody, or a number.
    """

    purpose = models.CharField(max_length=10)
    key = models.CharField(max_length=150)
    address = models.CharField(max_length=64)
    at = models.DateTimeField()

    class Meta:
        indexes = [
            models.Index(fields=["purpose", "key"]),
            models.Index(fields=["purpose", "address"]),
        ]

    def __str__(self) -> str:
        return f"{self.purpose} of {self.key} from {self.address}"


class Role(models.TextChoices):
    """What a person may do in a workspace; each may do what those before it may."""

    VIEWER = "viewer"
    CONTRIBUTOR = "contributor"
    EDITOR = "editor"
    OWNER = "owner"

    def includes(self, other: "Role") -> bool:
        """Tell whether this role may do all that ``other`` may."""
        order = list(Role)
        return order.index(self) >= order.index(other)


class Membership(models.Model):
    """A person in a workspace."""

    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE)
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE)
    role = models.CharField(max_length=12, choices=Role.choices, default=Role.VIEWER)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["workspace", "person"], name="one_membership_each")
        ]

    def __str__(self) -> str:
        return f"{self.person} in {self.workspace}"


class Invitation(models.Model):
    """A person asked to join a workspace, by a secret that works once.

    Only a digest of the secret is kept: whoever reads the database cannot use it.
    """

    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE, related_name="invitations")
    email = models.EmailField()
    role = models.CharField(max_length=12, choices=Role.choices)
    digest = models.CharField(max_length=64, unique=True)
    invited_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True)
    at = models.DateTimeField()
    expires = models.DateTimeField()
    used_at = models.DateTimeField(null=True)

    def __str__(self) -> str:
        return f"{self.email} to {self.workspace}"


class SignedIn(models.Model):
    """A browser that a person is signed in with: the session that it has, and where it was seen."""

    person = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="signed_in"
    )
    session_key = models.CharField(max_length=40, unique=True)
    browser = models.CharField(max_length=200, blank=True)
    address = models.CharField(max_length=64)
    began = models.DateTimeField()
    seen = models.DateTimeField()

    def __str__(self) -> str:
        return f"{self.person} since {self.began:%Y-%m-%d}"


class SecondStep(models.Model):
    """What a person shows beside the password at signing in: a device that tells codes."""

    person = models.OneToOneField(
        settings.AUTH_USER_MODEL,
        on_delete=models.CASCADE,
        primary_key=True,
        related_name="second_step",
    )
    sealed = models.TextField()
    """The secret of the device, encrypted."""
    begun = models.DateTimeField()
    since = models.DateTimeField(null=True)
    """When it was switched on; null while the first code of the device is waited for."""
    last_period = models.BigIntegerField(default=0)
    """The period of the last code that was taken: none before it is taken any more."""
    recovery = models.JSONField(default=list)
    """Digests of the codes that are left for when the device is not at hand."""

    def __str__(self) -> str:
        return f"the second step of {self.person}"


class KnownElsewhere(models.Model):
    """Whom the provider of an organization knows a person as: they sign in by what it says."""

    person = models.OneToOneField(
        settings.AUTH_USER_MODEL,
        on_delete=models.CASCADE,
        primary_key=True,
        related_name="known_elsewhere",
    )
    issuer = models.CharField(max_length=300)
    subject = models.CharField(max_length=255)
    """The same for good, whatever becomes of names and mail addresses there."""
    called = models.CharField(max_length=150, blank=True)
    since = models.DateTimeField()

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["issuer", "subject"], name="one_person_each")
        ]

    def __str__(self) -> str:
        return f"{self.person} at {self.issuer}"


class ApiToken(models.Model):
    """A key with which a program acts for a person, in one workspace and with one role at most.

    Only its digest is kept; ``hint`` is its beginning, to tell it from others.
    """

    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE, related_name="tokens")
    person = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="tokens"
    )
    name = models.CharField(max_length=80)
    role = models.CharField(max_length=12, choices=Role.choices)
    digest = models.CharField(max_length=64, unique=True)
    hint = models.CharField(max_length=12)
    made_at = models.DateTimeField()
    used_at = models.DateTimeField(null=True)
    expires = models.DateTimeField(null=True)
    """When it ends at the latest; null for one that an older version made."""

    def __str__(self) -> str:
        return self.name


class RecordEntry(models.Model):
    """Something that somebody did, of which owners can ask later; the database lets none change.

    People are kept as text, so that an entry outlives whom it tells of, as it does the
    workspace; for how long, a setting says.
    """

    workspace = models.ForeignKey(
        Workspace, on_delete=models.DO_NOTHING, db_constraint=False, related_name="+"
    )
    at = models.DateTimeField()
    person = models.CharField(max_length=320)
    account = models.IntegerField(null=True)
    """The number of their account, to tell whether they have left."""
    kind = models.CharField(max_length=20)
    text = models.CharField(max_length=400)
    address = models.CharField(max_length=64, blank=True)

    class Meta:
        indexes = [models.Index(fields=["workspace", "-id"])]

    def __str__(self) -> str:
        return self.text
