"""What the API takes of improvements, checked."""

from typing import Any

from rest_framework import serializers

from fluctus.http.requests import DayField, FiniteFloatField, IdField, Plain, Query, choices
from fluctus.improvements.models import Wanted
from fluctus.improvements.services import AimState

MOST_AIMS = 12


class AimSerializer(Plain):
    """What it is to do to one KPI."""

    kpi = serializers.SlugField(max_length=80)
    wanted = serializers.ChoiceField(choices(Wanted))
    amount = FiniteFloatField(
        allow_null=True, default=None, help_text="By how much, in the unit of the KPI."
    )
    by = DayField(allow_null=True, default=None)
    worth = FiniteFloatField(
        allow_null=True, default=None, help_text="What a unit of the KPI in a period is worth."
    )
    worth_unit = serializers.CharField(max_length=10, allow_blank=True, default="")


class ImprovementChangesSerializer(Plain):
    """What changes of an improvement; what is left out stays."""

    name = serializers.CharField(max_length=120, required=False)
    text = serializers.CharField(max_length=2000, allow_blank=True, required=False)
    owner = serializers.CharField(max_length=150, allow_null=True, required=False)
    began = DayField(required=False)
    aims = AimSerializer(many=True, required=False)

    def validate_aims(self, value: list[Any]) -> list[Any]:
        """Refuse more than anybody keeps apart."""
        if len(value) > MOST_AIMS:
            raise serializers.ValidationError(f"At most {MOST_AIMS} KPIs.")
        return value


class NewImprovementSerializer(ImprovementChangesSerializer):
    """An improvement, and what it is made from, if anything."""

    name = serializers.CharField(max_length=120)
    began = DayField()
    aims = AimSerializer(many=True)
    finding = IdField(allow_null=True, default=None)
    event = IdField(allow_null=True, default=None)
    shift = serializers.CharField(max_length=40, allow_blank=True, default="")


class ImprovementsQuerySerializer(Query):
    """Which improvements to list."""

    kpi = serializers.CharField(required=False, max_length=120)


class ExpectedQuerySerializer(Query):
    """An improvement to be, on one KPI."""

    kpi = serializers.CharField(max_length=120)
    began = DayField()
    wanted = serializers.ChoiceField(choices(Wanted))
    amount = FiniteFloatField(required=False)


def aims_in(form: dict[str, Any]) -> list[AimState] | None:
    """Take the aims out of a form; None where it has none."""
    aims = form.pop("aims", None)
    return None if aims is None else [AimState(**aim) for aim in aims]
