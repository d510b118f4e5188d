"""The open orders many times over, for measurements of a long list. Django is set up before this is imported."""

from server.orders.models import Order, OrderLine
from server.plans.services import open_orders
from server.workshops.models import Workshop


def copy_orders(workshop: Workshop, count: int) -> None:
    """Copy the open orders, lines and all, until there are so many; each copy is somebody else's, with another
    postcode.
    """
    models = list(open_orders(workshop))
    lines = {order.pk: list(OrderLine.objects.of(workshop).filter(order=order)) for order in models}
    for number in range(count - len(models)):
        old = models[number % len(models)]
        new = Order.objects.of(workshop).get(pk=old.pk)
        new.pk, new.number, new.buyer = None, f"W{number}", f"{old.buyer} {number}"
        new.postcode = f"{old.postcode[:-1]}{number % 10}"
        new.save(force_insert=True)
        for line in lines[old.pk]:
            line.pk, line.order = None, new
            line.save(force_insert=True)
