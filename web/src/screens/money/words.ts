/** Words of money: lines, changes, where it tips. No React. */
import type { Schemas } from "../../api/client";
import { fixed } from "../../domain/figures";
import { SHORT_WEEKDAYS } from "../../domain/words";

type Kind = Schemas["MoneyLine"]["kind"];

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

export const sizeWords = (from: number, to: number | null): string =>
  to === from
    ? `${from} ${from === 1 ? "piece" : "pieces"}`
    : to === null
      ? `${from} and more`
      : `${from} to ${to}`;

type Said = Schemas["ChangeSaid"];

/** A change in words, to stand after "If". */
export function changeWords(said: Said, money: (amount: string | number) => string): string {
  const amount = said.number === null ? "" : money(said.number);
  switch (said.kind) {
    case "wage":
      return `the wage is ${amount} an hour`;
    case "without":
      return `${said.name} is gone`;
    case "new_carton":
      return `a carton of ${said.name} mm is there`;
    case "price_list":
      return `${said.name}'s list ${said.to} holds`;
    case "version":
      return `${said.name} is packed by version ${Number(said.number)}`;
    case "instead":
      return `${said.to} takes the place of ${said.name}`;
    case "damage":
      return `${fixed(Number(said.number), 0, 2)} % of ${said.name} break`;
    case "minutes":
      return `${said.name} takes ${fixed(Number(said.number), 0, 1)} % of its minutes`;
    case "supply_price":
      return `${said.name} costs ${amount}`;
    case "send_days":
      return `parcels leave on ${said.to
        .split(",")
        .map((day) => SHORT_WEEKDAYS[Number(day)] ?? day)
        .join(", ")}`;
    case "services":
      return said.to ? `only ${said.to} is used` : "all services are used";
    default:
      return said.name ? `buyers pay by ${said.name}` : `every buyer pays ${amount}`;
  }
}

type Tip = NonNullable<NonNullable<Schemas["WhatIfOut"]["result"]>["tip"]>;

/** Where it tips, in a heading and a line under it. */
export function tipWords(
  tip: Tip,
  money: (amount: string | number) => string,
): { title: string; under: string } {
  switch (tip.kind) {
    case "wage_even":
      return {
        title: `Even at a wage of ${money(tip.at)}`,
        under: `Below it one side costs less, above it the other. The wage is ${money(tip.now ?? 0)} now.`,
      };
    case "packed_otherwise":
      return {
        title: `From ${money(tip.at)} on orders are packed otherwise`,
        under: `It is ${money(tip.now ?? 0)} now; up to there only the sum changes.`,
      };
    case "flat_fee":
      return {
        title: `${money(tip.at)} for all covers the postage`,
        under: `Buyers pay ${money(tip.now ?? 0)} on average now.`,
      };
    default:
      return {
        title: `It pays from ${fixed(Number(tip.at))} ${Number(tip.at) === 1 ? "order" : "orders"} a month`,
        under: `Each saves ${money(tip.saves ?? 0)}; keeping one more kind costs ${money(tip.keeping ?? 0)} a month. There are ${fixed(Number(tip.now), 0, 1)} a month.`,
      };
  }
}

export const CHANGED_WORDS: Record<string, string> = {
  materials: "materials",
  labour: "minutes",
  postage: "postage",
  expected_loss: "expected loss",
  charged: "charged",
};
