"""Passwords, one-time passwords and the places people are signed in at."""

from datetime import timedelta
from typing import Any

from django.contrib.sessions.models import Session
from django.test import Client
from django.utils import timezone

from server.workshops.models import Member, SignedIn
from tests.server.base import DemoCase, make_member, make_workshop

OLD, NEW = "a-long-password", "velvet-Harbour-39"


class PeopleCase(DemoCase):
    def sign_in(self, name: str, password: str, status: int = 200, client: Client | None = None) -> Any:
        answer = (client or self.client).post(
            "/api/session/sign-in", {"username": name, "password": password}, content_type="application/json"
        )
        self.assertEqual(answer.status_code, status, answer.content[:300])
        return answer.json()

    def setUp(self) -> None:
        super().setUp()
        self.client.logout()
        self.sign_in("maren", OLD)


class Passwords(PeopleCase):
    def change(self, current: str, new: str, status: int = 200) -> Any:
        return self.ask("post", "session/password", {"current": current, "new": new}, status=status)

    def test_one_changes_ones_own_and_stays_signed_in_here_alone(self) -> None:
        elsewhere = Client()
        self.sign_in("maren", OLD, client=elsewhere)
        self.change(OLD, NEW)
        self.ask("get", "session")
        self.assertEqual(elsewhere.get("/api/session").status_code, 401)
        self.assertEqual(self.ask("get", "session/places")["count"], 1)
        self.client.logout()
        self.assertEqual(self.sign_in("maren", OLD, 401)["code"], "wrong_password")
        self.sign_in("maren", NEW)

    def test_weak_ones_are_refused_with_the_rule(self) -> None:
        for new, rule in (
            ("short", "at least 10"),
            ("1234567890123", "entirely numeric"),
            ("password1234", "too common"),
            ("maren-maren", "too similar"),
            (OLD, "the old one"),
        ):
            told = self.change(OLD, new, 422)
            self.assertEqual((told["code"], told["field"]), ("weak_password", "new"))
            self.assertIn(rule, told["detail"])
        self.assertEqual(self.change("guess", NEW, 422)["field"], "current")
        self.sign_in("maren", OLD)


class OneTime(PeopleCase):
    def given(self, member: Member) -> str:
        return str(self.ask("post", f"members/{member.pk}/one-time-password")["password"])

    def test_it_lets_in_to_change_it_and_to_nothing_else(self) -> None:
        packer = Client()
        self.sign_in("oswin", OLD, client=packer)
        word = self.given(self.packer)
        self.assertRegex(word, r"^[a-z2-9]{4}-[a-z2-9]{4}-[a-z2-9]{4}$")
        self.assertEqual(packer.get("/api/session").status_code, 401, "signed out everywhere")
        self.client.logout()
        self.assertEqual(self.sign_in("oswin", OLD, 401)["code"], "wrong_password")
        self.assertTrue(self.sign_in("oswin", word)["must_change"])
        for path in ("orders", "supplies", "session/places"):
            self.assertEqual(self.ask("get", path, status=403)["code"], "must_change_password")
        self.ask("post", "session/password", {"current": word, "new": NEW})
        self.assertFalse(self.ask("get", "session")["must_change"])
        self.ask("get", "orders")

    def test_it_is_over_after_a_day(self) -> None:
        word = self.given(self.packer)
        Member.objects.filter(pk=self.packer.pk).update(one_time_until=timezone.now() - timedelta(minutes=1))
        self.client.logout()
        self.assertEqual(self.sign_in("oswin", word, 401)["code"], "one_time_over")
        self.assertEqual(SignedIn.objects.filter(member=self.packer).count(), 0)

    def test_only_the_owner_only_here_and_not_for_oneself(self) -> None:
        other = make_member(make_workshop("elsewhere"), "rival", "owner")
        self.ask("post", f"members/{other.pk}/one-time-password", status=404)
        self.assertEqual(
            self.ask("post", f"members/{self.owner.pk}/one-time-password", status=409)["code"], "own_password"
        )
        self.as_(self.packer)
        self.ask("post", f"members/{self.owner.pk}/one-time-password", status=403)

    def test_the_owner_sees_the_people_of_the_workshop(self) -> None:
        self.given(self.packer)
        make_member(make_workshop("elsewhere"), "rival", "owner")
        rows = self.ask("get", "members")["results"]
        self.assertEqual(
            [(row["name"], row["role"], row["places"], row["must_change"], row["me"]) for row in rows],
            [("Maren", "owner", 1, False, True), ("Oswin", "packer", 0, True, False)],
        )


class Places(PeopleCase):
    def test_each_is_listed_and_can_be_ended(self) -> None:
        tablet = Client(headers={"User-Agent": "Bench tablet"})
        self.sign_in("maren", OLD, client=tablet)
        rows = self.ask("get", "session/places")["results"]
        self.assertEqual([row["here"] for row in rows].count(True), 1)
        other = next(row for row in rows if not row["here"])
        self.assertEqual(other["agent"], "Bench tablet")
        self.ask("delete", f"session/places/{other['id']}", status=204)
        self.assertEqual(tablet.get("/api/session").status_code, 401)
        self.assertEqual(self.ask("get", "session/places")["count"], 1)
        self.ask("delete", f"session/places/{other['id']}", status=404)

    def test_signing_out_forgets_the_place(self) -> None:
        self.ask("delete", "session", status=204)
        self.assertEqual(SignedIn.objects.filter(member=self.owner).count(), 0)

    def test_the_owner_ends_a_packers_place_a_packer_not_the_owners(self) -> None:
        tablet = Client()
        self.sign_in("oswin", OLD, client=tablet)
        mine = SignedIn.objects.get(member=self.owner)
        self.assertEqual(tablet.delete(f"/api/session/places/{mine.pk}").status_code, 404)
        theirs = SignedIn.objects.get(member=self.packer)
        self.ask("delete", f"session/places/{theirs.pk}", status=204)
        self.assertFalse(Session.objects.filter(session_key=theirs.session_key).exists())
