import { describe, expect, it } from "vitest";
import type { Schemas } from "../../api/client";
import { gathered } from "./gathered";

const lack = (words: string, stops: boolean): Schemas["Lack"] => ({
  code: words,
  words,
  fix_at: "recipe",
  stops,
});
const row = (...sizes: [number, number, Schemas["Lack"][]][]): Schemas["ProductReadiness"] => ({
  product_id: 1,
  sku: "A",
  name: "A",
  recipe_id: 1,
  recipe: "R",
  ready: false,
  sizes: sizes.map(([first, last, lacks]) => ({ first, last, lacks })),
  ready_sizes: [],
});

describe("what a product lacks", () => {
  it("is said once, with the sizes it is said for, what stops first", () => {
    const found = gathered(
      row(
        [1, 1, [lack("mind", false)]],
        [2, 6, [lack("mind", false), lack("stop", true)]],
        [7, 12, [lack("stop", true)]],
      ),
    );
    expect(found.map((one) => [one.sizes, one.lack.words])).toEqual([
      ["2 to 6, 7 to 12", "stop"],
      ["1, 2 to 6", "mind"],
    ]);
  });

  it("for every size is for all sizes; a product without a recipe names none", () => {
    expect(gathered(row([1, 2, [lack("x", true)]], [3, 6, [lack("x", true)]]))[0]?.sizes).toBe(
      "all sizes",
    );
    expect(gathered(row([0, 0, [lack("none", true)]]))[0]?.sizes).toBe("");
  });
});
