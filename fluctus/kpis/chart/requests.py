"""What the API takes of KPIs and charts, checked."""

from typing import Any

from rest_framework import serializers

from fluctus.core import RUN_LENGTHS, Aggregation, Centre, Direction, Rule, Spread
from fluctus.core.analysis import DEFAULT_RUN_LENGTH
from fluctus.core.judgment import ReviewAnswer, ReviewQuestion
from fluctus.core.words import ShownIn
from fluctus.http.requests import (
    DayField,
    FiniteFloatField,
    Plain,
    Query,
    StartField,
    choices,
)
from fluctus.kpis.calendar import Grain, is_time_zone
from fluctus.kpis.chart.analysis.lines.registry import LINE_KINDS
from fluctus.kpis.lines import (
    MOST_LINES,
    MOST_STEPS,
    MOST_VIEWS,
    Dash,
    LabelShows,
    LineColor,
    LineSource,
    Marks,
    Per,
    Weight,
)
from fluctus.kpis.models import DrawnAs, Raises, ValueLabels
from fluctus.kpis.seasons import Follows

MOST_CONFIRMED = 200


class KpisSerializer(Query):
    """Which stretch of the KPIs of a workspace is listed."""

    start = StartField()


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
        child=serializers.CharField(max_length=40),
        min_length=2,
        max_length=2,
        allow_null=True,
        default=None,
        help_text="First and last period of the baseline; null takes the whole segment.",
    )
    follows = serializers.ChoiceField(choices(Follows), default=Follows.LEVEL.value)
    review = ReviewField(
        default=dict, help_text="Answers to the questions of the shift review, by question."
    )


class LineSerializer(Plain):
    """A line as a person sets it."""

    key = serializers.CharField(max_length=40)
    made = serializers.ChoiceField(choices(LineSource))
    name = serializers.CharField(max_length=80, allow_blank=True, default="")
    number = FiniteFloatField(
        default=0.0, help_text="A constant, a percentile, or a percent of the maximum."
    )
    factor = FiniteFloatField(default=1.0)
    amount = FiniteFloatField(default=0.0)
    length = serializers.IntegerField(
        min_value=1, max_value=10_000, default=4, help_text="Of an average over time."
    )
    per = serializers.ChoiceField(
        choices(Per), default=Per.PERIOD.value, help_text="What the length is counted in."
    )
    deviations = serializers.FloatField(min_value=0.1, max_value=10, default=2.0)
    color = serializers.ChoiceField(choices(LineColor), default=LineColor.INDIGO.value)
    dash = serializers.ChoiceField(choices(Dash), default=Dash.DASHED.value)
    weight = serializers.ChoiceField(choices(Weight), default=Weight.THIN.value)
    shows = serializers.ChoiceField(choices(LabelShows), default=LabelShows.BOTH.value)
    decimals = serializers.IntegerField(min_value=0, max_value=12, allow_null=True, default=None)
    hidden = serializers.BooleanField(default=False)
    in_front = serializers.BooleanField(default=False)
    marks = serializers.ChoiceField(
        choices(Marks), default=Marks.NONE.value, help_text="Values beyond it that are marked."
    )
    shaded = serializers.BooleanField(
        default=False, help_text="Shade between the values and it; columns are split at it."
    )

    def validate(self, attrs: dict[str, Any]) -> dict[str, Any]:
        """Hold numbers to what they are of."""
        wrong = LINE_KINDS[LineSource(attrs["made"])].wrong(attrs)
        if attrs["factor"] == 0:
            wrong |= {"factor": "Times 0 leaves nothing of it."}
        if wrong:
            raise serializers.ValidationError(wrong)
        return attrs


class BandSerializer(Plain):
    """The space between two lines, by their keys."""

    key = serializers.CharField(max_length=40)
    bottom = serializers.CharField(max_length=40)
    top = serializers.CharField(max_length=40)
    name = serializers.CharField(max_length=80, allow_blank=True, default="")
    color = serializers.ChoiceField(choices(LineColor), default=LineColor.SLATE.value)
    hidden = serializers.BooleanField(default=False)


class TargetStepSerializer(Plain):
    """A day from which on the target is another one."""

    day = DayField()
    level = FiniteFloatField()
    high = FiniteFloatField(allow_null=True, default=None)


