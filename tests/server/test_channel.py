"""A channel that delivers, in every mood: no order twice, none lost, tracking told once. Tokens of other programs."""

from unittest import mock
from uuid import uuid4

from django.core.cache import cache

from server.api.access import TokenThrottle
from server.bench.services import hand_over
from server.channels.models import ChannelLink, TrackingTold
from server.channels.services import ask_channel, tell_channel
from server.channels.tasks import ask_channels
from server.orders.models import Order, OrderChange
from server.standins.channel import CHANNEL_MODES, Delivery, SimulatedChannel
from server.standins.models import Behaviour, ChannelOrder
from server.workshops.clock import today
from server.workshops.models import ApiToken, Workshop
from tests.server.base import DemoCase, make_member, make_workshop


class Channel(DemoCase):
    def setUp(self) -> None:
        super().setUp()
        self.link = self.ask("post", "channel-links", {"name": "Fern Stalls"}, status=201)["links"][0]["id"]
        patch = mock.patch("server.standins.channel._SLOW_SECONDS", 0.01)
        patch.start()
        self.addCleanup(patch.stop)

    def mood(self, mode: str) -> None:
        self.ask("put", "standins/channel", {"mode": mode})

    def happens(self, what: str, count: int = 1) -> list[str]:
        return self.ask("post", "standins/channel/happens", {"what": what, "count": count})["numbers"]  # type: ignore[no-any-return]

    def here(self) -> list[str]:
        rows = Order.objects.of(self.workshop).filter(channel="Fern Stalls").order_by("number")
        return list(rows.values_list("number", flat=True))

    def test_in_every_mood_each_order_comes_once(self) -> None:
        sent: list[str] = []
        for mode in CHANNEL_MODES:
            with self.subTest(mode):
                sent += self.happens("order", 3)
                self.mood(mode)
                ask_channel(self.workshop, self.link)
                ask_channel(self.workshop, self.link)
                self.mood("well")
                ask_channel(self.workshop, self.link)
                self.assertEqual(self.here(), sorted(sent))

    def test_why_it_did_not_answer_is_said_until_it_does(self) -> None:
        self.mood("down")
        self.assertIn("does not answer", self.ask("post", f"channel-links/{self.link}/ask")["problem"])
        self.assertIn("does not answer", self.ask("get", "channel-links")["links"][0]["problem"])
        self.mood("well")
        self.assertEqual(self.ask("post", f"channel-links/{self.link}/ask")["problem"], "")

    def test_changed_and_cancelled_orders_are_shown_and_old_messages_overtaken(self) -> None:
        numbers = self.happens("order", 2)
        ask_channel(self.workshop, self.link)
        changed = self.happens("change")
        self.happens("change")
        self.mood("out_of_order")
        ask_channel(self.workshop, self.link)
        change = OrderChange.objects.of(self.workshop).get(state="open")
        self.assertEqual((change.order.number, change.kind), (changed[0], "changed"))
        newest = ChannelOrder.objects.of(self.workshop).get(number=changed[0]).document["lines"][0]["quantity"]
        self.assertIn(newest, [quantity for _, quantity, *_ in change.document["lines"]])
        self.happens("cancel", 2)
        ask_channel(self.workshop, self.link)
        kinds = OrderChange.objects.of(self.workshop).filter(state="open").values_list("kind", flat=True)
        self.assertEqual(list(kinds), ["cancelled", "cancelled"])
        self.assertEqual(self.here(), sorted(numbers))

    def test_two_workers_asking_at_once_take_an_answer_in_once(self) -> None:
        self.happens("order", 3)
        row = ChannelLink.objects.of(self.workshop).get(pk=self.link)
        channel = SimulatedChannel()

        class SlowChannel(SimulatedChannel):
            """While this one is asked, another worker asks and takes the answer in."""

            def new_since(self, workshop: Workshop, *, mark: int) -> Delivery:
                late = channel.new_since(workshop, mark=mark)
                ask_channel(workshop, row.pk, channel=channel)
                return late

        self.assertEqual(ask_channel(self.workshop, self.link, channel=SlowChannel()).new, ())
        self.assertEqual(len(self.here()), 3)

    def test_an_order_that_cannot_be_read_is_named_and_the_others_come(self) -> None:
        self.happens("order", 2)
        bad = ChannelOrder.objects.of(self.workshop).order_by("seq")[0]
        bad.document = {**bad.document, "placed_on": "yesterday"}
        bad.save()
        ask_channel(self.workshop, self.link)
        self.assertEqual(len(self.here()), 1)
        (unread,) = self.ask("get", "channel-links")["links"][0]["unread"]
        self.assertEqual(unread["number"], bad.number)
        self.assertIn("placed_on", unread["faults"][0])

    def packed(self) -> str:
        (number,) = self.happens("order")
        row = ChannelOrder.objects.of(self.workshop).get(number=number)
        row.document = {**row.document, "postcode": "HW3 2", "town": "Hallowfen",
                        "lines": [{"sku": "PRE-BLK", "quantity": 2, "unit_price": "6.80"}]}  # fmt: skip
        row.save()
        ask_channel(self.workshop, self.link)
        self.ask("get", f"orders/{self.order(number).pk}/plan")
        self.sent(number)
        return number

    def test_tracking_is_told_once_in_every_mood(self) -> None:
        for mode in CHANNEL_MODES:
            with self.subTest(mode):
                number = self.packed()
                self.mood(mode)
                tell_channel(self.workshop, self.link)
                tell_channel(self.workshop, self.link)
                self.mood("well")
                tell_channel(self.workshop, self.link)
                self.assertEqual(tell_channel(self.workshop, self.link), 0)
                book = ChannelOrder.objects.of(self.workshop).get(number=number)
                told = TrackingTold.objects.of(self.workshop).get(order__number=number)
                self.assertEqual([one["tracking"] for one in book.tracking], [told.tracking])
                self.assertIsNotNone(told.told_at)

    def test_what_the_channel_refuses_again_and_again_holds_up_nothing_else(self) -> None:
        refused = self.packed()
        ChannelOrder.objects.of(self.workshop).filter(number=refused).update(number="not known any more")
        with mock.patch("server.channels.services._MOST_TOLD", 1):
            self.assertEqual(tell_channel(self.workshop, self.link), 0)
            self.packed()
            self.assertEqual(tell_channel(self.workshop, self.link), 1)
        self.assertEqual(self.ask("get", "channel-links")["links"][0]["waiting"], 1)

    def test_a_number_of_a_parcel_that_was_opened_again_is_not_waited_for(self) -> None:
        number = self.packed()
        self.mood("down")
        tell_channel(self.workshop, self.link)
        self.assertEqual(self.ask("get", "channel-links")["links"][0]["waiting"], 1)
        parcel = self.order(number).parcels.get()
        hand_over(workshop=self.workshop, parcel_ids=[parcel.pk], at=None)  # within the hour
        self.ask("post", f"parcels/{parcel.pk}/reopen", {"words": "the card was left out"})
        self.assertEqual(self.ask("get", "channel-links")["links"][0]["waiting"], 0)
        self.mood("well")
        self.assertEqual(tell_channel(self.workshop, self.link), 0)

    def test_the_worker_asks_and_tells_and_a_channel_that_is_off_is_left_alone(self) -> None:
        self.happens("order", 2)
        self.assertEqual(ask_channels(timestamp=0), 2)
        self.ask("post", f"channel-links/{self.link}/off")
        self.happens("order", 2)
        self.assertEqual(ask_channels(timestamp=0), 0)
        self.ask("post", "channel-links", {"name": "Fern Stalls"}, status=201)
        self.assertEqual(ask_channels(timestamp=0), 2)


