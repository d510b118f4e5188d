/** A list's search, filter, order and page, kept in the address so that a reload or a link shows the same. */
import { useSearchParams } from "react-router";
import { nextSort, shownRows, type Rules, type Shown, type Sort, type View } from "./shown";

export interface ListState<Row> extends Shown<Row> {
  view: View;
  total: number;
  /** For its ListBar. */
  bar: {
    filters: readonly { key: string; name: string; count: number }[];
    filter: string;
    onFilter: (key: string) => void;
    search: string;
    onSearch: (text: string) => void;
  };
  /** For its Table. */
  table: { rows: Row[]; sort: Sort | null; onSort: (key: string) => void };
  turnTo: (page: number) => void;
}

/** Read and write some of the address's parameters; null takes one away. Others stay. */
export function useAddress() {
  const [params, setParams] = useSearchParams();
  const set = (change: Record<string, string | null>) =>
    setParams(
      (now) => {
        for (const [key, value] of Object.entries(change)) {
          if (value === null || value === "") now.delete(key);
          else now.set(key, value);
        }
        return now;
      },
      { replace: true },
    );
  return [params, set] as const;
}

const sortText = (sort: Sort | null) => (sort ? `${sort.up ? "" : "-"}${sort.key}` : null);

export function useList<Row>(all: readonly Row[], rules: Rules<Row>): ListState<Row> {
  const [params, set] = useAddress();
  const sorted = params.get("sort");
  const view: View = {
    search: params.get("find") ?? "",
    filter: params.get("show") ?? "",
    sort: sorted ? { key: sorted.replace("-", ""), up: !sorted.startsWith("-") } : null,
    page: Number(params.get("page") ?? "1") || 1,
  };
  const shown = shownRows(all, view, rules);
  return {
    ...shown,
    view,
    total: all.length,
    bar: {
      filter: view.filter,
      onFilter: (key) => set({ show: key === view.filter ? null : key, page: null }),
      search: view.search,
      onSearch: (text) => set({ find: text, page: null }),
      filters: (rules.filters ?? []).map((one) => ({
        key: one.key,
        name: one.name,
        count: all.filter(one.holds).length,
      })),
    },
    table: {
      rows: shown.rows,
      sort: view.sort,
      onSort: (key) => set({ sort: sortText(nextSort(view.sort, key)), page: null }),
    },
    turnTo: (page) => set({ page: page > 1 ? String(page) : null }),
  };
}
