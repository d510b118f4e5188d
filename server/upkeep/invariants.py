"""What must hold in the database whatever happened to whom: each a query that finds the rows where it does not.

``./calm check`` runs them, and a nightly job does; a test breaks each on purpose and sees it told. They are written in
SQL and read the tables, not the program's own services, so that an error there cannot hide itself.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from django.db import connection

__all__ = ["INVARIANTS", "Invariant", "broken"]

#: Rows a fault shows at most; the number is told.
_SHOWN = 20


@dataclass(frozen=True, slots=True, kw_only=True)
class Invariant:
    """One thing that holds: a name, words for people, what to do when it does not, and the query for its exceptions."""

    code: str
    holds: str
    otherwise: str
    sql: str  #: one text column: which row


INVARIANTS: tuple[Invariant, ...] = (
    Invariant(
        code="ledger",
        holds="what is on hand is the sum of the ledger, at the average after its last entry",
        otherwise="The balance is wrong, the ledger is right: ./calm check ledger --repair works it out again.",
        sql="""
            select w.code || ': ' || s.code || ' has ' || coalesce(b.on_hand, 0) || ', its entries come to '
                   || coalesce(e.total, 0)
            from supplies_supply s join workshops_workshop w on w.id = s.workshop_id
            left join supplies_balance b on b.supply_id = s.id
            left join (select supply_id, sum(quantity) total, max(id) last from supplies_entry group by supply_id) e
              on e.supply_id = s.id
            left join supplies_entry l on l.id = e.last
            where coalesce(b.on_hand, 0) <> coalesce(e.total, 0)
               or coalesce(b.average_cost, 0) <> coalesce(l.average_after, 0)
        """,
    ),
    Invariant(
        code="below_zero",
        holds="no supply is below zero",
        otherwise="More left than the ledger had: count the shelf (Cupboard, Count).",
        sql="""
            select w.code || ': ' || s.code || ' ' || b.on_hand
            from supplies_balance b join supplies_supply s on s.id = b.supply_id
            join workshops_workshop w on w.id = b.workshop_id
            where b.on_hand < 0
        """,
    ),
    Invariant(
        code="used_by_day",
        holds="what each supply used by day comes to what its ledger says was used",
        otherwise="Expected use is off by so much; stock is not. Tell us, with what was done that day.",
        sql="""
            select w.code || ': ' || s.code || ' used ' || coalesce(u.total, 0) || ' by day, '
                   || coalesce(e.total, 0) || ' by its ledger'
            from supplies_supply s join workshops_workshop w on w.id = s.workshop_id
            left join (select supply_id, sum(quantity) total from supplies_usedon group by supply_id) u
              on u.supply_id = s.id
            left join (select supply_id, -sum(quantity) total from supplies_entry
                       where kind in ('used', 'corrected', 'spoiled') or (kind = 'converted' and unit_cost is null)
                       group by supply_id) e on e.supply_id = s.id
            where coalesce(u.total, 0) <> coalesce(e.total, 0)
        """,
    ),
    Invariant(
        code="received_of_orders",
        holds="what was received of an order to a supplier is in the ledger",
        otherwise="Count these supplies: something was received twice, or not at all.",
        sql="""
            select w.code || ': order P-' || p.number || ', ' || s.code || ' received ' || l.received
                   || ', in the ledger ' || coalesce(e.total, 0)
            from supplies_purchaseline l join supplies_purchase p on p.id = l.purchase_id
            join supplies_supply s on s.id = l.supply_id join workshops_workshop w on w.id = l.workshop_id
            left join (select purchase_line_id, sum(quantity) total from supplies_entry group by purchase_line_id) e
              on e.purchase_line_id = l.id
            where l.received <> coalesce(e.total, 0)
        """,
    ),
    Invariant(
        code="used_once",
        holds="a closed parcel drew each supply once, any other none",
        otherwise="Reopen the parcel and close it again; if that does not help, count these supplies.",
        sql="""
            select w.code || ': parcel ' || p.id || ' (' || p.state || ') drew ' || s.code || ' '
                   || sum(case e.kind when 'used' then 1 else -1 end) || ' times, ' || sum(e.quantity)
            from supplies_entry e join bench_parcel p on p.id = e.parcel_id
            join supplies_supply s on s.id = e.supply_id join workshops_workshop w on w.id = p.workshop_id
            where e.kind in ('used', 'corrected')
            group by w.code, p.id, p.state, s.code
            having sum(case e.kind when 'used' then 1 else -1 end) <> (p.state = 'closed')::int
                or (p.state <> 'closed' and sum(e.quantity) <> 0)
        """,
    ),
    Invariant(
        code="closed_whole",
        holds="a closed parcel has its weight, time, name, key, tracking, postage and something it used",
        otherwise="Reopen the parcel and close it again.",
        sql="""
            select w.code || ': parcel ' || p.id
            from bench_parcel p join workshops_workshop w on w.id = p.workshop_id
            where (p.state = 'closed') <> (p.close_key is not null and p.closed_at is not null and p.closed_by <> ''
                   and p.tracking <> '' and p.postage is not null)
               or (p.state = 'closed' and p.measured_mg is null)
               or (p.state = 'closed' and p.ready_id is null and not exists (
                   select 1 from supplies_entry e where e.parcel_id = p.id))
        """,
    ),
    Invariant(
        code="order_and_parcels",
        holds="an order is packed when all its parcels are closed, at the bench when some are not, else it has none",
        otherwise="Open the order at the bench; hold it from there, or close what is open.",
        sql="""
            select w.code || ': order ' || o.number || ' is ' || o.state || ' with ' || coalesce(p.open, 0)
                   || ' parcels open and ' || coalesce(p.closed, 0) || ' closed'
            from orders_order o join workshops_workshop w on w.id = o.workshop_id
            left join (select order_id, count(*) filter (where state = 'packing') as open,
                              count(*) filter (where state = 'closed') as closed
                       from bench_parcel group by order_id) p on p.order_id = o.id
            where o.state <> case when coalesce(p.open, 0) > 0 then 'bench' when coalesce(p.closed, 0) > 0 then 'packed'
                             else o.state end
               or (o.state in ('bench', 'packed') and coalesce(p.open, 0) + coalesce(p.closed, 0) = 0)
        """,
    ),
    Invariant(
        code="label_of_closed",
        holds="a closed parcel goes by one label that was bought and not cancelled, the one it names",
        otherwise="It must not leave with that label: reopen the parcel and buy another.",
        sql="""
            select w.code || ': parcel ' || p.id || ' names ' || p.tracking || '; bought: '
                   || coalesce(string_agg(l.tracking, ', '), 'none')
            from bench_parcel p join workshops_workshop w on w.id = p.workshop_id
            left join carriers_label l on l.parcel_id = p.id and l.state = 'bought'
            where p.state = 'closed'
            group by w.code, p.id, p.tracking
            having count(l.id) <> 1 or max(l.tracking) <> p.tracking
        """,
    ),
    Invariant(
        code="one_live_label",
        holds="a parcel has one label at most that is asked for, bought or being cancelled",
        otherwise="Cancel one of them.",
        sql="""
            select w.code || ': parcel ' || l.parcel_id || ' has ' || count(*)
            from carriers_label l join workshops_workshop w on w.id = l.workshop_id
            where l.parcel_id is not null and l.state in ('asked', 'bought', 'voiding')
            group by w.code, l.parcel_id having count(*) > 1
        """,
    ),
    Invariant(
        code="charge_without_label",
        holds="the carrier charges for no label that is not here",
        otherwise="The worker asks the carrier within two minutes; else call them with the number and cancel it.",
        sql="""
            select w.code || ': ' || c.tracking || ' sold for ' || c.price
            from standins_carriersale c join workshops_workshop w on w.id = c.workshop_id
            left join carriers_label l on l.key = c.key
            where c.void_on is null and (l.id is null or l.state in ('refused', 'void'))
        """,
    ),
    Invariant(
        code="label_without_charge",
        holds="every bought label is one the carrier sold and did not take back",
        otherwise="It must not be used: cancel it and buy another.",
        sql="""
            select w.code || ': ' || l.tracking
            from carriers_label l join workshops_workshop w on w.id = l.workshop_id
            left join standins_carriersale c on c.key = l.key
            where l.state = 'bought' and l.recorded = '' and (c.id is null or c.void_on is not null)
        """,
    ),
    Invariant(
        code="promised_for_open",
        holds="supplies are promised only to orders that are still to be packed",
        otherwise="Plan all orders again; if it stays, restore the last backup and tell what happened before.",
        sql="""
            select w.code || ': order ' || o.number || ' is ' || o.state || ' and holds ' || s.code
            from plans_planneduse u join plans_plan p on p.id = u.plan_id join orders_order o on o.id = p.order_id
            join supplies_supply s on s.id = u.supply_id join workshops_workshop w on w.id = u.workshop_id
            where o.state in ('packed', 'cancelled', 'joined') or u.quantity < 0
        """,
    ),
    Invariant(
        code="planned_has_plan",
        holds="an order called planned has a plan that can be packed",
        otherwise="Open the order in Plan: it is planned again.",
        sql="""
            select w.code || ': order ' || o.number
            from orders_order o join workshops_workshop w on w.id = o.workshop_id
            left join plans_plan p on p.order_id = o.id
            where o.state = 'planned' and coalesce(p.status, '') <> 'planned'
        """,
    ),
    Invariant(
        code="document_in_use",
        holds="every kept plan belongs to an order or a parcel",
        otherwise="The nightly job removes them.",
        sql="""
            select w.code || ': plan document ' || d.id
            from plans_plandocument d join workshops_workshop w on w.id = d.workshop_id
            where not exists (select 1 from plans_plan p where p.kept_id = d.id)
              and not exists (select 1 from bench_parcel b where b.kept_id = d.id)
        """,
    ),
    Invariant(
        code="arrivals_counted",
        holds="what a recipe version counts as known and damaged is what arrived",
        otherwise="Plans expect to lose too much or too little. Answer for one of its parcels again: it is counted.",
        sql="""
            select w.code || ': version ' || v.number || ' of ' || r.code || ' counts ' || a.damaged || ' of '
                   || a.known || ', arrived ' || coalesce(c.damaged, 0) || ' of ' || coalesce(c.known, 0)
            from recipes_versionarrivals a
            join recipes_recipeversion v on v.id = a.version_id join recipes_recipe r on r.id = v.recipe_id
            join workshops_workshop w on w.id = a.workshop_id
            left join (
              select g.version_id, count(distinct p.id) known,
                     count(distinct p.id) filter (where g.hurt and p.outcome in ('broken', 'spoiled')) damaged
              from outcomes_arrivalgoods g join outcomes_arrival p on p.id = g.arrival_id
              where p.outcome not in ('unknown', 'lost') group by g.version_id
            ) c on c.version_id = v.id
            where a.known <> coalesce(c.known, 0) or a.damaged <> coalesce(c.damaged, 0)
        """,
    ),
    Invariant(
        code="sent_has_arrival",
        holds="every parcel that is heard of has left",
        otherwise="Its hand-over was undone and what was said of it stayed: tell us which order.",
        sql="""
            select w.code || ': parcel ' || p.id
            from outcomes_arrival a join bench_parcel p on p.id = a.parcel_id
            join workshops_workshop w on w.id = p.workshop_id
            where p.handed_over_at is null
        """,
    ),
    Invariant(
        code="wave_has_worker",
        holds="a wave under way has a job that is waiting or worked on by a worker that lives",
        otherwise="Start the worker (./start runs one, ./calm worker another): it goes on within a minute.",
        sql="""
            select w.code || ': ' || v.done || ' of ' || v.total || ' since ' || v.told_at
            from plans_wave v join workshops_workshop w on w.id = v.workshop_id
            where v.ended_at is null and v.told_at < now() - interval '2 minutes' and not exists (
                select 1 from procrastinate_jobs j left join procrastinate_workers k on k.id = j.worker_id
                where j.task_name = 'plan_stale_orders' and (j.args ->> 'workshop_id')::bigint = v.workshop_id
                  and j.status = 'doing' and k.last_heartbeat > now() - interval '2 minutes')
        """,
    ),
)


def broken(only: Iterable[str] = ()) -> list[tuple[Invariant, int, Sequence[str]]]:
    """Return every invariant that does not hold, in how many rows, and the first of them; ``only``: these codes."""
    wanted = set(only)
    found: list[tuple[Invariant, int, Sequence[str]]] = []
    with connection.cursor() as cursor:
        for one in INVARIANTS:
            if wanted and one.code not in wanted:
                continue
            cursor.execute(one.sql)
            rows = [str(row[0]) for row in cursor.fetchall()]
            if rows:
                found.append((one, len(rows), rows[:_SHOWN]))
    return found
