"""What a person has said of values far off, before anything is saved: mended, or set aside."""

import polars as pl

from fluctus.http.refusals import Issue, RefusalError
from fluctus.intake.understanding.mapping import KpiChoice
from fluctus.intake.understanding.roles import CANNOT_READ
from fluctus.kpis.calendar import Calendar, Grain, from_text

REASON = "Far off the others"


def answered(
    frame: pl.DataFrame, choice: KpiChoice, calendar: Calendar, grain: Grain
) -> pl.DataFrame:
    """Return a frame of values with what was said of some periods.

    Raises RefusalError for what is no period. One that the table does not have any more is
    passed over.
    """
    if not (choice.mended or choice.aside):
        return frame
    mended = {_instant(text, calendar, grain): value for text, value in choice.mended.items()}
    aside = [_instant(text, calendar, grain) for text in choice.aside]
    is_mended = pl.col("period").is_in(list(mended))
    is_aside = pl.col("period").is_in(aside)
    return frame.with_columns(
        pl.when(is_mended)
        .then(pl.col("period").replace_strict(mended, default=None, return_dtype=pl.Float64))
        .otherwise("value")
        .alias("value"),
        # A value that is told is made of nothing any more.
        *(
            pl.when(is_mended).then(None).otherwise(name).alias(name)
            for name in ("numerator", "denominator")
        ),
        (pl.col("set_aside") | is_aside).alias("set_aside"),
        pl.when(is_aside & (pl.col("reason") == ""))
        .then(pl.lit(REASON))
        .otherwise("reason")
        .alias("reason"),
    )


def _instant(text: str, calendar: Calendar, grain: Grain) -> float:
    try:
        return from_text(text, grain, calendar.zone).timestamp()
    except (ValueError, OverflowError):
        raise RefusalError(
            CANNOT_READ,
            Issue("This is not a period.", "Write one as the values have them.", found=text[:40]),
        ) from None
