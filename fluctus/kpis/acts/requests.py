"""What the API takes of acts, checked."""

from rest_framework import serializers

from fluctus.http.requests import FiniteFloatField, IdField, Plain, Query
from fluctus.kpis.chart.requests import AsideField, ChartSettingsSerializer


class TrialSerializer(Plain):
    """A trial to keep: settings, values and points set aside."""

    settings = ChartSettingsSerializer(required=False)
    values = serializers.DictField(child=FiniteFloatField(), required=False)
    aside = AsideField(required=False)


class HistoryQuerySerializer(Query):
    """Which acts to give: those before a number."""

    before = IdField(required=False)


class RestoreSerializer(Plain):
    """The act after which the chart was as wanted; null: as it came."""

    act = IdField(allow_null=True, default=None)
