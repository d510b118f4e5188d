"""People at work while web, worker and database are killed (./calm storm [MINUTES]).

Meanwhile the carrier has its moods, the clock steps, the disk is full and the database can only be read; every
invariant and everything that was acknowledged is looked at.

On a PostgreSQL of its own, which ./calm storm starts. Prints a report and exits with 1 when anything did not hold.
"""

import os
import random
import signal
import subprocess
import sys
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parent.parent))

import django

django.setup()

from django.contrib.auth.models import User
from django.core.management import call_command
from django.db import DatabaseError, connection, connections
from django.test import Client
from served import WORKER, free_port, web_command

from server.plans.waves import wave_of
from server.standins.models import Behaviour
from server.upkeep.invariants import INVARIANTS
from server.workshops.models import Member, Workshop
from tests.faults.people import Book, Person, at_work, wrong_by

ROOT = Path(__file__).resolve().parent.parent
PEOPLE = 12
#: Seconds of storm between two looks, and at most of waiting until all is quiet.
STORM_S, QUIET_S = 50, 90
#: The workshop's own day jumps by one, either way.
ZONES = ("Etc/UTC", "Pacific/Kiritimati", "Etc/GMT+12")
MOODS = ("slow", "refuse", "down", "answer_twice", "drop_out_after", "asks_more", "measures_again", "refuse_all")


class Kept:
    """A process that is begun again whenever it ends."""

    def __init__(self, command: list[str]) -> None:
        self._command, self._stopping = command, False
        self._log = (ROOT / ".data" / "storm.log").open("ab")
        self.begun = 0
        self.process = self._begin()
        self._watcher = threading.Thread(target=self._watch, daemon=True)
        self._watcher.start()

    def _begin(self) -> "subprocess.Popen[bytes]":
        self.begun += 1
        return subprocess.Popen(self._command, cwd=ROOT, stdout=self._log, stderr=self._log)

    def _watch(self) -> None:
        while not self._stopping:
            self.process.wait()
            if not self._stopping:
                time.sleep(1)
                self.process = self._begin()

    def stop(self) -> None:
        """End it for good."""
        self._stopping = True
        self.process.terminate()
        try:
            self.process.wait(20)
        except subprocess.TimeoutExpired:
            self.process.kill()
            self.process.wait()

    def children(self) -> list[int]:
        """Return the ids of its own processes."""
        found = subprocess.run(["ps", "-o", "pid=", "--ppid", str(self.process.pid)], capture_output=True, text=True)
        return [int(one) for one in found.stdout.split()]


