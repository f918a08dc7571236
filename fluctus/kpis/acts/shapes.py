"""The shapes of events, comparisons, trials and the history of a chart."""

from rest_framework import serializers

from fluctus.kpis.chart.shapes import ChartSettingsSerializer, FiniteFloatField, Plain
from fluctus.kpis.models import ChartChange, Event


class EventInSerializer(Plain):
    """An event as a person writes it; what is left out stays as it is."""

    title = serializers.CharField(max_length=120, required=False)
    kind = serializers.ChoiceField(Event.Kind.choices, required=False)
    text = serializers.CharField(max_length=2000, allow_blank=True, required=False)
    first = serializers.DateField(required=False)
    last = serializers.DateField(required=False)
    everywhere = serializers.BooleanField(required=False)
    kpis = serializers.ListField(
        child=serializers.CharField(max_length=80), required=False,
        help_text="Slugs of the KPIs it is told with; absent: the one of the chart.",
    )  # fmt: skip


class NewEventSerializer(EventInSerializer):
    """A new event, which has a title and a day."""

    title = serializers.CharField(max_length=120)
    first = serializers.DateField()


class EventSerializer(Plain):
    """An event."""

    id = serializers.IntegerField()
    title = serializers.CharField()
    kind = serializers.ChoiceField(Event.Kind.choices)
    text = serializers.CharField()
    first = serializers.CharField()
    last = serializers.CharField()
    everywhere = serializers.BooleanField()
    kpis = serializers.ListField(child=serializers.CharField())
    version = serializers.IntegerField()


class EventsSerializer(Plain):
    """A stretch of the events of a workspace, newest first."""

    count = serializers.IntegerField()
    start = serializers.IntegerField()
    events = EventSerializer(many=True)


class PinSerializer(Plain):
    """Events that are told at one place of the lane."""

    first = serializers.CharField()
    last = serializers.CharField()
    count = serializers.IntegerField()
    events = EventSerializer(many=True)


class LaneQuerySerializer(Plain):
    """Which days of the lane to tell, and for how many pixels."""

    first = serializers.DateField()
    last = serializers.DateField()
    width = serializers.IntegerField(min_value=50, max_value=8000, default=1000)


class VersionSeenSerializer(Plain):
    """The version of an event that a change was made on."""

    version = serializers.IntegerField()


class CalendarFileSerializer(Plain):
    """A calendar file to read or to bring in."""

    file = serializers.FileField(max_length=200)
    skip_broken = serializers.BooleanField(
        default=False, help_text="Bring in what can be read, and leave out the rest."
    )
    kpis = serializers.ListField(
        child=serializers.CharField(max_length=80), default=list,
        help_text="KPIs to tell new events with; none: all.",
    )  # fmt: skip


class BrokenEventSerializer(Plain):
    """A part of a file that is no event."""

    line = serializers.IntegerField()
    detail = serializers.CharField()
    remedy = serializers.CharField()


class CalendarReadSerializer(Plain):
    """What a calendar file would bring."""

    new = serializers.IntegerField()
    changed = serializers.IntegerField()
    same = serializers.IntegerField()
    repeated = serializers.IntegerField(help_text="Events made of repeats.")
    broken = BrokenEventSerializer(many=True)
    broken_count = serializers.IntegerField()
    sample = EventSerializer(many=True)


class EventImportSerializer(Plain):
    """A calendar file that was brought in."""

    id = serializers.IntegerField()
    added = serializers.IntegerField()
    changed = serializers.IntegerField()


class ComparisonQuerySerializer(Plain):
    """Two segments to compare, or a period to compare before and after."""

    before = serializers.IntegerField(min_value=0, required=False)
    after = serializers.IntegerField(min_value=0, required=False)
    at = serializers.CharField(max_length=40, required=False)


class TrialSerializer(Plain):
    """A trial to keep: settings, values and points set aside."""

    settings = ChartSettingsSerializer(required=False)
    values = serializers.DictField(child=FiniteFloatField(), required=False)
    aside = serializers.DictField(
        child=serializers.CharField(allow_blank=True, allow_null=True, max_length=200),
        required=False,
    )


class HistoryQuerySerializer(Plain):
    """Which acts to give: those before a number."""

    before = serializers.IntegerField(required=False)


class ActSerializer(Plain):
    """An act on a chart."""

    id = serializers.IntegerField()
    at = serializers.CharField()
    author = serializers.CharField()
    summary = serializers.CharField()
    standing = serializers.ChoiceField(ChartChange.Standing.choices)
    turned_by = serializers.CharField()
    turned_at = serializers.CharField(allow_null=True)
    settings = serializers.BooleanField(
        help_text="Whether it changed settings, not values or events alone."
    )


class ActsSerializer(Plain):
    """The acts on a chart, newest first."""

    count = serializers.IntegerField()
    acts = ActSerializer(many=True)


class RestoreSerializer(Plain):
    """The act after which the chart was as wanted; null: as it came."""

    act = serializers.IntegerField(allow_null=True, default=None)
