/** The server's outlook as the drawing takes it, and amounts in words. No React. */
import type { Schemas } from "../../api/client";
import { dayWords } from "../../domain/words";
import type { StockUnit } from "../../domain/units";
import type { OutlookShown } from "../../domain/stockDays";

type Outlook = Schemas["OutlookOut"];

const dayIn = (each: number) => (one: Schemas["DayOfStock"]) => ({
  day: one.day,
  level: Number(one.level) * each,
  low: Number(one.low) * each,
  high: Number(one.high) * each,
  reserved: Number(one.reserved) * each,
});

/** The days with so much more from the day it arrives, until that is gone, too. */
function withMore(page: Outlook, quantity: number, arrives: string, each: number) {
  const days = page.days.map((one) => {
    const more = one.day >= arrives ? quantity * each : 0;
    const now = dayIn(each)(one);
    return { ...now, level: now.level + more, low: now.low + more, high: now.high + more };
  });
  const gone = days.findIndex((one) => one.day >= arrives && one.level < 0);
  return gone === -1 ? days : days.slice(0, gone + 1);
}

/** ``order``: what the list would order of it; else what is best by itself. ``each``: so many shown units a stock unit. */
export const shownOutlook = (
  page: Outlook,
  order?: { quantity: string; arrives: string },
  each = 1,
): OutlookShown => ({
  today: page.today,
  past: page.past.map((one) => ({ day: one.day, level: Number(one.level) * each })),
  days: page.days.map(dayIn(each)),
  with_order: order
    ? withMore(page, Number(order.quantity), order.arrives, each)
    : page.with_order.map(dayIn(each)),
  arrivals: page.arrivals.map((one) => ({ day: one.day, quantity: Number(one.quantity) * each })),
  mark: page.mark === null ? null : Number(page.mark) * each,
  order_by: page.order_by,
  runs_out: page.runs_out,
  early: page.early,
  late: page.late,
});

/** Why a line is on the list, in words. */
export function whyWords(line: Schemas["BuyLineOut"], today: string): string {
  const gone = line.runs_out === null ? "" : `gone ${dayWords(line.runs_out)}`;
  if (line.too_late) return `${gone}, before it can arrive`;
  if (line.why === "mark") return gone ? `at its mark; ${gone}` : "at its mark";
  if (line.why === "with_it") return `${gone}; comes in the same order`;
  const late = line.order_by !== null && line.order_by < today;
  return `${gone}${late ? ", it was to be ordered by now" : ""}`;
}

/** Pieces are whole; of a roll or a sack as many places as tell something. */
export const plain = (quantity: string | number): string => {
  const value = Number(quantity);
  return String(Number(value.toFixed(Math.abs(value) < 10 ? 2 : 1)));
};

/** The same in the workshop's own unit; pieces may be parts of one, as a deviation is. */
export const measured =
  (format: { quantity: (quantity: string | number, unit: StockUnit) => string }, unit: string) =>
  (quantity: string | number): string =>
    unit === "pieces" ? plain(quantity) : format.quantity(quantity, unit as StockUnit);

/** What one costs, under a head that says so; of a roll or a sack with its unit. */
export const eachCost =
  (
    format: {
      exactMoney: (amount: string | number) => string;
      unitCost: (amount: string | number, unit: StockUnit) => string;
    },
    unit: string,
  ) =>
  (amount: string | number): string =>
    unit === "pieces" ? format.exactMoney(amount) : format.unitCost(amount, unit as StockUnit);

/** An amount that is in the shown unit already, as the drawing has it. */
export const inShown = (format: { stockUnit: (unit: StockUnit) => string }, unit: string) => {
  const word = unit === "pieces" ? "" : ` ${format.stockUnit(unit as StockUnit)}`;
  return (quantity: string | number): string => `${plain(quantity)}${word}`;
};
