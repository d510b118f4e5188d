"""People at work over HTTP, each on their own, at random: what was answered is written down and looked at afterwards.

Who is told that something is done may rely on it: every order typed in, receipt and closed parcel that was
acknowledged must be there, once, whatever failed in between.
"""

import http.client
import json
import random
import threading
import time
from collections import Counter
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from decimal import Decimal
from typing import Any
from uuid import UUID, uuid4

from django.db import connections

from server.bench.models import Parcel
from server.orders.models import Order
from server.supplies.models import Entry
from server.upkeep.invariants import broken
from server.upkeep.uses import wrong_uses
from server.workshops.models import Workshop

__all__ = ["Book", "Browser", "Person", "at_work", "wrong_by"]

#: Deeds, how often each is done among the others.
_DEEDS = (
    ("type_in", 3), ("open_plan", 4), ("begin", 6), ("weigh", 8), ("label", 8), ("close", 10), ("reopen", 1),
    ("receive", 4), ("count", 1), ("hold", 1), ("release", 1), ("hand_over", 2), ("answer", 2), ("void", 1),
    ("wave", 1), ("look", 6),
)  # fmt: skip
_SCREENS = (
    "rail", "day", "orders", "orders?state=packed", "orders?find=o", "supplies", "send-off", "arrivals?show=ask",
    "buying/cover", "recipes", "holds", "find?q=11", "parcels?state=closed", "money/months", "health",
)  # fmt: skip


@dataclass(slots=True)
class Book:
    """What was asked and answered."""

    answers: Counter[tuple[str, str]] = field(default_factory=Counter)
    #: Answers that may never come: a fault of the program, or a refusal without words.
    faults: list[str] = field(default_factory=list)
    orders: dict[UUID, int] = field(default_factory=dict)  #: acknowledged, by the key they were sent with
    receipts: set[UUID] = field(default_factory=set)
    closed: dict[int, UUID] = field(default_factory=dict)
    reopened: set[int] = field(default_factory=set)  #: somebody tried to
    seconds: list[float] = field(default_factory=list)
    lock: threading.Lock = field(default_factory=threading.Lock)

    def answered(self) -> int:
        """Return how many requests have had an answer, or none in the end."""
        with self.lock:
            return sum(self.answers.values())

    def lasting(self) -> int:
        """Return how many deeds were acknowledged that must be found afterwards."""
        with self.lock:
            return len(self.orders) + len(self.receipts) + len(self.closed)


class Browser:
    """Sends requests as a page of somebody signed in would."""

    def __init__(self, port: int, session_key: str) -> None:
        """``session_key``: of a session that is signed in already."""
        self._port, self._cookies = port, {"sessionid": session_key}

    def send(self, method: str, path: str, body: object = None) -> tuple[int, str, bytes]:
        """Return status, type and content. Raises OSError or HTTPException when nobody answers."""
        if method != "GET" and "csrftoken" not in self._cookies:
            self.send("GET", "/")
        line = http.client.HTTPConnection("127.0.0.1", self._port, timeout=120)
        try:
            headers = {
                "Cookie": "; ".join(f"{name}={value}" for name, value in self._cookies.items()),
                "X-CSRFToken": self._cookies.get("csrftoken", ""),
                "Content-Type": "application/json",
            }
            line.request(method, path, json.dumps(body) if body is not None else None, headers)
            answer = line.getresponse()
            content = answer.read()
            for header in answer.headers.get_all("Set-Cookie") or []:
                name, _, value = header.split(";")[0].partition("=")
                if name == "csrftoken":
                    self._cookies[name] = value
            return answer.status, answer.headers.get("Content-Type", ""), content
        finally:
            line.close()


