"""What holds a parcel shut: own closures, what they show, when they hold, damp air, old marks (rules 7.1 to 7.4)."""

import unittest
from dataclasses import replace

from core.bench.steps import steps_of
from core.parcels.alteration import halved
from core.parcels.candidate import PlannedParcel
from core.parcels.closing import Closing, WeakWhenDamp, closing_of
from core.parcels.facts import Aim, Overrides
from core.parcels.layers import pack_layers
from core.parcels.packed import Packed
from core.parcels.plan import PlannedOrder, plan_order
from core.parcels.single import expansion_for, request_for
from core.recipes.expand import Shelf
from core.recipes.model import Closure, Occasion
from core.supplies.items import Bond, ClosureGrade, Container, CutDown, OwnClosure, Tape
from tests.core.samples import C14, CLOSURE, DAY, HERE, MAILER, SHELF, TAPE, D, band, facts, order, recipe, size
from tests.said import said


def planned(
    box: Container, *, wanted: ClosureGrade = "none", tape: Tape | None = TAPE, quantity: int = 4
) -> PlannedParcel | None:
    """Return four jars packed in one carton, or None where it is ruled out. Taped, it takes 2 x (456 + 2 x 366) mm."""
    asks = replace(CLOSURE, required_grade=wanted) if tape is not None else None
    shelf: Shelf = replace(SHELF, tapes={"TP": tape}) if tape is not None else SHELF
    how = recipe(band(1, 12, outers=("C-14",), closure=asks))
    given = replace(facts(containers=(box,)), shelf=shelf)
    plan = plan_order(order(quantity, how=how), given, destination=HERE, ship_on=DAY)
    return plan.chosen.parcels[0] if isinstance(plan, PlannedOrder) else None


def closing(parcel: PlannedParcel | None) -> Closing:
    assert parcel is not None and parcel.candidate.closing is not None
    return parcel.candidate.closing


def tape_m(parcel: PlannedParcel | None) -> D:
    assert parcel is not None
    return sum((use.quantity for use in parcel.candidate.uses if use.role == "tape"), D(0))


WEAK_TAPE = replace(TAPE, grade="none")
HOT = Bond(full_strength_minutes=60)


class OwnClosures(unittest.TestCase):
    def own(self, closes: OwnClosure, **changes: object) -> Container:
        return replace(C14, closes=closes, **changes)  # type: ignore[arg-type]

    def test_what_closes_by_itself_takes_no_tape_and_shows_its_own_grade(self) -> None:
        grades = {"tabs": "resistant", "strip": "evident", "perforation": "evident"}
        for closes, grade in grades.items():
            parcel = planned(self.own(closes), tape=WEAK_TAPE)  # type: ignore[arg-type]
            self.assertEqual((tape_m(parcel), closing(parcel).grade, closing(parcel).held_by), (0, grade, (closes,)))

    def test_a_flap_that_is_tucked_in_is_taped_as_the_recipe_says(self) -> None:
        parcel = planned(self.own("flap"))
        self.assertEqual((tape_m(parcel), closing(parcel).grade), (D("2.376"), "evident"))
        bare = planned(self.own("flap"), tape=None)
        self.assertEqual((closing(bare).grade, closing(bare).held_by), ("none", ("flap",)))

    def test_tabs_are_taped_where_more_is_asked_for(self) -> None:
        resistant, evident = (planned(self.own("tabs"), wanted=grade) for grade in ("resistant", "evident"))
        self.assertEqual((tape_m(resistant), tape_m(evident)), (0, D("2.376")))
        self.assertEqual(closing(evident).grade, "evident")
        self.assertIsNone(planned(self.own("tabs"), wanted="evident", tape=WEAK_TAPE))
        self.assertIsNotNone(planned(self.own("perforation"), wanted="evident", tape=WEAK_TAPE))

    def test_a_carton_cut_lower_has_lost_its_own_closure(self) -> None:
        box = self.own("strip", cut=CutDown(heights_um=(), lowest_um=60_000, minutes=D("0.1")))
        plan = plan_order(
            order(1, how=recipe(band(1, 12, outers=("C-14",)))), facts(containers=(box,)), destination=HERE, ship_on=DAY
        )
        assert isinstance(plan, PlannedOrder)
        cut = [w.parcels[0] for w in (plan.chosen, *plan.others) if w.parcels[0].candidate.change is not None]
        for parcel in cut:
            self.assertGreater(tape_m(parcel), 0)

    def test_the_hands_are_told_how_it_closes(self) -> None:
        words = {"tabs": "until they lock", "strip": "Peel the strip", "flap": "Tuck the flap in"}
        for closes, wanted in words.items():
            parcel = planned(self.own(closes), tape=None)  # type: ignore[arg-type]
            assert parcel is not None
            steps = steps_of(parcel, (recipe(),), pack_layers(parcel, {}), {})
            self.assertTrue(any(wanted in said(one.title) for one in steps if one.kind == "close"), closes)


