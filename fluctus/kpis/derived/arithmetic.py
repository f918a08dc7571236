"""KPIs made by arithmetic: a ratio, a sum, a difference, a multiple.

A ratio keeps the numerators and denominators of its periods and parts, so that at a longer grain
and over parts it is the ratio of their sums.
"""

from collections.abc import Sequence
from functools import partial
from typing import Any, Final
from zoneinfo import ZoneInfo

import polars as pl

from fluctus.core import Aggregation, Direction, MadeFrom
from fluctus.core.shaping import FORMULAS, above_whole
from fluctus.core.words import TIMES, in_a_row, singular
from fluctus.http.refusals import Issue, RefusalError
from fluctus.kpis.calendar import Grain
from fluctus.kpis.derived.aligned import BY, Aligned, aligned, grain_of, side
from fluctus.kpis.derived.kind import DerivedKind, FromSources, Make, Proposal, Propose, cannot
from fluctus.kpis.derived.wholes import named_part_of
from fluctus.kpis.models import Kpi
from fluctus.kpis.observations.frame import FRAME
from fluctus.kpis.observations.series import COUNTED
from fluctus.kpis.periods import named
from fluctus.kpis.state import ChartState
from fluctus.kpis.values.fractions import NEVER_MORE, first_fraction, is_share

PERCENT: Final = 100.0
IN_WORDS: Final = {
    MadeFrom.RATIO: "per",
    MadeFrom.SUM: "and",
    MadeFrom.DIFFERENCE: "less",
}
ASIDE: Final = "Set aside where it is made from"


def _refuse_uneven_calendars(sources: Sequence[Kpi]) -> None:
    first, second = sources
    grain = grain_of(sources)
    if first.time_zone != second.time_zone:
        raise cannot(
            f"Their periods begin by other clocks: {first.time_zone} and {second.time_zone}.",
            "Give both the same time zone, in the details of their charts.",
            "second",
        )
    weeks = grain is Grain.WEEK and first.first_weekday != second.first_weekday
    years = grain in (Grain.QUARTER, Grain.YEAR) and first.first_month != second.first_month
    if weeks or years:
        raise cannot(
            f"Their {grain}s do not begin on the same {'day' if weeks else 'month'}.",
            "Let both begin alike, in the details of their charts.",
            "second",
        )


def _like(source: Kpi, **settings: object) -> ChartState:
    taken = {
        "group": source.group,
        "unit": source.unit,
        "decimals": source.decimals,
        "direction": source.direction,
        "time_zone": source.time_zone,
        "first_weekday": source.first_weekday,
        "first_month": source.first_month,
        "aggregation": source.aggregation,
    }
    return ChartState.from_json(taken | settings)


def share_settings(times: float) -> dict[str, Any]:
    """Return the settings of a share: how much of a whole a part is."""
    return {
        "unit": "%" if times == PERCENT else "",
        "decimals": 1 if times == PERCENT else 3,
        "aggregation": Aggregation.RATIO.value,
        "floor": 0.0,
        "ceiling": times,
    }


def _propose_ratio(sources: Sequence[Kpi], times: float | None) -> Proposal:
    first, second = sources
    if times is not None and times <= 0:
        raise cannot("A ratio is times a number above 0.", "Write 1, 100 or 1,000.", "times")
    for source in sources:
        if source.aggregation == Aggregation.RATIO:
            raise cannot(
                f"{source.name} is a ratio itself, and ratios are not divided.",
                "Choose the two KPIs whose numbers are counted.",
                "source" if source is first else "second",
            )
    _refuse_uneven_calendars(sources)
    grain = grain_of(sources)
    pairs = aligned(first, second, grain).rows
    if not (pairs["value_right"] != 0).any():
        raise cannot(
            f"{second.name} has no value but 0 in a period that {first.name} has one in.",
            "Choose KPIs that have periods in common.",
            "second",
        )
    is_share = (
        first.unit == second.unit
        and (times == PERCENT or (times is None and named_part_of(first.name, second.name)))
        and not above_whole(pairs["value"].to_numpy(), pairs["value_right"].to_numpy()).any()
        and bool((pairs["value"] >= 0).all())
    )
    chosen = (PERCENT if is_share else 1.0) if times is None else times
    if is_share:
        name = f"{first.name} of {second.name.lower()}"
        return Proposal(_like(first, name=name[:120], **share_settings(chosen)), grain, chosen)
    unit = f"{first.unit or first.name.lower()} per {singular(second.unit or second.name.lower())}"
    if chosen != 1.0:
        unit = f"{unit} {TIMES} {chosen:g}"
    state = _like(
        first,
        name=f"{first.name} per {singular(second.name.lower())}"[:120],
        aggregation=Aggregation.RATIO.value,
        unit=unit[:30],
        decimals=2,
        floor=0.0 if first.floor == 0.0 and second.floor == 0.0 else None,
    )
    return Proposal(state, grain, chosen)


