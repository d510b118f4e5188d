"""Laws of mailers, void, weight, strapping, stacking: small sums that every parcel goes through (rules 4.1, 6.1, 8.3,
16.1).
"""

import unittest
from dataclasses import replace
from decimal import Decimal
from itertools import product

from hypothesis import assume, given, settings
from hypothesis import strategies as st

from core.packing.mailer import MailerFit, MailerShort, fit_mailer
from core.packing.model import Packing, PackUnit, Placement, orientations
from core.packing.void import fill_amount, void_of
from core.parcels.strap import lyings
from core.parcels.strength import stacking
from core.supplies.items import BoardStrength, Mailer
from core.units import Size
from tests.core.samples import KRAFT, MAILER, unit

MANY = settings(max_examples=80, deadline=None)
MM = 1000
sides = st.tuples(st.integers(10, 240), st.integers(10, 200), st.integers(2, 90))
boxes = st.builds(
    lambda a, b, c: Size(length_um=a * MM, width_um=b * MM, height_um=c * MM),
    st.integers(60, 600), st.integers(60, 500), st.integers(30, 400),
)  # fmt: skip


@st.composite
def enveloped(draw: st.DrawFn) -> tuple[Mailer, PackUnit, int]:
    """Return a mailer, equal units, and the gap between them."""
    mailer = replace(
        MAILER,
        flat_length_um=draw(st.integers(150, 600)) * MM,
        flat_width_um=draw(st.integers(100, 450)) * MM,
        seal_um=draw(st.sampled_from([0, 40 * MM])),
    )
    goods = unit(
        "u",
        draw(st.integers(1, 7)),
        draw(sides),
        up_axes=draw(st.sampled_from([(2,), (1, 2), (0, 1, 2)])),
        load_on_top_mg=draw(st.sampled_from([None, 0, 100_000, 250_000])),
    )
    return mailer, goods, draw(st.sampled_from([0, 3 * MM]))


