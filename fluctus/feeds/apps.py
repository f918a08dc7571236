"""The feeds app."""

from django.apps import AppConfig


class FeedsConfig(AppConfig):
    """Fetching tables by themselves."""

    name = "fluctus.feeds"
    label = "feeds"

    def ready(self) -> None:
        """Let feeds begin with their first import, and know which KPIs they feed."""
        from fluctus.accounts.room.kinds import Kind, counters  # noqa: PLC0415 - models come first
        from fluctus.feeds.queries import feeds_in  # noqa: PLC0415
        from fluctus.feeds.running import feeds_kpi, read_anew  # noqa: PLC0415
        from fluctus.feeds.services import follow_import  # noqa: PLC0415
        from fluctus.intake.hooks import followers  # noqa: PLC0415
        from fluctus.kpis.hooks import feeders, releasers  # noqa: PLC0415

        counters[Kind.FEEDS] = feeds_in
        followers.append(follow_import)
        feeders.append(feeds_kpi)
        releasers.append(read_anew)
