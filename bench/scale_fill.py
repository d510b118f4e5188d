"""A workshop with years of closed orders, made in SQL: what was packed is copied with all that hangs on it.

Each copy is moved back in time and keeps its ties (id + copy x a million), so the ledger, labels, arrivals and times of
a copied order are those of its model. What the copies drew is received in one entry a supply, so that today's stock
stays; use by day is written with it. ``./calm check`` holds before and after.
"""

from django.db import connection

__all__ = ["fill"]

_FAR = 1_000_000
#: So many days lie between two copies: the sample's ten weeks one after the other, the shop as busy at every size.
_DAYS = 70
#: Ids of a copied workshop are some billions higher (copied_workshop).
_MODEL, _COPY = "id %% 1000000000 < 1000000", "id %% 1000000000 > 1000000"
_PACKED = f"select id from orders_order where workshop_id = %(workshop)s and state = 'packed' and {_MODEL}"
_PARCELS = f"select id from bench_parcel where state = 'closed' and order_id in ({_PACKED})"
#: Names and numbers of their own, so that a search finds as much as before.
_NAME = "initcap(translate(substr(md5(buyer || k), 1, 12), '0123456789', 'aeioulnrst'))"
#: The same for a label and what the carrier keeps of it.
_KEY = "md5(key::text || k)::uuid"
_MOVED = "{column} - make_interval(days => k * %(days)s)"
#: Table, which rows, and what is another in a copy; keys of tables that are copied too move along.
_TABLES: tuple[tuple[str, str, dict[str, str]], ...] = (
    ("orders_order", f"id in ({_PACKED})", {
        "number": "upper(substr(md5(number || k), 1, 12))", "placed_on": "placed_on - k * %(days)s",
        "taken_in_at": _MOVED, "packed_at": _MOVED,
        "request_key": "null",
        "buyer": _NAME,
    }),
    ("orders_orderline", f"order_id in ({_PACKED})", {"order_id": "order_id + k * 1000000", "of_order_id": "null"}),
    ("plans_plandocument", f"id in (select kept_id from bench_parcel where id in ({_PARCELS}))", {}),
    ("plans_plan", f"order_id in ({_PACKED})", {
        "order_id": "order_id + k * 1000000", "kept_id": "kept_id + k * 1000000", "ship_on": "ship_on - k * %(days)s",
        "at": _MOVED, "standing_id": "null",
    }),
    ("bench_parcel", f"id in ({_PARCELS})", {
        "order_id": "order_id + k * 1000000", "kept_id": "kept_id + k * 1000000", "ready_id": "null",
        "buyer_code": "null", "close_key": "gen_random_uuid()", "closed_at": _MOVED, "begun_at": _MOVED,
        "handed_over_at": "coalesce(handed_over_at, closed_at) - make_interval(days => k * %(days)s)",
        "holds_from": "null", "tracking": "tracking || k",
    }),
    ("bench_steptime", f"parcel_id in ({_PARCELS})", {"parcel_id": "parcel_id + k * 1000000"}),
    ("carriers_label", f"parcel_id in ({_PARCELS})", {
        "parcel_id": "parcel_id + k * 1000000", "key": _KEY, "asked_at": _MOVED, "bought_at": _MOVED,
        "void_at": _MOVED, "told_at": _MOVED, "checked_at": _MOVED, "charged_at": _MOVED,
        "tracking": "case when tracking = '' then '' else tracking || k end",
    }),
    ("standins_carriersale", f"key in (select key from carriers_label where parcel_id in ({_PARCELS}))", {
        "key": _KEY, "tracking": "tracking || k",
    }),
    ("supplies_entry", f"parcel_id in ({_PARCELS})", {
        "parcel_id": "parcel_id + k * 1000000", "at": _MOVED, "request_key": "null",
    }),
    ("outcomes_arrival", f"parcel_id in ({_PARCELS})", {
        "parcel_id": "parcel_id + k * 1000000", "sent_on": "sent_on - k * %(days)s",
        "promised_on": "promised_on - k * %(days)s",
        "delivered_on": "delivered_on - k * %(days)s", "whole_by": "whole_by - k * %(days)s",
        "answered_at": "coalesce(answered_at, whole_by::timestamptz) - make_interval(days => k * %(days)s)",
        "outcome": "case when outcome = 'unknown' then 'whole' else outcome end",
        "source": "case when outcome = 'unknown' then 'assumed' else source end",
    }),
    ("outcomes_arrivalgoods", f"arrival_id in (select id from outcomes_arrival where parcel_id in ({_PARCELS}))", {
        "arrival_id": "arrival_id + k * 1000000",
    }),
)  # fmt: skip


