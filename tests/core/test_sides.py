"""Where the price changes along a side: exact to the micrometre, limits included, by worked numbers."""

import unittest
from decimal import Decimal

from core.tariffs.model import Limits
from core.tariffs.sides import SideRuler, side_rulers
from tests.core.samples import SENDING, service, size, tariff

D = Decimal


def rulers(length_mm: float, width_mm: float, height_mm: float, **changes: object) -> dict[str, SideRuler]:
    one = service(**changes)
    found = side_rulers(tariff(one), one, outer=size(length_mm, width_mm, height_mm), gross_mg=900_000, sending=SENDING)
    return {ruler.side: ruler for ruler in found}


class Sides(unittest.TestCase):
    def test_the_height_at_which_volumetric_weight_passes_a_step_by_hand(self) -> None:
        # 30 x 20 cm: 600 cm2 and 5000 cm3/kg, so 1 kg is 8.33 cm (8 whole ones), 2 kg 16.67 (16), 3 kg 25 cm.
        height = rulers(300, 200, 150)["height"]
        edges = [(step.up_to_um, step.price) for step in height.steps]
        self.assertEqual(edges[0], (160_000, D("4.90")))
        self.assertEqual(height.value_um, 150_000)
        # 40 % more than 150 mm is where looking ends: still under 3 kg.
        self.assertEqual(edges[1], (210_000, D("5.75")))

    def test_a_limit_ends_the_ruler_as_refused(self) -> None:
        length = rulers(300, 200, 150, limits=Limits(longest_um=350_000, length_plus_girth_um=None, max_mg=10**8))
        steps = length["length"].steps
        self.assertEqual((steps[-2].up_to_um, steps[-1].price), (350_000, None))

    def test_each_edge_is_the_last_micrometre_of_its_price(self) -> None:
        for ruler in rulers(310, 240, 160).values():
            self.assertEqual([s.up_to_um for s in ruler.steps], sorted({s.up_to_um for s in ruler.steps}))
            self.assertLess(ruler.from_um, ruler.value_um + 1)
            prices = [step.price for step in ruler.steps if step.price is not None]
            self.assertEqual(prices, sorted(prices))
