"""What the search over relations works on: one long row of numbers, so that it is handed on at no cost (packing
kernel).

To hand several arrays to a compiled function costs more than most of what the functions do with them. So all of it lies
in one row, each kind from an address of its own: ``desk[WAYS + i]`` are the ways unit i may still stand. Addresses
up to ``KEYS`` are what is known, and serve as keys: what a fact is about. Room is for ``MOST_UNITS`` units.
"""

from core.packing.kernel.compiled import ZERO, compiled, written_in
from core.packing.kernel.problem import Problem, Row

__all__ = [
    "AREA", "BASE", "BASES", "BEGIN", "BLAME", "CAUSE", "CLEAR", "CROSS", "DEPTH", "DOUBTS",
    "EARLIER", "EARLIER_COUNT", "END", "FACT", "FACTS", "FIRST_WATCH", "FLOOR", "FLOOR_CHANGED", "FOLLOWED",
    "FULL", "GAP", "HABIT", "HIGH", "HOLDERS", "KEYS", "KIND", "LATEST", "LEAST", "LENGTH", "LEVEL", "LIMIT_MG",
    "MARK", "MOST", "MOST_DEPTH", "MOST_FACTS", "MOST_PARTS", "MOST_REASONS", "MOST_SETS", "MOST_UNITS", "MOVED",
    "OFF_FLOOR", "ON_FLOOR", "PAIR", "PART", "PARTS", "REASONS", "REST", "RUN", "RUN_LEFT", "SETS", "SET_BEGIN",
    "SIZE", "STACK", "STACK_ROOM", "SUPPORT", "TOP_AREA", "TOUCHES", "UNITS", "WANTED", "WATCH", "WAYS",
    "WEIGHT_MG", "WHY", "WIDE_BASE", "lay_out", "measure", "under", "write",
]  # fmt: skip

MOST_UNITS = 16
MOST_FACTS, MOST_REASONS, MOST_DEPTH = 12_000, 120_000, 1_000
#: Sets learned and their parts at most. When room of any kind is used up the search ends without an answer.
MOST_SETS, MOST_PARTS = 12_000, 250_000

# What is known. Of each unit the lowest starts (6 * i + axis) and the highest (6 * i + HIGH + axis), then
# possibilities as bits: ways to stand, floor or not, the relations of each two (PAIR + MOST_UNITS * i + j, i before
# j), and whether one that is under
# another touches it (REST + MOST_UNITS * under + over).
HIGH = 3
WAYS = 6 * MOST_UNITS
LEVEL = WAYS + MOST_UNITS
PAIR = LEVEL + MOST_UNITS
REST = PAIR + MOST_UNITS * MOST_UNITS
KEYS = REST + MOST_UNITS * MOST_UNITS
#: Whether a unit stands on the floor, as the possibilities of its level.
ON_FLOOR, OFF_FLOOR = 1, 2
#: Whether a unit begins exactly where the top under it and the gap end.
TOUCHES, CLEAR = 1, 2

# Drawn from the ways a unit may still stand: extents with the gap, least area across; least and largest base.
LEAST = KEYS
MOST = LEAST + 3 * MOST_UNITS
AREA = MOST + 3 * MOST_UNITS
BASE = AREA + 3 * MOST_UNITS
WIDE_BASE = BASE + MOST_UNITS

# The problem: sizes with the gap (18 * i + 3 * way + axis) and bases (6 * i + way), where windows end (3 * i + axis).
SIZE = WIDE_BASE + MOST_UNITS
BASES = SIZE + 18 * MOST_UNITS
END = BASES + 6 * MOST_UNITS
LIMIT_MG = END + 3 * MOST_UNITS
WEIGHT_MG = LIMIT_MG + MOST_UNITS
KIND = WEIGHT_MG + MOST_UNITS
CROSS = KIND + MOST_UNITS  #: area of the widest window across each axis
UNITS, GAP, SUPPORT, FLOOR = CROSS + 3, CROSS + 4, CROSS + 5, CROSS + 6

# Counters: facts known, reasons written, choices made, where the reasons of the contradiction begin, no room for
# more, the first fact not yet followed up, sets and parts learned, facts being traced back of lower depth, branches
# left in doubt,
# whether a way or a level has changed since the floor was looked at, runs begun, contradictions left in this one.
FACTS = FLOOR + 1
REASONS, DEPTH, CAUSE, FULL, FOLLOWED, SETS, PARTS, EARLIER_COUNT, DOUBTS, FLOOR_CHANGED = (
    FACTS + n for n in range(1, 11)
)
RUN, RUN_LEFT = FLOOR_CHANGED + 1, FLOOR_CHANGED + 2
#: Units that have changed since it was looked at what follows, as bits.
MOVED = RUN_LEFT + 1

