"""People at work at once, over HTTP, while the carrier has moods and connections are cut: what was acknowledged is
there, and everything that must hold does. ``./calm storm`` does the same for half an hour, with kills.
"""

import time
from collections.abc import Callable

from django.contrib.auth.models import User
from django.db import connection
from django.test import Client, LiveServerTestCase

from server.commands.demo import load_demo
from server.standins.models import Behaviour
from server.workshops.models import Workshop
from tests.faults.people import Book, at_work, wrong_by
from tests.kept_rows import begin_with

PEOPLE = 6
#: Answers each mood of the carrier meets, and lasting deeds in all: work decides when it is enough, not the clock,
#: since a busy machine does a fraction of what an idle one does in the same seconds.
ANSWERS_A_MOOD, LASTING = 15, 10
#: After so long the work is held to have stopped.
AT_MOST_S = 180
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

    def wait_until(self, count: Callable[[], int], least: int, end: float) -> None:
        while count() < least and time.monotonic() < end:
            time.sleep(0.05)

    def test_everything_holds_after_moods_and_cut_connections(self) -> None:
        book, end = Book(), time.monotonic() + AT_MOST_S
        with at_work(int(self.live_server_url.rsplit(":", 1)[1]), self.sessions(), book, pause_s=0.1):
            for number, mood in enumerate((*_MOODS, *_MOODS), start=1):
                Behaviour.objects.of(self.workshop).update_or_create(
                    workshop=self.workshop, device="carrier", defaults={"mode": mood}
                )
                if number % 3 == 0:
                    self.cut_connections()
                self.wait_until(book.answered, book.answered() + ANSWERS_A_MOOD, end)
            self.wait_until(book.lasting, LASTING, end)
        self.assertEqual(book.faults, [])
        self.assertEqual(wrong_by(book), [])
        self.assertGreaterEqual(book.answered(), ANSWERS_A_MOOD * 2 * len(_MOODS), book.answers)
        self.assertGreaterEqual(book.lasting(), LASTING, book.answers)
