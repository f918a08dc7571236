"""The page that a link opens, which other sites may show in a frame where an owner lists them."""

from datetime import datetime

from fluctus.accounts.secrets import digest_of
from fluctus.links.models import Frames, Link


def origins_for(secret: str, now: datetime) -> list[str]:
    """Return the sites that may show a link in a frame; none where it may not be, or is over."""
    link = Link.objects.filter(digest=digest_of(secret), embeddable=True, revoked_at=None).first()
    if link is None or (link.expires is not None and link.expires <= now):
        return []
    frames = Frames.objects.filter(workspace=link.workspace_id).first()
    return list(frames.origins) if frames else []
