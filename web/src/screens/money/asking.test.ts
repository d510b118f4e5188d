import { describe, expect, it } from "vitest";
import { changeFrom, changeOf, emptyChange } from "./asking";

describe("a change that is asked for", () => {
  it("waits for what is missing", () => {
    expect(changeOf(emptyChange("wage"), "metric")).toBeNull();
    expect(changeOf({ ...emptyChange("wage"), number: "18,50" }, "metric")).toEqual({
      kind: "wage",
      per_hour: "18.50",
    });
    expect(changeOf({ ...emptyChange("instead"), code: "W-1", other: "W-1" }, "metric")).toBeNull();
    expect(changeOf(emptyChange("send_days"), "metric")).toBeNull();
  });

  it("reads a carton's size in the workshop's units", () => {
    const typed = { ...emptyChange("new_carton"), size: ["200", "150", "110"] };
    expect(changeOf(typed, "metric")).toEqual({
      kind: "new_carton",
      length_um: 200_000,
      width_um: 150_000,
      height_um: 110_000,
      unit_cost: null,
    });
    expect(changeOf({ ...typed, number: "cheap" }, "metric")).toBeNull();
  });

  it("comes along from another screen", () => {
    const typed = changeFrom(new URLSearchParams("kind=without&code=C-14"));
    expect(typed && changeOf(typed, "metric")).toEqual({ kind: "without", code: "C-14" });
    expect(changeFrom(new URLSearchParams("kind=magic"))).toBeNull();
  });
});
