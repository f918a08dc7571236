"""What the API takes of messages, checked."""

from typing import Any

from rest_framework import serializers

from fluctus.feeds.requests import ScheduleSerializer
from fluctus.http.outgoing import checked_url
from fluctus.http.refusals import RefusalError
from fluctus.http.requests import Plain, choices
from fluctus.jobs.schedule import Every
from fluctus.kpis.chart.requests import TimeZoneField
from fluctus.messages.models import How, Topic


class WishSerializer(Plain):
    """What a person wants to hear of: of a KPI, of a group, or of everything."""

    kpi = serializers.CharField(allow_null=True, default=None, max_length=80)
    group = serializers.CharField(allow_blank=True, default="", max_length=60)
    how = serializers.DictField(
        child=serializers.ChoiceField(choices(How)),
        default=dict,
        help_text="How to be told, by topic; what is not there is as it is for what is around it.",
    )
    quiet_until = serializers.DateTimeField(allow_null=True, default=None)

    def validate_how(self, value: dict[str, Any]) -> dict[str, Any]:
        """Refuse topics that there are none of."""
        if unknown := set(value) - {topic.value for topic in Topic}:
            raise serializers.ValidationError(f"There is no {min(unknown)[:40]} to hear of.")
        return value


class DigestSerializer(Plain):
    """When the digest comes."""

    schedule = ScheduleSerializer()
    time_zone = TimeZoneField(max_length=60)
    even_if_nothing = serializers.BooleanField(default=False)
    no_mail = serializers.BooleanField(default=False)

    def validate_schedule(self, value: dict[str, Any]) -> dict[str, Any]:
        """Take a day or a week: a digest gathers."""
        if value["every"] not in (Every.DAY, Every.WEEKDAY, Every.WEEK):
            raise serializers.ValidationError("A digest comes by the day or by the week.")
        return value


class ScheduledSerializer(Plain):
    """When a report is made by itself, and to whom it goes."""

    schedule = ScheduleSerializer()
    time_zone = TimeZoneField(max_length=60)
    to = serializers.ListField(
        child=serializers.CharField(max_length=150),
        default=list,
        max_length=200,
        help_text="Usernames of members; none leaves it in Reports.",
    )


class WebhookSerializer(Plain):
    """A webhook to be made."""

    name = serializers.CharField(max_length=80)
    address = serializers.CharField(max_length=2_000)
    topics = serializers.ListField(
        child=serializers.ChoiceField(choices(Topic)), allow_empty=False, max_length=len(Topic)
    )

    def validate_address(self, value: str) -> str:
        """Refuse what is no address."""
        try:
            return str(checked_url(value))
        except RefusalError as refused:
            raise serializers.ValidationError(
                f"{refused.issues[0].detail} {refused.issues[0].remedy}"
            ) from refused
