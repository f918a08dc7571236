"""The links app."""

from django.apps import AppConfig


class LinksConfig(AppConfig):
    """Links for people without an account."""

    name = "fluctus.links"
    label = "links"
