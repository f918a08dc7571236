"""Where people reach Fluctus, for addresses that are handed out."""

from django.conf import settings


def site_address() -> str:
    """Return the address of this installation.

    From the settings: what a request says of the host it came to is the word of whoever asks,
    and a letter that somebody else gets is not to lead there.
    """
    return str(settings.SITE_ADDRESS).rstrip("/")