def _propose_two(made_by: MadeFrom, sources: Sequence[Kpi], times: float | None) -> Proposal:
    first, second = sources
    kinds = {Aggregation(source.aggregation) for source in sources}
    if Aggregation.RATIO in kinds:
        raise cannot(
            "Ratios are not added up: those of more count for more.",
            "Choose KPIs whose values can be added up.",
            "second",
        )
    if first.unit != second.unit:
        raise cannot(
            f"{first.name} is in {first.unit or 'no unit'}, {second.name} in "
            f"{second.unit or 'no unit'}.",
            "Choose KPIs of one unit, or give them the same in the details of their charts.",
            "second",
        )
    counted = kinds <= set(COUNTED)
    if len(kinds) > 1 and not counted:
        raise cannot(
            f"{first.name} and {second.name} are not made alike over longer periods.",
            "Give both the same way, in the details of their charts.",
            "second",
        )
    _refuse_uneven_calendars(sources)
    lowest = first.floor if made_by is MadeFrom.SUM and first.floor == second.floor else None
    state = _like(
        first,
        name=f"{first.name} {IN_WORDS[made_by]} {second.name.lower()}"[:120],
        aggregation=(Aggregation.SUM if counted else next(iter(kinds))).value,
        floor=lowest,
    )
    return Proposal(state, grain_of(sources), 1.0)


def _propose_multiple(sources: Sequence[Kpi], times: float | None) -> Proposal:
    (source,) = sources
    if times is None or times in (0.0, 1.0):
        raise cannot(
            "A multiple takes a number other than 0 and 1.", "Say times how many.", "times"
        )
    how = Aggregation(source.aggregation)
    state = _like(
        source,
        name=f"{source.name} {TIMES} {times:g}"[:120],
        unit="",
        floor=0.0 if source.floor == 0.0 and times > 0 else None,
        direction=source.direction if times > 0 else Direction.NEITHER.value,
        aggregation=(Aggregation.SUM if how is Aggregation.COUNT else how).value,
    )
    ratio = source.times if how is Aggregation.RATIO else 1.0
    return Proposal(state, Grain(source.grain), times * ratio)


def _make_two(made_by: MadeFrom, sources: Sequence[Kpi], grain: Grain, times: float) -> FromSources:
    first, second = sources
    pairs = aligned(first, second, grain)
    rows = pairs.rows
    left, right = rows["value"].to_numpy(), rows["value_right"].to_numpy()
    values = pl.Series("value", FORMULAS[made_by](left, right, times))
    ratio = made_by is MadeFrom.RATIO
    nothing = pl.lit(None, dtype=pl.Float64)
    frame = _frame(
        rows.with_columns(
            values,
            (pl.lit(pl.Series(left * times)) if ratio else nothing).alias("numerator"),
            (pl.col("value_right") if ratio else nothing).alias("denominator"),
            pl.col("aside") | pl.col("aside_right"),
        ),
        f"{ASIDE}: {first.name} or {second.name}",
    )
    kept = frame.filter(pl.col("value").is_not_nan())
    return FromSources(kept, (*pairs.left_out, *_by_zero(pairs, kept, second)))


