"""Orders found by any part of a number or a buyer's name, through the indexes made for it (orders)."""

from django.db.models import Q, QuerySet

from server.orders.models import Order, OrderLine
from server.workshops.models import Workshop

__all__ = ["named_like", "with_goods"]


def named_like(workshop: Workshop, text: str) -> "QuerySet[Order]":
    """Return the orders whose number or buyer holds a text, in either case."""
    return Order.objects.of(workshop).filter(Q(number__icontains=text) | Q(buyer__icontains=text))


def with_goods(workshop: Workshop, sku: str) -> "QuerySet[OrderLine]":
    """Return the lines of a sku, in either case."""
    return OrderLine.objects.of(workshop).filter(sku__iexact=sku)
