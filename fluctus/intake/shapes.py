"""The shapes of what the intake takes and gives, for checking and for the API's description."""

from typing import Any

from django.conf import settings
from rest_framework import serializers

from fluctus.core import Aggregation, Drop
from fluctus.intake.models import Import
from fluctus.intake.understanding.mapping import Role
from fluctus.kpis.calendar import Grain
from fluctus.kpis.chart.shapes import (
    ChartSerializer,
    FiniteFloatField,
    IssueSerializer,
    KpiDetailsSerializer,
    Plain,
    TimeZoneField,
    choices,
)
from fluctus.kpis.values.services import Mode
from fluctus.tables.meaning.columns import Kind
from fluctus.tables.meaning.dates import DateStyle
from fluctus.tables.meaning.layout import Layout
from fluctus.tables.meaning.numbers import DecimalMark

MOST_FIXES = 2_000


class DetailsSerializer(KpiDetailsSerializer):
    """Details of a KPI to make; a preview may come before it has a name."""

    name = serializers.CharField(max_length=80, allow_blank=True, required=False)


class KpiChoiceSerializer(Plain):
    """What is chosen for one KPI in a table; what is null is proposed."""

    include = serializers.BooleanField(default=True)
    aggregation = serializers.ChoiceField(choices(Aggregation), allow_null=True, default=None)
    difference = serializers.BooleanField(
        allow_null=True, default=None, help_text="Whether its values are readings of a meter."
    )
    drop = serializers.ChoiceField(choices(Drop), default=Drop.RESET.value)
    factor = FiniteFloatField(default=1.0)
    offset = FiniteFloatField(default=0.0)
    details = DetailsSerializer(default=dict)


class MappingSerializer(Plain):
    """How a table is to be read; what is null is found out."""

    sheet = serializers.CharField(allow_null=True, default=None, max_length=200)
    header_rows = serializers.IntegerField(allow_null=True, default=None, min_value=0, max_value=3)
    layout = serializers.ChoiceField(choices(Layout), allow_null=True, default=None)
    roles = serializers.DictField(child=serializers.ChoiceField(choices(Role)), default=dict)
    date_style = serializers.ChoiceField(choices(DateStyle), allow_null=True, default=None)
    decimal_mark = serializers.ChoiceField(choices(DecimalMark), allow_null=True, default=None)
    grain = serializers.ChoiceField(choices(Grain), allow_null=True, default=None)
    time_zone = TimeZoneField(default="UTC", max_length=60)
    first_weekday = serializers.IntegerField(
        allow_null=True, default=None, min_value=0, max_value=6
    )
    first_month = serializers.IntegerField(default=1, min_value=1, max_value=12)
    combine = serializers.BooleanField(allow_null=True, default=None)
    leave_out = serializers.BooleanField(default=False)
    take_in = serializers.ListField(child=serializers.IntegerField(), default=list, max_length=200)
    fixes = serializers.DictField(
        child=serializers.CharField(allow_blank=True, max_length=500), default=dict,
        help_text="Cells written anew, by line:column in the sheet, columns from 0.",
    )  # fmt: skip
    kpis = serializers.DictField(child=KpiChoiceSerializer(), default=dict)

    def validate_fixes(self, value: dict[str, str]) -> dict[str, str]:
        """Refuse places that are none, and more than a person writes."""
        if len(value) > MOST_FIXES:
            raise serializers.ValidationError("Correct the table itself, then upload it again.")
        for place in value:
            line, colon, at = place.partition(":")
            if not (colon and line.isdecimal() and at.isdecimal()):
                raise serializers.ValidationError(f"{place} is no place in a table.")
        return value


class UploadRequestSerializer(Plain):
    """A table as text or as a file."""

    text = serializers.CharField(
        required=False, allow_blank=True, trim_whitespace=False,
        max_length=settings.MAX_PASTE_BYTES,
    )  # fmt: skip
    file = serializers.FileField(required=False, allow_empty_file=True)


class UploadedSerializer(Plain):
    """An upload that is kept, and how a table like it was read the last time."""

    id = serializers.IntegerField()
    name = serializers.CharField()
    sheets = serializers.ListField(child=serializers.CharField())
    last = serializers.DictField(
        allow_null=True, help_text="The mapping used last time, where the KPI has one that fits."
    )
    last_import = serializers.CharField(allow_null=True)


class ReadRequestSerializer(Plain):
    """How to read an upload, and which of its KPIs to draw."""

    mapping = MappingSerializer()
    into = serializers.CharField(
        allow_null=True, default=None, max_length=80, help_text="The KPI to add to; null: new ones."
    )
    shown = serializers.CharField(
        allow_null=True, default=None, max_length=400, help_text="The KPI to draw, by its key."
    )


class ImportRequestSerializer(Plain):
    """How to bring an upload in."""

    mapping = MappingSerializer()
    into = serializers.CharField(allow_null=True, default=None, max_length=80)
    mode = serializers.ChoiceField(choices(Mode), default=Mode.UPDATE.value)


class ColumnSerializer(Plain):
    """A column as it was understood."""

    name = serializers.CharField()
    kind = serializers.ChoiceField(choices(Kind))
    share = serializers.FloatField(help_text="Share of its filled cells that fit the kind.")
    exceptions = serializers.ListField(
        child=serializers.CharField(), help_text="The first cells that do not fit."
    )
    role = serializers.ChoiceField(choices(Role))


