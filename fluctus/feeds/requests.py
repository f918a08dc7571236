"""What the API takes of feeds, checked."""

from typing import Any

from rest_framework import serializers

from fluctus.feeds.sources.registry import SOURCES
from fluctus.http.requests import IdField, Plain, choices
from fluctus.intake.requests import MappingSerializer
from fluctus.jobs.schedule import Every
from fluctus.kpis.chart.requests import TimeZoneField

LONGEST_NAME = 80


class ScheduleSerializer(Plain):
    """How often a feed fetches, and when then."""

    every = serializers.ChoiceField(choices(Every))
    minute = serializers.IntegerField(
        default=0, min_value=0, max_value=1439, help_text="Since midnight, or since the hour."
    )
    weekday = serializers.IntegerField(default=0, min_value=0, max_value=6)
    day = serializers.IntegerField(
        default=1, min_value=1, max_value=31, help_text="Of the month; 31 is its last one."
    )
    cron = serializers.CharField(default="", allow_blank=True, max_length=120)

    def validate(self, attrs: dict[str, Any]) -> dict[str, Any]:
        """Keep the minute of every hour within it."""
        if attrs["every"] == Every.HOUR and attrs["minute"] > 59:
            raise serializers.ValidationError({"minute": "An hour has minutes 0 to 59."})
        return attrs


class SourceSerializer(Plain):
    """Where a table is fetched from: one of the kinds of sources, each with its own options."""

    def get_fields(self) -> dict[str, Any]:
        """Take the options of each kind by its name."""
        return {name: kind.form(required=False, allow_null=True) for name, kind in SOURCES.items()}

    def validate(self, attrs: dict[str, Any]) -> dict[str, Any]:
        """Ask for one kind."""
        given = [name for name, options in attrs.items() if options is not None]
        if len(given) != 1:
            raise serializers.ValidationError("Say one source.")
        return {"kind": given[0], "options": plain(attrs[given[0]])}


def plain(value: Any) -> Any:
    """Return checked options as plain data."""
    if isinstance(value, dict):
        return {name: plain(part) for name, part in value.items()}
    return [plain(part) for part in value] if isinstance(value, list) else value


class LookSerializer(Plain):
    """What to look at."""

    where = SourceSerializer()
    feed = IdField(
        allow_null=True, default=None, help_text="The feed whose secrets hold where none are typed."
    )


class SetUpSerializer(Plain):
    """How a feed that was looked at is set up."""

    name = serializers.CharField(max_length=LONGEST_NAME)
    schedule = ScheduleSerializer()
    time_zone = TimeZoneField(max_length=60)
    upload = IdField()
    mapping = MappingSerializer()
    into = serializers.CharField(
        allow_null=True, default=None, max_length=80, help_text="The KPI to feed; null: new ones."
    )


class FeedChangeSerializer(Plain):
    """What is to be changed of a feed; what is absent stays."""

    name = serializers.CharField(max_length=LONGEST_NAME, required=False)
    schedule = ScheduleSerializer(required=False)
    time_zone = TimeZoneField(max_length=60, required=False)
    paused = serializers.BooleanField(required=False)
    take_over = serializers.BooleanField(required=False)
    draft = IdField(required=False, help_text="The draft to fetch from instead.")


class WhenSerializer(Plain):
    """A schedule to be said in words."""

    schedule = ScheduleSerializer()
    time_zone = TimeZoneField(max_length=60)


class DecisionSerializer(Plain):
    """What becomes of a table that does not fit."""

    act = serializers.ChoiceField([("as_before", "as_before"), ("leave_out", "leave_out")])


class LearnSerializer(Plain):
    """How a table that does not fit is read, and those after it."""

    upload = IdField()
    mapping = MappingSerializer()
