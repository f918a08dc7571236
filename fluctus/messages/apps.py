"""The messages app."""

from django.apps import AppConfig


class MessagesConfig(AppConfig):
    """Word to those who wait for it."""

    name = "fluctus.messages"
    label = "messages_sent"

    def ready(self) -> None:
        """Ask to be told of what happens."""
        from django.db.models.signals import post_save  # noqa: PLC0415 - models come first

        from fluctus.feeds.hooks import tellers  # noqa: PLC0415
        from fluctus.findings.hooks import listeners  # noqa: PLC0415
        from fluctus.findings.models import Entry  # noqa: PLC0415
        from fluctus.kpis.hooks import followers  # noqa: PLC0415
        from fluctus.kpis.models import Event  # noqa: PLC0415
        from fluctus.messages.happening import (  # noqa: PLC0415
            follow_charts,
            note_feed,
            note_findings,
        )
        from fluctus.messages.naming import (  # noqa: PLC0415
            follow_shifts,
            note_event,
            note_remark,
        )

        listeners.append(note_findings)
        followers += [follow_charts, follow_shifts]
        post_save.connect(note_remark, sender=Entry)
        post_save.connect(note_event, sender=Event)
        tellers.append(note_feed)
