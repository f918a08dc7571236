"""What the API takes of comparisons, checked."""

from rest_framework import serializers

from fluctus.core.context import LONGEST_LAG
from fluctus.http.requests import FiniteFloatField, Plain, choices
from fluctus.kpis.calendar import Grain
from fluctus.overview.compare.measures import AVERAGE, CHOICES
from fluctus.overview.compare.parts import PartOrder
from fluctus.overview.strips.requests import DatesSerializer

MOST_COMPARED = 24
"""KPIs on one screen side by side."""


class PartsSerializer(DatesSerializer):
    """Which parts, over which days, by which grain."""

    lists = ("part",)
    by = serializers.ChoiceField(choices(Grain), required=False)
    part = serializers.ListField(
        child=serializers.CharField(max_length=120),
        max_length=400,
        default=list,
        help_text="Parts by name; without, the first ones.",
    )


class OrderedPartsSerializer(PartsSerializer):
    """The same in an order."""

    order = serializers.ChoiceField(choices(PartOrder), default=PartOrder.NAME.value)


class PlacedPartsSerializer(PartsSerializer):
    """The same by a measure."""

    measure = serializers.ChoiceField(CHOICES, default=AVERAGE.name)


class GoalSerializer(DatesSerializer):
    """Which KPIs, against which goal."""

    lists = ("kpi",)
    kpi = serializers.ListField(
        child=serializers.CharField(max_length=80), min_length=1, max_length=MOST_COMPARED
    )
    goal = FiniteFloatField(required=False)


class PairSerializer(DatesSerializer):
    """Which two KPIs, how many periods apart, by which grain."""

    x = serializers.CharField(max_length=80)
    y = serializers.CharField(max_length=80)
    lag = serializers.IntegerField(min_value=0, max_value=LONGEST_LAG, default=0)
    by = serializers.ChoiceField(choices(Grain), required=False)
    as_they_are = serializers.BooleanField(
        default=False, help_text="Keep in both what they share, such as a trend or a season."
    )


class PlacesTableSerializer(Plain):
    """A table of names, latitudes and longitudes."""

    text = serializers.CharField(max_length=2_000_000)
    exchange = serializers.BooleanField(
        default=False, help_text="Take each coordinate for the other."
    )


class AreasFileSerializer(Plain):
    """A GeoJSON file."""

    file = serializers.FileField(max_length=200, allow_empty_file=False)
