// @vitest-environment jsdom
import { act, cleanup, fireEvent, render, renderHook, screen } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import { around } from "../../testing/server";
import { nextSort, shownRows, type Rules, type View } from "./shown";
import { Table } from "./Table";
import { useList } from "./useList";

interface Thing {
  name: string;
  size: number;
}
const THINGS: Thing[] = [
  { name: "Box 10", size: 3 },
  { name: "box 9", size: 1 },
  { name: "Roll of paper", size: 2 },
];
const RULES: Rules<Thing> = {
  text: (one) => one.name,
  filters: [{ key: "large", name: "Large", holds: (one) => one.size > 1 }],
  by: { name: (one) => one.name, size: (one) => one.size },
  perPage: 2,
};
const view = (more: Partial<View> = {}): View => ({
  search: "",
  filter: "",
  sort: null,
  page: 1,
  ...more,
});
const names = (given: View) => shownRows(THINGS, given, RULES).rows.map((one) => one.name);

afterEach(cleanup);

describe("which rows are shown", () => {
  it("every word of a search must be there, in any order and case", () => {
    expect(names(view({ search: "paper roll" }))).toEqual(["Roll of paper"]);
    expect(names(view({ search: "paper box" }))).toEqual([]);
  });

  it("names are in the order people count, numbers in theirs, both ways", () => {
    expect(names(view({ sort: { key: "name", up: true } }))).toEqual(["box 9", "Box 10"]);
    expect(names(view({ sort: { key: "size", up: false } }))).toEqual(["Box 10", "Roll of paper"]);
  });

  it("a page beyond the last is the last, and a filter counts before pages", () => {
    expect(names(view({ page: 9 }))).toEqual(["Roll of paper"]);
    const shown = shownRows(THINGS, view({ filter: "large" }), RULES);
    expect([shown.found, shown.pages]).toEqual([2, 1]);
  });

  it("a column's head goes up, down, and back to how it came", () => {
    const up = nextSort(null, "size");
    expect([up, nextSort(up, "size"), nextSort({ key: "size", up: false }, "size")]).toEqual([
      { key: "size", up: true },
      { key: "size", up: false },
      null,
    ]);
  });
});

describe("a list", () => {
  it("keeps its search, filter, order and page in the address", () => {
    const { result } = renderHook(() => useList(THINGS, RULES), {
      wrapper: around("/things?find=box&sort=-size&other=1"),
    });
    expect(result.current.rows.map((one) => one.name)).toEqual(["Box 10", "box 9"]);
    act(() => result.current.bar.onFilter("large"));
    expect(result.current.rows.map((one) => one.name)).toEqual(["Box 10"]);
    act(() => result.current.bar.onFilter("large"));
    act(() => result.current.bar.onSearch(""));
    expect([
      result.current.found,
      result.current.pages,
      result.current.bar.filters[0]?.count,
    ]).toEqual([3, 2, 2]);
  });
});

describe("a table", () => {
  const open = vi.fn();
  const table = (onSort = vi.fn()) => {
    render(
      <Table
        caption="Things"
        opens
        rows={THINGS}
        rowKey={(one) => one.name}
        sort={{ key: "size", up: true }}
        onSort={onSort}
        columns={[
          {
            key: "name",
            name: "Name",
            cell: (one) => <button onClick={() => open(one.name)}>{one.name}</button>,
          },
          { key: "size", name: "Size", num: true, sorts: true, cell: (one) => one.size },
        ]}
      />,
    );
    return onSort;
  };

  it("opens a row on a click anywhere, and only once when its button is pressed", () => {
    table();
    fireEvent.click(screen.getAllByRole("cell", { name: "2" })[0] as HTMLElement);
    expect(open).toHaveBeenLastCalledWith("Roll of paper");
    open.mockClear();
    fireEvent.click(screen.getByRole("button", { name: "box 9" }));
    expect(open).toHaveBeenCalledTimes(1);
  });

  it("says how it is sorted, and sorts by its heads", () => {
    const onSort = table();
    expect(screen.getByRole("columnheader", { name: /Size/ }).getAttribute("aria-sort")).toBe(
      "ascending",
    );
    fireEvent.click(screen.getByRole("button", { name: /Size/ }));
    expect(onSort).toHaveBeenCalledWith("size");
  });
});
