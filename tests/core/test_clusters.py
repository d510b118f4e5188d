"""Equal units as one: what clusters there are, what they weigh and carry, and that taking them apart gives the units back."""

import unittest
from collections import Counter
from dataclasses import replace
from unittest import mock

from hypothesis import given, settings
from hypothesis import strategies as st

from core.packing import clustering
from core.packing.clustering import search_clustered
from core.packing.clusters import Choice, Cluster, Pieces, chosen, clusters_of, pieces_of
from core.packing.courses import SearchBudget
from core.packing.model import Box, Packing, PackRules, PackUnit, Placement
from core.packing.search import quick
from core.packing.verify import faults_of
from tests.core.benched import benched
from tests.core.samples import box, unit

GAP = 3_000


def of_numbers(one: PackUnit, number: tuple[int, int, int]) -> Cluster:
    return next(cluster for cluster in clusters_of(one, GAP) if cluster.number == number)


class Clusters(unittest.TestCase):
    def test_all_of_two_to_eight_are_there_once_for_each_axis_up(self) -> None:
        upright = unit("u", 20, (40, 50, 60))
        numbers = [cluster.number for cluster in clusters_of(upright, GAP)]
        by_hand = [(x, y, z) for x in range(1, 9) for y in range(1, 9) for z in range(1, 9) if 2 <= x * y * z <= 8]
        self.assertEqual(sorted(numbers), sorted(by_hand))
        either = replace(upright, up_axes=(0, 2))
        self.assertEqual(len(clusters_of(either, GAP)), 2 * len(by_hand))

    def test_none_has_more_units_than_there_are(self) -> None:
        self.assertEqual({cluster.count for cluster in clusters_of(unit("u", 3, (40, 50, 60)), GAP)}, {2, 3})
        self.assertEqual(clusters_of(unit("u", 1, (40, 50, 60)), GAP), ())

    def test_gaps_lie_between_its_units_only(self) -> None:
        self.assertEqual(of_numbers(unit("u", 8, (40, 50, 60)), (2, 1, 3)).size_um, (83_000, 50_000, 186_000))

    def test_what_stands_on_each_other_must_be_carried(self) -> None:
        # Each weighs 100 g and carries 250 g: three high, and 50 g more on top.
        firm = unit("u", 8, (40, 50, 60), weight_mg=100_000, load_on_top_mg=250_000)
        self.assertEqual(of_numbers(firm, (1, 1, 3)).load_on_top_mg, 50_000)
        self.assertEqual(of_numbers(firm, (2, 2, 1)).load_on_top_mg, 250_000)
        self.assertEqual(max(cluster.number[2] for cluster in clusters_of(firm, GAP)), 3)
        bare = replace(firm, load_on_top_mg=0)
        self.assertEqual({cluster.number[2] for cluster in clusters_of(bare, GAP)}, {1})
        self.assertEqual({cluster.load_on_top_mg for cluster in clusters_of(bare, GAP)}, {0})
        self.assertIsNone(of_numbers(unit("u", 8, (40, 50, 60)), (1, 1, 8)).load_on_top_mg)

    def test_turned_about_the_vertical_its_units_turn_with_it(self) -> None:
        two = of_numbers(unit("u", 2, (40, 50, 60)), (2, 1, 1))
        straight = two.units_of(Placement(unit="c", at_um=(0, 0, 9), size_um=(83_000, 50_000, 60_000)), "u", GAP)
        turned = two.units_of(Placement(unit="c", at_um=(0, 0, 9), size_um=(50_000, 83_000, 60_000)), "u", GAP)
        self.assertEqual([one.at_um for one in straight], [(0, 0, 9), (43_000, 0, 9)])
        self.assertEqual([one.at_um for one in turned], [(0, 0, 9), (0, 43_000, 9)])
        self.assertEqual({one.size_um for one in turned}, {(50_000, 40_000, 60_000)})


SOME_UNITS = st.lists(
    st.builds(
        lambda count, size, up, limit: unit("", count, size, up_axes=up, weight_mg=100_000, load_on_top_mg=limit),
        st.integers(1, 9),
        st.tuples(st.integers(30, 90), st.integers(30, 90), st.integers(30, 90)),
        st.sampled_from([(2,), (0, 1, 2), (1, 2)]),
        st.sampled_from([None, 0, 250_000]),
    ),
    min_size=1,
    max_size=4,
).map(lambda units: tuple(replace(one, code=f"{n:04}") for n, one in enumerate(units)))
LARGE = Box(code="B", inner_um=(10**8, 10**8, 10**8), max_load_mg=10**12)


def chosen_of(inside: Box, units: tuple[PackUnit, ...], gap_um: int, target: int, seed: int) -> tuple[Pieces, Choice]:
    pieces = pieces_of(inside, units, gap_um)
    return pieces, chosen(pieces, [one.quantity for one in units], target, seed)


def goods_of(inside: Box, units: tuple[PackUnit, ...], gap_um: int, target: int, seed: int) -> tuple[PackUnit, ...]:
    pieces, choice = chosen_of(inside, units, gap_um, target, seed)
    return pieces.units_of(choice)


