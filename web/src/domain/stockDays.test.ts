import { describe, expect, it } from "vitest";
import { dayNumber, dayOf, spanOf, steps, topOf, type OutlookShown } from "./stockDays";

const day = (iso: string, level: number) => ({
  day: iso,
  level,
  low: level,
  high: level,
  reserved: 0,
});
const SHOWN: OutlookShown = {
  today: "2026-11-23",
  past: [
    { day: "2026-11-20", level: 40 },
    { day: "2026-11-23", level: 34 },
  ],
  days: [day("2026-11-23", 30), day("2026-11-24", 27), day("2026-11-25", -2)],
  with_order: [day("2026-11-23", 30), day("2026-11-24", 77), day("2026-11-25", 48)],
  arrivals: [],
  mark: 20,
  order_by: "2026-11-24",
  runs_out: "2026-11-25",
  early: "2026-11-24",
  late: "2027-01-11",
};

describe("the days of a supply", () => {
  it("counts days and finds them again", () => {
    expect(dayOf(dayNumber("2026-12-31") + 1)).toBe("2027-01-01");
    expect(dayNumber("2026-11-24") - dayNumber("2026-11-23")).toBe(1);
  });

  it("is drawn from a week before to a little after it may all be gone", () => {
    const [from, to] = spanOf(SHOWN);
    expect(dayOf(from)).toBe("2026-11-16");
    expect(dayOf(to)).toBe("2027-01-15");
    const quiet = spanOf({ ...SHOWN, runs_out: null, late: null, with_order: [], order_by: null });
    expect(quiet[1] - dayNumber(SHOWN.today)).toBe(28);
  });

  it("is as high as the most that is there, arriving stock counted", () => {
    expect(topOf(SHOWN)).toBe(77);
    expect(topOf({ ...SHOWN, with_order: [], past: [], mark: 90 })).toBe(90);
  });

  it("stands at a level until the next day that is told, and never below nought", () => {
    const list = steps(SHOWN.days, dayNumber("2026-11-30"));
    expect(list.map((one) => one.to - one.from)).toEqual([1, 1, 5]);
    expect(list.at(-1)?.level).toBe(0);
  });
});
