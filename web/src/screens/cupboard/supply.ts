/** What the cupboard's parts say of one supply. No React. */
import type { Schemas } from "../../api/client";

export type Supply = Schemas["SupplyOut"];

export const isShort = (supply: Supply): boolean =>
  supply.reorder_at !== null && Number(supply.on_hand) < Number(supply.reorder_at);

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
