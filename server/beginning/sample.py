"""The sample workshop: loading it in the background, and removing it with everything in it."""

from typing import Literal

from django.apps import apps
from django.contrib.auth.models import User
from django.contrib.sessions.models import Session
from django.db import transaction
from procrastinate.contrib.django import app
from procrastinate.contrib.django.models import ProcrastinateJob
from procrastinate.exceptions import AlreadyEnqueued

from server.orders.models import Order
from server.recipes.models import Product, Recipe
from server.supplies.models import Supply
from server.workshops.models import Member, SignedIn, Workshop, WorkshopOwned

__all__ = ["LOAD_SAMPLE", "PARTS", "SampleState", "ask_for_sample", "parts_loaded", "remove_sample", "sample_state"]

LOAD_SAMPLE = "load_sample"
SampleState = Literal["none", "coming", "ready"]
#: What is loaded one after another: the workshop, supplies, recipes, products, orders, a week's work.
PARTS = 6


def sample_state() -> SampleState:
    """Return whether the sample workshop is here, on its way, or not."""
    if ProcrastinateJob.objects.filter(task_name=LOAD_SAMPLE, status__in=("todo", "doing")).exists():
        return "coming"
    return "ready" if Workshop.objects.filter(sample=True).exists() else "none"


def parts_loaded() -> int:
    """Return how many of its parts are here."""
    workshop = Workshop.objects.filter(sample=True).first()
    if workshop is None:
        return 0
    there = [model.objects.of(workshop).exists() for model in (Supply, Recipe, Product, Order)]
    packed = Order.objects.of(workshop).filter(state=Order.State.PACKED).exists()
    return 1 + sum(there) + packed


def ask_for_sample() -> None:
    """Ask the worker to load the sample; asked twice, it is loaded once."""
    if sample_state() != "none":
        return
    try:
        app.configure_task(LOAD_SAMPLE, queueing_lock=LOAD_SAMPLE).defer()
    except AlreadyEnqueued:
        return


@transaction.atomic
def remove_sample() -> bool:
    """Remove the sample workshop, its people and all it has. Returns whether it was here.

    Keys between its tables are checked at the end of the transaction, so their order does not matter.
    """
    workshop = Workshop.objects.select_for_update().filter(sample=True).first()
    if workshop is None:
        return False
    for model in apps.get_models():
        if issubclass(model, WorkshopOwned):
            rows = model.objects.of(workshop)
            rows._raw_delete(rows.db)
    people = list(Member.objects.filter(workshop=workshop).values_list("user_id", flat=True))
    places = SignedIn.objects.filter(member__workshop=workshop)
    Session.objects.filter(session_key__in=list(places.values_list("session_key", flat=True))).delete()
    places.delete()
    Member.objects.filter(workshop=workshop).delete()
    User.objects.filter(pk__in=people).delete()
    workshop.delete()
    return True
