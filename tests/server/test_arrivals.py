"""Arrivals through the API: answers, photos, what plans then expect to lose, carriers asked, two people at once."""

import io
from base64 import b64encode
from datetime import timedelta
from typing import Any
from unittest import mock

from django.utils import timezone
from PIL import Image

from server.bench.models import Parcel
from server.bench.services import hand_over
from server.outcomes.answering import assume_whole
from server.outcomes.models import Arrival, ArrivalPhoto, Claim
from server.outcomes.sending import record_missing
from server.plans.models import Plan
from server.plans.waves import run_wave
from server.recipes.models import VersionArrivals
from server.upkeep.invariants import broken
from tests.server.base import DemoCase

__all__ = ["ArrivalCase", "picture"]


def picture(*, exif: bool = False, size: tuple[int, int] = (60, 40)) -> str:
    """Return a small JPEG as base64; with a place in its hidden data when asked for."""
    out = io.BytesIO()
    image = Image.new("RGB", size, (180, 140, 90))
    hidden = Image.Exif()
    if exif:
        hidden[0x010F] = "Camera of somebody"
        hidden.get_ifd(0x8825)[2] = (52.0, 31.0, 7.0)
    image.save(out, "JPEG", exif=hidden)
    return b64encode(out.getvalue()).decode()


class ArrivalCase(DemoCase):
    """The demo workshop with a parcel that has left."""

    def setUp(self) -> None:
        super().setUp()
        self.parcel = self.sent("1160")

    @property
    def arrival(self) -> Arrival:
        return Arrival.objects.of(self.workshop).get(parcel_id=self.parcel["id"])

    def tell(self, outcome: str, status: int = 200, row: Arrival | None = None, **more: Any) -> Any:
        row = row or self.arrival
        body = {"revision": row.revision, "outcome": outcome, **more}
        return self.ask("put", f"arrivals/{row.pk}/answer", body, status=status)

    def come(self, days_ago: int = 0) -> None:
        """Let the parcel have come so many days ago."""
        day = timezone.now().date() - timedelta(days=days_ago)
        Arrival.objects.of(self.workshop).update(
            sent_on=day - timedelta(days=2), promised_on=day, delivered_on=day, whole_by=day + timedelta(days=14)
        )

    def counts(self) -> tuple[int, int]:
        row = VersionArrivals.objects.of(self.workshop).get(version__recipe__code="preserve-250")
        return row.damaged, row.known


class Leaving(ArrivalCase):
    def test_what_leaves_stands_among_the_arrivals_with_how_it_was_packed(self) -> None:
        found = self.ask("get", "arrivals?show=way")
        (row,) = found["results"]
        self.assertEqual((row["number"], row["outcome"], row["carrier"]), ("1160", "unknown", "larkline"))
        self.assertEqual([(one["sku"], one["recipe"], one["version"]) for one in row["goods"]],
                         [("PRE-BLK", "Preserves, 250 ml jar", 1)])  # fmt: skip
        goods = self.arrival.goods.get()
        self.assertEqual((goods.band_first, goods.band_last, goods.unit_value > 0), (2, 2, True))

    def test_a_hand_over_that_is_undone_takes_it_off_again(self) -> None:
        self.tell("broken")
        hand_over(workshop=self.workshop, parcel_ids=[self.parcel["id"]], at=None)
        self.assertFalse(Arrival.objects.of(self.workshop).exists())
        self.assertEqual(self.counts(), (0, 0))

    def test_what_left_before_arrivals_were_kept_is_written_down_later(self) -> None:
        Arrival.objects.of(self.workshop).all().delete()
        self.assertEqual(record_missing(self.workshop), 1)
        self.assertEqual(record_missing(self.workshop), 0)

    def test_the_rail_counts_what_is_to_ask_about(self) -> None:
        self.assertEqual(self.ask("get", "rail")["arrivals"], 0)
        self.come()
        self.assertEqual(self.ask("get", "rail")["arrivals"], 1)
        self.tell("whole")
        self.assertEqual(self.ask("get", "rail")["arrivals"], 0)

    def test_what_is_overdue_is_asked_about_though_nobody_said_it_came(self) -> None:
        day = timezone.now().date()
        Arrival.objects.of(self.workshop).update(promised_on=day - timedelta(days=4))
        (row,) = self.ask("get", "arrivals?show=ask")["results"]
        self.assertEqual((row["delivered_on"], row["late_days"]), (None, 4))


