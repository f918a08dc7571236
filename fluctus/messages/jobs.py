"""What is told as time passes: noted, handed on, and sent."""

from contextlib import suppress

from django.db import transaction
from procrastinate.contrib.django import app
from procrastinate.exceptions import AlreadyEnqueued

from fluctus.http import clock
from fluctus.http.tracing import traced
from fluctus.jobs.queues import MAIL
from fluctus.messages import outbox, scheduled
from fluctus.messages.happening import note_time


def tell() -> None:
    """Note what time has made, write to whoever wants to know, and let it be sent."""
    now = clock.now()
    outbox.ensure_digests(now)
    note_time(now)
    outbox.hand_on(now)
    outbox.write_digests(now)
    scheduled.ask_for_due(now)
    scheduled.mail_made(now)
    # One that waits already sends all there is.
    with suppress(AlreadyEnqueued), transaction.atomic():
        send_messages.configure(queueing_lock="messages").defer()


@app.task(name="send_messages", queue=MAIL, pass_context=False)
@traced
def send_messages() -> None:
    """Send what waits."""
    outbox.send_due(clock.now())
