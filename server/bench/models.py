"""A parcel at the bench. It keeps the plan it was begun with; once it has left, without the ways not taken."""

import secrets
from typing import Any

from django.contrib.postgres.indexes import GinIndex, OpClass
from django.db import models
from django.db.models import Q
from django.db.models.functions import Upper

from server.carriers.models import Label
from server.orders.models import Order
from server.recipes.models import Product, RecipeVersion
from server.workshops.models import Member, WorkshopOwned

__all__ = ["Parcel", "PracticeRun", "PrintJob", "ReadyParcel", "StepTime", "buyer_code"]


def buyer_code() -> str:
    """Return a code for one parcel that nobody guesses, without letters and digits that look alike."""
    return "".join(secrets.choice("abcdefghjkmnpqrstuvwxyz23456789") for _ in range(12))


class ReadyParcel(WorkshopOwned):
    """A parcel packed ahead and closed, standing on a shelf until an order takes it."""

    class State(models.TextChoices):
        READY = "ready"
        TAKEN = "taken"
        UNPACKED = "unpacked"

    product = models.ForeignKey(Product, on_delete=models.PROTECT, related_name="+")
    version = models.ForeignKey(RecipeVersion, on_delete=models.PROTECT, related_name="+")
    units = models.PositiveSmallIntegerField()
    container = models.CharField(max_length=30, help_text="Code of the carton or mailer it is in")
    used = models.JSONField(help_text="What packing it drew from the shelf: supply code and quantity")
    place = models.CharField(max_length=20, help_text="Where it stands")
    state = models.CharField(max_length=8, choices=State.choices, default=State.READY)
    packed_at = models.DateTimeField()
    packed_by = models.CharField(max_length=80)
    request_key = models.UUIDField()
    number = models.PositiveSmallIntegerField(help_text="Which of those packed at once, from 1")

    class Meta(WorkshopOwned.Meta):
        abstract = False
        ordering = ["packed_at", "id"]
        constraints = [
            models.UniqueConstraint(fields=["workshop", "request_key", "number"], name="ready_parcel_once"),
            models.CheckConstraint(
                condition=Q(state__in=["ready", "taken", "unpacked"]), name="ready_parcel_state_known"
            ),
        ]
        indexes = [models.Index(fields=["workshop", "state", "packed_at"], name="ready_parcels")]

    def __str__(self) -> str:
        return f"{self.units} {self.product_id} packed ahead"


class Parcel(WorkshopOwned):
    """One parcel, from the bench to the shelf it leaves from."""

    class State(models.TextChoices):
        PACKING = "packing"
        CLOSED = "closed"
        UNDONE = "undone"  # its order was taken off the bench: kept for what its ledger and labels tell

    order = models.ForeignKey(Order, on_delete=models.PROTECT, related_name="parcels")
    ready = models.OneToOneField(
        ReadyParcel, null=True, on_delete=models.PROTECT, related_name="parcel", help_text="Packed ahead, taken for it"
    )
    part = models.PositiveSmallIntegerField(default=1, help_text="Which of the order's parcels, from 1")
    state = models.CharField(max_length=8, choices=State.choices, default=State.PACKING)
    kept = models.ForeignKey(
        "plans.PlanDocument", on_delete=models.PROTECT, related_name="parcels", help_text="The plan it was begun with"
    )
    parts = models.PositiveSmallIntegerField(default=1, help_text="How many parcels the order has")
    container = models.JSONField(default=str, help_text="What it goes in, as a message of the core, for lists")
    recipe_versions = models.JSONField(default=dict)
    step = models.PositiveSmallIntegerField(default=0)
    skipped = models.JSONField(default=list, help_text="Steps gone past without doing them; they stay open")
    ticked = models.JSONField(default=dict, help_text="step index -> number of units ticked")
    measured_mg = models.PositiveBigIntegerField(null=True)
    weighed_by_hand = models.BooleanField(default=False, help_text="Typed in, not read from the scale")
    weight_check = models.JSONField(null=True)
    weight_settled = models.CharField(max_length=200, blank=True, help_text="How the packer settled a difference")
    tracking = models.CharField(max_length=40, blank=True)
    postage = models.DecimalField(max_digits=12, decimal_places=2, null=True)
    buyer_code = models.CharField(max_length=12, null=True, unique=True, help_text="On its slip, for the buyer")
    measured_outer_um = models.JSONField(null=True, help_text="Outside as somebody measured it: length, width, height")
    charge_agreed = models.DecimalField(
        max_digits=12,
        decimal_places=2,
        null=True,
        help_text="What the carrier is expected to charge when it weighs other than its label says; agreed to",
    )
    close_key = models.UUIDField(null=True)
    closed_at = models.DateTimeField(null=True)
    closed_by = models.CharField(max_length=80, blank=True)
    holds_from = models.DateTimeField(
        null=True, help_text="When its closure is at full strength; null: at once, or nobody asks a grade of it"
    )
    begun_at = models.DateTimeField()
    steps_in_all = models.PositiveSmallIntegerField(default=0, help_text="0: not known; told with the progress")
    handed_over_at = models.DateTimeField(null=True, help_text="It has left with a hand-over; server.day keeps which")

    class Meta(WorkshopOwned.Meta):
        abstract = False
        ordering = ["begun_at", "id"]
        constraints = [
            models.UniqueConstraint(fields=["order", "part"], condition=~Q(state="undone"), name="parcel_part_once"),
            models.CheckConstraint(condition=Q(state__in=["packing", "closed", "undone"]), name="parcel_state_known"),
            models.CheckConstraint(
                condition=~Q(state="closed")
                | (Q(measured_mg__isnull=False) & ~Q(tracking="") & Q(closed_at__isnull=False)),
                name="parcel_closed_is_weighed_and_labelled",
            ),
            models.CheckConstraint(
                condition=Q(handed_over_at=None) | Q(state="closed"), name="parcel_handed_over_is_closed"
            ),
        ]
        indexes = [
            models.Index(fields=["workshop", "state", "begun_at"]),
            models.Index(fields=["workshop", "state", "-closed_at"]),
            models.Index(
                fields=["workshop", "closed_at"],
                condition=Q(state="closed", handed_over_at=None),
                name="parcels_to_hand_over",
            ),
            models.Index(fields=["workshop", "handed_over_at"], name="parcels_gone"),
            models.Index(
                fields=["workshop", "-closed_at"],
                condition=Q(measured_outer_um__isnull=False),
                name="parcels_measured",
            ),
            GinIndex(OpClass(Upper("tracking"), name="gin_trgm_ops"), name="parcel_tracking_parts"),
        ]

    def __str__(self) -> str:
        return f"parcel of {self.order_id}"

    @property
    def plan(self) -> Any:
        """The plan it was begun with, as JSON values."""
        return self.kept.read()


