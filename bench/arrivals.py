"""How long the screens of arrivals take with the sample's parcels and with 20 times as many (./calm bench arrivals).

On a database of its own: each parcel that left is copied with its arrival. Wanted: under 300 ms each but for the
suggestions, which plan each change for every order size (they do not grow with the parcels).
"""

import statistics
import time

from temporary import database

# isort: split
from typing import Any

from django.test import Client, override_settings

from server.bench.models import Parcel
from server.outcomes.models import Arrival, ArrivalGoods, ArrivalHarm
from server.recipes.models import Recipe
from server.workshops.models import Member, Workshop

COPIES, TIMES = 20, 7


def main() -> None:
    """Print the median of each in ms, before and after, and how many times as long it takes."""
    with database(), override_settings(ALLOWED_HOSTS=["*"]):
        workshop = Workshop.objects.get()
        client = Client()
        member = Member.objects.get(user__username="maren")
        client.force_login(member.user, backend="django.contrib.auth.backends.ModelBackend")
        recipe = Recipe.objects.of(workshop).get(code="small-stoneware").pk
        paths = (
            "rail",
            "arrivals?show=ask",
            "arrivals?show=told",
            "arrivals?find=0701",
            "arrivals/recipes",
            f"recipes/{recipe}/arrivals",
            f"recipes/{recipe}/suggestions",
            "arrivals/carriers",
            "claims",
            "version-trials",
            "learned",
        )
        before = {path: _ms(client, path) for path in paths}
        few = Arrival.objects.of(workshop).count()
        _copy(workshop)
        many = Arrival.objects.of(workshop).count()
        print(f"{few} parcels, then {many}")
        for path in paths:
            after = _ms(client, path)
            print(f"{before[path]:7.1f} ms, {after:7.1f} ms, {after / before[path]:5.1f} times  {path}")


def _ms(client: Client, path: str) -> float:
    taken = []
    for _ in range(TIMES):
        began = time.perf_counter()
        answer = client.get(f"/api/{path}")
        taken.append((time.perf_counter() - began) * 1_000)
        if answer.status_code != 200:
            raise SystemExit(f"{path}: {answer.status_code} {answer.content[:200]!r}")
    return statistics.median(taken[1:])


def _copy(workshop: Workshop) -> None:
    """Copy what left, each time with other numbers of its parts: an order has each part once."""
    rows = list(Arrival.objects.of(workshop).select_related("parcel").prefetch_related("goods", "harms"))
    for copy in range(1, COPIES):
        parcels: list[Parcel] = []
        arrivals: list[Arrival] = []
        goods: list[Any] = []
        harms: list[Any] = []
        for row in rows:
            parcel = Parcel(**{f.attname: getattr(row.parcel, f.attname) for f in Parcel._meta.concrete_fields})
            parcel.pk, parcel.part, parcel.buyer_code, parcel.close_key = None, row.parcel.part + 10 * copy, None, None
            parcels.append(parcel)
        Parcel.objects.of(workshop).bulk_create(parcels)
        for row, parcel in zip(rows, parcels, strict=True):
            arrival = Arrival(**{f.attname: getattr(row, f.attname) for f in Arrival._meta.concrete_fields})
            arrival.pk, arrival.parcel_id = None, parcel.pk
            arrivals.append(arrival)
        Arrival.objects.of(workshop).bulk_create(arrivals)
        for row, arrival in zip(rows, arrivals, strict=True):
            for kind, found, into in ((ArrivalGoods, row.goods, goods), (ArrivalHarm, row.harms, harms)):
                for one in found.all():
                    other = kind(**{f.attname: getattr(one, f.attname) for f in kind._meta.concrete_fields})
                    other.pk, other.arrival_id = None, arrival.pk
                    into.append(other)
        ArrivalGoods.objects.of(workshop).bulk_create(goods)
        ArrivalHarm.objects.of(workshop).bulk_create(harms)


if __name__ == "__main__":
    main()