class Answering(ArrivalCase):
    def test_an_answer_is_kept_counted_and_shown(self) -> None:
        told = self.tell(
            "broken", harms=[{"kind": "broken", "place": "corner", "spot": "bottom-front-left", "sku": "PRE-BLK"}],
            note="cracked", message="It came in pieces. <b>", gave_back="refund", gave_amount="6.80",
        )  # fmt: skip
        self.assertEqual((told["outcome"], told["source"], told["answered_by"]), ("broken", "us", "Maren"))
        self.assertEqual(told["harms"][0]["spot"], "bottom-front-left")
        self.assertEqual(self.counts(), (1, 1))
        self.assertEqual(self.ask("get", "arrivals?show=told")["count"], 1)
        self.assertEqual([one.code for one, _, _ in broken()], [])

    def test_taken_back_it_counts_nowhere(self) -> None:
        self.tell("broken")
        self.tell("unknown")
        self.assertEqual((self.counts(), self.arrival.source), ((0, 0), ""))
        self.assertFalse(Claim.objects.of(self.workshop).exists())

    def test_lost_counts_as_not_known_and_late_as_known(self) -> None:
        self.tell("lost")
        self.assertEqual(self.counts(), (0, 0))
        self.tell("late")
        self.assertEqual(self.counts(), (0, 1))

    def test_a_second_person_is_told_and_nothing_is_overwritten(self) -> None:
        row = self.arrival
        self.tell("broken", row=row)
        told = self.tell("whole", row=row, status=409)
        self.assertEqual((told["code"], told["facts"]["by"]), ("changed", "Maren"))
        self.assertEqual(self.arrival.outcome, "broken")

    def test_the_same_answer_sent_twice_stands_once(self) -> None:
        row = self.arrival
        self.tell("whole", row=row)
        again = self.tell("whole", row=row)
        self.assertEqual(again["revision"], 1)

    def test_every_error_of_an_answer_is_named_and_nothing_is_kept(self) -> None:
        for body, path in (
            ({"outcome": "whole", "harms": [{"kind": "broken"}]}, "harms"),
            ({"outcome": "broken", "harms": [{"kind": "broken", "sku": "SALT-PIG"}]}, "harms[0].sku"),
            ({"outcome": "broken", "harms": [{"kind": "broken", "units": 99}]}, "harms[0].units"),
            ({"outcome": "spoiled", "harms": [{"kind": "spoiled", "place": "top"}]}, "harms[0].place"),
            ({"outcome": "broken", "gave_back": "replacement", "gave_amount": "2"}, "gave_amount"),
            ({"outcome": "whole", "delivered_on": "2020-01-01"}, "delivered_on"),
        ):
            with self.subTest(path):
                told = self.tell(status=422, **body)
                self.assertEqual(told["field"], path)
        self.assertEqual((self.arrival.outcome, self.arrival.revision), ("unknown", 0))
        for body in ({"outcome": "gone"}, {"outcome": "broken", "harms": [{"kind": "broken", "place": "inside"}]}):
            self.tell(status=422, **body)

    def test_nobody_complained_for_two_weeks(self) -> None:
        self.come(days_ago=13)
        self.assertEqual(assume_whole(self.workshop), 0)
        self.come(days_ago=14)
        self.assertEqual(assume_whole(self.workshop), 1)
        row = self.arrival
        self.assertEqual((row.outcome, row.source, self.counts()), ("whole", "assumed", (0, 1)))
        self.tell("broken")  # somebody complains after all
        self.assertEqual(self.counts(), (1, 1))


class WhatPlansExpect(ArrivalCase):
    def test_what_arrived_takes_the_place_of_the_estimate(self) -> None:
        plan = (
            Plan.objects.of(self.workshop)
            .filter(recipe_versions={"preserve-250": 1}, status="planned", order__state="planned")
            .first()
        )
        assert plan is not None
        before = plan.document["chosen"]["parcels"][0]["candidate"]
        self.assertIsNone(before["arrivals"])
        self.tell("broken")
        run_wave(workshop=self.workshop)
        plan = Plan.objects.of(self.workshop).get(pk=plan.pk)
        after = plan.document["chosen"]["parcels"][0]["candidate"]
        self.assertEqual(after["arrivals"], {"damaged": 1, "known": 1})
        # (0.015 x 30 + 1) / 31: the jars are delicate
        self.assertEqual(after["damage_probability"], "0.046774")
        shown = self.ask("get", f"orders/{plan.order_id}/plan")
        self.assertIn("1 of 1 arrived damaged", str(shown))

    def test_one_more_whole_one_does_not_have_every_order_planned_again(self) -> None:
        self.tell("whole")
        self.assertFalse(Plan.objects.of(self.workshop).filter(stale=True).exists())


