"""The shapes of what the API takes and gives, for checking and for its description.

Answers are built as plain dictionaries in ``presenting``; their serializers here
only describe them. A test holds the two together.
"""

from typing import Any

from rest_framework import serializers

from fluctus.core import (
    RUN_LENGTHS,
    Aggregation,
    Centre,
    Direction,
    Firmness,
    Rule,
    Side,
    Spread,
)
from fluctus.core.judgment.fitness import Fitness
from fluctus.core.judgment.shift_review import Answer, Question
from fluctus.kpis.calendar import Grain, is_time_zone
from fluctus.kpis.seasons import Follows

Plain = serializers.Serializer[Any]


def choices(values: type[Any]) -> list[tuple[str, str]]:
    """Return the choices of an enum of texts."""
    return [(str(v.value), str(v.name)) for v in values]


class ReviewField(serializers.DictField):
    """Answers by question."""

    child = serializers.ChoiceField(choices(Answer))

    def to_internal_value(self, data: Any) -> Any:
        """Refuse a question that nobody asks."""
        value = super().to_internal_value(data)
        unknown = set(value) - {str(question) for question in Question}
        if unknown:
            raise serializers.ValidationError(f"There is no question {', '.join(unknown)}.")
        return value


class KeptLimitsSerializer(Plain):
    """A decision that the process has not shifted at a period."""

    period = serializers.CharField(max_length=40)
    reason = serializers.CharField(max_length=500)
    review = ReviewField(default=dict)


class KeptLimitsShownSerializer(KeptLimitsSerializer):
    """Such a decision, with its period named for people."""

    label = serializers.CharField()  # type: ignore[assignment]


class SegmentInSerializer(Plain):
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


class FiniteFloatField(serializers.FloatField):
    """A number; infinity and NaN, which Python would read, are not numbers here."""

    def to_internal_value(self, data: Any) -> float:
        """Read a number."""
        value = super().to_internal_value(data)
        if not abs(value) <= 1e300:
            raise serializers.ValidationError("A number of ordinary size is needed.")
        return value


class TimeZoneField(serializers.CharField):
    """The name of a time zone."""

    def to_internal_value(self, data: Any) -> str:
        """Refuse one that nobody knows."""
        value = super().to_internal_value(data)
        if not is_time_zone(value):
            raise serializers.ValidationError(f"{value} is not a time zone.")
        return value


class KpiDetailsSerializer(Plain):
    """What a KPI is called and how its values are read."""

    name = serializers.CharField(max_length=80)
    group = serializers.CharField(max_length=60, allow_blank=True, required=False)
    unit = serializers.CharField(max_length=20, allow_blank=True, required=False)
    decimals = serializers.IntegerField(min_value=0, max_value=6, required=False)
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

    name = serializers.CharField(max_length=80, required=False)
    rules = serializers.ListField(child=serializers.ChoiceField(choices(Rule)), required=False)
    run_length = serializers.ChoiceField(RUN_LENGTHS, required=False)
    segments = SegmentInSerializer(many=True, required=False)
    kept_limits = KeptLimitsSerializer(many=True, required=False)


class PreviewSerializer(ChartSettingsSerializer):
    """Settings to preview, and values that would be set aside or put back."""

    aside = serializers.DictField(
        child=serializers.CharField(allow_blank=True, allow_null=True, max_length=200),
        required=False, help_text="Reason by period; null puts the value back.",
    )  # fmt: skip
    values = serializers.DictField(
        child=FiniteFloatField(), required=False, help_text="Value by period."
    )


class SetAsideInSerializer(Plain):
    """A point to set aside, with a reason, or to put back, without one."""

    period = serializers.CharField(max_length=40)
    breakdown = serializers.CharField(allow_null=True, default=None, max_length=120)
    reason = serializers.CharField(allow_null=True, allow_blank=True, max_length=200)


class WindowSerializer(Plain):
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


class StripSignalSerializer(Plain):
    """The mark of the newest recent signal; a negative index is left of the strip."""

    rule = serializers.ChoiceField(choices(Rule))
    strip_index = serializers.IntegerField()


