"""Suppliers, what they offer, what was ordered of them, counting a shelf, and what was used by day."""

from django.db import models
from django.db.models import F, Q

from server.workshops.models import WorkshopOwned

__all__ = ["CountLine", "CountSession", "Offer", "Purchase", "PurchaseLine", "Supplier", "UsedOn"]


class UsedOn(WorkshopOwned):
    """What one day used of a supply: written with each entry and by nothing else (``services._append``)."""

    supply = models.ForeignKey("supplies.Supply", on_delete=models.CASCADE, related_name="used_on")
    day = models.DateField(help_text="By the workshop's clock")
    quantity = models.DecimalField(max_digits=18, decimal_places=6)

    class Meta(WorkshopOwned.Meta):
        abstract = False
        constraints = [models.UniqueConstraint(fields=["supply", "day"], name="used_on_once")]
        indexes = [models.Index(fields=["workshop", "day"])]

    def __str__(self) -> str:
        return f"{self.supply_id} on {self.day}: {self.quantity}"


class Supplier(WorkshopOwned):
    """Who sells packing supplies."""

    name = models.CharField(max_length=80)
    lead_days = models.PositiveSmallIntegerField(help_text="Working days from the order to the arrival")
    delivers_on = models.JSONField(default=list, help_text="Weekdays, Monday 0; empty: any working day")
    delivery = models.DecimalField(max_digits=10, decimal_places=2, default=0, help_text="Charge of one order")
    free_from = models.DecimalField(
        max_digits=12, decimal_places=2, null=True, help_text="Sum of goods from which the delivery is free"
    )
    contact = models.CharField(max_length=200, blank=True)
    note = models.CharField(max_length=200, blank=True)
    retired_at = models.DateTimeField(null=True)

    class Meta(WorkshopOwned.Meta):
        abstract = False
        ordering = ["name", "id"]
        constraints = [models.UniqueConstraint(fields=["workshop", "name"], name="supplier_name_once")]

    def __str__(self) -> str:
        return self.name


class Offer(WorkshopOwned):
    """One supply at one supplier. Quantities are in the supply's stock unit."""

    supplier = models.ForeignKey(Supplier, on_delete=models.CASCADE, related_name="offers")
    supply = models.ForeignKey("supplies.Supply", on_delete=models.CASCADE, related_name="offers")
    their_code = models.CharField(max_length=40, blank=True)
    pack = models.DecimalField(max_digits=14, decimal_places=6, help_text="It comes in multiples of this")
    pack_name = models.CharField(max_length=40, blank=True, help_text="What one of them is called: roll, pack of 25")
    least = models.DecimalField(max_digits=14, decimal_places=6, default=0)
    prices = models.JSONField(help_text="[{quantity, price}] of one stock unit, from so many on; the first from 0")

    class Meta(WorkshopOwned.Meta):
        abstract = False
        ordering = ["supply_id", "supplier_id"]
        constraints = [
            models.UniqueConstraint(fields=["supplier", "supply"], name="offer_once"),
            models.CheckConstraint(condition=Q(pack__gt=0, least__gte=0), name="offer_pack_above_zero"),
        ]

    def __str__(self) -> str:
        return f"{self.supply_id} at {self.supplier_id}"


class Purchase(WorkshopOwned):
    """One order to a supplier."""

    class State(models.TextChoices):
        ORDERED = "ordered"
        RECEIVED = "received"
        CANCELLED = "cancelled"

    number = models.PositiveIntegerField(help_text="Counts the workshop's orders to suppliers")
    supplier = models.ForeignKey(Supplier, on_delete=models.PROTECT, related_name="purchases")
    state = models.CharField(max_length=9, choices=State.choices, default=State.ORDERED)
    ordered_on = models.DateField()
    expected_on = models.DateField()
    first_expected_on = models.DateField(help_text="As it was expected when it was ordered")
    delivery = models.DecimalField(max_digits=10, decimal_places=2, default=0)
    note = models.CharField(max_length=200, blank=True)
    by = models.CharField(max_length=80)
    at = models.DateTimeField()
    request_key = models.UUIDField()

    class Meta(WorkshopOwned.Meta):
        abstract = False
        ordering = ["-number"]
        constraints = [
            models.UniqueConstraint(fields=["workshop", "number"], name="purchase_number_once"),
            models.UniqueConstraint(fields=["workshop", "request_key"], name="purchase_request_once"),
            models.CheckConstraint(
                condition=Q(state__in=["ordered", "received", "cancelled"]), name="purchase_state_known"
            ),
        ]
        indexes = [models.Index(fields=["workshop", "state", "expected_on"])]

    def __str__(self) -> str:
        return f"P-{self.number}"


class PurchaseLine(WorkshopOwned):
    """One supply of a purchase. What is still to come: quantity less received, until it is closed."""

    purchase = models.ForeignKey(Purchase, on_delete=models.CASCADE, related_name="lines")
    supply = models.ForeignKey("supplies.Supply", on_delete=models.PROTECT, related_name="purchased")
    quantity = models.DecimalField(max_digits=16, decimal_places=6)
    price = models.DecimalField(max_digits=14, decimal_places=6, help_text="Of one stock unit, as ordered")
    received = models.DecimalField(max_digits=16, decimal_places=6, default=0)
    closed = models.BooleanField(default=False, help_text="Nothing more is expected")

    class Meta(WorkshopOwned.Meta):
        abstract = False
        ordering = ["id"]
        constraints = [
            models.UniqueConstraint(fields=["purchase", "supply"], name="purchase_line_once"),
            models.CheckConstraint(
                condition=Q(quantity__gt=0, price__gte=0, received__gte=0), name="purchase_line_sane"
            ),
            models.CheckConstraint(condition=Q(closed=True) | Q(received__lt=F("quantity")), name="purchase_line_open"),
        ]
        indexes = [models.Index(fields=["supply", "closed"])]

    def __str__(self) -> str:
        return f"{self.purchase_id}: {self.supply_id} {self.quantity}"


class CountSession(WorkshopOwned):
    """Counting one shelf, line by line; it may be left and taken up again."""

    shelf = models.CharField(max_length=4)
    by = models.CharField(max_length=80)
    begun_at = models.DateTimeField()
    closed_at = models.DateTimeField(null=True)

    class Meta(WorkshopOwned.Meta):
        abstract = False
        ordering = ["-id"]
        constraints = [
            models.UniqueConstraint(
                fields=["workshop", "shelf"], condition=Q(closed_at__isnull=True), name="one_count_a_shelf"
            )
        ]

    def __str__(self) -> str:
        return f"{self.shelf}, {self.by}"


class CountLine(WorkshopOwned):
    """One supply of a counted shelf."""

    session = models.ForeignKey(CountSession, on_delete=models.CASCADE, related_name="lines")
    supply = models.ForeignKey("supplies.Supply", on_delete=models.CASCADE, related_name="counts")
    counted = models.DecimalField(max_digits=16, decimal_places=6)
    ledger = models.DecimalField(max_digits=16, decimal_places=6, help_text="What the ledger said then")
    entry = models.ForeignKey(
        "supplies.Entry", null=True, on_delete=models.PROTECT, related_name="+", help_text="None: looked at again first"
    )
    by = models.CharField(max_length=80)
    at = models.DateTimeField()
    request_key = models.UUIDField(null=True, help_text="Of the last count: the same sent twice is no second look")

    class Meta(WorkshopOwned.Meta):
        abstract = False
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["session", "supply"], name="count_line_once")]

    def __str__(self) -> str:
        return f"{self.supply_id}: {self.counted}"
