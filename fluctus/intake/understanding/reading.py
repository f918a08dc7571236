"""Understands a table: what its columns are for, which KPIs it holds, and what is wrong with it."""

from dataclasses import dataclass, replace
from zoneinfo import ZoneInfo

import polars as pl

from fluctus.core import Aggregation
from fluctus.http.refusals import Issue, RefusalError
from fluctus.intake.understanding import row_problems as wrong
from fluctus.intake.understanding.mapping import ONE_OF_A_KIND, KpiChoice, Mapping, Role
from fluctus.intake.understanding.points import Point, Rows, make_points
from fluctus.intake.understanding.proposals import (
    common_weekday,
    propose_aggregation,
    propose_grain,
    propose_roles,
)
from fluctus.intake.understanding.row_problems import Problems
from fluctus.kpis.calendar import Calendar, Grain
from fluctus.tables.grid import Grid, TableError
from fluctus.tables.meaning.columns import Column, Kind, understand
from fluctus.tables.meaning.dates import DateColumn, DateStyle, read_dates
from fluctus.tables.meaning.layout import Laid, lay_long, propose_layout, split_unit
from fluctus.tables.meaning.location import Found, find_table
from fluctus.tables.meaning.numbers import NumberColumn, read_numbers

CANNOT_READ = "This table cannot be read."
MAX_DECIMALS = 4
BETWEEN = (Aggregation.MEAN, Aggregation.MEDIAN)
"""Made of several values, these lie between them: they get a decimal more."""
MOST_KPIS = 60
LONGEST_BREAKDOWN = 120
NUMBER_ROLES = (Role.VALUE, Role.NUMERATOR, Role.DENOMINATOR, Role.TARGET)
WITHOUT_NAME = "Value"


@dataclass(frozen=True, slots=True)
class KpiRead:
    """One of the KPIs in a table, as it would be made."""

    key: str
    choice: KpiChoice
    """The choices in force, proposed or given."""
    name: str
    unit: str
    decimals: int
    why: str
    """Why its aggregation is proposed."""
    running_total: bool
    row_count: int
    combined: bool
    """Whether any of its values is made of several rows."""
    points: pl.DataFrame
    """Its values, as ``kpis.stored.FRAME`` has them."""
    resets: int
    rounded: int
    """How many cells have more digits than can be kept."""


@dataclass(frozen=True, slots=True)
class Reading:
    """A table as it was understood; ``made`` are the choices in force, found or given."""

    found: Found
    laid: Laid
    columns: tuple[Column, ...]
    made: Mapping
    date_styles: tuple[DateStyle, ...]
    """The style in force, then those that the column cannot be told apart from."""
    kpis: tuple[KpiRead, ...]
    problems: list[Issue]
    problem_count: int
    missing: int
    sorted_here: bool
    """Whether the rows were not in order of time."""
    repeated: int
    """How many rows fall in a period that has one already."""
    whole: int
    """Rows in all, of which ``found`` may be the first ones only."""

    @property
    def chosen(self) -> tuple[KpiRead, ...]:
        """The KPIs that are wanted."""
        return tuple(kpi for kpi in self.kpis if kpi.choice.include)


