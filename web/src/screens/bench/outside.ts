/** How long frozen goods are out of the freezer. No React. */

/** Whole minutes since then, and whether that is more than they stand. */
export function minutesOut(
  since: number,
  now: number,
  limit: number,
): { minutes: number; over: boolean } {
  const minutes = Math.max(0, Math.floor((now - since) / 60_000));
  return { minutes, over: minutes >= limit };
}
