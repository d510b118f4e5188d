"""Months as they are written, "2026-11" (money). Pure."""

from datetime import date

__all__ = ["first_day_of", "month_beside", "month_of"]


def month_of(day: date) -> str:
    """Return a day's month.

    >>> month_of(date(2026, 11, 30))
    '2026-11'
    """
    return f"{day:%Y-%m}"


def first_day_of(month: str) -> date:
    """Return a month's first day."""
    year, number = map(int, month.split("-"))
    return date(year, number, 1)


def month_beside(month: str, step: int) -> str:
    """Return the month so many after this one; before it where ``step`` is below 0.

    >>> month_beside("2026-12", 1), month_beside("2026-01", -1)
    ('2027-01', '2025-12')
    """
    first = first_day_of(month)
    at = first.year * 12 + first.month - 1 + step
    return month_of(date(at // 12, at % 12 + 1, 1))
