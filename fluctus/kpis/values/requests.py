"""What the API takes of values, checked."""

from typing import Any

from rest_framework import serializers

from fluctus.http.requests import (
    FiniteFloatField,
    IdField,
    Plain,
    Query,
    StartField,
    choices,
)
from fluctus.kpis.values.on_chart import Only

MOST_EDITS = 10_000


class EditSerializer(Plain):
    """One value as a person writes it."""

    period = serializers.CharField(max_length=40)
    breakdown = serializers.CharField(max_length=120, allow_blank=True, default="")
    value = FiniteFloatField(allow_null=True, default=None)
    numerator = FiniteFloatField(
        allow_null=True,
        default=None,
        help_text="Of a ratio, with its denominator; makes the value.",
    )
    denominator = FiniteFloatField(allow_null=True, default=None)
    note = serializers.CharField(max_length=500, allow_blank=True, default="")
    set_aside = serializers.BooleanField(default=False)
    reason = serializers.CharField(max_length=200, allow_blank=True, default="")
    remove = serializers.BooleanField(default=False)
    release = serializers.BooleanField(
        default=False, help_text="Whether a feed may replace what was typed."
    )
    seen = IdField(
        allow_null=True, default=None, help_text="The version the person saw; null where none was."
    )


class EditsSerializer(Plain):
    """Values to save together."""

    edits = EditSerializer(many=True)

    def validate_edits(self, value: list[Any]) -> list[Any]:
        """Refuse more than a person writes at once."""
        if not 1 <= len(value) <= MOST_EDITS:
            raise serializers.ValidationError(
                f"From 1 to {MOST_EDITS:,} values can be saved at once."
            )
        return value


class SetAsideSerializer(Plain):
    """A point to set aside, with a reason, or to put back, without one."""

    period = serializers.CharField(max_length=40)
    breakdown = serializers.CharField(allow_null=True, default=None, max_length=120)
    reason = serializers.CharField(allow_null=True, allow_blank=True, max_length=200)


class ValuesQuerySerializer(Query):
    """Which stretch of the values to give."""

    start = StartField()
    breakdown = serializers.CharField(required=False, max_length=120, allow_blank=True)
    only = serializers.ChoiceField(
        choices=choices(Only),
        required=False,
        help_text="Only those that the chart marks, that miss their target, and so on.",
    )
    by = serializers.CharField(
        required=False, max_length=150, help_text="Only those that this person wrote last."
    )


class VersionQuerySerializer(Query):
    """Which value to give the history of."""

    period = serializers.CharField(max_length=40)
    breakdown = serializers.CharField(max_length=120, allow_blank=True, default="")
