"""People at work at once, over HTTP, while the carrier has moods and connections are cut: what was acknowledged is
there, and everything that must hold does. ``./calm storm`` does the same for half an hour, with kills.
"""

import random
import time

from django.contrib.auth.models import User
from django.db import connection
from django.test import Client, LiveServerTestCase

from server.commands.demo import load_demo
from server.standins.models import Behaviour
from server.workshops.models import Workshop
from tests.faults.people import Book, at_work, wrong_by
from tests.kept_rows import begin_with

PEOPLE, SECONDS = 6, 12
_MOODS = ("slow", "refuse", "down", "answer_twice", "drop_out_after", "well")


class Crowd(LiveServerTestCase):
    def setUp(self) -> None:
        begin_with("sample", lambda: load_demo(whole=False))
        self.workshop = Workshop.objects.get()

    def sessions(self) -> list[str]:
        user, keys = User.objects.get(username="maren"), []
        for _ in range(PEOPLE):
            client = Client()
            client.force_login(user, backend="django.contrib.auth.backends.ModelBackend")
            keys.append(client.cookies["sessionid"].value)
        return keys

    def cut_connections(self) -> None:
        with connection.cursor() as cursor:
            cursor.execute(
                "select pg_terminate_backend(pid) from pg_stat_activity where pid <> pg_backend_pid() "
                "and datname = current_database()"
            )

    def test_everything_holds_after_moods_and_cut_connections(self) -> None:
        book, chance = Book(), random.Random(7)
        with at_work(int(self.live_server_url.rsplit(":", 1)[1]), self.sessions(), book, pause_s=0.1):
            end = time.monotonic() + SECONDS
            for mood in (*_MOODS, *_MOODS):
                Behaviour.objects.of(self.workshop).update_or_create(
                    workshop=self.workshop, device="carrier", defaults={"mode": mood}
                )
                if chance.random() < 0.4:
                    self.cut_connections()
                time.sleep(max(0, end - time.monotonic()) / 4)
        self.assertEqual(book.faults, [])
        self.assertEqual(wrong_by(book), [])
        outcomes = {outcome for _, outcome in book.answers}
        self.assertIn("200", outcomes)
        self.assertGreater(sum(book.answers.values()), 40)
        self.assertGreater(len(book.orders) + len(book.receipts) + len(book.closed), 3, book.answers)
