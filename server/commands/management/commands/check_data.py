"""Check that what must hold in the database holds, and say which rows where it does not."""

from argparse import ArgumentParser
from typing import Any

from django.core.management.base import BaseCommand, CommandError

from server.upkeep.clearing import repair_balances
from server.upkeep.invariants import INVARIANTS, broken
from server.upkeep.uses import wrong_uses
from server.workshops.models import Workshop

_USES = "uses"


class Command(BaseCommand):
    """./calm check [NAME ...] [--days N | --all] [--repair]"""

    help = __doc__ or ""

    def add_arguments(self, parser: ArgumentParser) -> None:
        """Describe the options."""
        parser.add_argument("names", nargs="*", help="only these; without: all")
        parser.add_argument("--days", type=int, default=31, help="read the plans of parcels closed since (31)")
        parser.add_argument("--all", action="store_true", help="read the plans of all closed parcels")
        parser.add_argument("--repair", action="store_true", help="first work out the balances from the ledger again")

    def handle(self, *args: Any, **options: Any) -> None:
        """Run the checks; the exit code is 1 when one does not hold."""
        known = [one.code for one in INVARIANTS] + [_USES]
        unknown = sorted(set(options["names"]) - set(known))
        if unknown:
            raise CommandError(f"There is no check {unknown[0]}; there are {', '.join(known)}.")
        wanted = options["names"] or known
        if options["repair"]:
            self.stdout.write(f"{repair_balances()} balances were wrong and are worked out from the ledger again")
        faults = self._invariants(wanted)
        if _USES in wanted:
            days = None if options["all"] else options["days"]
            faults += self._uses(days)
        if faults:
            raise CommandError(f"{faults} rows where something does not hold")
        self.stdout.write("OK")

    def _invariants(self, wanted: list[str]) -> int:
        bad = {one.code: (count, rows) for one, count, rows in broken(wanted)} if set(wanted) - {_USES} else {}
        for one in INVARIANTS:
            if one.code not in wanted:
                continue
            count, rows = bad.get(one.code, (0, ()))
            self.stdout.write(f"{'WRONG' if count else 'ok   '} {one.code:22} {one.holds}")
            for row in rows:
                self.stdout.write(f"        {row}")
            if count:
                more = f"        and {count - len(rows)} more\n" if count > len(rows) else ""
                self.stdout.write(f"{more}        {one.otherwise}")
        return sum(count for count, _ in bad.values())

    def _uses(self, days: int | None) -> int:
        rows = [row for workshop in Workshop.objects.order_by("pk") for row in wrong_uses(workshop, days=days)]
        span = "all closed parcels" if days is None else f"parcels closed in the last {days} days"
        self.stdout.write(f"{'WRONG' if rows else 'ok   '} {_USES:22} {span} drew what their plans use")
        for row in rows[:20]:
            self.stdout.write(f"        {row}")
        return len(rows)
