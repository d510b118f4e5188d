/** What the cupboard's parts say of one supply. No React. */
import type { Schemas } from "../../api/client";

export type Supply = Schemas["SupplyOut"];

export const isShort = (supply: Supply): boolean =>
  supply.reorder_at !== null && Number(supply.on_hand) < Number(supply.reorder_at);

/** How long supplies last, by id. */
export type Covers = ReadonlyMap<number, Schemas["CoverOut"]>;

/** Whether a supply needs attention: to order, late, below its mark, more promised than there is. */
export const needsAttention = (supply: Supply, cover: Covers): boolean => {
  const mine = cover.get(supply.id);
  return (
    isShort(supply) ||
    Number(supply.free) < 0 ||
    mine?.listed === "due" ||
    mine?.listed === "mark" ||
    mine?.late_arrival === true
  );
};

/** Whether it is what is searched for; ``only``: "look", "asleep" or a kind. */
export function isFound(supply: Supply, find: string, only: string, cover: Covers): boolean {
  const text = `${supply.name} ${supply.code} ${supply.shelf}${supply.slot}`.toLowerCase();
  if (find.trim() !== "" && !text.includes(find.trim().toLowerCase())) return false;
  if (only === "look") return needsAttention(supply, cover);
  if (only === "asleep") return cover.get(supply.id)?.asleep === true;
  return only === "" || supply.kind === only;
}

/** "12 days", or nothing where it lasts longer than anything is bought for. */
export const coverWords = (cover: Schemas["CoverOut"] | undefined): string =>
  !cover || cover.cover_days === null
    ? ""
    : `${cover.cover_days} ${cover.cover_days === 1 ? "day" : "days"}`;

/** Where it lies: "B3". */
export const placeOf = (supply: Supply): string => `${supply.shelf}${supply.slot}`;

const ESTIMATE_WORDS: Record<string, string> = {
  tare_mg: "its weight",
  max_load_mg: "what it takes",
  unit_cost: "what it costs",
  mg_per_m2: "the weight of a square metre",
  packed_mg_per_l: "the weight of a packed litre",
  mg_per_m: "the weight of a metre",
  weight_mg: "its weight",
};

export const estimateWords = (fact: string): string => ESTIMATE_WORDS[fact] ?? fact;
