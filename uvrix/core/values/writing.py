"""Dates and amounts as a shop writes them: set once by its lead, for screens, letters and reports.

What was measured keeps the decimal point that meters, files and reports show; a comma that is typed is understood.
"""

from __future__ import annotations

from datetime import date
from typing import Literal, get_args

DateStyle = Literal["day-month", "month-day", "iso"]
DecimalSign = Literal["point", "comma"]
DATE_STYLES: tuple[DateStyle, ...] = get_args(DateStyle)
DECIMAL_SIGNS: tuple[DecimalSign, ...] = get_args(DecimalSign)


def written_day(day: date, style: DateStyle) -> str:
    """A day: 4 Sep 2031, Sep 4, 2031 or 2031-09-04."""
    if style == "iso":
        return f"{day:%Y-%m-%d}"
    return f"{day.day} {day:%b %Y}" if style == "day-month" else f"{day:%b} {day.day}, {day:%Y}"


def written_amount(amount: float, sign: DecimalSign) -> str:
    """An amount of money, its hundredths where it has any: 1,234.50 or 1.234,50; 120 of a whole one."""
    text = f"{amount:,.2f}".removesuffix(".00")
    return text if sign == "point" else text.translate(str.maketrans(",.", ".,"))
