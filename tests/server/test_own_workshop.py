"""A workshop of one's own from an empty database: set up, the sample beside it, the shelf, the first parcel, people."""

from decimal import Decimal
from typing import Any
from unittest.mock import patch

from django.apps import apps
from django.contrib.auth.models import User
from django.db import connection
from django.test import TestCase
from procrastinate.contrib.django.models import ProcrastinateJob

from core.supplies.estimates import board_area_m2, carton_load_mg, carton_tare_mg
from core.units import Size
from server.beginning.sample import parts_loaded, remove_sample, sample_state
from server.beginning.tasks import load_sample
from server.commands.demo import load_demo
from server.supplies.models import Balance, Supply
from server.upkeep.invariants import broken
from server.workshops.models import Member, SignedIn, Workshop, WorkshopOwned
from tests.server.base import FAST, DemoCase, Shop, make_member, make_workshop

OWN: dict[str, Any] = {
    "workshop": "Fennel Yard Soap",
    "address": ["7 Fennel Yard", "Arden"],
    "postcode": "AB1 2",
    "country": "ALM",
    "currency": "Cr",
    "money_digits": 2,
    "unit_system": "metric",
    "time_zone": "Europe/Berlin",
    "ship_days": [0, 2, 4],
    "wage_per_hour": "18",
    "name": "Tilda",
    "username": "tilda",
    "password": "harbour-Velvet-39",
}


class Nothing(Shop, TestCase):
    """An empty database, and nobody signed in."""

    def set_up(self, status: int = 201, **change: Any) -> Any:
        return self.ask("post", "begin/workshop", {**OWN, **change}, status=status)


@FAST
class SettingUp(Nothing):
    def test_an_empty_database_offers_both(self) -> None:
        found = self.ask("get", "begin")
        self.assertEqual(
            (found["own"], found["may_set_up"], found["sample"], found["people"]), (False, True, "none", [])
        )

    def test_the_owner_is_signed_in_and_it_counts_as_it_was_said(self) -> None:
        self.assertEqual(self.set_up()["workshop"], "Fennel Yard Soap")
        self.assertEqual(self.ask("get", "session")["role"], "owner")
        workshop = Workshop.objects.get()
        self.assertEqual((workshop.code, workshop.sample, workshop.ship_days), ("fennel-yard-soap", False, [0, 2, 4]))
        self.assertEqual(self.ask("get", "session/places")["count"], 1)
        self.client.logout()
        self.ask("post", "session/sign-in", {"username": "tilda", "password": OWN["password"]})

    def test_bad_input_is_named_and_nothing_is_saved(self) -> None:
        for change, field in (
            ({"country": "Almland"}, "country"),
            ({"time_zone": "Moon/Sea"}, "time_zone"),
            ({"ship_days": [7]}, "ship_days"),
            ({"username": "tilda fenn"}, "username"),
            ({"address": []}, "address"),
            ({"money_digits": 5}, "money_digits"),
        ):
            with self.subTest(field):
                said = self.ask("post", "begin/workshop", {**OWN, **change}, status=422)
                self.assertTrue(any(fault["path"].startswith(field) for fault in said["faults"]), said)
        for password in ("short", "1234567890123", "tilda-tilda", "password1234"):
            with self.subTest(password):
                said = self.set_up(status=422, password=password)
                self.assertEqual((said["code"], said["field"]), ("weak_password", "password"))
        self.assertEqual((Workshop.objects.count(), User.objects.count()), (0, 0))

    def test_a_second_one_is_the_owners_to_allow(self) -> None:
        self.set_up()
        self.client.logout()
        self.assertEqual(self.set_up(status=409, username="other")["code"], "set_up_already")
        self.assertEqual(self.ask("post", "begin/sample", status=409)["code"], "set_up_already")
        with patch("server.beginning.setting_up.ENV") as env:
            env.open_house = True
            self.assertEqual(self.set_up(status=422, username="TILDA")["field"], "username")
            self.set_up(username="other")
        self.assertEqual(
            set(Workshop.objects.values_list("code", flat=True)), {"fennel-yard-soap", "fennel-yard-soap-2"}
        )

    def test_it_begins_with_nothing_and_every_screen_answers(self) -> None:
        self.set_up()
        paths = "rail orders supplies products recipes readiness policies tariffs choosing parcels first-parcel"
        for path in (*paths.split(), "ready-parcels", "settings", "workshop", "find?q=x", "plans/wave", "members"):
            with self.subTest(path):
                self.ask("get", path)


