"""Everything the search calls is compiled by ./start and ./test, so that no order waits for the compiler."""

import subprocess
import sys
import unittest
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]
#: In a process of its own: the other tests of this one have called everything already.
LOOK = """
import importlib, pkgutil, runpy
import numba
import core.packing.kernel as kernel

def signatures():
    found = {}
    for part in pkgutil.iter_modules(kernel.__path__):
        module = importlib.import_module(f"core.packing.kernel.{part.name}")
        for name, one in vars(module).items():
            if isinstance(one, numba.core.registry.CPUDispatcher) and one.__module__ == module.__name__:
                found[f"{part.name}.{name}"] = set(map(str, one.signatures))
    return found

import sys
sys.argv = ["warm_packing.py"]
runpy.run_path("scripts/warm_packing.py", run_name="__main__")
before = signatures()
from bench.packing.families import orders
from core.packing.cheapest import cheapest_container
for family in ("a5", "a20", "b10", "c", "d", "f"):
    for order in orders(family, 3):
        cheapest_container(order.offered, order.units, order.rules)
after = signatures()
assert any(before.values())
print(sorted(name for name in after if after[name] - before[name]))
"""


class CompiledOnce(unittest.TestCase):
    def test_no_order_compiles_anything_more(self) -> None:
        done = subprocess.run([sys.executable, "-c", LOOK], cwd=ROOT, capture_output=True, text=True, check=False)
        self.assertEqual((done.returncode, done.stdout.strip()), (0, "[]"), done.stderr[-1500:])
