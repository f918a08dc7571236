"""Secrets that are handed out once: drawn here, kept only as digests."""

from hashlib import sha256
from secrets import token_urlsafe

BYTES = 32
"""256 bits: no number of guesses finds one."""


def draw_secret() -> str:
    """Return a secret that can stand in an address."""
    return token_urlsafe(BYTES)


def digest_of(secret: str) -> str:
    """Return what is kept of a secret. It is random already, so one round of SHA-256 is enough."""
    return sha256(secret.encode()).hexdigest()
