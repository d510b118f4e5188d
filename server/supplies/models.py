"""Supplies, their ledger, and the balance of it. On hand is the sum of entries; no number is there to be edited."""

from django.db import models
from django.db.models import Q

from server.formats.supplies import STOCK_UNITS, StockUnit
from server.supplies.purchase_models import (
    CountLine,
    CountSession,
    Offer,
    Purchase,
    PurchaseLine,
    Supplier,
    UsedOn,
)
from server.workshops.models import WorkshopOwned

__all__ = [
    "Balance",
    "CountLine",
    "CountSession",
    "Entry",
    "Offer",
    "Purchase",
    "PurchaseLine",
    "Supplier",
    "Supply",
    "UsedOn",
]


class Supply(WorkshopOwned):
    """One packing supply: a slot on a shelf."""

    KINDS = ("carton", "mailer", "unit_box", "wrap", "fill", "tape", "insert")

    code = models.CharField(max_length=30)
    name = models.CharField(max_length=80)
    kind = models.CharField(max_length=12)
    shelf = models.CharField(max_length=4, help_text="Shelf letter")
    slot = models.PositiveSmallIntegerField(help_text="Place on the shelf, from the left")
    reorder_at = models.DecimalField(
        max_digits=14, decimal_places=3, null=True, help_text="Mark on the slot, stock units"
    )
    facts = models.JSONField(help_text="As in the supplies file, docs/formats/supplies.md")
    estimated = models.JSONField(default=list, help_text="Names of facts nobody has measured yet")
    retired_at = models.DateTimeField(null=True, help_text="Not used any more; what is on the shelf stays counted")
    narrowest_cut_um = models.PositiveIntegerField(
        null=True, help_text="Of a roll: the narrowest piece any recipe cuts from it; kept by plans.cuts"
    )

    room = models.DecimalField(
        max_digits=14, decimal_places=3, null=True, help_text="What its slot takes, stock units; null: nobody knows"
    )
    successor = models.ForeignKey(
        "self", null=True, on_delete=models.SET_NULL, related_name="followed",
        help_text="Takes its place once this one is used up",
    )  # fmt: skip

    class Meta(WorkshopOwned.Meta):
        abstract = False
        verbose_name_plural = "supplies"
        ordering = ["shelf", "slot", "code"]
        constraints = [
            models.UniqueConstraint(fields=["workshop", "code"], name="supply_code_once"),
            models.CheckConstraint(
                condition=Q(kind__in=["carton", "mailer", "unit_box", "wrap", "fill", "tape", "insert"]),
                name="supply_kind_known",
            ),
        ]
        indexes = [models.Index(fields=["workshop", "shelf", "slot", "code"])]

    def __str__(self) -> str:
        return f"{self.code} {self.name}"

    @property
    def unit(self) -> StockUnit:
        """What it is counted in."""
        return STOCK_UNITS[self.kind]

    @property
    def place(self) -> str:
        """Shelf and slot as written on the shelf: B2."""
        return f"{self.shelf}{self.slot}"


class Entry(WorkshopOwned):
    """One movement in the ledger: never changed, never deleted; a mistake is another entry."""

    KINDS = ("received", "reclaimed", "used", "counted", "spoiled", "converted", "corrected")

    supply = models.ForeignKey(Supply, on_delete=models.PROTECT, related_name="entries", db_index=False)
    kind = models.CharField(max_length=10)
    quantity = models.DecimalField(max_digits=16, decimal_places=6, help_text="Stock units, in positive, out negative")
    unit_cost = models.DecimalField(max_digits=14, decimal_places=6, null=True)
    average_after = models.DecimalField(
        max_digits=14, decimal_places=6, help_text="Moving average cost after this entry"
    )
    note = models.CharField(max_length=200, blank=True)
    by = models.CharField(max_length=80)
    at = models.DateTimeField()
    parcel = models.ForeignKey("bench.Parcel", null=True, on_delete=models.PROTECT, related_name="entries")
    good_until = models.DateField(null=True, help_text="Of stock that expires: the last day it may be used")
    purchase_line = models.ForeignKey(PurchaseLine, null=True, on_delete=models.PROTECT, related_name="entries")
    request_key = models.UUIDField(null=True)

    class Meta(WorkshopOwned.Meta):
        abstract = False
        verbose_name_plural = "entries"
        ordering = ["id"]
        constraints = [
            models.UniqueConstraint(
                fields=["workshop", "request_key"], condition=Q(request_key__isnull=False), name="entry_request_once"
            ),
            models.CheckConstraint(
                condition=Q(kind__in=["received", "reclaimed", "used", "counted", "spoiled", "converted", "corrected"]),
                name="entry_kind_known",
            ),
            models.CheckConstraint(
                condition=~Q(kind="received") | Q(quantity__gt=0, unit_cost__gte=0), name="entry_received_brings_stock"
            ),
        ]
        indexes = [
            models.Index(fields=["supply", "-id"]),
            models.Index(fields=["supply", "at"], name="entries_since"),
            models.Index(
                fields=["workshop", "supply"], condition=Q(good_until__isnull=False), name="entries_that_expire"
            ),
            models.Index(fields=["workshop", "at"], condition=Q(parcel__isnull=False), name="entries_of_parcels"),
        ]

    def __str__(self) -> str:
        return f"{self.kind} {self.quantity}"


class Balance(WorkshopOwned):
    """What a supply's entries come to: written with each entry and by nothing else (``services._append``).

    The ledger stays the truth: ``./calm check`` and a nightly job hold the two against each other.
    """

    supply = models.OneToOneField(Supply, on_delete=models.CASCADE, related_name="balance")
    on_hand = models.DecimalField(max_digits=18, decimal_places=6)
    average_cost = models.DecimalField(max_digits=14, decimal_places=6)
    last_used_at = models.DateTimeField(null=True, help_text="When it last left in a parcel")

    class Meta(WorkshopOwned.Meta):
        abstract = False

    def __str__(self) -> str:
        return f"{self.supply_id}: {self.on_hand}"
