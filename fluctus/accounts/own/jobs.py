"""Letters that are looked into in the background: asking for one takes as long for anybody."""

from procrastinate.contrib.django import app

from fluctus.accounts.own.passwords import send_reset
from fluctus.http.tracing import traced
from fluctus.jobs.queues import MAIL


@app.task(
    name="send_password_mail", queue=MAIL, pass_context=False, aliases=["send_password_letter"]
)
@traced
def send_password_mail(name: str) -> None:
    """Send the letter with which a password is set anew, where there is such a person."""
    send_reset(name)
