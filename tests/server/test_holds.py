"""Orders that are set aside: each with its kind, what was answered and when to look again."""

from typing import Any

from server.day.holds import kind_of
from server.orders.models import Order
from tests.server.base import DemoCase


class Holds(DemoCase):
    def rows(self) -> dict[str, Any]:
        return {one["number"]: one for one in self.ask("get", "holds")["results"]}

    def test_each_is_told_with_its_kind(self) -> None:
        kinds = {number: row["kind"] for number, row in self.rows().items()}
        # Of the sample: no carton, unpaid, a question, no recipe.
        self.assertEqual(
            {number: kinds[number] for number in ("1175", "1176", "1177", "1178")},
            {"1175": "stock", "1176": "unpaid", "1177": "question", "1178": "recipe"},
        )
        self.assertTrue(all(row["reason"] for row in self.rows().values()))
        self.assertIn("?", self.rows()["1177"]["note"])

    def test_held_by_hand_and_for_a_later_day(self) -> None:
        order = self.order("1165")
        self.ask("post", f"orders/{order.pk}/hold", {"reason": "the glaze is still wet"})
        self.assertEqual(self.rows()["1165"]["kind"], "by_hand")
        Order.objects.of(self.workshop).filter(pk=order.pk).update(hold_code="", hold_text="")
        self.assertEqual(kind_of(Order.objects.of(self.workshop).select_related("plan").get(pk=order.pk)), "until")

    def test_an_answer_stays_with_the_order_when_it_is_released(self) -> None:
        order = self.order("1177")
        answer = {"answer": "Yes, on Saturday", "look_again": "2030-01-05"}
        self.assertEqual(self.ask("put", f"holds/{order.pk}", answer)["by"], "Maren")
        self.assertEqual(self.rows()["1177"]["answer"], "Yes, on Saturday")
        self.ask("post", f"orders/{order.pk}/release")
        self.assertNotIn("1177", self.rows())
        self.assertEqual(self.order("1177").hold_note.answer, "Yes, on Saturday")

    def test_what_is_to_be_looked_at_later_stands_last(self) -> None:
        first = next(iter(self.rows()))
        self.ask("put", f"holds/{self.order(first).pk}", {"look_again": "2030-01-05"})
        self.assertEqual(list(self.rows())[-1], first)

    def test_bad_input_is_named_and_another_workshops_order_is_not_there(self) -> None:
        order = self.order("1177")
        self.ask("put", f"holds/{order.pk}", {"answer": "x" * 501}, status=422)
        self.ask("put", f"holds/{order.pk}", {"look_again": "soon"}, status=422)
        self.ask("put", "holds/999999", {"answer": "x"}, status=404)