@FAST
class Sample(Nothing):
    def test_it_is_loaded_once_in_the_background_and_goes_without_a_trace(self) -> None:
        self.ask("post", "begin/sample")
        self.ask("post", "begin/sample")
        jobs = ProcrastinateJob.objects.filter(task_name="load_sample")
        self.assertEqual((sample_state(), jobs.count()), ("coming", 1))
        with patch("server.beginning.tasks.load_demo", lambda: load_demo(whole=False)):
            load_sample()
        with connection.cursor() as cursor:  # the job is over
            cursor.execute("delete from procrastinate_jobs")
        found = self.ask("get", "begin")
        self.assertEqual((found["sample"], found["own"], found["may_set_up"]), ("ready", False, True))
        self.assertEqual(parts_loaded(), found["parts"])
        person = found["people"][0]
        self.ask("post", "session/sign-in", {"username": person["username"], "password": person["password"]})
        self.client.logout()
        self.set_up()
        own = Workshop.objects.get(sample=False)
        self.ask("delete", "sample", status=204)
        self.assertEqual(list(Workshop.objects.all()), [own])
        self.assertEqual(list(User.objects.values_list("username", flat=True)), ["tilda"])
        for model in apps.get_models():
            if issubclass(model, WorkshopOwned):
                self.assertFalse(model.unscoped.exclude(workshop=own).exists(), model.__name__)
        self.assertEqual(SignedIn.objects.exclude(member__workshop=own).count(), 0)
        self.assertEqual([one.code for one, _, _ in broken()], [])
        self.assertFalse(remove_sample())
        self.ask("delete", "sample", status=204)  # nothing more to remove


@FAST
class Shelf(Nothing):
    def setUp(self) -> None:
        self.set_up()
        self.workshop = Workshop.objects.get()

    def starter(self, *codes: str) -> list[dict[str, Any]]:
        rows = {row["supply"]["code"]: row["supply"] for row in self.ask("get", "supplies/starter")["supplies"]}
        return [{**rows[code], "on_hand": "20"} for code in codes]

    def test_the_worked_numbers_of_an_estimate(self) -> None:
        inner = Size(length_um=250_000, width_um=250_000, height_um=225_000)
        self.assertEqual(round(board_area_m2(inner), 3), Decimal("0.492"))
        self.assertEqual((carton_tare_mg(inner, "double"), carton_load_mg(inner, "double")), (354_000, 12_500_000))
        said = self.ask(
            "post",
            "supplies/estimate",
            {"length_um": 250_000, "width_um": 250_000, "height_um": 225_000, "board": "double"},
        )
        self.assertEqual((said["tare_mg"], said["max_load_mg"], said["board_m2"]), (354_000, 12_500_000, "0.492"))

    def test_it_has_every_kind_and_general_materials_alone(self) -> None:
        rows = self.ask("get", "supplies/starter")["supplies"]
        self.assertEqual(
            {row["supply"]["facts"]["kind"] for row in rows}, {"carton", "mailer", "wrap", "fill", "tape", "insert"}
        )
        cautions = {row["supply"]["facts"].get("caution") for row in rows}
        self.assertLessEqual({"hot_tool", "tension", "blade"}, cautions)
        self.assertTrue(all(row["supply"]["estimated"] for row in rows))
        Workshop.objects.update(unit_system="imperial")
        names = [row["supply"]["name"] for row in self.ask("get", "supplies/starter")["supplies"]]
        self.assertIn("Carton 8.0 x 6.0 x 4.0 in", names)

    def test_what_is_ticked_lies_on_the_shelf_once_with_its_stock(self) -> None:
        ticked = self.starter("C-200-150-100", "F-KRAFT", "L-LABEL")
        self.assertEqual(self.ask("post", "supplies/starter", {"supplies": ticked})["added"], 3)
        self.assertEqual(self.ask("post", "supplies/starter", {"supplies": ticked})["added"], 0)
        stock = self.stock("C-200-150-100")
        self.assertEqual((float(stock["on_hand"]), stock["estimated"]), (20, ["tare_mg", "max_load_mg", "unit_cost"]))
        self.assertEqual(Workshop.objects.get().label_supply, "L-LABEL")
        there = [row for row in self.ask("get", "supplies/starter")["supplies"] if row["there"]]
        self.assertEqual(len(there), 3)

    def test_half_a_carton_is_refused_and_nothing_is_added(self) -> None:
        ticked = self.starter("F-KRAFT", "C-200-150-100")
        ticked[1]["on_hand"] = "2.5"
        self.ask("post", "supplies/starter", {"supplies": ticked}, status=422)
        self.assertFalse(Supply.objects.of(self.workshop).exists())

    def test_the_first_parcel_is_told_by_what_is_there(self) -> None:
        self.assertEqual(self.ask("get", "first-parcel")["left"], 9)
        self.assertEqual(self.ask("get", "rail")["first_parcel_left"], 9)
        ticked = self.starter("C-200-150-100", "W-HONEY", "F-KRAFT", "T-WET", "L-LABEL")
        ticked[1]["on_hand"] = "0"
        self.ask("post", "supplies/starter", {"supplies": ticked})
        parts = {part["code"]: part for part in self.ask("get", "first-parcel")["parts"]}
        self.assertTrue(parts["carton"]["there"] and parts["fill"]["there"] and parts["tape"]["there"])
        self.assertEqual((parts["wrap"]["there"], parts["wrap"]["lacks"]), (False, "stock"))
        product = {"sku": "OAT-1", "name": "Oat soap"}
        made = self.ask("post", "products", {"product": product}, status=201)
        parts = {part["code"]: part for part in self.ask("get", "first-parcel")["parts"]}
        self.assertEqual(parts["product"]["lacks"], "size")
        sized = {
            **product,
            "size": {"length_um": 85_000, "width_um": 60_000, "height_um": 30_000},
            "weight_mg": 110_000,
        }
        self.ask("put", f"products/{made['id']}", {"product": sized})
        said = self.ask("post", "recipes/propose", {"product_id": made["id"]})
        self.assertTrue(any("price list" in lack for lack in said["lacks"]), said["lacks"])