def read(grid: Grid, mapping: Mapping, most_rows: int | None = None) -> Reading:
    """Read a table by ``mapping`` where it says and by its looks elsewhere.

    ``most_rows`` looks at the first rows only. Raises RefusalError when there
    is no table, or no column of dates or of numbers; what is wrong with single
    rows is in ``problems``.
    """
    whole = len(grid)
    if most_rows is not None and whole > most_rows:
        grid = Grid(grid.cells.head(most_rows), grid.lines.head(most_rows), grid.named)
    try:
        found = find_table(grid, mapping.header_rows, frozenset(mapping.take_in))
    except TableError as error:
        raise RefusalError(CANNOT_READ, Issue(str(error))) from error
    found = _fixed(found, mapping.fixes)
    layout = mapping.layout or propose_layout(found)
    laid = lay_long(found, layout)
    columns = tuple(understand(name, laid.cells.to_series(n)) for n, name in enumerate(laid.names))
    roles = _roles(columns, laid, mapping)
    _refuse_without(roles, columns)
    period = roles.index(Role.PERIOD)
    dates = read_dates(laid.cells.to_series(period), mapping.date_style)
    grain = mapping.grain or propose_grain(dates.wall)
    weekday = mapping.first_weekday
    if weekday is None:
        weekday = common_weekday(dates.wall) if grain is Grain.WEEK else 0
    calendar = Calendar(ZoneInfo(mapping.time_zone), weekday, mapping.first_month)
    numbers = {
        n: read_numbers(laid.cells.to_series(n), mapping.decimal_mark)
        for n, role in enumerate(roles)
        if role in NUMBER_ROLES
    }
    problems = Problems()
    wanted = {
        n: roles[n] is not Role.VALUE or mapping.kpis.get(laid.names[n], KpiChoice()).include
        for n in numbers
    }
    good = _good_rows(found, laid, roles, period, dates, numbers, problems, wanted)
    rows = _rows(laid, roles, dates, numbers, calendar, good)
    made = replace(
        mapping,
        header_rows=found.header_rows,
        layout=layout,
        roles=dict(zip(laid.names, roles, strict=True)),
        date_style=dates.style,
        decimal_mark=next(iter(numbers.values())).mark,
        grain=grain,
        first_weekday=weekday,
    )
    return _with_kpis(
        Reading(
            found=found, laid=laid, columns=columns, made=made,
            date_styles=(dates.style, *dates.others), kpis=(), problems=[], problem_count=0,
            missing=sum(n.missing for at, n in numbers.items() if roles[at] is Role.VALUE),
            sorted_here=rows.was_out_of_order, repeated=0, whole=whole,
        ),
        rows, numbers, problems,
    )  # fmt: skip


def _fixed(found: Found, fixes: dict[str, str]) -> Found:
    """Put cells that a person wrote anew into the table."""
    if not fixes:
        return found
    places = {at: n for n, at in enumerate(found.at)}
    rows = {line: n for n, line in enumerate(found.lines)}
    cells = found.cells
    for place, text in fixes.items():
        line, _, at = place.partition(":")
        column, row = places.get(int(at)), rows.get(int(line))
        if column is None or row is None:
            continue
        series = cells.to_series(column).clone()
        series[row] = text.strip()
        cells = cells.with_columns(series.alias(f"c{column}"))
    return replace(found, cells=cells)


def _roles(columns: tuple[Column, ...], laid: Laid, mapping: Mapping) -> list[Role]:
    repeats = [
        column.kind is Kind.TEXT and 0 < column.different < max(2, column.filled * 0.7)
        for column in columns
    ]
    roles = propose_roles(columns, repeats)
    given = [mapping.roles.get(name) for name in laid.names]
    for n, role in enumerate(given):
        if role is None:
            continue
        # A role of which there is one moves to the column it is given to.
        if role in ONE_OF_A_KIND:
            roles = [Role.IGNORE if r is role and given[i] is not role else r
                     for i, r in enumerate(roles)]  # fmt: skip
        roles[n] = role
    ratio = Role.NUMERATOR in roles and Role.DENOMINATOR in roles
    if ratio and not any(role is Role.VALUE for role in given):
        roles = [Role.IGNORE if role is Role.VALUE else role for role in roles]
    if Role.KPI in roles:
        # One column of values, of many KPIs.
        seen = False
        for n, role in enumerate(roles):
            if role is Role.VALUE and seen and given[n] is None:
                roles[n] = Role.IGNORE
            seen = seen or role is Role.VALUE
    return roles


def _refuse_without(roles: list[Role], columns: tuple[Column, ...]) -> None:
    for role in ONE_OF_A_KIND:
        names = [c.name for c, own in zip(columns, roles, strict=True) if own is role]
        if len(names) > 1:
            raise RefusalError(
                CANNOT_READ,
                Issue(f"{' and '.join(names)} cannot both be the {role}.",
                      "Choose one of them.", "roles"),
            )  # fmt: skip
    if Role.PERIOD not in roles:
        raise RefusalError(
            CANNOT_READ,
            Issue(
                "No column holds dates.",
                "One column must hold dates, such as 2026-05-18 or 18 May 2026.",
            ),
        )
    parts = [Role.NUMERATOR in roles, Role.DENOMINATOR in roles]
    if any(parts) and not all(parts):
        raise RefusalError(
            CANNOT_READ,
            Issue("A ratio needs a numerator and a denominator.",
                  "Give another column the other role.", "roles"),
        )  # fmt: skip
    if Role.VALUE not in roles and not all(parts):
        raise RefusalError(
            CANNOT_READ,
            Issue(
                "No column holds numbers.", "One column must hold numbers, such as 19.4 or 19,4."
            ),
        )


