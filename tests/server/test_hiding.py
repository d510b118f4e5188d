"""What a packer is not shown: every figure of cost in an answer, and nothing besides (server/api/hiding)."""

import unittest
from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from server.api.hiding import HIDDEN, without_costs

_KEYS = st.sampled_from(["name", "cost", "total", "unit", "value", "grams", "price", "rows", "label", "rule", "amount"])
_LEAVES = st.none() | st.booleans() | st.integers() | st.sampled_from(["", "12.50", "-3", "C-14", "money", "length"])
_JSON = st.recursive(
    _LEAVES, lambda one: st.lists(one, max_size=4) | st.dictionaries(_KEYS, one, max_size=4), max_leaves=20
)


def shape(value: Any) -> Any:
    if isinstance(value, dict):
        return {key: shape(one) for key, one in value.items()}
    if isinstance(value, list):
        return [shape(one) for one in value]
    return None


class WithoutCosts(unittest.TestCase):
    def test_figures_of_cost_are_hidden_wherever_they_stand(self) -> None:
        self.assertEqual(
            without_costs({"ways": [{"costs": {"total": "7.25", "materials": 3}, "gross_mg": 1200}]}),
            {"ways": [{"costs": {"total": HIDDEN, "materials": HIDDEN}, "gross_mg": 1200}]},
        )

    def test_below_nothing_is_still_a_figure(self) -> None:
        self.assertEqual(without_costs({"saves": "-0.40"}), {"saves": HIDDEN})

    def test_what_is_no_figure_stays(self) -> None:
        same = {"cost": None, "total": True, "price": "as agreed", "saved": "2026-07-01", "each": ""}
        self.assertEqual(without_costs(same), same)

    def test_what_the_buyer_paid_is_no_cost(self) -> None:
        same = {"postage_charged": "4.95", "unit_price": "12.00", "goods_value": "48.00"}
        self.assertEqual(without_costs(same), same)

    def test_a_value_is_hidden_beside_a_unit_of_money_only(self) -> None:
        self.assertEqual(
            without_costs([{"unit": "money", "value": "15"}, {"unit": "length", "value": "15"}]),
            [{"unit": "money", "value": HIDDEN}, {"unit": "length", "value": "15"}],
        )

    def test_lines_of_a_quote_are_hidden(self) -> None:
        line = {"label": "fuel", "rule": "7.4", "amount": "0.31"}
        self.assertEqual(without_costs(line), {**line, "amount": HIDDEN})

    @given(_JSON)
    def test_the_shape_of_an_answer_stays(self, value: Any) -> None:
        self.assertEqual(shape(without_costs(value)), shape(value))

    @given(_JSON)
    def test_hiding_twice_hides_no_more(self, value: Any) -> None:
        once = without_costs(value)
        self.assertEqual(without_costs(once), once)
