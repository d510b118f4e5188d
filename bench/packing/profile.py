"""Which compiled function takes how much of the time: a profile of the packing kernel (./calm bench packing profile).

``perf`` knows addresses only. The compiler keeps its code beside the sources as ELF files with the names of all
functions;
where each lies in memory is asked of the compiler, and the addresses are set against that. Needs perf and readelf.
"""

import bisect
import os
import re
import shutil
import signal
import subprocess
import tempfile
import time
from collections import Counter
from importlib import import_module
from pathlib import Path
from typing import Any

import core.packing.kernel
from bench.packing.families import orders
from core.packing.cheapest import cheapest_container, forget_requests

__all__ = ["plain", "profiled", "told"]

#: What Python calls in the kernel: file and function.
_DOORS = (
    "improving.improve", "relations._search", "relations._begin", "relations._follow_up",
    "bounds.ruled_out_by_volumes", "ground._table", "resting.loads_hold", "resting.supported",
)  # fmt: skip
_KEPT = Path(core.packing.kernel.__file__).parent / "__pycache__"
_PER_SECOND, _SHOWN = 2_000, 30


def profiled(family: str, count: int) -> str:
    """Return the share of each compiled function in so many orders of a family, most first."""
    missing = [tool for tool in ("perf", "readelf") if shutil.which(tool) is None]
    if missing:
        return f"A profile needs {' and '.join(missing)}: install the Debian packages linux-perf and binutils."
    given = orders(family, count)
    _answer(given[:3])
    with tempfile.TemporaryDirectory() as folder:
        data = Path(folder) / "perf.data"
        command = ["perf", "record", "-e", "cpu-clock", "-F", str(_PER_SECOND), "-o", str(data), "-p", str(os.getpid())]
        with subprocess.Popen(command, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL) as recorder:
            time.sleep(1)
            _answer(given)
            recorder.send_signal(signal.SIGINT)
        seen = subprocess.run(
            ["perf", "script", "-i", str(data), "-F", "ip"], capture_output=True, text=True, check=True
        )
        names = sorted(found for door in _DOORS for found in _functions(door, Path(folder) / "code.o"))
    return told([int(address, 16) for address in seen.stdout.split()], names)


def _answer(given: list[Any]) -> None:
    for order in given:
        forget_requests()
        cheapest_container(order.offered, order.units, order.rules)


def _functions(door: str, code: Path) -> list[tuple[int, int, str]]:
    """Return where each function that a door calls begins in memory, how long it is, and its name."""
    module, name = door.split(".")
    found = []
    for compiled in getattr(import_module(f"core.packing.kernel.{module}"), name).overloads.values():
        for kept in _KEPT.glob(f"{door}-*.nbc"):
            whole = kept.read_bytes()
            code.write_bytes(whole[whole.index(b"\x7fELF") :])
            listed = subprocess.run(["readelf", "-sW", str(code)], capture_output=True, text=True, check=True).stdout
            symbols = [line.split() for line in listed.splitlines() if " FUNC " in line]
            own = [int(line[1], 16) for line in symbols if line[7] == compiled.fndesc.llvm_func_name]
            if own:
                base = compiled.library.get_pointer_to_function(compiled.fndesc.llvm_func_name) - own[0]
                found += [(base + int(line[1], 16), int(line[2]), f"{door}: {plain(line[7])}") for line in symbols]
    return found


def plain(symbol: str) -> str:
    """Return the last two names of a mangled one: file and function."""
    found = re.match(r"_ZN\d+core\d+packing\d+kernel\d+([a-z_]+?)\d+([a-z_]+)B", symbol)
    return ".".join(found.groups()) if found else symbol[:50]


def told(addresses: list[int], names: list[tuple[int, int, str]]) -> str:
    begins = [begin for begin, _, _ in names]
    counted: Counter[str] = Counter()
    for address in addresses:
        place = bisect.bisect_right(begins, address) - 1
        inside = place >= 0 and address < names[place][0] + names[place][1]
        counted[names[place][2] if inside else "Python and the rest"] += 1
    whole = max(1, len(addresses))
    return "\n".join(f"{100 * number / whole:5.1f} %  {name}" for name, number in counted.most_common(_SHOWN))