class TakenApart(unittest.TestCase):
    @settings(max_examples=60, deadline=None)
    @given(SOME_UNITS, st.integers(1, 12), st.integers(1, 10**6))
    def test_the_goods_stay_the_same_goods(self, units: tuple[PackUnit, ...], target: int, seed: int) -> None:
        pieces, choice = chosen_of(LARGE, units, GAP, target, seed)
        goods = pieces.units_of(choice)
        self.assertEqual(goods, goods_of(LARGE, units, GAP, target, seed))
        volumes = [one.size_um[0] * one.size_um[1] * one.size_um[2] for one in goods]
        self.assertEqual(volumes, sorted(volumes, reverse=True))
        weight = sum(one.weight_mg * one.quantity for one in units)
        self.assertEqual(sum(piece.weight_mg * piece.quantity for piece in goods), weight)
        # Side by side on the floor, far apart: without error as clusters, and as units.
        placements = []
        for piece in goods:
            for _ in range(piece.quantity):
                x = len(placements) * 1_000_000
                up = piece.up_axes[0]
                one, other = (piece.size_um[axis] for axis in range(3) if axis != up)
                placements.append(Placement(unit=piece.code, at_um=(x, 0, 0), size_um=(one, other, piece.size_um[up])))
        rules = PackRules(gap_um=GAP, support_percent=75)
        whole = Packing(box="B", placements=tuple(placements))
        self.assertEqual(faults_of(whole, LARGE, goods, rules), ())
        apart = Packing(box="B", placements=pieces.taken_apart(whole.placements, GAP))
        self.assertEqual(faults_of(apart, LARGE, units, rules), ())
        self.assertEqual(Counter(p.unit for p in apart.placements), Counter({u.code: u.quantity for u in units}))

    def test_it_becomes_about_as_few_pieces_as_asked_for(self) -> None:
        units = (unit("0000", 9, (40, 50, 60)), unit("0001", 6, (30, 30, 30)))
        for target in (6, 9, 15):
            pieces = sum(piece.quantity for piece in goods_of(LARGE, units, GAP, target, 7))
            self.assertLessEqual(pieces, target)
            self.assertGreaterEqual(pieces, 3)

    def test_clusters_too_large_for_the_container_are_not_made(self) -> None:
        low = box(60, 60, 70)
        self.assertEqual(goods_of(low, (unit("0000", 8, (40, 50, 60)),), GAP, 2, 7)[0].quantity, 8)


class Search(unittest.TestCase):
    def cases(self) -> list[tuple[Box, tuple[PackUnit, ...], PackRules]]:
        """Return orders with the container an exact model or a long search found a packing in, which no quick filling does."""
        known = ((53, "C-16"), (415, "C-19"), (436, "C-18"), (523, "C-24"), (592, "C-04"))
        return [benched("d", number, code) for number, code in known]

    def test_what_quick_fillings_do_not_find_is_found(self) -> None:
        packed = 0
        for inside, units, rules in self.cases():
            self.assertIsNone(quick(inside, units, rules))
            found = search_clustered(inside, units, rules, 200_000, 0, SearchBudget(left=200_000))
            if found is not None:
                packed += 1
                self.assertEqual(faults_of(replace(found, box=inside.code), inside, units, rules), ())
        self.assertGreaterEqual(packed, 3)

    def test_equal_input_gives_an_equal_answer_and_costs_the_same(self) -> None:
        inside, units, rules = self.cases()[0]
        answers = []
        for _ in range(2):
            effort = SearchBudget(left=60_000)
            answers.append((search_clustered(inside, units, rules, 50_000, 1, effort), effort.left))
        self.assertEqual(answers[0], answers[1])
        self.assertLess(answers[0][1], 60_000)

    def test_no_pieces_are_tried_twice_and_when_there_are_no_others_it_ends(self) -> None:
        inside, units = (
            box(300, 200, 60),
            (unit("0000", 9, (60, 50, 50), load_on_top_mg=0), unit("0001", 1, (70, 70, 55))),
        )
        effort, tried = SearchBudget(left=1_000_000), []
        with mock.patch.object(clustering, "_packed", side_effect=lambda *asked: tried.append(asked[1])):
            for step in range(6):
                search_clustered(inside, units, PackRules(), 150_000, step, effort)
        self.assertGreater(len(tried), 5)
        self.assertEqual(len(tried), len(set(tried)))
        self.assertGreater(effort.left, 900_000)

    def test_however_clusters_are_come_upon_equal_ones_are_told_alike(self) -> None:
        units = (unit("0000", 6, (60, 50, 50)), unit("0001", 6, (70, 45, 55)))
        found = [goods_of(box(400, 300, 200), units, 0, 5, seed) for seed in range(1, 400)]
        without_codes = [frozenset((u.size_um, u.quantity, u.weight_mg, u.up_axes) for u in goods) for goods in found]
        self.assertEqual(len(set(found)), len(set(without_codes)))
        self.assertLess(len(set(found)), len(found))

    def test_where_there_is_nothing_to_join_nothing_is_done(self) -> None:
        effort = SearchBudget(left=1_000)
        different = tuple(unit(f"{n:04}", 1, (40 + n, 50, 60)) for n in range(12))
        few = (unit("0000", 4, (40, 50, 60)),)
        for units in (different, few):
            self.assertIsNone(search_clustered(box(50, 50, 70), units, PackRules(), 1_000, 0, effort))
        self.assertEqual(effort.left, 1_000)


if __name__ == "__main__":
    unittest.main()
