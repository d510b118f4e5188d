import { describe, expect, it } from "vitest";
import { stacked } from "../../drawings/dots";
import { sizeOf, sizeWords } from "./words";

describe("sizes", () => {
  it("are said as people say them", () => {
    expect([sizeWords(1, 1), sizeWords(4, 6), sizeWords(13, null)]).toEqual([
      "1 piece",
      "4 to 6",
      "13 and more",
    ]);
    expect(sizeOf(1, 1)).toBe("1");
  });
});

describe("dots", () => {
  it("lie in rows by their value, each row round its middle", () => {
    const dots = stacked([1, 1.2, 1.4, -0.5], (one) => one, 1);
    expect(dots.map((one) => one.row)).toEqual([1, 1, 1, -1]);
    expect(dots.filter((one) => one.row === 1).map((one) => one.across)).toEqual([-1, 0, 1]);
  });
});
