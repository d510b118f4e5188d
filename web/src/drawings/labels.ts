/** Labels beside a drawing that never collide. No React. */

export interface Spot {
  index: number;
  y: number;
  anchor: number;
}

/** Return each label's place: as near to its anchor as the others let it be, in the same order. */
export function spread(
  wanted: { index: number; y: number }[],
  apart: number,
  least: number,
  most: number,
): Spot[] {
  const sorted = [...wanted]
    .sort((a, b) => b.y - a.y || a.index - b.index)
    .map((one) => ({ index: one.index, anchor: one.y, y: one.y }));
  const step = Math.min(apart, (most - least) / Math.max(1, sorted.length - 1));
  let below = most + step;
  for (const one of sorted) {
    one.y = Math.min(one.y, below - step);
    below = one.y;
  }
  let above = least - step;
  for (const one of [...sorted].reverse()) {
    one.y = Math.max(one.y, above + step);
    above = one.y;
  }
  return sorted;
}
