"""Fetches in the background: what is due begins, what was lost says so."""

from procrastinate.contrib.django import app

from fluctus.feeds import running
from fluctus.feeds.models import Fetch, FetchOutcome
from fluctus.http import clock
from fluctus.http.refusals import Issue, RefusalError
from fluctus.http.tracing import carried, traced
from fluctus.jobs import life
from fluctus.jobs.models import JobStatus
from fluctus.jobs.order import behind
from fluctus.jobs.queues import FEEDS

NAME = "fetch_feed"


def leave_to_worker(fetch: Fetch) -> None:
    """Let a worker carry a fetch out, once the transaction has ended."""
    beside = Fetch.objects.filter(feed__workspace=fetch.feed.workspace_id)
    fetch_feed.configure(priority=behind(fetch, beside)).defer(job_id=fetch.pk, **carried())


@app.task(name=NAME, queue=FEEDS, pass_context=False, retry=life.AGAIN)
@traced
def fetch_feed(job_id: int) -> None:
    """Carry a fetch out; begun again after a crash, it starts from the beginning."""
    fetch = (
        Fetch.objects.select_related("feed__workspace", "feed__person").filter(pk=job_id).first()
    )
    if fetch is None:
        return
    ended = life.run(fetch, lambda: running.carry_fetch_out(fetch))
    if ended in (JobStatus.FAILED, JobStatus.CANCELLED):
        # What was refused is noted already; anything else is noted here.
        left = Fetch.objects.filter(pk=fetch.pk, outcome=FetchOutcome.UNDER_WAY).exists()
        if left:
            issue = Issue("The failure is in the server's log.")
            running.note_failed(fetch.feed, fetch, clock.now(), RefusalError("It failed.", issue))


def begin_due() -> int:
    """Begin what is due now."""
    return running.begin_due(clock.now(), leave_to_worker)


def sweep() -> int:
    """End the fetches whose job is gone, and let their feeds go on."""
    issue = Issue(
        "The work on it came to an end before it was done.", "It fetches again by itself."
    )
    lost = RefusalError("The fetch was interrupted; nothing was saved.", issue)
    count = life.sweep(Fetch, NAME, lost)
    ended = Fetch.objects.filter(status=JobStatus.FAILED, outcome=FetchOutcome.UNDER_WAY)
    for fetch in ended.select_related("feed"):
        running.note_failed(fetch.feed, fetch, clock.now(), lost)
    return count


def clear_drafts() -> int:
    """Remove what was looked at and never set up."""
    return running.forget_drafts(clock.now())
