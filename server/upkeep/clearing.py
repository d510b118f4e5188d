"""Throwing away what is over: sessions, waves, sign-in attempts, plans nobody has; and working balances out again."""

from datetime import timedelta

from axes.models import AccessAttempt, AccessLog
from django.contrib.sessions.models import Session
from django.db import connection, transaction
from django.utils import timezone

from server.channels.models import IncomingRequest
from server.plans.models import PlanDocument, Wave
from server.workshops.models import SignedIn, Workshop

__all__ = ["clear", "repair_balances"]

#: A wave that ended is looked back at for so long, and so is who tried to sign in.
_WAVES, _ATTEMPTS = timedelta(days=7), timedelta(days=30)
#: A program that sends something again does so within so many days.
_INCOMING = timedelta(days=30)


def clear() -> dict[str, int]:
    """Remove what is over. Returns how many rows of each."""
    now = timezone.now()
    workshops = Workshop.objects.order_by("pk")
    gone = {
        "sessions": Session.objects.filter(expire_date__lt=now).delete()[0],
        "signed_in": SignedIn.objects.filter(expires_at__lt=now).delete()[0],
        "waves": sum(Wave.objects.of(one).filter(ended_at__lt=now - _WAVES).delete()[0] for one in workshops),
        "incoming": sum(
            IncomingRequest.objects.of(one).filter(at__lt=now - _INCOMING).delete()[0] for one in workshops
        ),
        "attempts": AccessAttempt.objects.filter(attempt_time__lt=now - _ATTEMPTS).delete()[0],
        "sign_ins": AccessLog.objects.filter(attempt_time__lt=now - _ATTEMPTS).delete()[0],
        "documents": sum(PlanDocument.objects.of(one).filter(plan=None, parcels=None).delete()[0] for one in workshops),
    }
    return {name: count for name, count in gone.items() if count}


@transaction.atomic
def repair_balances() -> int:
    """Work every balance out again from the ledger, which is the truth. Returns how many were wrong or not there."""
    with connection.cursor() as cursor:
        cursor.execute("lock table supplies_entry, supplies_balance in share row exclusive mode")
        cursor.execute(
            """
            insert into supplies_balance as b (workshop_id, supply_id, on_hand, average_cost, last_used_at)
            select s.workshop_id, s.id, sum(e.quantity), (array_agg(e.average_after order by e.id desc))[1],
                   max(e.at) filter (where e.kind = 'used')
            from supplies_supply s join supplies_entry e on e.supply_id = s.id group by s.workshop_id, s.id
            on conflict (supply_id) do update
            set on_hand = excluded.on_hand, average_cost = excluded.average_cost, last_used_at = excluded.last_used_at
            where (b.on_hand, b.average_cost) is distinct from (excluded.on_hand, excluded.average_cost)
            """
        )
        return int(cursor.rowcount)
