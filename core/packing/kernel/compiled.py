"""``compiled`` turns a typed function over arrays into machine code. Only this module and ``lending`` name the
compiler.

The compiled code is kept beside the sources (numba's cache). The cache watches each file on its own, not the files
it calls: after a change in one of them, ``./start`` and ``./test`` throw the kept code away (scripts/lib.sh).
Everything here counts in integers, so every machine gives the same answer.
"""

from collections.abc import Callable
from typing import ParamSpec, TypeVar, cast

import numba
import numpy as np

__all__ = ["NO_BOUND", "ONE", "TWO", "ZERO", "compiled", "written_in"]

#: Numbers to hand on or to begin with. A function is compiled once more for each plain number it is called with.
ZERO, ONE, TWO, NO_BOUND = (cast("int", np.int64(n)) for n in (0, 1, 2, 1 << 60))

_Args = ParamSpec("_Args")
_Result = TypeVar("_Result")


def compiled(function: Callable[_Args, _Result]) -> Callable[_Args, _Result]:
    """Return the function compiled to machine code on its first call, or fetched from the cache."""
    machine: Callable[_Args, _Result] = numba.njit(cache=True, error_model="numpy")(function)
    return machine


def written_in(function: Callable[_Args, _Result]) -> Callable[_Args, _Result]:
    """Return the function compiled into each place that calls it: for small ones in the innermost loops.

    Handing arrays to a compiled function counts references up and down, which costs more than a few sums.
    """
    machine: Callable[_Args, _Result] = numba.njit(cache=True, error_model="numpy", inline="always")(function)
    return machine
