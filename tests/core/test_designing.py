"""The design desk's rooms: crafts, proposals, bands, ways, policies, readiness, differences, tests."""

from dataclasses import replace
from decimal import Decimal as D
from unittest import TestCase

from core.designing.bands import SizeStep, bands_of
from core.designing.crafts import CRAFTS, craft_for, craft_named
from core.designing.cupboard import Desk, planned_for
from core.designing.differences import differences
from core.designing.policies import POLICIES, breaches_of, obeying
from core.designing.propose import proposed
from core.designing.readiness import plans_in_plenty, readiness_of
from core.designing.trials import drop_height_um
from core.designing.ways import compare_ways
from core.parcels.plan import PlannedOrder
from core.recipes.goods import Product
from core.recipes.model import Closure, Cushion, WrapLayer, check_bands
from core.supplies.items import Container, Fill
from tests.core.samples import DAY, HERE, KRAFT, LAYER, band, jar, recipe, size
from tests.core.test_every_field import shop
from tests.said import said


def desk(**materials: str) -> Desk:
    return Desk(facts=shop(), materials={"W": "plastic", **materials}, names={}, usual=HERE, ship_on=DAY)


SHEET_FIRST = WrapLayer(wrap="T", turns=D(1), ends_top=1, ends_bottom=1)
GLASS = jar(glass=True, food=True)


class Proposing(TestCase):
    def test_every_craft_gives_a_recipe_that_plans_in_every_band_with_a_reason_for_each_line(self) -> None:
        product = jar(size=size(120, 80, 40))
        for craft in CRAFTS:
            with self.subTest(craft.key):
                found = proposed(product, craft, desk(), code="new")
                assert found.recipe is not None, found.lacks
                check_bands(
                    replace(found.recipe, bands=(replace(found.recipe.bands[0], first=1), *found.recipe.bands[1:]))
                )
                for one in found.recipe.bands:
                    self.assertIsInstance(planned_for(found.recipe, product, one.last, desk()), PlannedOrder)
                self.assertTrue(all(line.why and line.words for line in found.lines))

    def test_the_nature_of_the_goods_chooses_the_craft(self) -> None:
        cases = {
            "living-culture": jar(live=True),
            "meltable": jar(meltable=True),
            "glass-jar": GLASS,
            "tall-fragile": jar(size=size(60, 60, 260), fragility="fragile"),
            "flat-plate": jar(size=size(300, 220, 30), fragility="fragile"),
        }
        for key, product in cases.items():
            self.assertEqual(craft_for(product).key, key)
        self.assertIsNone(craft_named("nonsense"))

    def test_4_a_fill_is_proposed_only_for_goods_it_holds(self) -> None:
        def with_fills(*fills: Fill) -> Desk:
            base = desk()
            shelf = replace(base.facts.shelf, fills={fill.code: fill for fill in fills})
            free = {**base.facts.free, **{fill.code: D(1000) for fill in fills}}
            return replace(base, facts=replace(base.facts, shelf=shelf, free=free))

        def fill_for(of: Product, *fills: Fill) -> str | None:
            found = proposed(of, craft_for(of), with_fills(*fills), code="new")
            return found.recipe.bands[0].fill if found.recipe else None

        cheap, sound = replace(KRAFT, code="CHEAP", unit_cost=D("0.001")), KRAFT
        self.assertEqual(fill_for(jar(), cheap, sound), "CHEAP")
        for weak in (replace(cheap, holds_mg=429_999), replace(cheap, sinks=True), replace(cheap, bursts=True)):
            self.assertEqual(fill_for(jar(), weak, sound), "K", weak)
        # What does not break may lie in a fill that lets it sink; what is too heavy may not.
        sturdy = jar(fragility="sturdy", food=False)
        self.assertEqual(fill_for(sturdy, replace(cheap, sinks=True), sound), "CHEAP")
        self.assertEqual(fill_for(sturdy, replace(cheap, holds_mg=1), sound), "K")
        # With nothing better the one there is; readiness tells what is exposed.
        self.assertEqual(fill_for(jar(), replace(cheap, sinks=True)), "CHEAP")

    def test_4_a_policy_swaps_a_fill_only_for_one_that_serves_as_well(self) -> None:
        plastic = replace(KRAFT, code="PLASTIC", name="Foam")
        how = recipe(band(1, 6, outers=("C-14",), fill="PLASTIC"))
        for other, taken in (
            (KRAFT, True),
            (replace(KRAFT, sinks=True), False),
            (replace(KRAFT, bursts=True), False),
            (replace(KRAFT, holds_mg=100), False),
        ):
            base = desk()
            shelf = replace(base.facts.shelf, fills={"PLASTIC": plastic, "K": other})
            there = replace(base, facts=replace(base.facts, shelf=shelf), materials={"PLASTIC": "plastic"})
            changed, left = obeying(how, (jar(),), there, "plant_based")
            self.assertEqual(changed.bands[0].fill, "K" if taken else "PLASTIC", other)
            self.assertEqual(bool(left), not taken)

    def test_a_part_left_out_is_not_in_the_recipe(self) -> None:
        whole = proposed(jar(), craft_for(jar()), desk(), code="new").recipe
        less = proposed(jar(), craft_for(jar()), desk(), code="new", without=("fill", "marks")).recipe
        assert whole is not None and less is not None
        self.assertEqual((bool(whole.bands[0].fill), less.bands[0].fill, less.bands[0].marks), (True, None, ()))

    def test_food_gets_a_food_wrap_first_and_a_closure_that_shows_tampering(self) -> None:
        found = proposed(GLASS, craft_for(GLASS), desk(), code="new").recipe
        assert found is not None
        self.assertEqual(found.bands[0].layers[0].wrap, "T")
        assert found.bands[0].closure is not None
        self.assertEqual((found.bands[0].closure.tape, found.bands[0].closure.required_grade), ("TP", "evident"))

    def test_goods_no_carton_takes_are_told_and_not_proposed(self) -> None:
        found = proposed(jar(size=size(900, 900, 900)), CRAFTS[0], desk(), code="new")
        self.assertIsNone(found.recipe)
        self.assertIn("No container takes one jar", said(found.lacks[0]))


