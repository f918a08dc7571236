"""The overview app."""

from django.apps import AppConfig


class OverviewConfig(AppConfig):
    """The overview, which keeps how each KPI stands after every write to a chart."""

    name = "fluctus.overview"
    label = "overview"

    def ready(self) -> None:
        """Ask to be told of every write."""
        from fluctus.kpis.hooks import followers  # noqa: PLC0415 - models come first
        from fluctus.overview.strips.standing import follow_chart  # noqa: PLC0415

        followers.append(follow_chart)
