"""The kpis app."""

from django.apps import AppConfig


class KpisConfig(AppConfig):
    """KPIs and their charts."""

    name = "fluctus.kpis"
    label = "kpis"

    def ready(self) -> None:
        """Let what is made of KPIs follow these."""
        from fluctus.accounts.room.kinds import Kind, counters  # noqa: PLC0415 - models come first
        from fluctus.kpis.chart.responses import keep_long  # noqa: PLC0415
        from fluctus.kpis.derived.services import (  # noqa: PLC0415
            follow_sources,
            followed_in_words,
        )
        from fluctus.kpis.events.queries import told_in_words  # noqa: PLC0415
        from fluctus.kpis.hooks import drawers, followers, writings  # noqa: PLC0415
        from fluctus.kpis.room import kpis_in, values_in  # noqa: PLC0415

        counters[Kind.KPIS], counters[Kind.VALUES] = kpis_in, values_in
        followers.append(follow_sources)
        drawers.append(keep_long)
        writings += [told_in_words, followed_in_words]
