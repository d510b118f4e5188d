/** What the cupboard's parts say of one supply. No React. */
import type { Schemas } from "../../api/client";

export type Supply = Schemas["SupplyOut"];

export const isShort = (supply: Supply): boolean =>
  supply.reorder_at !== null && Number(supply.on_hand) < Number(supply.reorder_at);

/** Where it lies: "B3". */
export const placeOf = (supply: Supply): string => `${supply.shelf}${supply.slot}`;
