"""Every field of a recipe and of a product changes something: the plan, the steps of the hands, what is missing, or a
paper.
"""

from dataclasses import fields, replace
from decimal import Decimal as D
from typing import Any
from unittest import TestCase

from core.bench.steps import steps_of
from core.designing.cupboard import Desk
from core.designing.policies import POLICIES
from core.designing.readiness import readiness_of
from core.parcels.facts import Facts
from core.parcels.layers import pack_layers
from core.parcels.plan import Blocked, PlannedOrder, plan_order
from core.parcels.workings import workings_of
from core.recipes.damage import Arrivals
from core.recipes.expand import OrderLine
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
    Occasion,
    Recipe,
    Sample,
    When,
    WrapLayer,
)
from core.supplies.items import Insert, Tape, UnitBox
from tests.core.samples import CARD, DAY, HERE, KRAFT, LABEL, SHELF, TAPE, band, carton, facts, jar, recipe, size
from tests.said import said, said_all

PLAIN_TAPE = Tape(code="PL", name="Plain", mg_per_m=9_000, unit_cost=D("0.02"), grade="none")
SHEET = Insert(code="DIV", name="Sheet", weight_mg=30_000, unit_cost=D("0.09"), thickness_um=3_000)
SAMPLE = Insert(code="S", name="Sample", weight_mg=20_000, unit_cost=D("0.35"), thickness_um=9_000)
TIN = UnitBox(
    code="TIN", name="Tin", inner=size(100, 100, 130), outer=size(104, 104, 134), tare_mg=90_000, unit_cost=D("0.8")
)
CARTONS = (
    carton("C-08", size(230, 160, 170), cost="0.62"),
    carton("C-14", size(320, 230, 170), cost="1.05"),
    carton("C-20", size(420, 330, 330), cost="2.40"),
    carton("C-30", size(560, 440, 400), cost="3.10"),
)


def shop() -> Facts:
    base = facts(containers=CARTONS)
    shelf = replace(
        SHELF,
        tapes={"TP": TAPE, "PL": PLAIN_TAPE},
        inserts={"I": CARD, "L": LABEL, "DIV": SHEET, "S": SAMPLE},
        fills={"K": KRAFT, "P": SHELF.fills["P"]},
        unit_boxes={"TIN": TIN},
    )
    more = {code: D(1000) for code in ("PL", "DIV", "S", "TIN")}
    return replace(base, shelf=shelf, free={**base.free, **more})


def told(
    how: Recipe, product: Product, units: int = 4, *, other: Product | None = None, occasion: Occasion | None = None,
    shop_facts: Facts | None = None,
) -> str:  # fmt: skip
    """Everything a person is told of an order, without the recipe itself."""
    given = shop_facts or shop()
    lines: tuple[OrderLine, ...] = (OrderLine(sku=product.sku, quantity=units, product=product, recipe=how),)
    if other is not None:
        lines += (OrderLine(sku=other.sku, quantity=1, product=other, recipe=how),)
    plan = plan_order(
        lines, given, destination=HERE, ship_on=DAY, occasion=occasion or Occasion(country="ALM", day="11-23")
    )
    desk = Desk(facts=given, materials={"W": "plastic"}, names={}, usual=HERE, ship_on=DAY)
    ready = readiness_of(product, how, desk, tuple(POLICIES), {})
    if isinstance(plan, Blocked):
        return f"{[said(m.message) for m in plan.missing]} {ready}"
    assert isinstance(plan, PlannedOrder)
    parts: list[Any] = [plan.warnings, plan.cautions, plan.why, ready]
    for parcel in plan.chosen.parcels:
        one = parcel.candidate
        layers = pack_layers(parcel, {})
        parts += [
            steps_of(parcel, (how,), layers, {}),
            one.name,
            one.costs,
            one.weight,
            one.uses,
            one.outer_bulged,
            one.placements,
            one.minutes,
            one.nested,
            one.void,
            one.quotes,
            one.refusals,
            one.damage_probability,
            parcel.goods,
            layers,
            workings_of(one, parcel.pieces, wage_per_hour=D(15), goods_cost=D(4)),
        ]
    parts += [(way.key, way.costs) for way in plan.others]
    return repr(parts) + " ".join(said_all(plan.warnings))


