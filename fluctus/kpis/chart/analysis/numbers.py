"""How the numbers of a chart are written."""

from fluctus.core.words import POWERS, NumberStyle, ShownIn, style_of
from fluctus.http.refusals import Issue, RefusalError
from fluctus.kpis.chart.analysis.positions import CANNOT_DRAW
from fluctus.kpis.observations.series import Observations
from fluctus.kpis.state import ChartState

MOST_ZEROS = 5
"""Numbers with more decimals than this, shown in thousands or more, say nothing at a glance."""


def numbers_of(observations: Observations, state: ChartState) -> NumberStyle:
    """Choose how to write numbers, by the values that take part.

    Raises RefusalError where they are chosen to be shown in more than they come to.
    """
    values = observations.values[~observations.no_part]
    shown_in = ShownIn(state.shown_in)
    style = style_of(values, state.unit, state.decimals, shown_in)
    if style.decimals > MOST_ZEROS and shown_in not in (ShownIn.AUTOMATIC, ShownIn.ONES):
        example = style_of(values, state.unit, state.decimals, ShownIn.ONES)
        largest = example.amount(float(max(abs(values.max()), abs(values.min()))))
        smaller = [s.value for s in POWERS if POWERS[s] < POWERS[shown_in]]
        raise RefusalError(
            CANNOT_DRAW,
            Issue(
                f"The largest value is {largest}: in {shown_in.value} nothing would be left of it.",
                f"Choose {' or '.join(smaller)}, or let it be automatic.",
                "shown_in",
            ),
        )
    return style