class Supplies(DemoCase):
    def item(self, of: str, **change: Any) -> dict[str, Any]:
        now = self.stock(of)
        keys = ("code", "name", "shelf", "slot", "reorder_at", "facts", "estimated")
        return {**{key: now[key] for key in keys}, "unit_cost": now["average_cost"], **change}

    def test_a_new_one_a_changed_one_and_what_is_refused(self) -> None:
        new = self.item("C-14", code="C-15", name="Carton, ours", on_hand="12", unit_cost="0.80")
        made = self.ask("post", "supplies", {"supply": new}, status=201)
        self.assertEqual((float(made["on_hand"]), float(made["average_cost"])), (12, 0.8))
        self.assertEqual(self.ask("post", "supplies", {"supply": new}, status=409)["field"], "code")
        facts = {**new["facts"], "tare_mg": 300_000}
        changed = self.ask("put", f"supplies/{made['id']}", {"supply": {**new, "facts": facts, "on_hand": "99"}})
        self.assertEqual((changed["facts"]["tare_mg"], float(changed["on_hand"])), (300_000, 12))
        self.assertEqual(
            self.ask("put", f"supplies/{made['id']}", {"supply": {**new, "code": "X"}}, status=409)["code"],
            "code_fixed",
        )
        wrap = self.item("W-HON", code="C-15")
        self.assertEqual(
            self.ask("put", f"supplies/{made['id']}", {"supply": wrap}, status=409)["code"], "kind_differs"
        )

    def test_what_is_measured_is_no_estimate_any_more(self) -> None:
        new = self.item("C-14", code="C-15", estimated=["tare_mg", "max_load_mg"], on_hand="0")
        made = self.ask("post", "supplies", {"supply": new}, status=201)
        facts = {**new["facts"], "tare_mg": 301_000}
        now = self.ask("put", f"supplies/{made['id']}", {"supply": {**new, "facts": facts}})
        self.assertEqual(now["estimated"], ["max_load_mg"])

    def test_moving_makes_room(self) -> None:
        shelf = [row["code"] for row in self.ask("get", "supplies?page_size=200")["results"] if row["shelf"] == "A"]
        last = shelf[-1]
        self.ask("post", f"supplies/{self.supply(last).pk}/arrange", {"shelf": "A", "slot": 1})
        now = [row["code"] for row in self.ask("get", "supplies?page_size=200")["results"] if row["shelf"] == "A"]
        self.assertEqual(now, [last, *shelf[:-1]])
        self.ask("post", f"supplies/{self.supply(last).pk}/arrange", {"shelf": "a", "slot": 1}, status=422)

    def test_retired_it_is_not_used_and_another_takes_its_place(self) -> None:
        row = self.supply("C-14")
        uses = self.ask("get", f"supplies/{row.pk}/uses")
        self.assertGreater(uses["recipe_count"], 0)
        self.assertGreater(uses["order_count"], 0)
        self.assertEqual(self.ask("post", f"supplies/{row.pk}/retire", {}, status=409)["code"], "in_use")
        other = self.supply("C-16")
        self.ask("post", f"supplies/{row.pk}/retire", {"replace_by": other.pk})
        self.assertEqual(self.ask("get", f"supplies/{row.pk}/uses")["recipe_count"], 0)
        self.assertNotIn("C-14", [one["code"] for one in self.ask("get", "supplies?page_size=200")["results"]])
        self.assertIn("C-14", [one["code"] for one in self.ask("get", "supplies?retired=true")["results"]])
        plan = self.ask("get", f"orders/{self.order('1160').pk}/plan")
        self.assertNotIn("C-14", str([one["candidate"]["container"] for one in plan["plan"].get("parcels", [])]))
        self.assertTrue(Balance.objects.of(self.workshop).get(supply=row).on_hand > 0)
        self.ask("post", f"supplies/{row.pk}/bring-back")
        self.assertIn("C-14", [one["code"] for one in self.ask("get", "supplies?page_size=200")["results"]])

    def test_the_label_of_every_parcel_is_not_retired(self) -> None:
        said = self.ask("post", f"supplies/{self.supply('L-100').pk}/retire", {}, status=409)
        self.assertIn("label", said["detail"])

    def test_places_are_printed_with_codes(self) -> None:
        paper = self.ask("get", "supplies/places.pdf")
        self.assertTrue(paper.content.startswith(b"%PDF"))


