"""Whether a place is reached, remote or odd: asked when an order comes in (rules 10.2)."""

import unittest
from dataclasses import replace
from decimal import Decimal as D

from core.tariffs.charges import Surcharge
from core.tariffs.choosing import Choosing, allowed_only, choose_quote
from core.tariffs.model import Place, ZoneRule
from core.tariffs.quote import quote_all
from core.tariffs.reach import check_place
from tests.core.samples import SENDING, service, size, tariff
from tests.said import said_all

REMOTE = Surcharge(
    code="R", name="Remote", kind="fixed", amount=D(2), zones=(), longest_above_um=None, country="ALM", prefixes=("QH",)
)


def place(postcode: str, country: str = "ALM") -> Place:
    return Place(country=country, postcode=postcode)


class Reached(unittest.TestCase):
    LISTS = (tariff(service(surcharges=(REMOTE,))),)

    def test_in_a_zone_remote_and_not_at_all(self) -> None:
        near, far, nowhere = (
            check_place(self.LISTS, one, None) for one in (place("DM14"), place("QH7"), place("1", "TOR"))
        )
        self.assertEqual((near.reached, near.remote, near.needs_a_look), (True, False, False))
        self.assertEqual((far.reached, far.remote, far.needs_a_look), (True, True, True))
        self.assertEqual((nowhere.reached, nowhere.needs_a_look), (False, True))
        self.assertEqual(said_all(near.messages()), ("Larkline: zone 1.",))
        self.assertIn("remote place for which it asks more (Remote)", said_all(far.messages())[0])
        self.assertEqual(said_all(nowhere.messages()), ("Larkline does not go there.",))

    def test_remote_only_when_every_carrier_that_goes_there_asks_more(self) -> None:
        both = (*self.LISTS, replace(tariff(), carrier="other", carrier_name="Other"))
        self.assertFalse(check_place(both, place("QH7"), None).remote)

    def test_a_postcode_unlike_those_of_its_country_is_told(self) -> None:
        odd = check_place(self.LISTS, place("12345"), None)
        self.assertIn("12345 looks unlike the postcodes of ALM", said_all(odd.messages())[-1])
        missing = check_place(self.LISTS, place(""), None)
        self.assertIn("The postcode is missing", said_all(missing.messages())[-1])
        self.assertIsNone(check_place(self.LISTS, place("HW3"), None).odd)

    def test_a_service_with_zones_of_its_own_reaches_where_the_list_does_not(self) -> None:
        far = service(zone_rules=(ZoneRule(zone="1", country="TOR", prefix=""),))
        self.assertTrue(check_place((tariff(far),), place("4410", "TOR"), None).reached)


class HandedOver(unittest.TestCase):
    def test_a_locker_is_only_used_where_the_rules_say_so(self) -> None:
        cheap = replace(service(code="LOCK"), delivers_to="locker", surcharges=())
        both = (tariff(service(code="DOOR"), cheap),)
        quotes, _ = quote_all(both, outer=size(300, 200, 100), gross_mg=500_000, sending=SENDING)
        kept, out = allowed_only(quotes, Choosing(), None)
        self.assertEqual([one.service for one in kept], ["DOOR"])
        self.assertIn("but to a locker; your rules send to the door", said_all([one.message for one in out])[0])
        either = Choosing(delivers_to=("door", "locker"))
        best = choose_quote(allowed_only(quotes, either, None)[0], either, ship_on=SENDING.ship_on)
        self.assertEqual(best.service if best else "", "LOCK")
        forced = allowed_only(quotes, Choosing(), "LOCK")[0]
        self.assertEqual({one.service for one in forced}, {"DOOR", "LOCK"})
