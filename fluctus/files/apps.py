"""The app of kept files."""

from django.apps import AppConfig


class FilesConfig(AppConfig):
    """Files on their way in."""

    name = "fluctus.files"
    label = "files"
