"""The plan of an open order and what it promises of the cupboard."""

from django.db import models

from server.orders.models import Order
from server.supplies.models import Supply
from server.workshops.models import WorkshopOwned

__all__ = ["Plan", "PlannedUse", "Wave"]


class Plan(WorkshopOwned):
    """The last computed plan of one order."""

    order = models.OneToOneField(Order, on_delete=models.CASCADE, related_name="plan")
    status = models.CharField(max_length=8, choices=[("planned", "planned"), ("blocked", "blocked")])
    document = models.JSONField(help_text="core.parcels.plan.PlannedOrder or Blocked")
    summary = models.CharField(max_length=600, help_text="What is missing, in words; empty when planned")
    container = models.CharField(max_length=200, blank=True, help_text="Outer containers of all parcels, in words")
    total = models.DecimalField(max_digits=12, decimal_places=2, null=True)
    recipe_versions = models.JSONField(default=dict, help_text="recipe code -> version number it was planned with")
    forced_container = models.CharField(max_length=200, blank=True, help_text="Key of the way a person chose")
    forced_parcels = models.PositiveSmallIntegerField(null=True, help_text="So many parcels, as a person wants")
    shares = models.JSONField(default=list, help_text="Goods of each parcel as a person set them: [[[sku, units]]]")
    forbidden = models.JSONField(default=list, help_text="Container codes a person ruled out for this order")
    laid = models.JSONField(default=list, help_text="Skus a person allows on any side for this order")
    forced_service = models.CharField(max_length=30, blank=True, help_text="Service a person chose")
    forced_day = models.DateField(null=True, help_text="Ship date a person chose, later than the next")
    without = models.JSONField(default=list, help_text="Optional inserts a person leaves out")
    instead = models.JSONField(default=list, help_text="Fills and samples a person swapped: [[the recipe's, this]]")
    note = models.CharField(max_length=300, blank=True, help_text="For whoever packs it")
    ship_on = models.DateField()
    stale = models.BooleanField(default=False, help_text="Something it depends on has changed")
    at = models.DateTimeField()

    class Meta(WorkshopOwned.Meta):
        abstract = False
        indexes = [models.Index(fields=["workshop", "stale"])]

    def __str__(self) -> str:
        return f"{self.order_id} {self.status}"


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


class Wave(WorkshopOwned):
    """Planning many orders one after another in the background: how far it is, and whether somebody stopped it."""

    total = models.PositiveIntegerField()
    done = models.PositiveIntegerField(default=0)
    stop_asked = models.BooleanField(default=False)
    began_at = models.DateTimeField()
    ended_at = models.DateTimeField(null=True)

    class Meta(WorkshopOwned.Meta):
        abstract = False
        constraints = [
            models.UniqueConstraint(fields=["workshop"], condition=models.Q(ended_at=None), name="one_wave_at_a_time")
        ]

    def __str__(self) -> str:
        return f"{self.done} of {self.total}"
