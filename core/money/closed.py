"""Closed months: what was written down when a month was closed stands; what is known otherwise since is a line of the
first open month (money; rules 19.3). Pure.
"""

from collections import defaultdict
from collections.abc import Collection, Sequence
from datetime import date
from decimal import Decimal

from core.money.months import month_of
from core.money.record import OrderRecord, RecordLine, RecordLineKind

__all__ = ["CORRECTION", "with_closed"]

#: Where a line comes from that puts right what a closed month has.
CORRECTION = "closed_month"
#: What was agreed when the order was packed: another fee, wage or price from today on changes none of it.
_AS_AGREED: frozenset[RecordLineKind] = frozenset(
    {"goods", "postage_charged", "tax", "channel_fee", "payment_fee", "goods_cost", "labour"}
)


def with_closed(
    record: OrderRecord, kept: Sequence[RecordLine], closed: Collection[str], first_open: date
) -> OrderRecord:
    """Return the record with the lines closed months kept of the order in place of what it says of them now.

    A difference between the two (the parcel of a closed month broke, so that its expected loss is none any more) is a
    line of ``first_open``, so that the record comes to the same; what was agreed when it was packed is not corrected.
    """
    agreed = {line.kind for line in kept if line.kind in _AS_AGREED}
    differs: dict[RecordLineKind, Decimal] = defaultdict(Decimal)
    for line in kept:
        if line.kind not in _AS_AGREED:
            differs[line.kind] -= line.amount
    still: list[RecordLine] = []
    for line in record.lines:
        if line.kind in agreed:
            continue
        if month_of(line.on) not in closed:
            still.append(line)
        elif line.kind in _AS_AGREED:  # a closed month that never had it: it is told in the open one
            still.append(RecordLine(kind=line.kind, amount=line.amount, on=first_open, source=line.source))
        else:
            differs[line.kind] += line.amount
    put_right = [
        RecordLine(kind=kind, amount=amount, on=first_open, source=CORRECTION)
        for kind, amount in differs.items()
        if amount != 0
    ]
    return OrderRecord(key=record.key, lines=(*kept, *still, *put_right))
