"""The improvements app."""

from django.apps import AppConfig


class ImprovementsConfig(AppConfig):
    """Improvements, whose state is computed anew with every write to a chart."""

    name = "fluctus.improvements"
    label = "improvements"

    def ready(self) -> None:
        """Ask to be told of every write."""
        from fluctus.improvements.following import follow_charts  # noqa: PLC0415 - models first
        from fluctus.improvements.queries import aimed_at_in_words  # noqa: PLC0415
        from fluctus.kpis.hooks import followers, writings  # noqa: PLC0415

        followers.append(follow_charts)
        writings.append(aimed_at_in_words)
