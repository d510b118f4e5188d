"""Templates: changes that are tried, where they tip. See ``server.words.render`` for what may stand in braces."""

__all__ = ["MONEY"]

MONEY: dict[str, str] = {
    "if_wage": "the wage is {wage_money} an hour",
    "if_without": "{container} is gone",
    "if_new_carton": "a carton of {inner_size_um} inside is there",
    "if_new_carton_for": "a carton of {inner_size_um} inside is there for {cost_money}",
    "if_price_list": "{carrier}'s price list {version} applies",
    "if_version": "{recipe} is packed by version {version}",
    "if_instead": "{new} takes the place of {old}",
    "if_damage": "{damaged_percent} % of {recipe} arrive damaged",
    "if_minutes": "{recipe} takes {taken_percent} % of its minutes",
    "if_supply_price": "{supply} costs {cost_money}",
    "if_send_days": "parcels leave on {days:and}",
    "if_services": "no service is used but {services:and}",
    "if_every_service": "every service is used",
    "if_policy": "buyers pay by {policy}",
    "if_flat_fee": "every buyer pays {fee_money}",
    "tip_wage_even": "Even at a wage of {at_money}",
    "tip_wage_even_why": "Below it one side costs less, above it the other. The wage is {now_money} now.",
    "tip_packed_otherwise": "From {at_money} on orders are packed otherwise",
    "tip_packed_otherwise_why": "It is {now_money} now; up to there only the sum changes.",
    "tip_minutes_otherwise": "From {at_percent} % on orders are packed otherwise",
    "tip_minutes_otherwise_why": "It is {now_percent} % now; up to there only the sum changes.",
    "tip_flat_fee": "{at_money} from everybody covers the postage",
    "tip_flat_fee_why": "Buyers pay {now_money} on average now.",
    "tip_orders_a_month": "It pays from {at} {at:order|orders} a month",
    "tip_orders_a_month_why": (
        "Each saves {saves_money}; keeping one more kind costs {keeping_money} a month. There are {now_number} a month."
    ),
}
