"""How long the cupboard and the list to buy take at the API with 120 supplies and 20 000 ledger entries
(./calm bench buying).

On a database of its own. Wanted: under 200 ms each.
"""

import random
import statistics
import time
from datetime import timedelta
from decimal import Decimal

from temporary import database

# isort: split
from django.test import Client, override_settings
from django.utils import timezone
from lists import SUPPLIES, _copies

from server.supplies.models import Balance, Entry, Offer, Supplier, Supply, UsedOn
from server.workshops.models import Member, Workshop

ENTRIES, TIMES, DAYS = 20_000, 9, 55


def main() -> None:
    """Print the median and the longest of each in ms."""
    with database(), override_settings(ALLOWED_HOSTS=["*"]):
        workshop = Workshop.objects.get()
        _fill(workshop)
        client = Client()
        member = Member.objects.get(user__username="maren")
        client.force_login(member.user, backend="django.contrib.auth.backends.ModelBackend")
        busiest = Supply.objects.of(workshop).get(code="C-14").pk
        print(f"{Supply.objects.of(workshop).count()} supplies, {Entry.objects.of(workshop).count()} entries")
        for method, path in (
            ("get", "supplies?page_size=200"),
            ("get", "buying/cover"),
            ("post", "buying/list"),
            ("get", f"buying/supplies/{busiest}"),
            ("get", "buying/asleep"),
        ):
            taken = [_ms(client, method, path) for _ in range(TIMES)][1:]
            print(f"{statistics.median(taken):7.1f} ms, longest {max(taken):7.1f}  {method} {path}")
        print("(wanted: under 200)")


def _fill(workshop: Workshop) -> None:
    """Make more supplies like those there are, each with eight weeks of use, an offer and its share of the entries."""
    draw = random.Random(5)
    rows = Supply.objects.of(workshop).bulk_create(
        _copies(list(Supply.objects.of(workshop)), SUPPLIES, code="-", name=" ")
    )
    suppliers = list(Supplier.objects.of(workshop))
    Balance.objects.of(workshop).bulk_create(
        Balance(workshop=workshop, supply=row, on_hand=Decimal(draw.randint(5, 90)), average_cost=Decimal("0.5"))
        for row in rows
    )
    Offer.objects.of(workshop).bulk_create(
        Offer(
            workshop=workshop, supplier=draw.choice(suppliers), supply=row, pack=Decimal(10),
            prices=[{"quantity": "0", "price": "0.5"}, {"quantity": "100", "price": "0.45"}],
        )
        for row in rows
    )  # fmt: skip
    now = timezone.now()
    UsedOn.objects.of(workshop).bulk_create(
        UsedOn(workshop=workshop, supply=row, day=(now - timedelta(days=day)).date(), quantity=draw.randint(0, 4))
        for row in rows
        for day in range(1, DAYS)
    )
    everyone = list(Supply.objects.of(workshop))
    missing = ENTRIES - Entry.objects.of(workshop).count()
    Entry.objects.of(workshop).bulk_create(
        Entry(
            workshop=workshop, supply=everyone[at % len(everyone)], kind="used", quantity=Decimal(-1),
            average_after=Decimal("0.5"), by="bench", at=now - timedelta(minutes=missing - at),
        )
        for at in range(missing)
    )  # fmt: skip


def _ms(client: Client, method: str, path: str) -> float:
    begun = time.perf_counter()
    call = client.post if method == "post" else client.get
    answer = call(f"/api/{path}", {}, content_type="application/json") if method == "post" else call(f"/api/{path}")
    assert answer.status_code == 200, (path, answer.status_code, answer.content[:200])
    return (time.perf_counter() - begun) * 1e3


if __name__ == "__main__":
    main()
