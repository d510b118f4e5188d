/** Numbers, money and days as they are written everywhere: the one place that calls Intl. No React. */

const numbers = new Map<string, Intl.NumberFormat>();

/** A number with so many places, a point before them and nothing between thousands: it can be typed in again. */
export function fixed(value: number, places = 0, most = places): string {
  const key = `${places} ${most}`;
  const known =
    numbers.get(key) ??
    new Intl.NumberFormat("en", {
      minimumFractionDigits: places,
      maximumFractionDigits: most,
      useGrouping: false,
    });
  numbers.set(key, known);
  // What is hidden from this person is no number.
  if (!Number.isFinite(value)) return "–";
  return known.format(Object.is(value, -0) ? 0 : value);
}

/** The same with its sign: "+0.50", "-0.50", "0.00". */
export const signed = (value: number, places = 0): string =>
  value > 0 ? `+${fixed(value, places)}` : fixed(value, places);

export const percent = (share: number, places = 0): string => `${fixed(100 * share, places)} %`;

const DAY = new Intl.DateTimeFormat("en-GB", {
  weekday: "short",
  day: "numeric",
  month: "short",
  timeZone: "UTC",
});
const TIME = new Intl.DateTimeFormat("en-GB", {
  hour: "2-digit",
  minute: "2-digit",
  timeZone: "UTC",
});

/** "Tue 1 Dec" */
export const dayWords = (iso: string): string =>
  DAY.format(new Date(`${iso.slice(0, 10)}T12:00:00Z`)).replace(",", "");

/** "Tue 1 Dec 2026", where the year is not plain. */
export const dateWords = (iso: string): string => `${dayWords(iso)} ${iso.slice(0, 4)}`;

/** "Tue 1 Dec, 14:05", as the server wrote it. */
export const momentWords = (iso: string): string =>
  `${dayWords(iso)}, ${TIME.format(new Date(`${iso.slice(0, 16)}:00Z`))}`;

const MONTH = new Intl.DateTimeFormat("en-GB", { month: "short", timeZone: "UTC" });

/** "2026-11" as "Nov 2026" */
export const monthWords = (month: string): string =>
  `${MONTH.format(new Date(`${month}-15T12:00:00Z`))} ${month.slice(0, 4)}`;
