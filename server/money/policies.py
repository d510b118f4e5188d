"""Ways to charge postage that are kept, and which of them is the workshop's own (money)."""

from collections.abc import Sequence
from datetime import date

from django.db import IntegrityError, transaction
from django.utils import timezone

from core.money.policies import Policy
from server.api.problems import Refused
from server.formats.charges_request import PolicyDoc
from server.money.models import ChargePolicy
from server.workshops.clock import today
from server.workshops.models import Member, Workshop, lock_workshop

__all__ = ["core_policy", "delete_policy", "found_policy", "make_ours", "ours_on", "save_policy"]


def core_policy(row: ChargePolicy) -> Policy:
    """Return a kept policy as the core has it."""
    return PolicyDoc.model_validate(row.document).core(row.workshop.money_digits)


def ours_on(rows: Sequence[ChargePolicy], day: date) -> ChargePolicy | None:
    """Return the policy that is the workshop's own on a day: the one whose day came last."""
    begun = [row for row in rows if row.ours_from is not None and row.ours_from <= day]
    return max(begun, key=lambda row: row.ours_from or date.min, default=None)


@transaction.atomic
def save_policy(*, by: Member, name: str, document: PolicyDoc) -> ChargePolicy:
    """Keep a way to charge postage under a name; the same name again is that policy changed.

    Raises Refused (ours) when it is the workshop's own already: buyers were charged by it.
    """
    lock_workshop(by.workshop)
    rows = ChargePolicy.objects.of(by.workshop)
    before = rows.filter(name=name).first()
    if before is not None and before.ours_from is not None and before.ours_from <= today(by.workshop):
        raise Refused(
            f"{name} is what buyers pay since {before.ours_from}. Keep the change under another name.",
            code="ours",
            field="name",
        )
    row, _ = rows.update_or_create(
        name=name,
        defaults={
            "workshop": by.workshop,
            "document": document.model_copy(update={"name": name}).model_dump(mode="json"),
            "made_at": timezone.now(),
            "made_by": by.name,
        },
    )
    return row


@transaction.atomic
def make_ours(*, by: Member, policy_id: int, from_day: date | None) -> ChargePolicy:
    """Make a policy the workshop's own from a day on; None: it is not, any more.

    Raises Refused: 404, past, day_taken.
    """
    lock_workshop(by.workshop)
    row = found_policy(by.workshop, policy_id)
    day = today(by.workshop)
    if row.ours_from is not None and row.ours_from < day:
        raise Refused(
            f"{row.name} is what buyers pay since {row.ours_from}. Make another yours from a later day instead.",
            code="ours",
        )
    if from_day is not None and from_day < day:
        raise Refused(f"From today ({day}) on at the earliest; given: {from_day}.", code="past", field="from_day")
    row.ours_from = from_day
    try:
        with transaction.atomic():
            row.save(update_fields=["ours_from"])
    except IntegrityError:
        raise Refused(
            f"Another policy is yours from {from_day} on. Choose another day, or take that one back.",
            code="day_taken",
            field="from_day",
        ) from None
    return row


@transaction.atomic
def delete_policy(*, by: Member, policy_id: int) -> ChargePolicy:
    """Take a policy away. Raises Refused: 404, ours."""
    lock_workshop(by.workshop)
    row = found_policy(by.workshop, policy_id)
    if row.ours_from is not None and row.ours_from <= today(by.workshop):
        raise Refused(f"{row.name} is what buyers pay since {row.ours_from}: it stays in the record.", code="ours")
    row.delete()
    row.pk = policy_id
    return row


def found_policy(workshop: Workshop, policy_id: int) -> ChargePolicy:
    """Return a policy. Raises Refused (404)."""
    row = ChargePolicy.objects.of(workshop).filter(pk=policy_id).first()
    if row is None:
        raise Refused("There is no such policy in your workshop.", code="not_found", status=404)
    return row
