"""Labels of which two people hear different things: the carrier's own book decides, whatever was heard first."""

from collections.abc import Callable
from datetime import timedelta
from typing import Any
from unittest import mock
from uuid import UUID, uuid4

from django.utils import timezone

from server.bench import labels
from server.carriers.models import Label
from server.standins.carrier import CarrierRefused, NoAnswer, Sale, SimulatedCarrier, Standing
from server.standins.models import CarrierSale
from tests.server.test_carrier import CarrierCase


class Scripted(SimulatedCarrier):
    """The stand-in, with something done in the midst of a call: so two calls cross each other in a known order."""

    def __init__(self) -> None:
        self.at_buy: list[Callable[[], None]] = []
        self.at_void: list[Callable[[], None]] = []

    def buy(self, *args: Any, **given: Any) -> tuple[Sale, ...]:
        step = self.at_buy.pop(0) if self.at_buy else None
        if step is not None:
            step()
        return super().buy(*args, **given)

    def void(self, *args: Any, **given: Any) -> None:
        step = self.at_void.pop(0) if self.at_void else None
        if step is not None:
            step()
        super().void(*args, **given)


def refuse() -> None:
    raise CarrierRefused("We are full.")


class Doubt(CarrierCase):
    def setUp(self) -> None:
        super().setUp()
        self.carrier = Scripted()
        patched = mock.patch.object(labels, "CARRIER", self.carrier)
        patched.start()
        self.addCleanup(patched.stop)

    def label(self) -> Label:
        return Label.objects.of(self.workshop).latest("id")

    def sale(self) -> CarrierSale:
        return CarrierSale.objects.of(self.workshop).latest("id")

    def charged_for(self) -> list[UUID]:
        return list(CarrierSale.objects.of(self.workshop).filter(void_on=None).values_list("key", flat=True))

    def held(self) -> list[UUID]:
        states = (Label.State.BOUGHT, Label.State.SURPLUS)
        return list(Label.objects.of(self.workshop).filter(state__in=states).values_list("key", flat=True))

    def age(self, minutes: int = 10) -> None:
        Label.objects.of(self.workshop).update(asked_at=timezone.now() - timedelta(minutes=minutes))


class BoughtTwice(Doubt):
    def test_the_other_sells_and_is_heard_before_the_refusal(self) -> None:
        parcel = self.weighed("1160")

        def the_other_first() -> None:
            self.buy(parcel)  # asks under the same key, is sold the label, and writes it down
            refuse()

        self.carrier.at_buy = [the_other_first]
        answer = self.buy(parcel)
        self.assertEqual((answer["label"]["state"], self.charged_for()), ("bought", self.held()))
        self.assertEqual(len(self.charged_for()), 1)

    def test_the_refusal_is_heard_first_and_the_other_sells_after_it(self) -> None:
        parcel = self.weighed("1160")

        def refused_meanwhile() -> None:
            self.carrier.at_buy.insert(0, refuse)
            self.buy(parcel, status=409)
            self.assertEqual(self.label().state, Label.State.REFUSED)

        self.carrier.at_buy = [refused_meanwhile]
        answer = self.buy(parcel)
        self.assertEqual(answer["label"]["state"], "bought")
        self.assertEqual((self.held(), len(self.charged_for())), (self.charged_for(), 1))

    def test_sold_after_another_was_bought_it_is_surplus_and_given_back(self) -> None:
        parcel = self.weighed("1160")

        def refused_and_another_bought() -> None:
            self.carrier.at_buy.insert(0, refuse)
            self.buy(parcel, status=409)
            self.buy(parcel)

        self.carrier.at_buy = [refused_and_another_bought]
        answer = self.buy(parcel)
        self.assertEqual(len(self.charged_for()), 2)
        self.assertEqual((answer["label"]["state"], len(answer["surplus_labels"])), ("bought", 1))
        self.assertEqual(labels.reconcile(self.workshop), 1)
        self.assertEqual(self.charged_for(), self.held())
        after = self.ask("get", f"parcels/{parcel['id']}")
        self.assertEqual((after["label"]["tracking"], after["surplus_labels"]), (answer["label"]["tracking"], []))

    def test_a_refusal_after_a_sale_that_was_not_heard_is_not_believed(self) -> None:
        parcel = self.weighed("1160")
        self.standin("carrier", "drop_out_after")
        self.buy(parcel, status=503)
        self.standin("carrier", "refuse")
        self.assertEqual(self.buy(parcel)["label"]["tracking"], self.sale().tracking)

    def test_a_final_refusal_after_an_asking_that_sold_nothing_frees_the_parcel(self) -> None:
        parcel = self.weighed("1160")
        self.standin("carrier", "down")
        with mock.patch.object(labels, "_asked_price", return_value=None):
            self.buy(parcel, status=503)
        self.assertEqual(self.label().state, Label.State.ASKED)
        self.standin("carrier", "refuse")
        self.assertIn("Nothing was paid", self.buy(parcel, status=409)["detail"])
        self.assertEqual(self.label().state, Label.State.REFUSED)
        self.standin("carrier", "well")
        self.assertEqual(self.buy(parcel)["label"]["state"], "bought")


