"""The intake app."""

from django.apps import AppConfig


class IntakeConfig(AppConfig):
    """Reading tables into KPIs."""

    name = "fluctus.intake"
    label = "intake"
