"""The weight check over every demo order: what the rule says of each single change, worked out here on its own (rules
8.3).
"""

import math
from collections import Counter
from collections.abc import Sequence
from decimal import Decimal
from typing import ClassVar

from django.test import TestCase

from core.bench.weighing import Slip, check_weight, share_noticed
from core.parcels.candidate import PlannedParcel
from core.parcels.plan import PlannedOrder
from server.bench.selectors import slips_for
from server.commands.demo import load_demo
from server.plans.mapping import plan_from_json
from server.plans.models import Plan
from server.workshops.models import Workshop
from tests.kept_rows import begin_with


def _density(value: float, mean: float, sigma: float) -> float:
    return math.exp(-((value - mean) ** 2) / (2 * sigma**2))


def asks(slips: Sequence[Slip], sigma: int, reading: int, *, look: Decimal, one_in: int) -> bool:
    """The rule as it is written, with no short cut: beyond three sigma, or the likeliest change is worth a look."""
    if abs(reading) > 3 * sigma:
        return True
    members = Counter(slip.kind for slip in slips)
    priors = [1 / one_in / 5 / members[slip.kind] for slip in slips]
    weighed = [p * _density(reading, slip.effect_mg, sigma) for p, slip in zip(priors, slips, strict=True)]
    total = sum(weighed) + (1 - sum(priors)) * _density(reading, 0, sigma)
    likeliest = max(range(len(slips)), key=lambda at: weighed[at])
    chance = weighed[likeliest] / total
    return chance > priors[likeliest] and chance * float(slips[likeliest].unnoticed_cost) > float(look)


class EveryDemoOrder(TestCase):
    workshop: ClassVar[Workshop]
    look: ClassVar[Decimal]

    @classmethod
    def setUpTestData(cls) -> None:
        begin_with("whole sample", load_demo)
        cls.workshop = Workshop.objects.get()
        cls.look = cls.workshop.wage_per_hour * cls.workshop.look_minutes / 60

    def parcels(self) -> list[tuple[PlannedOrder, PlannedParcel]]:
        found = []
        for row in (
            Plan.objects.of(self.workshop).filter(kept__isnull=False).select_related("kept").order_by("order__number")
        ):
            plan = plan_from_json(row.document)
            if isinstance(plan, PlannedOrder):
                found += [(plan, parcel) for parcel in plan.chosen.parcels]
        return found

    def test_11_a_reading_at_each_single_change_gets_the_answer_of_the_rule(self) -> None:
        looked_at = 0
        for plan, parcel in self.parcels():
            slips = slips_for(self.workshop, plan, parcel)
            sigma = parcel.candidate.weight.sigma_mg
            for reading in (0, *(slip.effect_mg for slip in slips)):
                check = check_weight(
                    expected_mg=0,
                    sigma_mg=sigma,
                    measured_mg=reading,
                    slips=slips,
                    look_cost=self.look,
                    slip_one_in=self.workshop.slip_one_in,
                )
                rule = asks(slips, sigma, reading, look=self.look, one_in=self.workshop.slip_one_in)
                self.assertEqual(check.fine, not rule, (parcel.candidate.container, reading, sigma))
                looked_at += 1
        self.assertGreater(looked_at, 150)

    def test_11_nineteen_of_twenty_missing_units_are_noticed_over_the_demo(self) -> None:
        units, noticed = 0, 0.0
        for plan, parcel in self.parcels():
            slips = slips_for(self.workshop, plan, parcel)
            for piece in parcel.pieces:
                slip = next(s for s in slips if s.kind == "unit_missing" and dict(s.what.facts)["name"] == piece.name)  # type: ignore[union-attr]
                share = share_noticed(
                    slip,
                    slips,
                    sigma_mg=parcel.candidate.weight.sigma_mg,
                    look_cost=self.look,
                    slip_one_in=self.workshop.slip_one_in,
                )
                units += piece.units
                noticed += share * piece.units
        self.assertGreaterEqual(noticed / units, 0.95)
