"""The world outside, simulated: how each device behaves today, what lies on the scale, what the carrier sold."""

from decimal import Decimal

from django.db import models

from server.workshops.models import WorkshopOwned

__all__ = ["Behaviour", "CarrierSale", "ChannelOrder", "PrintedSheet", "ScalePan"]


class Behaviour(WorkshopOwned):
    """How one stand-in behaves: ``well`` unless told otherwise."""

    device = models.CharField(
        max_length=12,
        choices=[
            ("scale", "scale"),
            ("carrier", "carrier"),
            ("calendar", "calendar"),
            ("channel", "channel"),
            ("printer", "printer"),
            ("humidity", "humidity"),
            ("forecast", "forecast"),
        ],
    )
    mode = models.CharField(max_length=24, default="well")

    class Meta(WorkshopOwned.Meta):
        abstract = False
        constraints = [models.UniqueConstraint(fields=["workshop", "device"], name="behaviour_device_once")]

    def __str__(self) -> str:
        return f"{self.device}: {self.mode}"


class ScalePan(WorkshopOwned):
    """What lies on the stand-in scale and what it has shown since."""

    parcel = models.ForeignKey("bench.Parcel", null=True, on_delete=models.SET_NULL, related_name="+")
    true_mg = models.PositiveBigIntegerField(default=0)
    readings_mg = models.JSONField(default=list)

    class Meta(WorkshopOwned.Meta):
        abstract = False
        constraints = [models.UniqueConstraint(fields=["workshop"], name="one_scale_a_workshop")]

    def __str__(self) -> str:
        return f"{self.true_mg} mg"


class PrintedSheet(WorkshopOwned):
    """What came out of the stand-in printer. Only the stand-in writes it."""

    title = models.CharField(max_length=120)
    bytes = models.PositiveIntegerField()
    sheets = models.PositiveSmallIntegerField()
    at = models.DateTimeField()

    class Meta(WorkshopOwned.Meta):
        abstract = False
        ordering = ["-id"]

    def __str__(self) -> str:
        return f"{self.title}: {self.sheets}"


class CarrierSale(WorkshopOwned):
    """The stand-in carrier's own book: what it sold under which key. Only the stand-in reads it."""

    key = models.UUIDField(unique=True)
    tracking = models.CharField(max_length=40)
    service = models.CharField(max_length=30)
    price = models.DecimalField(max_digits=12, decimal_places=2)
    weight_mg = models.PositiveBigIntegerField(default=0)
    transit_days = models.PositiveSmallIntegerField(default=0)
    sold_on = models.DateField(null=True)
    void_on = models.DateField(null=True)
    measured_mg = models.PositiveBigIntegerField(null=True, help_text="When it was measured again on the way")
    charged_more = models.DecimalField(max_digits=12, decimal_places=2, default=Decimal(0))
    late_days = models.PositiveSmallIntegerField(default=0, help_text="It comes so many days after it should")
    times_asked = models.PositiveSmallIntegerField(default=1)

    class Meta(WorkshopOwned.Meta):
        abstract = False

    def __str__(self) -> str:
        return self.tracking


class ChannelOrder(WorkshopOwned):
    """The stand-in channel's own book: an order as it sends it, and what it was told. Only the stand-in reads it."""

    number = models.CharField(max_length=40)
    seq = models.PositiveBigIntegerField(
        help_text="Counts what happened at the channel; the last that changed this order"
    )
    document = models.JSONField()
    before = models.JSONField(null=True, help_text="As it was before its last change")
    tracking = models.JSONField(default=list, help_text="What it was told: [{key, tracking, carrier}]")
    times_told = models.PositiveIntegerField(default=0)

    class Meta(WorkshopOwned.Meta):
        abstract = False
        constraints = [models.UniqueConstraint(fields=["workshop", "number"], name="channel_order_once")]
        indexes = [models.Index(fields=["workshop", "seq"])]

    def __str__(self) -> str:
        return self.number
