"""How the sample workshop's parcels of the last ten weeks arrived: a cluster, a trial half way, a claim, a true weight.

What is told stands in demo/arrivals.json; the simulated carrier says when each parcel came.
"""

import json
from collections.abc import Sequence
from datetime import timedelta
from decimal import Decimal
from typing import Any, get_args
from uuid import NAMESPACE_URL, uuid5

from django.db import transaction

from core.outcomes.model import Harm, HarmKind
from core.recipes.model import Recipe as CoreRecipe
from server.bench.models import Parcel
from server.config.env import ROOT
from server.orders.models import Order
from server.outcomes.answering import Told, answer, ask_carriers, assume_whole
from server.outcomes.claims import ClaimTold, save_claim
from server.outcomes.counting import follow_recipe
from server.outcomes.models import Arrival, Claim, VersionTrial
from server.outcomes.picking import picks_of
from server.outcomes.sending import record_missing
from server.outcomes.trials import Wanted, begin
from server.outcomes.where import save_suggestion
from server.plans.models import TrialPick
from server.recipes.mapping import core_recipe
from server.recipes.models import Recipe, RecipeVersion
from server.recipes.selectors import current_version
from server.standins.models import CarrierSale
from server.workshops.clock import today
from server.workshops.models import Member, Workshop

__all__ = ["SampleArrivals"]

_FILE = ROOT / "demo" / "arrivals.json"


