"""An order in several parcels: when it must be, when it pays, strapped, as a person wants (rules 3.1, 4.1 and 5.1)."""

import unittest
from dataclasses import replace
from decimal import Decimal

from core.parcels.divide import MOST_TRIES, Shareout, divided, kinds_of
from core.parcels.layers import pack_layers
from core.parcels.plan import Blocked, Overrides, PlannedOrder, plan_order
from core.parcels.strap import lyings
from core.parcels.way import called
from core.parcels.workings import workings_of
from core.recipes.expand import OrderLine
from core.recipes.model import InsertAmount
from core.tariffs.charges import Further as FurtherParcel
from core.tariffs.model import Limits, WeightStep, ZoneTable
from tests.core.samples import DAY, HERE, band, facts, jar, order, recipe, service, size, tariff
from tests.said import said, said_all

D = Decimal


def plan(lines: tuple[OrderLine, ...], known: object = None, **overrides: object) -> PlannedOrder | Blocked:
    wanted = Overrides(**overrides)  # type: ignore[arg-type]
    return plan_order(lines, known or facts(), destination=HERE, ship_on=DAY, overrides=wanted)  # type: ignore[arg-type]


def planned(lines: tuple[OrderLine, ...], known: object = None, **overrides: object) -> PlannedOrder:
    result = plan(lines, known, **overrides)
    if isinstance(result, Blocked):
        raise AssertionError(result.missing)
    return result


#: Two kilograms for 3.00, three for 9.40: the step that two parcels stay under.
STEEP = (
    ZoneTable(
        zone="1",
        transit_days=1,
        steps=tuple(
            WeightStep(up_to_mg=kg * 1_000_000, price=D(p)) for kg, p in ((2, "3.00"), (3, "9.40"), (25, "19.50"))
        ),
    ),
)


def steep() -> object:
    return facts(tariffs=(tariff(service(zones=STEEP, volumetric=(), surcharges=())),))


class Further(unittest.TestCase):
    """A carrier that asks less for the second and each further parcel of an order (rules 10.6)."""

    @staticmethod
    def shop(further: object) -> object:
        one = service(zones=STEEP, volumetric=(), surcharges=(), further=further)
        return facts(tariffs=(tariff(one),))

    def postages(self, further: object, units: int = 30) -> list[Decimal]:
        return [one.costs.postage for one in planned(order(units), self.shop(further)).chosen.candidates]

    def test_the_first_parcel_pays_the_whole_and_every_further_one_less(self) -> None:
        whole, less = self.postages(None), self.postages(FurtherParcel(percent=D(50)))
        self.assertEqual(less[0], whole[0])
        self.assertEqual(less[1:], [price / 2 for price in whole[1:]])

    def test_further_parcels_are_told_in_the_lines_of_the_quote(self) -> None:
        plan = planned(order(30), self.shop(FurtherParcel(percent=D(50))))
        first, second, *_ = plan.chosen.candidates
        self.assertFalse(first.quote.further)
        self.assertTrue(second.quote.further)
        self.assertIn("a further parcel of the order: 50 % of", said(second.quote.lines[0].rule))

    def test_beside_another_service_a_further_parcel_pays_the_whole(self) -> None:
        # The heavy first parcel goes by one service; the other takes only light ones and would ask less for a second.
        heavy = service(code="HEAVY", zones=STEEP, volumetric=(), surcharges=())
        other = service(
            code="LIGHT", zones=STEEP, volumetric=(), surcharges=(), further=FurtherParcel(percent=D(10)),
            limits=Limits(max_mg=1_000),
        )  # fmt: skip
        known = facts(tariffs=(tariff(heavy, other),))
        plan = planned(order(30), known)
        self.assertEqual({one.quote.service for one in plan.chosen.candidates}, {"HEAVY"})
        self.assertEqual([one.quote.further for one in plan.chosen.candidates], [False] * 5)

    def test_two_parcels_are_chosen_where_further_ones_cost_less(self) -> None:
        way = planned(order(6), self.shop(FurtherParcel(percent=D(0)))).chosen
        again = planned(order(6), self.shop(None)).chosen
        self.assertLessEqual(way.costs.total, again.costs.total)


ANY = recipe(band(1, 6, outers=("C-14", "C-08"), any_outer=True))


