"""An exact model of one container, to see what the search misses (bench; needs ortools of the group 'bench').

Every rule is a constraint, but loads may be handed down in any shares and no unit on the floor is lifted to meet a
top: a looser model, so its no is a proof. Its yes is checked by ``verify`` and only counts when that finds no error.
"""

from functools import reduce
from math import gcd
from typing import Any

from core.packing.model import Box, Packing, PackRules, PackUnit, Placement, floor_um, orientations
from core.packing.verify import faults_of

__all__ = ["asked", "oracle"]


def oracle() -> Any | None:
    """Return the solver's module, or None when it is not installed."""
    try:
        from ortools.sat.python import cp_model  # noqa: PLC0415 (importing it takes two seconds)
    except ImportError:
        return None
    return cp_model


def asked(cp: Any, box: Box, units: tuple[PackUnit, ...], rules: PackRules, effort: float) -> bool | None:
    """Return whether the container certainly takes the units, or None when the effort (solver's own count) was too
    little.
    """
    rows = [unit for unit in units for _ in range(unit.quantity)]
    model = _Model(cp, box, rows, rules, floor_um(units))
    if not model.every_unit_has_a_way():
        return False
    model.keep_apart()
    if rules.support_percent:
        model.hold()
    solver = cp.CpSolver()
    solver.parameters.num_workers = 1
    solver.parameters.random_seed = 1
    solver.parameters.max_deterministic_time = effort
    status = solver.Solve(model.cp_model)
    if status == cp.INFEASIBLE:
        return False
    if status not in (cp.OPTIMAL, cp.FEASIBLE):
        return None
    found = model.packing(solver)
    return None if faults_of(found, box, units, rules) else True


