"""What the search has learned: sets of facts that cannot all be true (packing kernel; used by ``relations``).

Each contradiction is traced back to few facts that bring it about (``learn``: the first set met with only one fact
of the last choice, Marques-Silva & Sakallah 1999; over starts as in lazy clause generation, Ohrimenko, Stuckey &
Codish 2009).
Such a set is kept; whenever all of it but one part is true again, that part is false (``recall``). So that not
every set is looked at for every fact, each watches two of its parts that are not true (Moskewicz et al. 2001).
"""

from core.packing.kernel.compiled import ZERO, compiled
from core.packing.kernel.desk import (
    BEGIN,
    BLAME,
    CAUSE,
    EARLIER,
    EARLIER_COUNT,
    FACT,
    FACTS,
    FIRST_WATCH,
    FOLLOWED,
    FULL,
    HIGH,
    KEYS,
    MARK,
    MOST_PARTS,
    MOST_SETS,
    PART,
    PARTS,
    REASONS,
    SET_BEGIN,
    SETS,
    STACK,
    STACK_ROOM,
    WANTED,
    WATCH,
    WAYS,
    WHY,
    write,
)
from core.packing.kernel.facts import (
    FIXED,
    FROM,
    KEY,
    KNOWN_AT,
    NEW,
    OLD,
    TO,
    because_absent,
    because_high,
    because_low,
    because_settled,
    fix,
    lower_start,
    raise_start,
    reason,
    refuse,
    strike,
    take_back,
)
from core.packing.kernel.problem import Row

__all__ = ["AT_ONCE", "KEPT", "NO_WAY_OUT", "is_false", "is_true", "learn", "recall", "watch_part"]

#: Marks of a fact: it is traced back to; it follows from those; it does not.
_NOTED, _FOLLOWS, _STANDS = 1, 2, 3
#: What learning came to: a set was kept; what it denied is a contradiction at once; nothing at all is possible.
KEPT, AT_ONCE, NO_WAY_OUT = 1, 2, 0
#: What is added to the weight of what had to do with a contradiction grows by a sixteenth each time.
_GROWTH, _TOO_LARGE, _SCALED = 4, 1 << 50, 38


@compiled
def is_true(desk: Row, at: int) -> bool:
    """Return whether the part at an address is true."""
    return _says_true(desk, desk[at], desk[at + 1], desk[at + 2])


@compiled
def _says_true(desk: Row, key: int, says: int, fixes: int) -> bool:
    """Return whether a part is true that says this."""
    value = desk[key]
    if key < WAYS:
        return bool(value >= says if key % 6 < HIGH else value <= says)
    return bool(value == says if fixes else value & says == 0)


@compiled
def is_false(desk: Row, at: int) -> bool:
    """Return whether the part at an address can no longer become true."""
    key, says = desk[at], desk[at + 1]
    if key < WAYS:
        return bool(desk[key + HIGH] < says if key % 6 < HIGH else desk[key - HIGH] > says)
    return bool(desk[key] & says == 0 if desk[at + 2] else desk[key] == says)


