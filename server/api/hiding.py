"""What a packer is not shown where the owner keeps costs to the owners: figures of money in answers."""

from typing import Any

__all__ = ["HIDDEN", "without_costs"]

#: Stands where a figure would be; screens show a dash for it.
HIDDEN = "hidden"
#: Names of what something costs, saves or is charged by a carrier. What the buyer paid is no cost.
_COSTS = frozenset(
    {
        "all_in", "alone", "asked", "asleep_cost", "at_cost", "average_after", "average_cost", "charge_agreed",
        "charged_more", "cheaper_by", "cost", "delivery_cost", "each", "each_all_in", "each_parcel_cost",
        "expected_loss", "extra", "farthest_postage", "goods_cost", "keeping_cost", "labour", "listed", "loss",
        "materials", "more", "net", "once", "postage", "postage_farthest", "postage_nearest", "price", "risk",
        "saved", "saves", "total", "unit_cost", "wage_per_hour", "yearly_cost",
    }
)  # fmt: skip
#: Beside a unit of money these hold a figure; and so do the amounts of a quote's lines.
_FIGURES = frozenset({"value", "amount", "default", "before", "after"})


def without_costs(value: Any) -> Any:
    """Return a JSON value with every figure of cost hidden; everything else is as it was."""
    if isinstance(value, list):
        return [without_costs(one) for one in value]
    if not isinstance(value, dict):
        return value
    money = "money" in (value.get("unit"), value.get("kind")) or {"label", "rule"} <= value.keys()
    return {
        key: HIDDEN if _is_figure(one) and (key in _COSTS or (money and key in _FIGURES)) else without_costs(one)
        for key, one in value.items()
    }


def _is_figure(value: Any) -> bool:
    if isinstance(value, bool):
        return False
    if isinstance(value, int | float):
        return True
    return isinstance(value, str) and value.replace(".", "", 1).removeprefix("-").isdigit()
