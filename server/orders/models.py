"""Orders and their lines."""

from django.contrib.postgres.indexes import GinIndex, OpClass
from django.db import models
from django.db.models import Q
from django.db.models.functions import Upper

from server.recipes.models import Product
from server.workshops.models import WorkshopOwned

__all__ = ["ChannelFile", "GoodsName", "Order", "OrderChange", "OrderLine"]


class Order(WorkshopOwned):
    """One buyer's order, as one channel sent it."""

    class State(models.TextChoices):
        NEW = "new"  # imported, not planned yet
        HELD = "held"  # may not be packed yet: by a person, by intake, or because its plan is blocked
        PLANNED = "planned"
        BENCH = "bench"
        PACKED = "packed"
        CANCELLED = "cancelled"
        JOINED = "joined"  # packed with another order of the same buyer, as one parcel

    #: Neither begun nor ended: such an order may still be planned otherwise, changed, joined, held.
    OPEN = (State.NEW, State.HELD, State.PLANNED)
    ENDED = (State.PACKED, State.CANCELLED, State.JOINED)

    channel = models.CharField(max_length=30)
    number = models.CharField(max_length=40)
    mark = models.PositiveBigIntegerField(default=0, help_text="The channel's count of its changes; 0: it has none")
    came_as = models.JSONField(
        null=True, help_text="What the channel sent last; None: typed in, or before that was kept"
    )
    joined_into = models.ForeignKey(
        "self", null=True, on_delete=models.SET_NULL, related_name="joined", help_text="It is packed with this one"
    )
    state = models.CharField(max_length=9, choices=State.choices, default=State.NEW)
    placed_on = models.DateField()
    buyer = models.CharField(max_length=80)
    address = models.JSONField(default=list)
    postcode = models.CharField(max_length=12)
    country = models.CharField(max_length=3)
    note = models.CharField(max_length=500, blank=True)
    paid = models.BooleanField(default=True)
    risk = models.CharField(
        max_length=6, blank=True, help_text="How risky the channel holds the payment to be: low, medium, high"
    )
    gift = models.BooleanField(default=False, help_text="It goes to somebody as a present")
    postage_charged = models.DecimalField(max_digits=12, decimal_places=2)
    goods_value = models.DecimalField(max_digits=12, decimal_places=2)
    hold_code = models.CharField(max_length=20, blank=True, help_text="Set by intake or a person; empty: none")
    hold_text = models.CharField(max_length=300, blank=True)
    taken_in_at = models.DateTimeField()
    packed_at = models.DateTimeField(null=True, help_text="When its last parcel was closed")
    revision = models.PositiveIntegerField(default=0, help_text="Counts its changes: a second person's is told")
    request_key = models.UUIDField(null=True, unique=True, help_text="Of one typed in: sent twice, it is one order")

    class Meta(WorkshopOwned.Meta):
        abstract = False
        ordering = ["placed_on", "id"]
        constraints = [
            models.UniqueConstraint(fields=["workshop", "channel", "number"], name="order_number_once"),
            models.CheckConstraint(
                condition=Q(state__in=["new", "held", "planned", "bench", "packed", "cancelled", "joined"]),
                name="order_state_known",
            ),
            models.CheckConstraint(
                condition=Q(state="joined", joined_into__isnull=False) | (~Q(state="joined") & Q(joined_into=None)),
                name="order_joined_to_one",
            ),
        ]
        indexes = [
            models.Index(fields=["workshop", "state", "placed_on"]),
            models.Index(fields=["workshop", "number"]),
            models.Index(fields=["workshop", "buyer", "postcode"]),
            models.Index(fields=["workshop", "-placed_on", "-id"]),
            models.Index(fields=["workshop", "-packed_at", "-id"], condition=Q(state="packed"), name="orders_packed"),
            # What is under way, however many have gone.
            models.Index(
                fields=["workshop", "state"],
                condition=~Q(state__in=["packed", "cancelled", "joined"]),
                name="orders_under_way",
            ),
            # Any part of a name or number is found without reading every order.
            GinIndex(OpClass(Upper("buyer"), name="gin_trgm_ops"), name="order_buyer_parts"),
            GinIndex(OpClass(Upper("number"), name="gin_trgm_ops"), name="order_number_parts"),
        ]

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
    of_order = models.ForeignKey(
        Order, null=True, on_delete=models.CASCADE, related_name="+", help_text="The joined order it came with"
    )

    class Meta(WorkshopOwned.Meta):
        abstract = False
        ordering = ["order_id", "position"]
        constraints = [
            models.UniqueConstraint(fields=["order", "position"], name="order_line_position_once"),
            models.CheckConstraint(condition=Q(quantity__gte=1), name="order_line_has_units"),
        ]
        indexes = [models.Index("workshop", Upper("sku"), name="order_line_skus")]

    def __str__(self) -> str:
        return f"{self.quantity} x {self.sku}"


class ChannelFile(WorkshopOwned):
    """How the files of one channel are read: kept under the channel's name, used when the heading is the same."""

    name = models.CharField(max_length=30, help_text="The channel: orders of its files belong to it")
    head = models.JSONField(help_text="Names of the file's columns")
    matching = models.JSONField(help_text="core.intake.columns.Matching")
    used_at = models.DateTimeField()

    class Meta(WorkshopOwned.Meta):
        abstract = False
        ordering = ["name"]
        constraints = [models.UniqueConstraint(fields=["workshop", "name"], name="channel_file_once")]

    def __str__(self) -> str:
        return self.name


class GoodsName(WorkshopOwned):
    """What other programs call a product: matched once by a person, and remembered."""

    said = models.CharField(max_length=120, help_text="A code or a title as it stands in their files")
    product = models.ForeignKey(Product, on_delete=models.CASCADE, related_name="called")

    class Meta(WorkshopOwned.Meta):
        abstract = False
        ordering = ["said"]
        constraints = [models.UniqueConstraint(fields=["workshop", "said"], name="goods_name_once")]

    def __str__(self) -> str:
        return self.said


class OrderChange(WorkshopOwned):
    """An order that its channel sent again otherwise, or cancelled: shown, and applied when a person says so."""

    class State(models.TextChoices):
        OPEN = "open"
        APPLIED = "applied"
        IGNORED = "ignored"
        OVER = "over"  # the channel sent it once more: as it is here, or otherwise again

    order = models.ForeignKey(Order, on_delete=models.CASCADE, related_name="changes")
    kind = models.CharField(max_length=9, choices=[("changed", "changed"), ("cancelled", "cancelled")])
    document = models.JSONField(help_text="The order as it came, like Order.came_as")
    mark = models.PositiveBigIntegerField(default=0)
    state = models.CharField(max_length=8, choices=State.choices, default=State.OPEN)
    came_at = models.DateTimeField()
    settled_at = models.DateTimeField(null=True)
    settled_by = models.CharField(max_length=80, blank=True)

    class Meta(WorkshopOwned.Meta):
        abstract = False
        ordering = ["-came_at", "-id"]
        constraints = [
            models.UniqueConstraint(fields=["order"], condition=Q(state="open"), name="one_open_change_an_order"),
            models.CheckConstraint(condition=Q(kind__in=["changed", "cancelled"]), name="order_change_kind_known"),
            models.CheckConstraint(
                condition=Q(state__in=["open", "applied", "ignored", "over"]), name="order_change_state_known"
            ),
        ]
        indexes = [models.Index(fields=["workshop", "state", "-came_at"])]

    def __str__(self) -> str:
        return f"{self.order_id} {self.kind}"