class KpiRowSerializer(Plain):
    """A KPI in the rail."""

    slug = serializers.CharField()
    name = serializers.CharField()
    group = serializers.CharField()
    unit = serializers.CharField()
    count = serializers.IntegerField()
    latest = serializers.CharField(help_text="The latest value with its unit, as text.")
    latest_period = serializers.CharField(allow_null=True)
    strip = serializers.ListField(child=serializers.FloatField())
    signal = StripSignalSerializer(allow_null=True)
    unexplained = serializers.IntegerField(
        help_text="Findings of its last segment that have no cause on record."
    )


class KpiSerializer(Plain):
    """A KPI and the settings of its chart."""

    slug = serializers.CharField()
    name = serializers.CharField()
    group = serializers.CharField()
    unit = serializers.CharField()
    decimals = serializers.IntegerField()
    direction = serializers.ChoiceField(choices(Direction))
    grain = serializers.ChoiceField(choices(Grain), help_text="The grain that is shown.")
    stored_grain = serializers.ChoiceField(choices(Grain))
    grains = serializers.ListField(
        child=serializers.ChoiceField(choices(Grain)), help_text="Grains it can be shown at."
    )
    breakdowns = serializers.ListField(child=serializers.CharField())
    aggregation = serializers.ChoiceField(choices(Aggregation))
    time_zone = serializers.CharField()
    first_weekday = serializers.IntegerField()
    first_month = serializers.IntegerField()
    floor = serializers.FloatField(allow_null=True)
    ceiling = serializers.FloatField(allow_null=True)
    target = serializers.FloatField(allow_null=True)
    rules = serializers.ListField(child=serializers.ChoiceField(choices(Rule)))
    run_length = serializers.IntegerField()
    revision = serializers.IntegerField()
    level_decimals = serializers.IntegerField(help_text="Decimals of averages and limits.")


class BasisSerializer(Plain):
    """The stretch that limits come from, by the positions and the periods of both its ends."""

    first = serializers.IntegerField()
    last = serializers.IntegerField()
    first_period = serializers.CharField()
    last_period = serializers.CharField()


class SegmentSerializer(SegmentInSerializer):
    """A segment with its limits; ``first`` and ``stop`` are positions, half open."""

    label = serializers.CharField(help_text="Name of the period it starts at, for people.")  # type: ignore[assignment]
    first = serializers.IntegerField()
    stop = serializers.IntegerField()
    n = serializers.IntegerField(help_text="Included values of the limit window.")
    average = serializers.FloatField(allow_null=True)
    average_range = serializers.FloatField(allow_null=True)
    upper = serializers.FloatField(allow_null=True)
    lower = serializers.FloatField(allow_null=True)
    upper_clipped = serializers.BooleanField()
    lower_clipped = serializers.BooleanField()
    range_limit = serializers.FloatField(allow_null=True)
    sigma = serializers.FloatField(allow_null=True)
    firmness = serializers.ChoiceField(choices(Firmness))
    advice = serializers.CharField(help_text="What the answers of its review advise.")
    made = serializers.CharField(help_text="How its numbers were made, in words.")
    basis = BasisSerializer(allow_null=True)
    firmer = serializers.CharField(
        allow_null=True, help_text="What limits from all values would be, once these are firmer."
    )


class LineField(serializers.ListField):
    """A line that limits follow, at each point drawn; null where they follow nothing."""

    child = serializers.FloatField(allow_null=True)

    def __init__(self, **kwargs: Any) -> None:
        super().__init__(allow_null=True, **kwargs)


class PointsSerializer(Plain):
    """The points to draw, in columns of one length."""

    position = serializers.ListField(child=serializers.IntegerField())
    period = serializers.ListField(child=serializers.CharField())
    value = serializers.ListField(child=serializers.FloatField())
    moving_range = serializers.ListField(child=serializers.FloatField(allow_null=True))
    distance = serializers.ListField(
        child=serializers.FloatField(allow_null=True),
        help_text="Value minus the central line.",
    )
    centre = LineField(help_text="Central line at each point; null where all segments are level.")
    upper = LineField()
    lower = LineField()


class SetAsideSerializer(Plain):
    """A value that takes no part, and why."""

    position = serializers.IntegerField()
    reason = serializers.CharField()