class MustBe(unittest.TestCase):
    def test_what_no_container_takes_goes_in_as_few_as_take_it(self) -> None:
        many = planned(order(30))
        self.assertEqual([parcel.goods for parcel in many.chosen.parcels], [(("JAR", 6),)] * 5)
        self.assertIn(
            "5 parcels: 5 of C-14 Carton C-14. Recipe Jars goes up to 6 units; this order has 30.", said(many.why)
        )
        self.assertEqual(many.chosen.costs.total, sum((c.costs.total for c in many.chosen.candidates), D(0)))
        self.assertEqual(sum(piece.units for piece in many.pieces), 30)

    def test_goods_that_may_not_share_go_apart_and_are_never_strapped(self) -> None:
        packed = recipe(band(1, 6, outers=("C-14",), layers=()), code="s")
        soap = order(2, product=jar(sku="SOAP", name="soap", scented=True), how=packed)
        jam = order(
            3, product=jar(sku="JAM", name="jam", food=True, delicate_place="lid"), how=replace(packed, code="f")
        )
        apart = planned((*soap, *jam))
        self.assertEqual({parcel.goods for parcel in apart.chosen.parcels}, {(("SOAP", 2),), (("JAM", 3),)})
        self.assertIn("one is scented and the other is food", said(apart.why))
        self.assertFalse(any("&" in way.key for way in (apart.chosen, *apart.others)))
        minded = {parcel.goods[0][0]: said_all(parcel.cautions) for parcel in apart.chosen.parcels}
        self.assertEqual(minded, {"SOAP": (), "JAM": ("jam: weak spot: lid.",)})
        self.assertEqual(said_all(apart.cautions), ("jam: weak spot: lid.",))
        one = plan((*soap, *jam), parcels=1)
        assert isinstance(one, Blocked)
        self.assertEqual([missing.code for missing in one.missing], ["must_be_apart"])

    def test_a_carton_at_nought_is_no_reason_to_send_two_parcels(self) -> None:
        short = plan(order(3), facts(free={"C-14": D(0)}))
        assert isinstance(short, Blocked)
        self.assertEqual(short.missing[0].code, "no_stock")

    def test_the_parcels_of_one_order_do_not_share_a_carton(self) -> None:
        # Two C-14 for twelve jars, and one on the shelf.
        short = plan(order(12), facts(free={"C-14": D(1)}))
        assert isinstance(short, Blocked)

    def test_one_that_goes_in_nothing_does_not_stop_more_of_it_from_going(self) -> None:
        # Three and three would do; one alone has no carton left, and is tried on the way.
        how = recipe(band(1, 1, outers=("C-08",)), band(2, 3, outers=("C-14",)))
        apart = planned(order(7, how=how), facts(free={"C-08": D(0)}))
        self.assertEqual(sorted(parcel.goods[0][1] for parcel in apart.chosen.parcels), [2, 2, 3])

    def test_a_set_is_never_divided(self) -> None:
        both = recipe(band(1, 20, outers=("C-14",)))
        lines = tuple(
            OrderLine(sku=sku, quantity=4, product=jar(sku=sku), recipe=both, bundle="SET", per_bundle=2)
            for sku in ("A", "B")
        )
        kinds = kinds_of(lines)
        self.assertEqual([(kind.count, [line.quantity for line in kind.lines]) for kind in kinds], [(2, [2, 2])])
        for parcel in planned(lines).chosen.parcels:
            self.assertEqual(len({units % 2 for _, units in parcel.goods} | {0}), 1)
        self.assertIsInstance(plan(lines, parcels=3), Blocked)

    def test_one_unit_that_no_container_takes_blocks_with_its_reason(self) -> None:
        big = plan(order(2, product=jar(size=size(400, 400, 400))))
        assert isinstance(big, Blocked)
        self.assertIn("C-08", said(big.missing[0].message))

    def test_many_kinds_are_divided_within_the_tries(self) -> None:
        how = recipe(band(1, 500, outers=("C-14",), any_outer=True))
        lines = tuple(line for n in range(40) for line in order(1, product=jar(sku=f"J{n:02}"), how=how))
        goods = [parcel.goods for parcel in planned(lines).chosen.parcels]
        self.assertEqual(sorted(sku for share in goods for sku, _ in share), [f"J{n:02}" for n in range(40)])

    def test_more_than_twelve_parcels_are_not_tried_and_that_is_told(self) -> None:
        many = plan(order(200))
        assert isinstance(many, Blocked)
        self.assertIn("goes up to 6 units", said(many.missing[0].message))
        self.assertIn("up to 12 parcels does not help", said(many.missing[0].message))


