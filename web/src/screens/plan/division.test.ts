import { describe, expect, it } from "vitest";
import type { Schemas } from "../../api/client";
import { countsOf, firstShares, goodsRows, leftOver, sharesOf, withCount } from "./division";

const line = (sku: string, quantity: number) => ({
  sku,
  title: sku,
  quantity,
  unit_price: "1",
  known: true,
});
const blocked: Schemas["BlockedView"] = { status: "blocked", missing: [], ruled_out: [] };
const data = { order: { lines: [line("JAR", 5), line("LOAF", 1), line("JAR", 1)] }, plan: blocked };

describe("dividing an order by hand", () => {
  it("has one row a sku", () => {
    expect(goodsRows(data).map((row) => [row.sku, row.quantity])).toEqual([
      ["JAR", 6],
      ["LOAF", 1],
    ]);
  });
  it("begins with the first goods in a parcel of their own, or half of the only ones", () => {
    expect(firstShares(data)).toEqual([
      [6, 0],
      [0, 1],
    ]);
    expect(firstShares({ ...data, order: { lines: [line("JAR", 5)] } })).toEqual([[3], [2]]);
  });
  it("takes what is moved from the other parcels and never loses a unit", () => {
    const moved = withCount(
      data,
      [
        [6, 0],
        [0, 1],
      ],
      0,
      0,
      4,
    );
    expect(moved).toEqual([
      [4, 0],
      [2, 1],
    ]);
    expect(withCount(data, moved, 1, 0, 6)).toEqual([
      [0, 0],
      [6, 1],
    ]);
    expect(withCount(data, moved, 1, 0, 99)).toEqual([
      [0, 0],
      [6, 1],
    ]);
    expect(withCount(data, moved, 1, 0, -3)).toEqual([
      [6, 0],
      [0, 1],
    ]);
  });
  it("says what has no parcel, and which parcel is empty", () => {
    expect(
      leftOver(data, [
        [4, 0],
        [2, 1],
      ]),
    ).toBe("");
    expect(
      leftOver(data, [
        [4, 0],
        [1, 1],
      ]),
    ).toContain("JAR: 5 of 6");
    expect(
      leftOver(data, [
        [6, 1],
        [0, 0],
      ]),
    ).toContain("Parcel 2 is empty");
  });
  it("reads back what it sends", () => {
    const counts = [
      [4, 0],
      [2, 1],
    ];
    expect(countsOf(data, sharesOf(data, counts))).toEqual(counts);
  });
});
