import { describe, expect, it } from "vitest";
import { addressOf, asked, heavier, readPlace, type Question } from "./question";
import { daysWords, limitsOf, stepRows } from "./tables";

const Q: Question = {
  size: "332 x 242 x 162",
  weight: "2.84 kg",
  to: "ALM DM4 6",
  from: "",
  on: "",
  worth: "",
  over: "weight",
};
const format = {
  cubic: (cm3: number) => `${cm3} cm³`,
  length: (um: number) => `${um / 1000} mm`,
  weight: (mg: number) => `${mg / 1000} g`,
};

describe("the question", () => {
  it("is read to whole micrometres and milligrams", () => {
    expect(asked(Q, "metric", "ALM")).toEqual({
      body: {
        outer_um: [332_000, 242_000, 162_000],
        gross_weight_mg: 2_840_000,
        destination: { country: "ALM", postcode: "DM4 6" },
        origin: null,
        ship_on: null,
        over: "weight",
        rigid: true,
        goods: [],
        cover: 0,
      },
    });
  });
  it("takes centimetres, inches and pounds", () => {
    const read = asked(
      { ...Q, size: "33.2 x 24.2 x 16.2 cm", weight: "1 lb 4 oz" },
      "metric",
      "ALM",
    );
    expect("body" in read && [read.body.outer_um[0], read.body.gross_weight_mg]).toEqual([
      332_000, 566_990,
    ]);
    expect(asked({ ...Q, size: "10 x 10 x 1" }, "imperial", "ALM")).toMatchObject({
      body: { outer_um: [254_000, 254_000, 25_400] },
    });
  });
  it("covers whole amounts of money, nothing when none is named", () => {
    const cover = (worth: string) => {
      const read = asked({ ...Q, worth }, "metric", "ALM");
      return "body" in read ? read.body.cover : null;
    };
    expect([cover("58"), cover("58,20"), cover(""), cover("a lot")]).toEqual([58, 59, 0, 0]);
  });
  it("names the field it cannot read", () => {
    expect(asked({ ...Q, size: "332 x 242" }, "metric", "ALM")).toEqual({ fault: "size" });
    expect(asked({ ...Q, weight: "heavy" }, "metric", "ALM")).toEqual({ fault: "weight" });
    expect(asked({ ...Q, weight: "0" }, "metric", "ALM")).toEqual({ fault: "weight" });
  });
  it("takes a country before the postcode, or the workshop's own", () => {
    expect(readPlace("vel 3300", "ALM")).toEqual({ country: "VEL", postcode: "3300" });
    expect(readPlace("VEL", "ALM")).toEqual({ country: "VEL", postcode: "" });
    expect(readPlace("DM4", "ALM")).toEqual({ country: "ALM", postcode: "DM4" });
    expect(readPlace("DM 4", "ALM")).toEqual({ country: "DM", postcode: "4" });
  });
  it("grows and shrinks by key and never to nothing", () => {
    expect(heavier("2.84 kg", 100_000, "metric")).toBe("2.940 kg");
    expect(heavier("50 g", -100_000, "metric")).toBe("1 g");
    expect(heavier("heavy", 100_000, "metric")).toBe("heavy");
  });
  it("is kept in an address", () => {
    expect(
      addressOf(
        {
          outer_um: [332_000, 242_000, 162_000],
          gross_mg: 840_000,
          country: "ALM",
          postcode: "DM46",
        },
        "metric",
      ),
    ).toBe("/rates?size=332+x+242+x+162&weight=840+g&to=ALM+DM46");
  });
});

describe("a list read as tables", () => {
  it("puts every zone's steps in one table", () => {
    const rows = stepRows([
      {
        zone: "1",
        transit_days: 1,
        steps: [
          { above_mg: null, up_to_mg: 1, price: "2" },
          { above_mg: null, up_to_mg: 3, price: "4" },
        ],
        increment: null,
      },
      {
        zone: "2",
        transit_days: 1,
        steps: [{ above_mg: null, up_to_mg: 3, price: "5" }],
        increment: null,
      },
    ]);
    expect(rows).toEqual({
      steps: [
        { up_to_mg: 1, prices: ["2", null] },
        { up_to_mg: 3, prices: ["4", "5"] },
      ],
      increments: null,
    });
  });
  it("says limits and days in words", () => {
    expect(limitsOf({ thickness_um: 25_000, max_mg: 750_000 } as never, format)).toEqual([
      "thickness 25 mm",
      "up to 750 g",
    ]);
    expect([daysWords([0, 1, 2, 3, 4]), daysWords([4, 0, 2]), daysWords([5])]).toEqual([
      "Mon to Fri",
      "Mon, Wed, Fri",
      "Sat",
    ]);
  });
});
