"""The next cheaper step of each measure, the risk above, price stairs and where another is cheapest: worked by hand."""

import unittest
from dataclasses import replace
from decimal import Decimal

from core.tariffs.charges import Surcharge
from core.tariffs.cheaper import CheaperStep, StepRisk, cheaper_steps, measured, risks_of
from core.tariffs.model import (  # fmt: skip
    FlatPrice,
    FlatRate,
    Limits,
    Packaging,
    Service,
    VolumetricRule,
    WeightStep,
    ZoneTable,
)
from core.tariffs.probing import price_over
from core.tariffs.stairs import Stair, cheapest_runs, fits_inside, stairs_of
from core.units import Size
from tests.core.samples import SENDING, service, size, tariff
from tests.said import said

D = Decimal
STEPS = tuple(WeightStep(up_to_mg=kg * 1_000_000, price=D(p)) for kg, p in ((1, "4"), (2, "6"), (5, "9")))


def plain(**changes: object) -> Service:
    values: dict[str, object] = {
        "zones": (ZoneTable(zone="1", transit_days=1, steps=STEPS),),
        "volumetric": (),
        "surcharges": (),
        "limits": Limits(longest_um=1_000_000),
    }
    return service(**{**values, **changes})


def cheaper(one: Service, outer: Size, gross_mg: int) -> dict[str, CheaperStep]:
    found = cheaper_steps(tariff(one), one, outer=outer, gross_mg=gross_mg, sending=SENDING)
    return {step.measure: step for step in found}


def surcharge(amount: str, **above: int) -> Surcharge:
    values: dict[str, object] = {"longest_above_um": None, **above}
    return Surcharge(code="S", name="S", kind="fixed", amount=D(amount), zones=(), **values)  # type: ignore[arg-type]


class Cheaper(unittest.TestCase):
    def test_by_weight_the_step_below_and_nothing_else(self) -> None:
        found = cheaper(plain(), size(300, 200, 100), 1_009_000)
        self.assertEqual(set(found), {"weight"})
        step = found["weight"]
        self.assertEqual((step.at, step.less_by, step.price, step.saves), (1_000_000, 9_000, D(4), D(2)))

    def test_by_size_each_side_that_brings_the_volumetric_weight_under_a_step(self) -> None:
        # 31 x 20 x 17 cm is 10 540 / 5000 = 2.108 kg. 2 kg is 10 000 cm3: 29 x 20 x 17 = 9860; 31 x 18 x 17 = 9486
        # (19 wide: 10 013); 31 x 20 x 16 = 9920. Lighter does not help: size counts.
        rule = VolumetricRule(divisor_cm3_per_kg=5_000, round_up_um=10_000, above_cm3=0)
        found = cheaper(plain(volumetric=(rule,)), size(301, 200, 165), 1_200_000)
        self.assertEqual(
            {m: step.at for m, step in found.items() if m != "volume"},
            {"length": 290_000, "width": 180_000, "height": 160_000},
        )
        self.assertEqual({step.saves for step in found.values()}, {D(3)})
        self.assertIn("volume", found)

    def test_girth_and_thickness_are_looked_at_when_the_service_speaks_of_them(self) -> None:
        one = plain(surcharges=(surcharge("5", girth_above_um=600_000),))
        # Twice 200 + 101 is 602 mm: 2 mm of girth too much.
        found = cheaper(one, size(300, 200, 101), 900_000)
        self.assertEqual((found["girth"].saves, found["height"].less_by), (D(5), 1_000))
        # A girth is twice a sum: an odd micrometre of it is none.
        self.assertLessEqual(found["girth"].at, 600_001)
        thick = plain(surcharges=(surcharge("5", thickness_above_um=25_000),))
        self.assertEqual(cheaper(thick, size(300, 200, 26), 900_000)["thickness"].less_by, 1_000)
        self.assertNotIn("girth", cheaper(thick, size(300, 200, 26), 900_000))

    def test_at_the_cheapest_there_is_none_and_what_is_refused_has_none(self) -> None:
        self.assertEqual(cheaper(plain(), size(300, 200, 100), 900_000), {})
        self.assertEqual(cheaper(plain(), size(1_001, 200, 100), 900_000), {})

    def test_measures_are_written_in_their_units(self) -> None:
        told = [measured("weight", 9_000), measured("height", 12_000), measured("volume", 300)]
        self.assertEqual([said(one) for one in told], ["9 g", "12 mm", "300 cm3"])