class Person:
    """Somebody signed in, with a browser of their own."""

    def __init__(self, port: int, session_key: str, seed: int, book: Book, *, pause_s: float = 0.3) -> None:
        """``session_key``: of a session that is signed in already."""
        self._browser, self._book, self._pause = Browser(port, session_key), book, pause_s
        self._chance = random.Random(seed)

    def work(self, until: Callable[[], bool]) -> None:
        """Do one thing after another until told to stop."""
        names, weights = zip(*_DEEDS, strict=True)
        while not until():
            time.sleep(self._chance.uniform(0, 2 * self._pause))
            (name,) = self._chance.choices(names, weights)
            getattr(self, f"_{name}")()

    # --- asking ---

    def _ask(self, deed: str, method: str, path: str, body: object = None) -> tuple[int, Any]:
        """Return status and answer; 0 when nobody answered."""
        begun = time.perf_counter()
        try:
            status, kind, content = self._browser.send(method, path, body)
        except (OSError, http.client.HTTPException):
            return self._note(deed, "no answer", 0, None)
        taken = time.perf_counter() - begun
        answer = json.loads(content) if "json" in kind else None
        code = "" if status < 400 or not isinstance(answer, dict) else str(answer.get("code", ""))
        if path == "/api/health" and status == 503:
            code = "health"
        elif status == 500 or (status >= 400 and not (answer and answer.get("detail") and code)):
            with self._book.lock:
                self._book.faults.append(f"{method} {path}: {status} {content[:300]!r}")
        with self._book.lock:
            self._book.seconds.append(taken)
        return self._note(deed, f"{status} {code}".strip(), status, answer)

    def _note(self, deed: str, outcome: str, status: int, answer: Any) -> tuple[int, Any]:
        with self._book.lock:
            self._book.answers[deed, outcome] += 1
        return status, answer

    def _one_of(self, path: str) -> Any:
        """Return one row of a list at random; None when there is none, or nobody answered."""
        _, page = self._ask("list", "GET", f"/api/{path}")
        rows = (page or {}).get("results") or []
        return self._chance.choice(rows) if rows else None

    def _twice(self) -> int:
        """Now and then a request is sent twice: nobody knows whether the first one came."""
        return 2 if self._chance.random() < 0.25 else 1

    # --- deeds ---

    def _type_in(self) -> None:
        goods = self._one_of("products?page_size=100")
        if goods is None:
            return
        key = uuid4()
        line = {"sku": goods["sku"], "quantity": self._chance.randint(1, 3), "unit_price": "6.50"}
        order = {
            "buyer": f"Storm {self._chance.randint(1, 10_000)}", "address": ["Lane 1"], "postcode": "DM3 1",
            "country": "ALM", "postage_charged": "4.00", "lines": [line],
        }  # fmt: skip
        for _ in range(self._twice()):
            body = {"order": order, "request_key": str(key)}
            status, made = self._ask("type in", "POST", "/api/orders/by-hand", body)
            if status in (200, 201):
                with self._book.lock:
                    before = self._book.orders.setdefault(key, made["id"])
                    if before != made["id"]:
                        self._book.faults.append(f"one order typed in twice is {before} and {made['id']}")

    def _open_plan(self) -> None:
        order = self._one_of("orders?state=open")
        if order is not None:
            self._ask("open plan", "GET", f"/api/orders/{order['id']}/plan")

    def _begin(self) -> None:
        order = self._one_of("orders?state=planned")
        if order is not None:
            self._ask("begin", "POST", "/api/parcels/begin", {"order_id": order["id"]})

    def _packing(self) -> Any:
        row = self._one_of("parcels?state=packing")
        return self._ask("parcel", "GET", f"/api/parcels/{row['id']}")[1] if row is not None else None

    def _weigh(self) -> None:
        parcel = self._packing()
        if parcel and "candidate" in parcel:
            grams = Decimal(parcel["candidate"]["weight"]["gross_mg"]) / 1_000
            self._ask("weigh", "POST", f"/api/parcels/{parcel['id']}/weigh", {"typed": f"{grams} g"})

    def _label(self) -> None:
        parcel = self._packing()
        service = ((parcel or {}).get("candidate") or {}).get("quote", {}).get("service")
        if parcel and service:
            for _ in range(self._twice()):
                self._ask("label", "POST", f"/api/parcels/{parcel['id']}/label", {"service": service})

    def _close(self) -> None:
        row = self._one_of("parcels?state=packing")
        if row is None:
            return
        key = uuid4()
        for _ in range(self._twice()):
            path = f"/api/parcels/{row['id']}/close"
            status, _ = self._ask("close", "POST", path, {"request_key": str(key)})
            if status == 200:
                with self._book.lock:
                    self._book.closed[row["id"]] = key

    def _reopen(self) -> None:
        row = self._one_of("parcels?state=closed")
        if row is not None:
            with self._book.lock:
                self._book.reopened.add(row["id"])
            self._ask("reopen", "POST", f"/api/parcels/{row['id']}/reopen", {"words": "the tape came off"})

    def _void(self) -> None:
        row = self._one_of("parcels?state=packing")
        if row is not None:
            self._ask("cancel label", "POST", f"/api/parcels/{row['id']}/label/void")

    def _receive(self) -> None:
        supply = self._one_of("supplies?page_size=100")
        if supply is None:
            return
        key = uuid4()
        body = {
            "quantity": str(self._chance.randint(20, 200)),
            "total_cost": "12.00",
            "note": "",
            "request_key": str(key),
        }
        for _ in range(self._twice()):
            status, _ = self._ask("receive", "POST", f"/api/supplies/{supply['id']}/receive", body)
            if status in (200, 201):
                with self._book.lock:
                    self._book.receipts.add(key)

    def _count(self) -> None:
        supply = self._one_of("supplies?page_size=100")
        if supply is not None:
            body = {"counted": str(self._chance.randint(50, 150)), "note": "", "request_key": str(uuid4())}
            self._ask("count", "POST", f"/api/supplies/{supply['id']}/count", body)

    def _hold(self) -> None:
        order = self._one_of("orders?state=planned")
        if order is not None:
            self._ask("hold", "POST", f"/api/orders/{order['id']}/hold", {"reason": "The buyer asked to wait"})

    def _release(self) -> None:
        order = self._one_of("orders?state=held")
        if order is not None:
            self._ask("release", "POST", f"/api/orders/{order['id']}/release")

    def _hand_over(self) -> None:
        _, found = self._ask("list", "GET", "/api/send-off")
        offs = [one for one in (found or {}).get("send_offs", []) if one["parcels"]]
        if not offs:
            return
        off = self._chance.choice(offs)
        key = off["hand_over"]["key"]
        for parcel in off["parcels"][:5]:
            self._ask("scan", "POST", "/api/send-off/scan", {"hand_over": key, "code": parcel["number"]})
        body = {"hand_over": key, "taken_by": "", "request_key": str(uuid4())}
        for _ in range(self._twice()):
            self._ask("hand over", "POST", "/api/send-off/hand-over", body)

    def _answer(self) -> None:
        row = self._one_of("arrivals?show=ask") or self._one_of("arrivals?show=way")
        if row is not None:
            outcome = self._chance.choice(("whole", "whole", "broken", "late", "lost", "unknown"))
            harms = [{"kind": "broken"}] if outcome == "broken" else []
            body = {"revision": row.get("revision", 0), "outcome": outcome, "harms": harms}
            self._ask("answer", "PUT", f"/api/arrivals/{row['id']}/answer", body)

    def _wave(self) -> None:
        self._ask("plan all again", "POST", "/api/plans/wave")

    def _look(self) -> None:
        self._ask("look", "GET", f"/api/{self._chance.choice(_SCREENS)}")


