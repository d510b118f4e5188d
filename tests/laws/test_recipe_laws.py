"""Laws of recipes: in and out of a file is the same recipe; policies change nothing by themselves; bands that say the
same agree.
"""

from dataclasses import replace
from decimal import Decimal
from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st

from core.designing.crafts import CRAFTS
from core.designing.cupboard import planned_for
from core.designing.policies import POLICIES, breaches_of
from core.designing.propose import proposed
from core.parcels.plan import PlannedOrder
from core.recipes.goods import Product
from core.recipes.model import (
    Ahead,
    Band,
    Closure,
    Cushion,
    InnerCarton,
    InsertAmount,
    Minutes,
    MixItem,
    Recipe,
    Sample,
    When,
    WrapLayer,
)
from server.formats.base import read_file
from server.formats.recipe import RecipeFile, document_of
from tests.core.samples import jar, size
from tests.core.test_designing import desk

CODE = st.sampled_from(["W", "T", "K", "P", "TP", "I", "C-08", "C-14"])
LENGTH = st.integers(0, 200_000)
LINES = st.lists(st.text("abc dé.", min_size=1, max_size=20).map(str.strip).filter(bool), max_size=3).map(tuple)
NUMBER = st.integers(1, 2_000).map(lambda n: Decimal(n) / 100)
LAYER = st.builds(
    WrapLayer,
    wrap=CODE,
    turns=NUMBER.filter(lambda n: 0 < n <= 20),
    ends_top=st.integers(0, 20),
    ends_bottom=st.integers(0, 20),
    compression=st.integers(1, 100).map(lambda n: Decimal(n) / 100),
    overlap_um=LENGTH,
)
WHEN = st.none() | st.builds(
    When,
    first_order=st.sampled_from([None, True, False]),
    gift=st.sampled_from([None, True]),
    least_value=st.none() | NUMBER,
    with_goods=st.none() | CODE,
    without_goods=st.none() | CODE,
    countries=st.sampled_from([(), ("ALM",), ("ALM", "BEL")]),
    season=st.sampled_from([None, ("12-01", "01-06")]),
)
INSERT = st.builds(
    InsertAmount,
    insert=CODE,
    amount=st.integers(1, 9),
    per=st.sampled_from(["unit", "group", "layer", "parcel", "order", "product"]),
    place=st.sampled_from(["bottom", "between", "top", "outside"]),
    required=st.booleans(),
    group_of=st.integers(1, 9),
    when=WHEN,
    samples=st.lists(st.builds(Sample, insert=CODE, sku=CODE), max_size=2).map(tuple),
)
CLOSURE = st.none() | st.builds(
    Closure, tape=CODE, pattern=st.sampled_from(["centre", "h", "cross"]), both_faces=st.booleans(), overhang_um=LENGTH,
    required_grade=st.sampled_from(["none", "resistant", "evident"]),
)  # fmt: skip
BAND = st.builds(
    Band,
    first=st.just(1),
    last=st.just(1),
    layers=st.lists(LAYER, max_size=3).map(tuple),
    unit_box=st.none() | CODE,
    inner=st.none() | st.builds(InnerCarton, container=CODE, clearance_um=LENGTH),
    outers=st.lists(CODE, min_size=1, max_size=3).map(tuple),
    any_outer=st.booleans(),
    gap_um=LENGTH,
    cushion=st.builds(Cushion, bottom_um=LENGTH, side_um=LENGTH, top_um=LENGTH),
    fill=st.none() | CODE,
    proud_percent=st.integers(0, 50),
    closure=CLOSURE,
    inserts=st.lists(INSERT, max_size=3).map(tuple),
    marks=LINES,
    minutes=st.builds(Minutes, per_unit=NUMBER, per_parcel=NUMBER, per_order=NUMBER),
    school=st.sampled_from(["fill_tight", "base_fixed"]),
    divider=st.none() | CODE,
    fill_below=st.none() | CODE,
    fill_above=st.none() | CODE,
    unit_box_sealed=st.booleans(),
    steps=LINES,
)


