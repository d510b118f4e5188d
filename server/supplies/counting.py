"""Counting a shelf, line by line; left and taken up again; a large difference is looked at twice (rules 13.6)."""

from dataclasses import dataclass
from decimal import Decimal
from uuid import UUID

from django.db import transaction
from django.utils import timezone

from core.supplies.counting import asks_second_look
from server.api.problems import Refused
from server.supplies.models import Balance, CountLine, CountSession, Supply
from server.supplies.selectors import slots_of
from server.supplies.services import count
from server.workshops.models import Member, Workshop, lock_workshop

__all__ = ["Counted", "begin_count", "close_count", "count_line"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Counted:
    """What counting a line came to."""

    line: CountLine
    second_look: bool  #: the difference is large: count it once more, nothing was posted


@transaction.atomic
def begin_count(*, by: Member, shelf: str) -> CountSession:
    """Begin counting a shelf, or take up the count that is open there. Raises Refused when nothing stands on it."""
    lock_workshop(by.workshop)
    rows = CountSession.objects.of(by.workshop)
    open_now = rows.filter(shelf=shelf, closed_at=None).first()
    if open_now is not None:
        return open_now
    if not slots_of(by.workshop).filter(shelf=shelf).exists():
        raise Refused(f"Nothing stands on shelf {shelf}.", code="empty_shelf", field="shelf")
    return rows.create(workshop=by.workshop, shelf=shelf, by=by.name, begun_at=timezone.now())


@transaction.atomic
def count_line(*, by: Member, session_id: int, supply_id: int, counted: Decimal, request_key: UUID) -> Counted:
    """Count one supply. A difference of more than a tenth or five units is posted when it was counted twice alike.

    Raises Refused (404, not_open, not_valid).
    """
    lock_workshop(by.workshop)
    session = _session(by.workshop, session_id)
    if session.closed_at is not None:
        raise Refused(f"The count of shelf {session.shelf} is over. Begin another one.", code="not_open")
    supply = Supply.objects.of(by.workshop).filter(pk=supply_id).first()
    if supply is None:
        raise Refused("There is no such supply in your cupboard.", code="not_found", status=404)
    before = CountLine.objects.of(by.workshop).filter(session=session, supply=supply).select_for_update().first()
    if before is not None and before.request_key == request_key:
        return Counted(line=before, second_look=before.entry_id is None)
    balance = Balance.objects.of(by.workshop).filter(supply=supply).first()
    ledger = balance.on_hand if balance is not None else Decimal(0)
    again = before is not None and before.counted == counted
    look = asks_second_look(ledger=ledger, counted=counted) and not again
    entry = None
    if not look:
        note = f"count of shelf {session.shelf}"
        entry = count(by=by, supply_id=supply_id, counted=counted, note=note, request_key=request_key)
    line, _ = CountLine.objects.of(by.workshop).update_or_create(
        session=session,
        supply=supply,
        defaults={
            "workshop": by.workshop,
            "counted": counted,
            "ledger": ledger,
            "entry": entry,
            "by": by.name,
            "at": timezone.now(),
            "request_key": request_key,
        },
    )
    return Counted(line=line, second_look=look)


@transaction.atomic
def close_count(*, by: Member, session_id: int) -> CountSession:
    """End a count; what waits for a second look was not posted. Raises Refused (404)."""
    lock_workshop(by.workshop)
    session = _session(by.workshop, session_id)
    if session.closed_at is None:
        session.closed_at = timezone.now()
        session.save(update_fields=["closed_at"])
    return session


def _session(workshop: Workshop, session_id: int) -> CountSession:
    row = CountSession.objects.of(workshop).select_for_update().filter(pk=session_id).first()
    if row is None:
        raise Refused("There is no such count.", code="not_found", status=404)
    return row