class People(DemoCase):
    def test_added_with_a_one_time_password_changed_and_deactivated(self) -> None:
        body = {"username": "pim", "name": "Pim", "role": "packer"}
        given = self.ask("post", "members", body, status=201)
        self.assertEqual(self.ask("post", "members", {**body, "username": "PIM"}, status=422)["field"], "username")
        member = Member.objects.get(user__username="pim")
        self.client.logout()
        signed = self.ask("post", "session/sign-in", {"username": "pim", "password": given["password"]})
        self.assertTrue(signed["must_change"])
        self.as_(self.owner)
        self.ask("put", f"members/{member.pk}", {"name": "Pim B", "role": "owner", "active": False})
        self.client.logout()
        self.ask("post", "session/sign-in", {"username": "pim", "password": given["password"]}, status=401)
        self.as_(self.owner)
        said = self.ask("post", f"members/{member.pk}/one-time-password", status=409)
        self.assertEqual(said["code"], "deactivated")

    def test_a_workshop_keeps_an_owner(self) -> None:
        me = {"name": "Maren", "role": "packer", "active": True}
        self.assertEqual(self.ask("put", f"members/{self.owner.pk}", me, status=409)["code"], "last_owner")
        gone = {"name": "Maren", "role": "owner", "active": False}
        self.assertEqual(self.ask("put", f"members/{self.owner.pk}", gone, status=409)["code"], "last_owner")

    def test_anothers_people_are_not_there(self) -> None:
        rival = make_member(make_workshop("rival"), "rival", "owner")
        self.ask("put", f"members/{rival.pk}", {"name": "x", "role": "packer", "active": True}, status=404)


class ItsOwnFacts(DemoCase):
    def test_the_workshop_is_changed_and_its_label_must_be_there(self) -> None:
        now = self.ask("get", "workshop")
        keys = [
            "name",
            "address",
            "postcode",
            "country",
            "time_zone",
            "unit_system",
            "label_supply",
            "packers_see_costs",
        ]
        body = {key: now[key] for key in keys}
        self.ask("put", "workshop", {**body, "label_supply": "C-14"}, status=422)
        self.assertEqual(self.ask("put", "workshop", {**body, "unit_system": "imperial"})["unit_system"], "imperial")
        self.assertEqual(self.ask("get", "session")["unit_system"], "imperial")
        self.ask("put", "workshop", {**body, "time_zone": "Moon/Sea"}, status=422)
