"""The kpis app."""

from django.apps import AppConfig


class KpisConfig(AppConfig):
    """KPIs and their charts."""

    name = "fluctus.kpis"
    label = "kpis"
