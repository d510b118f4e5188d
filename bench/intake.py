"""How long an unknown file of 2 000 orders takes to preview and to import at the API (./calm bench intake [ORDERS]).

On a database of its own. Wanted: previewed in under 3 s, imported in under 10 s; planning follows in the background.
"""

import json
import random
import sys
import time
from base64 import b64encode

from temporary import database

# isort: split
from typing import Any

from django.test import Client, override_settings

from server.recipes.models import Product
from server.workshops.clock import today
from server.workshops.models import Member, Workshop

WANTED_PREVIEW, WANTED_IMPORT = 3.0, 10.0
HEAD = (
    "Auftragsnummer;Datum;Lieferung Name;Lieferung Adresse;PLZ;Stadt;Land;Artikel Nr;Anzahl;Preis;Porto;Zahlungsstatus"
)


def made_up(workshop: Workshop, orders: int) -> bytes:
    """Return a file of so many orders of one to five lines."""
    rng = random.Random("intake")
    skus = list(Product.objects.of(workshop).filter(retired_at=None).values_list("sku", flat=True))
    day = today(workshop)
    lines = [HEAD]
    for number in range(orders):
        for sku in rng.sample(skus, rng.randint(1, 5)):
            lines.append(
                f"B-{number};{day.day:02}.{day.month:02}.{day.year};Buyer {number};{number % 90} Mill Lane;"
                f"HW3 {number % 9};Hallowfen;ALM;{sku};{rng.randint(1, 4)}x;1.0{rng.randint(10, 99)},50 €;"
                "4,90 €;bezahlt"
            )
    return "\n".join(lines).encode("cp1252")


def main(arguments: list[str]) -> None:
    """Measure and print."""
    orders = int(arguments[0]) if arguments else 2_000
    with database(), override_settings(ALLOWED_HOSTS=["*"]):
        workshop = Workshop.objects.get()
        client = Client()
        owner = Member.objects.get(workshop=workshop, role="owner")
        client.force_login(owner.user, backend="django.contrib.auth.backends.ModelBackend")
        content = made_up(workshop, orders)
        body: dict[str, Any] = {"name": "orders.csv", "content_base64": b64encode(content).decode()}
        seen, took = _timed(client, "preview", body)
        fields = seen["matching"]["fields"]
        body["matching"] = {
            "columns": {one["name"]: one["columns"] for one in fields if one["columns"]},
            "day_order": seen["matching"]["day_order"],
            "decimal_mark": seen["matching"]["decimal_mark"],
        }
        body["channel"] = "Bench"
        print(f"{orders} orders, {len(content.splitlines()) - 1} lines")
        print(f"questions: {seen['matching']['questions']}, errors: {len(seen['faults'])}")
        print(f"previewed in {took:.2f} s, {took / WANTED_PREVIEW:.2f} of the wanted {WANTED_PREVIEW:g} s")
        done, took = _timed(client, "accept", body)
        wanted = f"{took / WANTED_IMPORT:.2f} of the wanted {WANTED_IMPORT:g} s"
        print(f"imported {done['new_orders']} in {took:.2f} s, {wanted}")
        again, took = _timed(client, "preview", {name: body[name] for name in ("name", "content_base64")})
        print(f"previewed again ({again['kind']}, {again['known_orders']} known) in {took:.2f} s")


def _timed(client: Client, what: str, body: dict) -> tuple[dict, float]:  # type: ignore[type-arg]
    begun = time.perf_counter()
    answer = client.post(f"/api/orders/intake/{what}", json.dumps(body), content_type="application/json")
    took = time.perf_counter() - begun
    if answer.status_code != 200:
        raise SystemExit(f"{what}: {answer.status_code} {answer.content[:400]!r}")
    return answer.json(), took


if __name__ == "__main__":
    main(sys.argv[1:])
