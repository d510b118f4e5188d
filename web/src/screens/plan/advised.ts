/** Decisions for one order: what they come to in words, and taking the last ones back. No React. */
import type { Schemas } from "../../api/client";
import { dayWords } from "../../domain/words";

export type Decisions = Schemas["OverridesOut"];

/** The decisions without what advice can set: the way, the service, the day, swaps. */
export const cleared = (now: Decisions): Decisions => ({
  ...now,
  container: null,
  service: null,
  ship_on: null,
  without: [],
  instead: [],
});

/** What a person decided of service, day and amounts, in words; empty: nothing. */
export function decidedWords(
  now: Decisions,
  names: ReadonlyMap<string, string>,
  services: ReadonlyMap<string, string>,
): string {
  const name = (code: string) => names.get(code) ?? code;
  return [
    ...(now.service ? [`To go with ${services.get(now.service) ?? now.service}.`] : []),
    ...(now.ship_on ? [`To leave on ${dayWords(now.ship_on)}.`] : []),
    ...now.without.map((code) => `Without ${name(code)}.`),
    ...now.instead.map(([code = "", other = ""]) => `${name(other)} instead of ${name(code)}.`),
  ].join(" ");
}

const keyOf = (order: number) => `before-${order}`;

/** What was decided before the last advice was taken stays on this device until it is taken back. */
export const before = {
  get: (order: number): Decisions | null => {
    const text = window.sessionStorage.getItem(keyOf(order));
    return text ? (JSON.parse(text) as Decisions) : null;
  },
  put: (order: number, decisions: Decisions) =>
    window.sessionStorage.setItem(keyOf(order), JSON.stringify(decisions)),
  clear: (order: number) => window.sessionStorage.removeItem(keyOf(order)),
};
