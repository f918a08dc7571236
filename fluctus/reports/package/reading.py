"""A package read: checked whole before anything of it is saved.

It may come from anywhere. Its size is bounded before it is unpacked, every file is read
against its fields, and settings pass the checks that those of the API pass.
"""

import csv
import json
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import datetime
from io import BytesIO, StringIO
from typing import Any
from zipfile import BadZipFile, ZipFile
from zoneinfo import ZoneInfo

import numpy as np
import polars as pl
from rest_framework.exceptions import ValidationError

from fluctus.http.problems import field_issues
from fluctus.http.refusals import Issue, RefusalError
from fluctus.http.requests import checked
from fluctus.kpis.calendar import Calendar, Grain
from fluctus.kpis.chart.requests import ChartSettingsSerializer
from fluctus.kpis.events.requests import NewEventSerializer
from fluctus.kpis.observations.frame import FRAME, KEY
from fluctus.kpis.state import ChartState
from fluctus.reports.package.fields import DESCRIPTOR, EVENTS, FINDINGS, FORMAT, VALUES
from fluctus.tables.meaning.numbers import LARGEST

NOT_BROUGHT = "The package was not brought in; nothing was saved."
MOST_BYTES = 400 * 1024 * 1024
"""What a package may unpack to."""
MOST_FILES = 5_000
MOST_KPIS = 500
TEXT_LENGTHS = {"breakdown": 120, "note": 500, "reason": 200}


@dataclass(frozen=True, slots=True)
class PackedKpi:
    """A KPI of a package: its settings, and its values as a frame."""

    slug: str
    grain: Grain
    state: ChartState
    frame: pl.DataFrame
    source: str | None


@dataclass(frozen=True, slots=True)
class Package:
    """All that is brought in from a package."""

    kpis: tuple[PackedKpi, ...]
    events: tuple[dict[str, Any], ...]
    findings: tuple[dict[str, str], ...]


def read_package(content: bytes) -> Package:
    """Read a package; raises RefusalError naming the file, the row and what is wrong."""
    try:
        with ZipFile(BytesIO(content)) as files:
            return _Reader(files).read()
    except BadZipFile:
        raise _refused("This is no data package.", "Choose the ZIP file as it was made.") from None


