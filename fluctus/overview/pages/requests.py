"""What the API takes of pages, checked."""

from datetime import date
from typing import Any

from rest_framework import serializers

from fluctus.core.context import LONGEST_LAG
from fluctus.http.requests import DayField, FiniteFloatField, Plain, Query, StartField, choices
from fluctus.kpis.calendar import Grain
from fluctus.overview.compare import measures
from fluctus.overview.compare.parts import PartOrder
from fluctus.overview.pages.state import MOST_PANELS
from fluctus.overview.panels.panel import COLUMNS
from fluctus.overview.panels.registry import CHOICES

LONGEST_TEXT = 20_000
ROWS = 2_000
"""Rows of the grid, far more than a page has."""


class PageDatesSerializer(Plain):
    """Days, or the newest weeks; neither: all that there are."""

    first = DayField(required=False, allow_null=True)
    last = DayField(required=False, allow_null=True)
    weeks = serializers.IntegerField(min_value=1, max_value=5_000, required=False, allow_null=True)

    def to_internal_value(self, data: Any) -> dict[str, Any]:
        """Read them as they are kept: days as texts, what is not there left out."""
        dates = super().to_internal_value(data)
        first, last = dates.get("first"), dates.get("last")
        if first is not None and last is not None and first > last:
            raise serializers.ValidationError({"last": "The last day is before the first."})
        return {
            name: value.isoformat() if isinstance(value, date) else value
            for name, value in dates.items()
            if value is not None
        }


class PanelOptionsSerializer(Plain):
    """How a panel shows what it does."""

    order = serializers.ChoiceField(choices(PartOrder), required=False, allow_blank=True)
    measure = serializers.ChoiceField(measures.CHOICES, required=False, allow_blank=True)
    goal = FiniteFloatField(required=False, allow_null=True)
    lag = serializers.IntegerField(min_value=0, max_value=LONGEST_LAG, required=False)
    by = serializers.ChoiceField(choices(Grain), required=False, allow_blank=True)
    parts = serializers.ListField(
        child=serializers.CharField(max_length=120), max_length=24, required=False
    )
    one_plot = serializers.BooleanField(required=False)

    def to_internal_value(self, data: Any) -> dict[str, Any]:
        """Leave out what says nothing, so that two panels alike are alike."""
        options = super().to_internal_value(data)
        nothing: tuple[Any, ...] = (None, "", [], False)
        return {
            name: value
            for name, value in options.items()
            # A goal of 0 is a goal; a lag of 0 is none.
            if value not in nothing or (name == "goal" and value == 0)
        }


class NewPanelSerializer(Plain):
    """A panel that is to be put on a page."""

    kind = serializers.ChoiceField(CHOICES)
    kpis = serializers.ListField(
        child=serializers.CharField(max_length=80), max_length=24, default=list
    )
    view = serializers.CharField(max_length=80, allow_blank=True, default="")
    group = serializers.CharField(max_length=60, allow_blank=True, default="")
    text = serializers.CharField(
        max_length=LONGEST_TEXT, allow_blank=True, default="", trim_whitespace=False
    )
    options = PanelOptionsSerializer(default=dict)
    dates = PageDatesSerializer(allow_null=True, default=None)

    def validate(self, attrs: dict[str, Any]) -> dict[str, Any]:
        """Take lists as tuples, as pages keep them."""
        return attrs | {"kpis": tuple(attrs["kpis"])}


class PanelSerializer(NewPanelSerializer):
    """A panel where it is on a page."""

    key = serializers.CharField(max_length=40)
    names = serializers.ListField(
        child=serializers.CharField(max_length=120), max_length=24, default=list
    )
    x = serializers.IntegerField(min_value=0, max_value=COLUMNS - 1)
    y = serializers.IntegerField(min_value=0, max_value=ROWS)
    w = serializers.IntegerField(min_value=1, max_value=COLUMNS)
    h = serializers.IntegerField(min_value=2, max_value=40)

    def validate(self, attrs: dict[str, Any]) -> dict[str, Any]:
        """Take lists as tuples, and keep a panel within the grid."""
        attrs = super().validate(attrs)
        return attrs | {"names": tuple(attrs["names"]), "w": min(attrs["w"], COLUMNS - attrs["x"])}


class NewPageSerializer(Plain):
    """A page to be made."""

    title = serializers.CharField(max_length=120)
    panels = NewPanelSerializer(many=True, default=list)


class PageChangesSerializer(Plain):
    """What of a page is to be otherwise."""

    title = serializers.CharField(max_length=120, required=False)
    panels = PanelSerializer(many=True, required=False)
    dates = PageDatesSerializer(required=False)
    equal_axes = serializers.BooleanField(required=False)


class ShownPanelsSerializer(Plain):
    """Panels to be shown, kept on a page or not, and over which dates."""

    panels = PanelSerializer(many=True, max_length=MOST_PANELS)  # type: ignore[call-arg]
    dates = PageDatesSerializer(default=dict)
    width = serializers.IntegerField(min_value=100, max_value=4_000, default=600)


class PagesSerializer(Query):
    """Which stretch of the pages."""

    start = StartField()