@contextmanager
def at_work(port: int, sessions: list[str], book: Book, *, pause_s: float = 0.3) -> Iterator[None]:
    """Let somebody work in each session as long as it lasts."""
    stop = threading.Event()
    chance = random.Random(time.monotonic_ns())
    everybody = [Person(port, key, chance.randrange(1 << 30), book, pause_s=pause_s) for key in sessions]
    threads = [threading.Thread(target=one.work, args=(stop.is_set,)) for one in everybody]
    for thread in threads:
        thread.start()
    try:
        yield
    finally:
        stop.set()
        for thread in threads:
            thread.join()


def wrong_by(book: Book) -> list[str]:
    """Return what does not hold once everybody has stopped: invariants, uses, what was acknowledged."""
    connections.close_all()
    found = [f"{one.code}: {row}" for one, _, rows in broken() for row in rows[:3]]
    for workshop in Workshop.objects.all():
        found += [f"uses: {one}" for one in wrong_uses(workshop, days=None)][:3]
        found += _not_there(book, workshop)[:5]
    return found


def _not_there(book: Book, workshop: Workshop) -> list[str]:
    """Return what was acknowledged and is not so."""
    wrong = []
    for key, order_id in book.orders.items():
        ids = list(Order.objects.of(workshop).filter(request_key=key).values_list("pk", flat=True))
        if ids != [order_id]:
            wrong.append(f"the order {order_id} was acknowledged; there is {ids}")
    for key in book.receipts:
        entries = Entry.objects.of(workshop).filter(request_key=key).count()
        if entries != 1:
            wrong.append(f"a receipt was acknowledged; there are {entries} entries of it")
    for parcel_id, key in book.closed.items():
        if parcel_id not in book.reopened:
            parcel = Parcel.objects.of(workshop).filter(pk=parcel_id, state=Parcel.State.CLOSED, close_key=key)
            if not parcel.exists():
                wrong.append(f"the parcel {parcel_id} was closed by {key} and is not")
    return wrong
