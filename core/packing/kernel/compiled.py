"""The one place that names the compiler: ``compiled`` turns a typed function over arrays into machine code.

The compiled code is kept beside the sources (numba's cache). The cache watches each file on its own, not the files
it calls: after a change in one of them, ``./start`` and ``./test`` throw the kept code away (scripts/lib.sh).
Everything here counts in integers, so every machine gives the same answer.
"""

from collections.abc import Callable
from typing import ParamSpec, TypeVar

import numba

__all__ = ["compiled", "written_in"]

_Args = ParamSpec("_Args")
_Result = TypeVar("_Result")


def compiled(function: Callable[_Args, _Result]) -> Callable[_Args, _Result]:
    """Return the function compiled to machine code on its first call, or fetched from the cache."""
    machine: Callable[_Args, _Result] = numba.njit(cache=True)(function)
    return machine


def written_in(function: Callable[_Args, _Result]) -> Callable[_Args, _Result]:
    """Return the function compiled into each place that calls it: for small ones in the innermost loops.

    Handing arrays to a compiled function counts references up and down, which costs more than a few sums.
    """
    machine: Callable[_Args, _Result] = numba.njit(cache=True, inline="always")(function)
    return machine
