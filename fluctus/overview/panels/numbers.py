"""How numbers of an answer are written, for what is set in words."""

from dataclasses import fields

from fluctus.core.words import NumberStyle
from fluctus.kpis.chart.kpi_shapes import Numbers


def style_of_answer(numbers: Numbers) -> NumberStyle:
    """Return the style that an answer's numbers are written in."""
    return NumberStyle(**{field.name: getattr(numbers, field.name) for field in fields(numbers)})
