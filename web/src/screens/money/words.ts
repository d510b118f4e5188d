/** Words of money: lines, their sources, sizes, periods. No React. */
import type { Schemas } from "../../api/client";
import { many } from "../../domain/words";

type Kind = Schemas["RecordLine"]["kind"];

/** Periods a question can be put to, in weeks up to today. */
export const PERIODS_WEEKS = [4, 10, 26, 52] as const;
export const USUAL_WEEKS = 10;

export const LINE_WORDS: Record<Kind, string> = {
  goods: "Goods",
  postage_charged: "Postage the buyer paid",
  tax: "Tax",
  channel_fee: "Channel's fee",
  payment_fee: "Payment's fee",
  goods_cost: "Goods at cost",
  postage: "Postage",
  carrier_charge: "Charged later",
  materials: "Materials at average cost",
  labour: "Minutes of hands",
  refund: "Refund",
  replacement: "Replacement",
  claim: "Claim paid",
  expected_loss: "Expected loss",
};

export const SOURCE_WORDS: Record<string, string> = {
  order: "the order",
  settings: "fees in Money",
  products: "the product",
  bench: "times at the bench",
  recipe: "the plan, until it arrived",
  label: "the label",
  ledger: "the ledger",
  arrival: "the answer to the buyer",
  claim: "the claim",
  closed_month: "puts right a closed month",
};

/** "1", "2 to 3", "5 and more" */
export const sizeOf = (from: number, to: number | null): string =>
  to === null ? `${from} and more` : from === to ? `${from}` : `${from} to ${to}`;

/** As ``sizeOf``; a single size with its noun, as a heading says it. */
export const sizeWords = (from: number, to: number | null): string =>
  from === to ? many(from, "piece") : sizeOf(from, to);

export const CHANGED_WORDS: Record<string, string> = {
  materials: "materials",
  labour: "minutes",
  postage: "postage",
  expected_loss: "expected loss",
  charged: "charged",
};
