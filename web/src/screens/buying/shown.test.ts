import { describe, expect, it } from "vitest";
import type { Schemas } from "../../api/client";
import { plain, shownOutlook, whyWords } from "./shown";

const day = (iso: string, level: string) => ({
  day: iso,
  level,
  low: level,
  high: level,
  reserved: "0",
});
const PAGE = {
  today: "2026-11-23",
  past: [],
  days: [
    day("2026-11-23", "4"),
    day("2026-11-24", "1"),
    day("2026-11-25", "-2"),
    day("2026-11-26", "-5"),
  ],
  with_order: [day("2026-11-23", "4")],
  arrivals: [{ day: "2026-11-24", quantity: "7" }],
  mark: "5",
  order_by: "2026-11-20",
  runs_out: "2026-11-25",
  early: null,
  late: null,
} as unknown as Schemas["OutlookOut"];

const LINE = {
  why: "due",
  runs_out: "2026-11-25",
  order_by: "2026-11-24",
  too_late: false,
} as unknown as Schemas["BuyLineOut"];

describe("a supply's outlook with what the list orders", () => {
  it("adds it from the day it arrives, until that is gone, too", () => {
    const shown = shownOutlook(PAGE, { quantity: "4", arrives: "2026-11-24" });
    expect(shown.with_order.map((one) => one.level)).toEqual([4, 5, 2, -1]);
    expect(shown.mark).toBe(5);
  });

  it("shows what is best by itself where the list orders nothing", () => {
    expect(shownOutlook(PAGE).with_order).toHaveLength(1);
  });
});

describe("why a line is on the list", () => {
  const words = (change: object) => whyWords({ ...LINE, ...change }, "2026-11-23");
  it("names the day it is gone, and what is worse", () => {
    expect(words({})).toBe("gone Wed 25 Nov");
    expect(words({ order_by: "2026-11-20" })).toContain("was to be ordered by now");
    expect(words({ too_late: true })).toContain("before it can arrive");
  });

  it("names the mark and the company it comes in", () => {
    expect(words({ why: "mark", runs_out: null })).toBe("at its mark");
    expect(words({ why: "mark" })).toBe("at its mark; gone Wed 25 Nov");
    expect(words({ why: "with_it" })).toContain("comes in the same order");
  });
});

it("amounts have as many places as tell something", () => {
  expect([plain("43.162435"), plain("2.346"), plain(75)]).toEqual(["43.2", "2.35", "75"]);
});
