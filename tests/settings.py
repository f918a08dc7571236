"""The settings of the application, with what only slows tests down made quick."""

from fluctus.site.settings import *  # noqa: F403

PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]

# The server that browser tests start insists on having this.
STATIC_URL = "/static/"