class _Reader:
    """Reads the files of one package."""

    def __init__(self, files: ZipFile) -> None:
        listed = files.infolist()
        if len(listed) > MOST_FILES or sum(file.file_size for file in listed) > MOST_BYTES:
            raise _refused("It unpacks to more than can be read.", "Choose a smaller package.")
        if any(file.flag_bits & 1 for file in listed):
            raise _refused("It is encrypted.", "Unpack it, and pack it without a password.")
        self._files = files
        self._descriptor = self._json(DESCRIPTOR)
        ours = self._descriptor.get("fluctus")
        if not isinstance(ours, dict) or ours.get("format") != FORMAT:
            raise _refused(
                "It was not made by this version of Fluctus.",
                "Take it anew from where it comes, or bring its values.csv in as a table.",
                DESCRIPTOR,
            )
        kept = ours.get("as_it_was")
        self._as_it_was: dict[str, Any] = kept if isinstance(kept, dict) else {}

    def read(self) -> Package:
        """Read all of it."""
        resources = self._descriptor.get("resources")
        described = [
            row for row in (resources if isinstance(resources, list) else [])
            if isinstance(row, dict) and isinstance(row.get("fluctus"), dict)
        ]  # fmt: skip
        if not described:
            raise _refused("There is no KPI in it.", "Choose another package.", DESCRIPTOR)
        if len(described) > MOST_KPIS:
            raise _refused(f"It has {len(described)} KPIs; {MOST_KPIS} can be read at once.", "")
        return Package(
            tuple(map(self._kpi, described)),
            tuple(self._event(number, row) for number, row in self._rows("events.csv", EVENTS)),
            tuple(row for _, row in self._rows("findings.csv", FINDINGS)),
        )

    def _kpi(self, described: dict[str, Any]) -> PackedKpi:
        about, path = described["fluctus"], str(described.get("path", ""))
        try:
            grain = Grain(about.get("grain"))
            settings = checked(ChartSettingsSerializer, about.get("settings") or {})
            state = ChartState.from_json({"name": "", **settings})
            ZoneInfo(state.time_zone)
        except ValidationError as error:
            raise RefusalError(NOT_BROUGHT, *field_issues(error.detail)) from None
        except (ValueError, TypeError, KeyError, OSError):
            raise _refused("Its settings cannot be read.", "Take it anew.", path) from None
        if not state.name.strip():
            raise _refused("A KPI has no name.", "Take it anew.", path)
        source = about.get("source") if isinstance(about.get("source"), str) else None
        frame = self._values(path)
        if source is None:
            self._refuse_uneven(frame, grain, state.calendar, path)
        return PackedKpi(str(about.get("slug", "")), grain, state, frame, source)

    def _values(self, path: str) -> pl.DataFrame:
        kinds: dict[str, Any] = {
            name: pl.String if name == "period" else FRAME[name] for name in VALUES
        }
        try:
            frame = pl.read_csv(self._bytes(path), schema=kinds)
        except (pl.exceptions.PolarsError, UnicodeDecodeError) as error:
            raise _refused(str(error).splitlines()[0][:200], "Take it anew.", path) from None
        instants = [
            self._instant(text, path, row)
            for row, text in enumerate(frame["period"].to_list(), start=2)
        ]
        texts = [
            pl.Series(name, [self._was(text or "") for text in frame[name].to_list()], pl.String)
            for name in TEXT_LENGTHS
        ]
        frame = frame.with_columns(
            pl.Series("period", instants, pl.Float64), *texts,
            pl.col("rows").fill_null(1), pl.col("set_aside").fill_null(value=False),
        ).select(list(FRAME))  # fmt: skip
        self._refuse_values(frame, path)
        return frame

    def _refuse_values(self, frame: pl.DataFrame, path: str) -> None:
        """Raise RefusalError for a row that no KPI can have."""
        value = pl.col("value")
        wrong = {
            "A value is missing, or no number.": value.is_null() | ~value.is_finite()
            | (value.abs() > LARGEST),
            "A period and breakdown come twice.": pl.struct(KEY).is_duplicated(),
            "A number of rows is not positive.": pl.col("rows") < 1,
        } | {
            f"A {name} is longer than {most} characters.": pl.col(name).str.len_chars() > most
            for name, most in TEXT_LENGTHS.items()
        }  # fmt: skip
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

    def _instant(self, text: Any, path: str, row: int) -> float:
        try:
            moment = datetime.fromisoformat(str(text))
            if moment.tzinfo is None:
                raise ValueError(text)
            return moment.timestamp()
        except (ValueError, OverflowError):
            raise _refused(
                f"“{str(text)[:60]}” is no period with its time zone.", "Take it anew.", path, row
            ) from None

    def _event(self, number: int, row: dict[str, str]) -> dict[str, Any]:
        form = {name: row[name] for name in ("title", "kind", "text", "first", "last")}
        try:
            event = checked(NewEventSerializer, form | {"everywhere": bool(row["everywhere"])})
        except ValidationError as error:
            issues = field_issues(error.detail)
            raise _refused(issues[0].detail, "Put it right.", "events.csv", number) from None
        if not row["uid"] or len(row["uid"]) > 300:
            raise _refused("An event has no uid.", "Take it anew.", "events.csv", number)
        return event | {"uid": row["uid"], "kpis": row["kpis"].split()}

    def _rows(self, path: str, head: list[str]) -> Iterator[tuple[int, dict[str, str]]]:
        if path not in self._files.namelist():
            return
        text = self._bytes(path).decode("utf-8", "replace")
        reader = csv.DictReader(StringIO(text))
        missing = set(head) - set(reader.fieldnames or [])
        if missing:
            raise _refused(f"It has no column {min(missing)}.", "Take it anew.", path, 1)
        for number, row in enumerate(reader, start=2):
            yield number, {name: self._was(row[name] or "") for name in head}

    def _was(self, text: str) -> str:
        kept = self._as_it_was.get(text, text)
        return kept if isinstance(kept, str) else text

    def _json(self, path: str) -> dict[str, Any]:
        try:
            read = json.loads(self._bytes(path))
        except ValueError:
            read = None
        if not isinstance(read, dict):
            raise _refused("It cannot be read.", "Choose the ZIP file as it was made.", path)
        return read

    def _bytes(self, path: str) -> bytes:
        try:
            return self._files.read(path)
        except (KeyError, BadZipFile, NotImplementedError, RuntimeError):
            raise _refused(
                "It is not in the package, or damaged.", "Choose the ZIP file as it was made.", path
            ) from None


def _refused(detail: str, remedy: str, file: str = "", row: int | None = None) -> RefusalError:
    return RefusalError(NOT_BROUGHT, Issue(detail, remedy, field=file, row=row, column=file))