class Pays(unittest.TestCase):
    def test_two_that_cost_less_are_offered_not_taken(self) -> None:
        one = planned(order(6, how=ANY), steep())
        self.assertEqual(len(one.chosen.parcels), 1)
        assert one.offer is not None
        two = next(way for way in one.others if len(way.parcels) == 2)
        self.assertEqual((one.offer.key, one.offer.saves), (two.key, one.chosen.costs.total - two.costs.total))
        # By hand: six jars with their packing are over 3 kg, 19.50; three and three are under 2 kg, 3.00 each.
        self.assertEqual((one.chosen.costs.postage, two.costs.postage), (D("19.50"), D("6.00")))
        taken = planned(order(6, how=ANY), steep(), container=one.offer.key)
        self.assertEqual((taken.chosen.key, taken.overridden), (one.offer.key, True))

    def test_every_division_that_is_shown_can_be_chosen(self) -> None:
        loaf = jar(sku="LOAF", name="loaf", size=size(200, 120, 100), weight_mg=900_000)
        for lines in (order(5, how=ANY), (*order(3, how=ANY), *order(2, product=loaf, how=ANY)), order(6, how=ANY)):
            shown = planned(lines, steep())
            for way in (shown.chosen, *shown.others):
                if way.in_recipe:
                    self.assertEqual(planned(lines, steep(), container=way.key).chosen.key, way.key)

    def test_nothing_is_offered_where_two_base_prices_cost_more(self) -> None:
        self.assertIsNone(planned(order(6)).offer)


class AsAsked(unittest.TestCase):
    def test_so_many_parcels_as_a_person_wants(self) -> None:
        for count in (2, 3, 6):
            way = planned(order(6), parcels=count).chosen
            self.assertEqual(len(way.parcels), count)
            self.assertEqual(sum(units for parcel in way.parcels for _, units in parcel.goods), 6)
        self.assertIsInstance(plan(order(6), parcels=7), Blocked)

    def test_what_goes_where_is_kept_as_set(self) -> None:
        way = planned(order(6), shares=((("JAR", 1),), (("JAR", 5),))).chosen
        self.assertEqual([parcel.goods for parcel in way.parcels], [(("JAR", 1),), (("JAR", 5),)])

    def test_a_division_that_no_longer_holds_the_order_is_told(self) -> None:
        for shares in (((("JAR", 1),), (("JAR", 4),)), ((("JAR", 6),), ())):
            wrong = plan(order(6), shares=shares)
            assert isinstance(wrong, Blocked)
            self.assertEqual(wrong.missing[0].code, "shares_do_not_match")

    def test_what_goes_in_once_an_order_is_in_the_first_parcel_only(self) -> None:
        inserts = (InsertAmount(insert="I", amount=1, per="order", place="top", required=False),)
        way = planned(order(6, how=recipe(band(1, 6, outers=("C-14",), inserts=inserts))), parcels=3).chosen
        counts = [sum(1 for use in c.uses if use.role == "insert") for c in way.candidates]
        self.assertEqual(counts, [1, 0, 0])

    def test_the_last_of_what_need_not_go_in_goes_into_the_first_parcel_and_stops_nothing(self) -> None:
        inserts = (InsertAmount(insert="I", amount=1, per="parcel", place="top", required=False),)
        lines = order(6, how=recipe(band(1, 6, outers=("C-14",), inserts=inserts)))
        for left, counts, told in (
            (3, [1, 1, 1], ""),
            (2, [1, 1, 0], "Card is left out of parcel 3: 2 free in stock."),
            (1, [1, 0, 0], "Card is left out of parcels 2 and 3: 1 free in stock."),
            (0, [0, 0, 0], "Card is left out: 0 free in stock."),
        ):
            with self.subTest(left=left):
                found = planned(lines, facts(free={"I": D(left)}), parcels=3)
                uses = [sum(1 for use in c.uses if use.role == "insert") for c in found.chosen.candidates]
                self.assertEqual(uses, counts)
                self.assertEqual(
                    [text for text in said_all(found.warnings) if "left out" in text], [told] if told else []
                )

    def test_what_must_go_into_every_parcel_stops_the_order_when_there_are_too_few(self) -> None:
        inserts = (InsertAmount(insert="I", amount=1, per="parcel", place="top", required=True),)
        lines = order(6, how=recipe(band(1, 6, outers=("C-14",), inserts=inserts)))
        stopped = plan(lines, facts(free={"I": D(2)}), parcels=3)
        assert isinstance(stopped, Blocked)
        self.assertIn("these parcels need 3, 2 is free", said(stopped.missing[0].message))

    def test_two_strapped_share_what_is_left_of_an_insert_of_each_unit(self) -> None:
        inserts = (InsertAmount(insert="I", amount=1, per="unit", place="top", required=False),)
        lines = order(12, how=recipe(band(1, 6, outers=("C-14",), inserts=inserts)))
        found = planned(lines, facts(free={"I": D(6)}))
        self.assertEqual(sum(use.quantity for use in found.chosen.uses if use.supply == "I"), D(6))