class SignalSerializer(Plain):
    """A signal and the numbers it was judged by."""

    rule = serializers.ChoiceField(choices(Rule))
    side = serializers.ChoiceField([(side.value, side.name.lower()) for side in Side])
    segment = serializers.IntegerField()
    points = serializers.ListField(child=serializers.IntegerField())
    label = serializers.CharField()  # type: ignore[assignment]
    title = serializers.CharField()
    text = serializers.CharField()
    level = serializers.FloatField(allow_null=True)
    sigmas = serializers.FloatField(allow_null=True)
    favorable = serializers.BooleanField(allow_null=True)


class SentenceSerializer(Plain):
    """What the chart says."""

    headline = serializers.CharField()
    detail = serializers.CharField()


class ComparisonRowSerializer(Plain):
    """One number before and after, as text."""

    name = serializers.CharField()
    before = serializers.CharField()
    after = serializers.CharField()
    change = serializers.CharField()
    percent = serializers.CharField()


class ComparisonSerializer(Plain):
    """Two segments side by side."""

    before = serializers.CharField()
    after = serializers.CharField()
    numbers = serializers.ListField(
        child=serializers.IntegerField(), help_text="Numbers of the two segments."
    )
    rows = ComparisonRowSerializer(many=True)
    sentence = serializers.CharField(help_text="The comparison, to paste in a report.")


class CandidateSerializer(Plain):
    """A place where the process may have shifted, that nobody has decided on."""

    period = serializers.CharField()
    label = serializers.CharField()  # type: ignore[assignment]
    position = serializers.IntegerField()
    first = serializers.IntegerField(help_text="First position where it likely began.")
    last = serializers.IntegerField()
    located = serializers.BooleanField(help_text="Whether the values say when it began.")
    run = serializers.BooleanField(help_text="Whether a run begins here.")
    support = serializers.IntegerField(help_text="Values that support it.")
    text = serializers.CharField()
    likely = serializers.CharField(help_text="When it likely began, in words.")


class PatternSerializer(Plain):
    """What speaks for limits that follow something."""

    follows = serializers.ChoiceField(choices(Follows))
    proposed = serializers.BooleanField()
    title = serializers.CharField()
    text = serializers.CharField()


class HistorySerializer(Plain):
    """What undo and redo would do; null where there is nothing."""

    undo = serializers.CharField(allow_null=True)
    redo = serializers.CharField(allow_null=True)


class NextPeriodSerializer(Plain):
    """The period after the last one."""

    period = serializers.CharField()
    label = serializers.CharField()  # type: ignore[assignment]


class NoteSerializer(Plain):
    """What somebody noted of a value."""

    position = serializers.IntegerField()
    text = serializers.CharField()


class DoubtSerializer(Plain):
    """Why values may be unfit for a chart: what was found, what it means, what to do."""

    check = serializers.ChoiceField(choices(Fitness))
    title = serializers.CharField()
    text = serializers.CharField()
    remedy = serializers.CharField()


class ChartSerializer(Plain):
    """Everything a chart draws and says."""

    kpi = KpiSerializer()
    count = serializers.IntegerField(help_text="Values in all, shown or not.")
    basis = serializers.CharField(help_text="How each value was made, in words.")
    remarks = serializers.ListField(
        child=serializers.CharField(), help_text="What could not keep its meaning at this grain."
    )
    incomplete = serializers.IntegerField(
        allow_null=True, help_text="Position of a last period that is not over and takes no part."
    )
    next = NextPeriodSerializer(allow_null=True)
    targets = serializers.ListField(
        child=serializers.FloatField(allow_null=True), allow_null=True,
        help_text="Targets of the points drawn, where they change over time.",
    )  # fmt: skip
    target_now = serializers.FloatField(allow_null=True)
    notes = NoteSerializer(many=True)
    shown = serializers.ListField(
        child=serializers.IntegerField(), help_text="First position shown, and one past the last."
    )
    points = PointsSerializer()
    segments = SegmentSerializer(many=True)
    set_aside = SetAsideSerializer(many=True)
    hollow_ranges = serializers.ListField(child=serializers.IntegerField())
    signals = SignalSerializer(many=True)
    signal_count = serializers.IntegerField(help_text="Signals in all, shown or not.")
    sentence = SentenceSerializer()
    comparison = ComparisonSerializer(allow_null=True)
    doubts = DoubtSerializer(many=True)
    kept_limits = KeptLimitsShownSerializer(many=True)
    candidates = CandidateSerializer(many=True)
    patterns = PatternSerializer(many=True)


