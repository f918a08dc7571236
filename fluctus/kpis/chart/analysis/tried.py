"""Observations as they would be: values changed or set aside, and nothing saved."""

from collections.abc import Mapping
from dataclasses import replace

from fluctus.http.refusals import Issue, RefusalError
from fluctus.kpis.chart.analysis.positions import CANNOT_DRAW, read_period
from fluctus.kpis.observations.series import Observations


def with_aside(observations: Observations, aside: Mapping[str, str | None]) -> Observations:
    """Set values aside, by period with a reason, or put them back where the reason is None.

    Raises RefusalError for a period without a value.
    """
    flags, reasons = observations.set_aside.copy(), dict(observations.reasons)
    for text, reason in aside.items():
        position = _position(observations, text, "aside")
        flags[position] = reason is not None
        reasons.pop(position, None)
        if reason is not None:
            reasons[position] = reason
    return replace(observations, set_aside=flags, reasons=reasons)


def with_values(observations: Observations, values: Mapping[str, float]) -> Observations:
    """Replace values, by period; raises RefusalError for a period without one."""
    changed = observations.values.copy()
    for text, value in values.items():
        changed[_position(observations, text, "values")] = value
    return replace(observations, values=changed)


def _position(observations: Observations, text: str, field: str) -> int:
    position = observations.position_of(read_period(observations, text, field))
    if position is None:
        raise RefusalError(
            CANNOT_DRAW,
            Issue("There is no value at this period.", "Choose a period that has one.", found=text),
        )
    return position