class CancelledTwice(Doubt):
    def test_the_other_cancels_and_is_heard_before_the_refusal(self) -> None:
        parcel = self.labelled("1160")

        def the_other_first() -> None:
            self.void(parcel)
            refuse()

        self.carrier.at_void = [the_other_first]
        self.assertIsNone(self.void(parcel)["label"])
        self.assertEqual((self.label().state, self.charged_for()), (Label.State.VOID, []))

    def test_the_refusal_is_heard_first_and_the_other_cancels_after_it(self) -> None:
        parcel = self.labelled("1160")

        def refused_meanwhile() -> None:
            self.carrier.at_void.insert(0, refuse)
            self.void(parcel, status=409)
            self.assertEqual(self.label().state, Label.State.BOUGHT)

        self.carrier.at_void = [refused_meanwhile]
        self.assertIsNone(self.void(parcel)["label"])
        self.assertEqual((self.label().state, self.charged_for()), (Label.State.VOID, []))


class Reconciled(Doubt):
    def test_what_nobody_heard_is_asked_for_by_the_worker(self) -> None:
        parcel = self.weighed("1160")
        self.standin("carrier", "drop_out_after")
        self.buy(parcel, status=503)
        self.standin("carrier", "well")
        self.assertEqual(labels.reconcile(self.workshop), 0, "somebody may still be waiting for the answer")
        self.age()
        self.assertEqual(labels.reconcile(self.workshop), 1)
        self.assertEqual((self.label().state, self.label().tracking), (Label.State.BOUGHT, self.sale().tracking))

    def test_an_asking_that_sold_nothing_ends(self) -> None:
        parcel = self.weighed("1160")
        with mock.patch.object(SimulatedCarrier, "buy", side_effect=NoAnswer("The line is dead.")):
            self.buy(parcel, status=503)
        self.age()
        labels.reconcile(self.workshop)
        self.assertEqual(self.label().state, Label.State.REFUSED)
        self.assertEqual(self.buy(parcel)["label"]["state"], "bought")

    def test_a_cancellation_that_was_not_heard_is_finished(self) -> None:
        parcel = self.labelled("1160")
        self.standin("carrier", "down")
        self.void(parcel, status=503)
        self.standin("carrier", "well")
        self.age()
        self.assertEqual(labels.reconcile(self.workshop), 1)
        self.assertEqual((self.label().state, self.charged_for()), (Label.State.VOID, []))

    def test_a_late_sale_under_a_refused_key_is_found_and_asked_for_once(self) -> None:
        parcel = self.weighed("1160")
        self.standin("carrier", "refuse_all")
        with mock.patch.object(labels, "_asked_price", return_value=None):
            self.buy(parcel, status=409)
        self.standin("carrier", "well")
        # Somebody else's call, killed before it could write down what it heard.
        refused = self.label()
        SimulatedCarrier().buy(
            self.workshop, key=refused.key, service=refused.service, price=refused.price, weight_mg=1, transit_days=1
        )
        self.age()
        self.assertEqual(labels.reconcile(self.workshop), 1)
        self.assertEqual(self.label().state, Label.State.BOUGHT)
        with mock.patch.object(self.carrier, "status", side_effect=AssertionError("asked again")):
            self.assertEqual(labels.reconcile(self.workshop), 0)

    def test_a_carrier_that_does_not_say_changes_nothing(self) -> None:
        parcel = self.weighed("1160")
        self.standin("carrier", "drop_out_after")
        self.buy(parcel, status=503)
        self.age()
        self.assertEqual(labels.reconcile(self.workshop), 0)
        self.assertEqual(self.label().state, Label.State.ASKED)


