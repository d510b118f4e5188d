import { describe, expect, it } from "vitest";
import type { Schemas } from "../../api/client";
import { fieldAt, fieldsOf, productSchema } from "./fields";

const ROW = {
  id: 1,
  sku: "PRE-BLK",
  name: "Preserve",
  recipe: "preserve",
  recipe_id: 2,
  recipe_name: "Preserves",
  has_photo: false,
  retired: false,
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
  holds: [],
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
    const read = productSchema("metric", ROW).parse(fieldsOf(ROW, "metric"));
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
    const read = productSchema("metric", null).safeParse(fields);
    expect(read.error?.issues.map((issue) => issue.path.join(".")).sort()).toEqual([
      "contents",
      "cost",
      "keeps",
      "length",
      "name",
      "sku",
      "weight",
    ]);
  });

  it("one side alone asks for the others", () => {
    const fields = { ...fieldsOf(ROW, "metric"), width: "", height: " " };
    const read = productSchema("metric", ROW).safeParse(fields);
    expect(read.error?.issues.map((issue) => issue.path[0])).toEqual(["width", "height"]);
  });

  it("weights are read in the workshop's unit and keep exactly what was not touched", () => {
    const fields = fieldsOf(ROW, "imperial");
    expect([fields.weight, fields.load]).toEqual(["15.19", "105.82"]);
    const read = productSchema("imperial", ROW).parse({ ...fields, load: "2 lb 1 oz", spread: "" });
    expect([read.weight_mg, read.load_on_top_mg, read.weight_spread_mg]).toEqual([
      430_500, 935_534, 0,
    ]);
    expect(
      productSchema("metric", ROW).parse({ ...fieldsOf(ROW, "metric"), load: "0" }),
    ).toMatchObject({
      load_on_top_mg: 0,
    });
  });
});

describe("an error of the server", () => {
  it("lands at the field it is about, or at none", () => {
    expect(
      ["product.size.length_um", "product.contents.0.sku", "product.keeps_days", "product"].map(
        fieldAt,
      ),
    ).toEqual(["length", "sku", "keeps", null]);
  });
});
