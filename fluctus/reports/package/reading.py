"""What is understood of a package: checked whole before anything of it is saved.

Its files are read in a process of their own (``tables.package_file``); here settings pass the
checks that those of the API pass, and values those that every KPI passes.
"""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from pathlib import Path
from typing import Any
from zoneinfo import ZoneInfo

import numpy as np
import polars as pl
from rest_framework.exceptions import ValidationError

from fluctus.core import MadeFrom
from fluctus.http.problems import field_issues
from fluctus.http.refusals import Issue, RefusalError
from fluctus.http.requests import FiniteFloatField, checked
from fluctus.kpis.calendar import Calendar, Grain, from_text
from fluctus.kpis.chart.requests import ChartSettingsSerializer
from fluctus.kpis.events.requests import NewEventSerializer
from fluctus.kpis.observations.frame import FRAME, KEY
from fluctus.kpis.state import ChartState
from fluctus.reports.package.fields import (
    EVENTS,
    FINDINGS,
    FORMAT,
    IMPROVEMENTS,
    IMPROVEMENTS_FILE,
    NOT_BROUGHT,
    READ_FIELDS,
)
from fluctus.tables.isolation import TooMuchError, TooSlowError, run_isolated
from fluctus.tables.meaning.numbers import LARGEST
from fluctus.tables.package_file import PackageFile, Wrong, read_package_file

UNKEPT = "has a sign that cannot be kept."
LONGEST = 300.0
"""Seconds that reading one may take."""
TEXT_LENGTHS = {"breakdown": 120, "note": 500, "reason": 200}
EVENTS_FILE, FINDINGS_FILE = "events.csv", "findings.csv"


@dataclass(frozen=True, slots=True)
class PackedKpi:
    """A KPI of a package: its settings, and its values as a frame."""

    slug: str
    grain: Grain
    state: ChartState
    frame: pl.DataFrame
    origin: "PackedOrigin | None"


@dataclass(frozen=True, slots=True)
class PackedOrigin:
    """How a KPI of a package is made from others of it, by their slugs."""

    made_by: MadeFrom
    sources: tuple[str, ...]
    times: float
    left_out: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Package:
    """All that is brought in from a package; ``kpis`` are read one by one as they are asked for."""

    count: int
    kpis: Iterator[PackedKpi]
    events: tuple[dict[str, Any], ...]
    findings: tuple[dict[str, str], ...]
    improvements: tuple[dict[str, str], ...]


def read_package(
    raw: Path, folder: Path, still_wanted: Callable[[], None] = lambda: None
) -> Package:
    """Read a package; raises RefusalError naming the file, the row and what is wrong.

    What is read of it is written into ``folder``, which the package needs as long as its KPIs
    are asked for.
    """
    try:
        found = run_isolated(
            read_package_file, raw, folder, READ_FIELDS, seconds=LONGEST, still_wanted=still_wanted
        )
    except (TooSlowError, TooMuchError):
        raise refused(
            Wrong("It takes too much time or memory to read.", "Choose a smaller package.")
        ) from None
    if found.wrong is not None:
        raise refused(found.wrong)
    return _Understanding(found, folder).package()