class ByTelephone(Doubt):
    """Dropped, then refused for good, and the carrier does not say what it has: the owner telephones."""

    def stuck(self) -> Any:
        parcel = self.weighed("1160")
        self.standin("carrier", "drop_out_after")
        self.buy(parcel, status=503)
        self.standin("carrier", "refuse_all")
        self.buy(parcel, status=409)
        return parcel

    def record(self, parcel: Any, status: int = 200, **body: Any) -> Any:
        told = {"words": "Ruta at the counter, 14:10", **body}
        return self.ask("post", f"parcels/{parcel['id']}/label/record", told, status=status)

    def test_it_was_not_sold_so_another_may_be_bought(self) -> None:
        parcel = self.stuck()
        CarrierSale.objects.of(self.workshop).all().delete()
        self.assertIsNone(self.record(parcel, answer="not_sold")["label"])
        self.standin("carrier", "well")
        self.assertEqual(self.buy(parcel)["label"]["state"], "bought")

    def test_it_was_sold_under_this_number(self) -> None:
        parcel = self.stuck()
        self.assertEqual(self.record(parcel, 422, answer="sold")["field"], "tracking")
        label = self.record(parcel, answer="sold", tracking=self.sale().tracking)["label"]
        self.assertEqual((label["state"], label["recorded"]), ("bought", "Maren: Ruta at the counter, 14:10"))

    def test_it_was_cancelled(self) -> None:
        parcel = self.labelled("1160")
        self.standin("carrier", "drop_out_after")
        self.void(parcel, status=503)
        self.assertEqual(self.record(parcel, 409, answer="not_sold")["code"], "nothing_in_doubt")
        self.assertIsNone(self.record(parcel, answer="cancelled")["label"])

    def test_it_was_not_cancelled_and_may_be_used(self) -> None:
        parcel = self.labelled("1160")
        self.standin("carrier", "down")
        self.void(parcel, status=503)
        self.assertEqual(self.record(parcel, answer="not_cancelled")["label"]["state"], "bought")
        self.ask("post", f"parcels/{parcel['id']}/close", {"request_key": str(uuid4())})

    def test_wrongly_written_down_the_carriers_book_is_believed(self) -> None:
        parcel = self.stuck()
        self.record(parcel, answer="not_sold")
        self.standin("carrier", "well")
        another = self.buy(parcel)["label"]
        self.age()
        while labels.reconcile(self.workshop):
            pass
        self.assertEqual(self.charged_for(), self.held())
        self.assertEqual(self.ask("get", f"parcels/{parcel['id']}")["label"]["tracking"], another["tracking"])

    def test_only_the_owner_and_only_in_doubt(self) -> None:
        parcel = self.stuck()
        self.as_(self.packer)
        self.record(parcel, 403, answer="not_sold")
        self.as_(self.owner)
        self.standin("carrier", "well")
        sold = self.labelled("1163")
        self.assertEqual(self.record(sold, 409, answer="not_sold")["code"], "nothing_in_doubt")
        self.assertEqual(self.record(self.weighed("1164"), 409, answer="not_sold")["code"], "no_label")


class WhatTheCarrierSays(Doubt):
    def test_status_by_key(self) -> None:
        self.assertEqual(self.carrier.status(self.workshop, key=uuid4()), Standing(state="unknown"))
        parcel = self.labelled("1160")
        key, tracking = self.label().key, self.label().tracking
        self.assertEqual(self.carrier.status(self.workshop, key=key), Standing(state="sold", tracking=tracking))
        self.void(parcel)
        self.assertEqual(self.carrier.status(self.workshop, key=key).state, "cancelled")
        self.standin("carrier", "refuse")
        self.assertEqual(self.carrier.status(self.workshop, key=key).state, "cancelled")
        self.standin("carrier", "refuse_all")
        with self.assertRaises(CarrierRefused):
            self.carrier.status(self.workshop, key=key)
