/** The outlook of a supply as it is drawn: steps over days, where it runs out, what a day's place is. No React. */

export interface StockDay {
  day: string;
  level: number;
  low: number;
  high: number;
  reserved: number;
}

export interface OutlookShown {
  today: string;
  past: readonly { day: string; level: number }[];
  days: readonly StockDay[];
  /** With what would be ordered today, from the day it arrives. */
  with_order: readonly StockDay[];
  arrivals: readonly { day: string; quantity: number }[];
  mark: number | null;
  order_by: string | null;
  runs_out: string | null;
  early: string | null;
  late: string | null;
}

const DAY_MS = 86_400_000;

export const dayNumber = (iso: string): number =>
  Math.floor(Date.parse(`${iso}T12:00:00Z`) / DAY_MS);

export const dayOf = (number: number): string =>
  new Date(number * DAY_MS + DAY_MS / 2).toISOString().slice(0, 10);

/** First and last day that is drawn, as day numbers: all of the past, and on to a little after it is all gone. */
export function spanOf(shown: OutlookShown): [from: number, to: number] {
  const today = dayNumber(shown.today);
  const from = Math.min(today - 7, ...shown.past.map((one) => dayNumber(one.day)));
  const ends = [shown.runs_out, shown.late, shown.order_by]
    .filter((one): one is string => one !== null)
    .map(dayNumber);
  const lasts = shown.with_order.at(-1);
  if (lasts) ends.push(dayNumber(lasts.day));
  return [from, Math.max(today + 28, ...ends.map((end) => end + 4))];
}

/** The highest level that is drawn. */
export const topOf = (shown: OutlookShown): number =>
  Math.max(
    1,
    shown.mark ?? 0,
    ...shown.past.map((one) => one.level),
    ...shown.days.map((one) => one.level),
    ...shown.with_order.map((one) => one.level),
  );

/** A level over the days as a step line: it stands until the next day that is told. */
export function steps(
  days: readonly { day: string; level: number }[],
  until: number,
): { from: number; to: number; level: number }[] {
  return days.map((one, at) => {
    const next = days[at + 1];
    return {
      from: dayNumber(one.day),
      to: next ? dayNumber(next.day) : Math.max(until, dayNumber(one.day) + 1),
      level: Math.max(0, one.level),
    };
  });
}
