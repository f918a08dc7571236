"""What the API takes of values that are filled in, checked."""

from typing import Any

from rest_framework import serializers

from fluctus.http.requests import FiniteFloatField, Plain, Query, StartField

KPIS_AT_ONCE = 100
MOST_ROWS = 200
"""Values that are saved together: each KPI is analysed anew, while somebody waits."""
MOST_CAUSE = 300


class DueQuerySerializer(Query):
    """Which stretch of what is due."""

    start = StartField()
    most = serializers.IntegerField(
        default=KPIS_AT_ONCE,
        min_value=0,
        max_value=KPIS_AT_ONCE,
        help_text="None at all to learn how many there are.",
    )


class TypedSerializer(Plain):
    """A value as it is typed."""

    kpi = serializers.CharField(max_length=80)
    value = FiniteFloatField(allow_null=True, default=None)
    numerator = FiniteFloatField(allow_null=True, default=None)
    denominator = FiniteFloatField(allow_null=True, default=None)


class FilledRowSerializer(TypedSerializer):
    """A value to save."""

    period = serializers.CharField(max_length=40)
    breakdown = serializers.CharField(max_length=120, allow_blank=True, default="")
    note = serializers.CharField(max_length=500, allow_blank=True, default="")
    cause = serializers.CharField(
        max_length=MOST_CAUSE,
        allow_blank=True,
        default="",
        help_text="Why it is as it is, for the finding that it brings.",
    )
    over = serializers.BooleanField(
        default=False, help_text="Whether it replaces what somebody else has typed meanwhile."
    )


def _few(rows: list[Any]) -> list[Any]:
    if not 1 <= len(rows) <= MOST_ROWS:
        raise serializers.ValidationError(f"From 1 to {MOST_ROWS} values can be sent at once.")
    return rows


class FillInSerializer(Plain):
    """Values to save together."""

    rows = FilledRowSerializer(many=True)

    def validate_rows(self, value: list[Any]) -> list[Any]:
        """Refuse more than are saved at once."""
        return _few(value)


class JudgeSerializer(Plain):
    """Values that are being typed."""

    rows = TypedSerializer(many=True)

    def validate_rows(self, value: list[Any]) -> list[Any]:
        """Refuse more than are on a screen."""
        return _few(value)


class FilledBySerializer(Plain):
    """Who is to see to the values of some KPIs; nobody where ``username`` is null."""

    kpis = serializers.ListField(
        child=serializers.CharField(max_length=80), min_length=1, max_length=1000
    )
    username = serializers.CharField(max_length=150, allow_null=True)
