"""What the API takes of tables, checked."""

from typing import Any

from django.conf import settings
from rest_framework import serializers

from fluctus.core import Aggregation, Drop
from fluctus.http.requests import FiniteFloatField, IdField, Plain, Query, choices
from fluctus.intake.understanding.mapping import ColumnRole, Counted
from fluctus.kpis.calendar import Grain
from fluctus.kpis.chart.requests import (
    MOST_CONFIRMED,
    KpiDetailsSerializer,
    TimeZoneField,
)
from fluctus.kpis.values.services import ImportMode
from fluctus.tables.days import FIRST_DAY, LAST_DAY
from fluctus.tables.meaning.dates import DateStyle
from fluctus.tables.meaning.layout import TableLayout
from fluctus.tables.meaning.numbers import Clock, DecimalMark

MOST_FIXES = 2_000
MOST_DIGITS = 9
"""Of a row or a column of any table."""


class DetailsSerializer(KpiDetailsSerializer):
    """Details of a KPI to make; a preview may come before it has a name."""

    name = serializers.CharField(max_length=120, allow_blank=True, required=False)


class KpiChoiceSerializer(Plain):
    """What is chosen for one KPI in a table; what is null is proposed."""

    include = serializers.BooleanField(allow_null=True, default=None)
    aggregation = serializers.ChoiceField(choices(Aggregation), allow_null=True, default=None)
    difference = serializers.BooleanField(
        allow_null=True, default=None, help_text="Whether its values are readings of a meter."
    )
    drop = serializers.ChoiceField(choices(Drop), default=Drop.RESET.value)
    factor = FiniteFloatField(default=1.0)
    offset = FiniteFloatField(default=0.0)
    details = DetailsSerializer(default=dict)
    mended = serializers.DictField(
        child=FiniteFloatField(),
        default=dict,
        help_text="What the values of some periods are in truth.",
    )
    aside = serializers.ListField(
        child=serializers.CharField(max_length=40), default=list, max_length=MOST_FIXES
    )
    right = serializers.ListField(
        child=serializers.CharField(max_length=40), default=list, max_length=MOST_CONFIRMED
    )

    def validate_mended(self, value: dict[str, float]) -> dict[str, float]:
        """Refuse more than a person writes."""
        if len(value) > MOST_FIXES:
            raise serializers.ValidationError("Correct the table itself, then upload it again.")
        return value


