/** Amounts to begin with, as one buys them. No React. */
import type { Schemas } from "../../api/client";
import type { StockUnit } from "../../domain/units";

export type StarterItem = Schemas["SupplyItem"];

/** In the stock unit of each kind: pieces, m², litres, m. */
export const FIRST_AMOUNT: Record<string, number> = {
  carton: 25,
  mailer: 25,
  unit_box: 25,
  wrap: 50,
  fill: 500,
  tape: 50,
  insert: 100,
};

const UNITS: Record<string, StockUnit> = { wrap: "m2", fill: "l", tape: "m" };

export const STOCK_UNIT = (item: StarterItem): StockUnit => UNITS[item.facts.kind] ?? "pieces";
