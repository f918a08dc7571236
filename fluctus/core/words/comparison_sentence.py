"""Two segments side by side, in a sentence."""

from fluctus.core.context.comparison import Level
from fluctus.core.words.numbers import percent, percent_of_all
from fluctus.core.words.wording import Words


def compare(
    before: Level, after: Level, names: tuple[str, str], words: Words, *, ahead: bool = True
) -> str:
    """Describe what changed from one level to another, as a person would write it in a report.

    ``ahead`` tells whether anything may be said of what is to come.
    """
    first, second = names
    if before.average is None or after.average is None:
        return f"{words.name}: there are too few values to compare {first} with {second}."
    # Differences of the numbers as written, so that a reader can check them.
    was, now = map(words.numbers.level_as_written, (before.average, after.average))
    went = (
        f"{words.name} went from {words.numbers.level(before.average)} to "
        f"{words.numbers.level_amount(after.average)} on average"
    )
    text = f"{went}, {_change(float(was), float(now), words)}"
    parts = []
    if ahead and before.limits_width is not None and after.limits_width is not None:
        assert after.lower is not None, "limits come together"
        assert after.upper is not None, "limits come together"
        parts.append(
            f"any one {words.grain} is now expected between {words.numbers.level(after.lower)} and "
            f"{words.numbers.level_amount(after.upper)}"
        )
    if before.share_meeting_target is not None and after.share_meeting_target is not None:
        then = percent_of_all(before.share_meeting_target)
        since = percent_of_all(after.share_meeting_target)
        parts.append(f"the target was met in {then} of the {words.grain}s before and {since} after")
    counts = f"{first}: {words.periods(before.n)}; {second}: {words.periods(after.n)}"
    return f"{text}{''.join(f'; {part}' for part in parts)} ({counts})."


def _change(was: float, now: float, words: Words) -> str:
    if now == was:
        return "no change"
    more = "more" if now > was else "less"
    # Percents differ by points: a share of a share would be taken for them.
    share = (
        f" ({percent(abs(now - was) / abs(was))})" if was and not words.numbers.in_percent else ""
    )
    return f"{words.numbers.level_difference(abs(now - was))} {more}{share}"