def step(units: int, container: str, total: str, **others: str) -> SizeStep:
    return SizeStep(
        units=units, container=container, inner=None, total=D(total), each=D(total) / units, postage=D(1), gross_mg=1,
        others=tuple((code.replace("_", "-"), D(cost)) for code, cost in others.items()),
    )  # fmt: skip


class Bands(TestCase):
    def sizes(self, *steps: SizeStep) -> list[tuple[int, int, str]]:
        return [(b.first, b.last, b.outers[0]) for b in bands_of(steps, lambda units: band(1, units))]

    def test_neighbours_in_the_same_container_are_one_band(self) -> None:
        found = self.sizes(step(1, "A", "5"), step(2, "A", "6"), step(3, "B", "9"), step(4, "B", "9"))
        self.assertEqual(found, [(1, 2, "A"), (3, 4, "B")])

    def test_a_container_that_flaps_for_pennies_is_no_band(self) -> None:
        found = self.sizes(
            step(1, "A", "5.00", B="5.10"),
            step(2, "B", "6.00", A="6.05"),
            step(3, "A", "7.00", B="7.10"),
            step(4, "B", "8.00", A="8.10"),
        )
        self.assertEqual(len(found), 1)
        self.assertEqual(found[0][:2], (1, 4))

    def test_one_that_saves_more_than_a_column_is_worth_stays(self) -> None:
        self.assertEqual(
            self.sizes(step(1, "A", "4.00", B="9.00"), step(2, "B", "9.00", A="14.00")), [(1, 1, "A"), (2, 2, "B")]
        )
        self.assertEqual(self.sizes(), [])


