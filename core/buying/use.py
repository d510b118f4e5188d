"""Expected use of a supply a working day: by open orders, and by what the last weeks used (buying; rules 14.1)."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from decimal import Decimal

__all__ = ["ALL_ALIKE", "WEEKS_BACK", "Season", "UseRate", "WeekUse", "season_of", "use_rate", "weeks_before"]

#: Weeks of the ledger that are looked at.
WEEKS_BACK = 8
#: By how much each month, January first, uses more or less than the year.
Season = tuple[Decimal, ...]
ALL_ALIKE: Season = (Decimal(1),) * 12


@dataclass(frozen=True, slots=True, kw_only=True)
class WeekUse:
    """What one week used, in stock units."""

    first_day: date
    used: Decimal
    worked: bool = True  #: it had a working day


@dataclass(frozen=True, slots=True, kw_only=True)
class UseRate:
    """Use per working day in a month of factor 1, in stock units."""

    mean: Decimal
    sd: Decimal  #: nought with less than two weeks
    weeks: int  #: that were looked at


def season_of(season: Season, day: date) -> Decimal:
    """Return a day's season factor."""
    return season[day.month - 1]


def weeks_before(today: date) -> tuple[date, ...]:
    """Return the first days of the weeks of seven days before today, the oldest first."""
    return tuple(today - timedelta(days=7 * back) for back in range(WEEKS_BACK, 0, -1))


def use_rate(weeks: Sequence[WeekUse], *, season: Season, days_a_week: int) -> UseRate:
    """Return the mean and the deviation of use per working day; each week is divided by its own month's factor.

    The month of a week is that of its middle day. Weeks without a working day are left out.
    """
    counted = [week.used / season_of(season, week.first_day + timedelta(days=3)) for week in weeks if week.worked]
    if not counted:
        return UseRate(mean=Decimal(0), sd=Decimal(0), weeks=0)
    mean = sum(counted, Decimal(0)) / len(counted)
    spread = Decimal(0)
    if len(counted) > 1:
        squares = sum(((one - mean) ** 2 for one in counted), Decimal(0))
        spread = (squares / (len(counted) - 1)).sqrt()
    return UseRate(mean=mean / days_a_week, sd=spread / Decimal(days_a_week).sqrt(), weeks=len(counted))
