"""Printing labels: a queue, so that a jammed printer loses none; a label printed again is marked as a copy (bench).

A job is written before the printer is asked. What the printer refuses waits, in its order, and is tried again by the
worker or when somebody has seen to the printer.
"""

from collections.abc import Sequence

from django.db import transaction
from django.db.models import Count, Q
from django.utils import timezone

from server.api.problems import Refused
from server.bench.models import Parcel, PrintJob
from server.bench.papers import label_sheet
from server.carriers.models import Label
from server.formats.pdf import label_pdf
from server.standins.printer import LabelPrinter, PrinterRefuses, SimulatedPrinter
from server.workshops.models import Member, Workshop, lock_workshop

__all__ = ["PRINTER", "ask_print", "cancel_print", "print_waiting"]

PRINTER: LabelPrinter = SimulatedPrinter()
#: So many labels are printed while somebody waits for the answer.
_AT_ONCE = 50


@transaction.atomic
def ask_print(*, by: Member, parcel_ids: Sequence[int]) -> list[PrintJob]:
    """Put the labels of these parcels in the queue, in this order; one that waits already is not put in twice.

    A label that was printed before is printed again as a marked copy. Raises Refused when a parcel has no label.
    """
    lock_workshop(by.workshop)
    labels = {
        label.parcel_id: label
        for label in Label.objects.of(by.workshop)
        .filter(parcel_id__in=parcel_ids, state=Label.State.BOUGHT)
        .annotate(printed=Count("prints", filter=Q(prints__state=PrintJob.State.PRINTED)))
    }
    without = [pk for pk in dict.fromkeys(parcel_ids) if pk not in labels]
    if without:
        numbers = Parcel.objects.of(by.workshop).filter(pk__in=without).values_list("order__number", flat=True)
        named = ", ".join(sorted(set(numbers))) or "A parcel"
        raise Refused(f"{named} has no label to print. Buy it at the bench first.", code="no_label")
    waiting = set(
        PrintJob.objects.of(by.workshop)
        .filter(label__in=labels.values(), state=PrintJob.State.WAITING)
        .values_list("label_id", flat=True)
    )
    return PrintJob.objects.of(by.workshop).bulk_create(
        PrintJob(
            workshop=by.workshop,
            label=labels[pk],
            copy=labels[pk].printed + 1,
            asked_at=timezone.now(),
            asked_by=by.name,
        )
        for pk in dict.fromkeys(parcel_ids)
        if labels[pk].pk not in waiting
    )


def print_waiting(workshop: Workshop, *, printer: LabelPrinter | None = None) -> int:
    """Print what waits, in its order, until the printer refuses. Returns how many were printed.

    Each job is taken under its row's lock: two at once print no label twice.
    """
    printed = 0
    for _ in range(_AT_ONCE):
        if not _print_next(workshop, printer or PRINTER):
            break
        printed += 1
    return printed


@transaction.atomic
def _print_next(workshop: Workshop, printer: LabelPrinter) -> bool:
    rows = PrintJob.objects.of(workshop).filter(state=PrintJob.State.WAITING)
    job = rows.select_for_update(of=("self",), skip_locked=True).select_related("label").order_by("id").first()
    if job is None:
        return False
    parcel = Parcel.objects.of(workshop).select_related("order", "kept").filter(labels=job.label).first()
    if parcel is None or job.label.state != Label.State.BOUGHT:
        # It was given back meanwhile: a label that is not valid is not printed.
        job.state = PrintJob.State.CANCELLED
        job.save(update_fields=["state"])
        return True
    content = label_pdf(label_sheet(workshop, parcel, job.label), copy=job.copy)
    try:
        done = printer.print(workshop, title=f"{parcel.order.number} {job.label.tracking}", content=content)
    except PrinterRefuses as refusal:
        job.problem = refusal.state
        job.save(update_fields=["problem"])
        return False
    job.state, job.sheets, job.problem, job.printed_at = PrintJob.State.PRINTED, done.sheets, "", timezone.now()
    job.save(update_fields=["state", "sheets", "problem", "printed_at"])
    return True


@transaction.atomic
def cancel_print(*, by: Member, job_id: int) -> None:
    """Take a label out of the queue. Raises Refused when it does not wait there."""
    rows = PrintJob.objects.of(by.workshop).filter(pk=job_id, state=PrintJob.State.WAITING)
    if not rows.update(state=PrintJob.State.CANCELLED):
        if not PrintJob.objects.of(by.workshop).filter(pk=job_id).exists():
            raise Refused("There is no such label in your queue.", code="not_found", status=404)
        raise Refused("This label does not wait to be printed any more.", code="not_waiting")
