"""The plan of an order, what it promises of the cupboard, and planning many of them.

A plan's document is kept once, compressed: the plan and the parcels that were begun with it point to the same row. What
lists show are columns.
"""

import json
import zlib
from typing import Any

from django.db import models
from django.utils import timezone

from server.orders.models import Order
from server.recipes.models import RecipeVersion
from server.supplies.models import Supply
from server.workshops.models import WorkshopOwned

__all__ = ["AdviceSeen", "Plan", "PlanDocument", "PlanPart", "PlannedUse", "TrialPick", "Wave", "unpacked"]


def unpacked(content: bytes) -> Any:
    """Return the JSON values of a document's content."""
    return json.loads(zlib.decompress(content))


class PlanDocument(WorkshopOwned):
    """A plan in full: ``core.parcels.plan.PlannedOrder`` or ``Blocked`` as JSON, some 60 kB, compressed to a tenth."""

    content = models.BinaryField(help_text="JSON, compressed with zlib; read() reads it")

    class Meta(WorkshopOwned.Meta):
        abstract = False

    def __str__(self) -> str:
        return f"plan document {self.pk}"

    def read(self) -> Any:
        """Return the document; read once for as long as the row is in hand."""
        if "_read" not in self.__dict__:
            self.__dict__["_read"] = unpacked(bytes(self.content))
        return self.__dict__["_read"]

    def write(self, document: Any) -> None:
        """Take another document; save the row after it."""
        self.content = zlib.compress(json.dumps(document, ensure_ascii=False, separators=(",", ":")).encode())
        self.__dict__["_read"] = document


class Plan(WorkshopOwned):
    """The last computed plan of one order."""

    order = models.OneToOneField(Order, on_delete=models.CASCADE, related_name="plan")
    status = models.CharField(max_length=8, choices=[("planned", "planned"), ("blocked", "blocked")])
    kept = models.OneToOneField(PlanDocument, on_delete=models.PROTECT, related_name="plan")
    missing = models.JSONField(
        default=list, help_text="What is missing, or why a planned order waits for other weather: messages of the core"
    )
    container = models.CharField(max_length=200, blank=True, help_text="Outer containers of all parcels, in words")
    total = models.DecimalField(max_digits=12, decimal_places=2, null=True)
    recipe_versions = models.JSONField(default=dict, help_text="recipe code -> version number it was planned with")
    overrides = models.JSONField(default=dict, help_text="What a person decided: core.parcels.facts.Overrides")
    ship_on = models.DateField()
    stale = models.BooleanField(default=False, help_text="Something it depends on has changed")
    at = models.DateTimeField()
    care = models.JSONField(
        null=True, help_text="What the weather does to it: core.care.planning.Cared without the plan; null: no limits"
    )
    care_state = models.CharField(max_length=8, blank=True, help_text="core.care.report.Verdict; empty: no limits")
    standing_id = models.BigIntegerField(
        null=True, help_text="The parcel packed ahead it counts on: the cupboard alone does not do"
    )

    class Meta(WorkshopOwned.Meta):
        abstract = False
        indexes = [models.Index(fields=["workshop", "stale"])]

    def __str__(self) -> str:
        return f"{self.order_id} {self.status}"

    @property
    def document(self) -> Any:
        """The plan in full, as JSON values."""
        return self.kept.read()


class TrialPick(WorkshopOwned):
    """The version a trial picked for an order: it is planned and packed by it, and not by the current one."""

    order = models.OneToOneField(Order, on_delete=models.CASCADE, related_name="trial_pick")
    version = models.ForeignKey(RecipeVersion, on_delete=models.PROTECT, related_name="+")
    trial = models.CharField(max_length=40, help_text="What names the trial: server.outcomes keeps it")
    question = models.CharField(max_length=200, default="", help_text="What it is to show, for whoever packs it")
    stratum = models.CharField(max_length=60, help_text="Carrier and zone it was picked within")
    at = models.DateTimeField()

    class Meta(WorkshopOwned.Meta):
        abstract = False
        indexes = [models.Index(fields=["workshop", "trial", "stratum"], name="trial_picks")]

    def __str__(self) -> str:
        return f"{self.order_id} by version {self.version_id}"


