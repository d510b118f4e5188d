"""How fast quoting is, against the demo's three carriers: ./calm bench quotes [PARCELS]. Nothing is asserted.

One parcel with one service; one parcel with every service; the next cheaper steps; the price stairs. Told as ratios to
the wanted millisecond a service too.
"""

import random
import statistics
import sys
import time
import tracemalloc
from contextlib import suppress
from datetime import date
from pathlib import Path

from core.errors import OutsideTariff
from core.tariffs.cheaper import cheaper_steps
from core.tariffs.model import Place, Sending, Tariff
from core.tariffs.probing import price_over
from core.tariffs.quote import quote_all, quote_service
from core.tariffs.stairs import stairs_of
from core.units import Size
from server.formats.tariff import TariffFile

DEMO = Path(__file__).resolve().parents[1] / "demo"
WANTED_MS = 1.0


def tariffs() -> tuple[Tariff, ...]:
    """Return the demo's current lists."""
    paths = [*sorted((DEMO / "tariffs").glob("*.json")), *sorted((DEMO / "carriers").glob("*.json"))]
    return tuple(TariffFile.model_validate_json(path.read_text()).core() for path in paths)


def parcels(count: int) -> list[tuple[Size, int, Sending]]:
    """Return seeded parcels, small and large, near and far."""
    rng = random.Random("quotes")
    found = []
    for _ in range(count):
        sides = [rng.randint(20, 600) * 1_000 for _ in range(3)]
        size = Size(length_um=sides[0], width_um=sides[1], height_um=sides[2])
        code = rng.choice(["DM14", "HW32", "MB17", "OK71", "QH71", "TW26"])
        place = Place(country="ALM", postcode=code)
        sending = Sending(destination=place, ship_on=date(2026, 11, 25), origin=Place(country="ALM", postcode="DM14"))
        found.append((size, rng.randint(50, 20_000) * 1_000, sending))
    return found


def main(arguments: list[str]) -> int:
    """Measure and print."""
    count = int(arguments[0]) if arguments else 2_000
    lists, given = tariffs(), parcels(count)
    services = [(tariff, service) for tariff in lists for service in tariff.services]
    took = []
    for size, weight, sending in given:
        for tariff, service in services:
            begun = time.perf_counter()
            with suppress(OutsideTariff):
                quote_service(tariff, service, outer=size, gross_mg=weight, sending=sending)
            took.append(time.perf_counter() - begun)
    _tell("one service, one parcel", took)
    print(f"{'':24} of the wanted {WANTED_MS:g} ms: {statistics.median(took) * 1000 / WANTED_MS:.3f}")
    begun = time.perf_counter()
    for size, weight, sending in given:
        quote_all(lists, outer=size, gross_mg=weight, sending=sending)
    seconds = time.perf_counter() - begun
    print(f"all {len(services)} services        {count * len(services) / seconds:9.0f} quotes a second")
    some = given[: max(1, count // 20)]
    _tell("cheaper steps, all", [_timed(lambda o=o: _near(lists, *o)) for o in some])
    _tell("stairs, all services", [_timed(lambda o=o: _stairs(lists, *o)) for o in some])
    tracemalloc.start()
    for size, weight, sending in given[:500]:
        quote_all(lists, outer=size, gross_mg=weight, sending=sending)
    print(f"peak memory of 500 parcels over all services {tracemalloc.get_traced_memory()[1] / 1e6:.2f} MB")
    return 0


def _timed(job) -> float:  # type: ignore[no-untyped-def]
    begun = time.perf_counter()
    job()
    return time.perf_counter() - begun


def _near(lists: tuple[Tariff, ...], size: Size, weight: int, sending: Sending) -> None:
    for tariff in lists:
        for service in tariff.services:
            cheaper_steps(tariff, service, outer=size, gross_mg=weight, sending=sending)


def _stairs(lists: tuple[Tariff, ...], size: Size, weight: int, sending: Sending) -> None:
    for tariff in lists:
        for service in tariff.services:
            stairs_of(
                price_over(tariff, service, "weight", outer=size, gross_mg=weight, sending=sending), 1_000, 2 * weight
            )


def _tell(what: str, took: list[float]) -> None:
    ordered = sorted(took)
    median, p95 = statistics.median(ordered) * 1000, ordered[int(len(ordered) * 0.95)] * 1000
    print(f"{what:24} median {median:8.3f} ms   p95 {p95:8.3f} ms")


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
