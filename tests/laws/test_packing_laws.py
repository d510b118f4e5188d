"""Laws of packing and planning: what holds for every order, found by hypothesis."""

from dataclasses import replace
from decimal import Decimal
from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st

from core.packing.centred import centred
from core.packing.model import Box, Packing, PackRules, PackUnit
from core.packing.search import find_packing
from core.packing.verify import faults_of
from core.parcels.plan import Blocked, Overrides, PlannedOrder, plan_order
from core.recipes.model import Cushion
from core.tariffs.model import ZoneTable
from core.tariffs.quote import quote_service
from core.units import Size, format_length, parse_length, parse_weight
from tests.core.samples import DAY, HERE, SENDING, facts, jar, order, service, tariff

SIDE = st.integers(10_000, 150_000)
CUSHION = st.builds(
    Cushion, bottom_um=st.integers(0, 30_000), side_um=st.integers(0, 20_000), top_um=st.integers(0, 20_000)
)
UNIT = st.builds(
    PackUnit,
    code=st.just("u"),
    name=st.just("u"),
    quantity=st.integers(1, 5),
    size_um=st.tuples(SIDE, SIDE, SIDE),
    weight_mg=st.integers(1, 3_000_000),
    up_axes=st.sampled_from([(0, 1, 2), (2,), (0,), (0, 1)]),
    clearance=CUSHION,
    load_on_top_mg=st.sampled_from([None, 0, 500_000]),
)
UNITS = st.lists(UNIT, min_size=1, max_size=4).map(
    lambda units: tuple(replace(u, code=f"u{i}") for i, u in enumerate(units))
)
BOX = st.builds(
    Box,
    code=st.just("B"),
    inner_um=st.tuples(*[st.integers(60_000, 400_000)] * 3),
    max_load_mg=st.integers(1_000_000, 40_000_000),
)
RULES = st.builds(PackRules, gap_um=st.sampled_from([0, 2_000, 8_000]), support_percent=st.sampled_from([60, 75, 100]))