class PlanPart(WorkshopOwned):
    """One parcel of a plan as the day reads it: 300 documents would take seconds to open."""

    plan = models.ForeignKey(Plan, on_delete=models.CASCADE, related_name="parts")
    part = models.PositiveSmallIntegerField(help_text="Which of the order's parcels, from 1")
    minutes = models.DecimalField(
        max_digits=8, decimal_places=2, help_text="Of hands while packing, without what is done before"
    )
    alike = models.CharField(max_length=200, help_text="Recipe, band and container: parcels of one kind are alike")
    carrier = models.CharField(max_length=30)
    service = models.CharField(max_length=30)
    service_name = models.CharField(max_length=80)
    cut_off = models.TimeField(help_text="Of its service: the last moment it counts as handed over on a day")
    gross_mg = models.PositiveBigIntegerField()
    price = models.DecimalField(max_digits=12, decimal_places=2)
    arrives_on = models.DateField()
    zone = models.CharField(max_length=30, blank=True, help_text="The carrier's, of where it goes")
    container = models.JSONField(help_text="What it goes in, as a message of the core")
    goods = models.JSONField(help_text="Units by sku")
    supplies = models.JSONField(help_text="Codes of what is taken from the shelf")
    settle_minutes = models.PositiveIntegerField(
        default=0, help_text="So long before it leaves it is packed: its closure counts only at its full strength"
    )
    ahead = models.JSONField(default=list, help_text="To be done before the packing: [{what, hours, minutes, goods}]")

    class Meta(WorkshopOwned.Meta):
        abstract = False
        ordering = ["plan_id", "part"]
        constraints = [models.UniqueConstraint(fields=["plan", "part"], name="plan_part_once")]

    def __str__(self) -> str:
        return f"part {self.part} of plan {self.plan_id}"


class PlannedUse(WorkshopOwned):
    """So much of one supply promised to one open order."""

    plan = models.ForeignKey(Plan, on_delete=models.CASCADE, related_name="uses")
    supply = models.ForeignKey(Supply, on_delete=models.CASCADE, related_name="promised")
    quantity = models.DecimalField(max_digits=16, decimal_places=6)

    class Meta(WorkshopOwned.Meta):
        abstract = False
        constraints = [models.UniqueConstraint(fields=["plan", "supply"], name="planned_use_once")]

    def __str__(self) -> str:
        return f"{self.supply_id}: {self.quantity}"


class AdviceSeen(WorkshopOwned):
    """Advice that a plan was given and that other orders of the recipe may be given, too: counted, it is told once."""

    recipe = models.CharField(max_length=30)
    recurs = models.CharField(max_length=120, help_text="What would change: core.advising.changes.Change.recurs")
    order = models.ForeignKey(Order, on_delete=models.CASCADE, related_name="+")
    words = models.JSONField(help_text="The change as a message of the core")
    saves = models.DecimalField(max_digits=12, decimal_places=2)

    class Meta(WorkshopOwned.Meta):
        abstract = False
        constraints = [models.UniqueConstraint(fields=["recipe", "recurs", "order"], name="advice_seen_once")]
        indexes = [models.Index(fields=["workshop", "recipe", "recurs"])]

    def __str__(self) -> str:
        return f"{self.recipe}: {self.recurs}"


class Wave(WorkshopOwned):
    """Planning many orders one after another in the background: how far it is, and whether somebody stopped it."""

    total = models.PositiveIntegerField()
    done = models.PositiveIntegerField(default=0)
    failed = models.PositiveIntegerField(default=0, help_text="Orders left out because of an error, see the log")
    stop_asked = models.BooleanField(default=False)
    told_at = models.DateTimeField(help_text="Last sign of life of whoever works on it", default=timezone.now)
    began_at = models.DateTimeField()
    ended_at = models.DateTimeField(null=True)

    class Meta(WorkshopOwned.Meta):
        abstract = False
        constraints = [
            models.UniqueConstraint(fields=["workshop"], condition=models.Q(ended_at=None), name="one_wave_at_a_time")
        ]

    def __str__(self) -> str:
        return f"{self.done} of {self.total}"
