"""Channels that are asked for orders, what was told them, and what other programs sent."""

from django.db import models

from server.bench.models import Parcel
from server.orders.models import Order
from server.workshops.models import WorkshopOwned

__all__ = ["ChannelLink", "IncomingRequest", "TrackingTold"]


class ChannelLink(WorkshopOwned):
    """A sales channel the worker asks for new orders."""

    name = models.CharField(max_length=30, help_text="Orders of this channel belong to it")
    on = models.BooleanField(default=True)
    mark = models.PositiveBigIntegerField(default=0, help_text="The channel's own count: asked for what is after it")
    asked_at = models.DateTimeField(null=True)
    answered_at = models.DateTimeField(null=True, help_text="When it last answered well")
    problem = models.CharField(max_length=300, blank=True, help_text="Why it did not, in words; empty: it did")
    unread = models.JSONField(
        default=list, help_text="Orders it sent that cannot be read, each with its number and what is wrong"
    )

    class Meta(WorkshopOwned.Meta):
        abstract = False
        ordering = ["name"]
        constraints = [models.UniqueConstraint(fields=["workshop", "name"], name="channel_link_once")]

    def __str__(self) -> str:
        return self.name


class TrackingTold(WorkshopOwned):
    """One tracking number told to a channel: written before it is told, so that it is told once."""

    link = models.ForeignKey(ChannelLink, on_delete=models.CASCADE, related_name="told")
    order = models.ForeignKey(Order, on_delete=models.CASCADE, related_name="+")
    parcel = models.ForeignKey(Parcel, on_delete=models.CASCADE, related_name="+")
    tracking = models.CharField(max_length=40)
    key = models.UUIDField(unique=True, help_text="The channel's: told twice with it, it counts once")
    tries = models.PositiveIntegerField(default=0)
    told_at = models.DateTimeField(null=True)
    problem = models.CharField(max_length=300, blank=True)

    class Meta(WorkshopOwned.Meta):
        abstract = False
        constraints = [
            models.UniqueConstraint(fields=["link", "order", "parcel", "tracking"], name="tracking_told_once")
        ]
        indexes = [models.Index(fields=["link", "told_at"])]

    def __str__(self) -> str:
        return self.tracking


class IncomingRequest(WorkshopOwned):
    """What another program sent and was answered: sent again with the same key, it is answered the same."""

    key = models.UUIDField()
    answer = models.JSONField()
    at = models.DateTimeField()

    class Meta(WorkshopOwned.Meta):
        abstract = False
        constraints = [models.UniqueConstraint(fields=["workshop", "key"], name="incoming_request_once")]
        indexes = [models.Index(fields=["at"])]

    def __str__(self) -> str:
        return str(self.key)