class Tokens(DemoCase):
    def setUp(self) -> None:
        super().setUp()
        cache.clear()

    def made(self, *scopes: str, name: str = "till") -> str:
        answer = self.ask("post", "tokens", {"name": name, "scopes": list(scopes)}, status=201)
        self.assertTrue(answer["text"].startswith(answer["token"]["begins"]))
        return answer["text"]  # type: ignore[no-any-return]

    def with_token(self, text: str, path: str = "orders"):  # type: ignore[no-untyped-def]
        self.client.logout()
        answer = self.client.get(f"/api/{path}", headers={"Authorization": f"Bearer {text}"})
        self.as_(self.owner)
        return answer

    def test_a_token_is_shown_once_kept_as_a_digest_and_ends_when_it_is_revoked(self) -> None:
        text = self.made("read_all")
        self.assertNotIn(text, str(self.ask("get", "tokens")))
        self.assertFalse(ApiToken.unscoped.filter(digest=text).exists())
        self.assertEqual(self.with_token(text).status_code, 200)
        (row,) = self.ask("get", "tokens")["results"]
        self.assertIsNotNone(row["used_at"])
        self.ask("post", f"tokens/{row['id']}/revoke")
        refused = self.with_token(text)
        self.assertEqual((refused.status_code, refused.json()["code"]), (401, "bad_token"))
        self.assertEqual(self.with_token("calm_nothing").status_code, 401)

    def test_a_token_ends_with_the_person_who_made_it(self) -> None:
        text = self.made("read_all")
        self.owner.user.is_active = False
        self.owner.user.save()
        self.client.logout()
        answer = self.client.get("/api/orders", headers={"Authorization": f"Bearer {text}"})
        self.assertEqual(answer.status_code, 401)

    def test_a_token_sees_its_own_workshop_only(self) -> None:
        text = self.made("read_all")
        self.as_(make_member(make_workshop("elsewhere"), "rival", "owner"))
        theirs = self.made("read_all")
        self.assertEqual(self.with_token(theirs).json()["count"], 0)
        self.assertGreater(self.with_token(text).json()["count"], 0)

    def test_two_tokens_of_one_name_are_refused_and_a_packer_makes_none(self) -> None:
        self.made("orders_in")
        again = self.ask("post", "tokens", {"name": "till", "scopes": ["orders_in"]}, status=409)
        self.assertEqual(again["code"], "name_taken")
        self.assertEqual(self.ask("post", "tokens", {"name": "x", "scopes": ["all"]}, status=422)["code"], "not_valid")
        self.as_(self.packer)
        self.ask("post", "tokens", {"name": "mine", "scopes": ["read_all"]}, status=403)

    def test_too_many_requests_are_told_to_wait(self) -> None:
        text = self.made("read_all")
        with mock.patch.object(TokenThrottle, "get_rate", return_value="3/minute"):
            codes = [self.with_token(text, "rail").status_code for _ in range(5)]
        self.assertEqual(codes, [200, 200, 200, 429, 429])

    def test_orders_go_in_and_tracking_comes_out(self) -> None:
        text = self.made("orders_in", "tracking_out")
        self.client.logout()
        head = {"Authorization": f"Bearer {text}"}
        body = {
            "request_key": str(uuid4()),
            "channel": "Till",
            "orders": [
                {
                    "number": "T1", "placed_on": today(self.workshop).isoformat(), "buyer": "Ida Brook",
                    "town": "Hallowfen", "address": "7 Mill Lane", "postcode": "HW3 2", "country": "ALM",
                    "lines": [{"sku": "PRE-BLK", "quantity": 2, "unit_price": "6.80"}],
                }
            ],
        }  # fmt: skip
        answers = [
            self.client.post("/api/incoming/orders", body, content_type="application/json", headers=head)
            for _ in range(2)
        ]
        self.assertEqual([one.status_code for one in answers], [200, 200])
        self.assertEqual(answers[0].json(), answers[1].json())
        self.assertEqual(answers[0].json()["orders"][0]["result"], "new")
        before = self.client.get("/api/tracking", headers=head).json()
        self.as_(self.owner)
        self.ask("get", f"orders/{self.order('T1').pk}/plan")
        parcel = self.closed("T1")
        self.client.logout()
        after = self.client.get("/api/tracking", {"since": before["mark"]}, headers=head).json()
        self.assertEqual([(one["order"], one["tracking"]) for one in after["parcels"]], [("T1", parcel["tracking"])])
        nothing = self.client.get("/api/tracking", {"since": after["mark"]}, headers=head).json()
        self.assertEqual((nothing["parcels"], nothing["mark"]), ([], after["mark"]))
        self.assertEqual(self.client.get("/api/tracking", {"since": "x"}, headers=head).status_code, 400)
        self.assertEqual(self.client.get("/api/orders", headers=head).status_code, 403)

    def test_modes_of_the_stand_in_are_kept(self) -> None:
        self.ask("put", "standins/channel", {"mode": "down"})
        self.assertEqual(Behaviour.objects.of(self.workshop).get(device="channel").mode, "down")