class Strapped(unittest.TestCase):
    def test_the_six_ways_two_cartons_may_lie(self) -> None:
        found = lyings(size(300, 200, 100), size(250, 220, 150))
        self.assertEqual(found[0].box, size(550, 220, 150))  # end to end
        self.assertEqual(found[2].box, size(300, 220, 250))  # one on the other
        self.assertEqual(found[4].box, size(300, 450, 150))  # turned, side by side
        self.assertEqual((found[4].second_at_um, found[4].second_um), ((0, 200_000, 0), (220_000, 250_000, 150_000)))
        for one in found:  # the second never reaches into the first, nor out of the box
            x, y, z = one.second_at_um
            self.assertTrue(x >= 300_000 or y >= 200_000 or z >= 100_000)
            ends = [at + side for at, side in zip(one.second_at_um, one.second_um, strict=True)]
            box = (one.box.length_um, one.box.width_um, one.box.height_um)
            self.assertTrue(all(end <= limit for end, limit in zip(ends, box, strict=True)))

    def test_two_cartons_strapped_are_one_parcel_with_one_label(self) -> None:
        chosen = planned(order(12)).chosen
        self.assertEqual(
            (chosen.key, said(called(chosen))), ("C-14&C-14", "C-14 Carton C-14 strapped to C-14 Carton C-14")
        )
        one, apart = chosen.only, next(way for way in planned(order(12)).others if len(way.parcels) == 2)
        self.assertEqual(sum(use.quantity for use in one.uses if use.role == "label"), 1)
        self.assertEqual(sum(use.quantity for use in one.uses if use.role == "outer"), 2)
        band_mg = sum(use.weight_mg for use in one.uses if use.role == "strap")
        both = sum(c.weight.gross_mg for c in apart.candidates)
        self.assertEqual(one.weight.gross_mg, both + band_mg - 2_000 - 6_000)  # one label and one card less
        self.assertEqual([use.quantity for use in one.uses if use.role == "insert"], [1])
        self.assertEqual(one.minutes, apart.minutes + 2)
        self.assertEqual(one.weight.net_mg, 12 * 430_000)

    def test_its_layers_go_carton_by_carton_and_end_with_the_strap(self) -> None:
        parcel = planned(order(12)).chosen.parcels[0]
        layers = pack_layers(parcel, {})
        self.assertEqual([layer.carton for layer in layers if layer.kind == "units"], [0, 1])
        self.assertEqual(layers[-1].kind, "strap")
        sums = {
            said(w.what): w for w in workings_of(parcel.candidate, parcel.pieces, wage_per_hour=D(15), goods_cost=D(4))
        }
        self.assertEqual(sums["Length outside"].result.value, parcel.candidate.outer_bulged.length_um)


class Dividing(unittest.TestCase):
    def test_the_work_is_bounded_and_every_unit_has_a_place(self) -> None:
        asked = []

        def cost(lines: tuple[OrderLine, ...]) -> Decimal | None:
            asked.append(lines)
            return D(5) if sum(line.quantity for line in lines) <= 7 else None

        def floor(_: tuple[OrderLine, ...]) -> Decimal | None:
            return D(1)

        lines = tuple(line for n in range(9) for line in order(5, product=jar(sku=f"J{n}")))
        shares = divided(Shareout(kinds_of(lines), cost, floor, floor), None)
        assert shares is not None
        self.assertLessEqual(len(asked), MOST_TRIES)
        self.assertEqual([sum(column) for column in zip(*shares, strict=True)], [5] * 9)
        self.assertEqual(len(shares), 7)
