"""Minutes as the bench took them: the times of steps, without pauses (bench; rules 20.8).

Nobody is watched: what counts is how long a step of a kind takes hands, and a step somebody left for a telephone call
says nothing of that.
"""

import statistics
from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from decimal import Decimal

__all__ = ["hands_seconds", "usual_seconds", "without_pauses"]

#: A time over so many times the median of its kind is a pause (a judgement).
_PAUSE_FACTOR = 3


def without_pauses(seconds: Sequence[int]) -> tuple[int, ...]:
    """Return the times of one kind of step that are no pauses, in their order.

    >>> without_pauses([20, 25, 22, 400, 66])  # the median is 25: over 75 is a pause
    (20, 25, 22, 66)
    """
    if not seconds:
        return ()
    most = _PAUSE_FACTOR * statistics.median(seconds)
    return tuple(one for one in seconds if one <= most)


def usual_seconds(times: Iterable[tuple[str, int]]) -> dict[str, float]:
    """Return the usual time of each kind of step: the median of those given, each a kind and its seconds."""
    by_kind: dict[str, list[int]] = defaultdict(list)
    for kind, seconds in times:
        by_kind[kind].append(seconds)
    return {kind: statistics.median(seconds) for kind, seconds in by_kind.items()}


def hands_seconds(times: Iterable[tuple[str, int]], usual: Mapping[str, float]) -> Decimal:
    """Return the seconds of hands in the steps of a parcel, each its kind and its time: a pause counts as the usual
    time of its kind. ``usual``: as ``usual_seconds`` gives it; a kind nobody timed else has no pauses.
    """
    total = Decimal(0)
    for kind, seconds in times:
        middle = usual.get(kind, seconds)
        total += Decimal(str(middle if seconds > _PAUSE_FACTOR * middle else seconds))
    return total
