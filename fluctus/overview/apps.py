"""The overview app."""

from django.apps import AppConfig


class OverviewConfig(AppConfig):
    """The overview, which keeps how each KPI stands after every write to a chart."""

    name = "fluctus.overview"
    label = "overview"

    def ready(self) -> None:
        """Ask to be told of every write, and of places that come with data."""
        from fluctus.intake.hooks import place_keepers  # noqa: PLC0415 - models come first
        from fluctus.kpis.hooks import followers, writings  # noqa: PLC0415
        from fluctus.overview.compare.services import keep_places  # noqa: PLC0415
        from fluctus.overview.pages.queries import shown_in_words  # noqa: PLC0415
        from fluctus.overview.strips.summaries import follow_charts  # noqa: PLC0415

        followers.append(follow_charts)
        place_keepers.append(keep_places)
        writings.append(shown_in_words)
