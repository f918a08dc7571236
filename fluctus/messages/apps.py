"""The messages app."""

from django.apps import AppConfig


class MessagesConfig(AppConfig):
    """Word to those who wait for it."""

    name = "fluctus.messages"
    label = "messages_sent"

    def ready(self) -> None:
        """Ask to be told of what happens."""
        from fluctus.feeds.hooks import tellers  # noqa: PLC0415 - models come first
        from fluctus.findings.hooks import listeners  # noqa: PLC0415
        from fluctus.kpis.hooks import followers  # noqa: PLC0415
        from fluctus.messages.happening import (  # noqa: PLC0415
            follow_charts,
            note_feed,
            note_findings,
        )

        listeners.append(note_findings)
        followers.append(follow_charts)
        tellers.append(note_feed)
