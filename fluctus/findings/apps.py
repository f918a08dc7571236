"""The findings app."""

from django.apps import AppConfig


class FindingsConfig(AppConfig):
    """Findings, which follow every write to a chart."""

    name = "fluctus.findings"
    label = "findings"

    def ready(self) -> None:
        """Ask to be told of every write."""
        from fluctus.findings.matching import follow_chart  # noqa: PLC0415 - models come first
        from fluctus.kpis.hooks import followers  # noqa: PLC0415

        followers.append(follow_chart)