class Storm:
    """Everything that runs, and what may befall it."""

    def __init__(self, port: int) -> None:
        self.web = Kept(web_command(port))
        self.workers = [Kept(WORKER), Kept(WORKER)]
        self.port, self.done, self.most_kb = port, dict[str, int](), 0
        self._chance = random.Random(11)

    def strike(self) -> None:
        """Do one thing to it."""
        deeds: list[Callable[[], None]] = [
            self.kill_web, self.kill_web, self.kill_worker, self.kill_worker, self.cut_connections,
            self.kill_database, self.mood, self.mood, self.mood, self.step_clock, self.read_only,
        ]  # fmt: skip
        deed = self._chance.choice(deeds)
        self.done[deed.__name__] = self.done.get(deed.__name__, 0) + 1
        deed()

    def kill_web(self) -> None:
        children = self.web.children()
        if children:
            _kill(self._chance.choice(children))

    def kill_worker(self) -> None:
        _kill(self._chance.choice(self.workers).process.pid)

    def cut_connections(self) -> None:
        _sql("select pg_terminate_backend(pid) from pg_stat_activity where pid <> pg_backend_pid() "
             "and datname = current_database()")  # fmt: skip

    def kill_database(self) -> None:
        connections.close_all()
        _pg("stop", "-m", "immediate")
        time.sleep(self._chance.uniform(0.5, 4))
        _pg("start", "-w")

    def mood(self) -> None:
        _carrier(self._chance.choice(MOODS))

    def step_clock(self) -> None:
        Workshop.objects.update(time_zone=self._chance.choice(ZONES))

    def read_only(self) -> None:
        _sql("alter system set default_transaction_read_only = on", "select pg_reload_conf()")
        time.sleep(self._chance.uniform(1, 4))
        self._writable()

    def _writable(self) -> None:
        _sql(
            "set default_transaction_read_only = off", "alter system reset default_transaction_read_only",
            "select pg_reload_conf()",
        )  # fmt: skip

    def calm(self) -> None:
        """Let everything be well again, and wait until nobody plans any more."""
        for _ in range(30):
            try:
                self._writable()
                _carrier("well")
                break
            except DatabaseError:
                connections.close_all()
                time.sleep(1)
        end = time.monotonic() + QUIET_S
        while time.monotonic() < end:
            if not any(wave_of(workshop) for workshop in Workshop.objects.all()):
                return
            time.sleep(1)

    def weigh(self) -> None:
        """Keep the most memory a web process had, what it shares with others divided among them."""
        for pid in self.web.children():
            with suppress(OSError):  # it ended meanwhile
                lines = Path(f"/proc/{pid}/smaps_rollup").read_text().splitlines()
                self.most_kb = max(self.most_kb, *(int(one.split()[1]) for one in lines if one.startswith("Pss:")))

    def stop(self) -> None:
        for one in (self.web, *self.workers):
            one.stop()


def _carrier(mode: str) -> None:
    for workshop in Workshop.objects.all():
        Behaviour.objects.of(workshop).update_or_create(workshop=workshop, device="carrier", defaults={"mode": mode})


def _kill(pid: int) -> None:
    with suppress(ProcessLookupError):  # it ended by itself meanwhile
        os.kill(pid, signal.SIGKILL)


def _sql(*statements: str) -> None:
    with connection.cursor() as cursor:
        for statement in statements:
            cursor.execute(statement)


def _as_owner(*command: str) -> None:
    """Run a command as whoever runs the database server."""
    before = ["runuser", "-u", "postgres", "--", "env", "-C", "/"] if os.getuid() == 0 else []
    subprocess.run([*before, *command], check=True, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)


def _pg(*command: str) -> None:
    folder = os.environ["CALM_STORM_PG"]
    options = ["-o", f"-p {os.environ['CALM_DB_PORT']}", "-l", f"{folder}/log"] if command[0] == "start" else []
    _as_owner(f"{os.environ['CALM_STORM_BIN']}/pg_ctl", "-D", f"{folder}/data", *options, *command)


_WRITTEN_MOST = ("supplies_entry", "bench_parcel", "orders_order", "plans_plan", "plans_plandocument")


@contextmanager
def small_disk() -> Iterator[bool]:
    """Put what people write most on a disk that is full; False where no disk may be mounted."""
    place = Path(os.environ["CALM_STORM_PG"]) / "small"
    _as_owner("mkdir", "-p", str(place))
    if subprocess.run(["mount", "-t", "tmpfs", "-o", "size=96m", "tmpfs", str(place)], capture_output=True).returncode:
        yield False
        return
    try:
        if os.getuid() == 0:
            subprocess.run(["chown", "postgres:", str(place)], check=True)
        moved = [f"alter table {table} set tablespace" for table in _WRITTEN_MOST]
        # Rewritten, so that no room is left inside them.
        _sql(f"create tablespace small location '{place}'", *(f"{one} small" for one in moved),
             *(f"vacuum full {table}" for table in _WRITTEN_MOST),
             "create table filler (t text) tablespace small")  # fmt: skip
        size = 100_000
        while size:
            try:
                _sql(f"insert into filler select repeat(md5(n::text), 10) from generate_series(1, {size}) n")
            except DatabaseError:
                size //= 4
        yield True
        _sql("drop table filler", *(f"{one} pg_default" for one in moved), "drop tablespace small")
    finally:
        subprocess.run(["umount", str(place)], check=False)


