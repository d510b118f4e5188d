import { describe, expect, it } from "vitest";
import type { Schemas } from "../../api/client";
import { fieldsOf, isFaults, readFields, readWeight } from "./fields";

const ROW = {
  id: 1,
  sku: "PRE-BLK",
  name: "Preserve",
  recipe: "preserve",
  recipe_id: 2,
  recipe_name: "Preserves",
  has_photo: false,
  shelf: "G1",
  size: { length_um: 72_123, width_um: 72_000, height_um: 98_000 },
  weight_mg: 430_500,
  weight_spread_mg: 4000,
  goods_cost: "2.10",
  orientation: "upright",
  fragility: "delicate",
  load_on_top_mg: 3_000_000,
  food: true,
  scented: false,
  frozen: false,
  live: false,
  glass: true,
  meltable: false,
  restricted: false,
  delicate_place: "lid",
  lowest_c: -2,
  highest_c: 30,
  longest_days: 5,
  keeps_days: null,
  not_with: ["SOAP-OAT"],
  family: "preserve",
  contents: [],
} as Schemas["ProductOut"];

describe("the fields of a product", () => {
  it("what is shown and kept untouched changes nothing, not even micrometres that are not shown", () => {
    const fields = fieldsOf(ROW, "metric");
    const read = readFields(fields, "metric", ROW);
    if (isFaults(read, fields)) throw new Error(JSON.stringify(read));
    for (const [name, value] of Object.entries(read))
      if (name !== "goods_cost") expect(value, name).toEqual(ROW[name as keyof typeof ROW]);
    expect(Number(read.goods_cost)).toBe(2.1);
  });

  it("every error is told at its field", () => {
    const fields = {
      ...fieldsOf(null, "metric"),
      sku: "?",
      length: "wide",
      weight: "heavy",
      keeps: "long",
      contents: "PRE-BLK",
      cost: "much",
    };
    const read = readFields(fields, "metric", null);
    expect(isFaults(read, fields) ? Object.keys(read).sort() : []).toEqual([
      "contents",
      "cost",
      "height",
      "keeps",
      "length",
      "name",
      "sku",
      "weight",
      "width",
    ]);
  });

  it("weights are read in grams and kilograms", () => {
    expect([
      readWeight("430"),
      readWeight("0,43 kg"),
      readWeight("430.5 g"),
      readWeight("4 stone"),
    ]).toEqual([430_000, 430_000, 430_500, null]);
  });
});
