"""What the API takes of readings that are kept, checked."""

from rest_framework import serializers

from fluctus.http.requests import Plain, choices
from fluctus.intake.kept.shapes import FORMAT, VERSION
from fluctus.intake.requests import MappingSerializer
from fluctus.tables.grid import MAX_COLUMNS
from fluctus.tables.meaning.columns import ColumnKind

LONGEST_NAME = 80


class KeepSerializer(Plain):
    """A name for how an upload is read."""

    name = serializers.CharField(max_length=LONGEST_NAME)
    mapping = MappingSerializer()
    replace = serializers.BooleanField(
        default=False, help_text="Whether another of that name gives way."
    )


class ColumnSerializer(Plain):
    """A column by its heading and by what it holds."""

    name = serializers.CharField(max_length=5_000, allow_blank=True, trim_whitespace=False)
    kind = serializers.ChoiceField(choices(ColumnKind))


class ReadingFileSerializer(Plain):
    """A reading as it was written to a file."""

    format = serializers.ChoiceField([(FORMAT, FORMAT)])
    version = serializers.ChoiceField([(VERSION, str(VERSION))])
    name = serializers.CharField(max_length=LONGEST_NAME)
    columns = serializers.ListField(
        child=ColumnSerializer(), allow_empty=False, max_length=MAX_COLUMNS
    )
    mapping = MappingSerializer()
    replace = serializers.BooleanField(
        default=False, help_text="Whether another of that name gives way."
    )
