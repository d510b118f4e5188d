/** Which rows of a list are shown, in which order, on which page. No React, no words of the trade. */

export interface Sort {
  key: string;
  up: boolean;
}

export interface View {
  search: string;
  filter: string;
  sort: Sort | null;
  page: number;
}

export interface Rules<Row> {
  /** What a search looks through: every word typed must be somewhere in it. */
  text?: (row: Row) => string;
  filters?: readonly { key: string; name: string; holds: (row: Row) => boolean }[];
  /** What a column sorts by. */
  by?: Readonly<Record<string, (row: Row) => string | number>>;
  perPage?: number;
}

export interface Shown<Row> {
  rows: Row[];
  found: number;
  page: number;
  pages: number;
}

export const PER_PAGE = 100;

/** Return the rows of the page that is looked at; a page beyond the last is the last. */
export function shownRows<Row>(all: readonly Row[], view: View, rules: Rules<Row>): Shown<Row> {
  const words = view.search.toLowerCase().split(/\s+/).filter(Boolean);
  const filter = rules.filters?.find((one) => one.key === view.filter);
  const found = all.filter((row) => {
    const text = rules.text?.(row).toLowerCase() ?? "";
    return words.every((word) => text.includes(word)) && (filter?.holds(row) ?? true);
  });
  const by = view.sort ? rules.by?.[view.sort.key] : undefined;
  const sorted = by ? [...found].sort((a, b) => compared(by(a), by(b), view.sort?.up)) : found;
  const per = rules.perPage ?? PER_PAGE;
  const pages = Math.max(1, Math.ceil(sorted.length / per));
  const page = Math.min(Math.max(1, view.page), pages);
  return { rows: sorted.slice((page - 1) * per, page * per), found: found.length, page, pages };
}

function compared(one: string | number, other: string | number, up = true): number {
  const way =
    typeof one === "string" && typeof other === "string"
      ? one.localeCompare(other, "en", { numeric: true })
      : Number(one) - Number(other);
  return up ? way : -way;
}

/** Pressing a column's head: rising, falling, as it came. */
export function nextSort(now: Sort | null, key: string): Sort | null {
  if (now?.key !== key) return { key, up: true };
  return now.up ? { key, up: false } : null;
}
