"""Tables over HTTP: what was understood of one, and the KPI made from it."""

from typing import Any
from zoneinfo import ZoneInfo

import numpy as np
import orjson
from django.conf import settings
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fluctus.accounts.queries import workspace_of
from fluctus.intake.reading import Choices, Reading, delimiter_name, read
from fluctus.intake.services import create_kpi_from
from fluctus.kpis.api import PROBLEMS, checked, person_of
from fluctus.kpis.charts import Observations, make_chart
from fluctus.kpis.periods import Grain, is_time_zone
from fluctus.kpis.presenting import present_chart, present_kpi
from fluctus.kpis.serializers import (
    ChartSerializer,
    IssueSerializer,
    KpiDetailsSerializer,
    Plain,
    choices,
)
from fluctus.kpis.state import ChartState
from fluctus.refusals import Issue, RefusalError
from fluctus.tables.columns import Kind
from fluctus.tables.dates import EXAMPLES, DateStyle
from fluctus.tables.numbers import DecimalMark

FIRST_ROWS = 8
PROBLEMS_SHOWN = 200


class ReadingChoicesSerializer(Plain):
    """How a table is to be read; what is null is found out."""

    header = serializers.BooleanField(allow_null=True, default=None)
    period = serializers.IntegerField(allow_null=True, default=None)
    value = serializers.IntegerField(allow_null=True, default=None)
    date_style = serializers.ChoiceField(choices(DateStyle), allow_null=True, default=None)
    decimal_mark = serializers.ChoiceField(choices(DecimalMark), allow_null=True, default=None)
    grain = serializers.ChoiceField(choices(Grain), allow_null=True, default=None)
    time_zone = serializers.CharField(default="UTC", max_length=60)
    leave_out = serializers.BooleanField(default=False)

    def validate_time_zone(self, value: str) -> str:
        """Refuse a time zone that nobody knows."""
        if not is_time_zone(value):
            raise serializers.ValidationError(f"{value} is not a time zone.")
        return value


class NewKpiSerializer(KpiDetailsSerializer):
    """Details of the KPI to make; a preview may come before it has a name."""

    name = serializers.CharField(max_length=80, allow_blank=True, default="")


class UploadSerializer(Plain):
    """A table as text or as a file, how to read it and what to make of it, both as JSON."""

    text = serializers.CharField(
        required=False,
        allow_blank=True,
        trim_whitespace=False,
        max_length=settings.MAX_UPLOAD_BYTES,
    )
    file = serializers.FileField(required=False, allow_empty_file=True)
    choices = serializers.CharField(default="{}", max_length=2000)
    details = serializers.CharField(default="{}", max_length=4000)


class ColumnSerializer(Plain):
    """A column as it was understood."""

    name = serializers.CharField()
    kind = serializers.ChoiceField(choices(Kind))
    share = serializers.FloatField(help_text="Share of its filled cells that fit the kind.")


class DateExampleSerializer(Plain):
    """A way of writing dates, with an example."""

    style = serializers.ChoiceField(choices(DateStyle))  # type: ignore[assignment]
    example = serializers.CharField()


class FirstRowSerializer(Plain):
    """A row as it stands in the table."""

    line = serializers.IntegerField()
    cells = serializers.ListField(child=serializers.CharField(allow_blank=True))


class ReadingSerializer(Plain):
    """A table as it was understood, and the chart it would make."""

    columns = ColumnSerializer(many=True)
    first_rows = FirstRowSerializer(many=True)
    row_count = serializers.IntegerField()
    delimiter = serializers.CharField()
    encoding = serializers.CharField()
    choices = ReadingChoicesSerializer()
    date_styles = DateExampleSerializer(many=True)
    ambiguous_dates = serializers.BooleanField()
    value_count = serializers.IntegerField()
    missing = serializers.IntegerField()
    sorted_here = serializers.BooleanField()
    problems = IssueSerializer(many=True)
    problem_count = serializers.IntegerField()
    name = serializers.CharField()
    unit = serializers.CharField()
    decimals = serializers.IntegerField()
    chart = ChartSerializer(allow_null=True)


class CreatedSerializer(Plain):
    """Where the new KPI is."""

    slug = serializers.CharField()


