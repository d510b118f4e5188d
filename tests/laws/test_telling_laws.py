"""Laws of a parcel as it is told: whatever goods share it, all of them keep its one cushion and are told from below."""

import unittest

from hypothesis import given, settings
from hypothesis import strategies as st

from core.parcels.layers import layers_of
from core.parcels.plan import PlannedOrder, plan_order
from core.parcels.required import band_of_parcel, cushion_of
from core.parcels.told import faults_of_telling
from core.recipes.expand import OrderLine
from core.recipes.model import Cushion
from tests.core.samples import C08, C14, DAY, HERE, band, carton, facts, jar, recipe, size

SIDES = st.integers(10, 140)
DEPTH = st.sampled_from([0, 10_000, 20_000, 35_000])
GOODS = st.tuples(SIDES, SIDES, SIDES, st.integers(1, 4), DEPTH, DEPTH, DEPTH, st.sampled_from(["upright", "any"]))
CONTAINERS = (C08, C14, carton("C-20", size(420, 330, 250), cost="1.60"))


def lines_of(goods: list[tuple[int, int, int, int, int, int, int, str]]) -> tuple[OrderLine, ...]:
    found = []
    for n, (length, width, height, count, below, side, above, lies) in enumerate(goods):
        product = jar(sku=f"P{n}", name=f"goods {n}", size=size(length, width, height), orientation=lies)
        cushion = Cushion(bottom_um=below, side_um=side, top_um=above)
        how = recipe(band(1, 12, outers=(), any_outer=True, cushion=cushion), code=f"r{n}")
        found.append(OrderLine(sku=product.sku, quantity=count, product=product, recipe=how))
    return tuple(found)


class Telling(unittest.TestCase):
    @settings(max_examples=40, deadline=None)
    @given(st.lists(GOODS, min_size=1, max_size=3))
    def test_every_parcel_keeps_its_cushions_and_is_told_from_below(self, goods: list[tuple[int, ...]]) -> None:
        plan = plan_order(lines_of(goods), facts(containers=CONTAINERS), destination=HERE, ship_on=DAY)  # type: ignore[arg-type]
        if not isinstance(plan, PlannedOrder):
            return
        for way in (plan.chosen, *plan.others):
            for parcel in (each for one in way.parcels for each in one.cartons):
                candidate, keep = parcel.candidate, cushion_of(parcel.pieces)
                inner = candidate.inner
                for placed in candidate.placements:
                    (x, y, z), (dx, dy, _) = placed.at_um, placed.size_um
                    self.assertGreaterEqual(z, keep.bottom_um)
                    self.assertLessEqual(placed.top_um, inner.height_um - keep.top_um)
                    nearest = min(x, y, inner.length_um - x - dx, inner.width_um - y - dy)
                    self.assertGreaterEqual(nearest, keep.side_um)
                layers = layers_of(candidate, parcel.pieces, band_of_parcel(parcel.pieces), {})
                self.assertEqual(faults_of_telling(candidate, parcel.pieces, layers), ())
                fetched = [use for use in candidate.uses if use.role == "fill"]
                self.assertTrue(all(use.parts for use in fetched))
