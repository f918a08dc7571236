"""Both numbers of a ratio, as they are typed and as they are kept: numerators times its number."""

from datetime import UTC, datetime
from zoneinfo import ZoneInfo

import polars as pl

from fluctus.core import Aggregation
from fluctus.http.refusals import Issue, RefusalError
from fluctus.kpis.calendar import Grain, label
from fluctus.kpis.models import Kpi, Observation

NOT_SAVED = "The values were not saved."
REMEDY = "Put one of the numbers right."
NEVER_MORE = "a part is never more than its whole."


def is_share(kpi: Kpi) -> bool:
    """Tell whether a KPI is the share of a part in its whole, which is never more."""
    return kpi.aggregation == Aggregation.RATIO and kpi.ceiling == kpi.times


def fraction_of(
    kpi: Kpi, above: float | None, below: float | None, field: str
) -> dict[str, float] | None:
    """Return a ratio with both numbers as they are kept; None where neither is typed.

    Raises RefusalError where they make none; ``field`` is where they were typed.
    """
    if above is None and below is None:
        return None
    if kpi.aggregation != Aggregation.RATIO:
        raise _refused(f"{kpi.name} is no ratio.", "Write its value.", f"{field}.numerator")
    if above is None or below is None:
        raise _refused(
            "A ratio takes both numbers.", "Write the other one.", f"{field}.denominator"
        )
    if below == 0:
        raise _refused(
            "There is no ratio by 0.", "Remove the value of this period.", f"{field}.denominator"
        )
    if is_share(kpi) and above > below:
        raise _refused(f"{part_of(above, below)}, and {NEVER_MORE}", REMEDY, f"{field}.numerator")
    return {
        "value": above / below * kpi.times,
        "numerator": above * kpi.times,
        "denominator": below,
    }


def refuse_above_whole(kpi: Kpi, frame: pl.DataFrame) -> None:
    """Raise RefusalError for values of which a part is more than its whole, of a share."""
    if not is_share(kpi):
        return
    most = pl.col("denominator") * kpi.times * (1 + 1e-9)
    wrong = frame.filter(pl.col("numerator") > most)
    if wrong.height:
        when, told = first_fraction(kpi, wrong)
        raise _refused(f"{kpi.name}, {when}: {told}, and {NEVER_MORE}", REMEDY)


def first_fraction(kpi: Kpi, rows: pl.DataFrame) -> tuple[str, str]:
    """Return the first period of some kept ratios, and its numbers as they are typed."""
    period, above, below = rows.select("period", "numerator", "denominator").row(0)
    when = label(datetime.fromtimestamp(period, UTC), Grain(kpi.grain), ZoneInfo(kpi.time_zone))
    return when, part_of(above / kpi.times, below)


def part_of(above: float, below: float) -> str:
    """Write both numbers of a ratio: ``12 of 40``."""
    return f"{above:,.6g} of {below:,.6g}"


def _refused(detail: str, remedy: str, field: str = "") -> RefusalError:
    return RefusalError(NOT_SAVED, Issue(detail, remedy, field))


def parts_with(row: Observation, value: float) -> dict[str, float | None]:
    """Return the parts of a ratio that is changed to ``value``, so that longer grains agree.

    None where there are none, or where a ratio of 0 does not say them.
    """
    if row.numerator is None or not row.value:
        return {"numerator": None, "denominator": None}
    return {
        "numerator": row.numerator * (value / row.value),
        "denominator": row.denominator,
    }
