"""How a value stands that somebody is typing, by what was kept with its KPI."""

from typing import Final

from fluctus.core.words import NumberStyle
from fluctus.filling.shapes import Stands, ValueCheck
from fluctus.kpis.models import Kpi

FAR: Final = 10.0
"""Half widths of the limits away from the average after which it is asked about first."""


UNKNOWN: Final = ValueCheck(Stands.UNKNOWN, "", asks=False)


def check_value(kpi: Kpi, value: float) -> ValueCheck:
    """Judge a value of the whole of a KPI."""
    expected = kpi.digest.get("expected")
    if expected is None:
        return UNKNOWN
    lower, average, upper = expected
    numbers = NumberStyle(**kpi.digest["numbers"])
    reach = max((abs(limit - average) for limit in (lower, upper) if limit is not None), default=0)
    if reach and abs(value - average) > FAR * reach:
        text = f"Far from every value so far: usual is {numbers.level_amount(average)}. A slip?"
        return ValueCheck(Stands.FAR, text, asks=True)
    for stands, limit, name in (
        (Stands.ABOVE, upper, "upper"),
        (Stands.BELOW, lower, "lower"),
    ):
        beyond = limit is not None and (value > limit if stands is Stands.ABOVE else value < limit)
        if limit is not None and beyond:
            written = numbers.level_apart(limit, value)
            return ValueCheck(
                stands, f"{stands.capitalize()} the {name} limit, {written}", asks=True
            )
    if lower is None and upper is None:
        return UNKNOWN
    return ValueCheck(Stands.WITHIN, "Within its limits", asks=False)


def expectation(kpi: Kpi) -> str:
    """Say what the next value is expected to be: ``16.2 to 24.5, on average 20.4 min``."""
    expected = kpi.digest.get("expected")
    if expected is None:
        return ""
    lower, average, upper = expected
    numbers = NumberStyle(**kpi.digest["numbers"])
    usual = f"on average {numbers.level_amount(average)}"
    if lower is None and upper is None:
        return usual
    if lower is None:
        return f"up to {numbers.level(upper)}, {usual}"
    if upper is None:
        return f"{numbers.level(lower)} or more, {usual}"
    return f"{numbers.level(lower)} to {numbers.level(upper)}, {usual}"
