"""Files that are broken, by the thousand, to every importer (./calm storm gives 20 000; ./calm bench broken-files [N]).

On a database of its own. Nothing may crash, be half saved, take 5 s or 400 MB. Prints a report; exits with 1 when
anything did not hold.
"""

import resource
import sys
import time
import warnings

from temporary import database

# isort: split
from server.bench.models import Parcel
from server.outcomes.models import Arrival
from server.workshops.models import Member
from tests.faults.broken_files import importers_of, let_in

MOST_S, MOST_MB = 5.0, 400


def main(files: int) -> int:
    """Break, import, print."""
    with database():
        member = Member.objects.select_related("workshop", "user").get(user__username="maren")
        assert Parcel.objects.of(member.workshop).exists() and Arrival.objects.of(member.workshop).exists()
        importers = importers_of(member)
        warnings.filterwarnings("ignore", module="openpyxl")
        begun = time.perf_counter()
        found = let_in(importers, files, "storm", slow_s=MOST_S)
        memory_mb = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss // 1024
        if memory_mb > MOST_MB:
            found.wrong.append(f"{memory_mb} MB of memory; at most {MOST_MB}")
        minutes = (time.perf_counter() - begun) / 60
        print(f"{found.files} broken files to {len(importers)} importers in {minutes:.1f} minutes: "
            f"{sum(found.refused.values())} refused in words, {sum(found.taken.values())} taken as they were; "
            f"the slowest {found.slowest_s:.2f} s, {memory_mb} MB at most; "
            + (f"{len(found.wrong)} WRONG" if found.wrong else "no crash, nothing half saved"))  # fmt: skip
        for one in importers:
            print(f"  {found.refused.get(one.name, 0):6} refused {found.taken.get(one.name, 0):6} taken  "
                f"{found.seconds.get(one.name, 0):7.1f} s  {one.name}")  # fmt: skip
        for wrong in found.wrong[:20]:
            print(f"  {wrong}")
    return 1 if found.wrong else 0


if __name__ == "__main__":
    sys.exit(main(int(sys.argv[1]) if len(sys.argv) > 1 else 20_000))
