"""What the API takes of KPIs and charts, checked."""

from typing import Any

from rest_framework import serializers

from fluctus.core import RUN_LENGTHS, Aggregation, Centre, Direction, Rule, Spread
from fluctus.core.analysis.rules import DEFAULT_RUN_LENGTH
from fluctus.core.judgment.shift_review import ReviewAnswer, ReviewQuestion
from fluctus.core.words.numbers import ShownIn
from fluctus.http.requests import FiniteFloatField, Plain, Query, choices
from fluctus.kpis.calendar import Grain, is_time_zone
from fluctus.kpis.models import DrawnAs, Raises
from fluctus.kpis.seasons import Follows


class ReviewField(serializers.DictField):
    """Answers by question."""

    child = serializers.ChoiceField(choices(ReviewAnswer))

    def to_internal_value(self, data: Any) -> Any:
        """Refuse a question that nobody asks."""
        value = super().to_internal_value(data)
        unknown = set(value) - {str(question) for question in ReviewQuestion}
        if unknown:
            raise serializers.ValidationError(f"There is no question {', '.join(unknown)}.")
        return value


class TimeZoneField(serializers.CharField):
    """The name of a time zone."""

    def to_internal_value(self, data: Any) -> str:
        """Refuse one that nobody knows."""
        value = super().to_internal_value(data)
        if not is_time_zone(value):
            raise serializers.ValidationError(f"{value} is not a time zone.")
        return value


class AsideField(serializers.DictField):
    """Why points are set aside, by period; null puts one back."""

    child = serializers.CharField(allow_blank=True, allow_null=True, max_length=200)


class KeptLimitsSerializer(Plain):
    """A decision that the process has not shifted at a period."""

    period = serializers.CharField(max_length=40)
    reason = serializers.CharField(max_length=500)
    review = ReviewField(default=dict)


class SegmentSettingsSerializer(Plain):
    """A segment as a person sets it; the first one has no start."""

    start = serializers.CharField(allow_null=True, max_length=40)
    name = serializers.CharField(allow_blank=True, max_length=80, default="")
    what_changed = serializers.CharField(allow_blank=True, max_length=500, default="")
    centre = serializers.ChoiceField(choices(Centre), default=Centre.MEAN.value)
    spread = serializers.ChoiceField(choices(Spread), default=Spread.MEAN_RANGE.value)
    window = serializers.ListField(
        child=serializers.CharField(max_length=40), min_length=2, max_length=2,
        allow_null=True, default=None,
        help_text="First and last period of the baseline; null takes the whole segment.",
    )  # fmt: skip
    follows = serializers.ChoiceField(choices(Follows), default=Follows.LEVEL.value)
    review = ReviewField(
        default=dict, help_text="Answers to the questions of the shift review, by question."
    )


class KpiDetailsSerializer(Plain):
    """What a KPI is called and how its values are read."""

    name = serializers.CharField(max_length=120)
    group = serializers.CharField(max_length=60, allow_blank=True, required=False)
    unit = serializers.CharField(max_length=30, allow_blank=True, required=False)
    decimals = serializers.IntegerField(min_value=0, max_value=12, required=False)
    shown_in = serializers.ChoiceField(
        choices(ShownIn), required=False, help_text="What numbers are counted in."
    )
    drawn_as = serializers.ChoiceField(
        choices(DrawnAs), required=False,
        help_text="As points with limits, or as steps that hold until they change.",
    )  # fmt: skip
    raises = serializers.ChoiceField(
        choices(Raises), required=False, help_text="Which signals become findings."
    )
    direction = serializers.ChoiceField(choices(Direction), required=False)
    floor = FiniteFloatField(allow_null=True, required=False)
    ceiling = FiniteFloatField(allow_null=True, required=False)
    target = FiniteFloatField(allow_null=True, required=False)
    aggregation = serializers.ChoiceField(
        choices(Aggregation), required=False,
        help_text="How several values of a period become one.",
    )  # fmt: skip
    time_zone = TimeZoneField(max_length=60, required=False)
    first_weekday = serializers.IntegerField(min_value=0, max_value=6, required=False)
    first_month = serializers.IntegerField(min_value=1, max_value=12, required=False)


class ChartSettingsSerializer(KpiDetailsSerializer):
    """Settings of a chart to change or preview; what is left out stays as it is."""

    name = serializers.CharField(max_length=120, required=False)
    rules = serializers.ListField(child=serializers.ChoiceField(choices(Rule)), required=False)
    run_length = serializers.ChoiceField(RUN_LENGTHS, required=False)
    segments = SegmentSettingsSerializer(many=True, required=False)
    kept_limits = KeptLimitsSerializer(many=True, required=False)


class PreviewSerializer(ChartSettingsSerializer):
    """Settings to preview, and values that would be changed, set aside or put back."""

    aside = AsideField(required=False, help_text="Reason by period; null puts the value back.")
    values = serializers.DictField(
        child=FiniteFloatField(), required=False, help_text="Value by period."
    )


class WindowSerializer(Query):
    """Which periods of a chart to send, and for how many pixels."""

    first = serializers.CharField(required=False, max_length=40)
    last = serializers.CharField(required=False, max_length=40)
    width = serializers.IntegerField(min_value=50, max_value=8000, default=1000)
    by = serializers.ChoiceField(
        choices(Grain), required=False, help_text="A grain coarser than the stored one."
    )
    breakdown = serializers.CharField(
        required=False, max_length=120, help_text="The one breakdown to show; absent: the whole."
    )


class ComparisonQuerySerializer(WindowSerializer):
    """Two segments to compare, or a period to compare before and after."""

    before = serializers.IntegerField(min_value=0, required=False)
    after = serializers.IntegerField(min_value=0, required=False)
    at = serializers.CharField(max_length=40, required=False)


class ReachSerializer(Query):
    """A target to ask of."""

    target = FiniteFloatField()


class RuleSetSerializer(Query):
    """A set of rules, to learn what it costs."""

    lists = ("rules",)

    rules = serializers.ListField(child=serializers.ChoiceField(choices(Rule)), default=list)
    run_length = serializers.ChoiceField(RUN_LENGTHS, default=DEFAULT_RUN_LENGTH)


class DeleteSerializer(Query):
    """What deleting takes."""

    name = serializers.CharField(max_length=120)


class HowSoonSerializer(RuleSetSerializer):
    """A lasting change to ask of, or the periods within which one is to show."""

    change = FiniteFloatField(required=False, help_text="Of the average, in the KPI's unit.")
    within = serializers.IntegerField(
        required=False, min_value=1, max_value=1000,
        help_text="Periods; asks for the smallest change that shows 8 in 10 times.",
    )  # fmt: skip

    def validate(self, attrs: dict[str, Any]) -> dict[str, Any]:
        """Take one question at a time."""
        if ("change" in attrs) is ("within" in attrs):
            raise serializers.ValidationError({"change": "Ask by a change, or by periods."})
        return attrs