class Comparing(TestCase):
    def test_ways_are_worked_out_in_full_and_the_cheapest_wins(self) -> None:
        how = recipe(band(1, 4, outers=("C-14",), any_outer=True))
        found = compare_ways(how, how.bands[0], jar(), 2, desk())
        good = [way for way in found.ways if way.candidate is not None]
        self.assertGreaterEqual(len(good), 2)
        least = min(good, key=lambda way: way.candidate.costs.total if way.candidate else D(0))
        self.assertEqual(found.winner, least.key)
        for way in found.ways:
            self.assertTrue(way.candidate is not None or way.problem)

    def test_a_way_that_comes_to_the_same_is_no_other_way(self) -> None:
        facts = shop()
        boards = tuple(replace(one, board="double") for one in facts.containers if isinstance(one, Container))
        mine = replace(desk(), facts=replace(facts, containers=boards), materials={"W": "paper"})
        snug = Cushion(bottom_um=20_000, side_um=20_000, top_um=20_000)
        how = recipe(band(1, 4, outers=("C-14",), any_outer=True, cushion=snug))
        found = compare_ways(how, how.bands[0], jar(), 2, mine)
        sums = [(w.candidate.container, w.candidate.costs, w.candidate.minutes) for w in found.ways if w.candidate]
        self.assertEqual(len(sums), len(set(sums)))
        self.assertNotIn(" 0.00 less", said(found.words))

    def test_the_balance_is_the_wage_at_which_both_cost_the_same(self) -> None:
        how = recipe(band(1, 4, outers=("C-14",), any_outer=True))
        found = compare_ways(how, how.bands[0], jar(), 2, desk())
        ways = {way.key: way.candidate for way in found.ways}
        winner = ways[found.winner]
        assert winner is not None
        for balance in found.balances:
            gaps = []
            for other in ways.values():
                if other is None or other is winner or other.minutes == winner.minutes:
                    continue
                without = [one.costs.total - one.costs.labour for one in (other, winner)]
                wage = (without[0] - without[1]) * 60 / (winner.minutes - other.minutes)
                gaps.append(abs(wage - balance.wage_per_hour))
            self.assertLess(min(gaps), D("0.02"))

    def test_two_versions_differ_in_what_was_changed_and_in_nothing_else(self) -> None:
        one = recipe(band(1, 2), band(3, 6))
        self.assertEqual(differences(one, one), ())
        other = replace(one, bands=(one.bands[0], replace(one.bands[1], fill=None)), cautions=("Glue is hot.",))
        found = differences(one, other)
        self.assertEqual([(said(d.band), said(d.what)) for d in found], [("", "Cautions"), ("3 to 6", "Fill")])


class Policies(TestCase):
    def test_each_policy_finds_its_breach_and_what_obeys_breaks_it_no_more(self) -> None:
        plastic = Closure(tape="PL", pattern="h", both_faces=True)
        how = recipe(
            band(1, 2, closure=plastic, marks=(), outers=("C-14",), any_outer=True, layers=(SHEET_FIRST, LAYER))
        )
        glass = jar(glass=True, food=True, fragility="fragile")
        mine = desk(PL="plastic", P="plastic", K="paper", T="paper", TP="paper")
        for policy in POLICIES:
            with self.subTest(policy):
                given = (
                    replace(how, bands=(replace(how.bands[0], marks=("Fragile",)),))
                    if policy == "fragile_marks_never"
                    else how
                )
                self.assertTrue(breaches_of(given, (glass,), mine, [policy]))
                self.assertEqual(breaches_of(given, (glass,), mine, []), ())
                after, left = obeying(given, (glass,), mine, policy)
                self.assertEqual(left, ())
                self.assertEqual(breaches_of(after, (glass,), mine, [policy]), ())

    def test_what_nothing_stands_in_for_is_told_and_left(self) -> None:
        how = recipe(band(1, 2, closure=Closure(tape="PL", pattern="h", both_faces=True)))
        all_plastic = desk(PL="plastic", TP="plastic")
        after, left = obeying(how, (jar(),), all_plastic, "no_plastic_tape")
        self.assertEqual(after, how)
        self.assertIn("No tape", said(left[0]))

    def test_another_tape_is_as_strong_as_the_recipe_asks(self) -> None:
        asked = Closure(tape="PL", pattern="h", both_faces=True, required_grade="evident")
        after, _ = obeying(recipe(band(1, 2, closure=asked)), (jar(),), desk(PL="plastic"), "no_plastic_tape")
        assert after.bands[0].closure is not None
        self.assertEqual(after.bands[0].closure.tape, "TP")


