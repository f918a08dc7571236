"""The reports app."""

from django.apps import AppConfig


class ReportsConfig(AppConfig):
    """Reports, made in the background and kept; and data packages that come in."""

    name = "fluctus.reports"
    label = "reports"

    def ready(self) -> None:
        """Say how packages are brought in."""
        from fluctus.intake.hooks import carriers  # noqa: PLC0415 - models come first
        from fluctus.intake.models import ImportKind  # noqa: PLC0415
        from fluctus.reports.package.services import bring_package_in  # noqa: PLC0415

        carriers[ImportKind.PACKAGE] = bring_package_in