class _Model:
    """Variables and constraints; lengths are divided by what they have in common."""

    def __init__(self, cp: Any, box: Box, rows: list[PackUnit], rules: PackRules, floor: int) -> None:
        lengths = [rules.gap_um]
        for unit in rows:
            keep = unit.clearance
            lengths += [*unit.size_um, keep.side_um, keep.bottom_um, keep.top_um]
        self.step = reduce(gcd, lengths)
        self.cp, self.cp_model, self.rows, self.box, self.rules = cp, cp.CpModel(), rows, box, rules
        self.gap, self.floor = rules.gap_um // self.step, floor // self.step
        self.inner = [v // self.step for v in box.inner_um]
        self.at: list[list[Any]] = []
        self.size: list[list[Any]] = []
        self.ways: list[tuple[list[Any], list[tuple[int, ...]]]] = []

    def every_unit_has_a_way(self) -> bool:
        """Add where each unit starts and how it stands; False when one is too large for its window."""
        for unit in self.rows:
            side = unit.clearance.side_um // self.step
            low = (side, side, unit.clearance.bottom_um // self.step)
            high = (self.inner[0] - side, self.inner[1] - side, self.inner[2] - unit.clearance.top_um // self.step)
            ways = [tuple(v // self.step for v in way) for way in orientations(unit)]
            ways = [way for way in ways if all(low[a] + way[a] <= high[a] for a in range(3))]
            if not ways:
                return False
            chosen = [self.cp_model.NewBoolVar("") for _ in ways]
            self.cp_model.AddExactlyOne(chosen)
            self.ways.append((chosen, ways))
            self.at.append([])
            self.size.append([])
            for axis in range(3):
                values = [way[axis] for way in ways]
                size = self.cp_model.NewIntVarFromDomain(self.cp.Domain.FromValues(values), "")
                self.cp_model.Add(size == sum(b * v for b, v in zip(chosen, values, strict=True)))
                start = self.cp_model.NewIntVar(low[axis], high[axis] - min(values), "")
                self.cp_model.Add(start + size <= high[axis])
                self.at[-1].append(start)
                self.size[-1].append(size)
        self.on_floor = [self.cp_model.NewBoolVar("") for _ in self.rows]
        for row, here in enumerate(self.on_floor):
            self.cp_model.Add(self.at[row][2] <= self.floor).OnlyEnforceIf(here)
            self.cp_model.Add(self.at[row][2] > self.floor).OnlyEnforceIf(here.Not())
        return True

    def keep_apart(self) -> None:
        """Any two units are a gap apart along some axis; nothing off the floor begins where a bare unit's top is."""
        for i in range(len(self.rows)):
            for j in range(i + 1, len(self.rows)):
                choices = []
                for axis in range(3):
                    for x, y in ((i, j), (j, i)):
                        apart = self.cp_model.NewBoolVar("")
                        choices.append(apart)
                        end = self.at[x][axis] + self.size[x][axis] + self.gap
                        self.cp_model.Add(end <= self.at[y][axis]).OnlyEnforceIf(apart)
                        if axis == 2 and self.rules.support_percent and self.rows[x].load_on_top_mg == 0:
                            self.cp_model.Add(end + 1 <= self.at[y][axis]).OnlyEnforceIf(apart, self.on_floor[y].Not())
                self.cp_model.AddBoolOr(choices)
            if i and self.rows[i] is self.rows[i - 1]:
                self.cp_model.Add(self.at[i - 1][0] <= self.at[i][0])

    def hold(self) -> None:
        """What is off the floor is held on enough of its base, and hands its weight down within the limits."""
        count = len(self.rows)
        total = sum(unit.weight_mg for unit in self.rows) // 1000 + 1
        handed: dict[tuple[int, int], Any] = {}
        for i in range(count):
            areas = []
            for j in range(count):
                if i == j or self.rows[j].load_on_top_mg == 0:
                    continue
                rests = self.cp_model.NewBoolVar("")
                areas.append(self._shared(i, j, rests))
                handed[i, j] = self.cp_model.NewIntVar(0, total, "")
                self.cp_model.Add(handed[i, j] == 0).OnlyEnforceIf(rests.Not())
            base = sum(b * way[0] * way[1] for b, way in zip(*self.ways[i], strict=True))
            enough = sum(areas) * 100 >= base * self.rules.support_percent
            self.cp_model.Add(enough).OnlyEnforceIf(self.on_floor[i].Not())
        for i, unit in enumerate(self.rows):
            carried = sum(handed[k, i] for k in range(count) if (k, i) in handed)
            down = sum(handed[i, k] for k in range(count) if (i, k) in handed)
            self.cp_model.Add(down >= unit.weight_mg // 1000 + carried).OnlyEnforceIf(self.on_floor[i].Not())
            if unit.load_on_top_mg:
                self.cp_model.Add(carried <= unit.load_on_top_mg // 1000 + 1)

    def _shared(self, i: int, j: int, rests: Any) -> Any:
        """Return the area unit i has on j's top, 0 unless it rests there."""
        self.cp_model.AddImplication(rests, self.on_floor[i].Not())
        top = self.at[j][2] + self.size[j][2] + self.gap
        self.cp_model.Add(self.at[i][2] == top).OnlyEnforceIf(rests)
        lengths, most = [], 1
        for axis in (0, 1):
            longest = min(max(way[axis] for way in self.ways[k][1]) for k in (i, j))
            length = self.cp_model.NewIntVar(0, longest, "")
            ends = [(self.at[k][axis], self.at[k][axis] + self.size[k][axis]) for k in (i, j)]
            self.cp_model.Add(length <= ends[0][1] - ends[1][0]).OnlyEnforceIf(rests)
            self.cp_model.Add(length <= ends[1][1] - ends[0][0]).OnlyEnforceIf(rests)
            for k in (i, j):
                self.cp_model.Add(length <= self.size[k][axis])
            self.cp_model.Add(length == 0).OnlyEnforceIf(rests.Not())
            lengths.append(length)
            most *= longest
        area = self.cp_model.NewIntVar(0, most, "")
        self.cp_model.AddMultiplicationEquality(area, lengths)
        return area

    def packing(self, solver: Any) -> Packing:
        """Return what the solver found."""
        found = []
        for row, unit in enumerate(self.rows):
            at = [solver.Value(v) * self.step for v in self.at[row]]
            size = [solver.Value(v) * self.step for v in self.size[row]]
            found.append(Placement(unit=unit.code, at_um=(at[0], at[1], at[2]), size_um=(size[0], size[1], size[2])))
        return Packing(box=self.box.code, placements=tuple(found))