class StepTime(WorkshopOwned):
    """How long hands took for one step of a parcel: kept unseen, for what is learned of minutes (rules 20.8)."""

    parcel = models.ForeignKey(Parcel, on_delete=models.CASCADE, related_name="step_times")
    step = models.PositiveSmallIntegerField()
    kind = models.CharField(max_length=12, help_text="core.bench.steps.StepKind")
    units = models.PositiveSmallIntegerField(default=0, help_text="What was to tick in it")
    seconds = models.PositiveIntegerField()

    class Meta(WorkshopOwned.Meta):
        abstract = False
        constraints = [models.UniqueConstraint(fields=["parcel", "step"], name="step_time_once")]
        indexes = [models.Index(fields=["workshop", "kind"])]

    def __str__(self) -> str:
        return f"step {self.step} of {self.parcel_id}: {self.seconds} s"


class PracticeRun(WorkshopOwned):
    """A parcel packed in practice by one person: nothing of it is real, and nobody else sees it."""

    member = models.ForeignKey(Member, on_delete=models.CASCADE, related_name="practice")
    order_number = models.CharField(max_length=40)
    document = models.JSONField(help_text="core.parcels.candidate.PlannedParcel as it was, and its recipe versions")
    tricks = models.JSONField(help_text="core.bench.practice.Trick, in turn")
    reports = models.JSONField(default=list, help_text="What was told: [{step, take, caught}]")
    measured_mg = models.PositiveBigIntegerField(null=True)
    named = models.JSONField(default=list, help_text="Slips found by the scale and put right: SlipKind")
    begun_at = models.DateTimeField()
    ended_at = models.DateTimeField(null=True)
    spent = models.JSONField(default=dict, help_text="Seconds by step")

    class Meta(WorkshopOwned.Meta):
        abstract = False
        ordering = ["-begun_at", "-id"]
        indexes = [models.Index(fields=["workshop", "member", "-begun_at"], name="practice_of_person")]

    def __str__(self) -> str:
        return f"practice of {self.member_id}: {self.order_number}"


class PrintJob(WorkshopOwned):
    """A label to be printed. Jobs are printed one after the other; one that cannot be holds those behind it."""

    class State(models.TextChoices):
        WAITING = "waiting"
        PRINTED = "printed"
        CANCELLED = "cancelled"

    label = models.ForeignKey(Label, on_delete=models.CASCADE, related_name="prints")
    state = models.CharField(max_length=9, choices=State.choices, default=State.WAITING)
    copy = models.PositiveSmallIntegerField(default=1, help_text="From 2 on it is marked as a copy")
    problem = models.CharField(max_length=14, blank=True, help_text="Why the printer did not: its state")
    sheets = models.PositiveSmallIntegerField(default=0, help_text="How many came out")
    asked_at = models.DateTimeField()
    asked_by = models.CharField(max_length=80)
    printed_at = models.DateTimeField(null=True)

    class Meta(WorkshopOwned.Meta):
        abstract = False
        ordering = ["id"]
        constraints = [
            models.CheckConstraint(
                condition=Q(state__in=["waiting", "printed", "cancelled"]), name="print_state_known"
            ),
            models.UniqueConstraint(fields=["label"], condition=Q(state="waiting"), name="print_waits_once"),
        ]
        indexes = [models.Index(fields=["workshop", "state", "id"])]

    def __str__(self) -> str:
        return f"label {self.label_id}, copy {self.copy}: {self.state}"
