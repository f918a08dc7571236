"""The settings of the application, with one more address to compare with."""

from fluctus.site.settings import *  # noqa: F403

ROOT_URLCONF = "bench.urls"
