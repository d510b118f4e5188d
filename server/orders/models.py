"""Orders and their lines."""

from django.db import models
from django.db.models import Q

from server.recipes.models import Product
from server.workshops.models import WorkshopOwned

__all__ = ["Order", "OrderLine"]


class Order(WorkshopOwned):
    """One buyer's order, as one channel sent it."""

    class State(models.TextChoices):
        NEW = "new"  # imported, not planned yet
        HELD = "held"  # may not be packed yet: by a person, by intake, or because its plan is blocked
        PLANNED = "planned"
        BENCH = "bench"
        PACKED = "packed"
        CANCELLED = "cancelled"

    channel = models.CharField(max_length=30)
    number = models.CharField(max_length=40)
    state = models.CharField(max_length=9, choices=State.choices, default=State.NEW)
    placed_on = models.DateField()
    buyer = models.CharField(max_length=80)
    address = models.JSONField(default=list)
    postcode = models.CharField(max_length=12)
    country = models.CharField(max_length=3)
    note = models.CharField(max_length=500, blank=True)
    paid = models.BooleanField(default=True)
    gift = models.BooleanField(default=False, help_text="It goes to somebody as a present")
    postage_charged = models.DecimalField(max_digits=12, decimal_places=2)
    goods_value = models.DecimalField(max_digits=12, decimal_places=2)
    hold_code = models.CharField(max_length=20, blank=True, help_text="Set by intake or a person; empty: none")
    hold_text = models.CharField(max_length=300, blank=True)
    taken_in_at = models.DateTimeField()
    revision = models.PositiveIntegerField(default=0, help_text="Counts its changes: a second person's is told")
    request_key = models.UUIDField(null=True, unique=True, help_text="Of one typed in: sent twice, it is one order")

    class Meta(WorkshopOwned.Meta):
        abstract = False
        ordering = ["placed_on", "id"]
        constraints = [
            models.UniqueConstraint(fields=["workshop", "channel", "number"], name="order_number_once"),
            models.CheckConstraint(
                condition=Q(state__in=["new", "held", "planned", "bench", "packed", "cancelled"]),
                name="order_state_known",
            ),
        ]
        indexes = [models.Index(fields=["workshop", "state", "placed_on"]), models.Index(fields=["workshop", "number"])]

    def __str__(self) -> str:
        return f"{self.number}, {self.buyer}"


class OrderLine(WorkshopOwned):
    """So many of one sku."""

    order = models.ForeignKey(Order, on_delete=models.CASCADE, related_name="lines")
    position = models.PositiveSmallIntegerField()
    sku = models.CharField(max_length=40)
    product = models.ForeignKey(Product, null=True, on_delete=models.SET_NULL, related_name="+")
    title = models.CharField(max_length=120, blank=True)
    quantity = models.PositiveIntegerField()
    unit_price = models.DecimalField(max_digits=12, decimal_places=2)

    class Meta(WorkshopOwned.Meta):
        abstract = False
        ordering = ["order_id", "position"]
        constraints = [
            models.UniqueConstraint(fields=["order", "position"], name="order_line_position_once"),
            models.CheckConstraint(condition=Q(quantity__gte=1), name="order_line_has_units"),
        ]

    def __str__(self) -> str:
        return f"{self.quantity} x {self.sku}"