class SavedChartSerializer(ChartSerializer):
    """A chart as it is saved."""

    history = HistorySerializer()


class RuleSetSerializer(Plain):
    """A set of rules, to learn what it costs."""

    rules = serializers.ListField(child=serializers.ChoiceField(choices(Rule)), default=list)
    run_length = serializers.ChoiceField(RUN_LENGTHS, default=8)


class FalseAlarmsSerializer(Plain):
    """What a set of rules costs in false alarms, for as many points as a KPI has."""

    points = serializers.IntegerField()
    chance = serializers.FloatField(help_text="Of at least one signal, from 0 to 1.")
    average_points = serializers.FloatField(
        allow_null=True, help_text="To the first false signal; null where there is none."
    )
    text = serializers.CharField()


class DeleteSerializer(Plain):
    """What deleting takes."""

    name = serializers.CharField(max_length=80)


class EditSerializer(Plain):
    """One value as a person writes it."""

    period = serializers.CharField(max_length=40)
    breakdown = serializers.CharField(max_length=120, allow_blank=True, default="")
    value = FiniteFloatField(allow_null=True, default=None)
    note = serializers.CharField(max_length=500, allow_blank=True, default="")
    set_aside = serializers.BooleanField(default=False)
    reason = serializers.CharField(max_length=200, allow_blank=True, default="")
    remove = serializers.BooleanField(default=False)
    seen = serializers.IntegerField(
        allow_null=True, default=None, help_text="The version the person saw; null where none was."
    )


class EditsSerializer(Plain):
    """Values to save together."""

    edits = EditSerializer(many=True)

    def validate_edits(self, value: list[Any]) -> list[Any]:
        """Refuse more than a person writes at once."""
        if not 1 <= len(value) <= 5000:
            raise serializers.ValidationError("From 1 to 5,000 values can be saved at once.")
        return value


class ValueSerializer(Plain):
    """One value, and the act that wrote it."""

    period = serializers.CharField()
    breakdown = serializers.CharField()
    value = serializers.FloatField()
    target = serializers.FloatField(allow_null=True)
    rows = serializers.IntegerField(help_text="How many rows of its source it stands for.")
    note = serializers.CharField()
    set_aside = serializers.BooleanField()
    reason = serializers.CharField()
    version = serializers.IntegerField()
    author = serializers.CharField()
    at = serializers.CharField()
    act = serializers.CharField()


class ValuesSerializer(Plain):
    """A stretch of the values of a KPI, in order of time."""

    count = serializers.IntegerField()
    start = serializers.IntegerField()
    values = ValueSerializer(many=True)
    next = NextPeriodSerializer(allow_null=True)
    revision = serializers.IntegerField()


class ValuesQuerySerializer(Plain):
    """Which stretch of the values to give."""

    start = serializers.IntegerField(min_value=0, default=0)
    breakdown = serializers.CharField(required=False, max_length=120, allow_blank=True)


class VersionQuerySerializer(Plain):
    """Which value to give the history of."""

    period = serializers.CharField(max_length=40)
    breakdown = serializers.CharField(max_length=120, allow_blank=True, default="")


class VersionSerializer(ValueSerializer):
    """What a value was, and the act that ended it; null for the present one."""

    ended_by = serializers.CharField(allow_null=True)
    ended_at = serializers.CharField(allow_null=True)
    ended_author = serializers.CharField(allow_null=True)


class SavedValuesSerializer(Plain):
    """The KPI's revision after a write of values."""

    revision = serializers.IntegerField()


class IssueSerializer(Plain):
    """One thing that is wrong: where, what was found there, what to do."""

    detail = serializers.CharField()
    remedy = serializers.CharField()
    field = serializers.CharField()
    row = serializers.IntegerField(allow_null=True)
    column = serializers.CharField()
    found = serializers.CharField()


class ProblemSerializer(Plain):
    """An RFC 9457 problem document."""

    type = serializers.CharField()
    title = serializers.CharField()
    status = serializers.IntegerField()
    detail = serializers.CharField()
    issues = IssueSerializer(many=True)
    revision = serializers.IntegerField(required=False)