class Readiness(TestCase):
    def lacks(self, **changes: object) -> list[tuple[str, bool]]:
        how = changes.pop("how", recipe(band(1, 2, outers=("C-14",))))
        found = readiness_of(jar(**changes), how, changes.pop("desk", desk()), (), {})  # type: ignore[arg-type]
        return [(lack.fix_at, lack.stops) for lack in found[0].lacks]

    def test_what_is_missing_says_where_it_is_mended(self) -> None:
        self.assertEqual(self.lacks(size=None)[0], ("product", True))
        self.assertEqual(self.lacks(weight_mg=None)[0], ("product", True))
        self.assertEqual(self.lacks(food=True)[0], ("recipe", True))
        self.assertEqual(self.lacks(how=None)[0], ("recipe", True))
        self.assertEqual(
            self.lacks(
                how=recipe(
                    band(1, 2, outers=("C-08",), cushion=Cushion(bottom_um=90_000, side_um=90_000, top_um=90_000))
                )
            )[0][1],
            True,
        )
        self.assertEqual(self.lacks(), [("trial", False)])
        self.assertEqual(
            self.lacks(how=replace(recipe(band(1, 2, outers=("C-14",))), trial_needed=True))[0], ("trial", True)
        )

    def test_a_supply_at_nought_stops_and_one_below_its_mark_is_to_be_minded(self) -> None:
        base = shop()
        empty = replace(desk(), facts=replace(base, free={**base.free, "K": D(0)}))
        how = replace(recipe(band(1, 2, outers=("C-14",))), tried=True)
        found = readiness_of(jar(), how, empty, (), {})[0]
        self.assertFalse(found.ready)
        self.assertEqual(found.lacks[0].fix_at, "cupboard")
        low = readiness_of(jar(), how, desk(), (), {"K": D(2000)})[0]
        self.assertTrue(low.ready)
        self.assertEqual([lack.code for lack in low.lacks], ["runs_low"])


class Trials(TestCase):
    def test_what_is_kept_of_plenty_says_the_same_whatever_is_on_the_shelf(self) -> None:
        how = recipe()
        kept = plans_in_plenty(jar(), how, desk())
        full = desk()
        codes = list(full.facts.free)
        shelves = [dict(full.facts.free), dict.fromkeys(codes, D(0))]
        shelves += [{**full.facts.free, code: D(0)} for code in codes]
        answers = set()
        for free in shelves:
            here = replace(full, facts=replace(full.facts, free=free))
            said = readiness_of(jar(), how, here, (), {}, kept)
            self.assertEqual(said, readiness_of(jar(), how, here, (), {}), free)
            answers.add(tuple(size.ready for size in said))
        self.assertGreater(len(answers), 1, "no shelf made a difference")

    def test_the_drop_is_lower_for_heavier_parcels(self) -> None:
        cases = {
            1: 760,
            9_999_999: 760,
            10_000_000: 610,
            18_999_999: 610,
            19_000_000: 460,
            28_000_000: 310,
            45_000_000: 200,
        }
        for gross_mg, mm in cases.items():
            self.assertEqual(drop_height_um(gross_mg), mm * 1000)
        with self.assertRaises(ValueError):
            drop_height_um(0)