def _good_rows(
    found: Found,
    laid: Laid,
    roles: list[Role],
    period: int,
    dates: DateColumn,
    numbers: dict[int, NumberColumn],
    problems: Problems,
    wanted: dict[int, bool],
) -> pl.Series:
    """Say what is wrong with which rows; returns where nothing is."""
    lines = laid.lines
    bad = pl.Series([False]).new_from_index(0, len(lines))
    if found.too_wide:
        wide = lines.is_in(list(found.too_wide))
        problems.add(len(found.too_wide), wrong.too_wide(found.too_wide, len(found.names)))
        bad |= wide
    no_date = dates.wall.is_null() & ~bad
    if laid.sources is not None:
        no_date &= laid.cells.to_series(len(roles) - 1) != ""
    where = no_date.arg_true()
    problems.add(
        len(where),
        wrong.bad_dates(
            lines.gather(where), laid.cells.to_series(period).gather(where), laid.names[period],
            _place(found, laid, period), dates.style,
        ),
    )  # fmt: skip
    bad |= dates.wall.is_null()
    for n, column in numbers.items():
        if not wanted[n]:
            continue
        # The other cells of the row still count: each column is a KPI, or a part, of its own.
        where = (column.unfit & ~bad).arg_true()
        problems.add(
            len(where),
            wrong.bad_numbers(
                lines.gather(where), laid.cells.to_series(n).gather(where),
                _number_places(found, laid, n, where), column.mark,
            ),
        )  # fmt: skip
    return ~bad


def _place(found: Found, laid: Laid, column: int) -> int:
    """Return the column of the sheet that a column of the long table came from."""
    if laid.sources is None:
        return found.at[column]
    return found.at[found.names.index(laid.names[column])] if column < len(laid.names) - 2 else -1


def _number_places(
    found: Found, laid: Laid, column: int, where: pl.Series
) -> list[tuple[str, int]]:
    if laid.sources is None or column < len(laid.names) - 1:
        return [(laid.names[column], _place(found, laid, column))] * len(where)
    return [(found.names[source], found.at[source]) for source in laid.sources.gather(where)]


def _rows(
    laid: Laid,
    roles: list[Role],
    dates: DateColumn,
    numbers: dict[int, NumberColumn],
    calendar: Calendar,
    good: pl.Series,
) -> Rows:
    def texts(role: Role) -> pl.Series:
        if role not in roles:
            return pl.Series([""]).new_from_index(0, len(laid.lines))
        return laid.cells.to_series(roles.index(role))

    def amounts(role: Role) -> pl.Series:
        if role not in roles:
            return pl.Series([None], dtype=pl.Float64).new_from_index(0, len(laid.lines))
        return numbers[roles.index(role)].numbers

    frame = pl.DataFrame(
        {
            "line": laid.lines,
            "wall": dates.wall,
            "zoned": dates.zoned,
            "cell": laid.cells.to_series(roles.index(Role.PERIOD)),
            "kpi": texts(Role.KPI),
            "breakdown": texts(Role.BREAKDOWN).str.slice(0, LONGEST_BREAKDOWN),
            "note": texts(Role.NOTE).str.slice(0, 500),
            "numerator": amounts(Role.NUMERATOR),
            "denominator": amounts(Role.DENOMINATOR),
            "target": amounts(Role.TARGET),
            **{f"v{n}": column.numbers for n, column in numbers.items()
               if roles[n] is Role.VALUE},
        }
    )  # fmt: skip
    return Rows.of(frame.filter(good), calendar)