class Photos(ArrivalCase):
    def test_a_photo_is_made_again_without_what_was_hidden_in_it(self) -> None:
        made = self.ask("post", f"arrivals/{self.arrival.pk}/photos", {"photo": picture(exif=True)}, status=201)
        kept = bytes(ArrivalPhoto.objects.of(self.workshop).get(pk=made["id"]).content)
        with Image.open(io.BytesIO(kept)) as image:
            self.assertEqual((image.format, dict(image.getexif())), ("JPEG", {}))
        self.assertNotIn(b"Camera of somebody", kept)
        answer = self.client.get(f"/api/arrival-photos/{made['id']}")
        self.assertEqual((answer.status_code, answer["Content-Type"]), (200, "image/jpeg"))

    def test_a_large_one_is_made_smaller(self) -> None:
        big = picture(size=(3000, 2000))
        made = self.ask("post", f"arrivals/{self.arrival.pk}/photos", {"photo": big}, status=201)
        with Image.open(io.BytesIO(bytes(ArrivalPhoto.objects.of(self.workshop).get(pk=made["id"]).content))) as image:
            self.assertEqual(max(image.size), 1600)

    def test_what_is_no_picture_is_refused(self) -> None:
        for wrong in (b"GIF89a", b"\xff\xd8\xff and then nothing", b"\x89PNG\r\n\x1a\n and more", b""):
            body = {"photo": b64encode(wrong).decode()}
            self.ask("post", f"arrivals/{self.arrival.pk}/photos", body, status=422)
        self.assertFalse(ArrivalPhoto.objects.of(self.workshop).exists())

    def test_six_are_the_most_and_one_can_be_deleted(self) -> None:
        url = f"arrivals/{self.arrival.pk}/photos"
        ids = [self.ask("post", url, {"photo": picture()}, status=201)["id"] for _ in range(6)]
        self.assertEqual(self.ask("post", url, {"photo": picture()}, status=409)["code"], "too_many")
        self.assertEqual(self.ask("delete", f"arrival-photos/{ids[0]}")["photos"], ids[1:])


class Carriers(ArrivalCase):
    def behave(self, device: str, mode: str) -> None:
        self.ask("put", f"standins/{device}", {"mode": mode})

    def test_carriers_are_asked_and_what_came_is_written_down(self) -> None:
        self.assertEqual(self.ask("post", "arrivals/ask-carriers")["delivered"], 0)
        self.behave("calendar", "plus_5")
        found = self.ask("post", "arrivals/ask-carriers")
        self.assertEqual((found["asked"], found["delivered"], found["problem"]), (1, 1, ""))
        row = self.arrival
        self.assertIsNotNone(row.delivered_on)
        self.assertEqual(row.whole_by, row.delivered_on + timedelta(days=14))  # type: ignore[operator]
        self.assertEqual(self.ask("post", "arrivals/ask-carriers")["asked"], 0)

    def test_a_carrier_that_does_not_answer_changes_nothing_and_says_so(self) -> None:
        self.behave("calendar", "plus_5")
        for mode in ("down", "drop_out_after", "refuse_all"):
            self.behave("carrier", mode)
            found = self.ask("post", "arrivals/ask-carriers")
            self.assertEqual(found["delivered"], 0)
            self.assertTrue(found["problem"])
        self.assertIsNone(self.arrival.delivered_on)

    def test_a_late_one_is_counted_late(self) -> None:
        self.behave("carrier", "late")
        self.ask("post", "arrivals/ask-carriers")
        self.behave("calendar", "plus_10")
        self.ask("post", "arrivals/ask-carriers")
        report = self.ask("get", "arrivals/carriers")
        self.assertEqual((report["parcels"], report["on_time"][0]["late"]), (1, 1))

    def test_what_was_charged_afterwards_is_told(self) -> None:
        self.behave("calendar", "plus_1")
        self.behave("carrier", "measures_again")
        self.ask("post", "arrivals/ask-carriers")
        (row,) = self.ask("get", "arrivals/carriers")["charged_more"]
        self.assertEqual((row["carrier"], row["count"]), ("larkline", 1))


