"""Which storage files are kept in, from what an operator says of it."""

from typing import Any, Final
from urllib.parse import urlsplit

from django.core.exceptions import ImproperlyConfigured

SOON: Final = {"connect_timeout": 5, "read_timeout": 20}
"""Seconds after which S3 is away: somebody waits for the answer."""


def storage_of(files: str, endpoint: str = "") -> dict[str, Any]:
    """Return the entry of STORAGES for ``folder``, ``database`` or ``s3://bucket/prefix``.

    Keys of S3 are read as its own programs do (AWS_ACCESS_KEY_ID and so on), for the service at
    ``endpoint``. Raises ImproperlyConfigured for anything else.
    """
    if files == "folder":
        return {"BACKEND": "django.core.files.storage.FileSystemStorage"}
    if files == "database":
        return {"BACKEND": "fluctus.files.database_storage.DatabaseStorage"}
    address = urlsplit(files)
    if address.scheme != "s3" or not address.netloc:
        raise ImproperlyConfigured(
            f"FILES={files} is no store of files: give folder, database or s3://bucket."
        )
    # Only where files are kept there: reading it takes a fifth of a second of every start.
    from botocore.config import Config  # noqa: PLC0415

    return {
        "BACKEND": "storages.backends.s3.S3Storage",
        "OPTIONS": {
            "bucket_name": address.netloc,
            "location": address.path.strip("/"),
            "endpoint_url": endpoint or None,
            "default_acl": None,
            "client_config": Config(**SOON, retries={"mode": "standard", "max_attempts": 2}),
        },
    }