# Of each key its last fact (-1: none), its weight (how much it had to do with contradictions), its first watch, and
# which possibility it had when a contradiction was met last.
LATEST = MOVED + 1
BLAME = LATEST + KEYS  #: the one after the last key: what is added next
FIRST_WATCH = BLAME + KEYS + 1
HABIT = FIRST_WATCH + KEYS
BEGIN = HABIT + KEYS  #: of each depth, the fact that was its choice
FACT = BEGIN + MOST_DEPTH  #: 8 * fact + column (``facts``)
WHY = FACT + 8 * MOST_FACTS  #: 2 * reason: a fact, and how much of it was needed
MARK = WHY + 2 * MOST_REASONS  #: of each fact, whether it is being traced back
WANTED = MARK + MOST_FACTS  #: and how much of it
EARLIER = WANTED + MOST_FACTS
PART = EARLIER + MOST_FACTS  #: 3 * part: key, what it says, whether it fixes that
SET_BEGIN = PART + 3 * MOST_PARTS  #: of each set its first part; the next begins where it ends
#: Two watches a set, 4 * watch: the part it looks at, what that says and fixes, and the next watch of its key (-1).
WATCH = SET_BEGIN + MOST_SETS + 1
STACK, STACK_ROOM = WATCH + 8 * MOST_SETS, 24  #: facts on the way back, with how far their reasons were looked at
#: Of each unit off the floor what may hold it, as bits; what the one looked at may have of each top.
HOLDERS = STACK + 2 * STACK_ROOM
TOP_AREA = HOLDERS + MOST_UNITS
LENGTH = HOLDERS + 2 * MOST_UNITS

_FIRST_BLAME = 1 << 12
_NOTHING = -1


@written_in
def under(k: int, j: int) -> tuple[int, int]:
    """Return the key and the bit of "k is under j"."""
    return (PAIR + MOST_UNITS * k + j, 4) if k < j else (PAIR + MOST_UNITS * j + k, 32)


@compiled
def write(desk: Row, begin: int, end: int, value: int) -> None:
    """Write the same number from one address up to another."""
    for at in range(begin, end):
        desk[at] = value


@compiled
def lay_out(p: Problem, desk: Row) -> None:
    """Write what is known before anything is chosen: windows, all ways, all relations. At most MOST_UNITS units."""
    n = len(p.kind)
    write(desk, ZERO, FACT, ZERO)
    write(desk, MARK, WANTED, ZERO)
    write(desk, LATEST, LATEST + KEYS, _NOTHING)
    write(desk, FIRST_WATCH, FIRST_WATCH + KEYS, _NOTHING)
    desk[SET_BEGIN] = 0
    desk[BLAME + KEYS] = _FIRST_BLAME
    desk[UNITS], desk[GAP], desk[SUPPORT], desk[FLOOR] = n, p.gap, p.support, p.floor
    for axis in range(3):
        desk[CROSS + axis] = p.window[(axis + 1) % 3] * p.window[(axis + 2) % 3]
    for i in range(n):
        desk[LIMIT_MG + i], desk[WEIGHT_MG + i], desk[KIND + i] = p.limit[i], p.weight[i], p.kind[i]
        desk[WAYS + i] = (1 << p.ways[i]) - 1
        desk[LEVEL + i] = ON_FLOOR | OFF_FLOOR
        for way in range(p.ways[i]):
            desk[BASES + 6 * i + way] = p.sizes[i, way, 0] * p.sizes[i, way, 1]
            for axis in range(3):
                desk[SIZE + 18 * i + 3 * way + axis] = p.sizes[i, way, axis] + p.gap
        measure(desk, i)
        for axis in range(3):
            desk[6 * i + axis] = p.bottom[i] if axis == 2 else p.side[i]
            desk[END + 3 * i + axis] = p.inner[axis] - (p.top[i] if axis == 2 else p.side[i]) + p.gap
            desk[6 * i + HIGH + axis] = desk[END + 3 * i + axis] - desk[LEAST + 3 * i + axis]
        for j in range(n):
            desk[PAIR + MOST_UNITS * i + j] = 63 if i < j else 0
            desk[REST + MOST_UNITS * i + j] = TOUCHES | CLEAR


@compiled
def measure(desk: Row, i: int) -> None:
    """Draw a unit's extents, areas and bases from the ways it may still stand."""
    mask, base, wide = desk[WAYS + i], 1 << 60, 0
    for way in range(6):
        if mask >> way & 1:
            base, wide = min(base, desk[BASES + 6 * i + way]), max(wide, desk[BASES + 6 * i + way])
    desk[BASE + i], desk[WIDE_BASE + i] = base, wide
    for axis in range(3):
        smallest, largest, area = 1 << 60, 0, 1 << 60
        for way in range(6):
            if mask >> way & 1:
                at = SIZE + 18 * i + 3 * way
                smallest, largest = min(smallest, desk[at + axis]), max(largest, desk[at + axis])
                area = min(area, desk[at + (axis + 1) % 3] * desk[at + (axis + 2) % 3])
        desk[LEAST + 3 * i + axis], desk[MOST + 3 * i + axis], desk[AREA + 3 * i + axis] = smallest, largest, area