class ReadTableView(APIView):
    """A table that is not saved."""

    parser_classes = [MultiPartParser]

    @extend_schema(
        operation_id="read_table",
        request={"multipart/form-data": UploadSerializer},
        responses={200: ReadingSerializer, **PROBLEMS},
    )
    def post(self, request: Request, workspace: str) -> Response:
        """Say what is understood of it, what is wrong with it, and draw the chart to be."""
        workspace_of(person_of(request), workspace)
        reading, details = _read(request)
        return Response(_present(reading, details))


class NewKpiView(APIView):
    """A KPI made from a table."""

    parser_classes = [MultiPartParser]

    @extend_schema(
        operation_id="create_kpi",
        request={"multipart/form-data": UploadSerializer},
        responses={201: CreatedSerializer, **PROBLEMS},
    )
    def post(self, request: Request, workspace: str) -> Response:
        """Save it with its values, or say why not."""
        place = workspace_of(person_of(request), workspace)
        reading, details = _read(request)
        if not details["name"].strip():
            raise RefusalError(
                "The KPI has no name.", Issue("A name is missing.", "Give it a name.", "name")
            )
        state = ChartState.from_json({"decimals": reading.decimals} | details)
        kpi = create_kpi_from(reading, place, state)
        return Response({"slug": kpi.slug}, status=201)


def _read(request: Request) -> tuple[Reading, dict[str, Any]]:
    upload = checked(UploadSerializer, request.data)
    file = upload.get("file")
    if file is not None and file.size > settings.MAX_UPLOAD_BYTES:
        raise RefusalError(
            "This file is too large.",
            Issue(
                f"It has {file.size / 1e6:,.1f} MB; at most {settings.MAX_UPLOAD_BYTES / 1e6:,.0f} "
                "MB can be read.",
                "Split it, or leave out columns that are not needed.",
            ),
            status=413,
        )
    raw = file.read() if file is not None else upload.get("text", "").encode()
    own = checked(ReadingChoicesSerializer, _json(upload["choices"], "choices"))
    kinds = {"date_style": DateStyle, "decimal_mark": DecimalMark, "grain": Grain}
    typed = {name: kind(own[name]) for name, kind in kinds.items() if own[name] is not None}
    details = checked(NewKpiSerializer, _json(upload["details"], "details"))
    return read(raw, Choices(**own | typed)), details


def _json(text: str, field: str) -> Any:
    try:
        return orjson.loads(text)
    except orjson.JSONDecodeError:
        raise RefusalError(
            "Some of what was sent does not fit.",
            Issue("This is not JSON.", field=field),
            status=400,
        ) from None


def _present(reading: Reading, details: dict[str, Any]) -> dict[str, Any]:
    made = reading.made
    return {
        "columns": reading.columns,
        "first_rows": [
            {"line": line, "cells": cells}
            for line, cells in zip(
                reading.table.lines, reading.table.rows[:FIRST_ROWS], strict=False
            )
        ],
        "row_count": len(reading.table.rows),
        "delimiter": delimiter_name(reading.table),
        "encoding": reading.encoding,
        "choices": made,
        "date_styles": [{"style": style, "example": EXAMPLES[style]} for style in DateStyle],
        "ambiguous_dates": len(reading.date_styles) > 1,
        "value_count": len(reading.rows),
        "missing": reading.missing,
        "sorted_here": reading.sorted_here,
        "problems": reading.problems[:PROBLEMS_SHOWN],
        "problem_count": len(reading.problems),
        "name": reading.name,
        "unit": reading.unit,
        "decimals": reading.decimals,
        "chart": _chart(reading, details) if reading.rows else None,
    }


def _chart(reading: Reading, details: dict[str, Any]) -> dict[str, Any]:
    name = details["name"].strip() or reading.name or "This KPI"
    proposed = {"unit": reading.unit, "decimals": reading.decimals}
    state = ChartState.from_json(proposed | details | {"name": name})
    grain = reading.made.grain
    assert grain is not None, "a reading has settled the grain"
    zone = ZoneInfo(reading.made.time_zone)
    count = len(reading.rows)
    observations = Observations(
        instants=np.array([period.timestamp() for period, _ in reading.rows]),
        values=np.array([value for _, value in reading.rows]),
        set_aside=np.zeros(count, np.bool_),
        reasons={},
        grain=grain,
        zone=zone,
    )
    kpi = present_kpi(state, grain, reading.made.time_zone)
    return present_chart(kpi, make_chart(observations, state), width=700)
