"""How long it takes after a new forecast until 300 open orders are true again (./calm bench weather [N]).

On a database of its own: the sample's open orders are copied, a third of the goods gets a limit of 18 degrees, a liner
and packs lie on the shelf. A mild forecast is heard and all is planned; then a heat wave, then the same once more.
Wanted: under 10 s in the background, and only the orders it concerns.
"""

import json
import sys
import time

from temporary import database

# isort: split
from copied_orders import copy_orders

# isort: split
from server.care.services import hear_forecast
from server.commands.intake import import_kind
from server.config.env import ROOT
from server.plans.models import Plan
from server.plans.waves import run_wave
from server.recipes.models import Product
from server.standins.models import Behaviour
from server.supplies.models import Balance
from server.workshops.models import Workshop

THERMAL = ("I-GEL", "I-GELP", "I-LIN", "I-HEAT", "C-26")
WANTED_S = 10


def _heard(workshop: Workshop, mode: str, words: str) -> float:
    Behaviour.objects.of(workshop).update_or_create(workshop=workshop, device="forecast", defaults={"mode": mode})
    begun = time.perf_counter()
    marked = hear_forecast(workshop)
    heard_s = time.perf_counter() - begun
    planned = run_wave(workshop=workshop)
    took = time.perf_counter() - begun
    danger = Plan.objects.of(workshop).filter(care_state="danger").count()
    concerned = Plan.objects.of(workshop).exclude(care_state="").count()
    print(
        f"{words}: {took:6.2f} s ({heard_s:.2f} s to hear and look); {concerned} orders with a limit, "
        f"{marked} marked, {planned} planned again, {danger} in danger"
    )
    return took


def main(count: int) -> None:
    """Print what each forecast took."""
    with database():
        workshop = Workshop.objects.get()
        file = json.loads((ROOT / "demo" / "range" / "supplies.json").read_text())
        file["supplies"] = [one for one in file["supplies"] if one["code"] in THERMAL]
        import_kind(workshop, "supplies", json.dumps(file).encode(), by="bench")
        Product.objects.of(workshop).filter(sku__in=("PRE-BLK", "LOAF-GIN", "SOAP-3", "FUD-HON")).update(highest_c=18)
        copy_orders(workshop, count)
        Balance.objects.of(workshop).update(on_hand=100_000)
        _heard(workshop, "well", "the first, all planned")
        worst = max(_heard(workshop, "heat", "a heat wave"), _heard(workshop, "well", "it passes"))
        _heard(workshop, "well", "the same again")
        print(f"wanted under {WANTED_S} s: {'yes' if worst < WANTED_S else 'no'}")


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 300)
