"""Letters that are looked into in the background: asking for one takes as long for anybody."""

from procrastinate.contrib.django import app

from fluctus.accounts.own.passwords import send_reset
from fluctus.jobs.queues import LETTERS


@app.task(name="send_password_letter", queue=LETTERS, pass_context=False)
def send_password_letter(name: str) -> None:
    """Send the letter with which a password is set anew, where there is such a person."""
    send_reset(name)
