"""What the API takes of the overview, checked."""

from typing import Any

from rest_framework import serializers

from fluctus.http.requests import DayField, Plain, Query, StartField, choices
from fluctus.overview.strips.queries import Order, Shows


class DatesSerializer(Query):
    """Which days are looked at; or the newest weeks."""

    first = DayField(required=False)
    last = DayField(required=False)
    weeks = serializers.IntegerField(min_value=1, max_value=5_000, required=False)

    def validate(self, attrs: dict[str, Any]) -> dict[str, Any]:
        """Refuse days that end before they begin."""
        first, last = attrs.get("first"), attrs.get("last")
        if first is not None and last is not None and first > last:
            raise serializers.ValidationError({"last": "The last day is before the first."})
        return attrs


class OverviewSerializer(DatesSerializer):
    """Which KPIs are listed, and how."""

    lists = ("folded",)
    shows = serializers.ChoiceField(choices(Shows), default=Shows.ALL.value)
    order = serializers.ChoiceField(choices(Order), default=Order.NEWEST.value)
    group = serializers.CharField(
        required=False, allow_blank=True, max_length=60, help_text="Only this group."
    )
    folded = serializers.ListField(
        child=serializers.CharField(max_length=60, allow_blank=True),
        max_length=200,
        default=list,
        help_text="Groups whose rows are left out.",
    )
    start = StartField()


class MoveSerializer(Plain):
    """Which KPI goes where in the order that is looked at."""

    slug = serializers.CharField(max_length=80)
    next_to = serializers.CharField(max_length=80)
    after = serializers.BooleanField(default=False)
    order = serializers.ChoiceField(choices(Order), default=Order.HAND.value)


class MoveGroupSerializer(Plain):
    """Which group goes where."""

    group = serializers.CharField(max_length=60, allow_blank=True)
    next_to = serializers.CharField(max_length=60, allow_blank=True)
    after = serializers.BooleanField(default=False)


class TogetherSerializer(DatesSerializer):
    """Within how many days findings fall together."""

    within = serializers.IntegerField(min_value=1, max_value=366, default=7)