class _Understanding:
    """What is understood of the files of one package."""

    def __init__(self, found: PackageFile, folder: Path) -> None:
        self._found, self._folder = found, folder
        ours = found.description.get(READ_FIELDS.extension)
        if not isinstance(ours, dict) or ours.get("format") != FORMAT:
            raise _refused(
                "It was not made by this version of Fluctus.",
                "Take it anew from where it comes, or bring its values.csv in as a table.",
                READ_FIELDS.descriptor,
            )
        kept = ours.get("as_it_was")
        self._as_it_was: dict[str, Any] = kept if isinstance(kept, dict) else {}

    def package(self) -> Package:
        """Return all of it; what others are made from comes first."""
        resources = _sources_first(self._found.resources)
        return Package(
            len(resources),
            map(self._kpi, resources),
            tuple(self._event(n, row) for n, row in self._rows(EVENTS_FILE, EVENTS)),
            tuple(row for _, row in self._rows(FINDINGS_FILE, FINDINGS)),
            tuple(row for _, row in self._rows(IMPROVEMENTS_FILE, IMPROVEMENTS)),
        )

    def _kpi(self, described: dict[str, Any]) -> PackedKpi:
        about, path = described[READ_FIELDS.extension], str(described.get("path", ""))
        try:
            grain = Grain(about.get("grain"))
            settings = checked(ChartSettingsSerializer, about.get("settings") or {})
            state = ChartState.from_json({"name": "", **settings})
            _refuse_no_periods(state, grain)
        except ValidationError as error:
            wrong = [
                replace(issue, remedy=issue.remedy or "Take it anew.", column=path)
                for issue in field_issues(error.detail)
            ]
            raise RefusalError(NOT_BROUGHT, *wrong) from None
        except (ValueError, TypeError, KeyError, OSError, OverflowError):
            raise _refused("Its settings cannot be read.", "Take it anew.", path) from None
        if not state.name.strip():
            raise _refused("A KPI has no name.", "Take it anew.", path)
        origin, frame = _origin(described), self._values(path)
        if origin is None or origin.made_by is not MadeFrom.TIME_BETWEEN:
            self._refuse_uneven(frame, grain, state.calendar, path)
        return PackedKpi(str(about.get("slug", "")), grain, state, frame, origin)

    def _values(self, path: str) -> pl.DataFrame:
        frame = pl.read_ipc(self._folder / self._found.columns[path])
        texts = [
            pl.Series(name, [self._was(text or "") for text in frame[name].to_list()], pl.String)
            for name in TEXT_LENGTHS
        ]
        frame = frame.with_columns(
            *texts,
            pl.col("rows").fill_null(1),
            pl.col("set_aside").fill_null(value=False),
            pl.lit(False).alias("typed"),
        ).select(list(FRAME))
        self._refuse_values(frame, path)
        return frame

    def _refuse_values(self, frame: pl.DataFrame, path: str) -> None:
        """Raise RefusalError for a row that no KPI can have."""
        value = pl.col("value")
        others = [pl.col(n) for n in ("numerator", "denominator", "target", "target_high")]
        wrong = (
            {
                "A value is missing, or no number.": value.is_null()
                | ~value.is_finite()
                | (value.abs() > LARGEST),
                "A number is not one that can be kept.": pl.any_horizontal(
                    ~other.is_finite() | (other.abs() > LARGEST) for other in others
                ),
                "A period and breakdown come twice.": pl.struct(KEY).is_duplicated(),
                "A number of rows is not positive, or past counting.": (pl.col("rows") < 1)
                | (pl.col("rows") > MOST_ROWS),
            }
            | {
                f"A {name} {UNKEPT}": pl.col(name).str.contains("\0", literal=True)
                for name in TEXT_LENGTHS
            }
            | {
                f"A {name} is longer than {most} characters.": pl.col(name).str.len_chars() > most
                for name, most in TEXT_LENGTHS.items()
            }
        )
        for what, condition in wrong.items():
            rows = frame.with_row_index("row").filter(condition.fill_null(value=False))["row"]
            if len(rows):
                raise _refused(what, "Put it right in the file.", path, int(rows[0]) + 2)

    def _refuse_uneven(
        self, frame: pl.DataFrame, grain: Grain, calendar: Calendar, path: str
    ) -> None:
        """Raise RefusalError for a period that does not begin where one of the grain does.

        Of a time between events a period is when the event was, which may be any time.
        """
        instants = frame["period"].to_numpy()
        uneven = np.flatnonzero(calendar.starts(instants, grain) != instants)
        if len(uneven):
            at = datetime.fromtimestamp(float(instants[uneven[0]]), calendar.zone)
            what = f"{at.isoformat()} is not the start of a {grain}."
            raise _refused(what, "Take it anew.", path, int(uneven[0]) + 2)

    def _event(self, number: int, row: dict[str, str]) -> dict[str, Any]:
        form = {name: row[name] for name in ("title", "kind", "text", "first", "last")}
        try:
            event = checked(NewEventSerializer, form | {"everywhere": bool(row["everywhere"])})
        except ValidationError as error:
            issues = field_issues(error.detail)
            raise _refused(issues[0].detail, "Put it right.", EVENTS_FILE, number) from None
        if not row["uid"] or len(row["uid"]) > 300 or "\0" in row["uid"]:
            raise _refused("An event has no uid.", "Take it anew.", EVENTS_FILE, number)
        return event | {"uid": row["uid"], "kpis": row["kpis"].split()}

    def _rows(self, path: str, head: list[str]) -> Iterator[tuple[int, dict[str, str]]]:
        for number, row in enumerate(self._found.tables.get(path, []), start=2):
            texts = {name: self._was(row[name]) for name in head}
            if any("\0" in text for text in texts.values()):
                raise _refused(
                    "A text has a sign that cannot be kept.", "Put it right.", path, number
                )
            yield number, texts

    def _was(self, text: str) -> str:
        kept = self._as_it_was.get(text, text)
        return kept if isinstance(kept, str) else text