@compiled
def _because_true(desk: Row, at: int) -> None:
    """Give as reason that the part at an address is true."""
    key, says = desk[at], desk[at + 1]
    if key >= WAYS:
        if desk[at + 2]:
            because_settled(desk, key)
        else:
            because_absent(desk, key, says)
    elif key % 6 < HIGH:
        because_low(desk, key // 6, key % 6, says)
    else:
        because_high(desk, key // 6, key % 6 - HIGH, says)


@compiled
def _deny(desk: Row, at: int, begin: int) -> bool:
    """Make a part false that is neither yet, for the reasons since ``begin``; False on a contradiction."""
    key, says = desk[at], desk[at + 1]
    if key >= WAYS:
        return strike(desk, key, says, begin) if desk[at + 2] else fix(desk, key, says, begin)
    if key % 6 < HIGH:
        return lower_start(desk, key // 6, key % 6, says - 1, begin)
    return raise_start(desk, key // 6, key % 6 - HIGH, says + 1, begin)


@compiled
def watch_part(desk: Row, watch: int, part: int) -> None:
    """Let a watch look at a part: 3 * part from PART on."""
    at, key = WATCH + 4 * watch, desk[PART + 3 * part]
    desk[at], desk[at + 1], desk[at + 2] = part, desk[PART + 3 * part + 1], desk[PART + 3 * part + 2]
    desk[at + 3] = desk[FIRST_WATCH + key]
    desk[FIRST_WATCH + key] = watch


@compiled
def recall(desk: Row, key: int) -> bool:
    """Draw the conclusions from the sets that watch a value which has changed; False on a contradiction."""
    watch, before = desk[FIRST_WATCH + key], -1
    while watch >= 0:
        at = WATCH + 4 * watch
        following, other = desk[at + 3], desk[WATCH + 4 * (watch ^ 1)]
        if _says_true(desk, key, desk[at + 1], desk[at + 2]) and not is_false(desk, PART + 3 * other):
            instead = _not_true(desk, watch // 2, desk[at], other)
            if instead >= 0:
                if before >= 0:
                    desk[WATCH + 4 * before + 3] = following
                else:
                    desk[FIRST_WATCH + key] = following
                watch_part(desk, watch, instead)
                watch = following
                continue
            if not _conclude(desk, watch // 2, other):
                return False
        watch, before = following, watch
    return True


@compiled
def _not_true(desk: Row, which: int, here: int, other: int) -> int:
    """Return a part of a set that is not true, besides the two; -1 when there is none."""
    for part in range(desk[SET_BEGIN + which], desk[SET_BEGIN + which + 1]):
        if part != here and part != other and not is_true(desk, PART + 3 * part):
            return part
    return -1


@compiled
def _conclude(desk: Row, which: int, last: int) -> bool:
    """Deny the last part of a set of which all others are true; False on a contradiction."""
    begin = desk[REASONS]
    for part in range(desk[SET_BEGIN + which], desk[SET_BEGIN + which + 1]):
        if part != last:
            _because_true(desk, PART + 3 * part)
    if is_true(desk, PART + 3 * last):
        _because_true(desk, PART + 3 * last)
        return refuse(desk, begin)
    return _deny(desk, PART + 3 * last, begin)


@compiled
def _needs_nothing(desk: Row, fact: int) -> bool:
    """Return whether a fact is true without any choice, but was found late."""
    row = FACT + 8 * fact
    return bool(desk[row + FROM] == desk[row + TO] and desk[BEGIN + desk[row + KNOWN_AT]] != fact)


@compiled
def _enough(desk: Row, fact: int, needed: int) -> bool:
    """Return whether as much of a fact is traced back as is needed."""
    key = desk[FACT + 8 * fact + KEY]
    if key >= WAYS:
        return True
    return bool(desk[WANTED + fact] >= needed if key % 6 < HIGH else desk[WANTED + fact] <= needed)


@compiled
def _note(desk: Row, fact: int, needed: int, depth: int) -> int:
    """Add a fact to what is traced back, with how much of it is needed; return 1 when it is a new one of this depth."""
    if _needs_nothing(desk, fact):
        return 0
    if desk[MARK + fact]:
        if not _enough(desk, fact, needed):
            desk[WANTED + fact] = needed
        return 0
    desk[MARK + fact], desk[WANTED + fact] = _NOTED, needed
    key = desk[FACT + 8 * fact + KEY]
    if key >= WAYS:
        desk[BLAME + key] += desk[BLAME + KEYS]
    if desk[FACT + 8 * fact + KNOWN_AT] == depth:
        return 1
    desk[EARLIER + desk[EARLIER_COUNT]] = fact
    desk[EARLIER_COUNT] += 1
    return 0


@compiled
def _follows_from_rest(desk: Row, fact: int) -> bool:
    """Return whether a fact follows from the others that are traced back to, over facts between: then it adds nothing.

    What is found on the way is marked: _FOLLOWS or _STANDS. Facts follow from earlier ones only, so it comes to an end.
    """
    here, height = fact, 0
    at = WHY + 2 * desk[FACT + 8 * here + FROM]
    if at == WHY + 2 * desk[FACT + 8 * here + TO]:
        return False
    while True:
        if at == WHY + 2 * desk[FACT + 8 * here + TO]:
            if height == 0:
                return True
            if desk[MARK + here] == 0:
                desk[MARK + here] = _FOLLOWS
            height -= 1
            here, at = desk[STACK + 2 * height], desk[STACK + 2 * height + 1] + 2
            continue
        cause, needed = desk[at], desk[at + 1]
        mark = desk[MARK + cause]
        if mark == _FOLLOWS or _needs_nothing(desk, cause) or (mark == _NOTED and _enough(desk, cause, needed)):
            at += 2
            continue
        begin = desk[FACT + 8 * cause + FROM]
        if mark == _STANDS or height == STACK_ROOM or begin == desk[FACT + 8 * cause + TO]:
            if desk[MARK + here] == 0:
                desk[MARK + here] = _STANDS
            while height > 0:
                height -= 1
                here = desk[STACK + 2 * height]
                if desk[MARK + here] == 0:
                    desk[MARK + here] = _STANDS
            return False
        desk[STACK + 2 * height], desk[STACK + 2 * height + 1] = here, at
        height += 1
        here, at = cause, WHY + 2 * begin


@compiled
def learn(desk: Row) -> int:
    """Trace the contradiction back, take back what it came from, keep the set and deny its last part.

    Return KEPT, AT_ONCE (then learn again) or NO_WAY_OUT. With no room for another set FULL is set.
    """
    cause, end = WHY + 2 * desk[CAUSE], WHY + 2 * desk[REASONS]
    depth = 0
    for at in range(cause, end, 2):
        if not _needs_nothing(desk, desk[at]):
            depth = max(depth, desk[FACT + 8 * desk[at] + KNOWN_AT])
    if depth == 0:
        return NO_WAY_OUT
    desk[EARLIER_COUNT] = 0
    here = 0
    for at in range(cause, end, 2):
        here += _note(desk, desk[at], desk[at + 1], depth)
    fact = desk[FACTS] - 1
    while True:
        while desk[MARK + fact] == 0 or desk[FACT + 8 * fact + KNOWN_AT] != depth:
            fact -= 1
        if here == 1:
            break
        here -= 1
        desk[MARK + fact] = 0
        row = FACT + 8 * fact
        for at in range(WHY + 2 * desk[row + FROM], WHY + 2 * desk[row + TO], 2):
            here += _note(desk, desk[at], desk[at + 1], depth)
    _blame_more(desk)
    return _keep(desk, fact)


@compiled
def _blame_more(desk: Row) -> None:
    """Let the next contradiction count more than the last."""
    desk[BLAME + KEYS] += desk[BLAME + KEYS] >> _GROWTH
    if desk[BLAME + KEYS] > _TOO_LARGE:
        for key in range(WAYS, KEYS + 1):
            desk[BLAME + key] >>= _SCALED


@compiled
def _say(desk: Row, fact: int, part: int) -> None:
    """Write a fact, so far as it is needed, as a part of a set."""
    row, at = FACT + 8 * fact, PART + 3 * part
    key = desk[row + KEY]
    desk[at], desk[at + 2] = key, 0
    if key < WAYS:
        desk[at + 1] = desk[WANTED + fact]
    elif desk[row + FIXED]:
        desk[at + 1], desk[at + 2] = desk[row + NEW], 1
    else:
        desk[at + 1] = desk[row + OLD] & ~desk[row + NEW]


@compiled
def _keep(desk: Row, last: int) -> int:
    """Keep the set of the last fact and the lower ones, take back to where all but the last is true, and deny it."""
    which, first = desk[SETS], desk[PARTS]
    if which + 1 >= MOST_SETS or first + desk[EARLIER_COUNT] + 1 >= MOST_PARTS:
        desk[FULL] = 1
        return KEPT
    kept, back, highest = 0, 0, first
    for place in range(desk[EARLIER_COUNT]):
        fact = desk[EARLIER + place]
        if not _follows_from_rest(desk, fact):
            desk[EARLIER + kept] = fact
            kept += 1
    _say(desk, last, first)
    part = first
    # Possibilities first: they change seldom, and so are better watched.
    for starts in range(2):
        for place in range(kept):
            fact = desk[EARLIER + place]
            if (desk[FACT + 8 * fact + KEY] < WAYS) == (starts == 1):
                part += 1
                _say(desk, fact, part)
                if desk[FACT + 8 * fact + KNOWN_AT] > back:
                    back, highest = desk[FACT + 8 * fact + KNOWN_AT], part
    write(desk, MARK, MARK + desk[FACTS], ZERO)
    take_back(desk, back)
    desk[FOLLOWED] = desk[FACTS]
    if kept:
        desk[SETS], desk[PARTS] = which + 1, first + 1 + kept
        desk[SET_BEGIN + which + 1] = first + 1 + kept
        watch_part(desk, 2 * which, first)
        watch_part(desk, 2 * which + 1, highest)
    begin = desk[REASONS]
    for place in range(kept):
        reason(desk, desk[EARLIER + place], desk[WANTED + desk[EARLIER + place]])
    if is_false(desk, PART + 3 * first):
        return KEPT
    return KEPT if _deny(desk, PART + 3 * first, begin) else AT_ONCE
