"""What buyers were asked about the risk of heat and cold, and what lies in the freezer."""

from django.db import models
from django.db.models import Q

from server.orders.models import Order
from server.supplies.models import Supply
from server.workshops.models import WorkshopOwned

__all__ = ["Consent", "FrozenLot"]


class Consent(WorkshopOwned):
    """A question to a buyer about their goods on a hot or cold way, and what they answered."""

    class Answer(models.TextChoices):
        WAIT = "wait"
        INSULATED = "insulated"
        AS_IT_IS = "as_it_is"

    order = models.OneToOneField(Order, on_delete=models.CASCADE, related_name="consent")
    text = models.TextField(max_length=2000, help_text="As it was sent")
    asked_at = models.DateTimeField()
    asked_by = models.CharField(max_length=80)
    low_c = models.DecimalField(max_digits=4, decimal_places=1, null=True, help_text="Told: goods get as cold as this")
    high_c = models.DecimalField(max_digits=4, decimal_places=1, null=True)
    answer = models.CharField(max_length=10, choices=Answer.choices, blank=True)
    words = models.CharField(max_length=500, blank=True, help_text="The buyer's own")
    answered_on = models.DateField(null=True)
    noted_by = models.CharField(max_length=80, blank=True)
    noted_at = models.DateTimeField(null=True)

    class Meta(WorkshopOwned.Meta):
        abstract = False

    def __str__(self) -> str:
        return f"{self.order_id}: {self.answer or 'asked'}"


class FrozenLot(WorkshopOwned):
    """Packs that were put into the freezer together."""

    supply = models.ForeignKey(Supply, on_delete=models.CASCADE, related_name="frozen")
    quantity = models.PositiveIntegerField()
    left = models.PositiveIntegerField(help_text="Not yet used")
    since = models.DateTimeField()
    by = models.CharField(max_length=80)
    request_key = models.UUIDField()

    class Meta(WorkshopOwned.Meta):
        abstract = False
        ordering = ["since", "id"]
        constraints = [
            models.UniqueConstraint(fields=["workshop", "request_key"], name="frozen_lot_once"),
            models.CheckConstraint(condition=Q(left__lte=models.F("quantity")), name="frozen_lot_not_more_left"),
        ]
        indexes = [models.Index(fields=["workshop", "left"])]

    def __str__(self) -> str:
        return f"{self.left} of {self.quantity} since {self.since}"
