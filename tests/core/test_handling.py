"""What to mind with tools and heavy parcels, said where the hands are (rules 16.3)."""

import unittest
from dataclasses import replace

from core.judgements import Judgements
from core.messages import Message, Text
from core.parcels.cautions import cautions_for, with_handling
from core.parcels.way import Way
from core.recipes.expand import Shelf
from tests.core.samples import SHELF, jar, order, planned
from tests.said import said_all


def codes(told: tuple[Text, ...]) -> list[str]:
    return [one.code for one in told if isinstance(one, Message)]


class Handling(unittest.TestCase):
    def way(self, gross_mg: int) -> Way:
        way = planned(order(2)).chosen
        (parcel,) = way.parcels
        candidate = replace(parcel.candidate, weight=replace(parcel.candidate.weight, gross_mg=gross_mg))
        return Way(parcels=(replace(parcel, candidate=candidate, cautions=(), marks=()),))

    def said(self, gross_mg: int, shelf: Shelf = SHELF, judged: Judgements = Judgements()) -> tuple[list[str], object]:  # noqa: B008
        (parcel,) = with_handling(self.way(gross_mg), shelf, judged).parcels
        return [code for code in codes(parcel.cautions) if code.startswith("lift")], parcel.marks

    def test_from_ten_kilograms_on_it_is_marked_and_lifted_with_care(self) -> None:
        self.assertEqual(self.said(9_999_999), ([], ()))
        self.assertEqual(self.said(10_000_000), (["lift_heavy"], ("Heavy",)))

    def test_from_twenty_on_two_people_lift_it(self) -> None:
        self.assertEqual(self.said(19_999_999)[0], ["lift_heavy"])
        self.assertEqual(self.said(20_000_000), (["lift_two"], ("Heavy",)))

    def test_the_workshop_may_judge_otherwise(self) -> None:
        weak = Judgements(lift_mg=4_000_000, lift_two_mg=8_000_000)
        self.assertEqual(self.said(5_000_000, judged=weak)[0], ["lift_heavy"])
        self.assertEqual(self.said(8_000_000, judged=weak)[0], ["lift_two"])

    def test_a_tool_to_mind_is_named_once_and_only_where_it_is_used(self) -> None:
        way = self.way(1_000_000)
        used = {use.supply for parcel in way.parcels for use in parcel.candidate.uses}
        (code, *_) = sorted(used & SHELF.wraps.keys())
        minded = replace(SHELF, wraps={**SHELF.wraps, code: replace(SHELF.wraps[code], caution="blade")})
        (parcel,) = with_handling(way, minded, Judgements()).parcels
        self.assertEqual(codes(parcel.cautions), ["mind_blade"])
        self.assertEqual(parcel.marks, ())
        bare = Way(parcels=(replace(parcel, candidate=replace(parcel.candidate, uses=()), cautions=()),))
        self.assertEqual(with_handling(bare, minded, Judgements()).parcels[0].cautions, ())

    def test_what_the_goods_say_is_said_once_for_all_lines(self) -> None:
        lids = jar(delicate_place="lid")
        told = cautions_for(order(2, product=lids) + order(3, product=lids))
        self.assertEqual(len(told), len(set(told)))
        self.assertIn("weak spot: lid.", " ".join(said_all(told)))
