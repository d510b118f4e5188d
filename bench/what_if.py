"""How long a what-if takes over 300 and 3 000 orders, and how much memory (./calm bench what-if [N]).

On a database of its own: the sample's orders, many times over, each copy to another place and of another buyer. Wanted:
300 in under 15 s, 3 000 in under 90 s, under 1 GB with its processes.
"""

import resource
import sys
import threading
import time
from pathlib import Path

from temporary import database

# isort: split
from datetime import timedelta

from server.money import trying, what_ifs
from server.money.changes import ASKED
from server.orders.models import Order, OrderLine
from server.workshops.clock import today
from server.workshops.models import Member, Workshop

CHANGES = (
    ("a wage", {"kind": "wage", "per_hour": "18"}),
    ("a carton gone", {"kind": "without", "code": "C-14"}),
    ("a charge", {"kind": "charge", "flat": "5.90"}),
)


def main() -> None:
    """Print seconds and the most memory of the worker and its two processes together."""
    most = int(sys.argv[1]) if len(sys.argv) > 1 else 3_000
    with database():
        workshop = Workshop.objects.get()
        owner = Member.objects.get(user__username="maren")
        for count in (300, most):
            trying.MOST_ORDERS = count
            _copy(workshop, count)
            for words, change in CHANGES:
                row = what_ifs.begin(by=owner, asked=ASKED.validate_python({"changes": [change], "weeks": 10}))
                watch = _Memory()
                begun = time.perf_counter()
                trying.run(workshop, row.pk)
                taken = time.perf_counter() - begun
                row.refresh_from_db()
                print(f"{row.of:6} orders, {words:14} {taken:6.1f} s, {watch.end() / 2**20:5.0f} MB")


def _copy(workshop: Workshop, count: int) -> None:
    """Copy orders, lines and all, until there are so many; as varied as they are, their goods one more or fewer."""
    models = list(Order.objects.of(workshop).filter(joined_into=None).exclude(state="cancelled"))
    lines = {order.pk: list(OrderLine.objects.of(workshop).filter(order=order)) for order in models}
    day = today(workshop)
    made, rows = [], []
    for number in range(max(0, count - len(models))):
        old = models[number % len(models)]
        new = Order(**{f.attname: getattr(old, f.attname) for f in Order._meta.concrete_fields})
        new.pk, new.number, new.buyer, new.request_key = None, f"B{number}-{count}", f"{old.buyer} {number}", None
        new.placed_on = day - timedelta(days=number % 69)
        made.append((new, old, number // len(models)))
    Order.objects.of(workshop).bulk_create([new for new, _, _ in made])
    for new, old, turn in made:
        for line in lines[old.pk]:
            copied = OrderLine(**{f.attname: getattr(line, f.attname) for f in OrderLine._meta.concrete_fields})
            copied.pk, copied.order_id, copied.quantity = None, new.pk, max(1, line.quantity + turn % 3 - 1)
            rows.append(copied)
    OrderLine.objects.of(workshop).bulk_create(rows)


class _Memory:
    """The most resident memory of this process and those it began, looked at four times a second."""

    def __init__(self) -> None:
        self.most, self.ended = 0, False
        self.thread = threading.Thread(target=self._look, daemon=True)
        self.thread.start()

    def _look(self) -> None:
        while not self.ended:
            own = Path("/proc/self/task").parent
            pids = [own, *(Path(f"/proc/{pid}") for pid in _children())]
            self.most = max(self.most, sum(_resident(path) for path in pids))
            time.sleep(0.25)

    def end(self) -> int:
        self.ended = True
        self.thread.join()
        return self.most


def _children() -> list[str]:
    found = []
    for task in Path("/proc/self/task").iterdir():
        try:
            found += (task / "children").read_text().split()
        except FileNotFoundError:  # a thread that ended meanwhile
            continue
    return found


def _resident(process: Path) -> int:
    try:
        return int((process / "statm").read_text().split()[1]) * resource.getpagesize()
    except (FileNotFoundError, ProcessLookupError):  # it ended meanwhile
        return 0


if __name__ == "__main__":
    main()