class Claims(ArrivalCase):
    def test_a_broken_parcel_with_cover_has_a_claim_until_its_last_day(self) -> None:
        self.come()
        told = self.tell("broken", harms=[{"kind": "broken", "place": "lid", "units": 1}])
        claim = told["claim"]
        self.assertEqual((claim["state"], claim["days_left"], claim["missing"]), ("open", 14, ["photo"]))
        self.ask("post", f"arrivals/{self.arrival.pk}/photos", {"photo": picture()}, status=201)
        (row,) = self.ask("get", "claims")["results"]
        self.assertEqual(row["arrival"]["claim"]["missing"], [])

    def test_it_is_made_and_paid_and_a_second_person_is_told(self) -> None:
        self.tell("broken")
        claim = Claim.objects.of(self.workshop).get()
        body = {"revision": 0, "state": "paid", "amount": "6.80"}
        self.assertEqual(self.ask("put", f"claims/{claim.pk}", body, status=422)["field"], "paid")
        self.ask("put", f"claims/{claim.pk}", {**body, "paid": "5.00"})
        self.assertEqual(self.ask("put", f"claims/{claim.pk}", {**body, "paid": "6.00"}, status=409)["code"], "changed")
        claim.refresh_from_db()
        self.assertEqual((str(claim.paid), claim.settled_on is not None), ("5.00", True))

    def test_a_claim_that_is_made_stays_when_the_answer_changes(self) -> None:
        self.tell("broken")
        claim = Claim.objects.of(self.workshop).get()
        self.ask("put", f"claims/{claim.pk}", {"revision": 0, "state": "made", "amount": "6.80"})
        self.tell("whole")
        self.assertEqual(Claim.objects.of(self.workshop).get().state, "made")


class TheBuyersPage(ArrivalCase):
    def setUp(self) -> None:
        super().setUp()
        self.code = Parcel.objects.of(self.workshop).get(pk=self.parcel["id"]).buyer_code
        type(self.workshop).objects.update(buyer_page_at="https://cupboard.example")
        self.client.logout()
        patched = mock.patch("rest_framework.throttling.ScopedRateThrottle.allow_request", return_value=True)
        patched.start()
        self.addCleanup(patched.stop)

    def test_it_shows_this_parcel_and_nothing_of_the_workshop_or_the_buyer(self) -> None:
        page = self.ask("get", f"arrived/{self.code}")
        self.assertEqual(set(page), {"state", "number", "goods", "outer_um"})
        order = self.order("1160")
        for hidden in (order.buyer, order.postcode, self.workshop.name, order.address[0]):
            self.assertNotIn(hidden, str(page))

    def test_an_answer_counts_once(self) -> None:
        body = {
            "outcome": "broken",
            "place": "corner",
            "spot": "bottom-front-left",
            "message": "Oh no",
            "photo": picture(),
        }
        self.assertEqual(self.ask("post", f"arrived/{self.code}", body)["state"], "answered")
        self.ask("post", f"arrived/{self.code}", {"outcome": "whole"})
        row = self.arrival
        self.assertEqual((row.outcome, row.source, row.message), ("broken", "buyer", "Oh no"))
        self.assertEqual((row.harms.get().spot, row.photos.get().by_buyer), ("bottom-front-left", True))

    def test_what_the_workshop_wrote_stays_and_the_words_are_kept_beside(self) -> None:
        self.as_(self.owner)
        self.tell("marked", message="by telephone")
        self.client.logout()
        self.ask("post", f"arrived/{self.code}", {"outcome": "broken", "message": "in pieces"})
        self.assertEqual((self.arrival.outcome, self.arrival.message), ("marked", "by telephone\nin pieces"))

    def test_after_60_days_it_is_closed(self) -> None:
        self.come(days_ago=61)
        self.assertEqual(self.ask("get", f"arrived/{self.code}")["state"], "closed")
        self.assertEqual(self.ask("post", f"arrived/{self.code}", {"outcome": "whole"}, status=410)["code"], "closed")
        self.assertEqual(self.arrival.outcome, "unknown")

    def test_off_by_default_and_every_wrong_code_is_answered_alike(self) -> None:
        unknown = self.ask("get", "arrived/abcdefghjkmn", status=404)
        self.ask("post", "arrived/abcdefghjkmn", {"outcome": "whole"}, status=404)
        type(self.workshop).objects.update(buyer_page_at="")
        self.assertEqual(self.ask("get", f"arrived/{self.code}", status=404), unknown)

    def test_a_parcel_that_has_not_left_has_no_page(self) -> None:
        self.as_(self.owner)
        parcel = self.to_bench("1166")
        code = Parcel.objects.of(self.workshop).get(pk=parcel["id"]).buyer_code
        self.client.logout()
        self.ask("get", f"arrived/{code}", status=404)

    def test_the_slip_carries_the_code_only_where_the_page_is_on(self) -> None:
        self.as_(self.owner)
        with_code = self.client.get(f"/api/parcels/{self.parcel['id']}/slip.pdf").content
        type(self.workshop).objects.update(buyer_page_at="")
        self.as_(self.owner)
        without = self.client.get(f"/api/parcels/{self.parcel['id']}/slip.pdf").content
        self.assertGreater(len(with_code), len(without))