def _by_zero(pairs: Aligned, kept: pl.DataFrame, second: Kpi) -> tuple[str, ...]:
    gone = pairs.rows.filter(pl.col("value_right") == 0).join(kept, on=BY, how="anti")
    if not gone.height:
        return ()
    zone = ZoneInfo(second.time_zone)
    told = named(gone["period"].unique().sort().to_list(), Grain(second.grain), zone)
    return (f"{told} without a ratio: {second.name} is 0 there.",)


def _make_multiple(sources: Sequence[Kpi], grain: Grain, times: float) -> FromSources:
    (source,) = sources
    rows = side(source, grain, whole=False)
    factor = times / source.times if source.aggregation == Aggregation.RATIO else times
    made = rows.with_columns(pl.col("value") * factor, pl.col("numerator") * factor)
    return FromSources(_frame(made, f"{ASIDE}: {source.name}"))


def _frame(rows: pl.DataFrame, reason: str) -> pl.DataFrame:
    nothing = pl.lit(None, dtype=pl.Float64)
    return rows.select(
        *BY,
        "value",
        pl.col("numerator").fill_nan(None),
        pl.col("denominator").fill_nan(None),
        nothing.alias("target"),
        nothing.alias("target_high"),
        "rows",
        pl.lit("").alias("note"),
        pl.col("aside").alias("set_aside"),
        pl.when("aside").then(pl.lit(reason[:200])).otherwise(pl.lit("")).alias("reason"),
        pl.lit(False).alias("typed"),
    ).cast(FRAME)  # type: ignore[arg-type]


def _refuse_above_whole(kpi: Kpi, sources: Sequence[Kpi], result: FromSources) -> None:
    """Raise RefusalError for a part that is more than its whole, of a share."""
    if not is_share(kpi):
        return
    wrong = result.frame.filter(pl.col("value") > kpi.times * (1 + 1e-9))
    if wrong.height:
        when, told = first_fraction(kpi, wrong)
        raise RefusalError(
            f"{kpi.name} cannot follow this; nothing was saved.",
            Issue(
                f"{in_a_row([source.name for source in sources])} would make {told} ({when}): "
                f"{NEVER_MORE}",
                f"Put one of the numbers right, or give {kpi.name} another ceiling first.",
            ),
        )


def _refuse_nothing_left(kpi: Kpi, sources: Sequence[Kpi], result: FromSources) -> None:
    """Raise RefusalError where no value would be left to follow."""
    if result.frame.is_empty():
        names = in_a_row([source.name for source in sources])
        raise RefusalError(
            f"{kpi.name} cannot follow this; nothing was saved.",
            Issue(f"{names} would have no period in common.", f"Delete {kpi.name} first, or undo."),
        )


def _follow(make: Make, kpi: Kpi, sources: Sequence[Kpi]) -> FromSources:
    if len(sources) > 1:
        try:
            _refuse_uneven_calendars(sources)
        except RefusalError as error:
            title = f"{kpi.name} cannot follow this; nothing was saved."
            raise RefusalError(title, *error.issues) from None
    made = make(sources, Grain(kpi.grain), kpi.times)
    _refuse_nothing_left(kpi, sources, made)
    _refuse_above_whole(kpi, sources, made)
    return made


def _kind(made_by: MadeFrom, sources: int, propose: Propose, make: Make) -> DerivedKind:
    return DerivedKind(made_by, sources, propose, make, partial(_follow, make))


RATIO = _kind(MadeFrom.RATIO, 2, _propose_ratio, partial(_make_two, MadeFrom.RATIO))
SUM = _kind(MadeFrom.SUM, 2, partial(_propose_two, MadeFrom.SUM), partial(_make_two, MadeFrom.SUM))
DIFFERENCE = _kind(
    MadeFrom.DIFFERENCE,
    2,
    partial(_propose_two, MadeFrom.DIFFERENCE),
    partial(_make_two, MadeFrom.DIFFERENCE),
)
MULTIPLE = _kind(MadeFrom.MULTIPLE, 1, _propose_multiple, _make_multiple)