def fill(workshop_id: int, copies: int) -> dict[str, int]:
    """Copy what was packed so many times; return how many rows each table gained. In one transaction, by plain SQL."""
    gained = {}
    values = {"workshop": workshop_id, "copies": copies, "days": _DAYS}
    with connection.cursor() as cursor:
        cursor.execute("set constraints all deferred")
        # Rows to copy are named before any is made.
        for table, which, _ in _TABLES:
            cursor.execute(
                f"create temp table model_{table} on commit drop as select * from {table} where {which}", values
            )
        for table, _, others in _TABLES:
            cursor.execute(
                "select column_name from information_schema.columns where table_name = %s order by ordinal_position",
                [table],
            )
            columns = [name for (name,) in cursor.fetchall()]
            exprs = [
                f"id + k * {_FAR}" if name == "id" else others.get(name, name).replace("{column}", name)
                for name in columns
            ]
            cursor.execute(
                f"insert into {table} ({', '.join(map(_quoted, columns))}) select "
                f"{', '.join(_quoted(e) if e in columns else e for e in exprs)} "
                f"from model_{table} cross join generate_series(1, %(copies)s) k",
                values,
            )
            gained[table] = cursor.rowcount
        _stock(cursor, values)
        _arrivals(cursor, values)
        for table in ("supplies_entry", "supplies_usedon"):
            cursor.execute(f"select setval(pg_get_serial_sequence('{table}', 'id'), (select max(id) from {table}))")
    return gained


def _quoted(name: str) -> str:
    return f'"{name}"'


def _stock(cursor: object, values: dict[str, int]) -> None:
    """Receive what the copies drew, before they drew it, at the price it had; write use by day."""
    run = cursor.execute  # type: ignore[attr-defined]
    run(
        f"""insert into supplies_entry (id, workshop_id, supply_id, kind, quantity, unit_cost, average_after, note,
                                       "by", at)
           select -supply_id, workshop_id, supply_id, 'received', -sum(quantity), max(average_after),
                  max(average_after),
                  'years before', 'bench', min(at) - interval '1 day'
           from supplies_entry where workshop_id = %(workshop)s and {_COPY} group by workshop_id, supply_id
           having sum(quantity) < 0""",
        values,
    )
    run(
        f"""insert into supplies_usedon (workshop_id, supply_id, day, quantity)
           select workshop_id, supply_id, (at at time zone 'UTC')::date, -sum(quantity)
           from supplies_entry where workshop_id = %(workshop)s and {_COPY} group by 1, 2, 3
           on conflict (supply_id, day) do update set quantity = supplies_usedon.quantity + excluded.quantity""",
        values,
    )


def _arrivals(cursor: object, values: dict[str, int]) -> None:
    """Count the arrivals of each version again, as told."""
    cursor.execute(  # type: ignore[attr-defined]
        """update recipes_versionarrivals v
           set known = c.known, damaged = c.damaged, assumed = c.assumed, told_known = c.known,
               told_damaged = c.damaged
           from (select g.version_id, count(distinct a.id) known,
                        count(distinct a.id) filter (where g.hurt and a.outcome in ('broken', 'spoiled')) damaged,
                        count(distinct a.id) filter (where a.source = 'assumed') assumed
                 from outcomes_arrivalgoods g join outcomes_arrival a on a.id = g.arrival_id
                 where g.workshop_id = %(workshop)s and a.outcome in ('whole', 'marked', 'broken', 'spoiled', 'late')
                 group by g.version_id) c
           where c.version_id = v.version_id""",
        values,
    )
