"""Secrets that have to be used again, such as a password of a source: encrypted at rest.

With Fernet (AES-128-CBC and HMAC-SHA256), by the keys of
``SECRETS_KEYS``: the first encrypts, all of them decrypt, so that a key can be rotated.
"""

import base64
import json
from typing import Any

from cryptography.fernet import Fernet, InvalidToken, MultiFernet
from cryptography.hazmat.primitives.hashes import SHA256
from cryptography.hazmat.primitives.kdf.hkdf import HKDF
from django.conf import settings

from fluctus.http.refusals import Issue, RefusalError


def sealed(secrets: dict[str, Any]) -> str:
    """Return secrets as only this installation can read them; "" for none."""
    return _box().encrypt(json.dumps(secrets).encode()).decode() if secrets else ""


def opened(text: str) -> dict[str, Any]:
    """Return what was sealed; raises RefusalError where the key for it is not there any more."""
    if not text:
        return {}
    try:
        told: dict[str, Any] = json.loads(_box().decrypt(text.encode()))
    except InvalidToken as error:
        raise RefusalError(
            "The password of this cannot be read any more.",
            Issue("It was kept with another key (SECRETS_KEYS).", "Type it again."),
        ) from error
    return told


def renewed(text: str) -> str:
    """Return what was sealed as the first of the keys seals it."""
    return _box().rotate(text.encode()).decode() if text else ""


def _box() -> MultiFernet:
    return MultiFernet([Fernet(_key_of(word)) for word in settings.SECRETS_KEYS])


def _key_of(word: str) -> bytes:
    """Derive a key from a secret of any length (HKDF, RFC 5869)."""
    derived = HKDF(SHA256(), 32, salt=None, info=b"fluctus secrets at rest").derive(word.encode())
    return base64.urlsafe_b64encode(derived)