def shortages(mailer: Mailer, goods: PackUnit, gap_um: int) -> list[tuple[int, int]]:
    """Return for every block of rows and layers by how much the flat inside is too small, and how
    thick the block is.
    """
    found = []
    for size in orientations(goods):
        for across, along in product(range(1, goods.quantity + 1), repeat=2):
            high = -(-goods.quantity // (across * along))
            borne = (high - 1) * goods.weight_mg
            if goods.load_on_top_mg is not None and borne > goods.load_on_top_mg:
                continue
            length, width, height = (n * s + (n - 1) * gap_um for n, s in zip((across, along, high), size, strict=True))
            lacks = (length + height - mailer.flat_length_um + mailer.seal_um, width + height - mailer.flat_width_um)
            found.append((max(lacks), height))
    return found


class Mailers(unittest.TestCase):
    @MANY
    @given(enveloped())
    def test_it_takes_the_thinnest_block_of_all_or_names_what_the_nearest_lacks(
        self, case: tuple[Mailer, PackUnit, int]
    ) -> None:
        fit, every = fit_mailer(*case), shortages(*case)
        fitting = [height for lacks, height in every if lacks <= 0]
        if isinstance(fit, MailerShort):
            self.assertEqual((fitting, fit.short_by_um), ([], min(lacks for lacks, _ in every)))
        else:
            self.assertEqual(fit.block.height_um, min(fitting))

    @MANY
    @given(enveloped())
    def test_what_it_lacks_is_what_a_larger_one_must_have_more(self, case: tuple[Mailer, PackUnit, int]) -> None:
        mailer, goods, gap_um = case
        fit = fit_mailer(*case)
        assume(isinstance(fit, MailerShort))
        assert isinstance(fit, MailerShort)
        for more, takes in ((fit.short_by_um, True), (fit.short_by_um - 1, False)):
            larger = replace(
                mailer, flat_length_um=mailer.flat_length_um + more, flat_width_um=mailer.flat_width_um + more
            )
            self.assertEqual(isinstance(fit_mailer(larger, goods, gap_um), MailerFit), takes, more)

    @MANY
    @given(enveloped())
    def test_all_units_lie_apart_within_the_block_and_none_carries_too_much(
        self, case: tuple[Mailer, PackUnit, int]
    ) -> None:
        _, goods, gap_um = case
        fit = fit_mailer(*case)
        assume(isinstance(fit, MailerFit))
        assert isinstance(fit, MailerFit)
        self.assertEqual(len(fit.placements), goods.quantity)
        block = (fit.block.length_um, fit.block.width_um, fit.block.height_um)
        for one in fit.placements:
            self.assertIn(one.size_um, orientations(goods))
            self.assertTrue(all(a + s <= b for a, s, b in zip(one.at_um, one.size_um, block, strict=True)))
            above = sum(o.at_um[:2] == one.at_um[:2] and o.at_um[2] > one.at_um[2] for o in fit.placements)
            self.assertLessEqual(
                above * goods.weight_mg, float("inf") if goods.load_on_top_mg is None else goods.load_on_top_mg
            )
            for other in fit.placements:
                apart = any(abs(one.at_um[axis] - other.at_um[axis]) >= one.size_um[axis] + gap_um for axis in range(3))
                self.assertTrue(apart or one is other)

    def test_what_may_not_be_stacked_lacks_the_room_to_lie_side_by_side(self) -> None:
        # Two of 240 x 180 x 15 go in on each other; where nothing may rest on them two breadths and their height are
        # 360 + 15 of 300 mm length.
        cloth = unit("cloth", 2, (240, 180, 15), load_on_top_mg=0)
        self.assertIsInstance(fit_mailer(MAILER, replace(cloth, load_on_top_mg=None), 0), MailerFit)
        self.assertEqual(fit_mailer(MAILER, cloth, 0), MailerShort(short_by_um=75 * MM))

    def test_eighty_that_may_not_be_stacked_are_looked_at_too(self) -> None:
        tiles = unit("tile", 80, (30, 30, 5), load_on_top_mg=0)
        short = fit_mailer(MAILER, tiles, 0)
        # Eight rows of ten: 300 + 5 of 300 mm, 240 + 5 of 250. Nine of nine would lack 25.
        self.assertEqual(short, MailerShort(short_by_um=5 * MM))


class Void(unittest.TestCase):
    @MANY
    @given(boxes, st.data(), st.integers(0, 20), st.booleans())
    def test_parts_are_never_negative_and_add_up_to_inside_less_goods(
        self, inside: Size, data: st.DataObject, proud: int, fixed: bool
    ) -> None:
        inner = (inside.length_um, inside.width_um, inside.height_um)
        size = tuple(data.draw(st.integers(1, side // MM)) * MM for side in inner)
        floor = data.draw(st.integers(0, (inner[2] - size[2]) // MM)) * MM
        one = Placement(unit="u", at_um=(0, 0, floor), size_um=(size[0], size[1], size[2]))
        void = void_of(
            inner, Packing(box="B", placements=(one,)), floor_um=floor, proud_percent=proud, base_fixed=fixed
        )
        parts = (void.below_l, void.round_l, void.above_l, void.proud_l, void.free_l)
        self.assertTrue(all(part >= 0 for part in parts), parts)
        left = Decimal(inner[0] * inner[1] * inner[2] - size[0] * size[1] * size[2]) / 10**15
        self.assertAlmostEqual(void.void_l + void.free_l, left, delta=Decimal("0.000003"))
        self.assertEqual(void.filled_l, void.void_l + void.proud_l)
        self.assertEqual(fixed and void.filled_l != void.below_l, False)

    @MANY
    @given(st.integers(0, 50_000), st.integers(0, 50_000))
    def test_more_void_takes_more_fill_and_weighs_more(self, one: int, other: int) -> None:
        less, more = (fill_amount(Decimal(v) / 1000, KRAFT) for v in sorted((one, other)))
        self.assertLessEqual(less.loose_l, more.loose_l)
        self.assertLessEqual(less.weight_mg, more.weight_mg)


class Together(unittest.TestCase):
    @MANY
    @given(boxes, boxes)
    def test_two_strapped_cartons_lie_apart_in_a_box_no_larger_than_it_must_be(self, one: Size, other: Size) -> None:
        for lying in lyings(one, other):
            first = (one.length_um, one.width_um, one.height_um)
            box = (lying.box.length_um, lying.box.width_um, lying.box.height_um)
            ends = tuple(at + side for at, side in zip(lying.second_at_um, lying.second_um, strict=True))
            self.assertEqual(box, tuple(max(a, b) for a, b in zip(first, ends, strict=True)))
            self.assertTrue(any(at >= side for at, side in zip(lying.second_at_um, first, strict=True)))
            self.assertEqual(sorted(lying.second_um), sorted((other.length_um, other.width_um, other.height_um)))
            self.assertEqual(lying.second_um[2], other.height_um)  # it stays upright

    @MANY
    @given(boxes, st.integers(1, 30_000), st.integers(2_000, 12_000))
    def test_a_stack_of_stronger_or_lighter_parcels_holds_where_a_weaker_or_heavier_did(
        self, outer: Size, grams: int, ect: int
    ) -> None:
        board = BoardStrength(ect_n_per_m=ect, caliper_um=4_000)
        here = stacking(board, outer, grams * 1000)
        self.assertLessEqual(here.allowed_n * board.safety_factor, here.compression_n)
        stronger = stacking(replace(board, ect_n_per_m=ect + 500), outer, grams * 1000)
        lighter = stacking(board, outer, grams * 500)
        self.assertGreaterEqual(stronger.compression_n, here.compression_n)
        self.assertLessEqual(lighter.load_n, here.load_n)
        if here.holds:
            self.assertTrue(stronger.holds and lighter.holds)
