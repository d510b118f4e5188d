"""Hours and hand-overs of a workshop, what a person chose for an order's day, what was prepared and what left."""

from django.db import models
from django.db.models import F, Q

from server.bench.models import Parcel
from server.orders.models import Order
from server.workshops.models import WorkshopOwned

__all__ = ["ChosenHandOver", "Closure", "HandOverTime", "HoldNote", "PackingHours", "Prepared", "SendOff", "SentParcel"]


class PackingHours(WorkshopOwned):
    """When one person packs. Several rows of one person are hours with a break."""

    who = models.CharField(max_length=60)
    days = models.JSONField(help_text="Weekdays, Monday 0")
    begins = models.TimeField()
    ends = models.TimeField()

    class Meta(WorkshopOwned.Meta):
        abstract = False
        ordering = ["id"]
        constraints = [models.CheckConstraint(condition=Q(ends__gt=F("begins")), name="packing_hours_forwards")]

    def __str__(self) -> str:
        return f"{self.who} {self.begins} to {self.ends}"


class HandOverTime(WorkshopOwned):
    """A hand-over that comes again: a carrier collects, or somebody goes to its counter."""

    class Kind(models.TextChoices):
        COLLECTION = "collection"
        TRIP = "trip"

    name = models.CharField(max_length=60)
    kind = models.CharField(max_length=10, choices=Kind.choices)
    carriers = models.JSONField(help_text="Codes of the carriers it takes parcels for; empty: all")
    days = models.JSONField(help_text="Weekdays, Monday 0")
    at = models.TimeField(help_text="It is collected, or we are at the counter")
    way_minutes = models.PositiveSmallIntegerField(default=0, help_text="Of an own trip, one way")
    most_parcels = models.PositiveIntegerField(null=True)
    who = models.CharField(max_length=60, blank=True, help_text="Who goes; empty: whoever packs then")

    class Meta(WorkshopOwned.Meta):
        abstract = False
        ordering = ["at", "id"]
        constraints = [
            models.CheckConstraint(condition=Q(kind__in=["collection", "trip"]), name="hand_over_kind_known"),
            models.UniqueConstraint(fields=["workshop", "name"], name="hand_over_name_once"),
        ]

    def __str__(self) -> str:
        return f"{self.name} at {self.at}"


class Closure(WorkshopOwned):
    """A day on which nobody packs and nothing is handed over."""

    day = models.DateField()
    reason = models.CharField(max_length=80, blank=True)

    class Meta(WorkshopOwned.Meta):
        abstract = False
        ordering = ["day"]
        constraints = [models.UniqueConstraint(fields=["workshop", "day"], name="closure_once")]

    def __str__(self) -> str:
        return f"closed on {self.day}"


class ChosenHandOver(WorkshopOwned):
    """The hand-over a person put an order to; while it can be made, it holds."""

    order = models.OneToOneField(Order, on_delete=models.CASCADE, related_name="chosen_hand_over")
    key = models.CharField(max_length=40, help_text="core.day.hand_overs.HandOver.key")
    by = models.CharField(max_length=80)
    at = models.DateTimeField()

    class Meta(WorkshopOwned.Meta):
        abstract = False

    def __str__(self) -> str:
        return f"{self.order_id} to {self.key}"


class HoldNote(WorkshopOwned):
    """What somebody wrote down of an order that is set aside: an answer, and when to look again."""

    order = models.OneToOneField(Order, on_delete=models.CASCADE, related_name="hold_note")
    answer = models.CharField(max_length=500, blank=True)
    look_again = models.DateField(null=True)
    by = models.CharField(max_length=80)
    at = models.DateTimeField()

    class Meta(WorkshopOwned.Meta):
        abstract = False

    def __str__(self) -> str:
        return f"{self.order_id}: {self.answer or self.look_again}"


class Prepared(WorkshopOwned):
    """Something a recipe asks for ahead of the packing was begun."""

    order = models.ForeignKey(Order, on_delete=models.CASCADE, related_name="prepared")
    what = models.CharField(max_length=120)
    done_at = models.DateTimeField()
    done_by = models.CharField(max_length=80)

    class Meta(WorkshopOwned.Meta):
        abstract = False
        constraints = [models.UniqueConstraint(fields=["order", "what"], name="prepared_once")]
        indexes = [models.Index(fields=["workshop", "order"])]

    def __str__(self) -> str:
        return f"{self.what} for {self.order_id}"


class SendOff(WorkshopOwned):
    """A hand-over as it was: what went, when, who gave it and who took it."""

    key = models.CharField(max_length=40, help_text="core.day.hand_overs.HandOver.key")
    name = models.CharField(max_length=60)
    day = models.DateField()
    planned_at = models.DateTimeField()
    at = models.DateTimeField()
    by = models.CharField(max_length=80)
    taken_by = models.CharField(max_length=80, blank=True)
    request_key = models.UUIDField()
    undone_at = models.DateTimeField(null=True)
    undone_by = models.CharField(max_length=80, blank=True)

    class Meta(WorkshopOwned.Meta):
        abstract = False
        ordering = ["-at", "-id"]
        constraints = [models.UniqueConstraint(fields=["workshop", "request_key"], name="send_off_once")]
        indexes = [models.Index(fields=["workshop", "-at"]), models.Index(fields=["workshop", "key"])]

    def __str__(self) -> str:
        return f"{self.name} {self.day}"


class SentParcel(WorkshopOwned):
    """A parcel scanned at a hand-over; with ``send_off`` it has left."""

    parcel = models.OneToOneField(Parcel, on_delete=models.PROTECT, related_name="sent")
    key = models.CharField(max_length=40, help_text="Of the hand-over it was scanned for")
    send_off = models.ForeignKey(SendOff, null=True, on_delete=models.PROTECT, related_name="parcels")
    at = models.DateTimeField()
    by = models.CharField(max_length=80)

    class Meta(WorkshopOwned.Meta):
        abstract = False
        ordering = ["at", "id"]
        indexes = [models.Index(fields=["workshop", "send_off"]), models.Index(fields=["workshop", "key"])]

    def __str__(self) -> str:
        return f"{self.parcel_id} for {self.key}"
