"""The stand-in carrier misbehaving in every way: nothing paid twice, no label lost, the packer told what to do."""

from decimal import Decimal
from typing import Any
from uuid import uuid4

from server.carriers.models import Label
from server.standins.models import CarrierSale
from tests.server.base import DemoCase

D = Decimal


class CarrierCase(DemoCase):
    def standin(self, device: str, mode: str) -> None:
        self.ask("put", f"standins/{device}", {"mode": mode})

    def buy(self, parcel: Any, status: int = 200, **more: object) -> Any:
        return self.ask("post", f"parcels/{parcel['id']}/label", {"service": "LARK-TWO", **more}, status=status)

    def void(self, parcel: Any, status: int = 200) -> Any:
        return self.ask("post", f"parcels/{parcel['id']}/label/void", status=status)

    def track(self, parcel: Any, status: int = 200) -> Any:
        return self.ask("post", f"parcels/{parcel['id']}/track", status=status)


class AnotherPrice(CarrierCase):
    def test_a_carrier_that_asks_more_sells_only_when_a_person_agrees_to_that_price(self) -> None:
        parcel = self.weighed("1160")
        self.standin("carrier", "asks_more")
        told = self.buy(parcel, status=409)
        self.assertEqual((told["code"], CarrierSale.objects.of(self.workshop).count()), ("price_changed", 0))
        listed, asked = D(told["facts"]["listed"]), D(told["facts"]["asked"])
        self.assertEqual(asked, listed + (listed * D("0.05")).quantize(D("0.01")))
        self.buy(parcel, status=409, agreed=str(listed))
        label = self.buy(parcel, agreed=str(asked))["label"]
        self.assertEqual((D(label["price"]), CarrierSale.objects.of(self.workshop).get().price), (asked, asked))

    def test_a_label_that_may_have_been_sold_is_not_priced_anew(self) -> None:
        parcel = self.weighed("1160")
        self.standin("carrier", "drop_out_after")
        self.buy(parcel, status=503)
        self.standin("carrier", "asks_more")
        label = self.buy(parcel)["label"]
        self.assertEqual(label["tracking"], CarrierSale.objects.of(self.workshop).get().tracking)


class RefusedAfterNoAnswer(CarrierCase):
    """A refusal now says nothing of an asking before that was not answered."""

    def test_a_label_that_may_have_been_sold_is_not_given_up(self) -> None:
        parcel = self.weighed("1160")
        self.standin("carrier", "drop_out_after")
        self.buy(parcel, status=503)
        self.standin("carrier", "refuse_all")
        self.assertIn("may have sold this label", self.buy(parcel, status=409)["detail"])
        self.assertEqual(self.ask("get", f"parcels/{parcel['id']}")["label"]["state"], "asked")
        self.standin("carrier", "well")
        self.assertEqual(self.buy(parcel)["label"]["tracking"], CarrierSale.objects.of(self.workshop).get().tracking)

    def test_a_label_that_may_have_been_taken_back_is_not_used(self) -> None:
        parcel = self.labelled("1160")
        self.standin("carrier", "drop_out_after")
        self.void(parcel, status=503)
        self.standin("carrier", "refuse_all")
        self.assertIn("do not use it", self.void(parcel, status=409)["detail"])
        self.assertEqual(self.ask("get", f"parcels/{parcel['id']}")["label"]["state"], "voiding")
        self.standin("carrier", "well")
        self.assertIsNone(self.void(parcel)["label"])


class GivenBack(CarrierCase):
    def test_a_label_is_given_back_once_and_another_is_bought_anew(self) -> None:
        parcel = self.labelled("1160")
        self.assertIsNone(self.void(parcel)["label"])
        self.assertEqual(self.void(parcel, status=409)["code"], "no_label")
        again = self.buy(parcel)["label"]
        sales = list(CarrierSale.objects.of(self.workshop).order_by("id"))
        self.assertEqual([sale.void_on is not None for sale in sales], [True, False])
        self.assertEqual(again["tracking"], sales[1].tracking)

    def test_a_line_that_drops_after_the_work_gives_it_back_once(self) -> None:
        parcel = self.labelled("1160")
        self.standin("carrier", "drop_out_after")
        told = self.void(parcel, status=503)
        self.assertIn("press again", told["detail"])
        self.assertEqual(self.ask("get", f"parcels/{parcel['id']}")["label"]["state"], "voiding")
        close = f"parcels/{parcel['id']}/close"
        self.assertEqual(self.ask("post", close, {"request_key": str(uuid4())}, status=409)["code"], "no_label")
        self.assertEqual(self.buy(parcel, status=409)["code"], "label_in_flight")
        self.standin("carrier", "well")
        self.assertIsNone(self.void(parcel)["label"])
        self.assertEqual(Label.objects.of(self.workshop).get().state, Label.State.VOID)

    def test_after_two_days_the_carrier_keeps_it_and_says_so(self) -> None:
        parcel = self.labelled("1160")
        self.standin("calendar", "plus_3")
        told = self.void(parcel, status=409)
        self.assertIn("within 2 days only", told["detail"])
        self.assertEqual(self.ask("get", f"parcels/{parcel['id']}")["label"]["state"], "bought")

    def test_a_closed_parcel_is_reopened_first(self) -> None:
        parcel = self.closed("1160")
        self.assertEqual(self.void(parcel, status=409)["code"], "already_closed")

    def test_the_order_can_be_held_again_and_what_was_given_back_is_kept(self) -> None:
        parcel = self.labelled("1160")
        hold = f"parcels/{parcel['id']}/hold"
        self.assertEqual(self.ask("post", hold, {"words": "wait"}, status=409)["code"], "label_bought")
        self.void(parcel)
        self.assertEqual(self.ask("post", hold, {"words": "wait"})["state"], "held")
        kept = Label.objects.of(self.workshop).get()
        self.assertEqual((kept.state, kept.parcel_id), (Label.State.VOID, parcel["id"]))


class OnTheWay(CarrierCase):
    def test_events_come_day_by_day(self) -> None:
        parcel = self.closed("1160")
        self.assertEqual([event["words"] for event in self.track(parcel)["label"]["events"]], ["label made"])
        self.standin("calendar", "plus_1")
        self.assertEqual(self.track(parcel)["label"]["events"][-1]["words"], "collected")
        self.standin("calendar", "plus_10")
        self.assertEqual(self.track(parcel)["label"]["events"][-1]["words"], "delivered")

    def test_a_carrier_that_measures_again_charges_more_once_and_it_is_told(self) -> None:
        parcel = self.closed("1160")
        self.standin("calendar", "plus_1")
        self.standin("carrier", "measures_again")
        first, second = self.track(parcel)["label"], self.track(parcel)["label"]
        price = D(first["price"])
        self.assertEqual(D(first["charged_more"]), (price * D("0.12")).quantize(D("0.01")) + D("1.50"))
        self.assertEqual((first["charged_more"], first["events"]), (second["charged_more"], second["events"]))
        self.assertGreater(first["measured_mg"], parcel["measured_mg"])

    def test_a_carrier_that_is_down_loses_nothing_it_told_before(self) -> None:
        parcel = self.closed("1160")
        self.track(parcel)
        self.standin("carrier", "down")
        self.assertIn("is kept", self.track(parcel, status=503)["detail"])
        self.assertTrue(self.ask("get", f"parcels/{parcel['id']}")["label"]["events"])

    def test_without_a_label_there_is_nothing_to_ask(self) -> None:
        self.assertEqual(self.track(self.to_bench("1160"), status=409)["code"], "no_label")