def _with_kpis(
    reading: Reading, rows: Rows, numbers: dict[int, NumberColumn], problems: Problems
) -> Reading:
    made, laid = reading.made, reading.laid
    grain = made.grain
    assert grain is not None, "the caller has settled the grain"
    roles = [made.roles[name] for name in laid.names]
    kpis: list[KpiRead] = []
    repeated, together = 0, False
    for key, header, columns, own in _candidates(roles, laid, rows):
        points = _points(key, header, columns, own, reading, rows.calendar, numbers)
        kpis.append(points.read)
        repeated = max(repeated, points.made.repeated)
        together = together or points.made.together
        if points.made.refused.height and points.read.choice.include:
            lost = points.made.refused
            problems.add(
                lost.height,
                wrong.repeated(
                    lost["line"], lost["first"], lost["cell"], laid.names[roles.index(Role.PERIOD)],
                    grain, str(points.read.choice.aggregation),
                ),
            )  # fmt: skip
    return replace(
        reading,
        made=replace(
            made,
            combine=together if made.combine is None else made.combine,
            kpis={kpi.key: kpi.choice for kpi in kpis},
        ),
        kpis=tuple(kpis),
        problems=problems.in_order(),
        problem_count=problems.count,
        repeated=repeated,
    )


SOME_ARE_MISTAKES = 0.2
"""Up to this share of the rows, several in one period are a mistake; past it, how the table is."""


@dataclass(frozen=True, slots=True)
class _Made:
    read: KpiRead
    made: Point


def _candidates(
    roles: list[Role], laid: Laid, rows: Rows
) -> list[tuple[str, str, dict[str, str], pl.DataFrame]]:
    """List the KPIs of a table: key, header, which columns hold what, and their rows."""
    values = [n for n, role in enumerate(roles) if role is Role.VALUE]
    if Role.KPI in roles:
        names = rows.frame["kpi"].unique(maintain_order=True)
        column = {"value": f"v{values[0]}"} if values else {}
        if len(names) > MOST_KPIS:
            raise RefusalError(
                CANNOT_READ,
                Issue(f"The table names {len(names):,} KPIs; at most {MOST_KPIS} can come at once.",
                      "Is this column a breakdown, or a note?", "roles"),
            )  # fmt: skip
        return [
            (name or WITHOUT_NAME, name, column, rows.frame.filter(pl.col("kpi") == name))
            for name in names
        ]
    made: list[tuple[str, str, dict[str, str], pl.DataFrame]] = []
    if Role.NUMERATOR in roles:
        header = laid.names[roles.index(Role.NUMERATOR)]
        made.append((f"{header} ratio", f"{header} ratio", {}, rows.frame))
    for n in values:
        header = laid.names[n] if not laid.names[n].startswith("Column ") else ""
        key = header or WITHOUT_NAME
        named = "" if laid.sources is not None else header
        made.append((key, named, {"value": f"v{n}"}, rows.frame))
    return made[:MOST_KPIS]


def _points(
    key: str,
    header: str,
    columns: dict[str, str],
    own: pl.DataFrame,
    reading: Reading,
    calendar: Calendar,
    numbers: dict[int, NumberColumn],
) -> _Made:
    mapping = reading.made
    chosen = mapping.kpis.get(key, KpiChoice())
    settled = replace(chosen, aggregation=chosen.aggregation or mapping.aggregation)
    name, unit = split_unit(header)
    column = numbers[int(columns["value"][1:])] if "value" in columns else None
    unit = unit or (column.unit if column else "")
    decimals = min(column.decimals, MAX_DECIMALS) if column else 1
    whole = column is not None and column.decimals == 0
    ratio = column is None
    proposal = propose_aggregation(name, unit, whole=whole)
    grain = mapping.grain
    assert grain is not None, "the caller has settled the grain"
    made = make_points(
        own, columns.get("value"), calendar, grain, settled, proposal.aggregation, mapping.combine,
        ratio=ratio, share=SOME_ARE_MISTAKES,
    )  # fmt: skip
    aggregation, why = made.aggregation, proposal.why
    if chosen.aggregation is None and mapping.aggregation is not None:
        why = "as the KPI has it"
    elif chosen.aggregation is not None:
        why = "chosen"
    elif ratio:
        why = "sum of the numerators by sum of the denominators"
    elif made.difference:
        why = "amounts between readings are added up"
    combined = bool((made.frame["rows"] > 1).any())
    if combined and aggregation in BETWEEN:
        decimals = min(decimals + 1, MAX_DECIMALS)
    return _Made(
        KpiRead(
            key=key,
            choice=replace(chosen, aggregation=aggregation, difference=made.difference),
            name=name,
            unit=unit,
            decimals=decimals,
            why=why,
            running_total=made.running_total,
            row_count=own.height,
            combined=combined,
            points=made.frame,
            resets=made.resets,
            rounded=len(column.rounded) if column else 0,
        ),
        made,
    )