def following(bands: list[Band]) -> tuple[Band, ...]:
    """The bands one after another, three sizes each."""
    return tuple(replace(one, first=3 * n + 1, last=3 * n + 3) for n, one in enumerate(bands))


RECIPE = st.builds(
    Recipe,
    code=st.just("any"),
    name=st.just("Any recipe"),
    version=st.just(0),
    goods_checks=LINES,
    wrap_note=st.just("Fold it"),
    proving_checks=LINES,
    cautions=LINES,
    bands=st.lists(BAND, min_size=1, max_size=4).map(following),
    buyer_note=st.just("Keep it"),
    ahead=st.lists(st.builds(Ahead, what=st.just("Freeze"), hours_before=NUMBER, minutes=NUMBER), max_size=2).map(
        tuple
    ),
    trial_needed=st.booleans(),
    mix=st.sampled_from([(), (MixItem(sku="JAR", quantity=2),)]),
)
PRODUCT = st.builds(
    lambda a, b, c, grams, frail, food, live: jar(
        size=size(a, b, c), weight_mg=grams * 1000, fragility=frail, food=food, live=live
    ),
    st.integers(20, 150),
    st.integers(20, 150),
    st.integers(15, 120),
    st.integers(20, 1_500),
    st.sampled_from(["sturdy", "delicate", "fragile"]),
    st.booleans(),
    st.booleans(),
)


class Recipes(TestCase):
    @settings(max_examples=150, deadline=None)
    @given(recipe=RECIPE)
    def test_out_to_a_file_and_in_again_is_the_same_recipe(self, recipe: Recipe) -> None:
        text = document_of(recipe).model_dump_json()
        self.assertEqual(read_file(RecipeFile, text, what="recipe file").core(number=0), recipe)

    @settings(max_examples=60, deadline=None)
    @given(recipe=RECIPE)
    def test_looking_for_breaches_changes_nothing_and_none_is_told_without_its_policy(self, recipe: Recipe) -> None:
        before = repr(recipe)
        every = breaches_of(recipe, (jar(glass=True, food=True, fragility="fragile"),), desk(), list(POLICIES))
        self.assertEqual(repr(recipe), before)
        for policy in POLICIES:
            one = breaches_of(recipe, (jar(glass=True, food=True, fragility="fragile"),), desk(), [policy])
            self.assertEqual(one, tuple(breach for breach in every if breach.policy == policy))

    @settings(max_examples=12, deadline=None)
    @given(product=PRODUCT, craft=st.sampled_from(CRAFTS))
    def test_a_proposed_recipe_always_plans(self, product: Product, craft: object) -> None:
        found = proposed(product, craft, desk(), code="new")  # type: ignore[arg-type]
        if found.recipe is None:
            self.assertTrue(found.lacks)
            return
        for band in found.recipe.bands:
            self.assertIsInstance(planned_for(found.recipe, product, band.last, desk()), PlannedOrder)

    @settings(max_examples=15, deadline=None)
    @given(units=st.integers(1, 6), cut=st.integers(1, 5), cushion=st.integers(0, 30_000))
    def test_bands_that_say_the_same_pack_the_same(self, units: int, cut: int, cushion: int) -> None:
        found = proposed(jar(), CRAFTS[0], desk(), code="new").recipe
        assert found is not None
        one = replace(
            found.bands[0],
            cushion=Cushion(bottom_um=cushion, side_um=cushion, top_um=cushion),
            outers=(),
            any_outer=True,
        )
        whole = replace(found, bands=(replace(one, first=1, last=6),))
        parted = replace(found, bands=(replace(one, first=1, last=cut), replace(one, first=cut + 1, last=6)))
        before, after = (planned_for(recipe, jar(), units, desk()) for recipe in (whole, parted))
        assert isinstance(before, PlannedOrder) and isinstance(after, PlannedOrder)
        self.assertEqual(before.chosen.costs, after.chosen.costs)
        self.assertEqual(before.chosen.only.placements, after.chosen.only.placements)
