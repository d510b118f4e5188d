"""Laws of the packing search: a no that is called proven is true, whoever counts; more room and fewer units never
hurt.
"""

from dataclasses import replace
from decimal import Decimal
from itertools import product
from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st

from bench.packing.families import orders
from core.packing.canonical import canonical_units
from core.packing.cheapest import Offered, cheapest_container
from core.packing.courses import SearchBudget
from core.packing.model import Box, NoPacking, Packing, PackRules, PackUnit, Placement, orientations
from core.packing.ruled_out import ruled_out
from core.packing.search import find_packing, finish, quick
from core.packing.verify import faults_of
from core.recipes.model import Cushion

_MM = 1_000


def _mm(of: tuple[int, int, int]) -> tuple[int, int, int]:
    return of[0] * _MM, of[1] * _MM, of[2] * _MM


_SIDE = st.integers(1, 3)
_SMALL_UNIT = st.builds(
    lambda size, up, limit, bottom: PackUnit(
        code="u", name="u", quantity=1, size_um=_mm(size), weight_mg=1_000, up_axes=up,
        clearance=Cushion(bottom_um=bottom * _MM, side_um=0, top_um=0), load_on_top_mg=limit,
    ),
    st.tuples(_SIDE, _SIDE, _SIDE),
    st.sampled_from([(2,), (0, 1, 2), (0, 2)]),
    st.sampled_from([None, None, 0, 1_000]),
    st.sampled_from([0, 0, 1]),
)  # fmt: skip
SMALL_UNITS = st.lists(_SMALL_UNIT, min_size=1, max_size=4).map(
    lambda units: tuple(replace(unit, code=f"u{number}") for number, unit in enumerate(units))
)
SMALL_BOX = st.builds(
    lambda inner: Box(code="B", inner_um=_mm(inner), max_load_mg=10**9),
    st.tuples(st.integers(2, 4), st.integers(2, 4), st.integers(2, 5)),
)
SMALL_RULES = st.builds(PackRules, gap_um=st.just(0), support_percent=st.sampled_from([0, 75, 100]))


def counted_out(box: Box, units: tuple[PackUnit, ...], rules: PackRules) -> bool:
    """Return whether some packing on whole millimetres is without error, by trying every one of them."""

    def place(done: list[Placement], left: tuple[PackUnit, ...]) -> bool:
        if not left:
            return not faults_of(Packing(box=box.code, placements=tuple(done)), box, units, rules)
        unit = left[0]
        for size in orientations(unit):
            starts = [range(0, box.inner_um[axis] - size[axis] + 1, _MM) for axis in range(3)]
            for x, y, z in product(*starts):
                here = Placement(unit=unit.code, at_um=(x, y, z), size_um=size)
                if all(_apart(here, other) for other in done) and place([*done, here], left[1:]):
                    return True
        return False

    return place([], units)


def _apart(one: Placement, other: Placement) -> bool:
    return any(
        one.at_um[a] + one.size_um[a] <= other.at_um[a] or other.at_um[a] + other.size_um[a] <= one.at_um[a]
        for a in range(3)
    )


class SearchLaws(TestCase):
    @settings(max_examples=120, deadline=None)
    @given(box=SMALL_BOX, units=SMALL_UNITS.filter(lambda units: len(units) <= 3), rules=SMALL_RULES)
    def test_a_proven_no_is_true_when_every_place_is_tried(
        self, box: Box, units: tuple[PackUnit, ...], rules: PackRules
    ) -> None:
        found = find_packing(box, units, rules)
        if isinstance(found, NoPacking) and found.proven:
            self.assertFalse(counted_out(box, units, rules))

    @settings(max_examples=60, deadline=None)
    @given(box=SMALL_BOX, units=SMALL_UNITS.filter(lambda units: len(units) <= 3))
    def test_where_nothing_must_be_held_what_can_be_packed_is_found(
        self, box: Box, units: tuple[PackUnit, ...]
    ) -> None:
        rules = PackRules(gap_um=0, support_percent=0)
        free = tuple(
            replace(unit, load_on_top_mg=None, clearance=Cushion(bottom_um=0, side_um=0, top_um=0)) for unit in units
        )
        self.assertEqual(isinstance(find_packing(box, free, rules), Packing), counted_out(box, free, rules))

    @settings(max_examples=150, deadline=None)
    @given(box=SMALL_BOX, units=SMALL_UNITS, rules=SMALL_RULES, more=st.tuples(*[st.integers(0, 2_000)] * 3))
    def test_a_larger_container_never_turns_yes_into_no(
        self, box: Box, units: tuple[PackUnit, ...], rules: PackRules, more: tuple[int, int, int]
    ) -> None:
        larger = replace(
            box, inner_um=(box.inner_um[0] + more[0], box.inner_um[1] + more[1], box.inner_um[2] + more[2])
        )
        if isinstance(find_packing(box, units, rules), Packing):
            self.assertIsInstance(find_packing(larger, units, rules), Packing)

    @settings(max_examples=60, deadline=None)
    @given(units=SMALL_UNITS, quantity=st.integers(1, 6), data=st.data())
    def test_one_more_of_a_unit_never_makes_the_cheapest_container_cheaper(
        self, units: tuple[PackUnit, ...], quantity: int, data: st.DataObject
    ) -> None:
        one = replace(units[0], quantity=quantity)
        inners = data.draw(st.lists(st.tuples(*[st.integers(2, 8)] * 3), min_size=1, max_size=5))
        offered = tuple(
            Offered(
                box=Box(code=f"C{n}", inner_um=(a * _MM, b * _MM, c * _MM), max_load_mg=10**9),
                cost=Decimal(a * b * c),
            )
            for n, (a, b, c) in enumerate(inners)
        )
        rules = PackRules(gap_um=0, support_percent=75)
        cost = {o.box.code: o.cost for o in offered}
        few = cheapest_container(offered, (one,), rules).packing
        many = cheapest_container(offered, (replace(one, quantity=quantity + 1),), rules).packing
        if many is not None:
            self.assertIsNotNone(few)
            self.assertLessEqual(cost[few.box if few else ""], cost[many.box])

    @settings(max_examples=60, deadline=None)
    @given(box=SMALL_BOX, units=SMALL_UNITS, rules=SMALL_RULES)
    def test_other_names_for_the_same_units_change_nothing(
        self, box: Box, units: tuple[PackUnit, ...], rules: PackRules
    ) -> None:
        other = tuple(replace(unit, code=f"x{9 - n}", name="y") for n, unit in enumerate(units))
        one, two = find_packing(box, units, rules), find_packing(box, other, rules)
        self.assertEqual(type(one), type(two))
        if isinstance(one, Packing) and isinstance(two, Packing):
            self.assertEqual(
                [(p.at_um, p.size_um) for p in one.placements], [(p.at_um, p.size_um) for p in two.placements]
            )


