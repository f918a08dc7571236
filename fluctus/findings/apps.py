"""The findings app."""

from django.apps import AppConfig


class FindingsConfig(AppConfig):
    """Findings, which follow every write to a chart."""

    name = "fluctus.findings"
    label = "findings"

    def ready(self) -> None:
        """Ask to be told of every write."""
        from fluctus.findings.matching import (  # noqa: PLC0415 - models come first
            follow_charts,
            move_findings,
        )
        from fluctus.findings.queries import said_in_words  # noqa: PLC0415
        from fluctus.kpis.hooks import followers, movers, writings  # noqa: PLC0415

        followers.append(follow_charts)
        movers.append(move_findings)
        writings.append(said_in_words)
