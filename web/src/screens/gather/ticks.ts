/** What of a wave is on the table already: kept on this device, so that a reload loses nothing. No React. */

const PLACE = "gather:";

export function savedTicks(wave: string): ReadonlySet<string> {
  try {
    const kept: unknown = JSON.parse(window.localStorage.getItem(PLACE + wave) ?? "[]");
    return new Set(Array.isArray(kept) ? kept.filter((one) => typeof one === "string") : []);
  } catch {
    return new Set(); // another program wrote there: begin afresh
  }
}

export function saveTicks(wave: string, ticks: ReadonlySet<string>): void {
  window.localStorage.setItem(PLACE + wave, JSON.stringify([...ticks]));
}

export function forgetTicks(wave: string): void {
  window.localStorage.removeItem(PLACE + wave);
}

/** The thing a scanned code is: its sku or code, or the place it stands at when only one thing stands there. */
export function scanned<Thing extends { code: string; place: string }>(
  code: string,
  things: readonly Thing[],
): Thing | null {
  const wanted = code.trim().toLowerCase();
  const named = things.find((one) => one.code.toLowerCase() === wanted);
  if (named) return named;
  const there = things.filter((one) => one.place.toLowerCase() === wanted);
  return there.length === 1 ? (there[0] ?? null) : null;
}
