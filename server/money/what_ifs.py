"""What-ifs: begun, cancelled, kept, deleted; those whose worker is gone (money)."""

from datetime import timedelta

from django.db import transaction
from django.db.models import Q, QuerySet
from django.http import Http404
from django.utils import timezone
from procrastinate.contrib.django import app

from server.api.problems import Refused
from server.money.changes import WhatIfAsked, said
from server.money.models import WhatIf
from server.plans.mapping import texts_to_json
from server.workshops.clock import today
from server.workshops.models import Member, Workshop, lock_workshop

__all__ = ["WHAT_IF_TASK", "begin", "cancel", "end_silent", "forget", "found_what_if", "keep", "listed"]

WHAT_IF_TASK = "what_if"
#: One that gave no sign of life for so long has no worker any more.
_SILENT = timedelta(minutes=2)
#: Runs nobody kept: so many of the newest stay.
_UNKEPT = 20


def listed(workshop: Workshop) -> "QuerySet[WhatIf]":
    """Return the kept ones and the newest others."""
    rows = WhatIf.objects.of(workshop)
    newest = list(rows.filter(name="").values_list("pk", flat=True)[:_UNKEPT])
    return rows.filter(Q(pk__in=newest) | ~Q(name="")).order_by("-id")


def found_what_if(workshop: Workshop, what_if_id: int) -> WhatIf:
    """Return a what-if. Raises Http404."""
    return _found(WhatIf.objects.of(workshop), what_if_id)


def _found(rows: "QuerySet[WhatIf]", what_if_id: int) -> WhatIf:
    row = rows.filter(pk=what_if_id).first()
    if row is None:
        raise Http404
    return row


def _locked(by: Member, what_if_id: int) -> WhatIf:
    return _found(WhatIf.objects.of(by.workshop).select_for_update(), what_if_id)


@transaction.atomic
def begin(*, by: Member, asked: WhatIfAsked) -> WhatIf:
    """Have a change tried by the worker. Raises Refused: not_valid, under_way while another is."""
    workshop = by.workshop
    lock_workshop(workshop)
    changes = texts_to_json(said(asked, workshop))
    rows = WhatIf.objects.of(workshop)
    if rows.filter(state__in=WhatIf.UNDER_WAY).exists():
        raise Refused("Another change is being tried. Wait for it, or cancel it.", code="under_way")
    old = list(rows.filter(name="").values_list("pk", flat=True)[_UNKEPT - 1 :])
    rows.filter(pk__in=old).delete()
    now = timezone.now()
    row = rows.create(
        workshop=workshop,
        asked={**asked.model_dump(mode="json"), "said": changes, "until": today(workshop).isoformat()},
        by=by.name,
        at=now,
        told_at=now,
    )
    app.configure_task(WHAT_IF_TASK, queue="plans", lock=f"what-if-{workshop.pk}").defer(
        workshop_id=workshop.pk, what_if_id=row.pk
    )
    return row


@transaction.atomic
def cancel(*, by: Member, what_if_id: int) -> WhatIf:
    """Try it no further. Raises Http404."""
    row = _locked(by, what_if_id)
    if row.state in WhatIf.UNDER_WAY:
        row.state, row.ended_at = WhatIf.State.CANCELLED, timezone.now()
        row.save(update_fields=["state", "ended_at"])
    return row


@transaction.atomic
def keep(*, by: Member, what_if_id: int, name: str) -> WhatIf:
    """Keep what came out under a name; empty: keep it no longer. Raises Http404, Refused (not_done)."""
    row = _locked(by, what_if_id)
    if row.state != WhatIf.State.DONE:
        raise Refused("Only what was tried to its end can be kept. Run it again.", code="not_done")
    row.name = name
    row.save(update_fields=["name"])
    return row


@transaction.atomic
def forget(*, by: Member, what_if_id: int) -> WhatIf:
    """Delete a what-if. Raises Http404, Refused (under_way)."""
    row = _locked(by, what_if_id)
    if row.state in WhatIf.UNDER_WAY:
        raise Refused("It is being tried. Cancel it first.", code="under_way")
    row.delete()
    row.pk = what_if_id
    return row


def end_silent() -> int:
    """End runs whose worker is gone and that no job works on; returns how many. For the worker, once a minute."""
    now = timezone.now()
    return sum(
        WhatIf.objects.of(workshop)
        .filter(state=WhatIf.State.RUNNING, told_at__lt=now - _SILENT)
        .update(
            state=WhatIf.State.FAILED, ended_at=now,
            problem="It broke off: its worker stopped. Nothing was changed. Run it again.",
        )
        for workshop in Workshop.objects.order_by("pk")
    )  # fmt: skip