class Risks(unittest.TestCase):
    def risks(self, one: Service, gross_mg: int, height_mm: float, bulge_mm: int) -> dict[str, StepRisk]:
        bulge = Size(length_um=0, width_um=0, height_um=bulge_mm * 1000)
        found = risks_of(
            tariff(one),
            one,
            outer=size(300, 200, height_mm),
            bulge=bulge,
            gross_mg=gross_mg,
            sigma_mg=10_000,
            sending=SENDING,
        )
        return {risk.measure: risk for risk in found}

    def test_one_sigma_under_a_step_is_passed_by_one_in_six_and_costs_the_difference(self) -> None:
        risk = self.risks(plain(), 990_000, 100, 0)["weight"]
        self.assertEqual((risk.room, risk.chance, risk.costs, risk.near), (10_000, D("0.1587"), D(2), True))

    def test_three_sigma_is_told_but_not_near_and_five_is_not_told(self) -> None:
        self.assertFalse(self.risks(plain(), 970_000, 100, 0)["weight"].near)
        self.assertEqual(self.risks(plain(), 950_000, 100, 0), {})

    def test_half_the_bulge_is_one_sigma_of_a_side_and_beyond_a_limit_it_is_refused(self) -> None:
        one = plain(limits=Limits(thickness_um=105_000))
        risk = self.risks(one, 500_000, 100, 10)["height"]
        self.assertEqual(
            (risk.room, risk.chance, risk.price, risk.costs, risk.near), (5_000, D("0.1587"), None, None, True)
        )


class Stairs(unittest.TestCase):
    def test_the_stairs_are_the_steps_and_end_where_it_is_refused(self) -> None:
        one = plain(surcharges=(surcharge("1", weight_above_mg=3_000_000),), limits=Limits(max_mg=4_000_000))
        price = price_over(tariff(one), one, "weight", outer=size(300, 200, 100), gross_mg=1, sending=SENDING)
        found = [(stair.up_to, stair.price) for stair in stairs_of(price, 1_000, 6_000_000)]
        self.assertEqual(
            found, [(1_000_000, D(4)), (2_000_000, D(6)), (3_000_000, D(9)), (4_000_000, D(10)), (6_000_000, None)]
        )

    def test_over_a_side_the_others_stay(self) -> None:
        one = plain(surcharges=(surcharge("2", longest_above_um=400_000),))
        price = price_over(tariff(one), one, "length", outer=size(300, 200, 100), gross_mg=500_000, sending=SENDING)
        self.assertEqual([s.up_to for s in stairs_of(price, 5_000, 1_200_000)], [400_000, 1_000_000, 1_200_000])

    def test_the_cheapest_changes_where_the_stairs_cross_and_of_two_alike_it_stays(self) -> None:
        stairs = {
            "a": (Stair(up_to=10, price=D(1)), Stair(up_to=20, price=D(5)), Stair(up_to=40, price=None)),
            "b": (Stair(up_to=15, price=D(2)), Stair(up_to=30, price=D(5)), Stair(up_to=40, price=None)),
        }
        runs = [(run.above, run.key, run.cheaper_by) for run in cheapest_runs(stairs, 1, 40)]
        self.assertEqual(runs, [(0, "a", None), (10, "b", D(3)), (30, "", None)])

    def test_a_package_takes_what_goes_in_however_it_is_turned(self) -> None:
        flat = FlatRate(max_mg=1, prices=(FlatPrice(zones=(), price=D(1)),))
        item = Packaging(code="F", name="F", services=("TWO",), inner=size(300, 200, 100), flat_rate=flat)
        self.assertTrue(fits_inside(size(100, 300, 200), item))
        self.assertFalse(fits_inside(replace(size(100, 300, 200), width_um=300_001), item))
