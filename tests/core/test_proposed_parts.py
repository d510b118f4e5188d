"""Each part of a proposed recipe may be left out, and what the cupboard has not got is told (rules 18.1)."""

import unittest
from dataclasses import replace

from core.designing.crafts import craft_for, craft_named
from core.designing.cupboard import Desk
from core.designing.propose import Proposal, proposed, thermal_of
from core.messages import Message
from core.parcels.facts import Facts
from core.recipes.goods import Product
from core.recipes.model import InsertAmount
from core.supplies.items import Insert
from tests.core.caring import FOAM, GEL, PADDED, WARMER
from tests.core.samples import DAY, HERE, TAPE, D, jar, size
from tests.core.test_every_field import shop
from tests.said import said


def desk(facts: Facts | None = None, **shelf: object) -> Desk:
    known = facts or shop()
    known = replace(known, shelf=replace(known.shelf, **shelf))  # type: ignore[arg-type]
    return Desk(facts=known, materials={"W": "plastic"}, names={}, usual=HERE, ship_on=DAY)


def cool(*inserts: Insert) -> Desk:
    known = shop()
    free = {**known.free, **{one.code: D(1000) for one in inserts}}
    return desk(replace(known, free=free), inserts={**known.shelf.inserts, **{one.code: one for one in inserts}})


def insert(code: str, *, required: bool) -> InsertAmount:
    return InsertAmount(insert=code, amount=1, per="parcel", place="top", required=required)


def propose(product: Product, at: Desk, craft: str = "", **more: object) -> Proposal:
    named = craft_named(craft) if craft else craft_for(product)
    assert named is not None, craft
    return proposed(product, named, at, code="new", **more)  # type: ignore[arg-type]


def codes(found: Proposal) -> list[str]:
    return [one.code for one in found.lacks if isinstance(one, Message)]


class LeftOut(unittest.TestCase):
    def test_every_part_that_may_go_can_be_left_out_alone(self) -> None:
        for product in (jar(), jar(live=True), jar(glass=True, food=True), jar(size=size(60, 60, 260))):
            whole = propose(product, desk())
            for line in whole.lines:
                if not line.may_go or line.claim:
                    continue
                with self.subTest(product=craft_for(product).key, part=line.part):
                    less = propose(product, desk(), without=(line.part,))
                    self.assertIn(line.part, {one.part for one in less.lines}, "it stays on offer")
                    self.assertNotEqual(less.recipe, whole.recipe)

    def test_what_must_be_done_ahead_and_the_gap_can_be_left_out(self) -> None:
        whole = propose(jar(live=True), desk()).recipe
        less = propose(jar(live=True), desk(), without=("ahead", "gap")).recipe
        assert whole is not None and less is not None
        self.assertTrue(whole.ahead)
        self.assertEqual((less.ahead, {band.gap_um for band in less.bands}), ((), {0}))

    def test_claims_are_made_only_when_asked_for(self) -> None:
        for key in ("living-culture", "meltable", "glass-jar"):
            silent = propose(jar(), desk(), key)
            claims = [line for line in silent.lines if line.claim]
            asked = propose(jar(), desk(), key, claims=tuple(line.part for line in claims))
            assert silent.recipe is not None and asked.recipe is not None
            for line in claims:
                self.assertNotIn(said(line.words), (*silent.recipe.goods_checks, silent.recipe.buyer_note), key)
                self.assertIn(said(line.words), (*asked.recipe.goods_checks, asked.recipe.buyer_note), key)

    def test_a_usual_insert_may_go_and_a_required_one_may_not(self) -> None:
        usual = (
            insert("I", required=True),
            insert("L", required=False),
            insert("GONE", required=True),
        )
        found = propose(jar(), desk(), usual_inserts=usual, without=("insert-I", "insert-L"))
        assert found.recipe is not None
        self.assertEqual([one.insert for one in found.recipe.bands[0].inserts], ["I"])
        may_go = {line.part: line.may_go for line in found.lines if line.part.startswith("insert-")}
        self.assertEqual(may_go, {"insert-I": False, "insert-L": True})


class Lacking(unittest.TestCase):
    def test_goods_that_were_never_measured_are_refused(self) -> None:
        for product in (jar(size=None), jar(weight_mg=None)):
            with self.assertRaisesRegex(ValueError, "JAR has no size or weight"):
                propose(product, desk())

    def test_an_empty_cupboard_is_told_part_by_part(self) -> None:
        bare = desk(wraps={}, fills={}, tapes={})
        found = propose(jar(), bare)
        self.assertEqual(
            sorted({code.split("_wrap")[0] for code in codes(found)} - {"lack_container"}),
            ["lack", "lack_fill", "lack_tape"],
        )

    def test_food_asks_for_a_tape_that_shows_tampering_and_a_wrap_for_food(self) -> None:
        plain = desk(tapes={"TP": replace(TAPE, grade="none")})
        self.assertIn("lack_tape", codes(propose(jar(food=True), plain)))
        self.assertNotIn("lack_tape", codes(propose(jar(food=False), plain)))
        known = shop()
        no_food = desk(wraps={code: replace(one, food_contact=False) for code, one in known.shelf.wraps.items()})
        self.assertIn("lack_wrap_food", codes(propose(jar(food=True, glass=True), no_food)))

    def test_without_a_price_list_it_is_the_price_list_that_lacks(self) -> None:
        found = propose(jar(), desk(replace(shop(), tariffs=())))
        self.assertIsNone(found.recipe)
        self.assertIn("lack_price_list", codes(found))
        self.assertNotIn("lack_container", codes(found))


class AgainstHeatAndCold(unittest.TestCase):
    def test_goods_without_a_limit_get_nothing(self) -> None:
        self.assertIsNone(thermal_of(jar(), cool(FOAM, GEL)))

    def test_a_limit_gets_the_cheapest_liner_and_packs_when_the_weather_asks(self) -> None:
        dear = replace(FOAM, code="DEAR", unit_cost=D("9.00"))
        found = thermal_of(jar(highest_c=22), cool(dear, FOAM, GEL))
        assert found is not None
        self.assertEqual((found.liner, found.packs, found.when, found.least), ("FOAM", ("GEL",), "needed", 0))

    def test_what_must_not_freeze_gets_packs_in_a_sleeve_first_and_a_heat_pack(self) -> None:
        found = thermal_of(jar(highest_c=25, lowest_c=4), cool(FOAM, GEL, PADDED, WARMER))
        assert found is not None
        self.assertEqual(found.packs, ("PAD", "GEL", "HEAT"))

    def test_frozen_goods_have_packs_always_and_none_that_melts_above_their_limit(self) -> None:
        brine = replace(GEL, code="BRINE", pack=replace(GEL.pack, melts_c=D(-21)) if GEL.pack else None)
        found = thermal_of(jar(frozen=True), cool(FOAM, GEL, brine))
        assert found is not None
        self.assertEqual((found.packs, found.when, found.least), (("BRINE",), "always", 1))

    def test_nothing_for_it_is_told_and_a_person_may_leave_it_out(self) -> None:
        warm = jar(highest_c=22)
        self.assertIn("lack_thermal", codes(propose(warm, desk())))
        self.assertNotIn("lack_thermal", codes(propose(jar(), desk())))
        there = cool(FOAM, GEL)
        whole, less = propose(warm, there).recipe, propose(warm, there, without=("thermal",)).recipe
        assert whole is not None and less is not None
        self.assertEqual([band.thermal is not None for band in (whole.bands[0], less.bands[0])], [True, False])
