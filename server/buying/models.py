"""What a workshop judges of buying, and reports of which cartons to keep."""

from django.db import models
from django.db.models import Q

from server.workshops.models import WorkshopOwned

__all__ = ["BuyingSettings", "CartonReport"]


class BuyingSettings(WorkshopOwned):
    """One row a workshop; without one it judges as the core does (core.buying.offers.Buying)."""

    budget = models.DecimalField(
        max_digits=12, decimal_places=2, null=True, help_text="For supplies, a month; null: no limit"
    )
    z = models.DecimalField(max_digits=6, decimal_places=3, default="1.645")
    cover_weeks = models.PositiveSmallIntegerField(default=6)
    longest_weeks = models.PositiveSmallIntegerField(default=26)
    within_days = models.PositiveSmallIntegerField(default=3)
    anyway_days = models.PositiveSmallIntegerField(default=10)
    interest_percent = models.PositiveSmallIntegerField(default=20)
    season = models.JSONField(default=list, help_text="Twelve factors, January first; empty: all months alike")
    keeping_a_kind = models.DecimalField(
        max_digits=8, decimal_places=2, default=12, help_text="Of a kind of carton, a year: its place and its care"
    )

    class Meta(WorkshopOwned.Meta):
        abstract = False
        constraints = [models.UniqueConstraint(fields=["workshop"], name="buying_settings_once")]

    def __str__(self) -> str:
        return f"buying of {self.workshop_id}"


class CartonReport(WorkshopOwned):
    """One working out of which kinds of carton to keep."""

    class State(models.TextChoices):
        WAITING = "waiting"
        RUNNING = "running"
        DONE = "done"
        CANCELLED = "cancelled"
        FAILED = "failed"

    state = models.CharField(max_length=9, choices=State.choices, default=State.WAITING)
    asked = models.JSONField(help_text="at_most, since, own_sizes")
    done = models.PositiveIntegerField(default=0, help_text="Contents worked out so far")
    of = models.PositiveIntegerField(default=0)
    result = models.JSONField(null=True)
    problem = models.CharField(max_length=200, blank=True)
    by = models.CharField(max_length=80)
    at = models.DateTimeField()
    ended_at = models.DateTimeField(null=True)

    class Meta(WorkshopOwned.Meta):
        abstract = False
        ordering = ["-id"]
        constraints = [
            models.CheckConstraint(
                condition=Q(state__in=["waiting", "running", "done", "cancelled", "failed"]),
                name="carton_report_state_known",
            )
        ]

    def __str__(self) -> str:
        return f"cartons {self.pk}: {self.state}"
