import { describe, expect, it } from "vitest";
import { withPassed } from "./spent";

describe("the time a step takes", () => {
  it("adds up over several visits to the step", () => {
    const once = withPassed({}, 2, 1_000, 21_000);
    expect(withPassed(once, 2, 30_000, 35_400)).toEqual({ 2: 25 });
  });

  it("counts nothing while a clock was set back or a tablet slept", () => {
    expect(withPassed({ 1: 5 }, 1, 10_000, 9_000)).toEqual({ 1: 5 });
    expect(withPassed({}, 1, 0, 90_000_000)).toEqual({});
  });
});
