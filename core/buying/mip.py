"""Mixed-integer models of 0-1 columns, solved by HiGHS: one thread, no output, the same answer each time (buying)."""

from collections.abc import Sequence
from dataclasses import dataclass

import highspy
import numpy as np
from highspy._core import _Highs  # its public wrapper prints a banner when it is made
from numpy.typing import NDArray

__all__ = ["Answer", "Floats", "Rows", "minimise"]

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]


@dataclass(frozen=True, slots=True)
class Rows:
    """What must hold: each row's columns and their values, row after row, and between what their sum lies."""

    start: Ints  #: where each row begins in ``index``; one more than rows
    index: Ints
    value: Floats
    low: Floats
    high: Floats


@dataclass(frozen=True, slots=True)
class Answer:
    """The columns found."""

    values: Floats | None  #: None: nothing was found in time, or nothing can be
    proven: bool  #: nothing is better


def minimise(
    cost: Floats,
    rows: Rows,
    *,
    seconds: float,
    whole: Sequence[int] | None = None,
    gap: float = 0.5,
) -> Answer:
    """Return 0-1 columns of the least cost. ``whole``: the columns that must be whole, None: all of them.

    ``gap``: answers so near to each other count as equal; below 1 where every cost is a whole number.
    """
    columns = len(cost)
    solver = _Highs()
    options: tuple[tuple[str, bool | int | float], ...] = (
        ("output_flag", False),
        ("threads", 1),
        ("random_seed", 0),
        ("mip_rel_gap", 0.0),
        ("mip_abs_gap", gap),
        ("time_limit", seconds),
    )
    for name, value in options:
        solver.setOptionValue(name, value)
    lp = highspy.HighsLp()
    lp.num_col_, lp.num_row_ = columns, len(rows.low)
    lp.col_cost_ = cost
    lp.col_lower_, lp.col_upper_ = np.zeros(columns), np.ones(columns)
    lp.row_lower_, lp.row_upper_ = rows.low, rows.high
    lp.a_matrix_.format_ = highspy.MatrixFormat.kRowwise
    lp.a_matrix_.start_, lp.a_matrix_.index_, lp.a_matrix_.value_ = rows.start, rows.index, rows.value
    kinds = [highspy.HighsVarType.kContinuous] * columns if whole is not None else []
    for at in whole or ():
        kinds[at] = highspy.HighsVarType.kInteger
    lp.integrality_ = kinds or [highspy.HighsVarType.kInteger] * columns
    solver.passModel(lp)
    solver.run()
    values = np.array(solver.getSolution().col_value)
    if len(values) != columns:
        return Answer(values=None, proven=solver.getModelStatus() == highspy.HighsModelStatus.kInfeasible)
    return Answer(values=values, proven=solver.getModelStatus() == highspy.HighsModelStatus.kOptimal)