class PackingLaws(TestCase):
    @settings(max_examples=300, deadline=None)
    @given(box=BOX, units=UNITS, rules=RULES)
    def test_every_packing_found_passes_the_independent_checker(
        self, box: Box, units: tuple[PackUnit, ...], rules: PackRules
    ) -> None:
        found = find_packing(box, units, rules)
        if isinstance(found, Packing):
            self.assertEqual(faults_of(found, box, units, rules), ())

    @settings(max_examples=150, deadline=None)
    @given(box=BOX, units=UNITS, rules=RULES)
    def test_moved_to_the_middle_it_stays_valid_and_nothing_changes_place_among_the_others(
        self, box: Box, units: tuple[PackUnit, ...], rules: PackRules
    ) -> None:
        found = find_packing(box, units, rules)
        if not isinstance(found, Packing):
            return
        moved = centred(box, found, units)
        self.assertEqual(faults_of(moved, box, units, rules), ())
        shifts = {
            tuple(b - a for a, b in zip(one.at_um, other.at_um, strict=True))
            for one, other in zip(found.placements, moved.placements, strict=True)
        }
        self.assertEqual(len(shifts), 1)
        self.assertEqual(shifts.pop()[2], 0)
        self.assertEqual(centred(box, moved, units), moved)

    @settings(max_examples=100, deadline=None)
    @given(box=BOX, units=UNITS, rules=RULES)
    def test_the_order_of_the_lines_changes_nothing(
        self, box: Box, units: tuple[PackUnit, ...], rules: PackRules
    ) -> None:
        self.assertEqual(find_packing(box, units, rules), find_packing(box, tuple(reversed(units)), rules))

    @settings(max_examples=100, deadline=None)
    @given(box=BOX, units=UNITS, rules=RULES)
    def test_a_proven_no_stays_no_for_any_smaller_box(
        self, box: Box, units: tuple[PackUnit, ...], rules: PackRules
    ) -> None:
        found = find_packing(box, units, rules)
        if not isinstance(found, Packing) and found.proven:
            x, y, z = box.inner_um
            smaller = replace(box, inner_um=(x * 9 // 10, y * 9 // 10, z * 9 // 10))
            self.assertNotIsInstance(find_packing(smaller, units, rules), Packing)


class PlanLaws(TestCase):
    @settings(max_examples=40, deadline=None)
    @given(quantity=st.integers(1, 6))
    def test_every_planned_amount_is_positive_and_the_weights_add_up(self, quantity: int) -> None:
        plan = plan_order(order(quantity), facts(), destination=HERE, ship_on=DAY)
        assert isinstance(plan, PlannedOrder)
        for way in (plan.chosen, *plan.others):
            self.assertTrue(all(use.quantity > 0 and use.weight_mg >= 0 and use.cost >= 0 for use in way.uses))
            for one in way.candidates:
                self.assertEqual(one.weight.net_mg + sum(use.weight_mg for use in one.uses), one.weight.gross_mg)

    @settings(max_examples=25, deadline=None)
    @given(quantities=st.lists(st.integers(1, 9), min_size=1, max_size=3), parcels=st.sampled_from([None, 2, 3]))
    def test_a_divided_order_holds_every_unit_once(self, quantities: list[int], parcels: int | None) -> None:
        lines = tuple(line for n, q in enumerate(quantities) for line in order(q, product=jar(sku=f"J{n}")))
        plan = plan_order(lines, facts(), destination=HERE, ship_on=DAY, overrides=Overrides(parcels=parcels))
        if isinstance(plan, Blocked):
            self.assertGreater(parcels or 1, 1)
            return
        for way in (plan.chosen, *plan.others):
            units: dict[str, int] = {}
            for parcel in way.parcels:
                self.assertEqual(sum(n for _, n in parcel.goods), sum(p.units for p in parcel.pieces))
                for sku, count in parcel.goods:
                    units[sku] = units.get(sku, 0) + count
            self.assertEqual(units, {f"J{n}": q for n, q in enumerate(quantities)})
            self.assertEqual(way.costs.total, sum((c.costs.total for c in way.candidates), Decimal(0)))
        if parcels is not None:
            self.assertEqual(len(plan.chosen.parcels), parcels)


class QuoteLaws(TestCase):
    @settings(max_examples=150, deadline=None)
    @given(
        sides=st.tuples(*[st.integers(10_000, 600_000)] * 3),
        grams=st.integers(1, 20_000),
        more=st.tuples(*[st.integers(0, 50_000)] * 3),
        heavier=st.integers(0, 3_000),
    )
    def test_a_price_never_falls_when_weight_or_a_side_grows(
        self, sides: tuple[int, int, int], grams: int, more: tuple[int, int, int], heavier: int
    ) -> None:
        one = service()
        small = Size(length_um=sides[0], width_um=sides[1], height_um=sides[2])
        prices = [
            quote_service(
                tariff(
                    replace(
                        one,
                        limits=replace(one.limits, longest_um=None, length_plus_girth_um=None),
                        zones=wide(one.zones),
                    )
                ),
                replace(
                    one, limits=replace(one.limits, longest_um=None, length_plus_girth_um=None), zones=wide(one.zones)
                ),
                outer=size,
                gross_mg=mg,
                sending=SENDING,
            ).price
            for size, mg in ((small, grams * 1000), (small.grown(*more), (grams + heavier) * 1000))
        ]
        self.assertLessEqual(prices[0], prices[1])


def wide(zones: tuple[ZoneTable, ...]) -> tuple[ZoneTable, ...]:
    last = zones[0].steps[-1]
    return (replace(zones[0], steps=(*zones[0].steps, replace(last, up_to_mg=10**9, price=last.price + 5))),)


class UnitLaws(TestCase):
    @given(um=st.integers(0, 5_000_000))
    def test_a_length_in_whole_mm_reads_back(self, um: int) -> None:
        whole = um // 1000 * 1000
        self.assertEqual(parse_length(format_length(whole)), whole)

    @given(grams=st.decimals(0, 10_000, places=3))
    def test_grams_with_three_places_are_exact(self, grams: Decimal) -> None:
        self.assertEqual(parse_weight(f"{grams} g"), int(grams * 1000))