class DateExampleSerializer(Plain):
    """A way of writing dates, with an example, and how it reads the first date of the column."""

    style = serializers.ChoiceField(choices(DateStyle))  # type: ignore[assignment]
    example = serializers.CharField()
    reads = serializers.CharField(allow_blank=True)


class FirstRowSerializer(Plain):
    """A row as it stands in the table."""

    line = serializers.IntegerField()
    cells = serializers.ListField(child=serializers.CharField(allow_blank=True))


class LeftOutSerializer(Plain):
    """A row that is no row of the table."""

    line = serializers.IntegerField()
    why = serializers.CharField()
    text = serializers.CharField()


class KpiReadSerializer(Plain):
    """A KPI of the table, as it would be made."""

    key = serializers.CharField()
    choice = KpiChoiceSerializer()
    name = serializers.CharField()
    unit = serializers.CharField()
    decimals = serializers.IntegerField()
    why = serializers.CharField(help_text="Why its aggregation is proposed.")
    running_total = serializers.BooleanField()
    resets = serializers.IntegerField()
    row_count = serializers.IntegerField()
    combined = serializers.BooleanField(
        help_text="Whether any of its values is made of several rows."
    )
    value_count = serializers.IntegerField()
    rounded = serializers.IntegerField(help_text="Cells with more digits than can be kept.")
    breakdowns = serializers.ListField(child=serializers.CharField())


class CountsSerializer(Plain):
    """Values that come in beside those that are there."""

    new = serializers.IntegerField()
    changed = serializers.IntegerField()
    same = serializers.IntegerField()
    missing = serializers.IntegerField()


class DifferenceSerializer(Plain):
    """What adding to a KPI would do; the positions are those of the chart."""

    counts = CountsSerializer()
    new = serializers.ListField(child=serializers.IntegerField())
    changed = serializers.ListField(child=serializers.IntegerField())
    missing = serializers.ListField(child=serializers.IntegerField())


class ReadingSerializer(Plain):
    """A table as it was understood, and the chart it would make."""

    format = serializers.CharField()
    encoding = serializers.CharField()
    sheets = serializers.ListField(child=serializers.CharField())
    sheet = serializers.CharField()
    above = serializers.ListField(child=serializers.CharField())
    columns = ColumnSerializer(many=True)
    first_rows = FirstRowSerializer(many=True)
    row_count = serializers.IntegerField()
    whole = serializers.IntegerField(help_text="Rows in all, of which the first may be read here.")
    left_out = LeftOutSerializer(many=True)
    left_out_count = serializers.IntegerField()
    mapping = MappingSerializer()
    layouts = serializers.ListField(child=serializers.ChoiceField(choices(Layout)))
    date_styles = DateExampleSerializer(many=True)
    ambiguous_dates = DateExampleSerializer(many=True)
    missing = serializers.IntegerField()
    sorted_here = serializers.BooleanField()
    repeated = serializers.IntegerField()
    problems = IssueSerializer(many=True)
    problem_count = serializers.IntegerField()
    kpis = KpiReadSerializer(many=True)
    shown = serializers.CharField(allow_null=True)
    chart = ChartSerializer(allow_null=True)
    difference = DifferenceSerializer(allow_null=True)
    long = serializers.BooleanField(help_text="Whether it is brought in in the background.")


class PartSerializer(Plain):
    """What an import did to one KPI."""

    name = serializers.CharField()
    slug = serializers.CharField(allow_null=True)
    created = serializers.BooleanField()
    counts = CountsSerializer()


class LeftOutRowSerializer(Plain):
    """A row that was left out of an import."""

    line = serializers.IntegerField(allow_null=True)
    why = serializers.CharField()
    text = serializers.CharField()


class ImportProblemSerializer(Plain):
    """Why an import has failed."""

    title = serializers.CharField()
    issues = IssueSerializer(many=True)


class ImportSerializer(Plain):
    """A table that was brought in, or is on its way."""

    id = serializers.IntegerField()
    at = serializers.CharField()
    person = serializers.CharField()
    file_name = serializers.CharField()
    size = serializers.IntegerField()
    checksum = serializers.CharField()
    status = serializers.ChoiceField(Import.Status.choices)
    stage = serializers.CharField()
    progress = serializers.FloatField()
    rows = serializers.IntegerField()
    parts = PartSerializer(many=True)
    left_out = LeftOutRowSerializer(many=True)
    left_out_count = serializers.IntegerField()
    read_as = serializers.CharField(help_text="How the table was read, in words.")
    problem = ImportProblemSerializer(allow_null=True)


class ImportsQuerySerializer(Plain):
    """Which imports to list."""

    before = serializers.IntegerField(required=False, help_text="List those older than this one.")


class UndoSerializer(Plain):
    """What becomes of edits made since."""

    later = serializers.ChoiceField(
        [("keep", "keep"), ("discard", "discard")], allow_null=True, default=None
    )


def plain_mapping(data: Any) -> dict[str, Any]:
    """Return checked mapping data as plain dictionaries."""
    return {
        **data,
        "kpis": {key: dict(one) | {"details": dict(one["details"])}
                 for key, one in data["kpis"].items()},
    }  # fmt: skip
