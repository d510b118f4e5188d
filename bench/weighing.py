"""Which share of missing units the scale would notice, parcel by parcel, on the workshop's plans (./calm bench
weighing).

For each product in each planned parcel: one unit is left out, the reading spreads about that weight as the plan says,
and the rule decides. Wanted: 95 % over the demo. Nothing is asserted here; the test of it is
tests/server/test_weighing.
"""

import os
import sys
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parent.parent))
os.environ.setdefault("DJANGO_SETTINGS_MODULE", "server.config.settings")

import django

django.setup()

from core.bench.weighing import Slip, share_noticed
from core.parcels.plan import PlannedOrder
from server.bench.selectors import slips_for
from server.plans.facts import settings_of
from server.plans.mapping import plan_from_json
from server.plans.models import Plan
from server.workshops.models import Workshop


def main() -> None:
    """Print each parcel's share and the whole."""
    workshop = Workshop.objects.get()
    settings = settings_of(workshop)
    units, noticed = 0, 0.0
    print("order   parcel              sigma   product                                    unit   noticed")
    for row in Plan.objects.of(workshop).select_related("order", "kept").order_by("order__number"):
        plan = plan_from_json(row.document)
        if not isinstance(plan, PlannedOrder):
            continue
        for parcel in plan.chosen.parcels:
            slips, sigma = slips_for(workshop, plan, parcel), parcel.candidate.weight.sigma_mg
            missing = iter([slip for slip in slips if slip.kind == "unit_missing"])
            known: dict[str, Slip] = {}
            for piece in parcel.pieces:
                slip = known.get(piece.name) or next(missing)
                known[piece.name] = slip
                share = share_noticed(
                    slip, slips, sigma_mg=sigma, look_cost=settings.look_cost, slip_one_in=settings.slip_one_in
                )
                units += piece.units
                noticed += share * piece.units
                print(
                    f"{row.order.number:7} {parcel.candidate.container:16} {sigma / 1000:6.1f} g   "
                    f"{piece.units} {piece.name[:38]:38} "
                    f"{-slip.effect_mg / 1000:6.0f} g   {share:6.1%}"
                )
    print(f"{units} units; noticed when one of them is missing: {noticed / units:.2%} (wanted: 95 %)")


if __name__ == "__main__":
    main()