class ViewSerializer(Plain):
    """A way of looking at a chart, by name."""

    name = serializers.CharField(max_length=60)
    hidden = serializers.ListField(child=serializers.CharField(max_length=40), default=list)
    by = serializers.ChoiceField(choices(Grain), allow_null=True, default=None)
    breakdown = serializers.CharField(max_length=120, allow_null=True, default=None)
    first = serializers.CharField(max_length=40, allow_null=True, default=None)
    last = serializers.CharField(max_length=40, allow_null=True, default=None)


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
        choices(DrawnAs),
        required=False,
        help_text="As points with limits, or as steps that hold until they change.",
    )
    raises = serializers.ChoiceField(
        choices(Raises), required=False, help_text="Which signals become findings."
    )
    direction = serializers.ChoiceField(choices(Direction), required=False)
    floor = FiniteFloatField(allow_null=True, required=False)
    ceiling = FiniteFloatField(allow_null=True, required=False)
    target = FiniteFloatField(allow_null=True, required=False)
    target_high = FiniteFloatField(
        allow_null=True, required=False, help_text="The high side, where the target is a range."
    )
    axis_low = FiniteFloatField(allow_null=True, required=False)
    axis_high = FiniteFloatField(allow_null=True, required=False)
    value_labels = serializers.ChoiceField(
        choices(ValueLabels), required=False, help_text="Which values are written at their points."
    )
    dots = serializers.BooleanField(required=False, help_text="Whether routine points are drawn.")
    faint = serializers.BooleanField(
        required=False, help_text="Whether the values stand back behind the lines."
    )
    aggregation = serializers.ChoiceField(
        choices(Aggregation),
        required=False,
        help_text="How several values of a period become one.",
    )
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
    confirmed = serializers.ListField(
        child=serializers.CharField(max_length=40),
        required=False,
        max_length=MOST_CONFIRMED,
        help_text="Periods of values far off the others that are right as they are.",
    )
    lines = LineSerializer(many=True, required=False)
    bands = BandSerializer(many=True, required=False)
    views = ViewSerializer(many=True, required=False)
    target_steps = TargetStepSerializer(many=True, required=False)

    def validate_target_steps(self, steps: list[dict[str, Any]]) -> list[dict[str, Any]]:
        """Put the steps of the target in order; refuse two from one day, and reversed ranges."""
        if len(steps) > MOST_STEPS:
            raise serializers.ValidationError(f"A target can change {MOST_STEPS} times.")
        days = [step["day"] for step in steps]
        if len(set(days)) < len(days):
            raise serializers.ValidationError("The target changes twice on one day.")
        if any(step["high"] is not None and step["high"] <= step["level"] for step in steps):
            raise serializers.ValidationError("A target range ends below where it begins.")
        ordered = sorted(steps, key=lambda step: step["day"])
        return [step | {"day": step["day"].isoformat()} for step in ordered]

    def validate_views(self, views: list[dict[str, Any]]) -> list[dict[str, Any]]:
        """Refuse two views of one name, and more than a menu can show."""
        if len(views) > MOST_VIEWS:
            raise serializers.ValidationError(f"A chart can have {MOST_VIEWS} views.")
        if len({view["name"].casefold() for view in views}) < len(views):
            raise serializers.ValidationError("There is a view of this name already.")
        return views

    def validate_lines(self, lines: list[dict[str, Any]]) -> list[dict[str, Any]]:
        """Refuse more lines than can be told apart, and two of one key."""
        if len(lines) > MOST_LINES:
            raise serializers.ValidationError(
                f"There are {len(lines)} lines; a chart can have {MOST_LINES}. Remove some first."
            )
        if len({line["key"] for line in lines}) < len(lines):
            raise serializers.ValidationError("Two lines have the same key.")
        return lines

    def validate_bands(self, bands: list[dict[str, Any]]) -> list[dict[str, Any]]:
        """Refuse more bands than can be told apart."""
        if len(bands) > MOST_LINES:
            raise serializers.ValidationError(f"A chart can have {MOST_LINES} bands.")
        return bands


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
    weeks = serializers.IntegerField(
        min_value=1, max_value=5_000, required=False, help_text="The newest weeks alone."
    )
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


class SpansSerializer(WindowSerializer):
    """Selections of periods, each as its first and its last one."""

    lists = ("spans",)

    spans = serializers.ListField(
        child=serializers.RegexField(r"^[^/]{4,40}/[^/]{4,40}$"),
        min_length=1,
        max_length=4,
        help_text="First and last period of each: 2026-01-05/2026-03-02.",
    )


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
        required=False,
        min_value=1,
        max_value=1000,
        help_text="Periods; asks for the smallest change that shows 8 in 10 times.",
    )

    def validate(self, attrs: dict[str, Any]) -> dict[str, Any]:
        """Take one question at a time."""
        if ("change" in attrs) is ("within" in attrs):
            raise serializers.ValidationError({"change": "Ask by a change, or by periods."})
        return attrs
