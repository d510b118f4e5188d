"""The sample workshop's money: what its channels and payments take, tax, ways to charge postage, closed months."""

from datetime import date
from decimal import Decimal

from core.money.months import month_beside, month_of
from server.formats.charges_request import PolicyDoc
from server.money.models import ClosedMonth
from server.money.months import month_due
from server.money.policies import make_ours, save_policy
from server.money.services import add_fee, close_month, save_settings
from server.workshops.clock import today
from server.workshops.models import Member

__all__ = ["load_money"]

_FEES = (
    ("channel", "own shop", "6", "0.20", True),
    ("channel", "market stall", "4", "0", False),
    ("payment", "", "2.5", "0", True),
    ("tax", "", "5", "0", True),
)
_POLICIES = (
    ("5.50 flat", {"code": "flat", "base": {"kind": "flat", "amount": "5.50"}}),
    (
        "By weight",
        {
            "code": "by-weight",
            "base": {
                "kind": "by_weight",
                "steps": [
                    {"up_to_mg": 1_000_000, "amount": "4.95"},
                    {"up_to_mg": 3_000_000, "amount": "5.95"},
                    {"up_to_mg": 30_000_000, "amount": "8.95"},
                ],
            },
            "zones": {"I": {"kind": "by_carrier", "fixed": "0.50"}},
        },
    ),
    (
        "5.90, free from 45",
        {"code": "free-from", "base": {"kind": "flat", "amount": "5.90"}, "free_from": "45"},
    ),
    ("Carrier's price and 5 %", {"code": "carrier", "base": {"kind": "by_carrier", "percent": "5"}}),
)


def load_money(owner: Member) -> str:
    """Load it: fees from the year before last on, four policies with one of them ours, every month closed but two."""
    day = today(owner.workshop)
    begun = date(day.year - 2, 1, 1)
    for kind, channel, percent, fixed, of_postage in _FEES:
        add_fee(
            by=owner,
            values={
                "kind": kind, "channel": channel, "percent": Decimal(percent), "fixed": Decimal(fixed),
                "of_postage": of_postage, "from_day": begun,
            },
        )  # fmt: skip
    save_settings(by=owner, values={"endings": ["0.50", "0.95"], "most_lost": Decimal("1.50")})
    for name, document in _POLICIES:
        row = save_policy(by=owner, name=name, document=PolicyDoc.model_validate(document))
        if name == _POLICIES[0][0]:
            make_ours(by=owner, policy_id=row.pk, from_day=day)
    last = month_beside(month_of(day), -2)
    while (month := month_due(owner.workshop)) <= last:
        close_month(by=owner, month=month)
    closed = ClosedMonth.objects.of(owner.workshop).count()
    return f"fees, {len(_POLICIES)} ways to charge postage, {closed} closed months"
