/** Where a practice stands and how long its steps took, kept on this device until it ends. No React. */
import { withPassed, type Spent } from "../bench/spent";

export interface Kept {
  at: number;
  spent: Spent;
}

const PLACE = "practice-";
const FRESH: Kept = { at: 0, spent: {} };

export function savedPractice(id: number, steps: number): Kept {
  try {
    const kept = JSON.parse(
      window.localStorage.getItem(PLACE + id) ?? "null",
    ) as Partial<Kept> | null;
    const { at, spent } = kept ?? FRESH;
    if (!Number.isInteger(at) || typeof spent !== "object" || spent === null) return FRESH;
    const whole = Object.entries(spent).filter(([step, s]) => /^\d+$/.test(step) && s >= 0);
    return {
      at: Math.min(Math.max(0, Number(at)), steps - 1),
      spent: Object.fromEntries(whole),
    };
  } catch {
    return FRESH; // cut off, or of another shape: it begins afresh
  }
}

/** Go to another step: what passed since ``since`` (ms) was spent on this one. */
export const gone = (kept: Kept, to: number, since: number, now: number): Kept => ({
  at: to,
  spent: withPassed(kept.spent, kept.at, since, now),
});

export const keepPractice = (id: number, kept: Kept): void =>
  window.localStorage.setItem(PLACE + id, JSON.stringify(kept));

export const forgetPractice = (id: number): void => window.localStorage.removeItem(PLACE + id);
