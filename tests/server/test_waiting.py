"""Orders that wait for a supply: what is on its way is named, and they are free when it is received (rules 13.6)."""

from datetime import timedelta

from server.orders.models import Order
from server.plans.waves import run_wave
from server.workshops.clock import today
from tests.server.test_buying import BuyingCase


class Waiting(BuyingCase):
    def test_a_hold_names_what_arrives_and_releases_itself_when_it_is_received(self) -> None:
        order = self.order("1175")
        self.ask("get", f"orders/{order.pk}/plan")
        order.refresh_from_db()
        self.assertEqual(order.state, Order.State.HELD)
        made = self.bought(self.supplier(), ("C-24", "5", "1.85"))
        hold = next(one for one in self.ask("get", "holds?page_size=200")["results"] if one["number"] == "1175")
        self.assertEqual((hold["kind"], [one["code"] for one in hold["arriving"]]), ("stock", ["C-24"]))
        self.assertEqual(hold["arriving"][0]["day"], str(today(self.workshop) + timedelta(days=5)))
        waiting = self.ask("get", "buying/waiting")["orders"]
        self.assertIn("1175", waiting[str(self.supply("C-24").pk)])
        body = {
            "lines": [{"line_id": made["lines"][0]["id"], "quantity": "5"}],
            "request_key": self.key(),
        }
        self.ask("post", f"purchases/{made['id']}/receive", body)
        run_wave(workshop=self.workshop)
        order.refresh_from_db()
        self.assertEqual(order.state, Order.State.PLANNED)
