"""What the API takes of findings, checked."""

from rest_framework import serializers

from fluctus.core import Rule
from fluctus.findings.models import FindingState
from fluctus.findings.queries import Order
from fluctus.http.requests import DayField, Plain, Query, StartField, choices


class LogQuerySerializer(Query):
    """Which findings to give."""

    lists = ("state",)

    state = serializers.ListField(child=serializers.ChoiceField(FindingState.choices), default=list)
    kpi = serializers.CharField(required=False, max_length=80)
    rule = serializers.ChoiceField(choices(Rule), required=False)
    person = serializers.CharField(
        required=False, allow_blank=True, max_length=150, help_text="Empty: those of nobody."
    )
    since = DayField(required=False)
    until = DayField(required=False)
    favorable = serializers.BooleanField(required=False, allow_null=True, default=None)
    gone = serializers.BooleanField(
        default=False, help_text="Whether those that signal no more are wanted as well."
    )
    order = serializers.ChoiceField(choices(Order), default=Order.FIRST)
    start = StartField()


class WithinSerializer(Query):
    """How many periods before and after a finding to look for what else was going on."""

    within = serializers.IntegerField(min_value=0, max_value=60, default=3)


class FindingChangesSerializer(Plain):
    """What a person makes of a finding; what is left out stays as it is."""

    state = serializers.ChoiceField(FindingState.choices, required=False)
    cause = serializers.CharField(max_length=500, allow_blank=True, required=False)
    action = serializers.CharField(max_length=500, allow_blank=True, required=False)
    person = serializers.CharField(max_length=150, allow_null=True, required=False)
    due = DayField(allow_null=True, required=False)


MOST_AT_ONCE = 1000


class SeenFindingSerializer(Plain):
    """A finding, and the version of it that a person saw."""

    id = serializers.IntegerField(min_value=1)
    version = serializers.IntegerField(min_value=1)


class SeveralChangesSerializer(Plain):
    """What a person makes of several findings."""

    findings = serializers.ListField(
        child=SeenFindingSerializer(), min_length=1, max_length=MOST_AT_ONCE
    )
    changes = FindingChangesSerializer()


class RemarkSerializer(Plain):
    """A remark."""

    text = serializers.CharField(max_length=2000)
