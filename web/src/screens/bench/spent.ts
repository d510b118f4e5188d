/**
 * How long hands take for each step: counted unseen while a parcel is packed, kept on this device until it is closed,
 * sent with the progress. No React.
 */

export type Spent = Record<string, number>;

const PLACE = "bench-spent-";

export function savedSpent(parcel: number): Spent {
  try {
    const kept: unknown = JSON.parse(window.localStorage.getItem(PLACE + parcel) ?? "{}");
    if (typeof kept !== "object" || kept === null) return {};
    return Object.fromEntries(
      Object.entries(kept).filter(
        ([step, seconds]) => /^\d+$/.test(step) && typeof seconds === "number" && seconds >= 0,
      ),
    ) as Spent;
  } catch {
    return {}; // cut off, or of another shape: times begin afresh
  }
}

/** Add what passed on a step since ``since`` (ms), at most a day: a tablet that slept tells nothing. */
export function withPassed(spent: Spent, step: number, since: number, now: number): Spent {
  const passed = Math.round((now - since) / 1000);
  if (passed <= 0 || passed > 86_400) return spent;
  return { ...spent, [step]: Math.min(86_400, (spent[String(step)] ?? 0) + passed) };
}

export const keepSpent = (parcel: number, spent: Spent): void =>
  window.localStorage.setItem(PLACE + parcel, JSON.stringify(spent));

export const forgetSpent = (parcel: number): void => window.localStorage.removeItem(PLACE + parcel);
