"""Fees, closed months with their lines, charge policies, and what-ifs worked out by the worker."""

from django.db import models
from django.db.models import Q

from server.orders.models import Order
from server.workshops.models import WorkshopOwned

__all__ = ["ChargePolicy", "ClosedMonth", "FeeRow", "KeptLine", "MoneySettings", "WhatIf"]


class FeeRow(WorkshopOwned):
    """What a channel or a payment takes of an order, or its tax, from a day on."""

    class Kind(models.TextChoices):
        CHANNEL = "channel"
        PAYMENT = "payment"
        TAX = "tax"

    kind = models.CharField(max_length=7, choices=Kind.choices)
    channel = models.CharField(max_length=30, blank=True, help_text="Empty: every channel without a row of its own")
    percent = models.DecimalField(max_digits=5, decimal_places=2, default=0)
    fixed = models.DecimalField(max_digits=8, decimal_places=2, default=0)
    of_postage = models.BooleanField(default=True, help_text="The percentage is of goods and postage; else of goods")
    from_day = models.DateField(help_text="Orders placed from this day on")

    class Meta(WorkshopOwned.Meta):
        abstract = False
        ordering = ["kind", "channel", "-from_day"]
        constraints = [
            models.UniqueConstraint(fields=["workshop", "kind", "channel", "from_day"], name="fee_row_once"),
            models.CheckConstraint(condition=Q(kind__in=["channel", "payment", "tax"]), name="fee_kind_known"),
        ]

    def __str__(self) -> str:
        return f"{self.kind} {self.channel} from {self.from_day}"


class MoneySettings(WorkshopOwned):
    """One row a workshop: how its charges end, what may be lost, whether buyers would order more."""

    endings = models.JSONField(default=list, help_text='What a charge ends in: ["0.50", "0.95"]; empty: as it comes')
    most_lost = models.DecimalField(max_digits=8, decimal_places=2, default=1, help_text="On an order, by the table")
    demand_percent = models.PositiveSmallIntegerField(
        null=True, help_text="Of buyers just below a free sum, so many fill it up; null: not guessed"
    )
    demand_within = models.DecimalField(max_digits=8, decimal_places=2, default=10, help_text="Just below: within this")

    class Meta(WorkshopOwned.Meta):
        abstract = False
        constraints = [models.UniqueConstraint(fields=["workshop"], name="money_settings_once")]

    def __str__(self) -> str:
        return f"money of {self.workshop_id}"


class ClosedMonth(WorkshopOwned):
    """A month that was closed: its lines are kept as they were and change no more."""

    month = models.CharField(max_length=7, help_text="2026-10")
    left = models.DecimalField(max_digits=14, decimal_places=2, help_text="The sum of its lines")
    orders = models.PositiveIntegerField(help_text="Packed in it")
    closed_at = models.DateTimeField()
    closed_by = models.CharField(max_length=80)

    class Meta(WorkshopOwned.Meta):
        abstract = False
        ordering = ["-month"]
        constraints = [models.UniqueConstraint(fields=["workshop", "month"], name="month_closed_once")]

    def __str__(self) -> str:
        return self.month


class KeptLine(WorkshopOwned):
    """One line of an order's record, as it was when its month was closed."""

    closed = models.ForeignKey(ClosedMonth, on_delete=models.CASCADE, related_name="lines")
    order = models.ForeignKey(Order, on_delete=models.PROTECT, related_name="kept_lines")
    kind = models.CharField(max_length=16, help_text="core.money.record.RecordLineKind")
    amount = models.DecimalField(max_digits=12, decimal_places=3)
    on = models.DateField()
    source = models.CharField(max_length=20)
    reference = models.CharField(max_length=80, blank=True)

    class Meta(WorkshopOwned.Meta):
        abstract = False
        ordering = ["id"]

    def __str__(self) -> str:
        return f"{self.kind} {self.amount}"


class ChargePolicy(WorkshopOwned):
    """A way to charge postage, kept; ``ours_from`` the day it became the workshop's own."""

    name = models.CharField(max_length=60)
    document = models.JSONField(help_text="server.formats.charges_request.PolicyDoc")
    ours_from = models.DateField(null=True)
    made_at = models.DateTimeField()
    made_by = models.CharField(max_length=80)

    class Meta(WorkshopOwned.Meta):
        abstract = False
        ordering = ["id"]
        constraints = [
            models.UniqueConstraint(fields=["workshop", "name"], name="charge_policy_name_once"),
            models.UniqueConstraint(
                fields=["workshop", "ours_from"], condition=Q(ours_from__isnull=False), name="charge_policy_day_once"
            ),
        ]

    def __str__(self) -> str:
        return self.name


class WhatIf(WorkshopOwned):
    """A change tried on the orders of a period by the worker; kept when somebody wants it."""

    class State(models.TextChoices):
        WAITING = "waiting"
        RUNNING = "running"
        DONE = "done"
        CANCELLED = "cancelled"
        FAILED = "failed"

    UNDER_WAY = (State.WAITING, State.RUNNING)

    state = models.CharField(max_length=9, choices=State.choices, default=State.WAITING)
    asked = models.JSONField(help_text="server.money.changes.WhatIfAsked")
    name = models.CharField(max_length=120, blank=True, help_text="Under which it is kept; empty: not kept")
    done = models.PositiveIntegerField(default=0, help_text="Orders planned so far, before and after")
    of = models.PositiveIntegerField(default=0)
    result = models.JSONField(null=True)
    problem = models.CharField(max_length=300, blank=True)
    by = models.CharField(max_length=80)
    at = models.DateTimeField()
    told_at = models.DateTimeField(help_text="Last sign of life of whoever works on it")
    ended_at = models.DateTimeField(null=True)

    class Meta(WorkshopOwned.Meta):
        abstract = False
        ordering = ["-id"]
        constraints = [
            models.CheckConstraint(
                condition=Q(state__in=["waiting", "running", "done", "cancelled", "failed"]), name="what_if_state_known"
            )
        ]
        indexes = [models.Index(fields=["workshop", "name", "-id"])]

    def __str__(self) -> str:
        return f"what if {self.pk}: {self.state}"