class SampleArrivals:
    """Loads arrivals beside the history of the sample."""

    def __init__(self, workshop: Workshop, owner: Member) -> None:
        """Read what is told."""
        self.workshop, self.owner = workshop, owner
        self.file: dict[str, Any] = json.loads(_FILE.read_text())

    @property
    def heavier_mg(self) -> dict[str, int]:
        """Return how much more a unit weighs than was entered, by sku."""
        return dict(self.file["heavier_mg"])

    def before_planning(self, orders: Sequence[Order]) -> dict[int, CoreRecipe]:
        """Begin the sample's trial; return the orders that were packed by an earlier version of their recipe."""
        self._trial(orders)
        told = self.file["earlier"]
        versions = RecipeVersion.objects.of(self.workshop).filter(recipe__code=told["recipe"])
        row = versions.filter(number=told["version"]).first()
        if row is None:
            return {}
        later = [order.placed_on for order in orders if order.number >= told["before_order"]]
        if later:  # the version in use was made when the first order was packed by it
            at = row.at - (today(self.workshop) - min(later))
            versions.filter(number__gt=told["version"]).update(at=at)
        return {order.pk: core_recipe(row) for order in orders if order.number < told["before_order"]}

    def _trial(self, orders: Sequence[Order]) -> None:
        """Begin the trial before its orders are planned: every other one is packed by the other version."""
        told = self.file["trial"]
        recipe = Recipe.objects.of(self.workshop).filter(code=told["recipe"]).first()
        version = current_version(self.workshop, recipe.pk) if recipe is not None else None
        if recipe is None or version is None:
            return
        made = save_suggestion(
            by=self.owner, recipe_id=recipe.pk, cause=told["cause"], code=told["change"], base_version=version.number,
            for_trial=True,
        )  # fmt: skip
        trial = begin(
            by=self.owner,
            wanted=Wanted(
                recipe_id=recipe.pk, versions=(version.number, made.number), kind=VersionTrial.Kind.ORDERS,
                question=told["question"], rate=Decimal(told["rate"]), hoped=Decimal(told["hoped"]), each=told["each"],
                request_key=uuid5(NAMESPACE_URL, f"sample-trial-{self.workshop.pk}"),
            ),
        )  # fmt: skip
        mine = [
            order
            for order in orders
            if order.number >= told["from_order"]
            and all(line.product is not None and line.product.recipe_id == recipe.pk for line in order.lines.all())
        ]
        first = min((order.taken_in_at for order in mine), default=trial.began_at)
        began = min(first, *(trial.began_at - (today(self.workshop) - order.placed_on) for order in mine))
        VersionTrial.objects.of(self.workshop).filter(pk=trial.pk).update(began_at=began)
        TrialPick.objects.of(self.workshop).bulk_create(
            TrialPick(
                workshop=self.workshop, order=order, version=(version, made)[at % 2], trial=trial.key,
                question=trial.question,
                stratum=f"sample/{order.postcode[:2]}", at=began,
            )
            for at, order in enumerate(mine)
        )  # fmt: skip

    @transaction.atomic
    def arrive(self) -> str:
        """Let the parcels arrive, and write down what was told of them."""
        while record_missing(self.workshop):
            continue
        for recipe in Recipe.objects.of(self.workshop):
            follow_recipe(self.workshop, recipe.pk)
        self._late()
        while True:
            asked = ask_carriers(self.workshop, most=200)
            if asked.problem or asked.asked < 200 or not asked.delivered:
                break
        told = [self._tell(one) for one in self.file["told"]]
        self._whole()
        assumed = assume_whole(self.workshop)
        trial = VersionTrial.objects.of(self.workshop).first()
        picked = sum(picks_of(self.workshop, trial).values()) if trial is not None else 0
        return f"{sum(told)} arrivals told, {assumed} whole since nobody complained, {picked} orders in a trial"

    def _late(self) -> None:
        """Some parcels came a day or two after they were promised."""
        keys = Parcel.objects.of(self.workshop).filter(arrival__isnull=False).order_by("handed_over_at", "id")
        tracking = list(keys.values_list("tracking", flat=True))
        every = int(self.file["late_every"])
        for days in (1, 2):
            late = CarrierSale.objects.of(self.workshop).filter(tracking__in=tracking[days * 5 :: every])
            late.update(late_days=days)

    def _tell(self, one: dict[str, Any]) -> bool:
        row = Arrival.objects.of(self.workshop).filter(parcel__order__number=one["order"]).first()
        if row is None:
            return False
        delivered = row.delivered_on
        if one.get("claim") and row.claim_days is not None:  # its last day is the day after tomorrow
            delivered = today(self.workshop) - timedelta(days=row.claim_days - 2)
            delivered = max(delivered, row.sent_on)
        hurt = one["outcome"] in get_args(HarmKind)
        harms = (Harm(kind=one["outcome"], place=one.get("place"), spot=one.get("spot", "")),) if hurt else ()
        told = Told(
            outcome=one["outcome"], harms=harms, note=one.get("note", ""), message=one.get("message", ""),
            gave_back=one.get("gave_back", ""), gave_amount=Decimal(one.get("gave_amount", "0")),
            delivered_on=None if one["outcome"] == "lost" else delivered,
        )  # fmt: skip
        answer(
            workshop=self.workshop, arrival_id=row.pk, told=told, revision=row.revision, by=self.owner.name,
            source=Arrival.Source.US,
        )  # fmt: skip
        claim = Claim.objects.of(self.workshop).filter(arrival=row).first()
        if claim is not None and "claim_state" in one:
            paid = Decimal(one["paid"]) if "paid" in one else None
            told_of = ClaimTold(
                state=one["claim_state"], amount=claim.amount, paid=paid, made_on=delivered, reference="",
                note=one.get("claim_note", ""),
            )  # fmt: skip
            save_claim(by=self.owner, claim_id=claim.pk, told=told_of, revision=claim.revision)
        return True

    def _whole(self) -> None:
        """Some buyers wrote that all is well."""
        rows = (
            Arrival.objects.of(self.workshop).filter(outcome="unknown", delivered_on__isnull=False).order_by("sent_on")
        )
        for row in list(rows)[:: int(self.file["told_whole_every"])]:
            answer(
                workshop=self.workshop, arrival_id=row.pk, told=Told(outcome="whole"), revision=row.revision,
                by=self.owner.name, source=Arrival.Source.US,
            )  # fmt: skip
