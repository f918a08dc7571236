"""Input of the reports API."""

from typing import Any

from rest_framework import serializers

from fluctus.http.requests import DayField, IdField, Plain, Query, StartField, choices
from fluctus.reports.asked import MOST_CHARTS, Asked, Paper
from fluctus.reports.models import Format, Scope

LONGEST_TEXT = 5_000


class ReportsSerializer(Query):
    """Which stretch."""

    start = StartField()


class NewReportSerializer(Plain):
    """A report to make."""

    title = serializers.CharField(max_length=200)
    format = serializers.ChoiceField(choices=Format.choices, default=Format.PDF)
    scope = serializers.ChoiceField(choices=Scope.choices)
    kpis = serializers.ListField(
        child=serializers.SlugField(max_length=80), default=list, max_length=MOST_CHARTS
    )
    page = IdField(default=None, allow_null=True)
    group = serializers.CharField(max_length=60, default="", allow_blank=True)
    author = serializers.CharField(max_length=120, default="", allow_blank=True)
    intro = serializers.CharField(max_length=LONGEST_TEXT, default="", allow_blank=True)
    texts = serializers.DictField(
        child=serializers.CharField(max_length=LONGEST_TEXT, allow_blank=True), default=dict
    )
    """Words before the chart of a KPI, by its slug."""
    views = serializers.DictField(
        child=serializers.CharField(max_length=80, allow_blank=True), default=dict
    )
    first = DayField(default=None, allow_null=True)
    last = DayField(default=None, allow_null=True)
    weeks = serializers.IntegerField(default=None, allow_null=True, min_value=1, max_value=5_000)
    paper = serializers.ChoiceField(choices=choices(Paper), default=Paper.A4)
    names = serializers.BooleanField(default=True)

    def validate(self, attrs: dict[str, Any]) -> dict[str, Any]:
        """Hold dates to each other, and texts to a number."""
        first, last = attrs["first"], attrs["last"]
        if (first is None) != (last is None) or (first and last < first):
            raise serializers.ValidationError({"last": "The dates end before they begin."})
        if len(attrs["texts"]) > MOST_CHARTS or len(attrs["views"]) > MOST_CHARTS:
            raise serializers.ValidationError({"texts": "These are too many texts."})
        return attrs


class PackageSerializer(Plain):
    """A package to bring in."""

    file = serializers.FileField(max_length=200)


def asked_of(form: dict[str, Any]) -> Asked:
    """Return what a checked form asks to be shown."""
    days: dict[str, Any] = {
        name: None if form[name] is None else form[name].isoformat() for name in ("first", "last")
    }
    same = ("page", "group", "author", "intro", "texts", "views", "weeks", "names")
    return Asked(
        scope=Scope(form["scope"]),
        kpis=tuple(form["kpis"]),
        paper=Paper(form["paper"]),
        **{name: form[name] for name in same},
        **days,
    )
