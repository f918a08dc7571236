"""The days that can be told.

A day more, or a time zone further, and there is no date to say it with.
"""

from datetime import date

FIRST_DAY, LAST_DAY = date(1, 1, 1), date(9998, 12, 31)
