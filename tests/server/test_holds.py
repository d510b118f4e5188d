"""Orders that are set aside: each with its kind, what was answered and when to look again."""

from typing import Any

from core.intake.values import read_risk
from server.api.problems import Refused
from server.commands.intake import import_kind
from server.day.holds import kind_of
from server.orders.models import Order
from server.workshops.models import Workshop
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


class Risks(DemoCase):
    FILE = (
        "order,channel,placed_on,buyer,address,town,postcode,country,sku,title,quantity,unit_price,risk\n"
        "R-1,Till,2026-01-05,Ada Lorn,1 Weir Steps,Hallowfen,HW3 2,ALM,PRE-BLK,Jar,1,6.00,low\n"
        "R-2,Till,2026-01-05,Bo Lorn,2 Weir Steps,Hallowfen,HW3 2,ALM,PRE-BLK,Jar,1,6.00,medium\n"
        "R-3,Till,2026-01-05,Cy Lorn,3 Weir Steps,Hallowfen,HW3 2,ALM,PRE-BLK,Jar,1,6.00,high\n"
        "R-4,Till,2026-01-05,Di Lorn,4 Weir Steps,Hallowfen,HW3 2,ALM,PRE-BLK,Jar,1,6.00,\n"
    )

    def states(self) -> list[tuple[str, str, str]]:
        rows = Order.objects.of(self.workshop).filter(channel="Till").order_by("number")
        return [(row.state, row.hold_code, row.risk) for row in rows]

    def test_a_payment_at_risk_is_held_until_somebody_looked(self) -> None:
        import_kind(self.workshop, "orders", self.FILE.encode(), by="test")
        self.assertEqual(
            self.states(),
            [("planned", "", "low"), ("held", "risk", "medium"), ("held", "risk", "high"), ("planned", "", "")],
        )
        kinds = {one["number"]: one["kind"] for one in self.ask("get", "holds")["results"]}
        self.assertEqual(kinds["R-3"], "risk")
        self.ask("post", f"orders/{self.order('R-3').pk}/release")
        self.assertEqual(self.order("R-3").state, "planned")

    def test_the_workshop_says_what_is_done_at_each_level(self) -> None:
        self.assertEqual(self.ask("get", "holds/risks"), {"low": "pack", "medium": "hold", "high": "hold"})
        self.ask("put", "holds/risks", {"low": "hold", "medium": "pack", "high": "refuse"})
        import_kind(Workshop.objects.get(pk=self.workshop.pk), "orders", self.FILE.encode(), by="test")
        self.assertEqual([(state, code) for state, code, _ in self.states()],
                         [("held", "risk"), ("planned", ""), ("held", "refused"), ("planned", "")])  # fmt: skip
        self.ask("put", "holds/risks", {"low": "hold", "medium": "pack"}, status=422)

    def test_a_word_that_is_no_level_is_named(self) -> None:
        with self.assertRaisesMessage(Refused, "risk: purple; allowed: low, medium or high"):
            import_kind(self.workshop, "orders", self.FILE.replace("high", "purple").encode(), by="test")
        self.assertEqual(self.states(), [])

    def test_an_unknown_file_has_its_own_words_for_it(self) -> None:
        self.assertEqual(
            [read_risk(one) for one in ("HIGH", "Elevated", "niedrig", "High risk", "none", "?")],
            ["high", "medium", "low", "high", "low", None],
        )
