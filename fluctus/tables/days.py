"""The days that can be told: those that every screen can compute with, in every time zone."""

from datetime import date

FIRST_DAY, LAST_DAY = date(1800, 1, 1), date(2200, 12, 31)
SPAN = f"the years {FIRST_DAY.year} to {LAST_DAY.year}"
"""How people are told of them."""
