"""What the API takes of events, checked."""

from rest_framework import serializers

from fluctus.http.requests import DayField, IdField, Plain, Query, StartField, choices
from fluctus.kpis.calendar import Grain
from fluctus.kpis.chart.requests import WindowSerializer
from fluctus.kpis.models import EventKind


class EventChangesSerializer(Plain):
    """An event as a person writes it; what is left out stays as it is."""

    title = serializers.CharField(max_length=120, required=False)
    kind = serializers.ChoiceField(EventKind.choices, required=False)
    text = serializers.CharField(max_length=2000, allow_blank=True, required=False)
    first = DayField(required=False)
    last = DayField(required=False)
    everywhere = serializers.BooleanField(required=False)
    kpis = serializers.ListField(
        child=serializers.CharField(max_length=80),
        required=False,
        help_text="Slugs of the KPIs it is told with; absent: the one of the chart.",
    )


class NewEventSerializer(EventChangesSerializer):
    """A new event, which has a title and a day."""

    title = serializers.CharField(max_length=120)
    first = DayField()


class EventsQuerySerializer(Query):
    """Which stretch of the events to give, and a text that they hold."""

    start = StartField()
    search = serializers.CharField(max_length=120, allow_blank=True, default="")
    state = serializers.CharField(
        max_length=120, allow_blank=True, default="", help_text="The times of this state alone."
    )


class LaneQuerySerializer(Query):
    """Which days of the lane to tell, and for how many pixels."""

    first = DayField()
    last = DayField(help_text="A day of the last period that shows.")
    by = serializers.ChoiceField(
        choices(Grain), required=False, help_text="The grain that shows; absent: the stored one."
    )
    width = serializers.IntegerField(min_value=50, max_value=8000, default=1000)


class StatesQuerySerializer(WindowSerializer):
    """A state of the world to compare a KPI in and out of."""

    state = serializers.CharField(max_length=120, required=False)


class VersionSeenSerializer(Query):
    """The version of an event that a change was made on."""

    version = IdField()


class CalendarFileSerializer(Plain):
    """A calendar file to read or to bring in."""

    file = serializers.FileField(max_length=200)
    skip_broken = serializers.BooleanField(
        default=False, help_text="Bring in what can be read, and leave out the rest."
    )
    kpis = serializers.ListField(
        child=serializers.CharField(max_length=80),
        default=list,
        help_text="KPIs to tell new events with; none: all.",
    )
