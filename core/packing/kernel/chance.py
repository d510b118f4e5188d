"""Numbers that look like chance and are the same on every machine (packing kernel)."""

from core.packing.kernel.compiled import compiled

__all__ = ["FIRST_SEED", "shuffled"]

FIRST_SEED = 88172645463325252


@compiled
def shuffled(seed: int) -> int:
    """Return the next number of a small generator (xorshift, 62 bits; Marsaglia 2003)."""
    mask = (1 << 62) - 1
    seed ^= (seed << 13) & mask
    seed ^= seed >> 7
    seed ^= (seed << 17) & mask
    return seed & mask