def main(minutes: float) -> int:
    """Storm, look, and print the report."""
    call_command("load_demo", "--if-empty")
    member = Member.objects.select_related("user").get(user__username="maren")
    sessions = []
    for _ in range(PEOPLE):
        client = Client()
        client.force_login(member.user, backend="django.contrib.auth.backends.ModelBackend")
        sessions.append(client.cookies["sessionid"].value)
    assert User.objects.exists()
    storm, book, wrong, looks = Storm(free_port()), Book(), list[str](), 0
    begun = time.monotonic()
    try:
        _until_up(storm.port)
        while time.monotonic() - begun < minutes * 60:
            with at_work(storm.port, sessions, book):
                end = time.monotonic() + STORM_S
                while time.monotonic() < end:
                    time.sleep(storm._chance.uniform(1, 6))
                    storm.weigh()
                    _struck(storm)
            storm.calm()
            looks += 1
            wrong += wrong_by(book)
            _until_up(storm.port)
        with small_disk() as mounted:
            if mounted:
                with at_work(storm.port, sessions, book):
                    time.sleep(20)
        storm.calm()
        looks += 1
        wrong += wrong_by(book)
    finally:
        storm.stop()
    _report(time.monotonic() - begun, storm, book, wrong, looks, mounted)
    return 1 if wrong or book.faults else 0


def _struck(storm: Storm) -> None:
    try:
        storm.strike()
    except DatabaseError:
        connections.close_all()  # the storm struck its own connection, too


def _until_up(port: int) -> None:
    book = Book()
    for _ in range(120):
        if Person(port, "", 0, book)._ask("up", "GET", "/api/health")[0] == 200:
            return
        time.sleep(0.5)
    raise SystemExit("the server does not answer; see .data/storm.log")


def _report(seconds: float, storm: Storm, book: Book, wrong: list[str], looks: int, full_disk: bool) -> None:
    say = print
    requests = sum(book.answers.values())
    say(f"{seconds / 60:.1f} minutes, {PEOPLE} people, 2 web processes, 2 workers; {requests} requests")
    say("struck: " + ", ".join(f"{name.replace('_', ' ')} {count}" for name, count in sorted(storm.done.items())))
    say(
        "disk full: "
        + ("20 s, for ledger, parcels, orders and plans" if full_disk else "not tried, no disk may be mounted here")
    )
    say(f"acknowledged: {len(book.orders)} orders, {len(book.receipts)} receipts, {len(book.closed)} parcels closed")
    by_outcome: dict[str, int] = {}
    for (_, outcome), count in book.answers.items():
        by_outcome[outcome] = by_outcome.get(outcome, 0) + count
    for outcome, count in sorted(by_outcome.items(), key=lambda pair: -pair[1]):
        say(f"  {count:7} {outcome}")
    taken = sorted(book.seconds)
    say(f"an answer: median {taken[len(taken) // 2] * 1_000:.0f} ms, 95 in 100 under "
        f"{taken[int(len(taken) * 0.95)] * 1_000:.0f} ms")  # fmt: skip
    say(f"a web process: {storm.most_kb // 1024} MB at most")
    say(f"{looks} looks at {len(INVARIANTS)} invariants, all uses, all that was acknowledged: "
        + (f"{len(wrong)} WRONG" if wrong else "all hold"))  # fmt: skip
    for one in wrong[:20]:
        say(f"  {one}")
    say(f"answers that may never come (500, refusals without words): {len(book.faults)}")
    for one in book.faults[:20]:
        say(f"  {one}")


if __name__ == "__main__":
    sys.exit(main(float(sys.argv[1]) if len(sys.argv) > 1 else 30))