class MappingSerializer(Plain):
    """How a table is to be read; what is null is found out."""

    sheet = serializers.CharField(allow_null=True, default=None, max_length=200)
    header_rows = serializers.IntegerField(allow_null=True, default=None, min_value=0, max_value=3)
    first_line = IdField(allow_null=True, default=None)
    last_line = IdField(allow_null=True, default=None)
    block = serializers.IntegerField(
        allow_null=True,
        default=None,
        min_value=0,
        max_value=100,
        help_text="Which of several tables on a sheet, from 0.",
    )
    layout = serializers.ChoiceField(choices(TableLayout), allow_null=True, default=None)
    roles = serializers.DictField(child=serializers.ChoiceField(choices(ColumnRole)), default=dict)
    date_style = serializers.ChoiceField(choices(DateStyle), allow_null=True, default=None)
    decimal_mark = serializers.ChoiceField(choices(DecimalMark), allow_null=True, default=None)
    grain = serializers.ChoiceField(choices(Grain), allow_null=True, default=None)
    time_zone = TimeZoneField(default="UTC", max_length=60)
    first_weekday = serializers.IntegerField(
        allow_null=True, default=None, min_value=0, max_value=6
    )
    first_month = serializers.IntegerField(allow_null=True, default=None, min_value=1, max_value=12)
    first_year = serializers.IntegerField(
        allow_null=True,
        default=None,
        min_value=FIRST_DAY.year,
        max_value=LAST_DAY.year,
        help_text="The year of the first row, of dates that have none.",
    )
    clock = serializers.ChoiceField(
        choices(Clock), allow_null=True, default=None, help_text="What 7:30 is."
    )
    counted = serializers.ChoiceField(
        choices(Counted), allow_null=True, default=None, help_text="What becomes of yes and no."
    )
    fixed_clock = serializers.BooleanField(
        allow_null=True, default=None, help_text="Whether the clock stays on standard time."
    )
    convert = serializers.BooleanField(
        default=False, help_text="Whether amounts in several units become one."
    )
    missing_words = serializers.ListField(
        child=serializers.CharField(max_length=60),
        default=list,
        max_length=100,
        help_text="Words for a value that is not there, in small letters.",
    )
    combine = serializers.BooleanField(allow_null=True, default=None)
    leave_out = serializers.BooleanField(default=False)
    share = serializers.BooleanField(
        default=False, help_text="Whether a numerator is a part of its denominator."
    )
    taken_back = serializers.ListField(
        child=serializers.CharField(max_length=400),
        default=list,
        max_length=200,
        help_text="What was understood of the table, by key, and is not wanted.",
    )
    period = serializers.CharField(
        allow_null=True,
        default=None,
        max_length=60,
        help_text="The period of all rows of a table without dates.",
    )
    take_in = serializers.ListField(child=IdField(), default=list, max_length=200)
    fixes = serializers.DictField(
        child=serializers.CharField(allow_blank=True, max_length=500),
        default=dict,
        help_text="Cells written anew, by line:column in the sheet, columns from 0.",
    )
    kpis = serializers.DictField(child=KpiChoiceSerializer(), default=dict)

    def validate_fixes(self, value: dict[str, str]) -> dict[str, str]:
        """Refuse places that are none, and more than a person writes."""
        if len(value) > MOST_FIXES:
            raise serializers.ValidationError("Correct the table itself, then upload it again.")
        for cell in value:
            line, colon, at = cell.partition(":")
            digits = max(len(line), len(at))
            if not (colon and line.isdecimal() and at.isdecimal() and digits <= MOST_DIGITS):
                raise serializers.ValidationError(f"{cell[:40]} is no place in a table.")
        return value


class IntoSerializer(Query):
    """The KPI that a table is for; absent: new ones."""

    into = serializers.CharField(required=False, max_length=120)


class UploadRequestSerializer(Plain):
    """A table as text or as a file."""

    text = serializers.CharField(
        required=False,
        allow_blank=True,
        trim_whitespace=False,
        max_length=settings.MAX_PASTE_BYTES,
    )
    file = serializers.FileField(required=False, allow_empty_file=True)


class ReadRequestSerializer(Plain):
    """How to read an upload, and which of its KPIs to draw."""

    mapping = MappingSerializer()
    into = serializers.CharField(
        allow_null=True, default=None, max_length=80, help_text="The KPI to add to; null: new ones."
    )
    shown = serializers.CharField(
        allow_null=True, default=None, max_length=400, help_text="The KPI to draw, by its key."
    )
    whole = serializers.BooleanField(
        default=False, help_text="Whether all of a long table is read, or its first rows."
    )


class ImportRequestSerializer(Plain):
    """How to bring an upload in."""

    mapping = MappingSerializer()
    into = serializers.CharField(allow_null=True, default=None, max_length=80)
    mode = serializers.ChoiceField(choices(ImportMode), default=ImportMode.UPDATE.value)


class ImportsQuerySerializer(Query):
    """Which imports to list."""

    before = IdField(required=False, help_text="List those older than this one.")


class UndoSerializer(Plain):
    """What becomes of edits made since."""

    later = serializers.ChoiceField(
        [("keep", "keep"), ("discard", "discard")], allow_null=True, default=None
    )


def plain_mapping(data: Any) -> dict[str, Any]:
    """Return checked mapping data as plain dictionaries."""
    return {
        **data,
        "kpis": {
            key: dict(choice) | {"details": dict(choice["details"])}
            for key, choice in data["kpis"].items()
        },
    }