RULE = InsertAmount(insert="I", amount=1, per="parcel", place="top", required=False)


def of_band(**changes: Any) -> Recipe:
    base: dict[str, Any] = {"outers": ("C-20",), "any_outer": False}
    return recipe(band(1, 6, **{**base, **changes}))


class ARecipeSays(TestCase):
    """One changed field at a time, against the same recipe without it."""

    def differs(self, before: Recipe, after: Recipe, **more: Any) -> None:
        product = more.pop("product", jar())
        self.assertNotEqual(told(before, product, **more), told(after, product, **more))

    def test_every_field_of_a_band(self) -> None:
        wide = {"gap_um": 12_000}
        two_layers = {"outers": ("C-14",)}
        changes: dict[str, tuple[dict[str, Any], dict[str, Any]]] = {
            "layers": ({}, {"layers": ()}),
            "unit_box": ({}, {"unit_box": "TIN"}),
            "inner": ({}, {"inner": InnerCarton(container="C-14"), "outers": ("C-30",)}),
            "outers": ({}, {"outers": ("C-30",)}),
            "any_outer": ({"outers": ("C-08",)}, {"any_outer": True}),
            "gap_um": ({}, wide),
            "cushion": ({}, {"cushion": Cushion(bottom_um=50_000, side_um=20_000, top_um=20_000)}),
            "fill": ({}, {"fill": None}),
            "proud_percent": ({}, {"proud_percent": 20}),
            "closure": ({}, {"closure": None}),
            "inserts": ({}, {"inserts": ()}),
            "marks": ({}, {"marks": ()}),
            "minutes": ({}, {"minutes": Minutes(per_unit=D(2), per_parcel=D(3))}),
            "school": ({}, {"school": "base_fixed"}),
            "divider": (two_layers, {"divider": "DIV"}),
            "fill_below": ({}, {"fill_below": "P"}),
            "fill_above": ({}, {"fill_above": "P"}),
            "unit_box_sealed": ({"unit_box": "TIN"}, {"unit_box": "TIN", "unit_box_sealed": True}),
            "steps": ({}, {"steps": ("Warm the pack first.",)}),
        }
        # ``thermal`` needs weather: test_care_fields.
        self.assertEqual({*changes, "first", "last", "thermal"}, {one.name for one in fields(Band)})
        for name, (base, change) in changes.items():
            with self.subTest(name):
                units = 24 if name == "divider" else 4
                before, after = of_band(**base), of_band(**{**base, **change})
                if name == "divider":
                    before, after = (
                        replace(one, bands=(replace(one.bands[0], last=24, outers=("C-30",)),))
                        for one in (before, after)
                    )
                self.differs(before, after, units=units)
        self.differs(recipe(band(1, 6)), recipe(band(1, 3), band(4, 6, outers=("C-14",))))  # first and last

    def test_every_field_of_a_wrap(self) -> None:
        base = WrapLayer(wrap="W", turns=D(2), ends_top=2, ends_bottom=2)
        changes: dict[str, Any] = {
            "wrap": "T", "turns": D(3), "ends_top": 3, "ends_bottom": 4, "compression": D("0.7"), "overlap_um": 90_000,
            "per_units": 2,
        }  # fmt: skip
        self.assertEqual(set(changes), {one.name for one in fields(WrapLayer)})
        for name, value in changes.items():
            with self.subTest(name):
                self.differs(of_band(layers=(base,)), of_band(layers=(replace(base, **{name: value}),)))

    def test_every_field_of_a_cushion_an_inner_and_the_minutes(self) -> None:
        for name in ("bottom_um", "side_um", "top_um"):
            base = Cushion(bottom_um=30_000, side_um=20_000, top_um=20_000)
            self.differs(of_band(), of_band(cushion=replace(base, **{name: 45_000})))
        held = {"outers": ("C-30",), "any_outer": True}
        inner = InnerCarton(container="C-14")
        self.differs(of_band(inner=inner, **held), of_band(inner=replace(inner, container="C-20"), **held))
        self.differs(of_band(inner=inner, **held), of_band(inner=replace(inner, clearance_um=90_000), **held))
        for name in ("per_unit", "per_parcel", "per_order"):
            minutes = Minutes(per_unit=D(1), per_parcel=D(3))
            self.differs(of_band(minutes=minutes), of_band(minutes=replace(minutes, **{name: D(9)})))

    def test_every_field_of_a_closure(self) -> None:
        base = Closure(tape="TP", pattern="h", both_faces=True)
        changes: dict[str, Any] = {"tape": "PL", "pattern": "cross", "both_faces": False, "overhang_um": 90_000}
        for name, value in changes.items():
            with self.subTest(name):
                self.differs(of_band(closure=base), of_band(closure=replace(base, **{name: value})))
        plain = replace(base, tape="PL")
        self.differs(of_band(closure=plain), of_band(closure=replace(plain, required_grade="evident")))
        self.assertEqual({*changes, "required_grade"}, {one.name for one in fields(Closure)})

    def test_every_field_of_an_insert(self) -> None:
        changes: dict[str, Any] = {
            "insert": "S",
            "amount": 2,
            "per": "unit",
            "place": "bottom",
            "when": When(gift=True),
            "samples": (Sample(insert="S", sku="OTHER"),),
        }
        for name, value in changes.items():
            with self.subTest(name):
                self.differs(of_band(inserts=(RULE,)), of_band(inserts=(replace(RULE, **{name: value}),)))
        grouped = replace(RULE, per="group")
        self.differs(of_band(inserts=(grouped,)), of_band(inserts=(replace(grouped, group_of=2),)))
        self.assertEqual({*changes, "group_of", "required"}, {one.name for one in fields(InsertAmount)})

    def test_an_insert_that_must_go_in_stops_the_order_when_it_is_gone_another_stays_out_and_is_told(self) -> None:
        base = shop()
        gone = replace(base, free={**base.free, "I": D(0)})
        free = told(of_band(inserts=(RULE,)), jar(), shop_facts=gone)
        must = told(of_band(inserts=(replace(RULE, required=True),)), jar(), shop_facts=gone)
        self.assertIn("Card is left out: 0 free in stock.", free)
        self.assertIn("this parcel needs 1, 0 is free", must)

    def test_what_stays_out_is_counted_as_it_would_go_in(self) -> None:
        base = shop()
        three = replace(base, free={**base.free, "I": D(3)})
        each, group = replace(RULE, per="unit"), replace(RULE, per="group", group_of=2)
        for rule, enough in ((each, False), (group, True)):
            text = told(of_band(inserts=(rule,)), jar(), shop_facts=three)
            self.assertEqual("is left out: 3 free" not in text, enough, rule.per)

    def test_every_condition_of_an_insert_keeps_it_out(self) -> None:
        always = told(of_band(inserts=(RULE,)), jar())
        changes: dict[str, Any] = {
            "first_order": True,
            "gift": True,
            "least_value": D(50),
            "with_goods": "X",
            "without_goods": "JAR",
            "countries": ("BEL",),
            "season": ("12-01", "12-24"),
        }
        self.assertEqual(set(changes), {one.name for one in fields(When)})
        for name, value in changes.items():
            with self.subTest(name):
                kept = told(of_band(inserts=(replace(RULE, when=When(**{name: value})),)), jar())
                self.assertNotEqual(kept, always)
        met = Occasion(first_order=True, gift=True, value=D(60))
        every = When(first_order=True, gift=True, least_value=D(50), countries=("ALM",), season=("11-01", "11-30"))
        self.assertEqual(
            told(of_band(inserts=(replace(RULE, when=every),)), jar(), occasion=met),
            told(of_band(inserts=(RULE,)), jar(), occasion=met),
        )

    def test_every_field_for_all_sizes(self) -> None:
        base = of_band()
        changes: dict[str, Any] = {
            "name": "Other",
            "goods_checks": ("Look twice.",),
            "wrap_note": "Fold the ends.",
            "proving_checks": ("Flip it.",),
            "closed_checks": ("Turn it.",),
            "cautions": ("Hot glue: gloves.",),
            "ahead": (Ahead(what="Freeze the packs", hours_before=D(12), minutes=D(2)),),
            "trial_needed": True,
            "arrivals": Arrivals(damaged=2, known=40),
            "code": "other",
        }
        for name, value in changes.items():
            with self.subTest(name):
                if name == "code":
                    continue  # it names the recipe: versions are kept by it
                self.differs(base, replace(base, **{name: value}))
        needed = replace(base, trial_needed=True)
        self.differs(needed, replace(needed, tried=True))
        # version: kept with the parcel (server tests); buyer_note: on the slip (server tests); mix: below;
        # mailer_checks: of a mailer (test_bench).
        rest = {"bands", "version", "tried", "buyer_note", "mix", "mailer_checks"}
        self.assertEqual({*changes, *rest}, {one.name for one in fields(Recipe)})

    def test_a_recipe_for_a_mix_packs_that_mix_and_nothing_else(self) -> None:
        lid = jar(sku="LID", name="lid", weight_mg=200_000)
        single = of_band()
        mixed = replace(
            of_band(layers=()),
            code="mix",
            name="Jar with lid",
            mix=(MixItem(sku="JAR", quantity=4), MixItem(sku="LID", quantity=1)),
        )
        lines = tuple(OrderLine(sku=p.sku, quantity=q, product=p, recipe=single) for p, q in ((jar(), 4), (lid, 1)))
        packed = tuple(replace(line, recipe=mixed) for line in lines)
        one = plan_order(packed, shop(), destination=HERE, ship_on=DAY)
        other = plan_order(lines, shop(), destination=HERE, ship_on=DAY)
        assert isinstance(one, PlannedOrder) and isinstance(other, PlannedOrder)
        self.assertNotEqual(one.chosen.costs, other.chosen.costs)


