/**
 * Writes, beside the queries: each sends one thing and names once what it makes stale. Screens add only what they say
 * and where they go next; the query client (app/queryClient) asks again for what is on screen and stale.
 */
import { mutationOptions, type QueryClient, type QueryKey } from "@tanstack/react-query";

/** What a write says of the queries, kept with the mutation. */
export interface Effect<Got, Sent> {
  /** Queries whose key begins so have changed. */
  stale: readonly QueryKey[] | ((got: Got, sent: Sent) => readonly QueryKey[]);
  /** What the answer already holds, put in its place before anything is asked again. */
  keep?: (client: QueryClient, got: Got, sent: Sent) => void;
}

declare module "@tanstack/react-query" {
  interface Register {
    // The cache hands on what it got and was sent untyped; ``write`` is the only place that makes effects.
    mutationMeta: { effect?: Effect<never, never> };
  }
}

export function write<Got, Sent = void>(
  send: (sent: Sent) => Promise<Got>,
  effect: Effect<NoInfer<Got>, NoInfer<Sent>>,
) {
  return mutationOptions<Got, Error, Sent>({
    mutationFn: send,
    meta: { effect: effect as unknown as Effect<never, never> },
  });
}

/** Where an order stands. */
export const STANDING: readonly QueryKey[] = [
  ["orders"],
  ["rail"],
  ["find"],
  ["first-parcel"],
  ["day"],
  ["send-off"],
];

/** What every plan says and reserves. Open orders are planned again in the background, so its count is asked for. */
export const PLANS: readonly QueryKey[] = [...STANDING, ["plan"], ["care"], ["supplies"], ["wave"]];

/** What is told of recipes as a whole: what is missing, which policies they break, what advice recurs. */
export const RECIPES: readonly QueryKey[] = [
  ["recipes"],
  ["readiness"],
  ["policies"],
  ["unit-costs"],
];

/** What stands on the shelf. */
export const STOCK: readonly QueryKey[] = [["supplies"], ["entries"], ["cover"], ["readiness"]];

/** The parcels at the bench and what stands ready. */
export const BENCH: readonly QueryKey[] = [["parcels"], ["ready-parcels"], ["day"], ["send-off"]];

/** What leaves today, and what has left. */
export const DAY: readonly QueryKey[] = [["day"], ["send-off"], ["rail"]];

export const PRODUCTS: readonly QueryKey[] = [
  ["products"],
  ["product"],
  ["recipe"],
  ...RECIPES,
  ...PLANS,
];

export const PRICES: readonly QueryKey[] = [
  ["tariffs", "list"],
  ["compare-rates"],
  ["unit-costs"],
  ["readiness"],
  ...PLANS,
];

/** What is on the shelves is others: every plan may come out differently. */
export const SHELVES: readonly QueryKey[] = [
  ...STOCK,
  ...PLANS,
  ...RECIPES,
  ["starter"],
  ["first-parcel"],
];
