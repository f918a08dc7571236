"""The settings of the application, with what only slows tests down made quick."""

import atexit
import shutil
import tempfile
from pathlib import Path

from fluctus.site.settings import *  # noqa: F403

PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]

# The server that browser tests start insists on having this.
STATIC_URL = "/static/"

UPLOADS = Path(tempfile.mkdtemp(prefix="fluctus-uploads-"))
atexit.register(shutil.rmtree, UPLOADS, ignore_errors=True)