class Strength(unittest.TestCase):
    def test_the_time_to_full_strength_counts_where_a_grade_is_asked_for(self) -> None:
        hot = replace(C14, closes="strip", bond=HOT)
        self.assertEqual(closing(planned(hot, wanted="evident")).settle_minutes, 60)
        asked_for_nothing = closing(planned(hot))
        self.assertEqual((asked_for_nothing.full_strength_minutes, asked_for_nothing.settle_minutes), (60, 0))

    def test_a_tape_that_holds_at_once_need_not_wait_for_the_glue_beside_it(self) -> None:
        slow_tabs = replace(C14, closes="tabs", bond=Bond(full_strength_minutes=2880))
        self.assertEqual(closing(planned(slow_tabs, wanted="evident")).full_strength_minutes, 0)
        double_sided = replace(TAPE, bond=Bond(full_strength_minutes=2880))
        self.assertEqual(closing(planned(C14, wanted="evident", tape=double_sided)).settle_minutes, 2880)

    def test_half_a_mailer_holds_when_both_its_ends_do(self) -> None:
        given = facts(containers=(MAILER,))
        lines = order(1, how=recipe(band(1, 6, closure=Closure(tape="TP", pattern="centre", both_faces=False))))
        aim = Aim(destination=HERE, ship_on=DAY, overrides=Overrides(), occasion=Occasion())
        request = request_for(lines, expansion_for(lines, given, aim), given, aim)
        made = halved(replace(MAILER, halves=True, closes="strip", bond=HOT))
        assert made is not None
        flat = size(200, 100, 20)
        packed = Packed(placements=(), inner=flat, nominal=flat, floor_um=0, top_um=0, void=None, nested=None, extra=())
        found = closing_of(made[0], packed, request)
        self.assertEqual((found.held_by, found.full_strength_minutes, found.grade), (("strip", "tape"), 60, "evident"))


class Damp(unittest.TestCase):
    def test_tape_is_weak_above_its_humidity_and_not_at_it(self) -> None:
        paper = replace(TAPE, name="Self-adhesive", bond=Bond(weak_above_percent=65))
        found = closing(planned(C14, tape=paper))
        self.assertEqual(found.weak_at(65), ())
        self.assertEqual(found.weak_at(66), (WeakWhenDamp(name="Self-adhesive", above_percent=65),))


class OldMarks(unittest.TestCase):
    def test_a_container_used_before_is_covered_before_the_label_goes_on(self) -> None:
        for old in (False, True):
            parcel = planned(replace(C14, old_marks=old))
            assert parcel is not None
            label = next(
                one for one in steps_of(parcel, (recipe(),), pack_layers(parcel, {}), {}) if one.kind == "label"
            )
            self.assertEqual(any("cover every old label" in said(text) for text in label.cautions), old)
            self.assertIn("largest face", said(label.detail))


if __name__ == "__main__":
    unittest.main()
