"""The reports app."""

from django.apps import AppConfig


class ReportsConfig(AppConfig):
    """Reports, made in the background and kept."""

    name = "fluctus.reports"
    label = "reports"