def close_round(packing: Packing, units: tuple[PackUnit, ...]) -> Box:
    """Return the smallest container the packing is valid in: the walls and the lid moved up to its units."""
    keep = {unit.code: unit.clearance for unit in units}
    ends = [
        (p.at_um[0] + p.size_um[0] + k.side_um, p.at_um[1] + p.size_um[1] + k.side_um, p.top_um + k.top_um)
        for p in packing.placements
        for k in (keep[p.unit],)
    ]
    return Box(code="close", inner_um=tuple(max(end[a] for end in ends) for a in range(3)), max_load_mg=10**12)  # type: ignore[arg-type]


class CloseWalls(TestCase):
    """Whoever says no for certain is shown a packing: equal goods, cushions, loads and gaps as in a shop."""

    def proven_no(self, box: Box, units: tuple[PackUnit, ...], rules: PackRules) -> bool:
        if ruled_out(box, units, rules) is not None:
            return True
        answers = (finish(box, units, rules, step, SearchBudget(left=30_000)) for step in range(2))
        return any(isinstance(answer, NoPacking) and answer.proven for answer in answers)

    def test_what_is_packed_is_never_called_impossible_with_the_walls_moved_up_to_it(self) -> None:
        looked_at = 0
        for family, count in (("d", 90), ("c", 60), ("a20", 20)):
            for order in orders(family, count):
                units = canonical_units(order.units)
                if not 2 <= sum(unit.quantity for unit in units) <= 11:
                    continue
                for one in order.offered[::9]:
                    roomy = replace(one.box, max_load_mg=10**12)
                    if ruled_out(roomy, units, order.rules) is not None:
                        continue
                    packing = quick(roomy, units, order.rules)
                    if packing is None:
                        continue
                    close = close_round(packing, units)
                    with self.subTest(f"{order.name} in {one.box.code}"):
                        looked_at += 1
                        self.assertEqual(faults_of(packing, replace(close, code=packing.box), units, order.rules), ())
                        self.assertFalse(self.proven_no(close, units, order.rules))
        self.assertGreater(looked_at, 150)

    @settings(max_examples=80, deadline=None)
    @given(box=SMALL_BOX, units=SMALL_UNITS.filter(lambda units: len(units) <= 2), twice=st.integers(1, 2))
    def test_a_proven_no_for_equal_units_is_true_when_every_place_is_tried(
        self, box: Box, units: tuple[PackUnit, ...], twice: int
    ) -> None:
        rules = PackRules(gap_um=0, support_percent=75)
        several = (replace(units[0], quantity=1 + twice), *units[1:])
        found = find_packing(box, several, rules)
        if isinstance(found, NoPacking) and found.proven:
            single = tuple(replace(units[0], code=f"e{n}") for n in range(1 + twice)) + units[1:]
            self.assertFalse(counted_out(box, single, rules))


class CutBoxes(TestCase):
    def test_what_was_cut_from_a_box_goes_back_when_there_are_few_pieces(self) -> None:
        for family in ("a0", "a10", "b0"):
            for order in orders(family, 24):
                if len(order.units) > 8:
                    continue
                with self.subTest(order.name):
                    box = next(o.box for o in order.offered if o.box.code == order.witness)
                    self.assertIsNone(ruled_out(box, order.units, order.rules))
                    self.assertIsInstance(find_packing(box, order.units, order.rules), Packing)

    def test_of_many_pieces_with_a_little_taken_away_most_go_back(self) -> None:
        solved = 0
        long = [
            order
            for family in ("a5", "a10", "a20")
            for order in [order for order in orders(family, 30) if len(order.units) > 11][:7]
        ]
        for order in long:
            found = cheapest_container(order.offered, order.units, order.rules)
            cost = {o.box.code: o.cost for o in order.offered}
            solved += found.packing is not None and cost[found.packing.box] <= cost[order.witness or ""]
        self.assertGreaterEqual(solved, 14, f"{solved} of {len(long)}")

    def test_many_pieces_without_waste_go_into_some_container(self) -> None:
        # A puzzle nobody packs: that they go back into their own is no longer asked (docs/packing.md).
        long = [order for order in orders("a0", 12) if len(order.units) > 12][:4]
        self.assertGreater(len(long), 2)
        for order in long:
            self.assertIsNotNone(cheapest_container(order.offered, order.units, order.rules).packing)
