"""What the bench taught, what carriers did, what may be claimed (rules 17.5)."""

import random
import unittest
from datetime import date, timedelta
from decimal import Decimal as D

from core.outcomes.carriers import Delivered, claim_for, on_time, reweighed_by, whole_from
from core.outcomes.learned import Timed, Weighed, bulge_fit, fill_fit, minutes_fit, weight_fit
from core.recipes.model import Minutes
from core.units import Size
from tests.core.samples import size

NOW = Minutes(per_unit=D(1), per_parcel=D(3))
DAY = date(2026, 10, 5)


def _timed(each: float, once: float, units: tuple[int, ...] = (1, 1, 2, 2, 3, 4, 4, 6, 6, 1)) -> list[Timed]:
    draw = random.Random(4)
    return [Timed(units=n, minutes=each * n + once + draw.uniform(-0.3, 0.3)) for n in units]


class MinutesLearned(unittest.TestCase):
    def test_minutes_a_unit_and_a_parcel_come_out_of_the_times(self) -> None:
        fit = minutes_fit(_timed(1.6, 4.0), NOW)
        assert fit is not None
        self.assertAlmostEqual(float(fit.per_unit), 1.6, delta=0.15)
        self.assertAlmostEqual(float(fit.per_parcel), 4.0, delta=0.4)
        self.assertEqual((fit.count, fit.left_out), (10, 0))

    def test_a_telephone_call_is_left_out(self) -> None:
        fit = minutes_fit([*_timed(1.6, 4.0), Timed(units=1, minutes=55)], NOW)
        assert fit is not None
        self.assertEqual(fit.left_out, 1)
        self.assertAlmostEqual(float(fit.per_unit), 1.6, delta=0.15)

    def test_as_planned_and_too_few_are_not_offered(self) -> None:
        self.assertIsNone(minutes_fit(_timed(1, 3), NOW))
        self.assertIsNone(minutes_fit(_timed(2, 6)[:7], NOW))

    def test_with_one_order_size_both_are_scaled_alike(self) -> None:
        fit = minutes_fit(_timed(2, 6, units=(2,) * 9), NOW)
        assert fit is not None
        self.assertEqual((fit.per_unit, fit.per_parcel), (D("2.0"), D("6.0")))


class WeightsLearned(unittest.TestCase):
    def test_a_unit_s_weight_comes_out_of_weighed_parcels(self) -> None:
        draw = random.Random(8)
        rows = [
            Weighed(units=n, rest_mg=300_000, measured_mg=300_000 + n * 454_000 + round(draw.gauss(0, 3_000)))
            for n in (1, 2, 1, 3, 2, 1, 6)
        ]
        fit = weight_fit(rows, 430_000, 1_000)
        assert fit is not None
        self.assertAlmostEqual(fit.unit_mg, 454_000, delta=1_500)
        self.assertEqual((fit.count, fit.units), (7, 16))

    def test_nothing_is_offered_within_its_own_uncertainty_or_with_four_parcels(self) -> None:
        rows = [Weighed(units=1, rest_mg=0, measured_mg=w) for w in (428_000, 436_000, 431_000, 427_000, 432_000)]
        self.assertIsNone(weight_fit(rows, 430_000, 1_000))
        self.assertIsNone(weight_fit(rows[:4], 100_000, 1_000))


class BulgeAndFill(unittest.TestCase):
    def test_bulge_is_the_mean_of_five_measured(self) -> None:
        nominal = size(300, 200, 150)
        real = [Size(length_um=300_000, width_um=200_000, height_um=150_000 + mm * 1000) for mm in (9, 11, 10, 12, 8)]
        fit = bulge_fit([(nominal, one) for one in real], 6_000)
        assert fit is not None
        self.assertEqual((fit.bulge_um, fit.count), (10_000, 5))
        self.assertIsNone(bulge_fit([(nominal, one) for one in real[:4]], 6_000))
        self.assertIsNone(bulge_fit([(nominal, one) for one in real], 10_000))

    def test_fill_really_used_between_counts(self) -> None:
        fit = fill_fit([(D(100), D(120)), (D(50), D(60))], D("1.5"))
        assert fit is not None
        self.assertEqual((fit.factor, fit.packing_factor, fit.counts), (D("1.200"), D("1.80"), 2))
        self.assertIsNone(fill_fit([(D(100), D(120))], D("1.5")))
        self.assertIsNone(fill_fit([(D(100), D(103)), (D(50), D(50))], D("1.5")))


class Carriers(unittest.TestCase):
    def test_days_promised_and_taken_with_the_share_late(self) -> None:
        def came(days: int) -> Delivered:
            return Delivered(
                carrier="oxgang", service="box", zone="near", sent_on=DAY, promised_on=DAY + timedelta(days=2),
                delivered_on=DAY + timedelta(days=days),
            )  # fmt: skip

        (row,) = on_time([came(days) for days in (1, 2, 2, 4)])
        self.assertEqual((row.count, row.late, row.worst_late_days), (4, 1, 2))
        self.assertEqual((row.promised_days, row.real_days), (D("2.0"), D("2.2")))

    def test_what_was_charged_afterwards(self) -> None:
        rows = [("oxgang", 1_000, 1_400, D("1.50")), ("oxgang", 1_000, None, D(0)), ("wending", 1, None, D(0))]
        (row,) = reweighed_by(rows)
        self.assertEqual(
            (row.carrier, row.count, row.of, row.charged, row.median_more_mg), ("oxgang", 1, 2, D("1.50"), 400)
        )

    def test_nobody_complained_for_fourteen_days(self) -> None:
        self.assertEqual(whole_from(DAY), date(2026, 10, 19))


class Claims(unittest.TestCase):
    def _claim(self, outcome: str = "broken", **changes: object):  # type: ignore[no-untyped-def]
        facts: dict[str, object] = {
            "loss": D("38.40"), "cover": D("25.00"), "excluded": False, "arrived_on": DAY, "claim_days": 7,
            "proofs": ("slip", "label"), "today": DAY + timedelta(days=5),
        }  # fmt: skip
        return claim_for(outcome, **{**facts, **changes})  # type: ignore[arg-type]

    def test_cover_pays_the_loss_up_to_itself_until_the_last_day(self) -> None:
        claim = self._claim()
        self.assertEqual((claim.state, claim.pays, claim.days_left, claim.missing), ("open", D("25.00"), 2, ("photo",)))
        self.assertEqual(self._claim(cover=D(100)).pays, D("38.40"))

    def test_too_late_or_not_covered(self) -> None:
        self.assertEqual(self._claim(today=DAY + timedelta(days=8)).state, "expired")
        self.assertEqual(self._claim(excluded=True).state, "not_covered")
        self.assertEqual(self._claim(claim_days=None).days_left, None)

    def test_a_lost_parcel_needs_no_photo_and_a_whole_one_no_claim(self) -> None:
        self.assertEqual(self._claim("lost", proofs=()).missing, ("slip", "label"))
        self.assertIsNone(self._claim("whole"))
        self.assertIsNone(self._claim("marked"))
