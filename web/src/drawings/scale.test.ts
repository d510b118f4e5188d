import { describe, expect, it } from "vitest";
import { apart, niceTop, ticksTo } from "./scale";

describe("scales", () => {
  it("end on a round number at or above the largest value", () => {
    expect([13.2, 0.7, 20, 21, 999].map(niceTop)).toEqual([15, 0.8, 20, 30, 1000]);
  });
  it("have few round ticks from nought to the top", () => {
    expect(ticksTo(20)).toEqual([0, 5, 10, 15, 20]);
    expect(ticksTo(5_680_000)).toEqual([0, 2_000_000, 4_000_000]);
    for (const top of [1, 3, 8, 15, 60]) expect(ticksTo(top).length).toBeLessThan(9);
  });
  it("move labels apart and keep them in order and in bounds", () => {
    const moved = apart([100, 102, 101, 190], 16, 0, 200);
    expect(moved[0]).toBe(100);
    expect([moved[0] ?? 0, moved[2] ?? 0, moved[1] ?? 0, moved[3] ?? 0]).toEqual([
      100, 116, 132, 190,
    ]);
    const low = apart([195, 198, 199], 16, 0, 200);
    expect(Math.max(...low)).toBeLessThanOrEqual(200);
    expect((low[1] ?? 0) - (low[0] ?? 0)).toBeGreaterThanOrEqual(16);
  });
});
