"""The kpis app."""

from django.apps import AppConfig


class KpisConfig(AppConfig):
    """KPIs and their charts."""

    name = "fluctus.kpis"
    label = "kpis"

    def ready(self) -> None:
        """Let KPIs that are made from others follow these."""
        from fluctus.kpis.derived.services import (  # noqa: PLC0415 - models come first
            follow_sources,
            followed_in_words,
        )
        from fluctus.kpis.events.queries import told_in_words  # noqa: PLC0415
        from fluctus.kpis.hooks import followers, writings  # noqa: PLC0415

        followers.append(follow_sources)
        writings += [told_in_words, followed_in_words]