class AProductSays(TestCase):
    def differs(
        self, name: str, value: Any, *, other: Product | None = None, base: dict[str, Any] | None = None
    ) -> None:
        before = jar(**(base or {}))
        self.assertNotEqual(
            told(of_band(), before, other=other), told(of_band(), replace(before, **{name: value}), other=other), name
        )

    def test_every_field_of_a_product(self) -> None:
        soap = jar(sku="SOAP", name="soap", scented=True)
        plain = jar(sku="PLAIN", name="plain")
        changes: dict[str, Any] = {
            "name": "crock",
            "size": size(90, 72, 98),
            "weight_mg": 500_000,
            "weight_spread_mg": 40_000,
            "goods_cost": D(90),
            "orientation": "any",
            "fragility": "fragile",
            "glass": True,
            "meltable": True,
            "restricted": True,
            "delicate_place": "rim",
            "lowest_c": 2,
            "highest_c": 25,
            "longest_days": 1,
            "keeps_days": 1,
            "live": True,
            "holds": ("batteries",),
        }
        for name, value in changes.items():
            with self.subTest(name):
                # Away from the coast the road takes longer than a day.
                self.differs(name, 0 if name in ("longest_days", "keeps_days") else value)
        self.differs("food", True)
        self.differs("food", True, other=soap)
        self.differs("scented", True, other=jar(sku="JAM", name="jam", food=True))
        self.differs("frozen", True, other=plain)
        self.differs("not_with", ("PLAIN",), other=plain)
        self.differs("sku", "JAR-2")
        self.differs("assumed", ("weight",), base={"family": "jars"})
        self.differs("family", "pots", base={"assumed": ("weight",), "family": "jars"})
        rest = {"food", "scented", "frozen", "not_with", "sku", "assumed", "family", "load_on_top_mg"}
        self.assertEqual({*changes, *rest}, {one.name for one in fields(Product)})

    def test_what_bears_nothing_on_top_is_packed_otherwise(self) -> None:
        how = recipe(band(1, 24, outers=("C-20",), gap_um=0))
        self.assertNotEqual(told(how, jar(), 20), told(how, jar(load_on_top_mg=0), 20))
