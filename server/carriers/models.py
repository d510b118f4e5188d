"""Tariff versions as imported, and every label that was asked for."""

from decimal import Decimal

from django.db import models
from django.db.models import Q

from server.workshops.models import WorkshopOwned

__all__ = ["Label", "TariffVersion"]


class TariffVersion(WorkshopOwned):
    """One carrier's tariff from a date; the document is the open tariff file."""

    carrier = models.CharField(max_length=30)
    version = models.CharField(max_length=30)
    valid_from = models.DateField()
    document = models.JSONField(help_text="docs/formats/tariff.md")

    class Meta(WorkshopOwned.Meta):
        abstract = False
        ordering = ["carrier", "-valid_from"]
        constraints = [
            models.UniqueConstraint(fields=["workshop", "carrier", "version"], name="tariff_version_once"),
            models.UniqueConstraint(fields=["workshop", "carrier", "valid_from"], name="tariff_date_once"),
        ]

    def __str__(self) -> str:
        return f"{self.carrier} {self.version}"


class Label(WorkshopOwned):
    """A label asked of a carrier. ``asked`` is written before the carrier is called, so none is ever lost."""

    class State(models.TextChoices):
        ASKED = "asked"  # the answer is not known yet: ask again with the same key
        BOUGHT = "bought"
        REFUSED = "refused"
        VOIDING = "voiding"  # asked to take it back, the answer is not known yet
        VOID = "void"  # cancelled to the carrier, money returned
        SURPLUS = "surplus"  # sold after another was bought for the parcel: it is given back by the worker

    #: In flight or bought: a parcel has one at most.
    LIVE = (State.ASKED, State.BOUGHT, State.VOIDING)

    parcel = models.ForeignKey(
        "bench.Parcel",
        null=True,
        on_delete=models.PROTECT,
        related_name="labels",
    )
    key = models.UUIDField(unique=True)
    state = models.CharField(max_length=8, choices=State.choices, default=State.ASKED)
    carrier = models.CharField(max_length=30)
    service = models.CharField(max_length=30)
    service_name = models.CharField(max_length=80)
    tariff_version = models.CharField(max_length=30, blank=True, help_text="Price list it was bought by")
    weight_mg = models.PositiveBigIntegerField()
    price = models.DecimalField(max_digits=12, decimal_places=2)
    transit_days = models.PositiveSmallIntegerField(default=0)
    tracking = models.CharField(max_length=40, blank=True)
    problem = models.CharField(max_length=300, blank=True)
    asked_at = models.DateTimeField()
    bought_at = models.DateTimeField(null=True)
    void_at = models.DateTimeField(null=True)
    events = models.JSONField(default=list, help_text="What the carrier told: [{at, words}]")
    measured_mg = models.PositiveBigIntegerField(null=True, help_text="What the carrier measured afterwards")
    charged_more = models.DecimalField(
        max_digits=12, decimal_places=2, default=Decimal(0), help_text="For what it measured"
    )
    charged_at = models.DateTimeField(null=True, help_text="When a charge afterwards was first told, or told otherwise")
    told_at = models.DateTimeField(null=True, help_text="When the carrier was last asked how it fares")
    checked_at = models.DateTimeField(
        null=True, help_text="When the carrier was last asked what it has under the key, for states that are in doubt"
    )
    recorded = models.CharField(
        max_length=300, blank=True, help_text="What the carrier said by telephone, and who wrote it down"
    )

    class Meta(WorkshopOwned.Meta):
        abstract = False
        ordering = ["-id"]
        constraints = [
            # One label in flight or bought per parcel: two people at once cannot pay twice.
            models.UniqueConstraint(
                fields=["parcel"], condition=Q(state__in=["asked", "bought", "voiding"]), name="label_one_live_a_parcel"
            ),
            models.CheckConstraint(condition=~Q(state="bought") | ~Q(tracking=""), name="label_bought_has_tracking"),
            models.CheckConstraint(
                condition=Q(state__in=["asked", "bought", "refused", "voiding", "void", "surplus"]),
                name="label_state_known",
            ),
        ]
        indexes = [
            models.Index(fields=["state", "asked_at"]),
            models.Index(fields=["workshop", "bought_at"]),
            models.Index(
                fields=["workshop", "charged_at"], condition=Q(charged_more__gt=0), name="labels_charged_more"
            ),
        ]

    def __str__(self) -> str:
        return f"{self.service} {self.tracking or self.state}"
