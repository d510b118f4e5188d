/** Decisions for one order: what they come to in words, and taking the last ones back. No React. */
import type { Schemas } from "../../api/client";
import { dayWords } from "../../domain/words";

export type Decisions = Schemas["OverridesOut"];

/** The decisions without what advice can set: the way, the service, the day, swaps. */
export const cleared = (now: Decisions): Decisions => ({
  ...now,
  container: null,
  service: null,
  not_before: null,
  omitted: [],
  substitutes: [],
  care: null,
});

/** What a person decided of service, day and amounts, in words; empty: nothing. */
export function decidedWords(
  now: Decisions,
  names: ReadonlyMap<string, string>,
  services: ReadonlyMap<string, string>,
): string {
  const name = (code: string) => names.get(code) ?? code;
  return [
    ...(now.service ? [`Service: ${services.get(now.service) ?? now.service}.`] : []),
    ...(now.not_before ? [`Not before ${dayWords(now.not_before)}.`] : []),
    ...(now.arrive_by ? [`Must arrive by ${dayWords(now.arrive_by)}.`] : []),
    ...careWords(now.care ?? null, name),
    ...now.omitted.map((code) => `Without ${name(code)}.`),
    ...now.substitutes.map(([code = "", other = ""]) => `${name(other)} instead of ${name(code)}.`),
  ].join(" ");
}

function careWords(care: Decisions["care"] | null, name: (code: string) => string): string[] {
  if (!care) return [];
  const packs = care.pack && care.count ? `${care.count} ${name(care.pack)}` : "";
  const put = [care.liner ? name(care.liner) : "", packs].filter(Boolean).join(" and ");
  return [
    ...(put ? [`With ${put}.`] : []),
    ...(care.agreed_on ? [`The buyer agreed on ${dayWords(care.agreed_on)}.`] : []),
  ];
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
