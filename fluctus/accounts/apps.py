"""The accounts app."""

from django.apps import AppConfig


class AccountsConfig(AppConfig):
    """People and workspaces."""

    name = "fluctus.accounts"
    label = "accounts"