MOST_LEFT_OUT = 10
MOST_ROWS = 2**31 - 1
"""As many as the database counts."""


def _origin(described: dict[str, Any]) -> PackedOrigin | None:
    """Return how a KPI is made from others; raises RefusalError where that cannot be."""
    about = described[READ_FIELDS.extension]
    sources = tuple(
        slug for slug in (about.get("source"), about.get("second")) if isinstance(slug, str)
    )
    # Before there were others, it was the time between events.
    made_by = about.get("made_by", MadeFrom.TIME_BETWEEN if sources else "")
    if not made_by and not sources and about.get("times", 1.0) == 1.0:
        return None
    times, left_out = about.get("times", 1.0), about.get("left_out", [])
    try:
        number = FiniteFloatField().run_validation(times)
        texts = tuple(str(text)[:500] for text in left_out[:MOST_LEFT_OUT])
        return PackedOrigin(MadeFrom(made_by or MadeFrom.RATIO), sources, number, texts)
    except (ValueError, TypeError, ValidationError):
        raise _refused(
            "How it is made from others cannot be read.",
            "Take it anew.",
            str(described.get("path")),
        ) from None


def _sources_first(resources: Sequence[dict[str, Any]]) -> list[dict[str, Any]]:
    """Put what others are made from before these; what is made in a circle comes as it is."""
    left = list(resources)
    named = {str(row[READ_FIELDS.extension].get("slug", "")) for row in left}
    done: set[str] = set()
    order: list[dict[str, Any]] = []
    while left:
        ready = [
            row
            for row in left
            if all(
                slug in done or slug not in named
                for name in ("source", "second")
                if isinstance(slug := row[READ_FIELDS.extension].get(name), str)
            )
        ] or left
        order += ready
        done |= {str(row[READ_FIELDS.extension].get("slug", "")) for row in ready}
        left = [row for row in left if row not in ready]
    return order


def _refuse_no_periods(state: ChartState, grain: Grain) -> None:
    """Raise ValueError for a shift, a baseline or a decision at what is no period."""
    zone = ZoneInfo(state.time_zone)
    texts = [segment.start for segment in state.segments]
    texts += [end for segment in state.segments for end in segment.window or ()]
    texts += [kept.period for kept in state.kept_limits]
    texts += state.confirmed
    for text in texts:
        if text is not None:
            from_text(text, grain, zone)


def refused(wrong: Wrong) -> RefusalError:
    """Say why a package is refused."""
    return RefusalError(
        NOT_BROUGHT,
        Issue(wrong.detail, wrong.remedy, field=wrong.file, row=wrong.row, column=wrong.file),
    )


def _refused(detail: str, remedy: str, file: str = "", row: int | None = None) -> RefusalError:
    return refused(Wrong(detail, remedy, file, row))
