/** Scales of the drawings: round tops, few ticks, labels that do not lie on each other. No React. */

/** The next round number at or above: 13.2 -> 15. */
export function niceTop(value: number): number {
  const power = 10 ** Math.floor(Math.log10(value || 1));
  const lead = value / power;
  return power * ([1, 1.5, 2, 3, 4, 5, 6, 8, 10].find((one) => lead <= one) ?? 10);
}

/** Four to eight round ticks from nought to the top. */
export function ticksTo(top: number): number[] {
  const rough = top / 5;
  const power = 10 ** Math.floor(Math.log10(rough || 1));
  const step = power * ([1, 2, 2.5, 5, 10].find((one) => rough / power <= one) ?? 10);
  const count = Math.floor(top / step + 1e-9);
  return Array.from({ length: count + 1 }, (_, n) => Number((n * step).toPrecision(12)));
}

/** Heights moved apart until no two are nearer than the gap, in their order, within the bounds. */
export function apart(
  heights: readonly number[],
  gap: number,
  top: number,
  bottom: number,
): number[] {
  const order = heights
    .map((height, index) => ({ height, index }))
    .sort((a, b) => a.height - b.height || a.index - b.index);
  const placed = [...heights];
  let last = top - gap;
  for (const one of order) {
    last = Math.max(one.height, last + gap);
    placed[one.index] = last;
  }
  let limit = bottom;
  for (const one of order.reverse()) {
    const here = Math.min(placed[one.index] ?? 0, limit);
    placed[one.index] = here;
    limit = here - gap;
  }
  return placed;
}
