"""What comes in: who asks, and input checked against its description."""

import math
from collections.abc import Mapping
from datetime import date
from typing import Any

from django.contrib.auth.models import User
from django.utils.functional import Promise
from rest_framework import serializers
from rest_framework.request import Request

from fluctus.tables.days import FIRST_DAY, LAST_DAY, SPAN
from fluctus.tables.meaning.numbers import LARGEST, SMALLEST

LARGEST_ID = 2**63 - 1

LIST_PAGE = 100
"""Rows of a long list in one answer."""
LONGEST_LIST = 10_000_000


class Plain(serializers.Serializer[Any]):
    """Input as plain data: it is checked here and saved elsewhere."""


def person_of(request: Request) -> User:
    """Return who asks; the permission classes have seen that it is somebody."""
    assert isinstance(request.user, User), "views with this are for people who are signed in"
    return request.user


def checked(form: type[Plain], data: Any) -> dict[str, Any]:
    """Check input against its form; what is wrong goes to the problem handler."""
    filled = form(data=data)
    filled.is_valid(raise_exception=True)
    return dict(filled.validated_data)


def choices(values: type[Any]) -> list[tuple[str, str | Promise]]:
    """Return the choices of an enum of texts."""
    return [(str(value.value), str(value.name)) for value in values]


class FiniteFloatField(serializers.FloatField):
    """A number; infinity and NaN, which Python would read, are not numbers here."""

    def __init__(self, **options: Any) -> None:
        """Hold it to the bounds that values have, which the description says as well."""
        super().__init__(min_value=-LARGEST, max_value=LARGEST, **options)

    def to_internal_value(self, data: Any) -> float:
        """Read a number."""
        if isinstance(data, bool):
            raise serializers.ValidationError("A number is needed, not true or false.")
        value = super().to_internal_value(data)
        if math.isnan(value) or math.isinf(value):
            raise serializers.ValidationError("A number is needed.")
        if 0 < abs(value) < SMALLEST:
            raise serializers.ValidationError(f"A number of at least {SMALLEST:g} is needed, or 0.")
        return value


class DayField(serializers.DateField):
    """A day that can be told."""

    def to_internal_value(self, data: Any) -> date:
        """Read a day."""
        day = super().to_internal_value(data)
        if not FIRST_DAY <= day <= LAST_DAY:
            raise serializers.ValidationError(f"A day of {SPAN} is needed.")
        return day


class IdField(serializers.IntegerField):
    """The number that something is known by."""

    def __init__(self, **options: Any) -> None:
        """Take what a row can have."""
        super().__init__(min_value=0, max_value=LARGEST_ID, **options)


class StartField(serializers.IntegerField):
    """Which row of a long list an answer begins with."""

    def __init__(self) -> None:
        """Begin with the first row where nothing else is asked."""
        super().__init__(min_value=0, max_value=LONGEST_LIST, default=0)


class Query(Plain):
    """Input in the address, where a list is one name given several times."""

    lists: tuple[str, ...] = ()

    @classmethod
    def of(cls, request: Request) -> dict[str, Any]:
        """Check the query of a request."""
        query: Mapping[str, Any] = request.query_params.dict()
        parameters = {
            name: request.query_params.getlist(name)
            for name in cls.lists
            if name in request.query_params
        }
        return checked(cls, {**query, **parameters})
